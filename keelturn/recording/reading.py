"""A recorder's file read: our own table, any table as text, IGC, GPX. What can be read is read; what cannot
is said with its line and reason."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from keelturn.document import Wrong
from keelturn.motion.legs import Floats
from keelturn.recording.delimited import Layout, as_text, layout_of, read_delimited
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.problems import Problem, Problems, Unread
from keelturn.recording.table import QUANTITIES, Column, Recording
from keelturn.recording.tracks import Lines, read_gpx, read_igc

# What a file may have: bytes, rows. Twelve hours at 64 Hz are 2.8 million rows.
MOST_BYTES, MOST_ROWS = 200_000_000, 3_000_000
# Of a track, which has a point a second.
MOST_TRACK_BYTES = 20_000_000
# A silence this long, or a clock that begins again for as long, is another flight; a flight is no shorter.
ANOTHER_FLIGHT_S, SHORTEST_FLIGHT_S = 600.0, 10.0
NO_HEADERS: tuple[str, ...] = ()
# A clock that goes back more often than this is none.
MOST_RESTARTS = 1000


class Form(StrEnum):
    TABLE = "table"
    IGC = "IGC"
    GPX = "GPX"


@dataclass(frozen=True, slots=True)
class Reading:
    """flights: in the order of the file. rows: that were read, of all. problems: the first of each kind,
    counts: how many of each. columns: how the table was read, None for tracks; headers: all
    names of its columns. aircraft: what the file calls
    it, or empty."""

    form: Form
    flights: tuple[Recording, ...]
    rows: int
    problems: tuple[Problem, ...]
    counts: dict[Unread, int]
    columns: ColumnMap | None = None
    headers: tuple[str, ...] = ()
    aircraft: str = ""


def read_recording(content: bytes, columns: ColumnMap | None = None) -> Reading:
    """columns: which is what, in a table; guessed where left out. Raises Wrong where nothing can be read of
    it: it is empty, too large, no recording, has no time or no height."""
    if len(content) > MOST_BYTES:
        raise Wrong(
            ("file", f"it has {len(content) / 1e6:,.0f} MB, and {MOST_BYTES / 1e6:,.0f} are read", "Cut it.")
        )
    text, problems = as_text(content), Problems()
    form, aircraft, headers = _form(text), "", NO_HEADERS
    if form is not Form.TABLE and len(text) > MOST_TRACK_BYTES:
        most = f"{MOST_TRACK_BYTES / 1e6:,.0f} MB of a track are read"
        raise Wrong(("file", f"it has {len(text) / 1e6:,.0f} MB, and {most}", "Cut it to the flight."))
    if form is Form.TABLE:
        recording, lines, columns, headers = read_delimited(text, columns, problems)
    elif form is Form.IGC:
        recording, lines, aircraft = read_igc(text.decode(), problems)
        columns = None
    else:
        recording, lines = read_gpx(text.decode(), problems)
        columns = None
    _enough(recording)
    flights = tuple(
        flight for flight in _flights(recording, lines, problems) if len(flight) > 1 and _lasts(flight)
    )
    if not flights:
        raise Wrong(
            ("file", f"it has no {SHORTEST_FLIGHT_S:.0f} s of flight on end", "Export the flight again.")
        )
    return Reading(
        form,
        flights,
        sum(len(flight) for flight in flights),
        tuple(problems.first),
        dict(problems.counts),
        columns,
        headers,
        aircraft,
    )


def look_at(head: bytes) -> Layout | None:
    """How a table is laid out, from the first lines of it; None for a track. Raises Wrong for what is
    neither."""
    whole = max(head.rfind(b"\n"), head.rfind(b"\r"))
    text = as_text(head[: whole + 1] or head)
    return layout_of(text) if _form(text) is Form.TABLE else None


def _form(text: bytes) -> Form:
    head = text[:400].lstrip()
    if head.startswith(b"<") and b"<gpx" in text[:2000]:
        return Form.GPX
    lines = head.split(b"\n")
    fixes = any(line.startswith((b"HFDTE", b"B")) and b"," not in line for line in text[:4000].split(b"\n"))
    return Form.IGC if lines[0].startswith(b"A") and b"," not in lines[0] and fixes else Form.TABLE


def _enough(recording: Recording) -> None:
    missing = [
        name
        for name, there in (
            ("time", recording.has(Column.TIME)),
            ("height", recording.has(Column.HEIGHT) or recording.has(Column.PRESSURE_HEIGHT)),
        )
        if not there
    ]
    if missing:
        raise Wrong(
            (
                "columns",
                f"no column was taken for the {' nor for the '.join(missing)}",
                "Choose which column is what.",
            )
        )
    if len(recording) > MOST_ROWS:
        raise Wrong(("file", f"it has {len(recording):,} rows, and {MOST_ROWS:,} are read", "Cut it."))


def _lasts(flight: Recording) -> bool:
    return bool(flight.time[-1] - flight.time[0] >= SHORTEST_FLIGHT_S)


def _flights(recording: Recording, lines: Lines, problems: Problems) -> Iterator[Recording]:
    """Rows in the order of their times, each time once, split where the clock begins again or is silent."""
    timed = ~np.isnan(recording.time) & ~_blank(recording)
    recording, lines = recording.rows(timed), lines[timed]
    if not len(recording):
        return
    begins = [0, *_restarts(recording.time), len(recording)]
    for first, last in zip(begins, begins[1:], strict=False):
        part, its = recording.rows(slice(first, last)), lines[first:last]
        one = _in_order(part, its, problems)
        silent = np.flatnonzero(np.diff(one.time) > ANOTHER_FLIGHT_S) + 1
        for start, end in zip([0, *silent], [*silent, len(one)], strict=True):
            yield one.rows(slice(start, end))


def _blank(recording: Recording) -> NDArray[np.bool_]:
    """Rows with nothing but a time."""
    rest = [values for name, values in recording.columns.items() if name != Column.TIME]
    return np.asarray(np.all([np.isnan(values) for values in rest], axis=0))


def _restarts(time: Floats) -> list[int]:
    """Where the clock goes back and stays there: the rows after it go on from there."""
    found: list[int] = []
    for at in (np.flatnonzero(np.diff(time) < 0.0) + 1)[:MOST_RESTARTS]:
        since = time[found[-1] if found else 0 : at].max()
        after = time[at:]
        beyond = np.flatnonzero(after >= since)
        until = len(after) if not len(beyond) else int(beyond[0])
        if until > 1 and after[:until].max() - after[0] >= SHORTEST_FLIGHT_S:
            found.append(int(at))
    return found


def _in_order(part: Recording, lines: Lines, problems: Problems) -> Recording:
    time = part.time
    part = part.with_columns({Column.TIME: _spread(time)})
    ahead = np.maximum.accumulate(part.time)
    before = np.concatenate([[-np.inf], ahead[:-1]])
    kept = part.time > before
    late = np.flatnonzero(part.time < before)
    problems.add(Unread.BACK, lines[late], "", [f"{time[i]:,.2f} s" for i in late[: problems.most]])
    same = np.flatnonzero(part.time == before)
    # The row that has this time already: the last one kept.
    kept_at = np.maximum.accumulate(np.where(kept, np.arange(len(time)), 0))
    alike = np.array([_alike(part, int(i), int(kept_at[i])) for i in same], dtype=bool)
    for kind, those in ((Unread.REPEATED, same[alike]), (Unread.SAME_TIME, same[~alike])):
        problems.add(kind, lines[those], "", [f"{time[i]:,.2f} s" for i in those[: problems.most]])
    return part.rows(kept)


def _alike(part: Recording, one: int, other: int) -> bool:
    return all(
        values[one] == values[other] or (np.isnan(values[one]) and np.isnan(values[other]))
        for values in part.columns.values()
    )


def _spread(time: Floats) -> Floats:
    """A clock that counts whole seconds while rows come more often: the rows lie evenly within each."""
    if len(time) < 4 or float((np.diff(time) == 0.0).mean()) < 0.5:
        return time
    starts = np.flatnonzero(np.diff(time, prepend=-np.inf) != 0.0)
    many = np.diff([*starts, len(time)])
    usual = float(np.median(many))
    steps = np.diff(time[starts])
    step = float(np.median(steps[steps > 0])) if (steps > 0).any() else 1.0
    within = np.arange(len(time)) - np.repeat(starts, many)
    # The first second may have been cut: its rows lie at its end.
    within = within + np.repeat(np.where(np.arange(len(many)) == 0, np.maximum(0, usual - many), 0), many)
    return np.asarray(time + within / np.repeat(np.maximum(many, usual), many) * step)


def judgements_missing(recording: Recording) -> tuple[str, ...]:
    """What cannot be said of a flight without the columns that it lacks, in words."""
    return tuple(
        f"{what}: no {QUANTITIES[column].label.lower()}"
        for columns, what in NEEDS
        for column in columns
        if not recording.has(column)
    )


NEEDS: tuple[tuple[tuple[Column, ...], str], ...] = (
    ((Column.IAS,), "Entry and top speed, stalls, spin or spiral"),
    ((Column.G,), "Pull, onset, g while rolling"),
    ((Column.PITCH, Column.BANK), "Attitude, turns, roll, wings level at the pull"),
    ((Column.HEADING,), "Heading kept, turns of a spin"),
    ((Column.RUDDER, Column.ELEVATOR), "Order of hands and feet"),
    ((Column.THROTTLE,), "When the power came off"),
)


def on_its_own(flights: tuple[Recording, ...], at: int) -> Recording:
    """One of the flights of a file. Raises Wrong where there is none of this number (from 0)."""
    if not 0 <= at < len(flights):
        raise Wrong(("flight", f"there is no flight {at + 1} of {len(flights)}", "Choose one that there is."))
    return flights[at]
