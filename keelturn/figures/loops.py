"""Looping figures (common practice, no published source)."""

from functools import partial

from keelturn.figures.faults import EVERY, LOOP, PULL_OUT, ROLL, faults
from keelturn.figures.figure import Closes, Family, Figure, Gate, Parameter
from keelturn.motion.legs import Leg, Number

PULL = Parameter("Pull", "g", 3.5, 2.0, 6.0)
STOP = (
    "Slow and not over: stick neutral, let the nose fall through, recover.",
    "Speed within 20 of Vne: throttle closed, keep the pull.",
    "Below the gate, stop.",
)
looping = partial(
    Figure,
    family=Family.LOOPING,
    category="aerobatic",
    throttle=1.0,
    take_over=(60.0, -60.0),
    stop_words=STOP,
    take_over_words="it is not pulling out",
    parameters={"pull_g": PULL},
)
LOOPED = faults(*LOOP, *PULL_OUT, *EVERY)
# A quarter roll on the way up has no side and no back to be held on.
QUARTERS = faults(*LOOP, "not_relaxed", *PULL_OUT, *EVERY)
MIXED = faults(*LOOP, *(key for key in ROLL if key not in LOOP), *PULL_OUT, *EVERY)
# Over the top not slower than eight tenths of Vs, with a quarter of the lift in hand; a roll at the top wants
# ailerons that answer.
TOP_VS, ROLL_VS = 0.8, 1.0
# On the line up, rolling on to the back, not slower than this.
LINE_ROLL_VS = 1.15
UP = Leg("Pull up", g="pull_g", throttle=1.0, until="pulled_to_deg", amount=60.0)
DOWN = Leg("Down and round", g="round_g", throttle="down_power", until="pulled_to_deg", amount=360.0)


def over(to_deg: Number) -> Leg:
    return Leg(
        "Over the top", g="pull_g", eased="top_share", until="pulled_to_deg", amount=to_deg, least_vs=TOP_VS
    )


LINE_DOWN = (
    Leg("Line down", throttle="down_power", until="seconds", amount=0.5),
    Leg(
        "Half roll",
        g=1.0,
        lift="share of weight",
        roll_through_deg="side_180",
        roll_share="full_roll",
        top_rudder="top_rudder",
        on_its_back="on_its_back",
        scoop="scoop_g",
    ),
    Leg("Pull-out", g="pull_g", until="path_up_to_deg"),
)
HALF_CUBAN_LEGS = (UP, over("over_to_deg"), *LINE_DOWN)
CUBAN = Closes("over_to_deg", 205.0, 230.0)
REVERSE_LEGS = (
    Leg("Pull up", g="pull_g", throttle=1.0, until="pulled_to_deg", amount=45.0),
    Leg("Line up", until="seconds", amount="line_s"),
    Leg(
        "Half roll",
        g=1.0,
        lift="share of weight",
        roll_through_deg="side_180",
        roll_share="full_roll",
        top_rudder="top_rudder",
        on_its_back="on_its_back",
        scoop="scoop_g",
        least_vs=LINE_ROLL_VS,
    ),
    Leg("Over the top", g="pull_g", eased="top_share", until="pulled_to_deg", amount=225.0, least_vs=TOP_VS),
    Leg("Down and round", g="pull_g", throttle=0.3, until="pulled_to_deg", amount=360.0),
)
DIVE = Leg("Down and round", g=0.0, until="stall_ratio_up_to", amount="dive_vs")
QUARTER_LEGS = (
    Leg("Pull up", g="pull_g", throttle=1.0, until="pulled_to_deg", amount=65.0),
    Leg("Quarter roll", g=0.3, roll_through_deg="side_90", roll_share="full_roll"),
    Leg("Over the top", g="pull_g", eased="top_share", until="path_down_to_deg", amount=-40.0, least_vs=0.9),
    Leg("Down and round", g="pull_g", throttle="down_power", until="path_down_to_deg", amount=-60.0),
    Leg("Down and round", g="pull_g", until="path_up_to_deg"),
    Leg("Down and round", g="settle_g", roll_to_deg=0.0),
    Leg("Down and round", g="settle_g", until="path_up_to_deg"),
)

