"""How far a student is in a task: each rule of the table at its edge, sides, lapses, what counts."""

from copy import deepcopy
from dataclasses import replace
from datetime import timedelta

import pytest

from keelturn.figures.figure import Blocks
from keelturn.progress.course import CourseTask
from keelturn.progress.states import State, belongs, counted_grade, marks_of, shows, state_of
from keelturn.progress.way import (
    STANDINGS,
    highest,
    standing_in,
    standings_ahead,
    way_through,
)
from keelturn.school.standards import FigureStandard
from tests.courses import AGAINST, ASKED, SMALL, TODAY, asked, course, flown

STALL, TURNING, ONE, TAUGHT = course().tasks


def stall(grade="Sound", **more):
    return flown("stall_power_off", grade, **more)


def state(task, *attempts, today=TODAY, standards=ASKED, **more):
    return state_of(task, attempts, today, standards, **more)


ALONE = {"flown_by": "student alone"}
READY = (stall("Solo-ready", flight=1, **ALONE), stall("Solo-ready", flight=2, **ALONE))


@pytest.mark.parametrize(
    ("attempts", "expected", "missing"),
    [
        ((), "not begun", "fly it"),
        ((stall(None, flown_by="instructor shows"),), "begun", "0 of 1 attempt at 'Guided' or better"),
        ((stall("Not yet"),), "begun", "0 of 1 attempt at 'Guided' or better"),
        ((stall("Guided"),), "guided", "0 of 1 attempt at 'Sound' or better"),
        ((stall(),), "sound", "0 of 2 attempts at 'Solo-ready'"),
        ((stall(), stall("Guided", flight=2)), "guided", "the last flight showed Guided"),
        ((stall(), stall("Guided")), "sound", "0 of 2 attempts at 'Solo-ready'"),
        (READY, "ready", ""),
        ((READY[0], READY[0]), "sound", "'Solo-ready' in 2 flights, so far in one"),
        ((stall("Solo-ready"), READY[1]), "sound", "1 of 2 attempts at 'Solo-ready'"),
        ((READY[0], stall("Solo-ready", flight=2, flown_by=AGAINST)), "sound", "1 of 2 flown alone"),
        ((*READY, stall("Sound", flight=3, **ALONE)), "sound", "the last flight showed Sound"),
        (
            (READY[0], stall("Solo-ready", flight=2, faults=("missed_check",), **ALONE)),
            "sound",
            "still open: ",
        ),
    ],
)
def test_each_state_asks_what_the_table_says_and_no_less(attempts, expected, missing):
    found = state(STALL, *attempts)
    assert found.state == expected
    assert (
        found.missing == () if not missing else any(words.startswith(missing) for words in found.missing)
    ), found.missing


def test_a_fault_a_take_over_and_what_it_became_stay_open_until_a_flight_without():
    taken = stall("Solo-ready", flight=2, taken_over_ft=3000, grade_reason="A word too early.", **ALONE)
    assert state(STALL, READY[0], taken).missing == ("still open: the instructor took over",)
    stalled_again = stall("Solo-ready", flight=2, outcome="secondary stall", **ALONE)
    assert "still open: secondary stall" in state(STALL, *READY, stalled_again).missing
    assert state(STALL, *READY, taken, stall("Solo-ready", flight=3, **ALONE)).state == State.READY


def test_what_the_instructor_flew_and_what_was_taken_over_shows_little():
    shown = stall("Solo-ready", flown_by="instructor shows")
    assert state(STALL, shown, shown).state == State.BEGUN
    taken = stall("Solo-ready", taken_over_ft=3000)
    assert state(STALL, taken, taken).state == State.GUIDED
    assert state(STALL, stall(skipped=True)).state == State.NOT_BEGUN


def test_the_lesser_side_is_the_tasks():
    left = flown("stall_turning", side="left")
    behind = state(TURNING, left, flown("stall_turning", "Guided", side="right"))
    assert (behind.state, behind.missing) == (State.GUIDED, ("Right: 0 of 1 attempt at 'Sound' or better",))
    assert behind.sides == {"left": State.SOUND, "right": State.GUIDED}
    assert [words.split(",")[0] for words in behind.reasons] == ["left: sound", "right: guided"]
    assert (state(TURNING, left).state, state(TURNING, left).missing) == (State.BEGUN, ("Right: fly it",))
    assert state(TURNING, left, flown("stall_turning", side="right")).state == State.SOUND


