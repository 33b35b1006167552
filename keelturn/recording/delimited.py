"""A table as text, from any device: how its lines are laid out, and its numbers, line by line where one
cannot be read."""

import io
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TYPE_CHECKING

import numpy as np

from keelturn.document import Wrong
from keelturn.motion.legs import Floats
from keelturn.recording.mapping import ColumnFrom, ColumnMap, guessed
from keelturn.recording.problems import Problems, Unread
from keelturn.recording.table import CLOCK, DATE_AND_TIME, QUANTITIES, Column, Recording
from keelturn.recording.tracks import Lines

if TYPE_CHECKING:
    import polars as pl

# The comma last: it stands inside numbers too.
SEPARATORS = ("\t", ";", "|", ",")
NO_UNITS: tuple[str, ...] = ()
# Lines looked at for their layout, rows for what a column holds; letters of a name.
LOOKED_AT, FIRST_ROWS, LONGEST_NAME = 200, 60, 120
NUMBER = re.compile(r"^\s*[-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?\s*$")
COMMA = re.compile(r"^\s*[-+]?\d+,\d+\s*$")
POINT = re.compile(r"^\s*[-+]?\d*\.\d+\s*$")


@dataclass(frozen=True, slots=True)
class Layout:
    """separator, decimal; header: names of the columns; units: those of a line under them, or empty; first:
    the first rows as texts, with a point as decimal mark; skipped: lines before the first row."""

    separator: str
    decimal: str
    headers: tuple[str, ...]
    units: tuple[str, ...]
    first: tuple[tuple[str, ...], ...]
    skipped: int

    def guess(self) -> ColumnMap:
        return ColumnMap(
            separator=self.separator,
            decimal=self.decimal,
            columns=guessed(self.headers, self.units, self.first),
        )


def as_text(content: bytes) -> bytes:
    """UTF-8 with one form of line end, whatever it came in."""
    for mark, code in ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"), (b"\xef\xbb\xbf", "utf-8-sig")):
        if content.startswith(mark):
            content = content.decode(code, errors="replace").encode()
    try:
        content.decode()
    except UnicodeDecodeError:
        content = content.decode("latin-1").encode()
    return content.replace(b"\r\n", b"\n").replace(b"\r", b"\n")


def layout_of(text: bytes, separator: str | None = None, decimal: str | None = None) -> Layout:
    """Raises Wrong where there are no lines of more than one field."""
    lines = text[: 400 * LOOKED_AT].decode(errors="replace").split("\n")[:LOOKED_AT]
    full = [line for line in lines if line.strip() and not line.startswith("#")]
    if not full:
        raise Wrong(("file", "it is empty", "Export the flight from the recorder again."))
    by = separator or next((mark for mark in SEPARATORS if _usual_count(full, mark)), SEPARATORS[-1])
    many = _usual_count(full, by)
    if many == 0:
        raise Wrong(
            (
                "file",
                "it is no table: no line has several fields",
                "Export it as a table with a line of names, or as IGC or GPX.",
            )
        )
    rows = [(at, line.split(by)) for at, line in enumerate(lines)]
    # The names stand in the last line without numbers before the numbers begin, and the units may under them.
    begins = next((at for at, row in rows if len(row) > many and _numbers(row) >= len(row) / 2.0), None)
    if begins is None:
        raise Wrong(("file", "it has no row of numbers", "Export the flight from the recorder again."))
    # Names may be fewer than the fields, where a comma of a number is taken for one between them.
    named = [(at, row) for at, row in rows[:begins] if len(row) > many] or [
        (at, row) for at, row in rows[max(0, begins - 1) : begins] if len(row) > 1
    ]
    if not named:
        headers, units = tuple(f"column {n + 1}" for n in range(many + 1)), NO_UNITS
    else:
        two = len(named) > 1 and named[-1][0] == named[-2][0] + 1
        _, row = named[-2] if two else named[-1]
        headers, units = _names(row), _clean(named[-1][1]) if two else NO_UNITS
    rest = [row for at, row in rows[begins : begins + FIRST_ROWS] if len(row) > 1]
    mark = decimal or _decimal(by, rest)
    first = tuple(tuple(field.replace(mark, ".") for field in _clean(row)) for row in rest)
    return Layout(by, mark, headers, units, first, begins)


