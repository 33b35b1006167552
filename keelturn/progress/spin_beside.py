"""A card's spin beside spins that were recorded, and the card as it would be with their numbers.

Only what the aircraft does by itself is taken: feet and seconds of the turns after the first, each against
the same turns of the card's own motion on that day. The first turn and the turns to stop carry the pilot's
hands: a debrief fits them, and they stay as the card has them."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from itertools import combinations
from statistics import mean
from types import MappingProxyType
from typing import Literal

import numpy as np
from scipy.special import stdtrit

from keelturn.aircraft.blanks import Blank, Known, filled_in, known, with_numbers
from keelturn.aircraft.card import Card
from keelturn.document import Above, Wrong
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.costs import pilot_numbers, usual_loss_ft
from keelturn.flying.course import fly
from keelturn.flying.trace import trace_of
from keelturn.motion.legs import Floats
from keelturn.progress.alike import mean_and_doubt
from keelturn.progress.spins_flown import SpinFlown, Turns, turns_flown
from keelturn.recording.likeness import as_recorded
from keelturn.units import FT
from keelturn.working import read_off

# Fewer spins, or of fewer flights, change no card; a number is another one where it lies outside of what is
# flown 9 times in 10 (common practice, no published source).
FEWEST_SPINS, FEWEST_FLIGHTS, ONE_SIDE = 5, 3, 0.95
# So far off a number is, besides, by how students hold rudder and stick (9 times in 10; ours, held by tests).
LEFT_OFF = 0.03
# How far a number is moved to see what of it is seen; how often the motion is asked again, as it does not
# follow the card in proportion; how far a number goes at once (logarithm); how many choices of numbers are
# flown.
TRIED, TIMES, FURTHEST, FLOWN_CHOICES = 1.1, 3, 0.3, 2
# Turns of which the loss is shown before and after.
SHOWN_TURNS = (1.0, 2.0, 3.0, 6.0)

Key = Literal["further_turn_ft", "turn_s", "left_factor"]


@dataclass(frozen=True, slots=True)
class _Kind:
    """step: how finely it is written on a card. dearer: 1 where more of it costs more, else -1."""

    label: str
    unit: str
    step: float
    dearer: int


KINDS: Mapping[Key, _Kind] = MappingProxyType(
    {
        "further_turn_ft": _Kind("Each further turn", "ft", 5.0, 1),
        "turn_s": _Kind("Seconds a turn", "s", 0.05, -1),
        "left_factor": _Kind("Left against right", "×", 0.01, 1),
    }
)


PATHS: Mapping[Key, Blank] = MappingProxyType(
    {
        "further_turn_ft": "spin.further_turn_ft",
        "turn_s": "spin.turn_s",
        "left_factor": "spin.left_factor",
    }
)


@dataclass(frozen=True, slots=True)
class NumberBeside:
    """What the card says and from where; with what its motion would be as flown, and where that lies 9 times
    in 10; what it becomes, None where it stays, and why, in words."""

    key: Key
    label: str
    unit: str
    card: float
    card_from: str
    flown: float
    least: float
    most: float
    becomes: float | None
    words: str


@dataclass(frozen=True, slots=True)
class LossBeside:
    """What a spin of so many turns costs the usual student on the last of these days (ft)."""

    turns: float
    before_ft: float
    after_ft: float


@dataclass(frozen=True, slots=True)
class SpinBeside:
    """words: what comes of it. numbers: empty where the spins are too few. beyond_before_ft, beyond_after_ft:
    lost beyond the usual student's loss in the mean, by this card and by the one that it becomes. card: that
    one, None where nothing changes."""

    spins: int
    flights: int
    first: date | None
    last: date | None
    words: str
    numbers: tuple[NumberBeside, ...] = ()
    losses: tuple[LossBeside, ...] = ()
    beyond_before_ft: float | None = None
    beyond_after_ft: float | None = None
    card: Card | None = None


@dataclass(frozen=True, slots=True)
class _Off:
    """Logarithm of what was flown against the card: the mean, and half of where it lies 9 times in 10."""

    middle: float
    half: float

    @property
    def share(self) -> float:
        return self.middle / self.half


_Flown = tuple[SpinFlown, Turns]


def spin_beside(card: Card, spins: Sequence[SpinFlown]) -> SpinBeside:
    """spins: those of this aircraft, oldest first. Raises Wrong where the card has no spin section, or none
    can be fitted to what was flown."""
    if card.spin is None:
        raise Wrong(("spin", "this card has no spin section", "Fill it in, or leave spins out."))
    flown = [(one, turns) for one in spins if (turns := turns_flown(one.flown, one.recover_ft)) is not None]
    days = [one.day for one, _ in flown]
    flights = len({one.flight for one, _ in flown})
    if not _enough(flown):
        few = f"Too few to tell: {FEWEST_SPINS} spins of {FEWEST_FLIGHTS} flights are asked for."
        return SpinBeside(len(flown), flights, min(days, default=None), max(days, default=None), few)
    # What is blank on the card stands there as it is estimated, so that no number follows another.
    start = filled_in(card)
    fit = _fit(start, flown)
    stays = [key for key in fit.changed if _manual_stays(start, key, fit.meant[key])]
    becomes = _rounded(start, fit.card, [key for key in fit.changed if key not in stays])
    ref = f"{len(flown)} recorded spins, {min(days):%-d %b %Y} to {max(days):%-d %b %Y}"
    after = _with(card, becomes, ref) if becomes else None
    words = "Nothing to change: it spins as its card says, as far as can be told."
    if after is not None:
        words = "It spins otherwise than its card says."
    elif stays:
        words = "Nothing to change: it would cost less than its card says."
    return SpinBeside(
        len(flown),
        flights,
        min(days),
        max(days),
        words,
        tuple(_number(start, key, off, becomes.get(key), key in stays) for key, off in fit.meant.items()),
        () if after is None else _losses(card, after, flown[-1][0]),
        _beyond_ft(card, flown),
        None if after is None else _beyond_ft(after, flown),
        after,
    )


def _enough(flown: Sequence[_Flown]) -> bool:
    return len(flown) >= FEWEST_SPINS and len({one.flight for one, _ in flown}) >= FEWEST_FLIGHTS


def _off(card: Card, flown: Sequence[_Flown]) -> dict[Key, _Off]:
    """How far what was flown lies from this card's motion. Of left against right only where each side was
    flown often enough by itself."""
    left, right = ([k for k in flown if k[0].planned.side == side] for side in ("left", "right"))
    sides = _enough(left) and _enough(right)
    feet, seconds = {}, []
    for which, its in (("left", left), ("right", right)):
        beside = [(one, turns, _as_the_card_has_it(card, one, turns.until)) for one, turns in its]
        feet[which] = [(o.flight, math.log(t.feet / own.feet)) for o, t, own in beside if own is not None]
        seconds += [(o.flight, math.log(t.seconds / own.seconds)) for o, t, own in beside if own is not None]
    if len(seconds) < FEWEST_SPINS:
        raise Wrong(("spin", "no motion comes near the spins that were flown", "Look at them one by one."))
    further = _mean(feet["right"] if sides else feet["left"] + feet["right"])
    found: dict[Key, _Off] = {"further_turn_ft": further, "turn_s": _mean(seconds)}
    if sides:
        of_left = _mean(feet["left"])
        found["left_factor"] = _Off(of_left.middle - further.middle, math.hypot(of_left.half, further.half))
    return found


def _mean(values: Sequence[tuple[int, float]]) -> _Off:
    middle, doubt = mean_and_doubt(values)
    groups = len({flight for flight, _ in values})
    half = float(stdtrit(groups - 1, ONE_SIDE)) * doubt if groups > 1 else math.inf
    return _Off(middle, math.hypot(half, LEFT_OFF))


def _as_the_card_has_it(card: Card, one: SpinFlown, until: float) -> Turns | None:
    """The same turns of the usual student's spin, which goes on until they are all there."""
    longer = _of_turns(one, math.ceil(until) + 1.0)
    conditions = replace(one.conditions, card=card)
    course = fly(longer, conditions, pilot_numbers("student"), longer.start_ft * FT, trace=True)
    return turns_flown(as_recorded(trace_of(course), conditions), until=until)


