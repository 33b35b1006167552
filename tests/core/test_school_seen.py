"""The school as its chief looks at it."""

from dataclasses import replace
from datetime import timedelta

import pytest

from keelturn.figures.planned import FlownBy
from keelturn.noting.attempt import StopKind, StopNoted
from keelturn.progress.course import Course
from keelturn.progress.school import FEWEST, FlightSeen, attempt_seen, school_seen, stuck_on
from keelturn.progress.way import way_through
from keelturn.school.standards import Standards
from tests.courses import SMALL, TODAY, asked, flown

S = Standards()


def known(
    lost=650.0,
    student="Ana",
    instructor="Bo",
    deviation=0.0,
    flight=1,
    aircraft="QX-TST",
    minutes=None,
    figure="spin",
    **noted,
):
    """A flight with one attempt."""
    one = flown(figure, flight=flight, **noted)
    seen = attempt_seen(one.attempt, lost, 600.0, deviation, S)
    return FlightSeen(flight, one.day, student, instructor, aircraft, minutes, (seen,))


def of(*flights, ways=None):
    """Those of one flight together."""
    together = {}
    for one in flights:
        key = (one.flight, one.student, one.instructor, one.aircraft)
        before = together.get(key, replace(one, attempts=()))
        together[key] = replace(before, attempts=before.attempts + one.attempts)
    return school_seen(list(together.values()), {name: stuck_on(*way) for name, way in (ways or {}).items()})


# --- what the briefs got wrong


def test_a_figure_that_costs_more_than_briefed_is_said_with_how_much():
    seen = of(*(known(650 + 2 * n, student=f"S{n % 4}") for n in range(12)))
    (cost,) = seen.costs
    assert (cost.figure, cost.attempts, cost.beyond_ft, cost.all_ft) == ("spin", 12, 60.0, 730.0)
    assert cost.sure and cost.least_ft > 0
    assert cost.words == "+60 ft against the brief; 12 of 12 within 19 in 20."


def test_what_lies_to_both_sides_is_as_briefed():
    (cost,) = of(*(known(600 + 80 * (-1) ** n, student=f"S{n // 4}") for n in range(12))).costs
    assert not cost.sure and cost.least_ft <= 0 <= cost.most_ft
    assert cost.words.startswith("As briefed, as far as can be told")


def test_students_are_what_is_counted_not_attempts():
    """By hand: three students, four attempts each, 0, 30 and 60 ft beyond; sums off the mean -120, 0, 120;
    variance (2 x 120 squared) x 3/2 over 12 squared: 300; 1.645 times its root is 28."""
    (cost,) = of(*(known(600 + 30 * (n % 3), student=f"S{n % 3}") for n in range(12))).costs
    assert (cost.least_ft, cost.most_ft) == (0.0, 60.0)
    (alone,) = of(*(known(600 + 30 * (n % 3), student=f"S{n}") for n in range(12))).costs
    assert alone.most_ft - alone.least_ft < 40


@pytest.mark.parametrize(("attempts", "students", "told"), [(7, 7, False), (8, 2, False), (8, 3, True)])
def test_of_too_few_nothing_is_said(attempts, students, told):
    (cost,) = of(*(known(student=f"S{n % students}") for n in range(attempts))).costs
    assert (cost.least_ft is not None) == told
    assert (cost.words == "Too few to tell.") == (not told)
    assert FEWEST == 8


@pytest.mark.parametrize(("deviation", "within"), [(1.645, 12), (1.646, 0)])
def test_within_19_in_20_is_counted(deviation, within):
    (cost,) = of(*(known(student=f"S{n % 4}", deviation=deviation) for n in range(12))).costs
    assert cost.within == within
    assert cost.words.endswith("within 19 in 20." if within else "0 of 12 within 19 in 20, 12 expected.")


def test_what_says_nothing_of_a_student_does_not_count():
    assert of(known(deviation=None)).costs == ()
    assert of(known(deviation=None)).attempts == 1


def test_what_costs_the_school_most_stands_first():
    dear = [known(900, figure="nose_low", flight=2)]
    assert [c.figure for c in of(known(650), known(650), *dear).costs] == ["nose_low", "spin"]


# --- beyond a limit


