"""Numbers that handbooks often do not print and that an owner may leave blank: each is estimated from the
rest of the card, as a range that 9 in 10 aircraft are taken to lie within.

The ranges: common practice, no published source, unless said at the number. The cards of the tests lie inside
all of them (tests/core/test_blanks.py)."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import takewhile
from operator import attrgetter
from types import MappingProxyType
from typing import Literal

from keelturn.air import RHO0, DayAir
from keelturn.aircraft.card import Card
from keelturn.document import SPEED, Above, Stated
from keelturn.units import FT
from keelturn.working import Answer, Source, given, in_number

Blank = Literal[
    "limits.rolling_g",
    "roll.left_deg_s",
    "roll.right_deg_s",
    "roll.at_ias",
    "spin.further_turn_ft",
    "spin.turn_s",
    "spin.left_factor",
    "spin.at_ft",
]


@dataclass(frozen=True, slots=True)
class Known:
    """A number of the card: stated, where low and high are the value, or estimated from low to high. how: in
    words, how it was estimated; empty of one that is stated."""

    value: float
    low: float
    high: float
    source: Source
    how: str = ""

    def answer(self, label: str, unit: str) -> Answer:
        return given(label, self.value, unit, self.source)


# Low, usual, high, and from what.
_Estimate = tuple[float, float, float, str]


def known(card: Card, path: Blank) -> Known:
    """Raises AttributeError for a number of the spin where the card has no spin section."""
    stated: Stated | None = attrgetter(path)(card)
    if stated is not None:
        return Known(stated.value, stated.value, stated.value, stated.where())
    low, usual, high, how = NUMBERS[path].estimate(card)
    return Known(usual, low, high, Source("estimated", f"left blank on the card; {how}"), how)


def value_of(card: Card, path: Blank) -> float:
    """The number itself; raises as `known`."""
    stated: Stated | None = attrgetter(path)(card)
    return known(card, path).value if stated is None else stated.value


def blanks_of(card: Card) -> tuple[Blank, ...]:
    """Those that the owner left blank; of the spin only where the card has a spin section."""
    return tuple(
        path
        for path in NUMBERS
        if (card.spin is not None or not path.startswith("spin.")) and attrgetter(path)(card) is None
    )


def with_numbers(card: Card, numbers: Mapping[Blank, Stated]) -> Card:
    """The card with these numbers written in; nothing else is looked at again."""
    for path, stated in numbers.items():
        part, name = path.split(".")
        card = card.model_copy(update={part: getattr(card, part).model_copy(update={name: stated})})
    return card


def filled_in(card: Card, before: Blank | None = None) -> Card:
    """With the estimates written in where it is blank, or only up to this number of the list."""
    blanks = takewhile(lambda path: path != before, blanks_of(card))
    for path in blanks:
        estimate = Above(value=known(card, path).value, source="common practice", ref="estimated")
        card = with_numbers(card, {path: estimate})
    return card


def _rolling_g(card: Card) -> _Estimate:
    # 14 CFR 23.349 before amendment 64 (from memory): rolling is shown at two thirds of the limit at least.
    most = card.limits.most_g.value
    low = min(most, max(1.1, most * 2.0 / 3.0))
    return low, low, max(low, 0.8 * most), "two thirds of the limit, as certification asks for"


# °/s with full aileron at Va: low, usual, high.
ROLLS: Mapping[str, tuple[float, float, float]] = MappingProxyType(
    {"normal": (40.0, 55.0, 90.0), "utility": (45.0, 65.0, 100.0), "aerobatic": (75.0, 110.0, 200.0)}
)
OTHER_SIDE = 0.1


def _roll_right(card: Card) -> _Estimate:
    if card.roll.left_deg_s is not None:
        return _as_to_the_other_side(card.roll.left_deg_s.value)
    return *ROLLS[card.category], f"as aircraft of the {card.category} category roll"


def _roll_left(card: Card) -> _Estimate:
    return _as_to_the_other_side(known(card, "roll.right_deg_s").value)


def _as_to_the_other_side(rate: float) -> _Estimate:
    return (1.0 - OTHER_SIDE) * rate, rate, (1.0 + OTHER_SIDE) * rate, "as to the other side"


def _roll_at(card: Card) -> _Estimate:
    speeds = card.speeds
    va = speeds.manoeuvring_ias.value
    return min(speeds.climb_ias.value, va), va, max(speeds.level_ias.value, va), "Va, where rolls are timed"


# Speed of descent in the developed spin in stall speeds, and the feet of a further turn as a share of those
# of one turn with its recovery: low, usual, high. Against docs/model.md's trial: 1.2 to 1.5, and 0.57.
FALLS, FURTHER = (1.15, 1.32, 1.55), (0.3, 0.43, 0.6)


def _stalls_ft_s(card: Card) -> float:
    """The stall speed, true, at the height of the card's spin figures, in ft/s."""
    density = DayAir().density(known(card, "spin.at_ft").value * FT) / RHO0
    return card.speed_si(card.speeds.stall_ias.value) / math.sqrt(density) / FT


