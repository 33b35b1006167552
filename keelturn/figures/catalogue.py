"""The figures of the first lesson. Adding a figure is adding an entry here and a test.

Trade knowledge throughout (common practice, no published source) unless a source is named.
"""

from keelturn.figures.figure import Fault, Figure, Gate, Parameter
from keelturn.motion.legs import Leg

PULL = Parameter("Pull", "g", 2.5, 1.5, 6.0)
EASE = Parameter("Ease-out", "g", 1.5, 1.2, 3.0)
TURNS = Parameter("Turns", "turns", 1.0, 0.25, 6.0)

BELOW_GATE = Fault("below_gate", "Below the gate", "The height was not there to spend before the figure began.")
WRONG_SPEED = Fault("wrong_speed", "Wrong speed at the gate", "Too fast pays in height and g, too slow in control.")
NO_LOOKOUT = Fault("no_lookout", "No lookout", "Nobody knows who is below.")

SPIN_ENTRY = (
    Fault("stick_not_back", "Stick not fully back", "It becomes a spiral: speed rises and so does the loss."),
    Fault("rudder_half", "Rudder stamped or half", "A half entry wanders and costs height before the first turn."),
    Fault("aileron_in", "Aileron in", "Flattens or steepens the spin and hides what the rudder does."),
)
SPIN_RECOVERY = (
    Fault("power_late", "Power closed late", "Power holds the nose up and the turn going."),
    Fault("rudder_late", "Rudder half or late", "Every second is part of a turn."),
    Fault("stick_before_rudder", "Stick before rudder", "The spin speeds up before it stops."),
    Fault("stick_late", "Stick forward late", "Rudder alone stops it slowly: each further turn is paid in full."),
    Fault("stick_too_far", "Stick too far or held", "Past the vertical: everyone floats and the dive deepens."),
    Fault("rudder_not_centred", "Rudder not centred", "It starts to turn the other way."),
    Fault("impatient", "Changed inputs too soon", "Inputs need time to work; changing them starts the wait again."),
)
PULL_OUT = (
    Fault("soft_pull", "Timid pull", "Height and speed run away in the dive."),
    Fault("harsh_pull", "Harsh pull", "Secondary stall or too much g, and the height is spent twice."),
    Fault("power_before_horizon", "Power before the horizon", "Speed is added while the nose is still down."),
)

STEEP_TURN = Figure(
    key="steep_turn", name="Steep turn", family="Co-ordination",
    purpose="Warm up hands and eyes, feel g build, hold height by the horizon.",
    look_at="The horizon against the cowling; bank first, then the small pull.",
    opening="level",
    gate=Gate("manoeuvring", 0.90, "full as the bank passes 45", "level, into wind"),
    parameters={"bank_deg": Parameter("Bank", "deg", 60.0, 30.0, 65.0)},
    faults=(
        Fault("nose_dropped", "Nose dropped", "Bank without pull: a spiral begins."),
        Fault("over_banked", "Over-banked", "The lift left to hold height goes."),
        Fault("chased_instruments", "Eyes inside", "The nose wanders while the needle is chased."),
        NO_LOOKOUT, WRONG_SPEED,
    ),
    take_over_words="the nose is still dropping",
    stop_words=("Below the gate, stop.", "Nose dropping: unload, roll level, then raise it."),
    steps=("Lookout, then roll in smoothly.", "Past 45 degrees: power and a small pull, hold the picture.",
           "Thirty degrees before the heading, roll out and let the pull off."),
    legs=(
        Leg("Roll in", throttle=1.0, roll_to_deg="bank_to_side_deg"),
        Leg("Turn", until="turned_deg", amount=320.0),
        Leg("Roll out", roll_to_deg=0.0),
    ),
    throttle=0.7, take_over=(75.0, -15.0),
)

