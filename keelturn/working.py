"""Every answer carries its working: value, unit, formula in words, inputs with where each came from.

Two ways to make one: `given` for a number somebody stated, `worked` for a number computed from others.

    floor = given("School floor", 3000, "ft", Source("school", "standards, spins"))
    start = worked("Lowest start", floor.value + loss.value, "ft", "floor + loss 19 times in 20", floor, loss)

`shown` is the number as a pilot reads it: heights to 10 ft (floors, losses and starts up), speeds to 1, g to
0.1."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Literal

Provenance = Literal[
    "not given",
    "flight manual",
    "placard",
    "regulation",
    "school",
    "measured here",
    "model",
    "estimated",
    "common practice",
    "day",
    "plan",
    "flown",
]
Rounding = Literal["near", "up", "down"]

# How finely each unit is read in the aircraft (common practice, no published source).
READ_TO = {
    "ft": 10.0,
    "kt": 1.0,
    "mph": 1.0,
    "g": 0.1,
    "lb": 1.0,
    "min": 1.0,
    "s": 0.1,
    "fpm": 10.0,
    "turns": 0.5,
    "days": 1.0,
    "NM": 0.1,
    "°": 1.0,
    "deg": 1.0,
    "%": 1.0,
}
# Units whose numbers are written without a needless ".0".
WHOLE = {"", "turns"}


@dataclass(frozen=True, slots=True)
class Source:
    """Where a number came from: the kind of authority, and the words that find it there."""

    kind: Provenance
    words: str


MODEL = Source("model", "Keel Turn's flight model")


@dataclass(frozen=True, slots=True)
class Lever:
    """What one change would do to an answer, in the answer's unit."""

    change: str
    effect: float
    shown: str


@dataclass(frozen=True, slots=True)
class Hill:
    """How many pilots came out where: counts (N,) by equal steps from `least`, all in the answer's unit.
    usual: where the usual pilot stands; beyond: how many never got out and stand nowhere."""

    least: float
    step: float
    counts: tuple[int, ...]
    usual: float
    beyond: int


@dataclass(frozen=True, slots=True)
class Answer:
    """number: the value as a pilot reads it, without its unit; shown: with it. The rest is its working;
    pilot: the numbers of the pilot who flew it."""

    label: str
    value: float
    unit: str
    number: str
    shown: str
    formula: str = ""
    inputs: tuple["Answer", ...] = ()
    source: Source = MODEL
    levers: tuple[Lever, ...] = ()
    hill: Hill | None = None
    pilot: tuple["Answer", ...] = ()


# The fields of an Answer that are its working: nine tenths of what is written of it.
OF_THE_WORKING = ("formula", "inputs", "source", "levers", "hill", "pilot")


def read_off(value: float, unit: str, rounding: Rounding = "near") -> float:
    """The value rounded as a pilot reads it; `up` and `down` never round the other way."""
    step = READ_TO.get(unit)
    if step is None or not math.isfinite(value):
        return value
    scaled = value / step
    if rounding == "near":
        return math.floor(scaled + 0.5) * step
    # A millionth of a step of slack: 6030.0000001 is 6030.
    return (math.ceil(scaled - 1e-6) if rounding == "up" else math.floor(scaled + 1e-6)) * step


def in_number(value: float, unit: str, rounding: Rounding = "near") -> str:
    """'6,030', '2.5', '118', '007' of a heading."""
    number = read_off(value, unit, rounding)
    if unit == "°":
        return f"{number % 360:03.0f}"
    if unit in READ_TO and READ_TO[unit] >= 1:
        return f"{number:,.0f}"
    return f"{number:,.4g}" if unit in WHOLE else f"{number:,.1f}"


def in_words(value: float, unit: str, rounding: Rounding = "near") -> str:
    """'6,030 ft', '2.5 g', '118 kt', '007°'."""
    return _with_unit(in_number(value, unit, rounding), unit)


def signed(height_ft: float) -> str:
    """What is read as nothing has no sign."""
    words = in_words(abs(height_ft), "ft")
    return words if words == in_words(0.0, "ft") else f"{'+' if height_ft >= 0 else '−'}{words}"


def what_is_left(whole: Answer, first: Answer, others_ft: Sequence[float]) -> str:
    """Of feet, signed: the whole as it is read, less the parts as they are read, so that what is shown adds
    up."""
    taken = sum(math.copysign(read_off(abs(height), "ft"), height) for height in others_ft)
    read, begun = (float(answer.number.replace(",", "")) for answer in (whole, first))
    return signed(read - begun - taken)


def _with_unit(number: str, unit: str) -> str:
    if number == "1" and unit in ("turns", "days"):
        unit = unit.removesuffix("s")
    return f"{number}°" if unit == "°" else f"{number} {unit}".strip()


def _answer(
    label: str,
    value: float,
    unit: str,
    rounding: Rounding,
    formula: str,
    inputs: tuple[Answer, ...],
    source: Source,
    levers: tuple[Lever, ...] = (),
    hill: Hill | None = None,
) -> Answer:
    number = in_number(value, unit, rounding)
    shown = _with_unit(number, unit)
    return Answer(label, value, unit, number, shown, formula, inputs, source, levers, hill)


def given(label: str, value: float, unit: str, source: Source, rounding: Rounding = "near") -> Answer:
    """A number that somebody stated."""
    return _answer(label, value, unit, rounding, "as stated", (), source)


def worked(
    label: str,
    value: float,
    unit: str,
    formula: str,
    *inputs: Answer,
    source: Source = MODEL,
    rounding: Rounding = "near",
    levers: tuple[Lever, ...] = (),
    hill: Hill | None = None,
) -> Answer:
    """A number computed from `inputs` by the `formula`, which is given in words."""
    return _answer(label, value, unit, rounding, formula, inputs, source, levers, hill)


def answer_at(tree: object, place: str) -> Answer:
    """The answer that stands at a place in what was computed: names of parts and numbers from 0, with dots.
    Raises LookupError where there is none."""
    found = tree
    for step in place.split("."):
        if isinstance(found, Mapping):
            found = found[step]
        elif isinstance(found, tuple | list) and step.isdecimal():
            found = found[int(step)]
        elif is_dataclass(found) and step in {part.name for part in fields(found)}:
            found = getattr(found, step)
        else:
            raise LookupError(place)
    if not isinstance(found, Answer):
        raise LookupError(place)
    return found


def relabelled(answer: Answer, label: str) -> Answer:
    return replace(answer, label=label)
