"""What each may do with a sortie at each stage, and how often the database is asked for it."""

from datetime import timedelta

import pytest

from keelturn.formats.fields import DOCUMENTS, fields_of
from keelturn.progress.course import Course
from keelturn.progress.stages import STAGES, Act
from keelturn.school.standards import Standards
from server import clock
from server.api.sorties import notices
from server.school.lasting.audit import SOURCES, Asked, lines, names_of
from server.school.lasting.erasing import signed_of, what_would_go
from server.school.models import CourseVersion, SchoolStandards, Sortie, Student
from server.school.operations.calendars import booked, key_of
from server.school.operations.chaining import head
from server.school.operations.clashes import clashes_among, clashes_at
from server.school.operations.computing import answer_for
from server.school.operations.courses import courses_for, save_course, versions_of
from server.school.operations.dates import dates_for, dates_of, ended_by, spun_dates
from server.school.operations.enrolling import flown_by, move_of, ways_of
from server.school.operations.first_start import steps
from server.school.operations.keeping import changes_of
from server.school.operations.own import count_population, own_numbers
from server.school.operations.people import ahead_of, everybody
from server.school.operations.proposing import places_to_plan_in, setting_of
from server.school.operations.record import attempt_rows, earlier_faults, faults_last_time
from server.school.operations.requirements import standings_of, stated_of
from server.school.operations.school import seen_by_the_chief
from server.school.operations.sorties import copy_sortie
from server.school.permissions import may, sorties_seen_by
from tests.courses import SMALL
from tests.server import sheets
from tests.server.conftest import post

# Who may do what, by stage: everything else is denied.
MAY = {
    "planned": {"bo": "plan book", "cy": "book", "chief": "book", "ana": "read ask"},
    "briefed": {"bo": "plan note book", "cy": "book", "chief": "book", "ana": "read ask own_view"},
    "flown": {"bo": "note grade", "chief": "hand_over", "ana": "ask own_view"},
    "debriefed": {"bo": "note grade sign", "chief": "hand_over", "ana": "ask own_view"},
    "signed": {"bo": "correct", "chief": "correct", "ana": "sheet"},
}


@pytest.mark.parametrize("stage", STAGES)
def test_what_each_may_do_at_each_stage(school, stage):
    sortie = school.brought_to("debriefed" if stage == "signed" else stage)
    sortie.stage = stage
    for who, person in school.people.items():
        found = [str(act) for act in Act if may(person, sortie, act)]
        assert sorted(found) == sorted(MAY[stage].get(who, "").split()), who


@pytest.mark.parametrize(
    ("who", "stage", "save", "move"),
    [
        ("bo", "planned", True, "briefed"),
        ("bo", "briefed", True, "flown"),
        ("bo", "flown", True, "debriefed"),
        ("bo", "debriefed", True, None),
        ("ana", "planned", False, None),
    ],
)
def test_the_page_is_told_what_may_be_done_and_what_is_marked_next(school, as_, who, stage, save, move):
    sortie = school.brought_to(stage)
    told = as_(who).get(f"/api/sorties/{sortie.pk}").json()
    assert (told["may"]["save"], told["may"]["move"]) == (save, move)
    assert {act for act in Act if told["may"][act]} == set(MAY[stage].get(who, "").split())
    assert told["reached"] == list(STAGES[1 : STAGES.index(stage) + 1])


def test_an_editor_is_told_every_field_of_its_document(as_):
    told = as_("ana").get("/api/forms").json()
    for name, model in DOCUMENTS.items():
        assert [field["path"] for field in told[name]] == [field.path for field in fields_of(model)]
        assert all(field["label"] for field in told[name])


@pytest.fixture
def flown(school) -> Sortie:
    for _ in range(3):
        made = school.brought_to("debriefed")
    return sorties_seen_by(school.people["chief"]).get(pk=made.pk)


