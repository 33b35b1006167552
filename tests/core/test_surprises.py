"""Set-ups for closed eyes: balanced, within standing, approvals, heights and comfort, the same for a seed,
and nothing of them in what a student sees."""

import json
from collections import Counter
from dataclasses import replace

import pytest
from pydantic import TypeAdapter

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import FlownBy
from keelturn.formats.reading import Refused, read_document
from keelturn.plan.chain import comfort_of
from keelturn.plan.document import PlanDocument
from keelturn.plan.sequence import PlanAnswer, as_the_student_sees, compute_plan
from keelturn.plan.surprises import KINDS, STAGES
from tests.flights import PLACE, TRAINER, conditions, figure, plan
from tests.long import others_long

TURN = figure("steep_turn")
ANSWER = TypeAdapter(PlanAnswer)


def computed(count=6, seed=1, figures=(TURN,), **changed):
    wanted = plan(*figures, surprises={"count": count, "seed": seed})
    return compute_plan(wanted, replace(conditions(wanted), **changed))


def drawn(*wanted, **changed):
    return computed(*wanted, **changed).drawn


@pytest.mark.parametrize("seed", others_long(range(5), (0,)))
@pytest.mark.parametrize("count", [1, 4, 7])
def test_kinds_and_sides_differ_by_no_more_than_one(count, seed):
    figures = [one.planned for one in drawn(count, seed).set_ups]
    assert len(figures) == count
    kinds, sides = Counter(f.key for f in figures), Counter(f.side for f in figures)
    assert len(kinds) == min(count, len(KINDS))
    for counted in (kinds, sides) if count > 1 else ():
        assert max(counted.values()) - min(counted.values()) <= 1


@pytest.mark.long
def test_the_same_seed_draws_the_same_and_another_seed_another():
    assert drawn(seed=3).set_ups == drawn(seed=3).set_ups
    assert len({tuple(one.planned.as_flown for one in drawn(seed=seed).set_ups) for seed in range(8)}) > 6


@pytest.mark.parametrize("stage", others_long(STAGES, (0,)))
def test_no_further_than_the_students_standing_and_the_figures_settings(stage):
    found = set()
    for seed in range(6):
        for one in drawn(seed=seed, stage=stage).set_ups:
            asks = figure_of(one.planned.key)
            assert STAGES.index(asks.stage) <= STAGES.index(stage)
            kind = next(kind for kind in KINDS if kind.key == one.planned.key)
            for name, (near, far), more in (
                ("bank_deg", kind.bank, kind.further[0]),
                ("path_deg", kind.path, kind.further[1]),
            ):
                value, end = one.planned.parameters[name], far + more * STAGES.index(stage)
                assert min(near, end) - 2.5 <= value <= max(near, end) + 2.5
                assert asks.parameters[name].least <= value <= asks.parameters[name].most
            found.add(one.planned.key)
            assert one.planned.parameters["eyes_closed"] == 1.0
            assert one.planned.flown_by == FlownBy.ALONE
    reached = STAGES[: STAGES.index(stage) + 1]
    assert found == {kind.key for kind in KINDS if figure_of(kind.key).stage in reached}


def test_what_the_standing_does_not_reach_is_said():
    assert drawn(stage="first flights").fewer == (
        "Over-banked recovery: from 'practised' on",
        "Inverted recovery: from 'practised' on",
    )


def test_nothing_that_the_card_does_not_approve():
    two = {key: TRAINER.approved[key] for key in ("nose_low", "inverted")}
    card = TRAINER.model_copy(update={"approved": two})
    found = drawn(card=card)
    assert {one.planned.key for one in found.set_ups} == {"nose_low", "inverted"}
    assert found.fewer == tuple(
        f"{name} recovery: not approved on the card of {card.name}" for name in ("Nose-high", "Over-banked")
    )
    none = drawn(card=TRAINER.model_copy(update={"approved": {}}))
    assert (none.set_ups, len(none.fewer)) == ((), 4)


