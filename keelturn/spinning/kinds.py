"""The kinds of spin and the ways out of them, as what hands and feet do. The motion is the same for all.

Common practice, no published source."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from keelturn.figures.figure import SpinKind
from keelturn.motion.legs import Floats, Numbers
from keelturn.recoveries.schools import SpinInputs
from keelturn.spinning import controls


@dataclass(frozen=True, slots=True)
class Kind:
    """What is changed once it has turned `from_turns`: stick (1 back), aileron (into the turn positive),
    power."""

    from_turns: float = np.inf
    stick: float = 1.0
    aileron: float = 0.0
    power: float = 0.0
    inverted: bool = False


KINDS: Mapping[SpinKind, Kind] = MappingProxyType(
    {
        "upright": Kind(),
        "accelerated": Kind(0.75, stick=0.55),
        "flat": Kind(0.5, aileron=-1.0, power=1.0),
        "inverted": Kind(inverted=True),
        "inverted flat": Kind(0.5, aileron=-1.0, power=1.0, inverted=True),
        "in-spin aileron": Kind(0.5, aileron=1.0),
        "out-spin aileron": Kind(0.5, aileron=-1.0),
    }
)


def inputs_of(
    kind: Kind, turns: float, left: bool, method: SpinInputs, numbers: Numbers, pilots: int
) -> Floats:
    """Rows (pilots, INPUT_COLUMNS) for spinning/flight.py from a pilot's numbers (flying/pilots.py)."""
    inputs = np.zeros((pilots, controls.INPUT_COLUMNS))

    def put(column: int, value: "float | Floats") -> None:
        inputs[:, column] = value

    called = np.maximum(0.1, turns + np.asarray(numbers["turn_error"]))
    put(controls.SIDE, -1.0 if left else 1.0)
    put(controls.FIRST_AT, 2.0 * np.pi * np.minimum(min(1.0, turns), called))
    put(controls.PLANNED_AT, 2.0 * np.pi * np.minimum(turns, called))
    put(controls.CALL_AT, 2.0 * np.pi * called)
    put(controls.DELAY_S, numbers["call_s"])
    put(controls.STICK_IN, numbers["entry_stick"])
    put(controls.RUDDER_IN, numbers["entry_rudder"])
    put(controls.AILERON_IN, numbers["aileron_in"])
    put(controls.POWER_IN, numbers["power_left"])
    put(controls.LATER_AT, 2.0 * np.pi * kind.from_turns)
    put(controls.STICK_LATER, np.minimum(kind.stick, np.asarray(numbers["entry_stick"])))
    put(controls.AILERON_LATER, np.clip(kind.aileron + np.asarray(numbers["aileron_in"]), -1.0, 1.0))
    put(controls.POWER_LATER, np.maximum(kind.power, np.asarray(numbers["power_left"])))
    put(controls.CLOSE_S, numbers["close_s"])
    put(controls.THROTTLE_S, numbers["throttle_s"])
    put(controls.AILERON_TO, numbers["aileron_recovery"])
    gap = np.asarray(numbers["gap_s"]) if method.stick_after_rudder else np.zeros(1)
    put(controls.RUDDER_S, np.maximum(0.0, -gap))
    put(controls.STICK_S, np.maximum(0.0, gap))
    put(controls.RUDDER_TO, method.rudder_to * np.asarray(numbers["rudder_share"]))
    stick = method.stick_to if method.hands_free else method.stick_to + np.asarray(numbers["stick_error"])
    put(controls.STICK_TO, np.clip(stick, -1.0, 1.0))
    put(controls.HAND_S, numbers["hand_s"])
    put(controls.CENTRE_S, numbers["centre_s"])
    put(controls.RUDDER_HELD_S, numbers["rudder_held_s"])
    put(controls.STICK_HELD_S, numbers["stick_held_s"])
    put(controls.GIVES_UP_S, numbers["gives_up_s"])
    return inputs
