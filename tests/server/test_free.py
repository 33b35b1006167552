"""The next hour that is proposed for a sortie: aircraft and people free, in date, in daylight."""

from datetime import UTC, datetime, timedelta

import pytest
from django.utils import timezone

from keelturn.progress.booking import DAYS_AHEAD, in_daylight, next_slot, slot, slots_ahead
from keelturn.school.place import Place as PlaceDocument
from server import clock
from server.school.models import DueDate, Place, Taken
from server.school.operations.free import NOT_FREE, next_free
from tests.server.conftest import post


def first_hour():
    return next_slot(timezone.localtime(clock.now()))


def free_for(school, student="ana", instructor="bo"):
    return next_free(school.aircraft, school.people[instructor], school.student(student), [school.place])


def test_with_nothing_booked_it_is_the_next_hour(school):
    assert free_for(school).at == first_hour()


@pytest.mark.parametrize(
    ("student", "instructor", "of_the_other"),
    [("dee", "bo", "instructor"), ("ana", "cy", "student"), ("dee", "cy", "aircraft")],
)
def test_whoever_or_whatever_is_booked_is_not_free(school, student, instructor, of_the_other):
    """Another sortie that shares one of the three takes its 90 minutes and the hour in which they end."""
    school.sortie("ana", "bo", first_hour())
    found = free_for(school, student, instructor).at
    taken = {
        hour
        for hour in (first_hour(), next_slot(first_hour()))
        if hour < first_hour() + timedelta(minutes=90)
    }
    assert found == next(
        s.begins for s in slots_ahead(timezone.localtime(clock.now()), 90) if s.begins not in taken
    )
    nobody = next_free(school.no_spins, school.people["cy"], school.student("dee"), [school.place])
    assert nobody.at == first_hour()


@pytest.mark.parametrize("of", ["aircraft", "bo", "ana"])
def test_who_is_away_is_not_free(school, of):
    whose = {"aircraft": school.aircraft} if of == "aircraft" else {"person": school.people[of]}
    ends = first_hour() + timedelta(days=2)
    Taken.objects.create(
        begins=first_hour() - timedelta(days=1), ends=ends, words="Away", by=school.people["bo"], **whose
    )
    assert free_for(school).at >= ends


@pytest.mark.parametrize("of", ["aircraft", "bo", "ana"])
@pytest.mark.parametrize("stops", [True, False])
def test_after_a_date_that_stops_nobody_is_free(school, of, stops):
    whose = {"aircraft": school.aircraft} if of == "aircraft" else {"person": school.people[of]}
    last = first_hour().date()
    DueDate.objects.create(what="Medical", until=last, warn_days=30, stops=stops, **whose)
    # Its last day is a valid day.
    assert free_for(school).at == first_hour()
    DueDate.objects.update(until=last - timedelta(days=1))
    assert (free_for(school).words == NOT_FREE) == stops


def test_in_the_dark_nobody_is_free(school):
    document = {**school.place.place, "latitude_deg": 10.0, "longitude_deg": 175.0}
    Place.objects.filter(pk=school.place.pk).update(place=document)
    school.read_again()
    assert free_for(school).words == NOT_FREE
    Place.objects.update(place={**document, "latitude_deg": None, "longitude_deg": None})
    school.read_again()
    assert "daylight at Test block not known" in free_for(school).words


def test_it_is_in_daylight_at_every_place_that_the_plan_may_choose(school):
    """The second lies further west: what is light at the first alone is not proposed."""
    here = {**school.place.place, "latitude_deg": 0.0, "longitude_deg": 0.0}
    there = {**here, "name": "Western block", "longitude_deg": -75.0}
    Place.objects.filter(pk=school.place.pk).update(place=here)
    Place.objects.create(place=there, name="Western block")
    places = list(Place.objects.order_by("pk"))
    whose = school.aircraft, school.people["bo"], school.student("ana")
    (alone, both) = (next_free(*whose, some) for some in (places[:1], places))
    for place, found in ((places[0], alone), (places[0], both), (places[1], both)):
        assert in_daylight(slot(found.at, 90), place.document(), 30)
    assert both.at > alone.at
    assert "in daylight at Test block and Western block" in both.words


@pytest.mark.parametrize(
    ("begins", "kept", "light"),
    # Sunrise 06:09 and sunset 18:16 at the equator on that day.
    [((6, 0), 0, False), ((6, 30), 0, True), ((16, 40), 0, True), ((16, 40), 30, False), ((17, 0), 0, False)],
)
def test_daylight_is_from_sunrise_to_what_is_kept_before_sunset(begins, kept, light):
    place = PlaceDocument(name="P", elevation_ft=0, block_top_ft=6000, latitude_deg=0, longitude_deg=0)
    assert in_daylight(slot(datetime(2031, 3, 5, *begins, tzinfo=UTC), 90), place, kept) == light


def test_days_are_looked_at_as_far_as_is_said():
    now = datetime(2031, 3, 5, 9, 0, tzinfo=UTC)
    found = list(slots_ahead(now, 90))
    assert (found[0].begins, found[-1].begins) == (
        now.replace(hour=10, minute=0),
        datetime(2031, 3, 25, 14, tzinfo=UTC),
    )
    assert found[-1].begins + timedelta(hours=20) > now + timedelta(days=DAYS_AHEAD)
    assert len({s.begins for s in found}) == len(found)


def test_the_proposal_says_by_what_the_time_was_chosen(school, as_):
    asked = {"student_id": school.student("ana").pk, "aircraft_id": school.aircraft.pk, "lesson": "free"}
    found = post(as_("bo"), "/api/sorties/proposal", asked).json()
    assert found["when"].startswith("The next hour at which all are free")
    at = first_hour().isoformat()
    assert post(as_("bo"), "/api/sorties/proposal", {**asked, "planned_for": at}).json()["when"] == ""
