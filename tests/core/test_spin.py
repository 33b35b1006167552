"""The spin account: calibration to the card, and how it moves with weight, air, turns and technique."""

import pytest
from pydantic import ValidationError

from keelturn.aircraft.card import Card
from keelturn.flying.costs import fly_usual
from keelturn.flying.spin import calibrate
from keelturn.formats.documents import PredictRequest
from keelturn.margins.spread import spread_of
from keelturn.weather.day import Day
from tests.cards import LIGHT
from tests.flights import HEAVY, TRAINER, at_card_weight, conditions, figure, plan


@pytest.mark.parametrize("card", [TRAINER, HEAVY])
def test_the_cards_own_heights_come_out_at_the_cards_conditions(card):
    c, spin = at_card_weight(card), card.spin
    one, two, three = (
        fly_usual(figure("spin", start_ft=spin.at_ft.value, turns=t), c, "reference").lost_ft
        for t in (1.0, 2.0, 3.0)
    )
    assert one == pytest.approx(spin.one_turn_ft.value, abs=0.5)
    assert two - one == pytest.approx(spin.further_turn_ft.value, abs=0.5)
    # The third turn pulls out in air that is denser still by one turn's height: a foot or two.
    assert three - two == pytest.approx(spin.further_turn_ft.value, abs=3)


def test_parts_are_those_of_the_account():
    parts = [name for name, _, _ in fly_usual(figure("spin", turns=2.0), conditions()).parts]
    assert parts == ["Entry and first turn", "Further turns", "Inputs", "Rotation stops", "Pull-out"]


def test_heavier_and_hotter_cost_more():
    light = fly_usual(figure("spin"), conditions())
    heavy = fly_usual(
        figure("spin"), conditions(plan(load={"front_lb": 200, "rear_lb": 200, "fuel_usgal": {"Centre": 20}}))
    )
    hot = fly_usual(figure("spin"), conditions(plan(day=Day(temperature_c=38).model_dump())))
    assert heavy.lost_ft > light.lost_ft + 10
    assert hot.lost_ft > light.lost_ft + 10


@pytest.mark.parametrize(
    ("number", "by"),
    [("delay_s", 0.5), ("gap_s", 0.5), ("turn_error", 0.1), ("centre_s", 0.4), ("pull_g", -0.4)],
)
def test_worse_technique_costs_height(number, by):
    assert (
        fly_usual(figure("spin"), conditions(), "student", **{number: by}).lost_ft
        > fly_usual(figure("spin"), conditions()).lost_ft + 10
    )


def test_an_incipient_spin_costs_less_than_a_whole_turn_and_more_than_a_stall():
    c = conditions()
    stall, incipient, whole = (
        fly_usual(figure(key), c).lost_ft for key in ("stall_power_off", "incipient_spin", "spin")
    )
    assert stall < incipient < whole


def test_turns_are_continuous_across_the_first():
    below, above = (fly_usual(figure("spin", turns=t), conditions()).lost_ft for t in (0.999, 1.001))
    assert above == pytest.approx(below, abs=5)


def test_spin_figures_that_cannot_all_be_true_are_refused_with_the_reason():
    wrong = {**LIGHT, "spin": {**LIGHT["spin"], "one_turn_ft": {"value": 420}}}
    with pytest.raises(ValueError, match="spin.one_turn_ft: 420 ft leaves only"):
        calibrate(Card.model_validate(wrong))


def test_approving_spins_without_a_spin_section_is_refused():
    with pytest.raises(ValidationError, match="spin section is missing"):
        PredictRequest.model_validate({"card": {**LIGHT, "spin": None}})


def test_spread_covers_more_than_the_likely_loss_and_is_the_same_each_time():
    c = conditions()
    spread = spread_of(figure("spin"), c)
    assert 80 < spread.beyond_usual_ft < 400
    assert 400 < spread.recovery_99_ft < fly_usual(figure("spin"), c).lost_ft
    assert spread_of(figure("spin", id="other"), c) == spread
