"""The demo school: complete, deterministic, loaded only into an empty database."""

import random
from datetime import UTC, datetime
from io import StringIO

import pytest
from django.core.management import CommandError, call_command

from keelturn.formats.reading import read_document
from keelturn.plan.document import PlanDocument
from keelturn.progress.habits import fault_trends
from server.school.demo.history import PASTS, flown_attempts
from server.school.demo.loading import load_demo
from server.school.demo.recorded import FLIGHTS
from server.school.models import (
    Aircraft,
    AttemptRow,
    Person,
    Place,
    Recorded,
    Signature,
    Sortie,
    Student,
)
from server.school.operations.computing import conditions_for
from server.school.operations.record import attempt_rows, by_lesson

pytestmark = pytest.mark.django_db


@pytest.fixture(scope="module")
def demo(django_db_setup, django_db_blocker):
    """Loaded once for this file, removed with its transaction."""
    from django.db import transaction

    with django_db_blocker.unblock(), transaction.atomic():
        load_demo(datetime(2026, 5, 14, 8, tzinfo=UTC), lambda sortie, record: {}, lambda words: None)
        yield
        transaction.set_rollback(True)


def test_the_school_is_there(demo, django_db_blocker):
    with django_db_blocker.unblock():
        assert (
            sorted(Person.objects.values_list("role", flat=True))
            == ["chief"] + ["instructor"] * 2 + ["student"] * 7
        )
        assert Aircraft.objects.count() == 3
        assert sum(a.card["spin"] is None for a in Aircraft.objects.all()) == 1
        assert Place.objects.count() == 2
        signed = Sortie.objects.filter(stage="signed")
        assert AttemptRow.objects.filter(sortie__in=signed).count() >= 40
        first, last = signed.earliest("planned_for"), signed.latest("planned_for")
        assert 60 <= (last.planned_for - first.planned_for).days <= 95
        assert Signature.objects.count() == signed.count()
        assert set(Sortie.objects.exclude(stage="signed").values_list("stage", flat=True)) == {
            "planned",
            "briefed",
            "flown",
        }


def test_one_fault_is_going_away_and_one_is_not(demo, django_db_blocker):
    with django_db_blocker.unblock():
        trends = {
            t.key: t.trend
            for t in fault_trends(by_lesson(attempt_rows(Student.objects.get(person__username="petra"))))
        }
    assert trends["stick_late"] == "going away"
    assert trends["soft_pull"] == "not going away"


def test_eight_recorded_lessons_show_what_they_were_flown_for(demo, django_db_blocker):
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
        )[2]
        plan = read_document(PlanDocument, sortie.plan)
        again = flown_attempts(
            past, 2, plan.figures, conditions_for(sortie, plan), random.Random(f"{past.username} 2")
        )
        assert [a.model_dump(mode="json") for a in again] == [row.attempt for row in sortie.attempts.all()]


def test_it_is_not_loaded_over_somebodys_work(demo, django_db_blocker):
    with django_db_blocker.unblock():
        with pytest.raises(CommandError, match="not empty"):
            call_command("load_demo")
        call_command("load_demo", "--if-empty", stdout=StringIO())
        assert Person.objects.count() == 10