def counts(school, sortie):
    """What says how many queries it takes, and how many."""
    chief = school.people["chief"]
    save_course(chief, None, 1, Course.model_validate(SMALL))
    school.enrolled("ana", "small")
    save_course(chief, "small", 1, Course.model_validate({**SMALL, "name": "Smaller"}))
    ana = Student.objects.select_related("person").get(person__name="Ana")
    drafts = [school.sortie(), school.sortie("dee", "cy")]
    at = clock.now() + timedelta(hours=2)
    bo, plane, done = school.people["bo"], school.aircraft, lines(Asked())
    return (
        (lambda: clashes_at(at, plane, bo, ana), 3),
        (lambda: clashes_among(drafts), 3),
        (lambda: clashes_among([]), 0),
        (lambda: answer_for(sortie), 2),
        (lambda: answer_for(drafts[0]), 16),
        (lambda: answer_for(drafts[0]), 6),
        (lambda: notices(at), 3),
        (lambda: attempt_rows(ana), 1),
        (lambda: faults_last_time([sortie, *drafts]), 2),
        (lambda: faults_last_time([]), 0),
        (lambda: earlier_faults(sortie), 2),
        (lambda: changes_of("aircraft 1"), 1),
        (everybody, 2),
        (lambda: ahead_of(bo), 2),
        (lambda: what_would_go(ana.person), 4),
        (lambda: signed_of([ana.person_id]), 1),
        (head, 1),
        (lambda: lines(Asked()), len(SOURCES)),
        (lambda: lines(Asked(source="stage")), 1),
        (lambda: names_of(done), 2),
        (steps, 6),
        (lambda: key_of(bo), 1),
        (lambda: booked(bo, at), 1),
        (lambda: setting_of(plane, ana, bo, at), 3),
        (lambda: setting_of(plane, ana, bo, at, with_record=True), 9),
        (lambda: own_numbers(ana, at), 2),
        (count_population, 5),
        # Counted, with what is stored of it; then as it is kept.
        (lambda: seen_by_the_chief(chief, 365), 26),
        (lambda: seen_by_the_chief(chief, 365), 1),
        (lambda: flown_by([ana], Standards()), 1),
        (lambda: ways_of([ana], clock.day_of(at)), 4),
        (lambda: courses_for(ana), 2),
        (lambda: move_of(ana), 4),
        (lambda: versions_of("small"), 1),
        (CourseVersion.in_force, 1),
        (places_to_plan_in, 1),
        (lambda: dates_of(ana.person_id, bo.pk, plane.pk), 1),
        (lambda: dates_for(sortie), 0),
        (lambda: ended_by(at, plane, bo, ana), 1),
        (lambda: list(spun_dates([bo], Standards())), 1),
        (lambda: standings_of(ana.person), 11),
        (lambda: standings_of(ana.person), 1),
        (lambda: stated_of(bo), 1),
    )


def test_the_database_is_asked_as_often_as_is_said(school, flown, django_assert_num_queries):
    for do, queries in counts(school, flown):
        with django_assert_num_queries(queries):
            do()


@pytest.mark.parametrize(
    ("url", "queries"),
    [
        ("/api/students", 2),
        ("/api/school", 1),
        ("/api/students/{ana}", 9),
        ("/api/figures/loop/book", 4),
        ("/api/courses", 2),
    ],
)
def test_a_page_asks_as_often_as_is_said(school, as_, django_assert_num_queries, url, queries):
    client, who = as_("chief" if url == "/api/school" else "bo"), 2
    url = url.format(ana=school.student("ana").pk)
    asked = {"aircraft_id": school.aircraft.pk, "place_id": school.place.pk}
    SchoolStandards.in_force()
    save_course(school.people["chief"], None, 1, Course.model_validate(SMALL))
    client.get(url, asked)
    with django_assert_num_queries(who + queries):
        assert client.get(url, asked).status_code == 200


def test_the_first_page_asks_as_often_whatever_the_number_of_sorties(school, as_, django_assert_num_queries):
    school.sortie()
    client = as_("bo")
    for _ in range(3):
        with django_assert_num_queries(2 + 9):
            assert client.get("/api/today").status_code == 200
        school.sortie("dee")


@pytest.mark.parametrize("stage", ["planned", "briefed", "flown"])
def test_a_student_knows_how_many_set_ups_there_are_and_until_the_flight_not_which(school, as_, stage):
    sortie = school.sortie()
    sheets.stored(as_("bo"), sortie, plan={**sortie.plan, "surprises": {"count": 3, "seed": 4711}})
    Sortie.objects.filter(pk=sortie.pk).update(stage=stage)
    known = as_("bo").get(sheets.url(sortie)).json()
    assert (known["plan"]["surprises"]["seed"], len(known["answer"]["drawn"]["set_ups"])) == (4711, 3)
    doors = [sheets.url(sortie, page) for page in ("", "/plan.json")]
    told = [as_("ana").get(door).content.decode() for door in doors]
    asked = post(as_("ana"), sheets.url(sortie, "/why"), {"at": "answer.drawn.set_ups.0.answer.start"})
    if stage == "flown":
        assert '"seed":4711' in told[0] and "set-up-1" in told[0]
        assert asked.status_code == 200
        return
    for text in told:
        assert '"seed":4711' not in text.replace(" ", "")
        assert "set-up-" not in text
    assert asked.status_code == 422
    shown = as_("ana").get(sheets.url(sortie)).json()
    assert shown["plan"]["surprises"] == {"count": 3, "seed": 0}
    assert shown["answer"]["unseen"] == "Eyes closed: 3 set-ups that are told in the air."


def test_a_copy_of_a_sortie_has_set_ups_of_its_own(school, as_):
    earlier = school.sortie()
    sheets.stored(as_("bo"), earlier, plan={**earlier.plan, "surprises": {"count": 3, "seed": 4711}})
    made = copy_sortie(
        school.people["bo"], earlier, school.student("dee"), school.aircraft, clock.now() + timedelta(days=1)
    )
    assert made.plan["surprises"]["count"] == 3
    assert made.plan["surprises"]["seed"] != 4711
