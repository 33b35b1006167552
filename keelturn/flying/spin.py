"""A planned spin flown by a pilot: the card's calibration moved to today, the pilot's hands and feet, and the
lines of the account read off the motion (keelturn/spinning)."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from threading import Lock
from types import MappingProxyType

from cachetools import LRUCache, cached

from keelturn.air import RHO0, DayAir
from keelturn.aircraft.airframe import Airframe, airframe
from keelturn.aircraft.blanks import FALLS, blanks_of, known, value_of
from keelturn.aircraft.card import Card, SpinKind, SpinVariant
from keelturn.document import Wrong
from keelturn.motion.legs import Floats
from keelturn.recoveries.spin_kinds import KINDS
from keelturn.spinning.calibration import SpinFigures, calibrated, figures_of
from keelturn.spinning.engine import M_CALLED, M_ENDED, M_FIRST, M_INPUTS, M_PLANNED, M_STOPPED
from keelturn.spinning.flight import Spinner, Spun
from keelturn.units import FT
from keelturn.working import in_words

# Which of a card's other spins each kind is.
VARIANT_OF: Mapping[SpinKind, SpinVariant] = MappingProxyType(
    {
        "accelerated": "accelerated",
        "flat": "flat",
        "inverted": "inverted",
        "inverted flat": "inverted flat",
    }
)


@dataclass(frozen=True, slots=True)
class SpinCharacter:
    """A card's spins at the card's weight, by side: what the card says and what the motion gives (upright, to
    the right), and the spinner of each kind. most_further_ft: of a further turn to the right, the most that
    the card may mean; falls_at_most: as a share of the descent that is likely, more than 1 where the card
    leaves open how fast it falls."""

    said: SpinFigures
    given: SpinFigures
    right: Mapping[SpinKind, Spinner]
    left: Mapping[SpinKind, Spinner]
    reference_lb: float
    at_ft: float
    left_factor: float
    most_further_ft: float
    falls_at_most: float

    def further_turn_ft(self, left: bool) -> float:
        """Of the most that the card may mean and what the motion gives, the larger."""
        larger = max(self.most_further_ft, self.given.further_turn_ft)
        return larger * (self.left_factor if left else 1.0)

    def more_ft(self, turns: float, left: bool) -> float:
        """What the card says beyond what the motion gives: no spin is planned cheaper than its card."""
        one = max(0.0, self.said.one_turn_ft - self.given.one_turn_ft)
        each = max(0.0, self.said.further_turn_ft - self.given.further_turn_ft)
        return (one * min(1.0, turns) + each * max(0.0, turns - 1.0)) * (self.left_factor if left else 1.0)

    def descent(self, weight_lb: float, density_ratio: float) -> float:
        """m/s true, at most, in the developed spin at this weight and density: with the stall speed."""
        at_card = DayAir().density(self.at_ft * FT) / RHO0
        thinner_heavier = at_card / density_ratio * weight_lb / self.reference_lb
        a_turn = max(self.said.further_turn_ft, self.given.further_turn_ft) * self.falls_at_most
        return a_turn * FT / self.given.turn_s * math.sqrt(thinner_heavier)

    def spinner(self, kind: SpinKind, left: bool, frame: Airframe) -> Spinner:
        """Today: the wing stalls at today's speed, and inertia goes with weight as lift does."""
        found = (self.left if left else self.right)[kind]
        return replace(found, lifts_at=_stall(frame, kind), moments_at=frame.stall)


def _stall(frame: Airframe, kind: SpinKind) -> float:
    return frame.stall / math.sqrt(frame.negative_share) if KINDS[kind].inverted else frame.stall


def said_by(card: Card, left: bool = False) -> SpinFigures:
    """Raises Wrong where the card has no spin section."""
    spin = card.spin
    if spin is None:
        raise Wrong(("spin", "this card has no spin section", "Fill it in, or leave spins out."))
    wilder = value_of(card, "spin.left_factor") if left else 1.0
    return SpinFigures(
        spin.one_turn_ft.value * wilder,
        value_of(card, "spin.further_turn_ft") * wilder,
        value_of(card, "spin.turn_s"),
        spin.recovery_turns.value,
        math.nan if spin.path_down_deg is None else spin.path_down_deg.value,
    )


def calibrate(card: Card, like: SpinCharacter | None = None) -> SpinCharacter:
    """like: of a card that differs in little, from which it is found sooner. Raises Wrong where the card has
    no spin section, or no motion comes near what it says."""
    said = said_by(card)
    assert card.spin is not None
    frame = airframe(card, card.speeds.reference_lb.value)
    at_ft, left_factor = value_of(card, "spin.at_ft"), value_of(card, "spin.left_factor")
    loose = [path.removeprefix("spin.") for path in blanks_of(card)]
    sides: list[Mapping[SpinKind, Spinner]] = []
    for left in (False, True):
        if left and left_factor == 1.0:
            sides.append(sides[0])
            continue
        near = None if like is None else (like.left if left else like.right)["upright"]
        upright = calibrated(said_by(card, left), frame, at_ft, card.spin.mass, loose, near)
        sides.append({kind: _of_kind(kind, upright, card, frame) for kind in KINDS})
    return SpinCharacter(
        said=said,
        given=figures_of(sides[0]["upright"], frame, at_ft),
        right=sides[0],
        left=sides[1],
        reference_lb=card.speeds.reference_lb.value,
        at_ft=at_ft,
        left_factor=left_factor,
        most_further_ft=known(card, "spin.further_turn_ft").high,
        falls_at_most=FALLS[2] / FALLS[1] if {"further_turn_ft", "turn_s"} & set(loose) else 1.0,
    )


