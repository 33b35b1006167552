"""The schools of recovery, as data. Adding one is adding an entry here and a test.

Sources: the situations' names and the order of steps are common practice; push, roll, power, stabilise is FAA
AC 120-111 (from memory). The flight manual of the type wins over every one of them: see `school_in_use`."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Literal

from keelturn.aircraft.card import Card
from keelturn.motion.legs import Leg
from keelturn.working import Source

Situation = Literal["spin", "nose low", "stall", "nose high", "inverted", "no speed"]


@dataclass(frozen=True, slots=True)
class SpinInputs:
    """How a way out of a spin moves the controls, the throttle closed in all: rudder (-1 fully against) and
    stick (1 fully back, -1 fully forward) go there, the stick after the rudder by the pilot's gap or with it.
    hands_free: the stick finds its place itself."""

    rudder_to: float
    stick_to: float
    stick_after_rudder: bool
    hands_free: bool = False


@dataclass(frozen=True, slots=True)
class School:
    """steps: what to do, in order, as briefed; spoken: the same in a breath, for the air. legs: flown by the
    engine; spin_inputs: what comes before them in a spin. numbers: pilot's numbers that this school sets
    differently. compared_only: not taught, its cost is
    shown beside the others."""

    key: str
    name: str
    situation: Situation
    steps: tuple[str, ...]
    spoken: str
    legs: tuple[Leg, ...]
    source: Source = Source("common practice", "no published source")
    numbers: Mapping[str, float] = field(default_factory=lambda: MappingProxyType({}))
    compared_only: bool = False
    spin_inputs: SpinInputs | None = None

    @property
    def taught(self) -> bool:
        """Whether the chief can ask for it: not the comparison, and not the manual's, which wins anyway."""
        return not self.compared_only and self.key != FLIGHT_MANUAL


PRACTICE = Source("common practice", "no published source")
# After the rotation has stopped every spin school eases out: the same leg.
EASE_OUT = (Leg("Pull-out", g="pull_g", throttle=0.0, until="path_up_to_deg", amount=0.0),)
# Nobody waits for wings level to the degree: the pull begins at the pilot's bank, and the rest of the roll
# goes on while the g comes, inside the rolling limit.
PULL_FROM_BANK = (
    Leg("Pull-out", g="rolling_pull_g", roll_to_deg=0.0),
    Leg("Pull-out", g="pull_g", until="path_up_to_deg", amount=0.0),
)
RUDDER_THEN_STICK = SpinInputs(-1.0, -0.4, stick_after_rudder=True)
FLIGHT_MANUAL = "flight_manual"

