"""Which lesson a student is given next, with what repeated; the lessons themselves; and a proposal taken
apart."""

import re

import pytest

from keelturn.aircraft.loading import usual_load
from keelturn.figures.catalogue import figure_of
from keelturn.noting.attempt import Attempt
from keelturn.plan.proposal import differences, propose
from keelturn.progress.courses import COURSES
from keelturn.progress.first_plan import Setting, first_plan
from keelturn.progress.habits import FaultTrend
from keelturn.progress.lessons import filled_in, laid_out, lesson_of
from keelturn.progress.next_lesson import (
    _Choice,
    _gentler,
    ended_badly,
    next_lesson,
    sequence_for,
    taken_over_in,
)
from keelturn.progress.way import way_through
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import Day
from tests.courses import AGAINST, ASKED, TODAY, course, flown
from tests.flights import NO_SPINS, TRAINER, conditions, figure, plan

SPINS = lesson_of("spins_both_ways")
MANUAL = ("manual",)
ALONE = {"flown_by": "student alone"}


def both(key, grade="Sound", flights=(1, 2), **more):
    return [flown(key, grade, n, side=side, **more) for n in flights for side in ("left", "right")]


def upcoming(*evidence, standing="first flights", ground=MANUAL, card=TRAINER, made=None):
    made = made or course()
    return next_lesson(way_through(made, evidence, ground, TODAY, ASKED), standing, evidence, TODAY, card)


def stalls(**more):
    return both("stall_power_off", "Solo-ready", **ALONE, **more) + both("stall_turning", **more)


def test_the_first_lesson_with_something_to_learn_is_next_and_says_what():
    first = upcoming()
    assert first.lesson.key == "easy"
    assert first.why == (
        "Easy: not yet as the course needs it: power-off stall (not begun), turning stall (not begun).",
    )
    assert upcoming(*stalls()).lesson.key == "spins"
    ready = stalls() + both("spin")
    assert upcoming(*ready).why == ("No lesson that may be flown brings a task further: Spins again.",)
    assert upcoming(*ready, standing="practised").lesson.key == "teach"
    taught = flown("spin", "Sound", 3, side="left", flown_by=AGAINST)
    assert upcoming(*ready, taught, standing="practised").why[0].startswith("Small is complete: Teach")


def test_what_may_not_be_flown_yet_is_said_with_what_is_missing():
    found = upcoming(ground=())
    assert [(n.lesson.key, n.missing[0]) for n in found.not_yet] == [
        ("spins", "on the ground: What the manual says"),
        ("teach", "the standing 'practised', now 'first flights'"),
    ]
    nothing = course(lessons=[{**x, "ground": ["manual"]} for x in course().model_dump()["lessons"]])
    none = upcoming(ground=(), made=nothing)
    assert (none.lesson.key, none.missing) == ("easy", ("on the ground: What the manual says",))
    assert none.why == ("Easy would be next. Missing first: on the ground: What the manual says.",)
    assert (none.gentler, none.harder) == (None, None)


def test_a_lesson_the_aircraft_may_not_fly_is_passed_over_and_it_is_said():
    lessons = [course().model_dump()["lessons"][i] for i in (1, 0, 2)]
    found = upcoming(card=NO_SPINS, made=course(lessons=lessons))
    assert found.lesson.key == "easy"
    assert found.why[1] == f"Spins would be next, but {NO_SPINS.name} is not approved for spin."
    # Where the one that is left brings nothing further, what would have is said too.
    again = upcoming(*stalls(), card=NO_SPINS)
    assert again.why == (
        "No lesson that may be flown brings a task further: Easy again.",
        f"Spins would be next, but {NO_SPINS.name} is not approved for spin.",
    )
    only = course(
        tasks=[{"key": "one", "figure": "spin", "side": "left"}],
        lessons=[{"key": "spins", "name": "Spins", "tasks": [{"task": "one"}]}],
    )
    assert upcoming(card=NO_SPINS, made=only).missing == ("an aircraft that is approved for spin",)
    assert upcoming(card=None, made=only).missing == ()


@pytest.mark.parametrize(
    ("noted", "why"),
    [
        ({"feel": 3}, "Easy again, nothing new: the last flight ended at 3 (0 very ill, 10 fine)."),
        ({"abandoned": "Sick"}, "Easy again, nothing new: the last flight was broken off."),
        ({"feel": 4}, None),
    ],
)
def test_nothing_new_after_a_flight_that_ended_badly(noted, why):
    last = flown("stall_turning", "Sound", 3, 5, lesson="easy", **noted)
    found = upcoming(*stalls(), last)
    assert (found.lesson.key == "easy") == (why is not None)
    assert why is None or found.why[0] == why


@pytest.mark.parametrize(("ago", "key"), [(28, "spins"), (29, "easy")])
def test_nothing_new_after_four_weeks_without_a_flight(ago, key):
    found = upcoming(*stalls(ago=ago, lesson="easy"))
    assert found.lesson.key == key
    assert key == "spins" or found.why[0] == "Easy again before anything new: 29 days without a flight."