def _of_turns(one: SpinFlown, turns: float) -> PlannedFigure:
    """From where it was begun."""
    parameters = {**one.planned.parameters, "turns": turns}
    return one.planned.model_copy(update={"start_ft": float(one.flown.height[0]), "parameters": parameters})


def _value(card: Card, key: Key) -> Known:
    return known(card, PATHS[key])


def _manual_stays(card: Card, key: Key, off: _Off) -> bool:
    """The flight manual's own number is never made to cost less."""
    source = _value(card, key).source.kind
    return source in ("flight manual", "not given") and off.middle * KINDS[key].dearer < 0.0


@dataclass(frozen=True, slots=True)
class _Fit:
    """card: with the numbers that explain what was flown, unrounded; changed: which those are. meant: of each
    number how far it lies from the card's."""

    card: Card
    changed: tuple[Key, ...]
    meant: Mapping[Key, _Off]


def _fit(card: Card, flown: Sequence[_Flown]) -> _Fit:
    """The fewest numbers that explain it: each has to explain more than chance does 9 times in 10. Of all
    choices those that promise most are flown."""
    off = _off(card, flown)
    follows = _follows(card, flown, off)
    choices = [some for many in range(len(off) + 1) for some in combinations(off, many)]
    choices.sort(key=lambda keys: _score(_left(follows, off, keys), keys))
    fits = [_fitted(card, flown, follows, keys) for keys in choices[:FLOWN_CHOICES]]
    fits.append(((), card, off))
    keys, fitted, left = min(
        fits, key=lambda fit: _score(np.array([o.share for o in fit[2].values()]), fit[0])
    )
    return _Fit(fitted, keys, {key: _meant(card, fitted, follows, left, keys, key) for key in off})