SCHOOLS: tuple[School, ...] = (
    School(
        "power_aileron_rudder_elevator",
        "Power, aileron, rudder, elevator",
        "spin",
        (
            "Throttle closed.",
            "Ailerons neutral.",
            "Full rudder against the spin, and hold it.",
            "Stick forward through neutral until the rotation stops.",
            "Rotation stops: rudder to the middle.",
            "Wings level, ease out of the dive. Power when the nose is at the horizon.",
        ),
        "Closed. Neutral. Full {opposite} rudder. Stick forward. Stops: rudder centre. Ease out to {pull}.",
        EASE_OUT,
        spin_inputs=RUDDER_THEN_STICK,
    ),
    School(
        "centralise",
        "Centralise",
        "spin",
        (
            "Throttle closed.",
            "Stick and rudder to the middle, firmly.",
            "Wait. Do not change anything.",
            "Rotation stops: wings level, ease out of the dive. Power when the nose is at the horizon.",
        ),
        "Closed. Everything to the middle. Wait. Stops: ease out to {pull}.",
        EASE_OUT,
        spin_inputs=SpinInputs(0.0, 0.0, stick_after_rudder=False),
    ),
    School(
        "hands_off",
        "Hands off",
        "spin",
        (
            "Throttle closed.",
            "Let go of the stick.",
            "Full rudder against the spin, and hold it.",
            "Rotation stops: rudder to the middle.",
            "Take the stick, wings level, ease out. Power when the nose is at the horizon.",
        ),
        "Closed. Hands off. Full {opposite} rudder. Stops: rudder centre. Take the stick. Ease out to"
        " {pull}.",
        EASE_OUT,
        spin_inputs=SpinInputs(-1.0, 0.1, stick_after_rudder=False, hands_free=True),
    ),
    School(
        FLIGHT_MANUAL,
        "Flight manual",
        "spin",
        (),
        "As the flight manual says. Ease out to {pull}.",
        EASE_OUT,
        Source("flight manual", "spin recovery"),
        spin_inputs=RUDDER_THEN_STICK,
    ),
    School(
        "power_roll_pull",
        "Power back, roll, pull",
        "nose low",
        (
            "Throttle closed: the speed is rising.",
            "Roll level, the short way, without pulling.",
            "Wings level: pull to the briefed g, smoothly, and hold it.",
            "Nose at the horizon: power, and climb away.",
        ),
        "Power back. Roll level. Now pull to {pull}. Horizon: power.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            Leg("Roll level", g="roll_g", throttle=0.0, roll_within_deg="pull_from_bank_deg"),
            *PULL_FROM_BANK,
        ),
    ),
    School(
        "push_roll_power_stabilise",
        "Push, roll, power, stabilise",
        "nose low",
        (
            "Push: unload until light in the seat.",
            "Roll level, the short way, while light.",
            "Power as the speed needs: nose low and fast, close it.",
            "Stabilise: pull to the briefed g, nose to the horizon.",
        ),
        "Push. Roll. Power. Pull to {pull}. Stabilise.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            # The push and the roll begin together: held light before it rolls, the nose only falls.
            Leg("Roll level, light", g="light_g", throttle=0.0, roll_within_deg="pull_from_bank_deg"),
            *PULL_FROM_BANK,
        ),
        Source("regulation", "FAA AC 120-111 (from memory)"),
    ),
    School(
        "pulled_through",
        "Pulled through (for comparison)",
        "nose low",
        (
            "Not a recovery: what it would cost to pull without rolling.",
            "Throttle closed, pull to the briefed g until the nose is level.",
        ),
        "Not this way.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            Leg("Pulled through", g="pull_g", throttle=0.0, until="path_up_to_deg"),
        ),
        compared_only=True,
    ),
    School(
        "unload_power",
        "Unload, power, level, ease out",
        "stall",
        (
            "Stick forward until the wing flies.",
            "Full power, rudder to hold straight.",
            "Wings level.",
            "Ease out of the descent, climb away.",
        ),
        "Forward. Power. Level. Ease out.",
        (
            Leg("Stall and seeing it", g="stalled_g", throttle=0.0, until="seconds", amount="delay_s"),
            Leg(
                "Nose down, power",
                g="unstall_g",
                throttle="recovery_power",
                until="stall_ratio_up_to",
                amount="flying_ratio",
            ),
            Leg("Wings level", g="unstall_g", roll_to_deg=0.0),
            Leg("Ease out", g="ease_g", until="path_up_to_deg", amount=0.0),
        ),
    ),
    School(
        "power_lower_level",
        "Power, lower the nose, level",
        "nose high",
        (
            "Full power.",
            "Lower the nose to the horizon, light in the seat.",
            "Wings level.",
            "Speed back, climb away.",
        ),
        "Power. Nose down. Level.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            Leg("Nose down", g="unload_g", throttle=1.0, until="path_down_to_deg", amount=-5.0),
            Leg("Roll level", g="unload_g", roll_to_deg=0.0),
            Leg("Speed back", g="settle_down_g", until="stall_ratio_up_to", amount="flying_ratio"),
            Leg("Pull-out", g="ease_g", until="path_up_to_deg"),
        ),
    ),
    School(
        "power_unload_roll",
        "Power, unload, roll to the nearest horizon",
        "nose high",
        (
            "Full power.",
            "Unload until light in the seat.",
            "Roll toward the nearest horizon, 60 to 70 degrees.",
            "Let the nose fall through the horizon.",
            "Roll level and ease out: it is a nose-low recovery now.",
        ),
        "Power. Light. Roll to the near side. Nose falls. Level. Ease out.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            Leg("Roll to the horizon", g="unload_g", throttle=1.0, roll_to_deg="near_side_deg"),
            Leg("Nose falls through", g="unload_g", until="path_down_to_deg", amount=-8.0),
            Leg("Roll level", g="unload_g", roll_to_deg=0.0),
            Leg("Speed back", g="settle_down_g", until="stall_ratio_up_to", amount="flying_ratio"),
            Leg("Pull-out", g="ease_g", until="path_up_to_deg"),
        ),
    ),
    School(
        "push_roll_power_high",
        "Push, roll, power, stabilise (nose high)",
        "nose high",
        (
            "Push: unload until light in the seat.",
            "Roll if the nose will not come down.",
            "Power.",
            "Stabilise: wings level, nose to the horizon.",
        ),
        "Push. Roll. Power. Stabilise.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            Leg("Push", g="unload_g", until="path_down_to_deg", amount=0.0),
            Leg("Roll level", g="unload_g", throttle=1.0, roll_to_deg=0.0),
            Leg("Speed back", g="settle_down_g", until="stall_ratio_up_to", amount="flying_ratio"),
            Leg("Pull-out", g="ease_g", until="path_up_to_deg"),
        ),
        Source("regulation", "FAA AC 120-111 (from memory)"),
    ),
    School(
        "push_and_roll",
        "Push and roll",
        "inverted",
        (
            "Push: hold the nose up, light in the straps.",
            "Roll the short way to upright.",
            "Wings level: ease out.",
            "Never pull through from here.",
        ),
        "Push. Roll. Level. Ease out.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            Leg("Push", g="push_g", throttle=0.5, until="seconds", amount="unload_s"),
            Leg("Roll upright", g="push_g", roll_to_deg="side_90", roll_on=True),
            Leg("Roll upright", g="roll_g", roll_within_deg="pull_from_bank_deg"),
            *PULL_FROM_BANK,
        ),
    ),
    School(
        "pulled_through_inverted",
        "Pulled through (for comparison)",
        "inverted",
        (
            "Not a recovery: what it would cost to pull through.",
            "Throttle closed, pull to the briefed g until the nose is level.",
        ),
        "Not this way.",
        (
            Leg("Seeing it", g="g_before", until="seconds", amount="delay_s"),
            Leg("Pulled through", g="pull_g", throttle=0.0, until="path_down_to_deg", amount=-60.0),
            Leg("Pulled through", g="pull_g", until="path_up_to_deg"),
        ),
        compared_only=True,
    ),
    School(
        "hold_and_wait",
        "Close, centre, hold, wait",
        "no speed",
        (
            "Throttle closed.",
            "Everything in the middle, held hard.",
            "Wait for the nose to fall and the speed to come.",
            "Roll level, ease out.",
        ),
        "Closed. Centre. Hold. Wait. Now ease out.",
        (
            Leg("Speed comes", g=0.0, throttle=0.0, until="stall_ratio_up_to", amount="pull_ratio"),
            Leg("Roll level", g=0.0, roll_within_deg="pull_from_bank_deg"),
            *PULL_FROM_BANK,
        ),
    ),
)
BY_KEY = {school.key: school for school in SCHOOLS}