def test_each_begins_at_its_lowest_start_or_less_than_200_ft_higher_inside_the_block():
    for seed in range(4):
        for one in drawn(seed=seed).set_ups:
            its = one.answer
            assert one.planned.start_ft % 100 == 0
            assert its.lowest_start.value <= its.start.value < its.lowest_start.value + 200
            assert its.highest_point.value <= PLACE.top_ft


def test_what_the_block_is_too_shallow_for_is_left_out_and_said():
    shallow = PLACE.model_copy(update={"block_top_ft": 3650.0})
    found = drawn(8, place=shallow)
    assert 0 < len({one.planned.key for one in found.set_ups}) < len(KINDS)
    assert all(one.answer.highest_point.value <= 3650.0 for one in found.set_ups)
    assert any(line.endswith("the block is not deep enough for what was drawn") for line in found.fewer)
    assert drawn(place=PLACE.model_copy(update={"block_top_ft": 3050.0})).set_ups == ()


def test_no_more_than_the_plan_leaves_of_comfort():
    loops = [figure("tumble")] * 6
    answer = computed(12, figures=loops)
    left = answer.exposure.comfort_limit - answer.exposure.comfort_load
    taken = sum(comfort_of(one.planned) for one in answer.drawn.set_ups)
    assert 0 < len(answer.drawn.set_ups) < 12
    assert taken <= left
    # The load of one more would have been too much, whichever kind it were.
    assert taken + max(figure_of(k.key).unsettles * 0.5 for k in KINDS) > left
    assert answer.drawn.fewer[-1].startswith(f"{len(answer.drawn.set_ups)} of 12: ")
    assert drawn(4, figures=[figure("tumble")] * 12).set_ups == ()


def test_their_minutes_and_fuel_are_part_of_the_flight():
    without, with_them = compute_plan(plan(TURN), conditions()), computed(4)
    assert with_them.minutes.value > without.minutes.value + 2
    assert sum(with_them.load_points[-1].fuel_usgal.values()) < sum(
        without.load_points[-1].fuel_usgal.values()
    )
    assert [f.id for f in with_them.flight.figures] == ["f1", *(f"set-up-{n}" for n in range(1, 5))]
    assert [one.id for one in with_them.flight.figures[0].then][-1] == "set-up-4"
    assert [f.id for f in with_them.figures] == ["f1"]


def test_how_it_is_set_up_says_the_numbers_that_it_is_computed_with():
    for one in drawn(8).set_ups:
        assert f"{one.planned.parameters['bank_deg']:.0f}°" in one.how
        assert one.planned.side in one.how
        assert f"{abs(one.planned.parameters['path_deg']):.0f}°" in one.how
        assert "{" not in one.how + one.first_input
        if one.planned.key == "over_banked":
            assert f"roll {'right' if one.planned.side == 'left' else 'left'}" in one.first_input


def test_a_student_is_told_how_many_and_nothing_else():
    wanted = plan(TURN, surprises={"count": 4, "seed": 77})
    seen, answer = as_the_student_sees(wanted, compute_plan(wanted, conditions(wanted)))
    assert (seen.surprises.count, seen.surprises.seed) == (4, 0)
    told = json.dumps([seen.model_dump(mode="json"), ANSWER.dump_python(answer, mode="json")])
    assert "set-up-" not in told
    assert answer.drawn is None
    open_plan = plan(TURN)
    same = compute_plan(open_plan, conditions(open_plan))
    assert as_the_student_sees(open_plan, same) == (open_plan, same)


def test_a_planned_figure_cannot_be_named_like_a_set_up():
    taken = {**plan(TURN).model_dump(mode="json")}
    taken["figures"][0]["id"] = "set-up-1"
    with pytest.raises(Refused, match="begins with 'set-up-'"):
        read_document(PlanDocument, taken)
