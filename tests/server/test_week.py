"""The week: bookings by aircraft and instructor, moved and made longer; who is not to be had, by hand and
from a calendar's file."""

from datetime import UTC, date, datetime, timedelta

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from icalendar import Calendar

from server import clock
from server.school.models import Deed, Person, Place, Sortie, Student, Taken
from server.school.operations.taken import read_calendar
from tests.server.conftest import post
from tests.server.test_booking import book

NOON = datetime(2026, 9, 9, 12, 0, tzinfo=UTC)


@pytest.fixture(autouse=True)
def in_london(settings):
    """An hour ahead of UTC in September."""
    settings.TIME_ZONE = "Europe/London"


@pytest.fixture
def wednesday(school):
    """A Wednesday with a sortie of Ana's with Bo at noon, which is 13:00 at the school."""
    with clock.as_of(NOON - timedelta(hours=4)):
        yield school.sortie("ana", "bo", NOON)


def week(client, **asked):
    return client.get("/api/week", asked).json()


def of(found, sortie):
    return next(s for s in found["sorties"] if s["id"] == sortie.pk)


def test_a_week_begins_on_monday_and_ends_before_the_next(wednesday, school, as_):
    monday = datetime(2026, 9, 7, 0, 0, tzinfo=UTC) - timedelta(hours=1)
    first = school.sortie("dee", "cy", monday)
    for at in (monday - timedelta(minutes=1), monday + timedelta(days=7)):
        school.sortie("dee", "cy", at)
    found = week(as_("bo"))
    assert found["monday"] == "2026-09-07"
    assert [s["id"] for s in found["sorties"]] == [first.pk, wednesday.pk]
    assert week(as_("bo"), day="2026-09-13")["monday"] == "2026-09-07"
    assert week(as_("bo"), day="2026-09-14")["monday"] == "2026-09-14"
    for beyond in ("1999-12-31", "9999-12-31", "soon"):
        assert as_("bo").get("/api/week", {"day": beyond}).status_code == 422


def test_a_student_sees_their_own_bookings_and_nobody_elses_dates_or_times(wednesday, school, as_):
    school.sortie("dee", "cy", NOON)
    bo = school.people["bo"]
    away = {"begins": NOON, "ends": NOON + timedelta(hours=1), "words": "dentist", "by": bo}
    Taken.objects.create(person=bo, **away)
    assert len(week(as_("bo"))["sorties"]) == 2
    found = week(as_("ana"))
    assert [s["id"] for s in found["sorties"]] == [wednesday.pk]
    assert (found["taken"], of(found, wednesday)["clashes"]) == ([], [])
    assert not of(found, wednesday)["may_book"]


def test_the_light_of_each_day_is_that_of_the_place(wednesday, school, as_):
    """By the sunrise equation, with the sun 5.0 degrees north and 2.7 minutes early: 05:56 and 19:13 UTC; a
    place without a position has none."""
    where = {**school.place.place, "name": "Island", "latitude_deg": 58.0, "longitude_deg": -9.4}
    island = Place.objects.create(name="Island", place=where)
    light = [one for one in week(as_("bo"))["light"] if one["day"] == "2026-09-09"]
    by_place = {one["place_id"]: one for one in light}
    assert (by_place[school.place.pk]["rises"], by_place[school.place.pk]["sets"]) == (None, None)
    rises, sets = (datetime.fromisoformat(by_place[island.pk][what]) for what in ("rises", "sets"))
    assert abs(rises - datetime(2026, 9, 9, 5, 56, tzinfo=UTC)) < timedelta(minutes=3)
    assert abs(sets - datetime(2026, 9, 9, 19, 13, tzinfo=UTC)) < timedelta(minutes=3)


def test_longer_it_stays_briefed_and_ends_later(wednesday, school, as_):
    sortie = school.brought_to("briefed")
    sortie.planned_for = NOON + timedelta(days=1)
    sortie.save()
    found = book(as_("bo"), sortie, minutes=120).json()
    assert (found["stage"], [c["after"] for c in found["rebooked"]]) == ("briefed", ["120 min"])
    booked = of(week(as_("bo")), sortie)
    begins, ends = (datetime.fromisoformat(booked[what]) for what in ("begins", "ends"))
    assert ends - begins == timedelta(minutes=120)
    assert book(as_("bo"), sortie, minutes=14).status_code == 422
    assert book(as_("bo"), sortie, minutes=721).status_code == 422


