"""How far a student is in a task: each rule of the table at its edge, sides, lapses, what counts."""

from datetime import timedelta

import pytest

from keelturn.progress.states import State, belongs, marks_of, shows, state_of
from keelturn.progress.way import (
    STANDINGS,
    highest,
    standing_in,
    standings_ahead,
    way_through,
)
from tests.courses import AGAINST, TODAY, course, flown

STALL, TURNING, ONE, TAUGHT = course().tasks
DAYS = 90


def stall(grade="Sound", **more):
    return flown("stall_power_off", grade, **more)


def state(task, *attempts, today=TODAY, days=DAYS, **more):
    return state_of(task, attempts, today, days, **more)


ALONE = {"flown_by": "student alone"}
READY = (stall("Solo-ready", flight=1, **ALONE), stall("Solo-ready", flight=2, **ALONE))


@pytest.mark.parametrize(
    ("attempts", "expected", "missing"),
    [
        ((), "not begun", "fly it"),
        ((stall(None, flown_by="instructor shows"),), "begun", "0 of 1 attempt at 'Guided' or better"),
        ((stall("Shown"),), "begun", "0 of 1 attempt at 'Guided' or better"),
        ((stall("Guided"),), "guided", "0 of 2 attempts at 'Sound' or better"),
        ((stall(),), "guided", "1 of 2 attempts at 'Sound' or better"),
        ((stall(), stall()), "sound", "0 of 2 attempts at 'Solo-ready'"),
        ((stall(), stall(), stall("Guided", flight=2)), "guided", "the last flight showed Guided"),
        ((stall(), stall(), stall("Guided")), "sound", "0 of 2 attempts at 'Solo-ready'"),
        (READY, "ready", ""),
        ((READY[0], READY[0]), "sound", "'Solo-ready' in 2 flights, so far in one"),
        ((stall("Solo-ready"), READY[1]), "sound", "1 of 2 flown alone"),
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
    left = [flown("stall_turning", side="left") for _ in range(2)]
    behind = state(TURNING, *left, flown("stall_turning", "Guided", side="right"))
    assert (behind.state, behind.missing) == (State.GUIDED, ("Right: 0 of 2 attempts at 'Sound' or better",))
    assert [words.split(",")[0] for words in behind.reasons] == ["left: sound", "right: guided"]
    assert state(TURNING, *left).state == State.BEGUN
    assert state(TURNING, *left).missing == ("Right: fly it",)
    assert state(TURNING, *left, *[flown("stall_turning", side="right")] * 2).state == State.SOUND


def test_only_its_own_figure_side_settings_and_method_belong_to_a_task():
    def of(task, key="spin", **noted):
        return belongs(task, flown(key, **noted).attempt)

    assert of(ONE, turns=1.0) and of(ONE, turns=1.5) and not of(ONE, turns=2.0) and not of(ONE, "loop")
    assert of(ONE)
    assert of(TAUGHT, side="left") and not of(TAUGHT, side="right")
    blind = TURNING.model_copy(update={"figure": "nose_low", "settings": {"eyes_closed": 1.0}})
    assert not of(blind, "nose_low")
    by_middle = ONE.model_copy(update={"method": "centralise"})
    assert of(by_middle, school="centralise") and of(by_middle) and not of(by_middle, school="hands_off")


def test_height_beyond_what_the_task_allows_shows_no_more_than_guided():
    assert shows(ONE, flown("spin", beyond_ft=200)) == "Sound"
    assert shows(ONE, flown("spin", beyond_ft=201)) == "Guided"
    assert shows(ONE, flown("spin", beyond_ft=None)) == "Sound"
    assert shows(ONE, flown("spin", "Shown", beyond_ft=300)) == "Shown"


def test_what_must_be_taught_back_is_shown_by_that_alone():
    assert state(TAUGHT, flown("spin", side="left")).state == State.BEGUN
    assert "(student against" in state(TAUGHT, flown("spin", side="left")).missing[0]
    assert state(TAUGHT, flown("spin", side="left", flown_by=AGAINST)).state == State.GUIDED
    twice = [flown("spin", "Solo-ready", side="left", flight=n, flown_by=AGAINST) for n in (1, 2)]
    # Nobody flies it alone: that is not asked.
    assert (
        state(TAUGHT, *twice).missing == ("0 of 2 flown alone",) or state(TAUGHT, *twice).state == State.READY
    )


@pytest.mark.parametrize(
    ("ago", "expected", "lapses_in"),
    [(0, "ready", 90), (89, "ready", 1), (90, "sound", 90), (179, "sound", 1), (180, "guided", 90),
     (269, "guided", 1), (270, "begun", None), (2700, "begun", None)],
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
        way = way_through(course(), [*stalls, *flown_too], (), TODAY, DAYS)
        assert way.state("stall").state == expected


def test_days_of_nothing_lapse_nothing():
    assert state(STALL, stall(ago=4000), days=0).lapses_on is None
    assert state(STALL, stall("Shown", ago=4000)).state == State.BEGUN


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


def test_the_standing_follows_from_the_tasks_of_the_lessons_that_may_be_flown():
    def standing(*evidence):
        return standing_in(way_through(course(), evidence, (), TODAY, DAYS)).standing

    first = all_of("stall_power_off", "stall_turning", "spin")
    assert standing() == STANDINGS[0]
    assert standing(*first[:-1]) == STANDINGS[0]
    assert standing(*first) == STANDINGS[1]
    ready = all_of("stall_power_off", grade="Solo-ready", flown_by="student alone")
    assert standing(*first, *ready) == STANDINGS[1]
    taught = flown("spin", "Sound", 3, side="left", flown_by=AGAINST)
    assert standing(*all_of("stall_turning", "spin"), *ready, taught) == STANDINGS[2]
    assert standing_in(way_through(course(), first, (), TODAY, DAYS)).missing == (
        "Power-off stall: sound, needed ready",
        "One-turn spin, taught back, left: begun, needed guided",
    )


def test_a_course_that_begins_further_on_says_nothing_before_its_first_lessons_are_shown():
    lessons = [{**lesson, "standing": "practised"} for lesson in course().model_dump()["lessons"]]
    further = course(lessons=lessons)
    assert standing_in(way_through(further, (), (), TODAY, DAYS)).standing == STANDINGS[0]
    some = standing_in(way_through(further, all_of("spin"), (), TODAY, DAYS))
    assert some.standing == STANDINGS[0]
    other = standing_in(
        way_through(course(), all_of("stall_power_off", "stall_turning", "spin"), (), TODAY, DAYS)
    )
    assert highest([some, other]) == other and highest([]).standing == STANDINGS[0]


def test_a_standing_falls_on_the_day_that_its_tasks_lapse():
    evidence = all_of("stall_power_off", "stall_turning", "spin", ago=10)
    ahead = standings_ahead([course()], evidence, TODAY, DAYS)
    assert [(day, s.standing) for day, s in ahead] == [
        (TODAY, STANDINGS[1]),
        (TODAY + timedelta(days=80), STANDINGS[0]),
    ]
    assert standings_ahead([], evidence, TODAY, DAYS) == ((TODAY, highest([])),)


def test_what_must_come_before_a_lesson_is_said():
    small = course()
    _, spins, teach = small.lessons
    empty = way_through(small, (), (), TODAY, DAYS)
    assert empty.missing_for(spins, STANDINGS[0]) == ("on the ground: What the manual says",)
    # The stall is flown in the lesson itself, before the spin.
    assert way_through(small, (), ["manual"], TODAY, DAYS).missing_for(spins, STANDINGS[0]) == ()
    assert empty.missing_for(teach, STANDINGS[0]) == (
        "the standing 'practised', now 'first flights'",
        "Power-off stall at 'guided', now 'not begun'",
    )
    begun = way_through(small, [stall("Guided")], (), TODAY, DAYS)
    assert begun.missing_for(teach, STANDINGS[1]) == ()
    assert not begun.met and begun.ground_missing == ("What the manual says",)
