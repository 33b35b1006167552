"""The demo school: complete, deterministic, loaded only into an empty database."""

import random
from collections import Counter
from datetime import UTC, date, datetime
from io import StringIO

import pytest
from django.core.management import CommandError, call_command
from django.db import transaction
from django.db.models import Count

from keelturn.progress.courses import COURSES
from keelturn.progress.habits import fault_trends
from keelturn.progress.states import State
from keelturn.progress.way import STANDINGS
from server import recordings
from server.school.demo.history import PASTS, PastFlight, flown_attempts
from server.school.demo.loading import load_demo
from server.school.demo.many import load_many
from server.school.demo.recorded import FLIGHTS
from server.school.lasting.following import look
from server.school.models import (
    Aircraft,
    AttemptRow,
    Enrolment,
    Person,
    Place,
    Recorded,
    Signature,
    Sortie,
    Student,
)
from server.school.operations.chaining import head
from server.school.operations.computing import conditions_of_record, plan_of
from server.school.operations.enrolling import ways_of
from server.school.operations.record import attempt_rows, by_lesson
from server.school.operations.showing import record_of

pytestmark = [pytest.mark.django_db, pytest.mark.long]


@pytest.fixture(scope="module")
def demo(django_db_setup, django_db_blocker):
    """The day it was loaded for: all of it, loaded once for this file and removed with its transaction."""
    with django_db_blocker.unblock(), transaction.atomic():
        load_demo(datetime(2026, 5, 14, 8, tzinfo=UTC), lambda sortie, record: {}, lambda words: None)
        yield date(2026, 5, 14)
        transaction.set_rollback(True)


def test_the_school_is_there(demo, django_db_blocker):
    with django_db_blocker.unblock():
        roles = Counter(Person.objects.values_list("role", flat=True))
        assert roles == {"chief": 1, "instructor": 3, "student": 12}
        assert Aircraft.objects.count() == 3
        assert sum(a.card["spin"] is None for a in Aircraft.objects.all()) == 1
        assert Place.objects.count() == 2
        signed = Sortie.objects.filter(stage="signed")
        first, last = signed.earliest("planned_for"), signed.latest("planned_for")
        assert 225 <= (last.planned_for - first.planned_for).days <= 245
        assert Signature.objects.count() == signed.count()
        assert set(Sortie.objects.exclude(stage="signed").values_list("stage", flat=True)) == {
            "planned",
            "briefed",
            "flown",
        }


def test_its_lessons_are_of_all_courses_and_all_kinds(demo, django_db_blocker):
    with django_db_blocker.unblock():
        sorties = Sortie.objects.all()
        assert sorties.count() >= 90
        assert {sortie.plan["lesson"] for sortie in sorties} == {
            lesson.key for course in COURSES for lesson in course.lessons
        }
        on = Enrolment.objects.filter(ended=None).values_list("course__key", flat=True)
        assert set(on) == {course.key for course in COURSES}
        assert sorties.exclude(cancelled=None).count() >= 5
        attempts = [row.attempt for row in AttemptRow.objects.all()]
        assert sum(a["taken_over_ft"] is not None for a in attempts) >= 3
        assert sum(bool(a["abandoned"]) for a in attempts) == 1
        assert sum(a["skipped"] for a in attempts) >= 3
        taught = sorties.values("student").annotate(by=Count("instructor", distinct=True))
        assert sum(one["by"] > 1 for one in taught) >= 2


def test_the_ways_of_its_students_differ(demo, django_db_blocker):
    with django_db_blocker.unblock():
        students = {s.person.username: s for s in Student.objects.select_related("person")}
        ways = ways_of(list(students.values()), demo)
        found = {name: ways[s.pk].way for name, s in students.items()}
        assert found["isla"].met
        assert {t.state for t in found["mirela"].tasks} == {State.NOT_BEGUN}
        assert sum(t.lapsed for t in found["oskar"].tasks) >= 3
        assert {s.stage_reached for s in students.values()} == set(STANDINGS)
        assert {name for name, s in students.items() if s.stage} == {"keir", "sunniva"}


