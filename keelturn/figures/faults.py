"""The faults of the debrief, said once, with what each is taken to change in the pilot's numbers. Figures
take them by name.

All common practice, no published source; what a fault changes is an assumption of ours, said beside its
cost."""

from collections.abc import Mapping
from dataclasses import replace

from keelturn.aircraft.card import SpinKind
from keelturn.figures.figure import Blocks, Fault
from keelturn.recoveries.spin_kinds import KINDS, Kind

# {stalls}, {unstalls}: where the stick goes, by the kind of spin.
TABLE = (
    # All figures
    Fault("below_gate", "Below the gate", "The height was not there to spend before the figure began."),
    Fault(
        "wrong_speed",
        "Wrong speed at the gate",
        "Too fast pays in height and g, too slow in control.",
        {"speed_error_kt": 8.0},
        "8 kt too fast",
    ),
    Fault("no_lookout", "No lookout", "Nobody knows who is below."),
    Fault("no_answer", "No answer to the hand-over", "Two pilots fly, or none."),
    Fault("missed_check", "Missed check", "The item that was missed waits for the worst moment."),
    # Co-ordination and stalls
    Fault(
        "nose_dropped",
        "Nose dropped",
        "Bank without pull: a spiral begins.",
        {"height_keeping_ft": 60.0},
        "60 ft more let go",
    ),
    Fault("over_banked", "Over-banked", "The lift left to hold height goes."),
    Fault("chased_instruments", "Eyes inside", "The nose wanders while the needle is chased."),
    Fault("ball_out", "Ball not in the middle", "The aircraft slips or skids; a stall then drops a wing."),
    Fault("point_left", "Nose left the point", "Rudder and aileron did not come together."),
    Fault(
        "forward_late",
        "Stick late at the stall",
        "The wing stays stalled and the sink builds.",
        {"delay_s": 1.0},
        "stick a second later",
    ),
    Fault("aileron_at_stall", "Aileron at the stall", "The dropping wing drops more."),
    Fault("secondary_stall", "Secondary stall", "Pulled before the speed was there: start again, lower."),
    Fault(
        "power_late",
        "Power closed late",
        "Power holds the nose up and the turn going.",
        {"power_left": 0.5, "close_s": 1.5},
        "half the power on, closed a second and a half late",
    ),
    Fault(
        "power_in_late",
        "Power late",
        "The height is paid for the wait.",
        {"throttle_s": 1.5},
        "throttle a second and a half slower",
    ),
    # Spins
    Fault(
        "slowed_wrong",
        "Slowed too fast or too slow",
        "Too fast zooms into it, too slow mushes past it.",
        {"entry_rudder": -0.3},
        "three tenths less rudder in the entry",
    ),
    Fault("entered_early", "Rudder before the buffet", "It wanders into a spiral instead of a spin."),
    Fault(
        "stick_not_back",
        "Stick not fully {stalls}",
        "It becomes a spiral: speed rises and so does the loss.",
        {"entry_stick": -0.65},
        "stick a third {stalls}",
    ),
    Fault(
        "rudder_half",
        "Rudder stamped or half",
        "A half entry wanders and costs height before the first turn.",
        {"entry_rudder": -0.5},
        "half the rudder in the entry",
    ),
    Fault(
        "aileron_in",
        "Aileron in",
        "Flattens or steepens the spin and hides what the rudder does.",
        {"aileron_in": -1.0},
        "aileron held against the turn",
    ),
    Fault(
        "aileron_in_recovery",
        "Aileron used in the recovery",
        "It can keep the spin going or tip it over.",
        {"aileron_recovery": -1.0},
        "aileron held against the turn",
    ),
    Fault(
        "wrong_rudder",
        "Wrong rudder",
        "The spin is held in by the foot that should stop it.",
        {"call_s": 2.0},
        "two seconds before it is changed over",
    ),
    Fault(
        "rudder_late",
        "Rudder half or late",
        "Every second is part of a turn.",
        {"call_s": 1.0},
        "rudder a second later",
    ),
    Fault(
        "stick_before_rudder",
        "Stick before rudder",
        "The spin speeds up before it stops.",
        {"gap_s": -1.5},
        "stick a second before the rudder",
    ),
    Fault(
        "stick_late",
        "Stick {unstalls} late",
        "Rudder alone stops it slowly: each further turn is paid in full.",
        {"gap_s": 1.0},
        "stick a second later after the rudder",
    ),
    Fault(
        "stick_too_far",
        "Stick too far or held",
        "Past the vertical: everyone floats and the dive deepens.",
        {"stick_error": -0.6, "stick_held_s": 0.5},
        "stick fully {unstalls}, and half a second longer",
    ),
    Fault(
        "rudder_not_centred",
        "Rudder not centred",
        "It starts to turn the other way.",
        {"rudder_held_s": 1.0},
        "rudder held a second after it stopped",
    ),
    Fault(
        "impatient",
        "Changed inputs too soon",
        "Inputs need time to work; changing them starts the wait again.",
        {"gives_up_s": 1.0},
        "inputs taken out for a second and put in again",
    ),
    # Pull-outs and upsets
    Fault(
        "soft_pull", "Timid pull", "Height and speed run away in the dive.", {"pull_g": -0.5}, "half a g less"
    ),
    Fault("harsh_pull", "Harsh pull", "Secondary stall or too much g, and the height is spent twice."),
    Fault("power_before_horizon", "Power before the horizon", "Speed is added while the nose is still down."),
    Fault(
        "not_level_first",
        "Wings not level first",
        "Part of the pull turns the aircraft instead of lifting it.",
    ),
    Fault(
        "late",
        "Late to act",
        "The speed and the loss grow with every second.",
        {"delay_s": 1.0, "call_s": 1.0},
        "first input a second later",
    ),
    Fault(
        "wrong_instrument",
        "Wrong instrument or eyes inside",
        "A second goes by before the horizon is found.",
        {"delay_s": 1.0},
        "a second before the horizon is found",
    ),
    Fault(
        "pulled_before_rolling",
        "Pulled before rolling",
        "Lift points sideways: it tightens the dive, and the rolling g limit is near.",
        {"pull_from_bank_deg": 160.0},
        "the pull begun at once, rolling while it comes",
    ),
    Fault(
        "rolled_while_pulling",
        "Rolled while pulling",
        "The g limit while rolling is lower.",
        {"roll_g": 0.8},
        "0.8 g more while rolling",
    ),
    Fault("long_way", "Rolled the long way", "Twice the time, nose still falling."),
    Fault(
        "pulled_through", "Pulled through", "From beyond the vertical the ground is the way the lift points."
    ),
    Fault(
        "throttle_wrong",
        "Throttle wrong for the nose",
        "Open with the nose down runs to Vne; closed with it up runs out of speed.",
    ),
    Fault("stopped_short", "Stopped short of recovered", "Still descending: not over yet."),
    Fault("pushed_hard", "Pushed too hard", "Everyone floats, and the engine may stop."),
    Fault(
        "controls_fought",
        "Moved the controls with no speed",
        "Nothing answers, and what is held bites when the air comes back.",
    ),
    # Rolls
    Fault(
        "nose_low_first",
        "Nose not high enough first",
        "The second half is flown downhill.",
        {"angle_error_deg": -10.0},
        "nose ten degrees lower",
    ),
    Fault(
        "not_relaxed",
        "Back pressure not relaxed before aileron",
        "A pull while rolling screws it off heading.",
    ),
    Fault(
        "aileron_eased",
        "Aileron eased off half way",
        "It stops on its back, where the nose drops.",
        {"roll_share": -0.3},
        "three tenths less aileron",
    ),
    Fault(
        "scooped",
        "Nose dropped in the last quarter",
        "It scoops out: height and heading go together.",
        {"scoop_g": 1.2},
        "1.2 g pulled while it comes off its back",
    ),
    Fault(
        "no_top_rudder",
        "No top rudder",
        "At knife edge the nose falls.",
        {"top_rudder": -0.3},
        "nothing of the weight carried at knife edge",
    ),
    Fault(
        "no_forward_inverted",
        "No forward stick inverted",
        "The nose drops while the wings are upside down.",
        {"on_its_back": -1.0},
        "nothing pushed on its back",
    ),
    Fault("off_heading", "Came off heading", "The exit is not where the next figure begins."),
    Fault("points_missed", "Points not stopped", "The roll smears into one."),
    # Loops and lines
    Fault(
        "wings_not_level", "Wings not level at the pull", "The loop leans and comes out beside its heading."
    ),
    Fault(
        "pulled_soft",
        "Pulled too soft",
        "The top comes too high and too slow.",
        {"pull_g": -0.5},
        "half a g less",
    ),
    Fault(
        "pulled_hard",
        "Pulled too hard",
        "Speed goes into drag, or the wing stalls on the way up.",
        {"pull_g": 0.5},
        "half a g more",
    ),
    Fault(
        "no_easing",
        "No easing over the top",
        "The top is pinched and slow.",
        {"ease_error_g": 0.4},
        "0.4 g more over the top",
    ),
    Fault("stalled_over_top", "Stalled over the top", "It falls out of the figure, sometimes into a spin."),
    Fault("late_pull_down", "Late pull on the way down", "Speed and height run away."),
    Fault("overspeed", "Too fast coming down", "Vne comes nearer with every second of waiting."),
    Fault(
        "not_vertical",
        "Line not vertical",
        "Short of it arcs over, past it falls on its back.",
        {"angle_error_deg": -10.0},
        "ten degrees short of it",
    ),
    Fault("kicked_early", "Kicked early", "It flies round in an arc instead of turning about itself."),
    Fault("kicked_late", "Kicked late", "No air over the rudder: it slides or flops."),
    Fault("torqued", "Torqued off", "The propeller's swirl rolls it as the air goes."),
    Fault("over_rotated", "Over-rotated", "It swings past the vertical down."),
)
AILERON_NOT_HELD = Fault(
    "aileron_in",
    "Aileron not held as briefed",
    "It is another spin than the one that was briefed.",
)
TOO_FAR_INVERTED = "It pulls as it stops: the wing can stall again, the right way up."


