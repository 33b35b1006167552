"""What is said of a fault, or of where the height went, as it is spoken: what to do instead.

Our own words; all common practice, no published source."""

from collections.abc import Mapping

from keelturn.assess.loss import Cause
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Figure, fault_of
from keelturn.noting.attempt import Outcome
from keelturn.recoveries.schools import School
from keelturn.recoveries.spin_kinds import KINDS

# {stalls}, {unstalls}: where the stick goes, by the kind of spin.
OF_A_FAULT: Mapping[str, str] = {
    "below_gate": "Climb to the gate first, then begin.",
    "wrong_speed": "Have the speed at the gate before you begin.",
    "no_lookout": "Look out first, every time.",
    "no_answer": "Say it back: I have control.",
    "missed_check": "All the checks, aloud, before the figure.",
    "nose_dropped": "Pull as the bank comes on: hold the nose where it was.",
    "over_banked": "Stop the bank where it was briefed.",
    "chased_instruments": "Eyes outside: set the nose, then glance at the needle.",
    "ball_out": "Feet: keep the ball in the middle.",
    "point_left": "Rudder and aileron together, nose on the point.",
    "forward_late": "Stick forward as it stalls.",
    "aileron_at_stall": "Stick forward first, ailerons in the middle until the wing flies.",
    "secondary_stall": "Wait for the speed, then pull, and stop at the buffet.",
    "power_late": "Throttle closed first.",
    "power_in_late": "Power with the stick, all of it.",
    "slowed_wrong": "A knot a second into the stall, no faster.",
    "entered_early": "Wait for the buffet, then rudder.",
    "stick_not_back": "Stick all the way {stalls} and keep it there.",
    "rudder_half": "Full rudder into it, smoothly, to the stop.",
    "aileron_in": "Ailerons in the middle while it spins.",
    "aileron_in_recovery": "Ailerons in the middle: the feet stop it.",
    "wrong_rudder": "Look for the way it turns, then the other foot.",
    "rudder_late": "Full rudder against at once.",
    "stick_before_rudder": "Rudder first, then the stick.",
    "stick_late": "Rudder full, then the stick at once.",
    "stick_too_far": "Stick {unstalls} until it stops turning, no further.",
    "rudder_not_centred": "Feet level as soon as it stops.",
    "impatient": "Put it in, hold it, wait for it to work.",
    "soft_pull": "Pull to the g that was briefed and hold it.",
    "harsh_pull": "Pull smoothly to the g that was briefed, no more.",
    "power_before_horizon": "Power when the nose is on the horizon, not before.",
    "not_level_first": "Wings level first, then pull.",
    "late": "Act as soon as you have it.",
    "wrong_instrument": "Eyes outside first: find the horizon.",
    "pulled_before_rolling": "Roll first, then pull.",
    "rolled_while_pulling": "Unload, then roll.",
    "long_way": "Roll the short way to the sky.",
    "pulled_through": "Never pull through: roll to the sky.",
    "throttle_wrong": "Look at the nose: down is throttle closed, up is throttle open.",
    "stopped_short": "Keep going until it climbs.",
    "pushed_hard": "Push only until you are light in the seat.",
    "controls_fought": "No speed: hold everything in the middle and wait.",
    "nose_low_first": "Nose up to the briefed angle, then roll.",
    "not_relaxed": "Let go of the back pressure, then aileron.",
    "aileron_eased": "Full aileron all the way round.",
    "scooped": "Keep the nose up in the last quarter.",
    "no_top_rudder": "Top rudder at knife edge.",
    "no_forward_inverted": "Push as the wings go upside down.",
    "off_heading": "Keep a point ahead and come out on it.",
    "points_missed": "Stop each point dead.",
    "wings_not_level": "Wings level, then pull.",
    "pulled_soft": "Pull to the briefed g at once.",
    "pulled_hard": "Less pull: the briefed g and no more.",
    "no_easing": "Let it float over the top.",
    "stalled_over_top": "Ease the pull before it stalls at the top.",
    "late_pull_down": "Pull again as soon as the nose is through.",
    "overspeed": "Pull sooner on the way down: keep the speed in hand.",
    "not_vertical": "Look along the wing: the line straight up.",
    "kicked_early": "Wait for the speed to go, then kick.",
    "kicked_late": "Kick while the rudder still bites.",
    "torqued": "Stop the roll with aileron as the speed goes.",
    "over_rotated": "Stop it with opposite rudder, nose straight down.",
}

# Of a step of the account (where.py) for which no fault was noted or found.
OF_A_STEP: Mapping[str, str] = {
    "Entry": "Enter it as briefed: full controls, power off, at the speed.",
    "Called late": "Call the recovery when the turns are done.",
    "Seeing it": "Act on the call at once.",
    "Throttle": "Throttle all the way, first of all.",
    "Moving the controls": "Move the controls briskly and all the way.",
    "Rudder": "Rudder to the stop, ailerons in the middle.",
    "Rudder to stick": "Rudder full, then the stick at once.",
    "Stick": "Stick to where it was briefed, no further.",
    "Inputs taken out too soon": "Put it in, hold it, wait for it to work.",
    "Held after it stopped": "Everything to the middle as soon as it stops.",
    "g while rolling": "Unload, then roll.",
    "Held up on side and back": "Top rudder at the sides, forward on the back.",
    "Coming off its back": "Keep the nose up in the last quarter.",
    "Rolling slowly": "Full aileron until the wings are level.",
    "Rotation stops to pull": "When it stops, pull: nothing to wait for.",
    "Bringing g on": "Bring the g on in one move.",
    "Waiting for wings level": "Begin the pull as the wings come level.",
    "Pull": "Pull to the g that was briefed and hold it.",
}

