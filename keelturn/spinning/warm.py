"""`python -m keelturn.spinning.warm`: compile both engines once, so that the first figure of a server does
not wait for it."""

import numpy as np

from keelturn.motion.flight import Start, begin, fly_fan, fly_one, textbook_body
from keelturn.motion.legs import Leg, compile_legs
from keelturn.spinning.calibration import reference_inputs
from keelturn.spinning.flight import Spinner, spin

NUMBERS = {
    "onset_g_s": 2.0,
    "lift_share": 1.0,
    "throttle_start": 0.0,
    "throttle_s": 1.0,
    "roll_share": 1.0,
    "roll_acc_deg_s2": 240.0,
}


def warm() -> None:
    """Fly one short leg and one spin, alone and in a fan: all are compiled, and kept where NUMBA_CACHE_DIR
    says."""
    legs, _ = compile_legs([Leg("hold", g=1.0, until="seconds", amount=0.2)], NUMBERS, 1.0, 2)
    fly_one(Start(1000.0, 50.0), legs[:1], textbook_body())
    fly_fan(Start(np.full(2, 1000.0), 50.0), legs, textbook_body())
    spinner = Spinner(30.0, 30.0, 1.8, 1.2, 0.09, 0.04, 0.7, 0.2, 0.1)
    for trace in (True, False):
        inputs = reference_inputs(np.ones(1 if trace else 2))
        at_stall = begin(Start(np.full(len(inputs), 1500.0), 33.0), len(inputs))
        spin(spinner, textbook_body(), inputs, at_stall, trace=trace)


if __name__ == "__main__":
    warm()
