"""The spin account: entry and first turn, further turns, inputs, turns to stop, then the dive and pull-out.

Calibrated so that the card's one-turn and further-turn heights come out at the card's weight, height and
standard air, flown by the reference pilot (flying/pilots.py) to the right. Then moved to today (fitted: see
docs/model.md): the entry's height goes with the true stall speed squared, the height of a turn is the pitch
of a helix and stays, the seconds of a turn go with one over the true speed."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType

import numpy as np

from keelturn.air import RHO0, DayAir
from keelturn.aircraft.airframe import airframe
from keelturn.aircraft.card import Card, SpinVariant, SpinVariantFigures
from keelturn.document import Wrong
from keelturn.figures.figure import SpinKind
from keelturn.flying.pilots import FIXED, usual_numbers
from keelturn.motion.engine import S_HEIGHT
from keelturn.motion.flight import Start, body_of, fly_one
from keelturn.motion.legs import Floats, Numbers, compile_legs
from keelturn.recoveries.schools import EASE_OUT
from keelturn.units import DEG, FT

REFERENCE_PULL_G = 2.5
# A spin that is stopped before its first turn is done: path at the very beginning (common practice, no
# published source).
SHALLOWEST_PATH_DEG = 25.0


@dataclass(frozen=True, slots=True)
class Variant:
    """How another kind of spin differs from the upright one where the card has no figures: seconds and height
    of a turn and turns to stop as multiples, seconds more before the inputs are right."""

    turn_s: float = 1.0
    turn_height: float = 1.0
    recovery: float = 1.0
    delay_s: float = 0.0


# Wide defaults (common practice, no published source). A turn is never taken to cost less height than an
# upright one: flat spins descend slower, but nobody may count on it.
VARIANTS: Mapping[SpinKind, Variant] = MappingProxyType(
    {
        "upright": Variant(),
        "accelerated": Variant(turn_s=0.7, recovery=1.5),
        "flat": Variant(turn_s=0.8, recovery=3.0, delay_s=1.0),
        "inverted": Variant(turn_s=0.9, recovery=1.5, delay_s=0.5),
        "inverted flat": Variant(turn_s=0.8, recovery=3.5, delay_s=1.5),
        "in-spin aileron": Variant(turn_s=0.9, recovery=1.25),
        "out-spin aileron": Variant(turn_height=1.05, recovery=1.75),
    }
)


@dataclass(frozen=True, slots=True)
class SpinCharacter:
    """SI, for a spin to the right, at the card's weight and sea-level density. descent: m/s true in the
    developed spin."""

    first_turn: float
    turn: float
    descent: float
    recovery_turns: float
    path: float
    left_factor: float
    stall_eas: float
    reference_lb: float
    card_turn_s: float
    variants: Mapping[SpinVariant, SpinVariantFigures] = field(default_factory=dict)


def path_when_stopped(path: "float | Floats", turns: "float | Floats") -> "float | Floats":
    """Flight path (rad, negative down) when the rotation stops: steepens over the first turn to the
    card's."""
    shallow = -SHALLOWEST_PATH_DEG * DEG
    return shallow + (path - shallow) * np.minimum(1.0, turns)


def calibrate(card: Card) -> SpinCharacter:
    """Raises Wrong when the card's spin figures cannot all be true: nothing would be left for the first
    turn."""
    spin = card.spin
    if spin is None:
        raise Wrong(("spin", "this card has no spin section", "Fill it in, or leave spins out."))
    reference_lb = card.speeds.reference_lb.value
    frame = airframe(card, reference_lb)
    air = DayAir()
    body = body_of(frame, air)
    at, one, further = spin.at_ft.value * FT, spin.one_turn_ft.value * FT, spin.further_turn_ft.value * FT
    path = -spin.path_down_deg.value * DEG
    turn, pull = further, 0.4 * one
    for _ in range(5):
        descent = turn / spin.turn_s.value
        stopped = at - one + pull
        pull = _pull_out(frame.stall, body, stopped, descent, path)
        turn = further - (_pull_out(frame.stall, body, stopped - further, descent, path) - pull)
    first = one - spin.recovery_turns.value * turn - pull
    if first < 0.15 * one:
        raise Wrong(
            (
                "spin.one_turn_ft",
                f"{one / FT:.0f} ft leaves only {first / FT:.0f} ft for the entry and first turn after"
                f" {spin.recovery_turns.value:g} recovery turns of {turn / FT:.0f} ft and a pull-out of"
                f" {pull / FT:.0f} ft",
                "Check the heights of one turn and of a further turn, and the turns to stop.",
            )
        )
    at_card = air.density(at) / RHO0
    return SpinCharacter(
        first_turn=first * at_card,
        turn=turn,
        descent=turn / spin.turn_s.value * math.sqrt(at_card),
        recovery_turns=spin.recovery_turns.value,
        path=path,
        left_factor=spin.left_factor.value,
        stall_eas=frame.stall,
        reference_lb=reference_lb,
        card_turn_s=spin.turn_s.value,
        variants=dict(spin.variants),
    )


