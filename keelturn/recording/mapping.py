"""Which column of a file is what, in which unit and form: guessed from names and first rows, shown,
corrected, and remembered for a device.

The words that recorders use are common practice, no published source."""

import re
from collections.abc import Iterator, Mapping, Sequence

import numpy as np
from pydantic import Field, model_validator

from keelturn.document import Document, Wrong
from keelturn.recording.table import CLOCK, DATE_AND_TIME, QUANTITIES, Column


class ColumnFrom(Document):
    """Of the file's column with this header, `column` is read, written in `unit`. sure: its name says so,
    rather than that it was taken for it."""

    header: str = Field(max_length=200)
    column: Column
    unit: str = Field(max_length=20)
    sure: bool = True

    @model_validator(mode="after")
    def unit_is_one_of_its(self) -> "ColumnFrom":
        units = QUANTITIES[self.column].units
        if self.unit not in units:
            known = ", ".join(units)
            raise Wrong(("unit", f"{self.column} is not read in '{self.unit}'", f"It can be in {known}."))
        return self


class ColumnMap(Document):
    """separator: between the fields of a line; decimal: mark of a number. columns: those that are read."""

    separator: str = Field(",", min_length=1, max_length=1)
    decimal: str = Field(".", pattern="^[.,]$")
    columns: tuple[ColumnFrom, ...] = Field(max_length=60)

    @model_validator(mode="after")
    def each_once(self) -> "ColumnMap":
        said: tuple[tuple[str, list[str]], ...] = (
            ("header", [c.header for c in self.columns]),
            ("column", [str(c.column) for c in self.columns]),
        )
        for name, told in said:
            twice = next((value for value in told if told.count(value) > 1), None)
            if twice is not None:
                raise Wrong(("columns", f"the {name} '{twice}' stands twice", "Keep one of them."))
        if self.separator == self.decimal:
            raise Wrong(("decimal", "is the separator too", "One of them is something else."))
        return self


def tells_enough(columns: tuple[ColumnFrom, ...]) -> bool:
    """Whether it can be read without anybody looking: a time and a height, and no unit only assumed."""
    there = {one.column for one in columns}
    height = there & {Column.HEIGHT, Column.PRESSURE_HEIGHT}
    return Column.TIME in there and bool(height) and all(one.sure for one in columns)


# Words of a header that say what it holds, in any order, the more telling first.
WORDS: Mapping[Column, tuple[str, ...]] = {
    Column.TIME: ("time", "timestamp", "utc", "seconds", "clock", "date time", "datetime", "t"),
    Column.PRESSURE_HEIGHT: (
        "pressure height",
        "pressure altitude",
        "pressure alt",
        "press alt",
        "baro alt",
        "baro altitude",
        "altitude",
        "alt",
        "height",
    ),
    Column.HEIGHT: (
        "height",
        "qnh height",
        "gps altitude",
        "gps alt",
        "gps height",
        "altitude gps",
        "msl",
        "alt msl",
        "elevation",
    ),
    Column.IAS: ("ias", "indicated airspeed", "indicated speed", "airspeed", "air speed", "speed ias"),
    Column.G: (
        "g",
        "nz",
        "load factor",
        "normal acceleration",
        "norm acc",
        "normal acc",
        "acc z",
        "acceleration z",
        "g load",
    ),
    Column.PITCH: ("pitch", "pitch angle", "theta"),
    Column.BANK: ("bank", "roll", "roll angle", "bank angle", "phi"),
    Column.HEADING: ("heading", "hdg", "yaw", "psi", "magnetic heading", "heading magnetic"),
    Column.THROTTLE: ("throttle", "power", "power lever"),
    Column.AILERON: ("aileron", "stick lateral"),
    Column.RUDDER: ("rudder", "pedals"),
    Column.ELEVATOR: ("elevator", "stick", "stick longitudinal"),
    Column.FLAP: ("flap", "flaps"),
    Column.LATITUDE: ("latitude", "lat"),
    Column.LONGITUDE: ("longitude", "lon", "long", "lng"),
    Column.GROUND_SPEED: ("ground speed", "groundspeed", "gs", "gps speed", "speed over ground"),
}
# How units are written.
WRITTEN: Mapping[str, tuple[str, ...]] = {
    "s": ("s", "sec", "secs", "seconds"),
    "ms": ("ms", "millis", "milliseconds", "msec"),
    "min": ("min", "minutes"),
    CLOCK: ("hh:mm:ss", "h:m:s"),
    DATE_AND_TIME: ("iso", "iso8601"),
    "ft": ("ft", "feet", "foot"),
    "m": ("m", "metres", "meters", "mtr"),
    "kt": ("kt", "kts", "knots", "kn"),
    "mph": ("mph", "mi/h"),
    "km/h": ("km/h", "kmh", "kph"),
    "m/s": ("m/s", "mps", "ms-1"),
    "g": ("g", "gs"),
    "m/s2": ("m/s2", "m/s²", "m/s^2", "mss", "mps2"),
    "deg": ("deg", "degrees", "°", "degs"),
    "rad": ("rad", "radians", "rads"),
    "share": ("share", "ratio"),
    "%": ("%", "pct", "percent"),
}
UNIT_OF = {written: unit for unit, many in WRITTEN.items() for written in many}
PARTED = re.compile(r"[\s_\-.:]+")
IN_BRACKETS = re.compile(r"[(\[{<]\s*([^)\]}>]*?)\s*[)\]}>]")
OF_THE_CLOCK = re.compile(r"^\d{1,2}:\d{2}:\d{2}(?:[.,]\d+)?$")
OF_A_DAY = re.compile(r"^\d{4}-\d{2}-\d{2}[T ]\d{1,2}:\d{2}(?::\d{2}(?:[.,]\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?$")