def _usual_count(lines: Sequence[str], mark: str) -> int:
    """How often it stands in a line; 0 where it is in fewer than half of them, or one time so and another
    so."""
    count, many = Counter(line.count(mark) for line in lines).most_common(1)[0]
    return count if many >= len(lines) / 2.0 else 0


def _numbers(row: Sequence[str]) -> int:
    return sum(bool(NUMBER.match(field)) for field in row)


def _clean(row: Sequence[str]) -> tuple[str, ...]:
    return tuple(field.strip().strip('"').strip() for field in row)


def _names(row: Sequence[str]) -> tuple[str, ...]:
    """Each once, and as much of it as can be shown."""
    found: list[str] = []
    for at, field in enumerate(_clean(row), 1):
        name = field[:LONGEST_NAME] or f"column {at}"
        found.append(name if name not in found else f"{name} ({at})")
    return tuple(found)


def _decimal(separator: str, rows: Sequence[Sequence[str]]) -> str:
    if separator == ",":
        return "."
    fields = [field for row in rows for field in row]
    commas, points = (sum(bool(form.match(f)) for f in fields) for form in (COMMA, POINT))
    return "," if commas > points else "."


def read_delimited(
    text: bytes, mapping: ColumnMap | None, problems: Problems
) -> tuple[Recording, Lines, ColumnMap, tuple[str, ...]]:
    """Rows as they stand in the file, times not yet in order; the line of each; how it was read, and all
    names of its columns. Raises Wrong where a column that was asked for is not there."""
    layout = layout_of(text, *((mapping.separator, mapping.decimal) if mapping else ()))
    chosen = mapping or layout.guess()
    _known(chosen, layout)
    texts = _fields(text, layout, chosen, problems)
    columns: dict[Column, Floats] = {}
    zero: datetime | None = None
    of_day = False
    for asked in chosen.columns:
        series = texts.to_series(layout.headers.index(asked.header))
        if asked.unit == DATE_AND_TIME:
            columns[Column.TIME], zero = _moments(series, asked, layout, problems)
        elif asked.unit == CLOCK:
            columns[Column.TIME], of_day = _clock(series, asked, layout, problems), True
        else:
            columns[asked.column] = _values(series, asked, layout, problems)
    lines = np.arange(texts.height, dtype=np.intp) + layout.skipped + 1
    return Recording(columns, zero, of_day), lines, chosen, layout.headers


def _known(chosen: ColumnMap, layout: Layout) -> None:
    for asked in chosen.columns:
        if asked.header not in layout.headers:
            there = ", ".join(layout.headers)
            raise Wrong(
                (asked.header, f"there is no such column; there are {there}", "Choose which column is what.")
            )


def _fields(text: bytes, layout: Layout, chosen: ColumnMap, problems: Problems) -> "pl.DataFrame":
    """The fields of the columns that are read, the others as text; a line with fewer or more fields than the
    header is a problem of its own. Where every number is one they come as numbers, and as texts where
    not."""
    import polars as pl

    body = text.split(b"\n", layout.skipped)[-1] if layout.skipped else text
    quoted = body.count(b'"')
    if not quoted:
        _count_fields(body, layout, problems)
    numbers = {layout.headers.index(c.header) for c in chosen.columns if c.unit not in (CLOCK, DATE_AND_TIME)}

    def parsed(kind: type[pl.Float64] | type[pl.String]) -> pl.DataFrame:
        return pl.read_csv(
            io.BytesIO(body),
            separator=layout.separator,
            has_header=False,
            schema={f"{n}": kind if n in numbers else pl.String for n in range(len(layout.headers))},
            truncate_ragged_lines=True,
            missing_columns="insert",
            extra_columns="ignore",
            quote_char='"' if quoted and quoted % 2 == 0 else None,
            decimal_comma=layout.decimal == "," and kind is pl.Float64,
        )

    try:
        return parsed(pl.Float64)
    except pl.exceptions.PolarsError:
        pass
    try:
        return parsed(pl.String)
    except pl.exceptions.PolarsError as error:
        what = "its quotation marks do not match" if quoted else "its lines cannot be told apart"
        raise Wrong(("file", what, "Export the flight from the recorder again.")) from error