# Those that could end badly (common practice, no published source): the longest where nobody was in control.
BLOCKING: Mapping[str, Blocks] = {
    "no_answer": Blocks(clean_attempts=3),
    "wrong_rudder": Blocks(clean_attempts=3),
    "rudder_not_centred": Blocks(),
    "secondary_stall": Blocks(),
    "stalled_over_top": Blocks(),
    "overspeed": Blocks(clean_attempts=3),
    "pulled_before_rolling": Blocks(),
    "pulled_through": Blocks(clean_attempts=3),
    "stopped_short": Blocks(),
}


def _in_spin(fault: Fault, kind: Kind) -> Fault:
    """Return the fault as it is said of this kind of spin."""
    if fault.key == "aileron_in" and kind.aileron:
        return AILERON_NOT_HELD
    if fault.key == "stick_too_far" and kind.inverted:
        fault = replace(fault, does=TOO_FAR_INVERTED)
    stick = {"stalls": kind.stalls, "unstalls": kind.unstalls}
    return replace(
        fault,
        words=fault.words.format(**stick),
        assumed=fault.assumed.format(**stick),
        blocks=BLOCKING.get(fault.key),
    )


def faults(*keys: str, spin: SpinKind = "upright") -> tuple[Fault, ...]:
    """Return the faults of these keys, as said of this kind of spin. Raises KeyError for one that is not in
    the table."""
    table = {fault.key: fault for fault in TABLE}
    return tuple(_in_spin(table[key], KINDS[spin]) for key in keys)