def guessed(
    headers: Sequence[str], units: Sequence[str], first: Sequence[Sequence[str]]
) -> tuple[ColumnFrom, ...]:
    """headers: as the file has them; units: a line of units under them, or empty; first: the first rows as
    texts, with a point as the decimal mark."""
    found: dict[Column, tuple[int, int, str]] = {}
    for place, header in enumerate(headers):
        words, unit = _words_and_unit(header)
        unit = UNIT_OF.get(units[place].strip().strip("()[]").lower()) if place < len(units) else unit
        for column, rank in _could_be(words, unit):
            known = unit is None or unit in QUANTITIES[column].units
            if known and (column not in found or rank < found[column][0]):
                found[column] = (rank, place, unit or "")
    made = []
    taken: set[int] = set()
    for column, (_, place, unit) in sorted(found.items(), key=lambda item: item[1][0]):
        if place in taken:
            continue
        taken.add(place)
        texts = [row[place] for row in first if place < len(row) and row[place].strip()]
        of_values = _unit_of_values(column, texts)
        made.append(
            ColumnFrom(
                header=headers[place],
                column=column,
                unit=unit or of_values,
                sure=bool(unit) or column == Column.TIME or headers[place] == column,
            )
        )
    order = list(Column)
    return tuple(sorted(made, key=lambda one: order.index(one.column)))


def _words_and_unit(header: str) -> tuple[str, str | None]:
    """'Pressure_Alt (ft)' gives 'pressure alt' and 'ft'."""
    text = header.strip().lower()
    inside = IN_BRACKETS.search(text)
    unit = UNIT_OF.get(inside.group(1)) if inside else None
    parts = [part for part in PARTED.split(IN_BRACKETS.sub(" ", text)) if part]
    if unit is None and len(parts) > 1 and parts[-1] in UNIT_OF:
        unit = UNIT_OF[parts.pop()]
    return " ".join(parts), unit


def _could_be(words: str, unit: str | None) -> Iterator[tuple[Column, int]]:
    """Each column that the words name, with the rank of that name: our own table's come first."""
    these = sorted(words.split())
    for column, names in WORDS.items():
        ours = PARTED.sub(" ", column if unit is None else column.rsplit("_", 1)[0])
        known = [sorted(name.split()) for name in names]
        if words == ours:
            yield column, -1
        elif these in known:
            yield column, known.index(these)


def _unit_of_values(column: Column, texts: Sequence[str]) -> str:
    units = QUANTITIES[column].units
    usual = next(iter(units))
    if column == Column.TIME:
        if texts and all(OF_THE_CLOCK.match(text.strip()) for text in texts):
            return CLOCK
        return DATE_AND_TIME if texts and all(OF_A_DAY.match(t.strip()) for t in texts) else "s"
    numbers = np.abs([float(text) for text in texts if _is_number(text)])
    if not len(numbers):
        return usual
    middle, most = float(np.median(numbers)), float(numbers.max())
    if column == Column.G and 7.0 < middle < 13.0:
        return "m/s2"
    if "%" in units and most > 1.5:
        return "%"
    return usual


def _is_number(text: str) -> bool:
    try:
        return bool(np.isfinite(float(text)))
    except ValueError:
        return False
