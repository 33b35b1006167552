"""A pilot in a kind of spin: the inputs of spinning/flight.py from the pilot's numbers and the method."""

import numpy as np

from keelturn.motion.legs import Floats, Numbers
from keelturn.recoveries.schools import SpinInputs
from keelturn.recoveries.spin_kinds import Kind
from keelturn.spinning import controls


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