BY_KEY = {fault.key: fault for fault in faults(*(fault.key for fault in TABLE))}
EVERY = ("below_gate", "wrong_speed", "no_lookout", "no_answer", "missed_check")
PULL_OUT = ("soft_pull", "harsh_pull", "power_before_horizon", "not_level_first")
SPIN_ENTRY = ("slowed_wrong", "entered_early", "stick_not_back", "rudder_half", "aileron_in")
# The commonest first: in the air only the first few have a key of their own.
SPIN_RECOVERY = (
    "power_late",
    "rudder_late",
    "stick_before_rudder",
    "stick_late",
    "rudder_not_centred",
    "wrong_rudder",
    "aileron_in_recovery",
    "stick_too_far",
    "impatient",
)
UPSET = (
    "late",
    "wrong_instrument",
    "pulled_before_rolling",
    "rolled_while_pulling",
    "long_way",
    "pulled_through",
    "throttle_wrong",
    "stopped_short",
    "secondary_stall",
)
ROLL = (
    "nose_low_first",
    "not_relaxed",
    "aileron_eased",
    "scooped",
    "no_top_rudder",
    "no_forward_inverted",
    "off_heading",
)
LOOP = (
    "wings_not_level",
    "pulled_soft",
    "pulled_hard",
    "no_easing",
    "stalled_over_top",
    "late_pull_down",
    "off_heading",
    "overspeed",
)