def _score(left: Floats, keys: Sequence[Key]) -> float:
    """left: what is not explained, each as a share of half of where it lies 9 times in 10."""
    return float(left @ left) + len(keys)


def _left(follows: Floats, off: Mapping[Key, _Off], keys: Sequence[Key]) -> Floats:
    """What these numbers would leave, if the motion followed them in proportion."""
    middle, half = np.array([o.middle for o in off.values()]), np.array([o.half for o in off.values()])
    return np.asarray((middle - _columns(follows, off, keys) @ _step(follows, off, keys)) / half)


def _columns(follows: Floats, off: Mapping[Key, _Off], keys: Sequence[Key]) -> Floats:
    return follows[:, [list(off).index(key) for key in keys]]


def _step(follows: Floats, off: Mapping[Key, _Off], keys: Sequence[Key]) -> Floats:
    """By how much each of these numbers is to be moved (logarithm), weighted least squares."""
    half = np.array([o.half for o in off.values()])
    shares = np.array([o.share for o in off.values()])
    return np.asarray(np.linalg.pinv(_columns(follows, off, keys) / half[:, None]) @ shares)


def _follows(card: Card, flown: Sequence[_Flown], off: Mapping[Key, _Off]) -> Floats:
    """How much of a change of each number of the card (columns) is seen in each of the motion (rows): of two
    turns a third only, as the spin is still on its way to what the card says."""
    found = np.zeros((len(off), len(off)))
    for column, key in enumerate(off):
        other = _off(_with(card, {key: _value(card, key).value * TRIED}, ""), flown)
        found[:, column] = [(off[k].middle - other[k].middle) / math.log(TRIED) for k in off]
    return found


