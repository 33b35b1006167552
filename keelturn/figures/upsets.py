"""Upsets: the instructor sets the attitude, the student gets out of it (common practice, no published
source)."""

from functools import partial

from keelturn.figures.faults import EVERY, PULL_OUT, UPSET, faults
from keelturn.figures.figure import Begin, Family, Figure, Gate, Parameter
from keelturn.motion.legs import Leg

PULL = Parameter("Pull", "g", 2.5, 1.5, 6.0)
EYES = Parameter("Eyes closed until the call", "", 0.0, 0.0, 1.0, switch=True)
FLAP = Parameter("Gear and flap", "", 0.0, 0.0, 1.0, switch=True)
SET = "as set by the instructor"
upset = partial(
    Figure,
    family=Family.UPSETS,
    faults=faults(*UPSET, "controls_fought", "pushed_hard", *PULL_OUT, *EVERY),
    take_over_words="the wings are not level",
    stop_words=("Speed within 20 of Vne: my aircraft.", "Pulling before the wings are level: my aircraft."),
    begin=Begin("bank_to_side_deg", "path_deg"),
)


def setting(
    bank: tuple[float, float, float], path: tuple[float, float, float], power: float
) -> dict[str, Parameter]:
    """What the instructor sets: bank and path as (usual, least, most), power; and how it is recovered."""
    return {
        "bank_deg": Parameter("Bank", "deg", *bank),
        "path_deg": Parameter("Flight path", "deg", *path),
        "pull_g": PULL,
        "power": Parameter("Power, 0 to 1", "", power, 0.0, 1.0),
        "eyes_closed": EYES,
        "flap": FLAP,
    }


NOSE_LOW = upset(
    key="nose_low",
    name="Nose-low recovery",
    category="utility",
    stage="first flights",
    unsettles=4,
    purpose="Recognise nose low and fast; roll before pulling.",
    look_at="Look up for the horizon; find the short way to it.",
    gate=Gate("manoeuvring", 0.85, SET, SET),
    parameters=setting((70.0, 0.0, 135.0), (-30.0, -70.0, -5.0), 0.6),
    situation="nose low",
    throttle=0.6,
)
NOSE_HIGH = upset(
    key="nose_high",
    name="Nose-high recovery",
    category="utility",
    stage="first flights",
    unsettles=4,
    purpose="Speed is running out: power, and get the nose down before the wing stops.",
    look_at="The wing tips; the horizon is under the nose.",
    gate=Gate("stall", 1.35, SET, SET),
    parameters=setting((20.0, 0.0, 90.0), (35.0, 10.0, 60.0), 0.3),
    situation="nose high",
    throttle=0.3,
)
OVER_BANKED = upset(
    key="over_banked",
    name="Over-banked recovery",
    category="utility",
    stage="practised",
    unsettles=5,
    purpose="Beyond 90 the pull points at the ground: unload, roll to the nearest horizon.",
    look_at="Which way is up; roll toward it.",
    gate=Gate("manoeuvring", 0.8, SET, SET),
    parameters=setting((110.0, 90.0, 135.0), (-15.0, -50.0, 10.0), 0.6),
    situation="nose low",
    throttle=0.6,
)
INVERTED = upset(
    key="inverted",
    name="Inverted recovery",
    category="aerobatic",
    stage="practised",
    unsettles=6,
    purpose="Push and roll. Never pull through.",
    look_at="The ground above; push it away, then roll.",
    gate=Gate("manoeuvring", 0.85, SET, SET),
    parameters=setting((180.0, 150.0, 180.0), (-5.0, -40.0, 15.0), 0.6),
    situation="inverted",
    throttle=0.6,
)
VERTICAL = upset(
    key="vertical_no_speed",
    name="Vertical with no speed",
    category="aerobatic",
    stage="practised",
    unsettles=7,
    purpose="Nothing works without air: hold everything in the middle and wait.",
    look_at="Any horizon; then the nose as it falls.",
    gate=Gate("stall", 0.5, "closed", SET),
    parameters=setting((0.0, 0.0, 0.0), (80.0, 60.0, 89.0), 0.0),
    situation="no speed",
    legs=(
        Leg(
            "Nose falls through",
            kind="falls through",
            swing_deg="fall_deg",
            until="seconds",
            amount=2.5,
            throttle=0.0,
        ),
    ),
)
TUMBLE = upset(
    key="tumble",
    name="Tumble, hands off",
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=9,
    purpose="When nobody knows which way it goes: close, centre, let it settle, then name it.",
    look_at="Nothing for a breath; then the speed and the horizon.",
    gate=Gate("stall", 0.6, "closed", SET),
    parameters=setting((0.0, 0.0, 0.0), (70.0, 45.0, 89.0), 0.0),
    situation="no speed",
    legs=(
        Leg(
            "Tumbles", kind="falls through", swing_deg="tumble_deg", until="seconds", amount=4.0, throttle=0.0
        ),
        Leg("Settles", g=0.3, until="seconds", amount=1.0, drag="stall_drag"),
    ),
)
FIGURES = (NOSE_LOW, NOSE_HIGH, OVER_BANKED, INVERTED, VERTICAL, TUMBLE)
