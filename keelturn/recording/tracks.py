"""Tracks of loggers that have height and position alone: IGC and GPX, by the libraries for them."""

import io
from datetime import UTC, date, datetime
from typing import Any

import numpy as np
from numpy.typing import NDArray

from keelturn.document import Wrong
from keelturn.motion.legs import Floats
from keelturn.recording.problems import Problems, Unread
from keelturn.recording.table import Column, Recording
from keelturn.units import FT

Lines = NDArray[np.intp]
MIDNIGHT_S = 86400.0


def read_igc(text: str, problems: Problems) -> tuple[Recording, Lines, str]:
    """Heights of the file are metres (FAI technical specification for flight recorders, from memory); the
    third is what the header calls the aircraft, empty where it does not."""
    from aerofiles.igc.reader import LowLevelReader

    reader = LowLevelReader(io.StringIO(text))
    day: date | None = None
    aircraft = ""
    rows: list[tuple[float, float, float, float, float]] = []
    lines: list[int] = []
    for kind, told, error in reader:
        if error is not None and kind in "BH":
            problems.add(Unread.NOT_OF_THIS_FORM, [reader.line_number], kind, [f"{error}"])
        elif error is None and kind == "H":
            day = told.get("utc_date", day)
            aircraft = told.get("glider_registration") or aircraft
        elif error is None and kind == "B":
            at = told["time"]
            seconds = at.hour * 3600.0 + at.minute * 60.0 + at.second
            rows.append((seconds, told["pressure_alt"], told["gps_alt"], told["lat"], told["lon"]))
            lines.append(reader.line_number)
    if not rows:
        raise Wrong(("file", "it has no fixes", "Export the flight from the logger again."))
    table = np.array(rows, dtype=float)
    # After midnight the clock begins again.
    time = table[:, 0] + MIDNIGHT_S * np.concatenate([[0], np.cumsum(np.diff(table[:, 0]) < -MIDNIGHT_S / 2)])
    columns: dict[Column, Floats] = {Column.TIME: time}
    for column, values in ((Column.PRESSURE_HEIGHT, table[:, 1]), (Column.HEIGHT, table[:, 2])):
        # A logger without that sensor writes noughts.
        if values.any():
            columns[column] = values / FT
    columns[Column.LATITUDE], columns[Column.LONGITUDE] = table[:, 3], table[:, 4]
    zero = None if day is None else datetime(day.year, day.month, day.day, tzinfo=UTC)
    return Recording(columns, zero, of_day=True), np.array(lines, dtype=np.intp), aircraft


def read_gpx(text: str, problems: Problems) -> tuple[Recording, Lines]:
    """Elevations are metres (GPX 1.1 schema). Its points have no line of their own: they are counted."""
    import gpxpy
    from gpxpy.gpx import GPXException

    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise Wrong(("file", "it declares entities, which no track has", "Export the track again."))
    try:
        points: list[Any] = [
            point
            for track in gpxpy.parse(text).tracks
            for segment in track.segments
            for point in segment.points
        ]
    except GPXException as error:
        raise Wrong(
            (
                "file",
                f"it is no complete GPX: {error}"[:160],
                "Export the track again; it may have broken off.",
            )
        ) from error
    rows, lines = [], []
    for number, point in enumerate(points, 1):
        if point.time is None or point.elevation is None:
            lacks = "no time" if point.time is None else "no elevation"
            problems.add(Unread.NOT_OF_THIS_FORM, [number], "point", [f"the point has {lacks}"])
            continue
        rows.append((point.time.timestamp(), point.elevation / FT, point.latitude, point.longitude))
        lines.append(number)
    if not rows:
        raise Wrong(("file", "it has no points with time and elevation", "Export it as a track with times."))
    table = np.array(rows, dtype=float)
    columns = {
        Column.TIME: table[:, 0] - table[0, 0],
        Column.HEIGHT: table[:, 1],
        Column.LATITUDE: table[:, 2],
        Column.LONGITUDE: table[:, 3],
    }
    zero = datetime.fromtimestamp(float(table[0, 0]), UTC)
    return Recording(columns, zero), np.array(lines, dtype=np.intp)