def test_what_a_task_has_been_is_kept_whatever_the_last_flight_showed():
    worse = state(STALL, *READY, stall("Guided", flight=3, faults=("missed_check",)))
    assert (worse.state, worse.has_been) == (State.GUIDED, State.READY)
    assert state(STALL, stall("Guided")).has_been == State.GUIDED


def test_only_its_own_figure_side_settings_and_method_belong_to_a_task():
    def of(task, key="spin", **noted):
        return belongs(task, flown(key, **noted).attempt)

    assert of(ONE, turns=1.0) and of(ONE, turns=1.5) and not of(ONE, turns=2.0) and not of(ONE, "loop")
    assert of(ONE)
    assert of(TAUGHT, side="left", flown_by=AGAINST) and not of(TAUGHT, side="right", flown_by=AGAINST)
    assert not of(TAUGHT, side="left")
    blind = TURNING.model_copy(update={"figure": "nose_low", "settings": {"eyes_closed": 1.0}})
    assert not of(blind, "nose_low")
    by_middle = ONE.model_copy(update={"method": "centralise"})
    assert of(by_middle, school="centralise") and of(by_middle) and not of(by_middle, school="hands_off")


def test_height_beyond_what_the_task_allows_shows_no_more_than_guided():
    assert shows(ONE, flown("spin", beyond_ft=200)) == "Sound"
    assert shows(ONE, flown("spin", beyond_ft=201)) == "Guided"
    assert shows(ONE, flown("spin", beyond_ft=None)) == "Sound"
    assert shows(ONE, flown("spin", "Not yet", beyond_ft=300)) == "Not yet"


def test_what_must_be_taught_back_is_shown_by_that_alone():
    assert state(TAUGHT, flown("spin", side="left")).state == State.NOT_BEGUN
    assert state(TAUGHT, flown("spin", "Guided", side="left", flown_by=AGAINST)).state == State.GUIDED
    twice = [flown("spin", "Solo-ready", side="left", flight=n, flown_by=AGAINST) for n in (1, 2)]
    # Nobody flies it alone: that is not asked.
    assert state(TAUGHT, *twice).state == State.READY


@pytest.mark.parametrize(
    ("ago", "expected", "lapses_in"),
    [(0, "ready", 90), (89, "ready", 1), (90, "sound", 90), (179, "sound", 1), (180, "guided", None),
     (2700, "guided", None)],
)  # fmt: skip
def test_a_state_falls_by_one_each_time_the_schools_days_have_gone_by(ago, expected, lapses_in):
    found = state(STALL, *[stall("Solo-ready", flight=n, ago=ago, **ALONE) for n in (1, 2)])
    assert (found.state, found.reached, found.lapsed) == (expected, State.READY, expected != "ready")
    assert found.lapses_on == (None if lapses_in is None else TODAY + timedelta(days=lapses_in))
    assert ("one flight that shows 'ready' again" in found.missing) == found.lapsed


def test_the_side_shown_longest_ago_lapses_and_a_later_task_keeps_an_earlier_one():
    old = [flown("stall_turning", side="left", ago=95)] * 2
    new = [flown("stall_turning", side="right", ago=5)] * 2
    assert state(TURNING, *old, *new).state == State.GUIDED
    assert state(TURNING, *old, *new, kept_on=TODAY - timedelta(days=89)).state == State.SOUND
    # What is shown of a spin keeps the stall that comes before it.
    stalls = [stall("Solo-ready", flight=n, ago=100, **ALONE) for n in (1, 2)]
    spin = flown("spin", "Guided", flight=3, ago=10)
    for flown_too, expected in (((), State.SOUND), ((spin,), State.READY)):
        way = way_through(course(), [*stalls, *flown_too], (), TODAY, ASKED)
        assert way.state("stall").state == expected


def test_days_of_nothing_lapse_nothing():
    assert state(STALL, stall(ago=4000), standards=asked(0)).lapses_on is None
    assert state(STALL, stall("Guided", ago=4000)).state == State.GUIDED
    assert state(STALL, stall("Guided", ago=4000)).lapses_on is None


def test_each_flight_is_a_mark_with_how_it_was_flown_and_what_it_cost():
    first = [
        flown("spin", None, 1, 20, beyond_ft=900, flown_by="instructor shows"),
        flown("spin", "Guided", 1, 20, beyond_ft=300),
    ]
    second = [flown("spin", "Sound", 2, 10, beyond_ft=b, flown_by="student alone") for b in (100, None, 50)]
    marks = marks_of(ONE, [*first, stall(), *second])
    assert [(m.flight, m.how, m.shown, m.beyond_ft, m.attempts) for m in marks] == [
        (1, "with talk", "Guided", 300, 2),
        (2, "alone", "Sound", 75, 3),
    ]


