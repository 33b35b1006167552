"""A day from a report, pasted or fetched, with what to know before it is used. Where a field of a plan's day
came from is what was read here, never what a sender says."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from keelturn.document import HIGHEST_FT, Wrong
from keelturn.formats.fields import place_in_words
from keelturn.formats.reading import Refused, read_document, refusal_of, refused
from keelturn.plan.document import PlanDocument
from keelturn.weather.day import Day
from keelturn.weather.report import Report, doubts, read_report
from server.school.models import Person, Place, SchoolStandards, WeatherRead
from server.weather import NoReport, service


@dataclass(frozen=True, slots=True)
class DayRead:
    """The day with the report in it, the doubts about the report, and what of it was taken, in words."""

    day: Day
    doubts: tuple[str, ...]
    taken: str


def day_from_report(
    person: Person,
    text: str,
    before: Day,
    place: Place,
    now: datetime,
    winds: tuple[tuple[float, float, float], ...] = (),
    fetched_from: str = "pasted",
) -> DayRead:
    """`before` with what the report says; what it does not say stays. Kept, so that a plan may say that it
    came from there. Raises Refused when it cannot be read, or says what cannot be."""
    where = place.document()
    elevation = where.station_elevation_ft if where.station_elevation_ft is not None else where.elevation_ft
    try:
        report = read_report(text, elevation, now)
    except Wrong as error:
        raise refusal_of(error) from error
    minutes = SchoolStandards.in_force().document().report_min.value
    fields, said = _fields(report)
    observed = f" {report.observed:%d %H%M}Z" if report.observed else ""
    reported = f"METAR {report.station}{observed}, {fetched_from}"
    sources = dict.fromkeys(fields, reported)
    if winds:
        fields["winds"] = [{"height_ft": ft, "from_deg": deg, "kt": kt} for ft, deg, kt in winds]
        sources["winds"] = f"wind at height, {fetched_from}"
        said.append("wind at height")
    if report.wind_kt is not None:
        # One group: a variable wind has no direction, and keeps none of an earlier report's.
        wind = {"wind_from_deg": report.wind_from_deg, "wind_kt": report.wind_kt, "gust_kt": report.gust_kt}
        fields |= wind
        sources["wind_from_deg"] = reported
    day = _possible(
        {
            **before.model_dump(mode="json"),
            **fields,
            "report": report.text[:400],
            "observed": report.observed,
            "sources": sources,
        },
        report.text,
    )
    read = {"report": day.report, "observed": day.observed, "values": _values(day, sources)}
    # Read again, it is there already.
    if not WeatherRead.objects.filter(**read, sources=sources).exists():
        WeatherRead.objects.create(**read, sources=sources, by=person)
    return DayRead(day, doubts(report, where.station, now, minutes), ", ".join(said))


def _possible(day: dict[str, Any], report: str) -> Day:
    """Raises Refused, with the report, where it says what no day can be."""
    try:
        return read_document(Day, day)
    except Refused as error:
        first = error.problems[0]
        field = place_in_words(f"plan.day.{first.where}").removeprefix("Day, ")
        raise refused(
            "report",
            f"it says what cannot be: {field}, {first.what}, in '{report[:80]}'",
            "Check it against the source, and correct the group that is wrong.",
        ) from error


# What a field of a report stands for: the wind is one group.
TOGETHER = {"wind_from_deg": ("wind_from_deg", "wind_kt", "gust_kt")}


def _values(day: Day, names: dict[str, str]) -> dict[str, Any]:
    """What was read for each of these, as it is stored."""
    plain = day.model_dump(mode="json")
    return {name: [plain[field] for field in TOGETHER.get(name, (name,))] for name in names}


def as_reported(plan: PlanDocument) -> PlanDocument:
    """The plan whose day says of each field that it came from a report only where this program read that
    report and the field is still as it was read. One query at most."""
    day = plan.day
    if not (day.report or day.sources or day.observed):
        return plan
    found = list(WeatherRead.objects.filter(report=day.report, observed=day.observed)[:20])
    sources: dict[str, str] = {}
    for read in reversed(found if day.report else []):
        now = _values(day, read.sources)
        sources |= {name: words for name, words in read.sources.items() if now[name] == read.values[name]}
    kept: dict[str, Any] = (
        {"sources": sources} if sources else {"sources": {}, "report": "", "observed": None}
    )
    return plan.model_copy(update={"day": day.model_copy(update=kept)})


def _fields(report: Report) -> tuple[dict[str, object], list[str]]:
    """Fields of a day that the report gives, and their words."""
    found: dict[str, object] = {}
    said = []
    for name, words, value in (
        ("qnh_hpa", "QNH", report.qnh_hpa),
        ("temperature_c", "temperature", report.temperature_c),
        ("visibility_sm", "visibility", report.visibility_sm),
        ("wind_from_deg", "wind direction", report.wind_from_deg),
    ):
        if value is not None:
            found[name] = value
            said.append(words)
    said += [
        words
        for words, value in (("wind speed", report.wind_kt), ("gusts", report.gust_kt))
        if value is not None
    ]
    if report.cloud_base_ft is not None or report.no_ceiling:
        base = report.cloud_base_ft
        found["cloud_base_ft"] = None if base is None or base > HIGHEST_FT else base
        said.append("cloud base")
    return found, said


# Of a flight so far ahead a report says something.
REPORT_HOURS = 3


def days_known(person: Person, places: Sequence[Place], at: datetime, now: datetime) -> dict[str, Day]:
    """The day as reported at each of these places, by its name, for a flight that begins soon: without those
    of which there is no report that can be used without a doubt."""
    if not now <= at <= now + timedelta(hours=REPORT_HOURS):
        return {}
    found = {}
    for place in places:
        try:
            read = fetched_day(person, Day(), place, now)
        except Refused:
            continue
        if not read.doubts:
            found[place.name] = read.day
    return found


def fetched_day(person: Person, before: Day, place: Place, now: datetime) -> DayRead:
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
    return day_from_report(person, found.metar, before, place, now, found.winds, found.source)
