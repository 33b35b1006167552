"""A METAR read into the numbers that a plan asks for, each with where it came from.

The code is WMO No. 306, FM 15 (ICAO Annex 3 gives its use); it is decoded by the `metar` library. Heights of
cloud in a report are above the station; here they are turned to heights on QNH with the station's elevation.
"""

import re
import warnings
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from keelturn.document import Wrong
from keelturn.units import SM

# Cover that counts as a base to stay below: scattered and few do not (ICAO's ceiling is broken or overcast
# below 20,000 ft; from memory).
CEILINGS = ("BKN", "OVC", "VV")
EXAMPLE = "METAR XSKA 251350Z 24014KT 9999 BKN076 11/07 Q1009"
TEN_KM_SM = 10000.0 / SM


@dataclass(frozen=True, slots=True)
class Report:
    """What a report says; None where it does not say. Wind deg true and kt; cloud_base_ft on QNH; visibility
    in statute miles (10 km or more is given as 6.2). left_out: groups that could not be read."""

    text: str
    station: str
    observed: datetime | None
    wind_from_deg: float | None
    wind_kt: float | None
    gust_kt: float | None
    visibility_sm: float | None
    cloud_base_ft: float | None
    no_ceiling: bool
    temperature_c: float | None
    qnh_hpa: float | None
    left_out: str


def read_report(text: str, elevation_ft: float, now: datetime) -> Report:
    """Raises Wrong that says what of the text could not be read and what a report looks like.

    elevation_ft: of the station. now: aware; gives the report its month and year."""
    now = now.astimezone(UTC)
    plain = re.sub(r"\s+", " ", text).strip().rstrip("=").upper()
    read = _parsed(plain, now)
    observed = read.time.replace(tzinfo=UTC)
    if observed.month == now.month and (observed - now).days >= 1:
        # Written late last month: the day is ahead of today's.
        month = now.month - 1 or 12
        observed = observed.replace(month=month, year=now.year - (month == 12))
    ceilings = [layer[1].value("FT") for layer in read.sky if layer[0] in CEILINGS and layer[1] is not None]
    cavok = "CAVOK" in plain.split()
    visibility = TEN_KM_SM if cavok else None if read.vis is None else read.vis.value("SM")
    return Report(
        plain,
        read.station_id,
        observed,
        None if read.wind_dir is None else float(read.wind_dir.value()),
        None if read.wind_speed is None else float(read.wind_speed.value("KT")),
        None if read.wind_gust is None else float(read.wind_gust.value("KT")),
        None if visibility is None else round(visibility, 1),
        (min(ceilings) + elevation_ft) // 100.0 * 100.0 if ceilings else None,
        not ceilings and (cavok or bool(read.sky)),
        None if read.temp is None else float(read.temp.value("C")),
        None if read.press is None else round(float(read.press.value("HPA")), 1),
        " ".join(group for group in getattr(read, "_unparsed_groups", ())),
    )


def _parsed(plain: str, now: datetime) -> Any:
    """What the library read of it, with at least a station, a time and one number. Raises Wrong."""
    from metar.Metar import Metar, ParserError

    if not plain:
        raise _unread("there is no report", f"Paste one, such as {EXAMPLE}.")
    if re.match(r"^(TAF|SIGMET|AIRMET)\b", plain):
        raise _unread(
            f"this is a {plain.split()[0]}, not a METAR", "Paste the report that begins with METAR or SPECI."
        )
    try:
        with warnings.catch_warnings():
            # Groups that it could not read are asked for below.
            warnings.simplefilter("ignore")
            read = Metar(plain, month=now.month, year=now.year, strict=False)
    except (ParserError, ValueError, AttributeError) as error:
        raise _unread(
            f"this cannot be read as a METAR ({_short(error)})",
            "Paste the whole line, station and time first.",
        ) from error
    if read.station_id is None or read.time is None:
        raise _unread(
            f"no station and time at the beginning of '{plain[:40]}'",
            f"Paste the whole line, such as {EXAMPLE}.",
        )
    if read.wind_speed is None and read.temp is None and read.press is None:
        raise _unread(
            f"nothing of '{plain[:60]}' could be read as wind, temperature or pressure",
            "Check it against the source.",
        )
    return read


def _unread(what: str, do: str) -> Wrong:
    return Wrong(("report", what, do))


def _short(error: Exception) -> str:
    return str(error).strip().splitlines()[0][:120] if str(error).strip() else type(error).__name__


def doubts(report: Report, station: str | None, now: datetime, old_min: float) -> tuple[str, ...]:
    """What to know before a report is used: that it is old, from elsewhere, or only read in part. now:
    aware."""
    found = []
    if report.observed is not None:
        age = (now - report.observed).total_seconds() / 60.0
        if age > old_min:
            found.append(f"{age_in_words(age)} old: ask for a newer one.")
        elif age < -10.0:
            found.append(f"dated {age_in_words(-age)} ahead of now: check its day and time.")
    if station and report.station != station:
        found.append(f"from {report.station}, not from {station}: wind, base and pressure can differ here.")
    if report.left_out:
        found.append(f"these groups were not understood and are left out: {report.left_out}.")
    if report.wind_kt and report.wind_from_deg is None:
        found.append("its wind has no one direction: the direction that stood there before is kept.")
    missing = [
        words
        for words, value in (
            ("wind", report.wind_kt),
            ("visibility", report.visibility_sm),
            ("temperature", report.temperature_c),
            ("pressure", report.qnh_hpa),
        )
        if value is None
    ]
    if missing:
        found.append(f"it does not give {', '.join(missing)}: what stood there before is kept.")
    return tuple(found)


def age_in_words(minutes: float) -> str:
    if minutes < 120.0:
        return f"{minutes:.0f} minutes"
    return f"{minutes / 60.0:.0f} hours" if minutes < 48 * 60.0 else f"{minutes / 1440.0:.0f} days"