def schools_for(situation: str) -> tuple[School, ...]:
    return tuple(school for school in SCHOOLS if school.situation == situation)


def compared_for(situation: str | None) -> School:
    """The one that is shown for comparison only: pulled through. Raises StopIteration where there is none."""
    return next(school for school in SCHOOLS if school.situation == situation and school.compared_only)


def school_in_use(situation: str, chosen: str | None, card: Card) -> School:
    """The school flown: for spins the card's flight-manual procedure where it has one, whatever was chosen;
    else the chosen one; else the first for the situation. Raises ValueError for a school that is not for this
    situation."""
    if situation == "spin" and card.spin is not None and card.spin.recovery:
        manual = BY_KEY[FLIGHT_MANUAL]
        spoken = " ".join(card.spin.recovery) + " Pull {pull}."
        return School(
            manual.key,
            manual.name,
            "spin",
            card.spin.recovery,
            spoken,
            manual.legs,
            Source("flight manual", card.spin.ref or "spin recovery"),
            spin_inputs=manual.spin_inputs,
        )
    fitting = [s for s in schools_for(situation) if s.key != FLIGHT_MANUAL]
    if chosen is None or chosen == FLIGHT_MANUAL:
        return fitting[0]
    for school in fitting:
        if school.key == chosen:
            return school
    names = ", ".join(s.key for s in fitting)
    raise ValueError(f"school '{chosen}' is not one for {situation}: choose {names}")