def test_as_long_as_the_school_books_one_is_no_change(wednesday, as_):
    assert book(as_("bo"), wednesday, minutes=90).json()["rebooked"] == []


def test_a_longer_one_clashes_with_what_begins_before_it_ends(wednesday, school, as_):
    school.sortie("dee", "cy", NOON + timedelta(minutes=90))
    assert of(week(as_("bo")), wednesday)["clashes"] == []
    book(as_("bo"), wednesday, minutes=105)
    assert of(week(as_("bo")), wednesday)["clashes"] == ["QX-TST already booked at 14:30"]


def test_in_another_aircraft_it_has_that_ones_card_and_a_load_of_its_own(wednesday, school, as_):
    found = book(as_("bo"), wednesday, aircraft_id=school.no_spins.pk).json()
    assert (found["aircraft"], found["stage"]) == ("QX-NOS", "planned")
    assert found["card"]["name"] == school.no_spins.card["name"]
    assert any(c["kind"] == "approved" and c["verdict"] == "stop" for c in found["answer"]["checks"])
    assert [(c["what"], c["after"]) for c in found["rebooked"]] == [("aircraft", "QX-NOS")]
    wednesday.refresh_from_db()
    assert wednesday.card_kept == school.no_spins.card


def test_the_chief_plans_for_another_instructor_who_then_flies_it(wednesday, school, as_):
    asked = {
        "student_id": school.student("dee").pk,
        "aircraft_id": school.aircraft.pk,
        "instructor_id": school.people["cy"].pk,
    }
    school.people["cy"].weight_lb = 201
    school.people["cy"].save()
    at = (NOON + timedelta(days=1)).isoformat()
    found = post(as_("chief"), "/api/sorties/proposal", {**asked, "planned_for": at, "lesson": "free"}).json()
    assert 201 in (found["plan"]["load"]["front_lb"], found["plan"]["load"]["rear_lb"])
    new = {**asked, "place_id": school.place.pk, "planned_for": at}
    made = post(as_("chief"), "/api/sorties", new).json()
    assert (made["instructor"], made["may"]["save"]) == ("Cy", False)
    student = post(as_("chief"), "/api/sorties", {**new, "instructor_id": school.people["ana"].pk})
    assert student.status_code == 422


def away(client, begins=NOON, hours=1.0, words="Dentist", **whose):
    ends = begins + timedelta(hours=hours)
    body = {"begins": begins.isoformat(), "ends": ends.isoformat(), "words": words, **whose}
    return post(client, "/api/taken", body)


def test_who_is_not_to_be_had_clashes_with_what_is_booked_then(wednesday, school, as_):
    bo, ana = school.people["bo"], school.people["ana"]
    assert away(as_("bo"), NOON - timedelta(hours=1), person_id=bo.pk).status_code == 201
    assert of(week(as_("bo")), wednesday)["clashes"] == []
    away(as_("bo"), aircraft_id=school.aircraft.pk, words="Tyre")
    away(as_("bo"), person_id=ana.pk, hours=48)
    assert of(week(as_("bo")), wednesday)["clashes"] == [
        "QX-TST not to be had 13:00 to 14:00: Tyre",
        "Ana not to be had Wed 09 Sep 13:00 to Fri 11 Sep 13:00: Dentist",
    ]
    found = as_("bo").get(f"/api/sorties/{wednesday.pk}").json()
    assert len(found["clashes"]) == 2


