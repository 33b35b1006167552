"""Spins and their variants (common practice, no published source; heights by flying/spin.py)."""

from collections.abc import Callable, Mapping

from keelturn.aircraft.card import SpinKind
from keelturn.figures.faults import EVERY, PULL_OUT, SPIN_ENTRY, SPIN_RECOVERY, faults
from keelturn.figures.figure import Begin, Category, Family, Figure, Gate, Parameter, Stage
from keelturn.motion.legs import SPIN as SPIN_LEG
from keelturn.motion.legs import Leg

PULL = Parameter("Pull", "g", 2.5, 1.5, 6.0)
STOP = (
    "Speed rising past the gate by 20: spiral, recover now.",
    "My height: my aircraft, no discussion.",
    "{turns} after full inputs and still turning: my aircraft.",
)
SLOWED = Gate("stall", 1.08, "idle, slowed at 1 kt a second", "nose a little high, wings level")


def _spin(
    key: str,
    name: str,
    purpose: str,
    usual_turns: float,
    *,
    kind: SpinKind = "upright",
    category: Category = "utility",
    stage: Stage = "first flights",
    unsettles: int = 5,
    gate: Gate = SLOWED,
    begin: Begin | None = None,
    before: tuple[Leg, ...] = (),
    throttle: float = 0.0,
    look_at: str = "One point over the nose for the turns; the ground, never the panel.",
    titled: Callable[[Mapping[str, float]], str] | None = None,
    gentler: str | None = None,
    counts_turns: bool = False,
) -> Figure:
    return Figure(
        key=key,
        name=name,
        family=Family.SPINS,
        purpose=purpose,
        look_at=look_at,
        gate=gate,
        parameters={"turns": Parameter("Turns", "turns", usual_turns, 0.25, 6.0), "pull_g": PULL},
        faults=faults(*SPIN_RECOVERY, *SPIN_ENTRY, *PULL_OUT, *EVERY, spin=kind),
        take_over_words="it is still turning",
        stop_words=STOP,
        category=category,
        stage=stage,
        unsettles=unsettles,
        begin=begin or Begin(),
        legs=(*before, SPIN_LEG),
        situation="spin",
        throttle=throttle,
        spin=kind,
        titled=titled,
        gentler=gentler,
        counts_turns=counts_turns,
    )


def _by_turns(settings: Mapping[str, float]) -> str:
    turns = settings["turns"]
    counted = {1.0: "One-turn spin", 2.0: "Two-turn spin", 3.0: "Three-turn spin"}
    return counted.get(turns, f"Spin, {turns:g} turns")


INCIPIENT_SPIN = _spin(
    "incipient_spin",
    "Incipient spin",
    "Stop it before it is a spin: see the yaw, act at once.",
    0.5,
    unsettles=4,
)
SPIN = _spin(
    "spin",
    "Spin",
    "See it, name it, and take it apart in the right order.",
    1.0,
    titled=_by_turns,
    gentler="incipient_spin",
    counts_turns=True,
)
ACCELERATED = _spin(
    "spin_accelerated",
    "Accelerated spin",
    "What stick before rudder does: it winds up, and the same order still stops it.",
    2.0,
    kind="accelerated",
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=7,
)
FLAT = _spin(
    "spin_flat",
    "Flat spin, power on",
    "Know it by the horizon in the windscreen; power off first, then wait longer than you like.",
    2.0,
    kind="flat",
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=8,
    gate=Gate("stall", 1.08, "full, once spinning", "nose a little high"),
    throttle=1.0,
    look_at="The horizon as it goes round in the windscreen; one point on it for the turns.",
)
IN_AILERON = _spin(
    "spin_in_aileron",
    "Spin with in-spin aileron",
    "See what aileron into the turn does to the spin, then take it out and recover.",
    2.0,
    kind="in-spin aileron",
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=6,
)
OUT_AILERON = _spin(
    "spin_out_aileron",
    "Spin with out-spin aileron",
    "See what aileron against the turn does to the spin, then take it out and recover.",
    2.0,
    kind="out-spin aileron",
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=7,
)
INVERTED = _spin(
    "spin_inverted",
    "Inverted spin",
    "Know it by the negative g and the yaw on the turn indicator; stick back is what unstalls it.",
    1.0,
    kind="inverted",
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=9,
    look_at="The ground above your head; call the yaw, not the roll.",
)
INVERTED_FLAT = _spin(
    "spin_inverted_flat",
    "Inverted flat spin",
    "The longest wait of all: power off first, put the recovery in, and hold it.",
    1.0,
    kind="inverted flat",
    category="aerobatic",
    stage="ready to fly it alone",
    unsettles=10,
    look_at="The ground above your head; call the yaw, not the roll.",
)
OFF_TURN = _spin(
    "spin_off_turn",
    "Spin off a steep turn",
    "As it happens in life: pulled too hard with a foot in.",
    1.0,
    stage="practised",
    unsettles=6,
    category="aerobatic",
    gate=Gate("stall", 1.5, "cruise, closed as it goes", "60 degrees of bank, pulling"),
    begin=Begin("steep_bank_deg"),
    before=(Leg("Stalled in the turn", g=1.9, throttle=0.0, until="seconds", amount=1.2, drag="stall_drag"),),
    throttle=0.6,
)
OFF_HALF_LOOP = _spin(
    "spin_off_half_loop",
    "Spin off the top of a half loop",
    "A half loop pulled too slow at the top, with a foot in.",
    1.0,
    stage="ready to fly it alone",
    category="aerobatic",
    unsettles=8,
    gate=Gate("stall", 2.2, "full, closed as it goes", "level"),
    before=(
        Leg("Pull up", g=3.0, throttle=1.0, until="pulled_to_deg", amount=80.0),
        Leg("Over the top", g=3.0, eased="top_share", until="pulled_to_deg", amount=170.0, least_vs=0.4),
    ),
    throttle=1.0,
)
FIGURES = (
    INCIPIENT_SPIN,
    SPIN,
    ACCELERATED,
    FLAT,
    IN_AILERON,
    OUT_AILERON,
    INVERTED,
    INVERTED_FLAT,
    OFF_TURN,
    OFF_HALF_LOOP,
)