def _of_kind(kind: SpinKind, upright: Spinner, card: Card, frame: Airframe) -> Spinner:
    """Another kind has the same spinner, but where the card has figures of its own for it: those are fitted,
    never to make it cheaper than upright, and what power and aileron do is then in them."""
    assert card.spin is not None
    variant = VARIANT_OF.get(kind)
    stated = card.spin.variants.get(variant) if variant else None
    if stated is None:
        return upright
    said = said_by(card)
    asked = replace(
        said,
        turn_s=said.turn_s if stated.turn_s is None else stated.turn_s.value,
        further_turn_ft=max(
            said.further_turn_ft, 0.0 if stated.further_turn_ft is None else stated.further_turn_ft.value
        ),
        recovery_turns=stated_recovery_turns(card, kind),
    )
    fitted = calibrated(asked, frame, value_of(card, "spin.at_ft"), card.spin.mass, ("one_turn_ft",))
    return replace(fitted, power_lifts=0.0, aileron_lifts=0.0)


def lines_of(spun: Spun, turns: float, start_m: Floats) -> list[tuple[str, Floats, Floats]]:
    """(name, height lost m, seconds) of each line of the account, arrays (N,), in order; they add up to all
    of it. The recovery begins with the line after RECOVERY_AFTER."""
    marks = [
        ("Entry and first turn" if turns >= 1.0 else f"Entry, to {turns:g} turn", M_FIRST),
        ("Further turns", M_PLANNED),
        (RECOVERY_AFTER, M_CALLED),
        ("Inputs", M_INPUTS),
        ("Until it stops", M_STOPPED),
        ("Dive", M_ENDED),
    ]
    found = []
    height, clock = start_m, 0.0 * start_m
    for name, mark in marks:
        found.append((name, height - spun.height(mark), spun.seconds(mark) - clock))
        height, clock = spun.height(mark), spun.seconds(mark)
    return found


RECOVERY_AFTER = "Called late"


def stated_recovery_turns(card: Card, kind: SpinKind) -> float:
    """Turns to recover as the card has them for this kind of spin, the upright spin's where it has none of
    its own. Raises Wrong where the card has no spin section."""
    upright = said_by(card).recovery_turns
    assert card.spin is not None
    variant = VARIANT_OF.get(kind)
    stated = card.spin.variants.get(variant) if variant else None
    own = None if stated is None else stated.recovery_turns
    return upright if own is None else max(upright, own.value)


def _what_spins(card: Card, like: SpinCharacter | None = None) -> str:
    return card.model_dump_json(exclude={"limits", "roll"})


# Once for each card: it takes longer than a figure.
spin_of = cached(LRUCache(256), key=_what_spins, lock=Lock())(calibrate)


@dataclass(frozen=True, slots=True)
class FitLine:
    """What the card says of its spin and what the motion gives, in words; apart where they differ by more
    than a tenth, and then what to check on the card."""

    label: str
    said: str
    given: str
    apart: bool
    check: str = ""


APART = 0.1
DESCENT = "Check the feet of a further turn and the seconds of a turn: together they are the rate of descent."
# What to check where the motion cannot give what the card says (common practice, no published source).
CHECK = {
    "One turn with recovery": "Check that it counts from the stall to level flight, pull-out included, and at"
    " which weight and height.",
    "Each further turn": DESCENT,
    "Seconds a turn": DESCENT,
    "Turns to recover": "Check that it counts from full recovery inputs, not from the call.",
    "Path when it stops": "Nothing is computed from it: it may be left blank.",
}


def fit_lines(card: Card) -> tuple[FitLine, ...]:
    """Of what the card states, for its reader; empty without a spin section."""
    if card.spin is None:
        return ()
    character = spin_of(card)
    rows = (
        ("One turn with recovery", "ft", "one_turn_ft"),
        ("Each further turn", "ft", "further_turn_ft"),
        ("Seconds a turn", "s", "turn_s"),
        ("Turns to recover", "turns", "recovery_turns"),
        ("Path when it stops", "° down", "path_down_deg"),
    )
    return tuple(
        _fit_line(label, unit, getattr(character.said, name), getattr(character.given, name))
        for label, unit, name in rows
        if getattr(card.spin, name) is not None
    )


def _fit_line(label: str, unit: str, said: float, given: float) -> FitLine:
    apart = not abs(given / said - 1.0) <= APART
    return FitLine(label, _words(said, unit), _words(given, unit), apart, CHECK[label] if apart else "")


def _words(value: float, unit: str) -> str:
    if math.isnan(value):
        return "does not stop"
    if unit == "ft":
        return in_words(value, unit)
    return (
        f"{value:.0f}{unit}"
        if unit == "° down"
        else f"{value:.2g} {unit}"
        if value < 10
        else f"{value:.0f} {unit}"
    )