def _fitted(
    card: Card, flown: Sequence[_Flown], follows: Floats, keys: tuple[Key, ...]
) -> tuple[tuple[Key, ...], Card, dict[Key, _Off]]:
    """With these numbers such that its motion is as near to what was flown as was found, and what is left."""
    off = _off(card, flown)
    tried = [(keys, card, off)]
    for _ in range(TIMES if keys else 0):
        by = np.clip(_step(follows, off, keys), -FURTHEST, FURTHEST)
        numbers = {k: _value(card, k).value * math.exp(b) for k, b in zip(keys, by, strict=True)}
        card = _with(card, numbers, "")
        off = _off(card, flown)
        tried.append((keys, card, off))
    return min(tried, key=lambda one: _score(np.array([o.share for o in one[2].values()]), ()))


def _meant(
    card: Card, fitted: Card, follows: Floats, left: Mapping[Key, _Off], keys: Sequence[Key], key: Key
) -> _Off:
    """left: in the motion, with the fitted card. Of a number that stays: if it were moved as well."""
    with_it = (*keys, key) if key not in keys else tuple(keys)
    by = _step(follows, left, with_it)[-1] if key not in keys else 0.0
    half = np.array([o.half for o in left.values()])
    spread = np.linalg.pinv(_columns(follows, left, with_it) / half[:, None])
    wide = np.sqrt((spread**2).sum(axis=1))[with_it.index(key)]
    return _Off(math.log(_value(fitted, key).value / _value(card, key).value) + float(by), float(wide))


def _with(card: Card, numbers: Mapping[Key, float], ref: str) -> Card:
    return with_numbers(
        card,
        {PATHS[key]: Above(value=value, source="measured here", ref=ref) for key, value in numbers.items()},
    )


def _rounded(card: Card, fitted: Card, keys: Sequence[Key]) -> dict[Key, float]:
    """These numbers as finely as they are written, but for those that are then as before."""
    steps = {key: KINDS[key].step for key in keys}
    rounded = {key: round(round(_value(fitted, key).value / step) * step, 2) for key, step in steps.items()}
    return {key: value for key, value in rounded.items() if value != _value(card, key).value}


def _number(card: Card, key: Key, off: _Off, becomes: float | None, stays: bool) -> NumberBeside:
    """becomes: the number to write, None where it stays as it is. stays: what was flown would cost less than
    the flight manual says."""
    kind, said = KINDS[key], _value(card, key)
    if stays:
        whose = "the flight manual" if said.source.kind == "flight manual" else "the card"
        words = f"It would cost less than {whose} says: its number stays."
    elif becomes is None:
        words = "As the card says, as far as can be told."
    else:
        words = f"{'More' if becomes > said.value else 'Less'} than the card says."
    flown, least, most = (said.value * math.exp(off.middle + side * off.half) for side in (0.0, -1.0, 1.0))
    return NumberBeside(
        key, kind.label, kind.unit, said.value, said.source.words, flown, least, most, becomes, words
    )


def _losses(before: Card, after: Card, last: SpinFlown) -> tuple[LossBeside, ...]:
    def cost_ft(card: Card, turns: float) -> float:
        loss = usual_loss_ft(_of_turns(last, turns), replace(last.conditions, card=card))
        return read_off(loss, "ft", "up")

    return tuple(LossBeside(turns, cost_ft(before, turns), cost_ft(after, turns)) for turns in SHOWN_TURNS)


def _beyond_ft(card: Card, flown: Sequence[_Flown]) -> float:
    return read_off(
        mean(
            one.lost_ft
            - usual_loss_ft(
                one.planned.model_copy(update={"start_ft": float(one.flown.height[0])}),
                replace(one.conditions, card=card),
            )
            for one, _ in flown
        ),
        "ft",
    )
