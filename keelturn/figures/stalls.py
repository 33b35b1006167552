"""Stalls, from the plain one to the top of a loop, and the spiral (common practice, no published source)."""

from dataclasses import replace

from keelturn.figures.faults import EVERY, PULL_OUT, UPSET, faults
from keelturn.figures.figure import Begin, Family, Figure, Gate, Parameter
from keelturn.motion.legs import Leg

EASE = Parameter("Ease-out", "g", 1.5, 1.2, 3.0)
PULL = Parameter("Pull", "g", 2.5, 1.5, 6.0)
STALL_FAULTS = ("forward_late", "aileron_at_stall", "secondary_stall", "power_in_late")
STOP = ("Wing drops past 45: my aircraft.", "Below the gate, stop.")


def _stall(
    key: str,
    name: str,
    purpose: str,
    look_at: str,
    power: str,
    attitude: str,
    *,
    unsettles: int = 2,
    stage: str = "first flights",
    category: str = "normal",
    begin: Begin | None = None,
    share: float = 1.0,
    legs: tuple[Leg, ...] = (),
    throttle: float = 0.0,
    has_sides: bool = True,
    ease: float = 1.5,
) -> Figure:
    return Figure(
        key=key,
        name=name,
        family=Family.STALLS,
        purpose=purpose,
        look_at=look_at,
        gate=Gate("stall", share, power, attitude),
        parameters={"ease_g": replace(EASE, usual=ease)},
        faults=faults(*STALL_FAULTS, *EVERY),
        take_over_words="the wing is still stalled",
        stop_words=STOP,
        category=category,  # type: ignore[arg-type]
        stage=stage,  # type: ignore[arg-type]
        unsettles=unsettles,
        begin=begin or Begin(),
        legs=legs,
        situation="stall",
        throttle=throttle,
        has_sides=has_sides,
    )


STALL_POWER_OFF = _stall(
    "stall_power_off",
    "Power-off stall",
    "Know the buffet and the break, and that the stick fixes it.",
    "The nose on the horizon; listen and feel for the buffet.",
    "idle, slowed at 1 kt a second",
    "level, wings level",
    unsettles=1,
    has_sides=False,
)
STALL_POWER_ON = _stall(
    "stall_power_on",
    "Power-on stall",
    "The climb-out stall: nose high, more rudder, a sharper break.",
    "The wing tips against the horizon; the nose hides it.",
    "climb power",
    "nose high, wings level",
    begin=Begin(path_deg=12.0),
    share=0.95,
    throttle=0.7,
    has_sides=False,
)
STALL_TURNING = _stall(
    "stall_turning",
    "Turning stall",
    "A stall in a turn drops a wing; the stick comes first all the same.",
    "The horizon across the cowling.",
    "idle",
    "level turn, 30 degrees",
    begin=Begin("turn_bank_deg"),
    share=1.075,
)
STALL_SKIDDED = _stall(
    "stall_skidded",
    "Skidded stall, base to final",
    "Why rudder never hurries a turn: it goes under.",
    "The inside wing as it stops flying.",
    "idle",
    "turn, inside rudder",
    begin=Begin("rolled_under_deg", -30.0),
    share=1.10,
    unsettles=4,
    ease=2.2,
    stage="practised",
    category="utility",
)
STALL_SLIPPING = _stall(
    "stall_slipping",
    "Slipping stall",
    "The gentler way to be wrong: it goes over the top, and tells you first.",
    "The high wing as it lets go.",
    "idle",
    "turn, outside rudder",
    begin=Begin("rolled_over_deg", -10.0),
    share=1.08,
    unsettles=3,
    stage="practised",
    category="utility",
)
STALL_ACCELERATED = _stall(
    "stall_accelerated",
    "Accelerated stall",
    "It stalls at an angle, not at a speed: easing the pull cures it.",
    "The horizon across the cowling; the buffet comes through the stick.",
    "as set",
    "60 degrees of bank, pulling",
    begin=Begin("steep_bank_deg"),
    share=1.41,
    throttle=0.6,
    stage="practised",
    category="utility",
)
STALL_SECONDARY = _stall(
    "stall_secondary",
    "Secondary stall",
    "What pulling too early costs: the same height twice.",
    "The nose; wait for the speed.",
    "idle",
    "level, wings level",
    unsettles=3,
    stage="practised",
    has_sides=False,
    legs=(
        Leg("First stall", g="stalled_g", throttle=0.0, until="seconds", amount="delay_s", drag="stall_drag"),
        Leg("Nose down", g="unstall_g", until="stall_ratio_up_to", amount=1.10),
        Leg("Pulled too soon", g=2.2, until="seconds", amount=1.0, drag="stall_drag"),
    ),
)
FALLING_LEAF = _stall(
    "falling_leaf",
    "Falling leaf",
    "Hold it in the stall and dance on the rudder: each wing drop is stopped by the foot.",
    "The wing tips and the ground between; never the ball.",
    "idle",
    "stick fully back, wings level by rudder",
    unsettles=6,
    stage="ready to fly it alone",
    category="utility",
    begin=Begin(path_deg=-15.0),
    has_sides=False,
    legs=(Leg("Held in the stall", throttle=0.0, until="seconds", amount=10.0, drag="leaf_drag"),),
)

