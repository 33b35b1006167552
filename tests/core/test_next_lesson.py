"""Which lesson a student is given next, with what repeated; the lessons themselves; and a proposal taken
apart."""

import re

import pytest

from keelturn.noting.attempt import Attempt
from keelturn.plan.proposal import differences, propose
from keelturn.plan.sequence import compute_plan
from keelturn.progress.habits import FaultTrend
from keelturn.progress.lessons import LESSONS, laid_out, lesson_of
from keelturn.progress.next_lesson import (
    ended_badly,
    next_lesson,
    not_yet,
    sequence_for,
    taken_over_in,
)
from keelturn.school.place import Place
from tests.flights import HEAVY, NO_SPINS, TRAINER, conditions, figure, plan

SPINS = lesson_of("spins_both_ways")


def sound(*lessons):
    return {f.key: "Sound" for key in lessons for f in lesson_of(key).figures}


def test_the_first_lesson_not_yet_shown_is_next_and_says_what_is_missing():
    first = next_lesson({}, "first flights", TRAINER)
    assert first.lesson.key == "stalls"
    assert "steep turn" in first.why[0]
    assert next_lesson(sound("stalls"), "first flights", TRAINER).lesson.key == "spins_both_ways"
    assert next_lesson(sound("stalls", "spins_both_ways"), "practised", TRAINER).lesson.key == "upsets"


def test_who_is_practised_is_not_sent_back_to_the_beginning_but_to_what_was_not_sound():
    assert next_lesson({}, "practised", TRAINER).lesson.key == "upsets"
    assert next_lesson({"spin": "Guided"}, "practised", TRAINER).lesson.key == "spins_both_ways"
    assert not_yet(SPINS, {"spin": "Guided", "nose_low": "Solo-ready"}, "practised") == ["spin"]


def test_a_lesson_the_aircraft_may_not_fly_is_passed_over_and_it_is_said():
    found = next_lesson(sound("stalls"), "first flights", NO_SPINS)
    assert all(f.key in NO_SPINS.approved for f in found.lesson.figures) or found.lesson.key == "stalls"
    assert any("not approved" in line for line in found.why)


def test_when_everything_has_been_shown_the_last_lesson_comes_again():
    everything = sound(*(lesson.key for lesson in LESSONS))
    assert next_lesson(everything, "ready to fly it alone", HEAVY).lesson.key == "mixed"


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


@pytest.mark.parametrize("lesson", LESSONS, ids=[lesson.key for lesson in LESSONS])
def test_every_lesson_fits_the_trainer_in_an_ordinary_block_in_its_own_order(lesson):
    document = plan().model_copy(update={"figures": laid_out(lesson, 5500)})
    found = propose(document, conditions(document))
    assert found.fits
    assert [f.id for f in found.plan.figures] == [f.id for f in document.figures]
    assert compute_plan(found.plan, conditions(document)).stops == 0


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