def _count_fields(body: bytes, layout: Layout, problems: Problems) -> None:
    letters = np.frombuffer(body if body.endswith(b"\n") else body + b"\n", dtype=np.uint8)
    ends = np.flatnonzero(letters == ord("\n"))
    marks = np.flatnonzero(letters == ord(layout.separator))
    upto = np.searchsorted(marks, ends)
    counts = np.diff(upto, prepend=0) + 1
    length = np.diff(ends, prepend=-1) - 1
    many = len(layout.headers)
    for kind, wrong in (
        (Unread.TOO_FEW, (counts < many) & (length > 0)),
        (Unread.TOO_MANY, counts > many),
    ):
        at = np.flatnonzero(wrong)
        problems.add(
            kind, at + layout.skipped + 1, "", [f"{counts[i]} of {many}" for i in at[: problems.most]]
        )


def _values(series: "pl.Series", asked: ColumnFrom, layout: Layout, problems: Problems) -> Floats:
    import polars as pl

    numbers = series
    if series.dtype == pl.String:
        texts = series.str.strip_chars(' "')
        written = (texts != "").fill_null(False).to_numpy()
        if layout.decimal != ".":
            texts = texts.str.replace(layout.decimal, ".", literal=True)
        numbers = texts.cast(pl.Float64, strict=False)
        _tell(problems, Unread.NO_NUMBER, numbers.is_null().to_numpy() & written, asked, layout, series)
    missing = numbers.is_null().to_numpy()
    values = numbers.fill_null(float("nan")).to_numpy().astype(float)
    infinite = ~np.isfinite(values) & ~missing
    _tell(problems, Unread.NOT_FINITE, infinite, asked, layout, series)
    values[infinite] = np.nan
    quantity = QUANTITIES[asked.column]
    values = values * quantity.units[asked.unit]
    beyond = (values < quantity.least) | (values > quantity.most)
    _tell(problems, Unread.BEYOND, beyond, asked, layout, series)
    values[beyond] = np.nan
    return np.asarray(values)


def _tell(
    problems: Problems, kind: Unread, at: "np.ndarray", asked: ColumnFrom, layout: Layout, series: "pl.Series"
) -> None:
    rows = np.flatnonzero(at)
    problems.add(
        kind, rows + layout.skipped + 1, asked.header, [str(series[int(i)]) for i in rows[: problems.most]]
    )


def _clock(series: "pl.Series", asked: ColumnFrom, layout: Layout, problems: Problems) -> Floats:
    """Seconds since midnight; past the next one they go on."""
    import polars as pl

    parts = series.str.replace(",", ".", literal=True).str.extract_groups(
        r"^\s*(\d{1,2}):(\d{2}):(\d{2}(?:\.\d+)?)\s*$"
    )
    hours, minutes, seconds = (
        parts.struct.field(f"{n}").cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy()
        for n in (1, 2, 3)
    )
    found = hours * 3600.0 + minutes * 60.0 + seconds
    _tell(problems, Unread.NO_TIME, np.isnan(found) & series.is_not_null().to_numpy(), asked, layout, series)
    steps = np.diff(found)
    return np.asarray(found + 86400.0 * np.concatenate([[0.0], np.cumsum(steps < -43200.0)]))


def _moments(
    series: "pl.Series", asked: ColumnFrom, layout: Layout, problems: Problems
) -> tuple[Floats, datetime | None]:
    """Seconds since the first moment; without a zone they are UTC."""
    import polars as pl

    read = (
        series.str.replace(",", ".", literal=True).str.strip_chars(' "').str.replace(" ", "T", literal=True)
    )
    zoned = read.str.replace(r"([+-]\d{2}):?(\d{2})$", "$1:$2").str.replace("Z$", "+00:00")
    with_zone = zoned.str.to_datetime("%Y-%m-%dT%H:%M:%S%.f%:z", time_unit="ms", strict=False)
    bare = read.str.to_datetime("%Y-%m-%dT%H:%M:%S%.f", time_unit="ms", strict=False).dt.replace_time_zone(
        "UTC"
    )
    moments = with_zone if with_zone.null_count() <= bare.null_count() else bare
    missing = moments.is_null().to_numpy()
    _tell(problems, Unread.NO_TIME, missing & series.is_not_null().to_numpy(), asked, layout, series)
    if missing.all():
        return np.full(len(series), np.nan), None
    numbers = moments.dt.timestamp("ms").cast(pl.Float64).fill_null(float("nan")).to_numpy() / 1000.0
    first = float(numbers[~np.isnan(numbers)][0])
    return np.asarray(numbers - first), datetime.fromtimestamp(first, UTC)