def all_of(*keys, grade="Sound", flights=(1, 2), **more):
    """Both sides of these figures in each flight."""
    return [
        flown(key, grade, flight=n, side=side, **more)
        for n in flights
        for key in keys
        for side in ("left", "right")
    ]


OTHERS = all_of("stall_turning", "spin")
FIRST = all_of("stall_power_off") + OTHERS


def standing(*evidence, made=None, today=TODAY):
    return standing_in(way_through(made or course(), evidence, (), today, ASKED), today, ASKED)


def test_the_standing_follows_from_the_tasks_of_the_lessons_that_may_be_flown():
    assert standing().standing == STANDINGS[0]
    one_side = [f for f in FIRST if (f.attempt.planned.key, f.attempt.planned.side) != ("spin", "right")]
    assert standing(*one_side).why == "Small: 1 task missing for 'practised'"
    assert standing(*FIRST).standing == STANDINGS[1]
    ready = all_of("stall_power_off", grade="Solo-ready", flown_by="student alone")
    assert standing(*FIRST, *ready).standing == STANDINGS[1]
    taught = flown("spin", "Sound", 3, side="left", flown_by=AGAINST)
    assert standing(*OTHERS, *ready, taught).standing == STANDINGS[2]
    assert standing(*FIRST).missing == (
        "Power-off stall: sound, needed ready",
        "One-turn spin, taught back, left: not begun, needed guided",
    )


def test_one_flight_that_goes_worse_takes_no_standing_away_but_the_last():
    worse = flown("spin", "Guided", 5, side="left")
    assert standing(*FIRST, worse).standing == STANDINGS[1]
    ready = all_of("stall_power_off", grade="Solo-ready", flown_by="student alone")
    taught = flown("spin", "Sound", 3, side="left", flown_by=AGAINST)
    assert standing(*OTHERS, *ready, taught, worse).standing == STANDINGS[1]


def test_a_course_that_begins_further_on_says_nothing_before_its_first_lessons_are_shown():
    lessons = [{**lesson, "standing": "practised"} for lesson in course().model_dump()["lessons"]]
    further = course(lessons=lessons)
    assert standing(made=further).standing == STANDINGS[0]
    some = standing(*all_of("spin"), made=further)
    assert some.standing == STANDINGS[0]
    other = standing(*FIRST)
    assert highest([some, other]) == other and highest([]).standing == STANDINGS[0]


def test_a_task_is_asked_for_only_where_the_lessons_fly_it_to_every_side():
    """The right turning stall comes in a lesson for who is practised: it cannot be asked before."""
    lessons = deepcopy(SMALL["lessons"])
    right = lessons[0]["tasks"].pop()
    lessons[2]["tasks"].append(right)
    assert standing(*all_of("stall_power_off", "spin"), made=course(lessons=lessons)).standing == STANDINGS[1]


@pytest.mark.parametrize(("days", "expected"), [(79, 1), (80, 0)])
def test_a_standing_falls_when_nothing_was_flown_for_the_schools_days(days, expected):
    found = standing(*FIRST, today=TODAY + timedelta(days=days))
    assert found.standing == STANDINGS[expected]
    assert expected or found.why == "Small: nothing flown since 4 May 2026"


def graded(grade, standard, **noted):
    return replace(flown("spin", grade, side="left", **noted), standard=standard)


@pytest.mark.parametrize(
    ("attempt", "counts"),
    [
        (graded("Sound", "Guided"), "Guided"),
        (graded("Not yet", "Sound"), "Sound"),
        (graded("Not yet", "Sound", grade_reason="Looked inside all the time."), "Not yet"),
        (graded("Sound", "Guided", grade_reason="A gust."), "Sound"),
        (graded("Sound", "Guided", grade_reason="  "), "Guided"),
        (graded("Sound", None), "Sound"),
        (graded(None, "Sound"), None),
        (graded("Sound", "Sound", outcome="did not spin, became a spiral"), None),
        (graded("Sound", "Sound", abandoned="Sick"), None),
    ],
)
def test_what_counts_is_the_school_s_standard_unless_the_instructor_says_why(attempt, counts):
    assert counted_grade(attempt) == counts


def test_who_graded_last_moves_nothing_and_both_grades_are_said():
    def after(*grades):
        attempts = [
            replace(flown("spin", g, n, side=side), standard="Guided")
            for n, g in enumerate(grades, start=1)
            for side in ("left", "right")
        ]
        return state_of(ONE, attempts, TODAY, ASKED)

    lenient, strict = after("Guided", "Sound"), after("Sound", "Guided")
    assert lenient.state == strict.state == State.GUIDED
    assert "the last that counts Guided (graded Sound, without a reason)" in lenient.reasons[0]
    assert "without a reason" not in strict.reasons[0]