@pytest.mark.parametrize(
    ("asker", "whose", "status"),
    [
        ("chief", "cy", 201),
        ("bo", "cy", 403),
        ("bo", "bo", 201),
        ("bo", "ana", 201),
        ("ana", "ana", 201),
        ("ana", "dee", 403),
        ("ana", "bo", 403),
    ],
)
def test_everybody_says_it_of_themselves_instructors_of_students_the_chief_of_all(
    wednesday, school, as_, asker, whose, status
):
    assert away(as_(asker), person_id=school.people[whose].pk).status_code == status
    assert Taken.objects.count() == (status == 201)
    assert Deed.objects.filter(what="not to be had").count() == (status == 201)


def test_of_one_person_or_one_aircraft_and_for_some_time(wednesday, school, as_):
    bo, aircraft = school.people["bo"].pk, school.aircraft.pk
    assert away(as_("ana"), aircraft_id=aircraft).status_code == 403
    assert away(as_("bo"), person_id=bo, aircraft_id=aircraft).status_code == 422
    assert away(as_("bo")).status_code == 422
    for hours in (0, -1, 24 * 401):
        assert away(as_("bo"), hours=hours, person_id=bo).status_code == 422
    assert away(as_("bo"), words="  ", person_id=bo).status_code == 422
    assert not Taken.objects.exists()


def test_it_is_taken_back_by_who_may_say_it(wednesday, school, as_):
    made = away(as_("bo"), person_id=school.people["bo"].pk).json()
    assert as_("cy").delete(f"/api/taken/{made['id']}").status_code == 403
    assert as_("ana").delete(f"/api/taken/{made['id']}").status_code == 404
    assert as_("bo").delete(f"/api/taken/{made['id']}").status_code == 204
    assert not Taken.objects.exists()


def ics(*events: str) -> bytes:
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//tests//EN"]
    for n, event in enumerate(events):
        lines += [
            "BEGIN:VEVENT",
            f"UID:{n}@tests",
            "DTSTAMP:20260101T000000Z",
            *event.split("|"),
            "END:VEVENT",
        ]
    return "\r\n".join([*lines, "END:VCALENDAR", ""]).encode()


AT_NOON = "DTSTART:20260909T120000Z|DTEND:20260909T130000Z|SUMMARY:Dentist"


def read(*events):
    with clock.as_of(NOON - timedelta(hours=4)):
        return read_calendar(ics(*events), clock.now())


@pytest.mark.django_db
class TestReading:
    """RFC 5545: what a busy time is. Europe/London is an hour ahead of UTC then."""

    def test_a_time_in_utc_one_of_a_zone_one_of_no_zone_and_a_whole_day(self):
        found = read(
            AT_NOON,
            "DTSTART;TZID=Europe/Berlin:20260909T150000|DURATION:PT30M|SUMMARY:Berlin",
            "DTSTART:20260909T160000|DTEND:20260909T170000|SUMMARY:Floating",
            "DTSTART;VALUE=DATE:20260910|DTEND;VALUE=DATE:20260912|SUMMARY:Away",
        )
        assert [(f.words, f.begins.astimezone(UTC), f.ends - f.begins) for f in found] == [
            ("Dentist", NOON, timedelta(hours=1)),
            ("Berlin", NOON + timedelta(hours=1), timedelta(minutes=30)),
            ("Floating", NOON + timedelta(hours=3), timedelta(hours=1)),
            ("Away", datetime(2026, 9, 9, 23, tzinfo=UTC), timedelta(days=2)),
        ]

    def test_a_repeated_one_is_each_of_its_times_without_those_taken_out(self):
        found = read(f"{AT_NOON}|RRULE:FREQ=WEEKLY;COUNT=4|EXDATE:20260923T120000Z")
        assert [f.begins.date() for f in found] == [
            date(2026, 9, 9),
            date(2026, 9, 16),
            date(2026, 9, 30),
        ]

    def test_one_that_never_ends_is_read_for_four_hundred_days(self):
        found = read(f"{AT_NOON}|RRULE:FREQ=WEEKLY")
        assert len(found) == 58
        assert found[-1].begins < NOON + timedelta(days=400)

    @pytest.mark.parametrize(
        ("more", "why"),
        [
            ("TRANSP:TRANSPARENT", "shown as free"),
            ("STATUS:CANCELLED", "cancelled"),
            ("UID:sortie-4@keelturn.invalid", "a booking of this school: moved here, not there"),
        ],
    )
    def test_what_takes_nobodys_time_is_left_out_and_says_why(self, more, why):
        content = ics(f"{AT_NOON}|{more}")
        if more.startswith("UID"):
            content = content.replace(b"UID:0@tests\r\n", b"")
        with clock.as_of(NOON - timedelta(hours=4)):
            assert [f.left_out for f in read_calendar(content, clock.now())] == [why]

    def test_what_is_over_is_not_read_and_what_still_lasts_is(self):
        found = read(
            "DTSTART:20260908T120000Z|DTEND:20260908T130000Z|SUMMARY:Yesterday",
            "DTSTART:20260908T120000Z|DTEND:20260909T130000Z|SUMMARY:Since yesterday",
        )
        assert [f.words for f in found] == ["Since yesterday"]