STALL_POWER_OFF = Figure(
    key="stall_power_off", name="Power-off stall", family="Stalls",
    purpose="Know the buffet and the break, and that the stick fixes it.",
    look_at="The nose on the horizon; listen and feel for the buffet.",
    opening="stall",
    gate=Gate("stall", 1.0, "idle, slowed at 1 kt a second", "level, wings level"),
    parameters={"ease_g": EASE},
    faults=(
        Fault("forward_late", "Stick late at the stall", "The wing stays stalled and the sink builds."),
        Fault("aileron_at_stall", "Aileron at the stall", "The dropping wing drops more."),
        Fault("secondary_stall", "Secondary stall", "Pulled before the speed was there: start again, lower."),
        Fault("power_late", "Power late", "The height is paid for the wait."),
        NO_LOOKOUT,
    ),
    take_over_words="the wing is still stalled",
    stop_words=("Wing drops past 45: my aeroplane.", "Below the gate, stop."),
    situation="stall", has_sides=False,
)


def _spin(key: str, name: str, purpose: str, usual_turns: float) -> Figure:
    return Figure(
        key=key, name=name, family="Spins", purpose=purpose,
        look_at="One point over the nose for the turns; the ground, never the panel.",
        opening="spin",
        gate=Gate("stall", 1.08, "idle, slowed at 1 kt a second", "nose a little high, wings level"),
        parameters={"turns": Parameter("Turns", "turns", usual_turns, 0.25, 6.0), "pull_g": PULL},
        faults=SPIN_ENTRY + SPIN_RECOVERY + PULL_OUT + (BELOW_GATE, WRONG_SPEED, NO_LOOKOUT),
        take_over_words="it is still turning",
        stop_words=("Speed rising past the gate by 20: spiral, recover now.", "My height: my aeroplane, no discussion.",
                    "One turn after full inputs and still turning: my aeroplane."),
        situation="spin",
    )


INCIPIENT_SPIN = _spin("incipient_spin", "Incipient spin", "Stop it before it is a spin: see the yaw, act at once.", 0.5)
SPIN = _spin("spin", "Spin", "See it, name it, and take it apart in the right order.", 1.0)

NOSE_LOW = Figure(
    key="nose_low", name="Nose-low recovery", family="Upsets",
    purpose="Recognise nose low and fast; roll before pulling.",
    look_at="Look up for the horizon; find the short way to it.",
    opening="upset",
    gate=Gate("manoeuvring", 0.85, "as set by the instructor", "as set by the instructor"),
    parameters={
        "bank_deg": Parameter("Bank", "deg", 70.0, 0.0, 135.0),
        "path_deg": Parameter("Flight path", "deg", -30.0, -70.0, -5.0),
        "pull_g": PULL,
    },
    faults=(
        Fault("late", "Late to act", "The speed and the loss grow with every second."),
        Fault("pulled_before_rolling", "Pulled before rolling", "The lift points sideways: it tightens the dive."),
        Fault("rolled_while_pulling", "Rolled while pulling", "The g limit while rolling is lower."),
        Fault("long_way", "Rolled the long way", "Twice the time, nose still falling."),
        Fault("throttle_wrong", "Throttle left open", "Power with the nose down runs to Vne in seconds."),
        Fault("stopped_short", "Stopped short of recovered", "Still descending: not over yet."),
        *PULL_OUT,
    ),
    take_over_words="the wings are not level",
    stop_words=("Speed within 20 of Vne: my aeroplane.", "Pulling before the wings are level: my aeroplane."),
    situation="nose low", throttle=0.6,
)

FIGURES: tuple[Figure, ...] = (STEEP_TURN, STALL_POWER_OFF, INCIPIENT_SPIN, SPIN, NOSE_LOW)
BY_KEY = {figure.key: figure for figure in FIGURES}


def figure_of(key: str) -> Figure:
    """Raises ValueError naming the figures there are."""
    if key not in BY_KEY:
        raise ValueError(f"no figure '{key}' in the catalogue; it has {', '.join(BY_KEY)}")
    return BY_KEY[key]