def test_one_fault_is_going_away_and_one_is_not(demo, django_db_blocker):
    with django_db_blocker.unblock():
        trends = {
            t.key: t.trend
            for t in fault_trends(by_lesson(attempt_rows(Student.objects.get(person__username="petra"))))
        }
    assert trends["stick_late"] == "going away"
    assert trends["soft_pull"] == "not going away"


def test_twelve_recorded_lessons_show_what_they_were_flown_for(demo, django_db_blocker):
    """Each was found whole, the fault that was seen stands on its figure, and the broken one says where."""
    with django_db_blocker.unblock():
        rows = {row.name: row for row in Recorded.objects.select_related("sortie")}
        assert set(rows) == {f"{flight.name.replace(' ', '-')}.csv" for flight in FLIGHTS}
        for flight in FLIGHTS:
            row = rows[f"{flight.name.replace(' ', '-')}.csv"]
            assert row.sortie.stage == ("flown" if flight.open else "signed")
            planned = [figure["id"] for figure in row.sortie.plan["figures"]]
            assert [found["planned"] for found in row.said["figures"]] == planned, flight.name
            noted = {
                (attempt["planned"]["key"], fault)
                for attempt in (kept.attempt for kept in row.sortie.attempts.all())
                for fault in attempt["faults"]
            }
            assert noted == set(flight.noted.items())
        broken = rows["broken-file.csv"].said
        kinds = {problem["kind"] for problem in broken["problems"]}
        assert kinds >= {"no number", "not finite", "time goes back", "repeated"}
        spiral = [a.attempt for a in rows["a-spiral-meant-as-a-spin.csv"].sortie.attempts.all()]
        became = [a["outcome"] for a in spiral if a["planned"]["key"] == "spin"]
        assert became == ["did not spin, became a spiral", "as intended"]


def test_past_lessons_are_the_same_every_time(demo, django_db_blocker):
    """The same habits, the same day, the same heights: a lesson's attempts are made twice and compared."""
    past = PASTS[0]
    with django_db_blocker.unblock():
        sortie = Sortie.objects.filter(student__person__username=past.username, stage="signed").order_by(
            "planned_for"
        )[1]
        figures = plan_of(sortie).figures
        before = dict.fromkeys((f.key for f in figures), 1)
        flight = PastFlight(past, 1, figures, before)
        again = flown_attempts(
            flight, conditions_of_record(record_of(sortie)), random.Random(f"{past.username} 1")
        )
        assert [a.model_dump(mode="json") for a in again] == [row.attempt for row in sortie.attempts.all()]


def test_it_is_not_loaded_over_somebodys_work(demo, django_db_blocker):
    with django_db_blocker.unblock():
        with pytest.raises(CommandError, match="not empty"):
            call_command("load_demo")
        call_command("load_demo", "--if-empty", stdout=StringIO())
        assert Person.objects.count() == 16


def test_a_large_school_is_the_same_flights_again_each_as_it_was_signed(demo, monkeypatch):
    monkeypatch.setattr(recordings, "content_of", lambda digest: b"a file")
    monkeypatch.setattr(recordings, "keep", lambda content: recordings.digest_of(content))
    students, sorties, links = Student.objects.count(), Sortie.objects.count(), head().links
    load_many(students + 4, sorties + 14, lambda words: None)
    new = Sortie.objects.order_by("pk")[sorties:]
    assert (Student.objects.count(), len(new), head().links) == (students + 4, 14, links + 14)
    assert {sortie.stage for sortie in new} == {"signed"}
    assert len({sortie.student_id for sortie in new}) == 4
    assert look(links).faults == ()
    like = Sortie.objects.filter(stage="signed", student__person__name=new[0].student.person.name[:-2]).last()
    assert new[0].attempts.count() == 2 * like.attempts.count()
