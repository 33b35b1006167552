"""Lines: wing-over, stall turn, zoom and push-over, tail slide (common practice, no published source)."""

from keelturn.figures.faults import EVERY, LOOP, PULL_OUT, faults
from keelturn.figures.figure import Closes, Family, Figure, Gate, Parameter
from keelturn.motion.legs import Leg

PULL = Parameter("Pull", "g", 3.5, 2.0, 6.0)
STOP = ("It falls off the line: throttle closed, centralise, wait for the nose.", "Below the gate, stop.")
LINE = ("not_vertical", "kicked_early", "kicked_late", "torqued", "over_rotated")
VERTICAL = (Leg("Pull up", g="pull_g", throttle=1.0, until="pulled_to_deg", amount="vertical_deg"),)
OUT = (
    Leg("Line down", throttle=0.0, until="stall_ratio_up_to", amount=1.5),
    Leg("Pull-out", g="pull_g", until="pulled_to_deg", amount=360.0),
)

WING_OVER = Figure(
    key="wing_over",
    name="Wing-over",
    family=Family.LINES,
    category="utility",
    stage="first flights",
    unsettles=2,
    purpose="Nose up, over and round: slow at the top, the bank and the nose together.",
    look_at="The wing tip on a line at right angles.",
    gate=Gate("manoeuvring", 0.92, "cruise", "level"),
    parameters={"line_deg": Parameter("Nose up", "deg", 30.0, 15.0, 45.0)},
    faults=faults("wings_not_level", "ball_out", "off_heading", *PULL_OUT, *EVERY),
    stop_words=("Bank past 100: roll level, ease out.", "Below the gate, stop."),
    take_over_words="the nose falls below 40",
    take_over=(100.0, -30.0),
    throttle=0.75,
    steps=(
        "Ease up.",
        "Roll with the nose still rising, slow and steep at the top.",
        "Nose falls through the line; roll out and ease level.",
    ),
    legs=(
        Leg("Ease up", g=1.8, until="path_up_to_deg", amount="line_deg"),
        Leg("Roll in", g=1.0, roll_to_deg="over_bank_deg"),
        Leg("Over", g=1.2, until="path_down_to_deg", amount="nose_down_deg", least_vs=0.8),
        Leg("Roll out", g=1.2, roll_to_deg=0.0),
        Leg("Ease out", g=1.8, until="path_up_to_deg"),
        Leg("Ease out", g=0.7, until="path_down_to_deg"),
    ),
    closes=Closes("nose_down_deg", -35.0, -10.0),
)
STALL_TURN = Figure(
    key="stall_turn",
    name="Stall turn",
    family=Family.LINES,
    category="aerobatic",
    stage="practised",
    unsettles=4,
    purpose="Straight up, turn about the nose while there is air, straight down.",
    look_at="Wing tips on the horizon, both the same.",
    gate=Gate("stall", 2.6, "full", "level, on a line", to_never_exceed=True, full_controls=False),
    parameters={"pull_g": PULL},
    faults=faults(*LINE, "pulled_hard", "late_pull_down", "off_heading", *PULL_OUT, *EVERY),
    stop_words=STOP,
    take_over_words="it slides or falls off",
    take_over=(0.0, -70.0),
    throttle=1.0,
    steps=(
        "Pull to the vertical, stop it there.",
        "Wait. Full rudder while it still bites.",
        "Stop the swing, throttle closed, line down.",
        "Pull out.",
    ),
    legs=(
        *VERTICAL,
        Leg("Line up", until="stall_ratio_down_to", amount="kick_vs"),
        Leg("Turn about", kind="yaws over", swing_deg="side_180", until="seconds", amount=2.0),
        *OUT,
    ),
)
ZOOM = Figure(
    key="zoom_push_over",
    name="Zoom and push-over",
    family=Family.LINES,
    category="utility",
    stage="practised",
    unsettles=4,
    purpose="Speed into height, then light in the seat over the top.",
    look_at="The horizon ahead as it comes up again.",
    gate=Gate("manoeuvring", 0.97, "full", "level"),
    parameters={
        "line_deg": Parameter("Nose up", "deg", 45.0, 20.0, 70.0),
        "pull_g": Parameter("Pull", "g", 2.5, 1.5, 5.0),
    },
    faults=faults("pulled_hard", "pushed_hard", "wings_not_level", *PULL_OUT, *EVERY),
    stop_words=("Slow on the way up: push now.", "Below the gate, stop."),
    take_over_words="the speed runs out nose up",
    take_over=(0.0, -40.0),
    throttle=1.0,
    has_sides=False,
    steps=(
        "Pull to the line.",
        "Hold it while the speed lasts.",
        "Push over, light in the seat.",
        "Ease out.",
    ),
    legs=(
        Leg("Pull up", g="pull_g", throttle=1.0, until="path_up_to_deg", amount="line_deg"),
        Leg("Line up", until="stall_ratio_down_to", amount=1.3),
        Leg("Push over", g=0.0, until="path_down_to_deg", amount=-15.0, least_vs=0.3),
        Leg("Ease out", g=1.8, until="path_up_to_deg"),
    ),
)
TAIL_SLIDE = Figure(
    key="tail_slide",
    name="Tail slide",
    family=Family.LINES,
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=8,
    purpose="Only where the manual approves it: hold everything still, and let the nose fall.",
    look_at="Wing tips on the horizon; hands hard on the stick.",
    gate=Gate("stall", 2.6, "full, closed at the top", "level, on a line", to_never_exceed=True),
    parameters={"pull_g": PULL},
    faults=faults(
        "not_vertical",
        "controls_fought",
        "throttle_wrong",
        *(k for k in LOOP if k == "late_pull_down"),
        *PULL_OUT,
        *EVERY,
    ),
    stop_words=STOP,
    take_over_words="it falls on its back",
    take_over=(0.0, -70.0),
    throttle=1.0,
    has_sides=False,
    steps=(
        "Pull to the vertical.",
        "Throttle closed, stick and rudder held hard in the middle.",
        "It slides, the nose falls through.",
        "Speed, then pull out.",
    ),
    legs=(
        *VERTICAL,
        Leg("Line up", throttle=0.0, until="stall_ratio_down_to", amount=0.12),
        Leg("Slides and falls", kind="falls through", swing_deg=-180.0, until="seconds", amount=3.5),
        *OUT,
    ),
)
FIGURES = (WING_OVER, STALL_TURN, ZOOM, TAIL_SLIDE)
