"""Checks of the day: what nobody gave, visibility, cloud, wind, the age of the report, daylight."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from keelturn.flying.conditions import Conditions
from keelturn.margins.checks import Check, Kind, Verdict, judged, passed
from keelturn.plan.whole_flight import Flight
from keelturn.school.place import Place
from keelturn.weather.day import NOT_GIVEN, TYPED_IN
from keelturn.weather.report import age_in_words
from keelturn.weather.sun import sunrise, sunset
from keelturn.working import Answer, Source, given, in_words


def _not_given(kind: Kind, title: str, words: str, asked: Answer, c: Conditions) -> Check:
    """Weather that nobody gave: a stop when the flight is today."""
    verdict = Verdict.STOP if c.weather_due else Verdict.MIND
    hint = "Fetch or paste a report, or type it in."
    return Check(kind, verdict, title, words, asked, None, NOT_GIVEN, hint=hint)


def air(f: Flight, c: Conditions) -> Iterable[Check]:
    missing = [
        words
        for words, name in (("QNH", "qnh_hpa"), ("temperature", "temperature_c"))
        if not c.day.is_given(name)
    ]
    if missing:
        which = " and ".join(missing)
        used = given("QNH used", c.day.pressure_hpa, "hPa", Source("day", c.day.source("qnh_hpa")))
        words = f"Not given: {which}. Heights and speeds are computed with the standard {which}."
        yield _not_given(Kind.AIR, f"{which[0].upper()}{which[1:]} not given", words, used, c)


def visibility(f: Flight, c: Conditions) -> Iterable[Check]:
    least, day = c.standards.visibility_sm.answer("Least visibility", "SM"), c.day
    if day.visibility_sm is None:
        words = f"Not given; {least.shown} asked for."
        yield _not_given(Kind.VISIBILITY, "Visibility not given", words, least, c)
        return
    origin = day.source("visibility_sm")
    seen = given("Visibility", day.visibility_sm, "SM", Source("day", origin))
    words = f"{seen.shown} {origin if origin == TYPED_IN else 'reported'}, {least.shown} asked for."
    yield judged(Kind.VISIBILITY, "Visibility", words, seen, least, seen.value - least.value, 2.0)


def cloud(f: Flight, c: Conditions) -> Iterable[Check]:
    highest = max((p.start_ft for p in f.plan.figures), default=0.0)
    above = c.standards.cloud_above_ft.answer("Kept below cloud", "ft", "up")
    top = in_words(highest, "ft", "up")
    if not c.day.is_given("cloud_base_ft"):
        words = f"Not given; the highest start is {top} and {above.shown} is kept below cloud."
        yield _not_given(Kind.CLOUD, "Cloud base not given", words, above, c)
    if c.day.cloud_base_ft is None:
        return
    source = Source("day", f"{c.day.source('cloud_base_ft')}, on QNH")
    base = given("Cloud base", c.day.cloud_base_ft, "ft", source, "down")
    words = f"Base {base.shown}; the highest start is {top} and {above.shown} is kept below cloud."
    yield judged(Kind.CLOUD, "Cloud base", words, base, above, base.value - highest - above.value, 500.0)


def wind(f: Flight, c: Conditions) -> Iterable[Check]:
    """Surface wind, and the gusts of the report where it has them."""
    most = c.standards.wind_most_kt.answer("Most wind, gusts counted", "kt")
    gust, source = c.day.gust_kt, Source("day", c.day.source("wind_from_deg"))
    if c.day.wind_kt is None and gust is None:
        words = f"Not given; the school flies this up to {most.shown}. Drift is computed in calm air."
        yield _not_given(Kind.WIND, "Wind not given", words, most, c)
        return
    speed = c.day.wind_kt or 0.0
    blows = given("Wind, gusts counted", max(speed, gust or 0.0), "kt", source, "up")
    words = f"{speed:.0f} kt" + (f", gusts to {gust:.0f}" if gust is not None else "")
    words = f"{words}; the school flies this up to {most.shown}."
    if c.day.wind_from_deg is None:
        words += " No direction given: drift is computed in calm air."
    yield judged(Kind.WIND, "Wind", words, blows, most, most.value - blows.value, 5.0)


def report(f: Flight, c: Conditions) -> Iterable[Check]:
    """The age of the report at the time of the flight; nothing where there is no report, or no time."""
    if c.day.observed is None or c.off_blocks is None:
        return
    limit = c.standards.report_min.answer("Oldest report used", "min")
    age = (c.off_blocks - c.day.observed).total_seconds() / 60.0
    source = Source("day", c.day.report[:60] or "report")
    old = given("Age of the report at the time of the flight", age, "min", source)
    if age > limit.value:
        words, hint = f"It will be {age_in_words(age)} old when you fly.", "Fetch or paste a newer one."
        yield passed(Kind.REPORT, Verdict.MIND, "Weather report", words, old, limit, hint)


def daylight(f: Flight, c: Conditions) -> Iterable[Check]:
    """Sunset less the school's minutes against the end of the flight; nothing where the place has no position
    or the plan no time."""
    if c.off_blocks is None or c.place.latitude_deg is None or c.place.longitude_deg is None:
        return
    sets = sunset(c.place.latitude_deg, c.place.longitude_deg, c.off_blocks)
    if sets is None:
        return
    yield from _before_sunrise(c.place, c.off_blocks)
    kept = c.standards.daylight_min.answer("Kept before sunset", "min")
    ends = c.off_blocks + timedelta(minutes=f.minutes.value)
    room = (sets - ends).total_seconds() / 60.0 - kept.value
    if not -720.0 < room < 720.0:
        return
    source = Source("day", "sun's position at the place (astral)")
    left = given("From the end of the flight to sunset", room + kept.value, "min", source, "down")
    comes = "comes too soon" if room < 0 else "leaves enough"
    words = f"Sunset is at {sets:%H:%M %Z} and {comes}: down at {ends:%H:%M %Z}, {kept.shown} kept"
    words += " before it."
    yield judged(Kind.DAYLIGHT, "Daylight", words, left, kept, room, 20.0)


def _before_sunrise(place: Place, off_blocks: datetime) -> Iterable[Check]:
    """A stop where the flight would begin in the dark; nothing else."""
    assert place.latitude_deg is not None and place.longitude_deg is not None
    rises = sunrise(place.latitude_deg, place.longitude_deg, off_blocks)
    early = 0.0 if rises is None else (rises - off_blocks).total_seconds() / 60.0
    if rises is None or early <= 0.0:
        return
    source = Source("day", "sun's position at the place (astral)")
    dark = given("From the begin of the flight to sunrise", early, "min", source, "up")
    words = f"Sunrise is at {rises:%H:%M %Z}; the flight would begin at {off_blocks:%H:%M %Z}."
    yield judged(Kind.DAYLIGHT, "Before sunrise", words, dark, None, -early, 0.0, "Begin later.", "sunrise")
