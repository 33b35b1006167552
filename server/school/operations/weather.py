"""A day from a report, pasted or fetched, with what to know before it is used."""

from dataclasses import dataclass
from datetime import datetime

from keelturn.document import Wrong
from keelturn.formats.reading import refusal_of, refused
from keelturn.weather.day import Day, WindAt
from keelturn.weather.report import Report, doubts, read_report
from server.school.models import Place, SchoolStandards
from server.weather import NoReport, service


@dataclass(frozen=True, slots=True)
class DayRead:
    """The day with the report in it, the doubts about the report, and what of it was taken, in words."""

    day: Day
    doubts: tuple[str, ...]
    taken: str


def day_from_report(
    text: str,
    before: Day,
    place: Place,
    now: datetime,
    winds: tuple[tuple[float, float, float], ...] = (),
    fetched_from: str = "",
) -> DayRead:
    """`before` with what the report says; what it does not say stays. Raises Refused when it cannot be
    read."""
    where = place.document()
    elevation = where.station_elevation_ft if where.station_elevation_ft is not None else where.elevation_ft
    try:
        report = read_report(text, elevation, now)
    except Wrong as error:
        raise refusal_of(error) from error
    minutes = SchoolStandards.in_force().document().report_min.value
    fields, said = _fields(report)
    name = (
        f"METAR {report.station}"
        + (f" {report.observed:%d %H%M}Z" if report.observed else "")
        + (f", {fetched_from}" if fetched_from else "")
    )
    sources = {**before.sources, **dict.fromkeys(fields, name)}
    if winds:
        fields["winds"] = tuple(WindAt(height_ft=ft, from_deg=deg, kt=kt) for ft, deg, kt in winds)
        sources["winds"] = f"wind at height, {fetched_from}"
        said.append("wind at height")
    if report.wind_kt is not None:
        fields["wind_kt"], fields["gust_kt"] = report.wind_kt, report.gust_kt
    day = Day.model_validate(
        {
            **before.model_dump(),
            **fields,
            "report": report.text[:400],
            "observed": report.observed,
            "sources": sources,
        }
    )
    return DayRead(day, doubts(report, where.station, now, minutes), ", ".join(said))


def _fields(report: Report) -> tuple[dict[str, object], list[str]]:
    """Fields of a day that the report gives, and their words."""
    found: dict[str, object] = {}
    said = []
    for name, words, value in (
        ("qnh_hpa", "QNH", report.qnh_hpa),
        ("temperature_c", "temperature", report.temperature_c),
        ("visibility_sm", "visibility", report.visibility_sm),
        ("wind_from_deg", "wind", report.wind_from_deg),
    ):
        if value is not None:
            found[name] = value
            said.append(words)
    if report.cloud_base_ft is not None or report.no_ceiling:
        found["cloud_base_ft"] = report.cloud_base_ft
        said.append("cloud base")
    return found, said


def fetched_day(before: Day, place: Place, now: datetime) -> DayRead:
    """Raises Refused when the place has no station, or the service has no report or does not answer."""
    station = place.document().station
    if station is None:
        raise refused(
            "place.station",
            f"{place.name} has no weather station on record",
            "Paste a report, or have the chief enter the station.",
        )
    try:
        found = service().fetch(station, now)
    except NoReport as error:
        raise refused("weather", str(error), "Paste a report instead.") from error
    except ConnectionError as error:
        raise refused(
            "weather", "the weather service does not answer", "Paste a report instead, or try again."
        ) from error
    return day_from_report(found.metar, before, place, now, found.winds, found.source)