LOOP_FIGURE = looping(
    key="loop",
    name="Loop",
    faults=LOOPED,
    stage="practised",
    unsettles=3,
    has_sides=False,
    purpose="One circle upright: even pull, ease over the top, the same height out as in.",
    look_at="Wing tips up to the vertical, then back over the top for the horizon.",
    gate=Gate("stall", 2.6, "full", "level, on a line", to_never_exceed=True),
    steps=(
        "Speed at the gate, wings level, on the line.",
        "Pull to the briefed g, smoothly.",
        "Past the vertical ease it; look back.",
        "Round the bottom pull again.",
    ),
    legs=(UP, over(240.0), DOWN),
    closes=Closes("round_g", 1.7),
)
HALF_LOOP = looping(
    key="half_loop_roll_out",
    name="Half loop and roll out",
    faults=MIXED,
    stage="practised",
    unsettles=4,
    purpose="Height for speed, and about face: arrive at the top with enough to roll.",
    look_at="Back over the top for the horizon, then ahead for the roll.",
    gate=Gate("stall", 2.95, "full", "level, on a line", to_never_exceed=True),
    steps=(
        "Pull to the briefed g.",
        "Ease over the top to inverted, nose a little above the horizon.",
        "Roll level with forward stick.",
    ),
    legs=(
        UP,
        over(175.0),
        Leg(
            "Roll out",
            g=1.0,
            lift="share of weight",
            roll_through_deg="side_180",
            roll_share="full_roll",
            top_rudder="top_rudder",
            on_its_back="on_its_back",
            scoop="scoop_g",
            least_vs=ROLL_VS,
        ),
        Leg("Ease level", g="settle_g", until="path_up_to_deg"),
    ),
)
HALF_CUBAN = looping(
    key="half_cuban",
    name="Half Cuban",
    faults=MIXED,
    stage="practised",
    unsettles=4,
    purpose="Five eighths of a loop, roll on the line down, out the other way.",
    look_at="Over the top, then the ground over the nose at 45 degrees.",
    gate=Gate("stall", 2.65, "full", "level, on a line", to_never_exceed=True),
    steps=(
        "Loop to 45 degrees down, inverted.",
        "Hold the line, roll upright.",
        "Pull out where you began, the other way.",
    ),
    legs=HALF_CUBAN_LEGS,
    closes=CUBAN,
)
CUBAN_EIGHT = looping(
    key="cuban_eight",
    name="Cuban eight",
    faults=MIXED,
    stage="ready to fly it alone",
    unsettles=5,
    purpose="Two halves that meet: the second begins with the speed and height the first left.",
    look_at="Over the top, then the crossing point on the ground.",
    gate=Gate("stall", 2.75, "full", "level, on a line", to_never_exceed=True),
    steps=("Half Cuban one way.", "Half Cuban back, with the speed you have."),
    legs=(*HALF_CUBAN_LEGS, *HALF_CUBAN_LEGS),
    closes=CUBAN,
)
REVERSE_HALF_CUBAN = looping(
    key="reverse_half_cuban",
    name="Reverse half Cuban",
    faults=MIXED,
    stage="ready to fly it alone",
    unsettles=4,
    purpose="Roll first on the line up, then the back of a loop: judge the top by the speed left.",
    look_at="Wing tip on the line up, then back for the horizon.",
    gate=Gate("stall", 2.65, "full", "level, on a line", to_never_exceed=True),
    steps=("Pull to 45 degrees up.", "Roll inverted on the line.", "Pull through the back of the loop."),
    legs=REVERSE_LEGS,
    closes=Closes("line_s", 0.0, 3.0),
)
SPLIT_S = looping(
    key="split_s",
    name="Half roll and pull through",
    parameters={"pull_g": PULL},
    throttle=0.5,
    faults=MIXED,
    stage="ready to fly it alone",
    unsettles=6,
    purpose="To know what it costs, so that nobody does it by accident.",
    look_at="The ground coming round; the speed.",
    gate=Gate("stall", 1.6, "idle before the pull", "nose 20 above the horizon"),
    steps=("Nose well up, slow.", "Roll inverted, throttle closed.", "Pull to the briefed g and hold it."),
    legs=(
        Leg("Pull up", g=1.8, until="path_up_to_deg", amount=20.0),
        Leg(
            "Half roll",
            g=0.5,
            throttle=0.0,
            roll_through_deg="side_180",
            roll_share="full_roll",
            top_rudder="top_rudder",
            on_its_back="on_its_back",
            scoop="scoop_g",
        ),
        Leg("Pull through", g="pull_g", until="pulled_to_deg", amount=360.0),
    ),
)
QUARTER_CLOVER = looping(
    key="quarter_clover",
    name="Quarter clover",
    faults=QUARTERS,
    stage="practised",
    unsettles=5,
    purpose="A loop that leaves at right angles: roll on the way up, pull through the new top.",
    look_at="The wing tip on the new heading.",
    gate=Gate("stall", 2.65, "full", "level, on a line", to_never_exceed=True),
    steps=(
        "Pull up toward the vertical.",
        "Quarter roll on to the new heading.",
        "Over the top and out at right angles.",
    ),
    legs=QUARTER_LEGS,
)
CLOVERLEAF = looping(
    key="cloverleaf",
    name="Cloverleaf",
    faults=QUARTERS,
    stage="ready to fly it alone",
    unsettles=8,
    purpose="Four quarters without a pause: energy kept through all of them.",
    look_at="The next heading before each pull.",
    gate=Gate("stall", 2.65, "full", "level, on a line", to_never_exceed=True),
    steps=("Quarter clover four times, each with the speed the last one left.",),
    legs=(*QUARTER_LEGS[:4], DIVE, *QUARTER_LEGS[4:]) * 4,
    closes=Closes("dive_vs", 1.0, 2.0),
)
FIGURES = (
    LOOP_FIGURE,
    HALF_LOOP,
    HALF_CUBAN,
    CUBAN_EIGHT,
    REVERSE_HALF_CUBAN,
    SPLIT_S,
    QUARTER_CLOVER,
    CLOVERLEAF,
)