def test_the_standings_ahead_are_told_by_their_days():
    ahead = standings_ahead([course()], FIRST, TODAY, ASKED)
    days = [(day, s.standing) for day, s in ahead]
    assert days == [(TODAY, STANDINGS[1]), (TODAY + timedelta(days=80), STANDINGS[0])]
    ready = all_of("stall_power_off", grade="Solo-ready", flown_by="student alone", ago=30)
    taught = flown("spin", "Sound", 3, side="left", flown_by=AGAINST, ago=5)
    ahead = standings_ahead(
        [course()], [*all_of("stall_turning", "spin", ago=40), *ready, taught], TODAY, ASKED
    )
    days = [((day - TODAY).days, s.standing) for day, s in ahead]
    assert days == [(0, STANDINGS[2]), (50, STANDINGS[1]), (85, STANDINGS[0])]
    assert standings_ahead([], FIRST, TODAY, ASKED) == ((TODAY, highest([])),)
    assert standings_ahead([course()], FIRST, TODAY, asked(0)) == ((TODAY, standing(*FIRST)),)


def test_what_must_come_before_a_lesson_is_said():
    small = course()
    _, spins, teach = small.lessons
    empty = way_through(small, (), (), TODAY, ASKED)
    assert empty.missing_for(spins, STANDINGS[0]) == ("on the ground: What the manual says",)
    # The stall is flown in the lesson itself, before the spin.
    assert way_through(small, (), ["manual"], TODAY, ASKED).missing_for(spins, STANDINGS[0]) == ()
    assert empty.missing_for(teach, STANDINGS[0]) == (
        "the standing 'practised', now 'first flights'",
        "Power-off stall at 'guided', now 'not begun'",
    )
    # What the instructor shows waits for nothing, and nothing may follow it.
    shown = deepcopy(SMALL["lessons"])
    shown[2]["tasks"].insert(0, {"task": "stall", "flown_by": "instructor shows"})
    shown[2]["standing"] = "first flights"
    lessons = course(lessons=shown)
    assert way_through(lessons, (), (), TODAY, ASKED).missing_for(lessons.lessons[2], STANDINGS[0]) == (
        "Power-off stall at 'guided', now 'not begun'",
    )
    for flown_too in shown[2]["tasks"]:
        flown_too["flown_by"] = "instructor shows"
    shown.append({**SMALL["lessons"][2], "key": "again"})
    lessons = course(lessons=shown)
    assert way_through(lessons, (), (), TODAY, ASKED).missing_for(lessons.lessons[2], STANDINGS[0]) == ()
    begun = way_through(small, [stall("Guided")], (), TODAY, ASKED)
    assert begun.missing_for(teach, STANDINGS[1]) == ()
    assert not begun.met and begun.ground_missing == ("What the manual says",)


def test_a_dangerous_fault_holds_back_until_two_attempts_are_without_it_whatever_height_it_cost():
    """Pulled before rolling in every recovery it cost less height, was graded Sound, and was promoted."""
    task = CourseTask(key="low", figure="nose_low", needed="sound", side="right")

    def reached(*clean, standards=ASKED):
        flights = [
            flown(
                "nose_low",
                "Sound",
                at,
                ago=20 - at,
                faults=() if ok else ("pulled_before_rolling",),
                side="right",
                **ALONE,
            )
            for at, ok in enumerate(clean, 1)
        ]
        return state(task, *flights, standards=standards)

    assert reached(True, True).state == State.SOUND
    held = reached(False, False, True)
    assert held.state == State.GUIDED
    assert "2 attempts without 'pulled before rolling'" in held.missing
    assert reached(False, True, True).state == State.SOUND
    # The chief asks for more, from another standard on, or for nothing.
    for blocks, made, expected in (
        (Blocks(clean_attempts=3), (False, True, True), State.GUIDED),
        (Blocks(clean_attempts=3), (False, True, True, True), State.SOUND),
        (Blocks(grade="Solo-ready"), (False, False), State.SOUND),
        (Blocks(grade="Guided"), (False, False), State.BEGUN),
        (None, (False, False), State.SOUND),
    ):
        low = FigureStandard(blocking={"pulled_before_rolling": blocks})
        assert reached(*made, standards=asked(nose_low=low)).state == expected, blocks
