"""Courses as documents: what of them does not agree is said with its place; those that ship can be flown;
what differs between two versions."""

import json
from copy import deepcopy
from itertools import product

import pytest
from pydantic import ValidationError

from keelturn.assess.grade import proposal_of
from keelturn.figures.planned import FlownBy
from keelturn.formats.reading import Refused, read_document
from keelturn.noting.attempt import Attempt
from keelturn.plan.document import conditions_of
from keelturn.plan.sequence import compute_plan, starts_above_the_lowest
from keelturn.progress.course import Course, counts, lessons_twice, never_earned
from keelturn.progress.courses import COURSES
from keelturn.progress.lessons import filled_in, laid_out, lesson_of, lessons_of, name_of
from keelturn.progress.states import Flown, State
from keelturn.progress.versions import Differs, differences, moved
from keelturn.progress.way import way_through
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from tests.core.test_advice import against
from tests.courses import AGAINST, ASKED, SMALL, TODAY, course, flown
from tests.flights import HEAVY, PLACE, TRAINER, figure, plan
from tests.long import every_third

TALKED = [*SMALL["lessons"][:2], {**SMALL["lessons"][2], "tasks": [{"task": "taught"}]}]
DEEP = Place(name="Deep", elevation_ft=0, block_top_ft=9000)


def problems(**changed):
    with pytest.raises(Refused) as found:
        read_document(Course, {**deepcopy(SMALL), **changed})
    return [(p.where, p.what) for p in found.value.problems]


def changed_task(index, **fields):
    tasks = deepcopy(SMALL["tasks"])
    tasks[index].update(fields)
    return {"tasks": tasks}


@pytest.mark.parametrize(
    ("changed", "where", "what"),
    [
        (changed_task(0, figure="teleport"), "tasks[0].figure", "there is no figure 'teleport'"),
        (changed_task(0, side="left"), "tasks[0].side", "a power-off stall has no sides"),
        (changed_task(0, method="push"), "tasks[0].method", "'push' is not taught for a power-off stall"),
        (
            changed_task(2, settings={"turns": 60.0}),
            "tasks[2].settings.turns",
            "60 is outside 0.25 to 6 turns",
        ),
        (changed_task(2, settings={"bank": 1.0}), "tasks[2].settings.bank", "a Spin has no such setting"),
        (changed_task(1, key="stall"), "tasks[1].key", "there is another 'stall'"),
        (changed_task(1, after=["nothing"]), "tasks[1].after[0]", "there is no task 'nothing'"),
        (changed_task(0, after=["turning"]), "tasks[0].after", "Power-off stall waits for what waits for it"),
        (changed_task(0, key="Has blanks"), "tasks[0].key", "small letters, digits and underscores only"),
        ({"lessons": SMALL["lessons"][1:]}, "tasks[1]", "no lesson has Turning stall flown by the student"),
        (
            {"lessons": SMALL["lessons"][:2]},
            "tasks[3]",
            "no lesson has One-turn spin, taught back, left flown",
        ),
        ({"ground": []}, "lessons[1].ground[0]", "there is nothing on the ground called 'manual'"),
        ({"lessons": []}, "lessons", "has fewer than 1 entries"),
        ({"flight_h": -1}, "flight_h", "-1 is below 0"),
        ({"surprise": 1}, "surprise", "this field is not known"),
    ],
)
def test_what_does_not_agree_is_said_where_it_stands(changed, where, what):
    assert any(at.removeprefix("course.") == where and what in words for at, words in problems(**changed)), (
        problems(**changed)
    )


def test_a_task_for_both_sides_must_be_flown_to_both_in_some_lesson():
    lessons = deepcopy(SMALL["lessons"])
    del lessons[0]["tasks"][2]
    assert problems(lessons=lessons)[0][0].endswith("tasks[1]")


def test_a_task_of_one_side_is_flown_to_that_side():
    lessons = deepcopy(SMALL["lessons"])
    lessons[2]["tasks"][1]["side"] = "right"
    assert problems(lessons=lessons)[0][0].endswith("lessons[2].tasks[1].side")


def test_who_flies_decides_what_counts():
    small = course()
    assert counts(small.task("one"), FlownBy.ALONE) and not counts(small.task("one"), FlownBy.SHOWN)
    assert counts(small.task("taught"), FlownBy(AGAINST)) and not counts(small.task("taught"), FlownBy.ALONE)


def test_lessons_have_names_of_their_own_in_the_whole_school():
    assert lessons_twice(course(), ()) == ()
    where, what, _ = lessons_twice(course(key="other"), [course()])[0]
    assert (where, what) == ("lessons[0].key", "Small has a lesson 'easy' already")
    for i, shipped in enumerate(COURSES):
        assert lessons_twice(shipped, COURSES[:i]) == ()


def test_a_task_that_nobody_can_earn_is_told():
    talked = course(**changed_task(3, flown_by=FlownBy.WITH_TALK, needed="ready"), lessons=TALKED)
    ((where, what, _),) = never_earned(talked)
    assert (where, what) == ("tasks[3].needed", "nobody earns 'Solo-ready' as 'student with talk'")
    assert never_earned(course()) == ()