# Of steps that cannot be told apart, where one thing to do mends each of them.
OF_STEPS_TOGETHER: Mapping[tuple[str, ...], str] = {
    ("Called late", "Seeing it"): "First recovery input sooner: it came late after the turns.",
}

# Of a step away from the brief, where it could not be split against the best.
OF_A_CAUSE: Mapping[Cause, str] = {
    Cause.TURNS: "Count the turns aloud.",
    Cause.LATE: "Begin the recovery sooner.",
    Cause.PULL: "Pull to the g that was briefed and hold it.",
    Cause.RECOVERY: "The inputs in order, each without waiting for the last to feel right.",
}

# Of what it became instead.
OF_AN_OUTCOME: Mapping[Outcome, str] = {
    Outcome.SPIRAL: "Stick all the way {stalls} and keep it there: speed rising means it is a spiral.",
    Outcome.OTHER_WAY: "Feet level as soon as it stops, or it goes round the other way.",
    Outcome.FLAT: "Ailerons in the middle and the stick where it was briefed: it went past where it should.",
    Outcome.SECONDARY_STALL: "Wait for the speed, then pull, and stop at the buffet: it stalled again.",
}
ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth")
# In so many lessons in a row the same words did not help: something else is said.
SAID_ENOUGH = 3
# What could have ended badly is said before what cost height.
FIRST = (
    "pulled_through",
    "wrong_rudder",
    "secondary_stall",
    "stalled_over_top",
    "rudder_not_centred",
    "overspeed",
    "stopped_short",
    "no_answer",
)


# Of faults in a recovery that does not move rudder and stick one after the other: both go to the middle, or
# the stick is let go.
TO_THE_MIDDLE: Mapping[str, str] = {
    "aileron_in_recovery": "Everything to the middle, the ailerons too.",
    "wrong_rudder": "Rudder to the middle: neither foot.",
    "rudder_late": "Stick and rudder to the middle at once.",
    "stick_before_rudder": "Stick and rudder to the middle together.",
    "stick_late": "Stick and rudder to the middle together.",
    "stick_too_far": "Stick to the middle, no further.",
    "rudder_not_centred": "Rudder to the middle, and leave it there.",
    "impatient": "Everything to the middle, then wait: change nothing.",
}
HANDS_OFF: Mapping[str, str] = {
    "aileron_in_recovery": "Hands off the stick: the feet stop it.",
    "stick_before_rudder": "Let go of the stick, and the rudder at once.",
    "stick_late": "Let go of the stick at once.",
    "stick_too_far": "Hands off until it stops turning.",
}


def said_of_fault(key: str, figure: Figure, method: School | None = None) -> str:
    """What to do instead of the fault, in a spin by the recovery method that was flown. Raises KeyError for a
    fault without words."""
    if key == "aileron_in" and figure.spin and KINDS[figure.spin].aileron:
        return "Aileron as it was briefed, until the recovery."
    return _in_figure(_by_method(method).get(key) or OF_A_FAULT[key], figure)


def _by_method(method: School | None) -> Mapping[str, str]:
    inputs = None if method is None else method.spin_inputs
    if inputs is None:
        return {}
    if inputs.hands_free:
        return HANDS_OFF
    return TO_THE_MIDDLE if inputs.rudder_to == 0.0 else {}


def said_again(times: int, key: str, figure: Figure) -> str:
    """What to change where the fault came back in so many lessons in a row, this one counted; empty where it
    is not yet time (common practice, no published source)."""
    if times < SAID_ENOUGH:
        return ""
    lesson = f"{ORDINALS[min(times, len(ORDINALS)) - 1].capitalize()} lesson in a row with it"
    if times == SAID_ENOUGH:
        return f"{lesson}: before it is flown again, rehearse it in the seat on the ground, aloud."
    if times == SAID_ENOUGH + 1:
        gentler = None if figure.gentler is None else figure_of(figure.gentler)
        if gentler is not None and fault_of(gentler, key) is not None:
            return f"{lesson}: fly the {gentler.name.lower()} first, until it is gone there."
        return f"{lesson}: fly it by itself first, with nothing before it or after it."
    return f"{lesson}: let another instructor look at it."


def said_of_steps(names: tuple[str, ...]) -> str | None:
    """What to do about steps of the account; None where they could be told apart no further and each would
    need something else."""
    if len(names) == 1:
        return OF_A_STEP.get(names[0])
    return OF_STEPS_TOGETHER.get(names)


def said_of_outcome(outcome: Outcome, figure: Figure) -> str:
    """Raises KeyError for one as intended."""
    return _in_figure(OF_AN_OUTCOME[outcome], figure)


def _in_figure(words: str, figure: Figure) -> str:
    kind = KINDS[figure.spin or "upright"]
    return words.format(stalls=kind.stalls, unstalls=kind.unstalls)


KEEP_IT = "Within the brief. Keep it."