def send(client, content, store=False, **whose):
    asked = "&".join(f"{k}={v}" for k, v in {**whose, "store": str(store).lower(), "name": "w.ics"}.items())
    return client.post(f"/api/taken-file?{asked}", content, content_type="application/octet-stream")


@pytest.mark.parametrize(
    "content", [b"", b"\xff\xfe\x00", b"BEGIN:VCARD\r\nEND:VCARD\r\n", b"hello", b"BEGIN:VCALENDAR\r\n"]
)
def test_what_is_no_calendar_is_refused_in_words(wednesday, school, as_, content):
    found = send(as_("bo"), content, person_id=school.people["bo"].pk)
    assert found.status_code == 422
    assert found.json()["problems"][0]["what"] == "this is no iCalendar file"


def test_a_file_is_looked_at_then_stored_and_the_next_one_takes_its_place(wednesday, school, as_):
    bo = school.people["bo"]
    away(as_("bo"), NOON + timedelta(days=2), person_id=bo.pk, words="By hand")
    first = ics(AT_NOON, f"{AT_NOON}|TRANSP:TRANSPARENT")
    looked = send(as_("bo"), first, person_id=bo.pk).json()
    assert (looked["of"], len(looked["found"]), looked["stored"]) == ("Bo", 2, None)
    assert Taken.objects.count() == 1
    assert send(as_("bo"), first, store=True, person_id=bo.pk).json()["stored"] == 1
    assert of(week(as_("bo")), wednesday)["clashes"] == ["Bo not to be had 13:00 to 14:00: Dentist"]
    later = AT_NOON.replace("T12", "T15").replace("T13", "T16")
    send(as_("bo"), ics(later), store=True, person_id=bo.pk)
    assert [t.words for t in Taken.objects.order_by("begins")] == ["Dentist", "By hand"]
    assert of(week(as_("bo")), wednesday)["clashes"] == []
    assert send(as_("cy"), first, store=True, person_id=bo.pk).status_code == 403


def test_too_many_events_are_refused(wednesday, school, as_):
    content = ics(*[AT_NOON] * 501)
    found = send(as_("bo"), content, store=True, person_id=school.people["bo"].pk)
    assert "more than 500" in found.json()["problems"][0]["what"]


def test_the_feed_ends_when_the_booking_ends(wednesday, as_):
    book(as_("bo"), wednesday, minutes=45)
    found = as_("bo").get(f"/api/sorties/{wednesday.pk}/booking.ics")
    event = Calendar.from_ical(found.content).walk("VEVENT")[0]
    assert event.end - event.start == timedelta(minutes=45)


def test_the_queries_of_a_week_do_not_rise_with_its_sorties(wednesday, school, as_):
    client = as_("chief")

    def asked():
        with CaptureQueriesContext(
            connection,
        ) as queries:
            week(client)
        return len(queries)

    few = asked()
    for n in range(3):
        person = Person.objects.create(username=f"s{n}", name=f"S{n}", role="student")
        Student.objects.create(person=person, stage="practised")
        sortie = Sortie.objects.get(pk=wednesday.pk)
        sortie.pk, sortie.student, sortie.planned_for = None, person.student, NOON + timedelta(hours=n)
        sortie.save()
    assert asked() == few
