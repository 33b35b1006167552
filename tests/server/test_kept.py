"""What takes long to count is kept, and never shown when it would be counted otherwise."""

import json
from datetime import timedelta

import pytest
from django.core.cache import caches
from django.db import OperationalError

from server import ahead, clock
from server.school.models import (
    Aircraft,
    AttemptRow,
    Enrolment,
    GroundDone,
    Kept,
    Person,
    SchoolStandards,
    Sortie,
    Student,
)
from server.school.models.kept import Of
from server.school.operations import computing
from server.school.operations import kept as keeping
from server.school.operations.booking import cancel
from server.school.operations.kept import empty_for_another_program, kept
from server.school.operations.sorties import move_stage
from tests.courses import SMALL
from tests.server.conftest import post, put
from tests.server.test_courses import added, ana, enrolled, fly, page

BY = {
    "chief": ("students", "students/{ana}", "school"),
    "ana": ("students", "students/{ana}", "requirements/{person}"),
    "bo": ("requirements/{bo}",),
}


@pytest.fixture
def shown(school, as_):
    """What everybody is shown of it."""

    numbers = {"ana": ana(school).pk, "person": ana(school).person_id, "bo": school.people["bo"].pk}

    def look():
        found = {}
        for who, pages in BY.items():
            for path in pages:
                answer = as_(who).get(f"/api/{path.format(**numbers)}").json()
                if isinstance(answer, dict):
                    answer.pop("now", None)
                found[who, path] = answer
        return found

    return look


def added_row(row, **otherwise):
    row.pk = None
    for name, value in otherwise.items():
        setattr(row, name, value)
    row.save(force_insert=True)


@pytest.mark.long
def test_nothing_that_would_be_counted_otherwise_is_shown(school, as_, shown):
    bo, student = school.people["bo"], ana(school)
    added(as_)
    flown = []

    def to(stage):
        flown[-1] = Sortie.objects.get(pk=flown[-1].pk)
        flown[-1] = move_stage(bo, flown[-1].pk, flown[-1].version, stage)

    def coming():
        sortie = school.sortie()
        Sortie.objects.filter(pk=sortie.pk).update(planned_for=clock.now() + timedelta(days=2))
        return sortie

    def standards():
        row = SchoolStandards.in_force()
        row.standards["lapse_days"]["value"] = 30
        row.save()

    def course():
        more = {**SMALL, "name": "Smaller"}
        assert put(as_("chief"), "/api/courses/small", {"course": more, "version": 1}).status_code == 200

    steps = {
        "enrolled": lambda: enrolled(as_, school),
        "flown": lambda: flown.append(fly(school, "stalls", ago=40, feel=3)),
        "flown again": lambda: flown.append(fly(school, "spins", ago=20, grade="Guided", taken_over_ft=3900)),
        "taken back": lambda: to("flown"),
        "an attempt changed": lambda: AttemptRow.objects.filter(sortie=flown[0]).update(lost_ft=999.0),
        "an attempt gone": lambda: AttemptRow.objects.filter(sortie=flown[-1]).first().delete(),
        "debriefed": lambda: to("debriefed"),
        "an attempt added": lambda: added_row(AttemptRow.objects.filter(sortie=flown[0]).first()),
        "booked": coming,
        "booked before": lambda: added_row(
            Sortie.objects.filter(stage="planned").first(), planned_for=clock.now() + timedelta(days=1)
        ),
        "cancelled": lambda: cancel(bo, coming().pk, 1, "Fog"),
        "on the ground": lambda: page(as_, school, path="/ground/manual", body={"done": True}),
        "not on the ground": lambda: GroundDone.objects.all().delete(),
        "standing": lambda: page(
            as_,
            school,
            "chief",
            "/standing",
            {"standing": "ready to fly it alone", "reason": "Seen it elsewhere"},
        ),
        "standards": standards,
        "another version": course,
        "moved": lambda: page(as_, school, path="/course/move", body={"version": 2}, how=post),
        "put out by hand": lambda: Enrolment.objects.update(ended=clock.now()),
        "put in by hand": lambda: added_row(Enrolment.objects.first(), ended=None),
        "somebody's word": lambda: post(
            as_("bo"),
            f"/api/requirements/{student.person_id}",
            {
                "requirement": "spin_endorsement",
                "what": "signature",
                "on": f"{clock.now():%Y-%m-%d}",
                "signed_by": "A. Examiner",
            },
        ),
        "renamed": lambda: Person.objects.filter(pk__in=(bo.pk, student.person_id)).update(name="Another"),
        "registered": lambda: Aircraft.objects.filter(pk=school.aircraft.pk).update(registration="QX-NEW"),
        "out of it": lambda: page(as_, school, path="/course", body={"course": None, "why": "Moves away"}),
        "gone": lambda: Sortie.objects.filter(stage="planned").delete(),
    }
    before = shown()
    for name, do in steps.items():
        do()
        as_it_stands = shown()
        Kept.objects.all().delete()
        anew = shown()
        assert as_it_stands == anew, name
        assert anew != before or name in ("cancelled", "another version"), name
        before = anew


