"""`python -m keelturn.motion.warm`: compile the engine once, so that the first figure of a server does not
wait for it."""

import numpy as np

from keelturn.motion.flight import Start, fly_fan, fly_one, textbook_body
from keelturn.motion.legs import Leg, compile_legs

NUMBERS = {
    "onset_g_s": 2.0,
    "lift_share": 1.0,
    "throttle_start": 0.0,
    "throttle_s": 1.0,
    "roll_share": 1.0,
    "roll_acc_deg_s2": 240.0,
}


def warm() -> None:
    """Fly one short leg alone and in a fan: both are compiled, and kept where NUMBA_CACHE_DIR says."""
    legs, _ = compile_legs([Leg("hold", g=1.0, until="seconds", amount=0.2)], NUMBERS, 1.0, 2)
    fly_one(Start(1000.0, 50.0), legs[:1], textbook_body())
    fly_fan(Start(np.full(2, 1000.0), 50.0), legs, textbook_body())


if __name__ == "__main__":
    warm()