def test_what_has_lapsed_comes_before_what_is_new_and_what_lapses_soon_is_said():
    # Spins lapsed long ago keep nothing; the turning stall lapsed, and was flown since in another lesson.
    old = stalls(ago=95, lesson="easy")
    recent = flown("stall_power_off", "Solo-ready", 9, 3, lesson="spins", **ALONE)
    found = upcoming(*old, recent)
    assert found.why[0] == "Easy: lapsed: turning stall (guided)."
    # Months away, it is what has lapsed and not what was flown last.
    away = [*stalls(ago=120, lesson="easy"), *both("spin", ago=100, lesson="spins")]
    assert upcoming(*away).why[0].startswith("Easy: lapsed: ")
    soon = upcoming(*stalls(ago=69), recent)
    assert soon.lesson.key == "spins"
    assert soon.why[1:] == ("From 4 Jun on, not in this lesson, lapse: turning stall.",)
    assert upcoming(*stalls(ago=68), recent).why[1:] == ()


def test_one_asks_less_and_one_asks_more():
    found = upcoming(*stalls(), standing="practised")
    assert (found.gentler.lesson.key, found.gentler.why) == (
        "easy",
        "without spins; its most is turning stall",
    )
    assert (found.harder.lesson.key, found.harder.why) == ("teach", "the same figures, with less help")
    first = upcoming()
    assert (first.gentler, first.harder.lesson.key, first.harder.why) == (None, "spins", "adds spin")


def test_what_the_instructor_took_over_in_is_flown_once_more():
    figures, why = sequence_for(SPINS, 5000, [], unsettled=False, taken_over=("spin",))
    again = next(f for f in figures if f.id.endswith("b"))
    assert again.key == "spin" and again.flown_by.by_student
    assert len(figures) == len(SPINS.figures) + 1
    assert "took over in it last time" in why[0]
    assert sequence_for(SPINS, 5000, [], unsettled=False, taken_over=("loop",))[1] == ()


def test_a_figure_is_not_flown_three_times_for_two_reasons():
    late = FaultTrend("rudder_late", "Rudder half or late", "not going away", 5, 9, 4, 9, "")
    figures, _ = sequence_for(SPINS, 5000, [late], unsettled=False)
    twice = next(f.key for f in figures if f.id.endswith("b"))
    both, why = sequence_for(SPINS, 5000, [late], unsettled=False, taken_over=(twice,))
    assert len(both) == len(figures) and len(why) == 1


def test_taken_over_in_is_of_the_last_lesson_and_of_what_the_student_flew():
    def flown(key, who="student with talk", at=3700):
        return Attempt.model_validate(
            {"id": key, "planned": figure(key).model_dump(), "flown_by": who, "taken_over_ft": at}
        )

    assert taken_over_in([]) == ()
    last = [flown("spin"), flown("spin"), flown("loop", at=None)]
    assert taken_over_in([[flown("loop")], last]) == ("spin",)
    assert taken_over_in([[flown("spin", "student talks, instructor flies")]]) == ()


def test_a_fault_that_stays_has_its_figure_flown_once_more():
    stubborn = FaultTrend(
        "rudder_late", "Rudder half or late", "not going away", 5, 9, 4, 9, "first 5 of 9, last 4 of 9"
    )
    figures, why = sequence_for(SPINS, 5000, [stubborn], unsettled=False)
    keys = [f.key for f in figures]
    assert len(keys) == len(SPINS.figures) + 1
    ids = [f.id for f in figures]
    again = next(i for i, made in enumerate(ids) if made.endswith("b"))
    assert (ids[again], keys[again]) == (f"{ids[again - 1]}b", keys[again - 1])
    assert len(set(ids)) == len(figures)
    assert "rudder half or late" in why[0]


def test_only_a_flight_that_ended_low_counts_as_bad():
    def lesson(*feels):
        return [
            Attempt.model_validate({"id": f"a{i}", "planned": figure("spin").model_dump(), "feel": feel})
            for i, feel in enumerate(feels)
        ]

    assert [
        ended_badly(x)
        for x in ([], [lesson(None)], [lesson(8, 3)], [lesson(3), lesson(7)], [lesson(3, 6, None)])
    ] == [False, False, True, False, False]


def test_after_a_bad_end_the_most_unsettling_is_left_out():
    figures, why = sequence_for(SPINS, 5000, [], unsettled=True)
    assert len(figures) == len(SPINS.figures) - 1
    assert "low number" in why[0]


def too_shallow(top_ft):
    document = plan().model_copy(update={"figures": laid_out(SPINS, 4000)})
    return document, propose(
        document, conditions(document, place=Place(name="S", elevation_ft=0, block_top_ft=top_ft))
    )


def test_a_block_too_shallow_for_whole_spins_is_told_the_smallest_way_out():
    _, one = too_shallow(4000)
    assert one.changes == ("incipient spin instead of spin (number 5)",)
    assert "Spin needs" in one.why
    document, both = too_shallow(3850)
    assert both.changes == ("incipient spin instead of spin (number 5 and 6)",)
    kinds = [d.kind for d in differences(document, both)]
    assert kinds.count("settings") == 2
    _, none = too_shallow(3500)
    assert none.plan is None
    assert "more than the block has" in none.why