def test_what_is_required_of_somebody_follows_what_they_are(school, as_):
    dee, bo = school.people["dee"], school.people["bo"]

    def asked_as(person):
        found = as_("chief").get(f"/api/requirements/{person.pk}").json()["standings"]
        return {one["requirement"]["whom"] for one in found}

    # The first who asks brings the courses that ship into the school: it is kept from the second on.
    for _ in range(2):
        assert (asked_as(dee), asked_as(bo)) == ({"student"}, {"instructor"})
    Person.objects.filter(pk=dee.pk).update(role="instructor")
    assert (asked_as(dee), asked_as(bo)) == ({"student", "instructor"}, {"instructor"})
    Student.objects.create(person=bo)
    assert asked_as(bo) == {"student", "instructor"}


def test_what_changed_while_it_was_counted_is_not_kept(school):
    def count():
        sortie = school.sortie()
        sortie.delete()
        return "old"

    number = ana(school).pk
    assert kept(Of.STUDENT, number, "line", None, count) == "old"
    assert Kept.objects.get(of=Of.STUDENT, number=number, what="line").said is None
    assert kept(Of.STUDENT, number, "line", None, lambda: "new") == "new"
    assert kept(Of.STUDENT, number, "line", None, lambda: pytest.fail("it is kept")) == "new"


def test_what_everybody_looks_at_first_is_counted_ahead_once(school, as_, monkeypatch):
    added(as_)
    enrolled(as_, school)
    ahead.count(clock.now())
    there = set(Kept.objects.exclude(said=None).values_list("of", "what"))
    assert there >= {
        ("student", "line"),
        ("student", "page"),
        ("person", "requirements"),
        ("school", "365 days"),
    }
    monkeypatch.setattr(keeping, "_store", lambda *_: pytest.fail("it is kept"))
    ahead.count(clock.now())


def test_plans_of_open_sorties_are_answered_ahead_once_in_every_version(school, monkeypatch):
    monkeypatch.setattr(ahead, "answer_for", lambda sortie: looked.append(sortie.pk))
    one, other, looked, done = school.sortie(), school.sortie("dee"), [], set()
    Sortie.objects.filter(pk=other.pk).update(plan={"version": 1})
    ahead.answer_plans(done)
    ahead.answer_plans(done)
    assert looked == [one.pk, other.pk]
    Sortie.objects.filter(pk=one.pk).update(version=9)
    ahead.answer_plans(done)
    assert looked == [one.pk, other.pk, one.pk]
    monkeypatch.undo()
    ahead.answer_plans(set())


def test_a_plans_answer_is_kept_by_all_that_it_follows_from(school, monkeypatch):
    sortie, asked = school.sortie(), []
    answer = computing.compute_plan
    monkeypatch.setattr(computing, "compute_plan", lambda *what: asked.append(what) or answer(*what))
    caches["computed"].clear()
    found = [computing.answer_for(sortie).answer for _ in range(2)]
    assert (len(asked), found[0]) == (1, found[1])
    standards = SchoolStandards.in_force().document()
    raised = standards.speed_margin.model_copy(update={"value": standards.speed_margin.value + 5})
    changed = standards.model_copy(update={"speed_margin": raised}).model_dump(mode="json")
    SchoolStandards.objects.update(standards=changed)
    computing.answer_for(sortie)
    assert len(asked) == 2
    sortie.plan = {**sortie.plan, "day": {**sortie.plan["day"], "temperature_c": 31.0}}
    computing.answer_for(sortie)
    assert len(asked) == 3


def test_what_fails_in_counting_ahead_is_logged_and_tried_again(monkeypatch, caplog):
    tried = []

    def count(now):
        tried.append(now)
        raise ValueError("it cannot be read")

    def sleep(_):
        if len(tried) == 2:
            raise KeyboardInterrupt

    for where, name, instead in ((ahead, "count", count), (ahead.time, "sleep", sleep)):
        monkeypatch.setattr(where, name, instead)
    monkeypatch.setattr(ahead.os, "nice", lambda _: 0)
    with pytest.raises(KeyboardInterrupt):
        ahead.count_ahead()
    assert caplog.text.count("counting ahead failed") == 2


def test_another_day_is_counted_anew(school):
    today = clock.day_of(clock.now())
    for day, said in ((today, "today"), (today + timedelta(days=1), "tomorrow")):
        assert kept(Of.STUDENT, 1, "line", day, lambda said=said: said) == said


def test_who_only_looks_is_answered_where_nothing_can_be_stored(school, monkeypatch):
    def busy(*_, **__):
        raise OperationalError("database is locked")

    monkeypatch.setattr(keeping.Kept.objects, "bulk_create", busy)
    assert kept(Of.STUDENT, 1, "line", None, lambda: {"a": 1}) == {"a": 1}
    assert not Kept.objects.exists()


def test_what_another_program_counted_is_counted_anew(school, monkeypatch):
    kept(Of.STUDENT, 1, "line", None, lambda: "old")
    empty_for_another_program()
    assert kept(Of.STUDENT, 1, "line", None, lambda: "new") == "new"
    empty_for_another_program()
    assert json.loads(Kept.objects.get(of=Of.STUDENT).said) == "new"
    monkeypatch.setattr(keeping, "of_code", lambda *_: "another")
    empty_for_another_program()
    assert not Kept.objects.filter(of=Of.STUDENT).exists()