def _further_turn_ft(card: Card) -> _Estimate:
    assert card.spin is not None
    if card.spin.turn_s is not None:
        of_a_turn = _stalls_ft_s(card) * card.spin.turn_s.value
        low, usual, high = (share * of_a_turn for share in FALLS)
        return low, usual, high, "from the seconds of a turn and the stall speed"
    low, usual, high = (share * card.spin.one_turn_ft.value for share in FURTHER)
    return low, usual, high, "from the height of one turn with its recovery"


def _turn_s(card: Card) -> _Estimate:
    high, usual, low = (
        known(card, "spin.further_turn_ft").value / (share * _stalls_ft_s(card)) for share in FALLS
    )
    return low, usual, high, "from the height of a further turn and the stall speed"


def _left_factor(card: Card) -> _Estimate:
    if card.thrust == "jet":
        return 0.95, 1.0, 1.05, "no propeller turns it"
    return 0.9, 1.05, 1.2, "behind most propellers the spin to the left loses more"


def _at_ft(card: Card) -> _Estimate:
    return 2000.0, 5000.0, 8000.0, "where spins are tried"


@dataclass(frozen=True, slots=True)
class _Number:
    """unit: "speed" is the aircraft's own."""

    label: str
    unit: str
    estimate: Callable[[Card], _Estimate]


# Each is estimated from those before it, where they are blank too.
NUMBERS: Mapping[Blank, _Number] = MappingProxyType(
    {
        "limits.rolling_g": _Number("Limit while rolling", "g", _rolling_g),
        "roll.at_ias": _Number("Speed that the roll is timed at", SPEED, _roll_at),
        "roll.right_deg_s": _Number("Roll rate to the right", "°/s", _roll_right),
        "roll.left_deg_s": _Number("Roll rate to the left", "°/s", _roll_left),
        "spin.at_ft": _Number("Height that the spin's figures are for", "ft", _at_ft),
        "spin.further_turn_ft": _Number("Each further turn of a spin", "ft", _further_turn_ft),
        "spin.turn_s": _Number("Seconds of a turn in the spin", "s", _turn_s),
        "spin.left_factor": _Number("Spin to the left against the right", "×", _left_factor),
    }
)


@dataclass(frozen=True, slots=True)
class EstimateLine:
    """A number that is blank on the card, for its reader: shown is '2.1 s', between '1.8 to 2.4 s'."""

    path: Blank
    label: str
    shown: str
    between: str
    how: str


def estimate_line(card: Card, path: Blank) -> EstimateLine:
    number, found = NUMBERS[path], known(card, path)
    unit = card.speed_unit if number.unit == SPEED else number.unit
    low, usual, high = (_read(value, unit) for value in (found.low, found.value, found.high))
    return EstimateLine(path, number.label, f"{usual} {unit}", f"{low} to {high} {unit}", found.how)


def _read(value: float, unit: str) -> str:
    if unit == "×":
        return f"{value:.2f}"
    return f"{value:.0f}" if unit == "°/s" else in_number(value, unit)