def test_what_went_beyond_a_limit_stands_with_its_flight_the_latest_first():
    taken = known(flight=3, taken_over_ft=3900)
    stopped = known(flight=4, stops=(StopNoted(kind=StopKind.FLOOR, value=2950),))
    broken = known(flight=5, abandoned="cloud")
    late = replace(broken, day=TODAY + timedelta(days=1))
    found = of(taken, stopped, late, known()).beyond
    assert [(b.what, b.flight) for b in found] == [("broken off", 5), ("floor", 4), ("taken over", 3)]
    assert found[2].words.endswith("at 3,900 ft") and found[1].words.endswith("2,950")
    assert (found[0].student, found[0].instructor) == ("Ana", "Bo")


# --- stuck


def ways(flights, grade="Guided"):
    tries = [
        flown("stall_power_off", flight=n, grade=grade, flown_by=FlownBy.WITH_TALK) for n in range(flights)
    ]
    tasks = [{**SMALL["tasks"][0], "needed": "sound"}, *SMALL["tasks"][1:]]
    way = way_through(Course.model_validate({**SMALL, "tasks": tasks}), tries, [], TODAY, asked(180))
    return {"Ana": (way, tries), "Dee": (way, tries)}


@pytest.mark.parametrize(("flights", "stuck"), [(2, 0), (3, 1), (4, 1)])
def test_a_task_that_takes_long_and_is_not_met(flights, stuck):
    found = of(ways=ways(flights)).stuck
    assert len(found) == stuck
    if stuck:
        assert (found[0].students, found[0].flights) == (("Ana", "Dee"), 2 * flights)
        assert found[0].words == f"2 in Small, {flights} flights each in the mean"


def test_a_task_that_is_met_is_nobodys_trouble():
    assert of(ways=ways(4, grade="Sound")).stuck == ()


# --- grades


def graded(grade, times, lost=650.0, instructor="Bo"):
    return [known(lost, instructor=instructor, grade=grade, flown_by=FlownBy.ALONE) for _ in range(times)]


def test_grades_stand_beside_what_the_same_notes_come_to():
    """50 ft beyond the brief and no fault is Solo-ready by the standard that ships."""
    (grader,) = of(*graded("Solo-ready", 6), *graded("Sound", 4)).graders
    assert (grader.graded, grader.same, grader.above, grader.below) == (10, 6, 0, 4)
    assert grader.words == "60 of 100 as the standard comes to."


def test_leaning_to_one_side_is_said_where_chance_would_not_do_it():
    (grader,) = of(*graded("Solo-ready", 6), *graded("Sound", 5)).graders
    assert grader.words.endswith("otherwise mostly below it.")
    (kind,) = of(*graded("Solo-ready", 10, lost=1100)).graders
    assert (kind.above, kind.words.endswith("mostly above it.")) == (10, True)


def test_grades_of_many_years_are_told_too():
    (grader,) = of(*graded("Solo-ready", 1100), *graded("Sound", 1200)).graders
    assert (grader.same, grader.below) == (1100, 1200)
    assert grader.words == "48 of 100 as the standard comes to; otherwise mostly below it."


def test_of_few_grades_nothing_is_said_and_instructors_stand_apart():
    found = of(*graded("Sound", 3), *graded("Sound", 7, instructor="Cy")).graders
    assert [(g.instructor, g.graded, g.words) for g in found] == [
        ("Bo", 3, "3 grades are too few to tell."),
        ("Cy", 7, "7 grades are too few to tell."),
    ]


# --- aircraft


def test_an_aircrafts_hours_are_those_of_its_flights_each_counted_once():
    found = of(
        known(flight=1, minutes=40.0),
        known(flight=1, minutes=40.0),
        known(flight=2, minutes=35.0),
        known(flight=3),
    ).aircraft
    assert [(a.minutes, a.without, a.flights) for a in found] == [(75.0, 1, 3)]


def test_an_aircrafts_flights_figures_and_height():
    found = of(known(flight=1), known(flight=1), known(flight=2), known(flight=3, aircraft="QX-NOS")).aircraft
    assert [(a.aircraft, a.flights, a.attempts, a.lost_ft) for a in found] == [
        ("QX-TST", 2, 3, 1950.0),
        ("QX-NOS", 1, 1, 650.0),
    ]


def test_a_school_that_has_not_flown_has_an_empty_page():
    seen = of()
    assert (seen.flights, seen.costs, seen.beyond, seen.stuck, seen.graders, seen.aircraft) == (
        0,
        (),
        (),
        (),
        (),
        (),
    )
