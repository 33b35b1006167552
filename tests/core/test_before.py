"""What should come before a lesson and has not: each just missing and just there, and what the chief makes of
it."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest

from keelturn.document import Standard
from keelturn.margins.checks import Kind, Verdict
from keelturn.plan.document import Override
from keelturn.plan.overrides import given_for, overridden
from keelturn.plan.sequence import compute_plan
from keelturn.progress.before import Known, missing_before
from keelturn.school.before import BeforeALesson, Missing
from keelturn.school.standards import Standards
from tests.courses import ASKED, TODAY, course, flown
from tests.flights import TRAINER, conditions, figure, plan

SMALL = course()
LATELY = {TRAINER.name: TODAY - timedelta(days=5)}
STALLED = flown("stall_power_off", "Guided", 1, 40)


def missing(lesson="spins", *evidence, own=SMALL, standards=ASKED, **changed):
    """By the item, for somebody of whom nothing is missing but what is changed."""
    known = Known(TODAY, "practised", evidence or (STALLED,), LATELY, (SMALL,), own, {"small": {"manual"}})
    found = missing_before(lesson, TRAINER, replace(known, **changed), standards)
    return {one.item: one for one in found}


@pytest.mark.parametrize(
    ("lesson", "changed", "item", "words"),
    [
        ("teach", {"standing": "first flights"}, "standing", "Teach asks for 'practised'; the student is at"),
        ("teach", {"standing": "practised"}, "standing", None),
        ("teach", {"standing": "ready to fly it alone"}, "standing", None),
        ("spins", {"ground": {}}, "ground", "Not done: What the manual says."),
        ("spins", {"ground": {"another": {"manual"}}}, "ground", "Not done: What the manual says."),
        ("spins", {}, "ground", None),
        ("teach", {"flown": ()}, "tasks", "Teach comes after Power-off stall at 'guided', now 'not begun'."),
        ("teach", {}, "tasks", None),
        ("spins", {"types": {"Another": TODAY}}, "type", f"No flight in {TRAINER.name} is on record here."),
        ("spins", {"types": {}}, "type", "is on record here, nor in another type."),
        ("spins", {}, "type", None),
        ("spins", {"types": {TRAINER.name: TODAY - timedelta(days=60)}}, "away", "was 60 days before"),
        ("spins", {"types": {TRAINER.name: TODAY - timedelta(days=59)}}, "away", None),
        ("spins", {"types": {TRAINER.name: TODAY - timedelta(90), "Another": TODAY}}, "away", None),
        ("spins", {}, "next", "As things stand: Easy: not yet as the course needs it"),
        ("easy", {}, "next", None),
        ("spins", {"own": None}, "next", None),
        ("free", {}, "next", "Easy: not yet as the course needs it"),
        ("free", {"standing": "first flights", "ground": {}, "flown": ()}, "standing", None),
    ],
)
def test_each_is_said_when_it_is_missing_and_only_then(lesson, changed, item, words):
    found = missing(lesson, **changed).get(item)
    assert (found is None) == (words is None)
    assert found is None or words in found.words


def test_a_lesson_of_a_course_that_the_student_is_not_in_asks_for_the_same():
    assert "ground" in missing("spins", own=None, ground={})


def lesson(flight, grade, ago):
    sides = ("left", "right")
    return [flown("stall_turning", grade, flight, ago, side=side, lesson="easy") for side in sides]


def test_a_lesson_for_the_third_time_without_progress_is_said():
    twice = [STALLED, *lesson(2, "Not yet", 20), *lesson(3, "Not yet", 10)]
    # The first of the two begins the task: that is progress.
    assert "again" not in missing("easy", *twice)
    thrice = [*twice, *lesson(4, "Not yet", 5)]
    assert missing("easy", *thrice)["again"].words.startswith(
        "Easy was flown 3 times; the last 2 brought none"
    )
    assert "again" not in missing("spins", *thrice)
    assert "again" not in missing("easy", *twice, *lesson(4, "Sound", 5))
    # What is not debriefed yet says nothing of progress.
    undebriefed = [replace(f, debriefed=False) for f in lesson(4, "Not yet", 5)]
    assert "again" not in missing("easy", *twice, *undebriefed)


GROUND = Missing("ground", "On the ground first", "Not done: it.", "Do it.", 2.0, "", "2 missing", "Small")


def checks(verdict, one=GROUND, overrides=()):
    document = plan(figure("steep_turn", start_ft=6000))
    standards = Standards(before=BeforeALesson(ground=verdict))
    answer = compute_plan(document, replace(conditions(document, standards=standards), before=(one,)))
    return next(c for c in overridden(answer.checks, overrides) if c.kind == Kind.BEFORE)


@pytest.mark.parametrize(("says", "verdict"), [("stop", Verdict.STOP), ("caution", Verdict.MIND)])
def test_the_chief_decides_what_each_becomes(says, verdict):
    assert checks(says).verdict == verdict


def test_an_override_holds_for_what_was_missing_and_no_more():
    asked = Override(check="before_ground", reason="Done elsewhere last week")
    given = given_for(asked, [checks("stop")], "Bo", datetime(2026, 3, 1, tzinfo=UTC))
    assert checks("stop", overrides=[given]).overridden
    assert checks("stop", replace(GROUND, number=3.0), [given]).overridden is None
    # Nor for as many others, nor for another lesson that lacks as many.
    assert checks("stop", replace(GROUND, words="Not done: that."), [given]).overridden is None
    other = replace(GROUND, title=missing("spins", ground={})["ground"].title)
    assert checks("stop", other, [given]).overridden is None


def test_how_long_is_long_without_a_flight_is_the_school_s():
    sooner = ASKED.model_copy(update={"away_days": Standard(value=30)})
    away = {TRAINER.name: TODAY - timedelta(days=30)}
    assert "away" in missing(types=away, standards=sooner)
    assert "away" not in missing(types=away)
