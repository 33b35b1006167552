"""The schools of recovery, as data. Adding one is adding an entry here and a test.

Sources: the situations' names and the order of steps are common practice; push, roll, power, stabilise is FAA
AC 120-111 (from memory). The flight manual of the type wins over every one of them, for the kinds of spin
that it means: see `school_in_use`."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from typing import Literal

from keelturn.aircraft.card import Card, SpinKind
from keelturn.motion.legs import Leg
from keelturn.recoveries.spin_kinds import KINDS, Kind
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
    """steps: what to do, in order, as briefed; spoken: the same in a breath, for the air. Of a spin both are
    made from spin_inputs (`_in_spin`), which come before the legs that the engine flies. numbers: pilot's
    numbers that this school sets differently. compared_only: not taught, its cost is shown beside the
    others."""

    key: str
    name: str
    situation: Situation
    steps: tuple[str, ...] = ()
    spoken: str = ""
    legs: tuple[Leg, ...] = ()
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
        legs=EASE_OUT,
        spin_inputs=RUDDER_THEN_STICK,
    ),
    School(
        "centralise",
        "Centralise",
        "spin",
        legs=EASE_OUT,
        spin_inputs=SpinInputs(0.0, 0.0, stick_after_rudder=False),
    ),
    School(
        "hands_off",
        "Hands off",
        "spin",
        legs=EASE_OUT,
        spin_inputs=SpinInputs(-1.0, 0.1, stick_after_rudder=False, hands_free=True),
    ),
    School(FLIGHT_MANUAL, "Flight manual", "spin", legs=EASE_OUT, spin_inputs=RUDDER_THEN_STICK),
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


def schools_for(situation: str, spin: SpinKind | None = None) -> tuple[School, ...]:
    """spin: the kind of spin whose steps and words the spin's schools say; upright where left out."""
    kind = KINDS[spin or "upright"]
    return tuple(_in_spin(school, kind) for school in SCHOOLS if school.situation == situation)


def _in_spin(school: School, kind: Kind) -> School:
    """Return the school with the steps and words of this kind of spin, each direction from the sign of the
    input that the engine flies. Unchanged where it is not for spins, or is the manual's."""
    inputs = school.spin_inputs
    if inputs is None or school.key == FLIGHT_MANUAL:
        return school
    said = (("Throttle closed.", "Closed."), *_inputs_said(inputs, kind), *_stop_said(inputs, kind))
    steps, spoken = zip(*said, strict=True)
    return replace(school, steps=steps, spoken=" ".join(spoken))


# A step as it is briefed, and as it is spoken in the air.
Said = tuple[str, str]


def _inputs_said(inputs: SpinInputs, kind: Kind) -> Iterator[Said]:
    yaw = "the yaw, not the roll" if kind.inverted else "the yaw"
    rudder = (f"Full rudder against {yaw}, and hold it.", "Full {opposite} rudder.")
    if inputs.hands_free:
        yield "Let go of the stick.", "Hands off."
        yield rudder
    elif inputs.rudder_to == 0.0:
        out = "Aileron out: stick" if kind.aileron else "Stick"
        yield f"{out} and rudder to the middle, firmly.", "Everything to the middle."
        yield "Wait. Do not change anything.", "Wait."
    else:
        yield ("Aileron out: neutral.", "Aileron out.") if kind.aileron else ("Ailerons neutral.", "Neutral.")
        yield rudder
        further = " further" if kind.stick < 1.0 else ""
        yield (
            f"Stick{further} {kind.unstalls} through neutral until the rotation stops.",
            f"Stick {kind.unstalls}.",
        )
    if kind.power:
        yield "Hold it and wait: a flat spin answers late.", "Hold it."


def _stop_said(inputs: SpinInputs, kind: Kind) -> Iterator[Said]:
    level = "roll to wings level" if kind.inverted else "wings level"
    out = f"{level}, ease out of the dive. Power when the nose is at the horizon."
    if inputs.rudder_to == 0.0:
        yield f"Rotation stops: {out}", "Stops: ease out to {pull}."
        return
    yield "Rotation stops: rudder to the middle.", "Stops: rudder centre."
    if inputs.hands_free:
        yield f"Take the stick: {out}", "Take the stick. Ease out to {pull}."
    else:
        yield f"{out[0].upper()}{out[1:]}", "Ease out to {pull}."


def compared_for(situation: str | None) -> School:
    """The one that is shown for comparison only: pulled through. Raises StopIteration where there is none."""
    return next(school for school in SCHOOLS if school.situation == situation and school.compared_only)


def school_in_use(situation: str, chosen: str | None, card: Card, spin: SpinKind | None = None) -> School:
    """The school flown: for a spin of a kind that the card's flight-manual recovery is for that recovery,
    whatever was chosen; else the chosen one; else the first for the situation. Raises ValueError for a school
    that is not for this situation."""
    if situation == "spin" and card.spin is not None and has_manual_recovery(card, spin or "upright"):
        manual = BY_KEY[FLIGHT_MANUAL]
        like = next(school for school in SCHOOLS if school.name == card.spin.recovery_like)
        return replace(
            manual,
            steps=card.spin.recovery,
            spoken=" ".join(card.spin.recovery).replace("{", "{{").replace("}", "}}") + " Pull {pull}.",
            source=Source("flight manual", card.spin.ref or "spin recovery"),
            spin_inputs=like.spin_inputs,
        )
    fitting = [s for s in schools_for(situation, spin) if s.key != FLIGHT_MANUAL]
    if chosen is None or chosen == FLIGHT_MANUAL:
        return fitting[0]
    for school in fitting:
        if school.key == chosen:
            return school
    names = ", ".join(s.key for s in fitting)
    raise ValueError(f"school '{chosen}' is not one for {situation}: choose {names}")


def has_manual_recovery(card: Card, spin: SpinKind) -> bool:
    """Whether the card has a recovery from the flight manual that is for this kind of spin."""
    return card.spin is not None and bool(card.spin.recovery) and spin in card.spin.recovery_for