def variant_of(upright: SpinCharacter, kind: SpinKind) -> tuple[SpinCharacter, float]:
    """The character of another kind of spin, and how many seconds more its inputs take. The card's figures
    where it has them, the wide defaults where not; never cheaper than upright."""
    wide, stated = (
        VARIANTS[kind],
        next((v for k, v in upright.variants.items() if k == kind), SpinVariantFigures()),
    )
    turn = upright.turn * wide.turn_height
    if stated.further_turn_ft is not None:
        turn = max(upright.turn, stated.further_turn_ft.value * FT)
    seconds = upright.turn / upright.descent * wide.turn_s
    if stated.turn_s is not None:
        # The card's seconds are at the card's height: the same air that the upright seconds were moved from.
        seconds = stated.turn_s.value * upright.turn / upright.descent / upright.card_turn_s
    recovery = upright.recovery_turns * wide.recovery
    if stated.recovery_turns is not None:
        recovery = max(upright.recovery_turns, stated.recovery_turns.value)
    path = (
        upright.path if stated.path_down_deg is None else min(upright.path, -stated.path_down_deg.value * DEG)
    )
    return (
        replace(
            upright,
            turn=turn,
            descent=max(upright.descent, turn / seconds),
            recovery_turns=recovery,
            path=path,
        ),
        wide.delay_s,
    )


def _pull_out(stall_eas: float, body: Floats, height: float, descent: float, path: float) -> float:
    numbers: Numbers = {
        **FIXED,
        **usual_numbers("reference"),
        "pull_g": REFERENCE_PULL_G,
        "throttle_start": 0.0,
    }
    legs, _ = compile_legs(EASE_OUT, numbers, stall_eas, 1)
    summary, _, _ = fly_one(Start(height, descent / abs(math.sin(path)), path, g=0.8), legs, body)
    return float(-summary[:, S_HEIGHT].sum())


@dataclass(frozen=True, slots=True)
class SpinPhases:
    """Heights (m, loss positive) and seconds before the pull-out, and the state in which it begins. Arrays
    (N,)."""

    parts: tuple[tuple[str, Floats, Floats], ...]
    tas: Floats
    path: Floats
    recovery_from: int
    stall_eas: float


def spin_phases(
    upright: SpinCharacter,
    kind: SpinKind,
    weight_lb: float,
    air: DayAir,
    start_m: float,
    turns: float,
    left: bool,
    numbers: Numbers,
) -> SpinPhases:
    """The account up to the stop of the rotation, for each pilot in `numbers`."""
    character, delay_s = variant_of(upright, kind)
    sigma = air.density(start_m) / RHO0
    heavier = weight_lb / character.reference_lb
    side = character.left_factor if left else 1.0
    flown = turns + np.asarray(numbers["turn_error"])
    turn = character.turn * side
    descent = character.descent * math.sqrt(heavier / sigma) * side
    turn_s = turn / descent
    entry = character.first_turn * heavier / sigma * side * np.asarray(numbers["entry_factor"])
    first = entry * np.minimum(1.0, turns)
    late = (flown - turns) * (turn if turns >= 1.0 else entry)
    inputs_s = np.asarray(numbers["delay_s"]) + np.asarray(numbers["gap_s"]) + delay_s
    stop_turns = character.recovery_turns * np.asarray(numbers["recovery_factor"]) * min(1.0, turns)
    # A spin caught in its first turn is still building up: its rate of descent is that share of the developed
    # one.
    built = min(1.0, turns)
    seconds = np.ones_like(first)
    parts = [(_first_part(turns), first, seconds * turn_s * min(1.0, turns) * 1.3)]
    if turns > 1.0:
        parts.append(("Further turns", seconds * (turns - 1.0) * turn, seconds * (turns - 1.0) * turn_s))
    parts.append(("Called late", late, (flown - turns) * turn_s))
    recovery_from = len(parts)
    parts.append(("Inputs", inputs_s * descent * built, inputs_s))
    parts.append(("Rotation stops", stop_turns * turn * built, stop_turns * turn_s))
    path = path_when_stopped(character.path, flown)
    stall_tas = character.stall_eas * math.sqrt(heavier / sigma)
    developed = upright.descent * math.sqrt(heavier / sigma) * side / abs(math.sin(upright.path))
    tas = stall_tas + (developed - stall_tas) * np.clip(flown, 0.0, 1.0)
    return SpinPhases(
        tuple(parts),
        np.atleast_1d(tas),
        np.atleast_1d(path),
        recovery_from,
        character.stall_eas * math.sqrt(heavier),
    )


def _first_part(turns: float) -> str:
    return "Entry and first turn" if turns >= 1.0 else f"Entry, to {turns:g} turn"