def perfectly(task, side):
    """Flown in the way in which it counts, as it was briefed."""
    how = task.flown_by or (FlownBy.ALONE if task.needed == "ready" else FlownBy.WITH_TALK)
    planned = figure(task.figure, side=side, start_ft=6000, **task.settings)
    told = {"turns": planned.parameters.get("turns"), "most_g": planned.parameters.get("pull_g")}
    return Attempt(id="f", planned=planned, flown_by=how, start_ft=6000, lowest_ft=5000, **told)


@pytest.mark.parametrize("shipped", COURSES, ids=[c.key for c in COURSES])
def test_who_flies_well_and_is_graded_as_proposed_finishes_every_course(shipped):
    found = []
    for task in shipped.tasks:
        for flight, side in product((1, 2), task.sides):
            noted = perfectly(task, side)
            grade = proposal_of(noted, noted.planned, against(1000, 1000), None, Standards()).grade
            found.append(Flown(noted.model_copy(update={"grade": grade}), TODAY, flight))
    way = way_through(shipped, found, [item.key for item in shipped.ground], TODAY, ASKED)
    assert [(t.title, t.missing) for t in way.tasks if not t.met] == []
    assert never_earned(shipped) == ()


@pytest.mark.parametrize("shipped", COURSES, ids=[c.key for c in COURSES])
def test_a_course_is_read_back_as_it_was_written(shipped):
    assert read_document(Course, json.loads(shipped.model_dump_json())) == shipped


@pytest.mark.parametrize(
    "lesson",
    every_third(lessons_of(*COURSES)),
    ids=[x.key for x in lessons_of(*COURSES)],
)
def test_every_lesson_that_ships_can_be_flown_in_a_block_deep_enough(lesson):
    figures = laid_out(lesson, 5500)
    trainer = all(f.key in TRAINER.approved for f in figures)
    card, place, tank = (TRAINER, PLACE, "Centre") if trainer else (HEAVY, DEEP, "Aerobatic")
    worn = {"front_parachute_lb": 15, "rear_parachute_lb": 15}
    load = {"front_lb": 155, "rear_lb": 155, **worn, "fuel_usgal": {tank: 16}}
    document = plan(load=load).model_copy(update={"figures": figures})
    flown_in = conditions_of(document, card, place, Standards(), lesson.standing, 30)
    laid = starts_above_the_lowest(document, flown_in)
    assert compute_plan(laid, flown_in).stops == 0


def test_a_lesson_is_filled_in_from_its_tasks():
    small = course(**changed_task(2, method="centralise"))
    spins = filled_in(small, small.lesson("spins"))
    assert [(f.key, f.side, f.task) for f in spins.figures][1:] == [
        ("spin", "left", "one"),
        ("spin", "right", "one"),
    ]
    assert [f.parameters for f in laid_out(spins, 5000)] == [{}, {"turns": 1.0}, {"turns": 1.0}]
    assert laid_out(spins, 5000)[1].school == "centralise"
    with pytest.raises(ValueError, match="no lesson 'nothing'; there is easy, spins, teach, free"):
        lesson_of("nothing", [small])
    assert (name_of("stalls"), name_of("gone")) == ("Slow flight and stalls", "gone")


def test_a_method_that_is_not_taught_is_refused_by_the_figure_itself():
    with pytest.raises(ValidationError, match="is not taught for a spin"):
        course(**changed_task(2, method="push_roll"))


def test_two_versions_of_a_course_differ_in_words():
    before, lessons = course(), deepcopy(SMALL["lessons"])
    lessons[0]["tasks"][0]["flown_by"] = "student alone"
    lessons = [lessons[1], lessons[0], lessons[2]]
    tasks = deepcopy(SMALL["tasks"])
    tasks[2] |= {"within_ft": 150, "settings": {"turns": 2.0}}
    tasks.append({"key": "loop", "figure": "loop"})
    lessons[2]["tasks"].append({"task": "loop"})
    after = course(name="Smaller", tasks=tasks, lessons=lessons)
    found = differences(before, after)
    assert Differs("changed", "Course, name", "Small", "Smaller") in found
    assert Differs("added", "Task: Loop") in found
    assert Differs("changed", "Task: Two-turn spin, within, beyond the brief", "200", "150") in found
    assert Differs("changed", "Task: Two-turn spin, settings", "turns 1", "turns 2") in found
    assert Differs("changed", "Lesson: the order", "Easy, Spins, Teach", "Spins, Easy, Teach") in found
    (figures,) = [d for d in found if d.what == "Lesson: Easy, figures"]
    assert figures.before.startswith("Power-off stall, left (student with talk), Turning stall")
    assert figures.after.startswith("Power-off stall, left (student alone), Turning stall")
    assert Differs("taken out", "Task: Loop") in differences(after, before)
    assert differences(before, before) == ()


def test_who_is_moved_sees_what_becomes_of_each_task():
    evidence = [
        flown("spin", side=side, flight=n, beyond_ft=180) for n in (1, 2) for side in ("left", "right")
    ]
    after = course(**changed_task(2, within_ft=150))
    found = moved(course(), after, evidence, TODAY, ASKED)
    assert [(m.title, m.before, m.after) for m in found] == [("One-turn spin", State.SOUND, State.GUIDED)]
    assert moved(course(), course(), evidence, TODAY, ASKED) == ()
