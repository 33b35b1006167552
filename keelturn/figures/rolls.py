"""Rolls (common practice, no published source)."""

from functools import partial

from keelturn.figures.faults import EVERY, PULL_OUT, ROLL, faults
from keelturn.figures.figure import Closes, Family, Figure, Gate, Parameter
from keelturn.motion.legs import Leg

STOP = ("Nose drops past 30 below: stop the roll the short way, then pull.", "Below the gate, stop.")
TAKE_OVER = (120.0, -25.0)
# The faster, and the faster it rolls, the less nose-up it takes to end level with where it began.
HOW_HIGH = Closes("line_deg", 3.0, 25.0)
# Not slower than this on the way round: it flies on its back and on its side, and the ailerons answer.
ROLL_VS, FLICK_VS = 1.3, 1.15
rolled = partial(
    Figure,
    family=Family.ROLLS,
    category="aerobatic",
    throttle=0.8,
    take_over=TAKE_OVER,
    keeps_ft=200.0,
    closes=HOW_HIGH,
    stop_words=STOP,
    take_over_words="the nose drops on its back",
    faults=faults(*ROLL, *PULL_OUT, *EVERY),
)
CRUISE = "cruise"


def nose_up(usual: float, least: float, most: float) -> Parameter:
    return Parameter("Nose up", "deg", usual, least, most)


EASE = (
    Leg("Ease out", g="float_g", roll_to_deg=0.0),
    Leg("Ease out", g="settle_g", until="path_up_to_deg"),
    Leg("Ease over", g=0.7, until="path_down_to_deg"),
)
POINT = (
    Leg(
        "Roll",
        g=1.0,
        lift="share of weight",
        roll_through_deg="side_90",
        top_rudder="top_rudder",
        on_its_back="on_its_back",
        scoop="scoop_g",
        roll_share="point_share",
        least_vs=ROLL_VS,
    ),
    Leg(
        "Point",
        g=1.0,
        lift="share of weight",
        until="seconds",
        amount=0.5,
        top_rudder="top_rudder",
        on_its_back="on_its_back",
        scoop="scoop_g",
        drag=1.2,
    ),
)

AILERON_ROLL = rolled(
    key="aileron_roll",
    name="Aileron roll",
    stage="practised",
    unsettles=4,
    purpose="Nose up, relax, then all the aileron: it is the stopping half way that hurts.",
    look_at="Straight ahead; let the horizon go round.",
    gate=Gate("manoeuvring", 0.92, CRUISE, "level", full_controls=True),
    parameters={"line_deg": nose_up(22.0, 3.0, 40.0)},
    closes=Closes("line_deg", 3.0, 35.0),
    steps=(
        "Nose up to {angle}.",
        "Relax the pull, check it is still.",
        "Full aileron, hold it all the way round.",
        "Centre, ease level.",
    ),
    legs=(
        Leg("Pull up", g=2.0, until="path_up_to_deg", amount="line_deg"),
        Leg(
            "Roll",
            g="float_g",
            roll_through_deg="side_360",
            roll_share="full_roll",
            scoop="scoop_g",
            least_vs=ROLL_VS,
        ),
        *EASE,
    ),
)
SLOW_ROLL = rolled(
    key="slow_roll",
    name="Slow roll",
    stage="ready to fly it alone",
    unsettles=6,
    purpose="Hands and feet in turn: top rudder at the sides, forward stick on the back.",
    look_at="A point on the horizon; the nose draws a small circle round it.",
    gate=Gate("manoeuvring", 0.96, "full", "level, on a line", full_controls=True),
    parameters={"line_deg": nose_up(15.0, 3.0, 30.0)},
    steps=(
        "Nose up to {angle}.",
        "Half aileron, top rudder as the wing passes the vertical.",
        "Forward on your back, top rudder again.",
        "Let it off as the wings come level.",
    ),
    legs=(
        Leg("Pull up", g=2.0, throttle=1.0, until="path_up_to_deg", amount="line_deg"),
        Leg(
            "Roll",
            g=1.0,
            lift="share of weight",
            roll_through_deg="side_360",
            roll_share="slow_share",
            top_rudder="top_rudder",
            on_its_back="on_its_back",
            scoop="scoop_g",
            drag=1.25,
            least_vs=ROLL_VS,
        ),
        *EASE,
    ),
)
BARREL_ROLL = rolled(
    key="barrel_roll",
    name="Barrel roll",
    stage="practised",
    unsettles=4,
    purpose="A wide, easy spiral at positive g: planning, and never hurrying the last half.",
    look_at="A point 45 degrees off the nose; fly round it.",
    gate=Gate("manoeuvring", 0.97, "full", "level, point off the wing", full_controls=True),
    closes=Closes("line_deg", 15.0, 60.0),
    parameters={"line_deg": nose_up(45.0, 15.0, 60.0), "pull_g": Parameter("Pull", "g", 2.5, 1.8, 4.0)},
    steps=(
        "Pull up to {angle}, and begin to roll.",
        "On your back with the nose on the horizon.",
        "Keep it coming round, keep pulling gently.",
        "Level where you began.",
    ),
    legs=(
        Leg("Pull up", g="pull_g", throttle=1.0, until="path_up_to_deg", amount="line_deg"),
        Leg(
            "Round",
            g="barrel_g",
            roll_through_deg="side_360",
            roll_share="barrel_share",
            scoop="scoop_g",
            least_vs=ROLL_VS,
        ),
        EASE[0],
        Leg("Ease out", g="pull_g", until="path_up_to_deg"),
        EASE[2],
    ),
)
FOUR_POINT_ROLL = rolled(
    key="four_point_roll",
    name="Four-point roll",
    stage="ready to fly it alone",
    unsettles=6,
    purpose="Stop it where you mean to, and hold the nose up there.",
    look_at="A point on the horizon; count the stops.",
    gate=Gate("manoeuvring", 0.98, "full", "level, on a line", full_controls=True),
    parameters={"line_deg": nose_up(15.0, 3.0, 30.0)},
    steps=(
        "Nose up to {angle}.",
        "Quarter, stop, top rudder.",
        "Quarter, stop, forward.",
        "Quarter, stop, top rudder.",
        "Quarter, level.",
    ),
    legs=(
        Leg("Pull up", g=2.0, throttle=1.0, until="path_up_to_deg", amount="line_deg"),
        *POINT,
        *POINT,
        *POINT,
        POINT[0],
        *EASE,
    ),
)
FLICK_ROLL = rolled(
    key="flick_roll",
    name="Flick roll",
    stage="ready to fly it alone",
    unsettles=7,
    purpose="A spin along the flight path: enter it slow enough, stop it early.",
    look_at="Straight ahead; lead the stop.",
    gate=Gate("stall", 1.65, CRUISE, "a little nose up", full_controls=True),
    parameters={"line_deg": nose_up(12.0, 3.0, 30.0)},
    steps=(
        "Slow to the gate, then nose up to {angle}.",
        "Brisk back, full rudder.",
        "Before it is level: rudder against, stick forward, stop it.",
    ),
    legs=(
        Leg("Pull up", g=1.8, throttle=1.0, until="path_up_to_deg", amount="line_deg"),
        Leg(
            "Flick",
            g="flick_g",
            roll_through_deg="side_360",
            roll_share="flick_share",
            drag="flick_drag",
            onset_g_s=6.0,
            least_vs=FLICK_VS,
        ),
        *EASE,
    ),
)
FIGURES = (AILERON_ROLL, SLOW_ROLL, BARREL_ROLL, FOUR_POINT_ROLL, FLICK_ROLL)