def test_differences_name_each_change_by_itself():
    document = plan(figure("spin", start_ft=6000, turns=2.0), figure("loop", start_ft=4000))
    found = propose(document, conditions(document))
    # The spin stands where it may: it is not touched.
    assert [(d.kind, d.figure) for d in differences(document, found)] == [("start", "f2")]
    assert re.match(r"Loop: start at 4,\d\d0 ft, \d\d0 ft higher$", found.headline)
    kept = propose(document, conditions(document)).plan
    assert differences(kept, propose(kept, conditions(kept))) == ()


def test_a_load_too_heavy_is_answered_with_less_fuel():
    heavy = plan(
        figure("steep_turn"),
        load={
            "front_lb": 200,
            "rear_lb": 205,
            "front_parachute_lb": 15,
            "rear_parachute_lb": 15,
            "fuel_usgal": {"Centre": 22},
        },
    )
    found = propose(heavy, conditions(heavy))
    assert found.fits
    assert "less in Centre" in found.changes[0]
    assert [d.kind for d in differences(heavy, found)][-1] == "load"


TURNS = {
    "tasks": [{"key": "turn", "figure": "steep_turn"}, {"key": "one", "figure": "spin"}],
    "ground": [],
    "lessons": [
        {"key": "easy", "name": "Easy", "tasks": [{"task": "turn"}, {"task": "turn", "side": "right"}]},
        {"key": "spins", "name": "Spins", "tasks": [{"task": "one"}, {"task": "one", "side": "right"}]},
    ],
}


def planned(evidence, top_ft, lesson=None, made=None, **more):
    """What is laid out for the student of a course at one place."""
    made = made or course()
    way = way_through(made, evidence, MANUAL, TODAY, ASKED)
    load = usual_load(TRAINER.balance, 150, 160, True)
    setting = Setting(
        TRAINER, Standards(), "practised", load, 30, None, evidence, (made,), way, TODAY, **more
    )
    return first_plan(lesson, setting, [Place(name="Block", elevation_ft=0, block_top_ft=top_ft)])


def test_where_the_next_lesson_fits_nowhere_the_gentler_one_is_laid_out_and_it_is_said():
    made, turned = course(**TURNS), both("steep_turn")
    assert planned(turned, 6000, made=made).lesson.key == "spins"
    low = planned(turned, 3450, made=made)
    assert (low.lesson.key, low.next.lesson.key, low.fits) == ("easy", "spins", True)
    assert low.why[0] == "Spins would be next, but it fits nowhere today: Easy instead."
    # Where that one does not fit either, what was meant stays.
    assert planned(turned, 3350, made=made).lesson.key == "spins"


def test_what_the_aircraft_may_not_fly_is_left_out_and_it_is_said():
    able = TRAINER.model_copy(update={"approved": {"stall_power_off": None, "stall_turning": None}})

    def laid_out_in(card, lesson="spins"):
        way = way_through(course(), (), MANUAL, TODAY, ASKED)
        load = usual_load(TRAINER.balance, 150, 160, True)
        setting = Setting(card, Standards(), "practised", load, 30, None, (), (course(),), way, TODAY)
        return first_plan(lesson, setting, [Place(name="Block", elevation_ft=0, block_top_ft=6000)])

    found = laid_out_in(able)
    assert [f.key for f in found.plan.figures] == ["stall_power_off"]
    assert (found.fits, found.way_out, found.lesson.key) == (True, "without spin", "spins")
    assert f"{TRAINER.name} is not approved for spin: left out." in found.why
    assert laid_out_in(TRAINER).way_out == ""
    # Where nothing is left it stays, as a stop.
    nothing = laid_out_in(TRAINER.model_copy(update={"approved": {"loop": None}}))
    assert (nothing.fits, len(nothing.plan.figures)) == (False, 3)


def test_the_weather_of_the_place_goes_into_the_plan():
    low = Day(cloud_base_ft=4400, report="METAR XTST 140750Z", observed="2026-05-14T07:50:00Z")
    found = planned(stalls(), 6000, days={"Block": low})
    assert found.plan.day == low
    assert "For the weather of METAR XTST 140750Z." in found.why
    assert planned(stalls(), 6000, days={"Elsewhere": low}).plan.day == Day()


@pytest.mark.parametrize("of", COURSES, ids=lambda of: of.key)
def test_a_lesson_without_a_family_has_nothing_of_it(of):
    """'Without spin' was said of a lesson of incipient spins."""
    lessons = tuple(filled_in(of, one) for one in of.lessons)
    for chosen in lessons:
        offer = _gentler(_Choice(None, lessons, lessons), chosen)
        if offer is None:
            continue
        left_out = offer.why.split(";")[0].removeprefix("without ")
        families = {figure_of(f.key).family.lower() for f in offer.lesson.figures}
        names = {figure_of(f.key).name.lower() for f in offer.lesson.figures}
        assert left_out not in families | names, offer