TOP_STALL_LEGS = (
    Leg("Stalled", g=2.5, throttle=0.0, until="seconds", amount="delay_s", drag="stall_drag"),
    Leg("Nose falls through", g="unload_g", until="path_down_to_deg", amount=-50.0),
)
STALL_TOP_OF_LOOP = Figure(
    key="stall_top_of_loop",
    name="Stall at the top of a loop",
    family=Family.STALLS,
    purpose="It stalls at any attitude: let the pull off and it flies again, upside down or not.",
    look_at="Back over the top for the other horizon.",
    gate=Gate("stall", 2.2, "full", "level"),
    parameters={"pull_g": PULL},
    faults=faults(*STALL_FAULTS, "stalled_over_top", *PULL_OUT, *EVERY),
    take_over_words="it falls sideways",
    stop_words=("It rolls off: centralise, wait, recover the nose-low.", "Below the gate, stop."),
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=6,
    throttle=1.0,
    has_sides=False,
    take_over=(120.0, -40.0),
    steps=(
        "Loop, slower than usual.",
        "At the top pull into the buffet.",
        "Let it off: the nose falls through.",
        "Speed, then ease out.",
    ),
    legs=(
        Leg("Pull up", g="pull_g", throttle=1.0, until="pulled_to_deg", amount=80.0),
        Leg("Over the top", g="pull_g", eased="top_share", until="pulled_to_deg", amount=150.0, least_vs=0.4),
        *TOP_STALL_LEGS,
        Leg("Pull-out", g="pull_g", until="pulled_to_deg", amount=360.0),
    ),
)
STALL_BARREL = Figure(
    key="stall_barrel",
    name="Stall inside a barrel roll",
    family=Family.STALLS,
    purpose="A stall with the wings upside down is cured by the same hand: forward, to the seat-light feel.",
    look_at="The horizon as it goes round; feel for the buffet.",
    gate=Gate("stall", 2.2, "full", "level"),
    parameters={"pull_g": PULL},
    faults=faults(*STALL_FAULTS, *PULL_OUT, *EVERY),
    take_over_words="it falls sideways",
    stop_words=("It rolls off: centralise, wait, recover the nose-low.", "Below the gate, stop."),
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=7,
    throttle=1.0,
    take_over=(120.0, -40.0),
    steps=(
        "Barrel roll, slower than usual.",
        "On your back pull into the buffet.",
        "Let it off, roll on, ease out.",
    ),
    legs=(
        Leg("Pull up", g="pull_g", throttle=1.0, until="path_up_to_deg", amount=45.0),
        Leg("Half the roll", g=0.8, roll_through_deg="side_180"),
        Leg("Stalled", g=2.0, throttle=0.0, until="seconds", amount="delay_s", drag="stall_drag"),
        Leg("Nose falls through", g="unload_g", until="path_down_to_deg", amount=-20.0),
        Leg("Roll on", g="unload_g", roll_to_deg=0.0),
        Leg("Pull-out", g="pull_g", until="path_up_to_deg"),
    ),
)
SPIRAL_DIVE = Figure(
    key="spiral_dive",
    name="Spiral dive",
    family=Family.SPIRALS,
    purpose="Tell it from a spin: the speed is rising. Power back, roll, then pull.",
    look_at="The speed once, then the horizon.",
    gate=Gate("manoeuvring", 0.9, "as set by the instructor", "banked, nose low, tightening"),
    parameters={
        "bank_deg": Parameter("Bank", "deg", 60.0, 30.0, 90.0),
        "path_deg": Parameter("Flight path", "deg", -20.0, -50.0, -5.0),
        "pull_g": PULL,
        "power": Parameter("Power, 0 to 1", "", 0.6, 0.0, 1.0),
    },
    faults=faults(*UPSET, *PULL_OUT, *EVERY),
    take_over_words="the pull comes before the roll",
    stop_words=("Speed within 20 of Vne: my aircraft.", "Pulling before the wings are level: my aircraft."),
    category="normal",
    stage="first flights",
    unsettles=3,
    begin=Begin("bank_to_side_deg", "path_deg"),
    situation="nose low",
    throttle=0.6,
)
FIGURES = (
    STALL_POWER_OFF,
    STALL_POWER_ON,
    STALL_TURNING,
    STALL_SKIDDED,
    STALL_SLIPPING,
    STALL_ACCELERATED,
    STALL_SECONDARY,
    FALLING_LEAF,
    STALL_TOP_OF_LOOP,
    STALL_BARREL,
    SPIRAL_DIVE,
)
