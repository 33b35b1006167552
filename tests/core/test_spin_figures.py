"""Spins as they are planned: the card's figures, hands and feet, kinds and ways out, the account."""

import numpy as np
import pytest
from pydantic import ValidationError

from keelturn.aircraft.card import Card
from keelturn.flying.costs import fly_usual
from keelturn.flying.pilots import usual_numbers
from keelturn.flying.spin import calibrate, fit_lines, spin_of
from keelturn.formats.documents import PredictRequest
from keelturn.margins.spread import spread_of
from keelturn.recoveries.schools import RUDDER_THEN_STICK, SCHOOLS, SpinInputs
from keelturn.recoveries.spin_kinds import KINDS
from keelturn.spinning import controls
from keelturn.spinning.inputs import inputs_of
from keelturn.weather.day import Day
from tests.cards import LIGHT, changed
from tests.flights import HEAVY, TRAINER, at_card_weight, conditions, figure, plan
from tests.spins import CARDS, fallen, spun


@CARDS
@pytest.mark.parametrize(
    ("fault", "least"),
    [
        ({"DELAY_S": 1.0}, 40),
        ({"STICK_S": 1.3}, 10),
        ({"STICK_S": 0.0, "RUDDER_S": 1.0}, 10),
        ({"RUDDER_TO": -0.5}, 10),
        ({"GIVES_UP_S": 1.0}, 50),
        ({"RUDDER_HELD_S": 1.0}, 30),
        ({"STICK_HELD_S": 0.5}, 30),
        ({"AILERON_TO": -1.0}, -10),
    ],
    ids=lambda v: "+".join(v) if isinstance(v, dict) else None,
)
def test_every_fault_of_the_recovery_falls_further(card, fault, least):
    for turns in (1.0, 3.0):
        assert fallen(spun(card, turns, **fault)) >= fallen(spun(card, turns)) + least


@pytest.mark.parametrize(
    ("number", "value", "column", "stands"),
    [
        ("rudder_share", 0.5, "RUDDER_TO", -0.5),
        ("stick_error", -0.3, "STICK_TO", -0.7),
        ("stick_error", -0.9, "STICK_TO", -1.0),
        ("gap_s", 0.7, "STICK_S", 0.7),
        ("gap_s", -1.5, "RUDDER_S", 1.5),
        ("gap_s", -1.5, "STICK_S", 0.0),
        ("power_left", 0.5, "POWER_IN", 0.5),
        ("power_left", 0.5, "POWER_LATER", 0.5),
        ("aileron_in", -1.0, "AILERON_IN", -1.0),
        ("aileron_recovery", -1.0, "AILERON_TO", -1.0),
        ("close_s", 1.5, "CLOSE_S", 1.5),
        ("call_s", 0.8, "DELAY_S", 0.8),
        ("entry_stick", 0.35, "STICK_LATER", 0.35),
        ("entry_rudder", 0.5, "RUDDER_IN", 0.5),
        ("turn_error", 0.25, "CALL_AT", 2.25 * 2 * np.pi),
        ("turn_error", -0.25, "PLANNED_AT", 1.75 * 2 * np.pi),
        ("stick_held_s", 0.5, "STICK_HELD_S", 0.5),
        ("rudder_held_s", 1.0, "RUDDER_HELD_S", 1.0),
        ("gives_up_s", 1.0, "GIVES_UP_S", 1.0),
        ("centre_s", 0.6, "CENTRE_S", 0.6),
        ("hand_s", 0.4, "HAND_S", 0.4),
        ("throttle_s", 2.0, "THROTTLE_S", 2.0),
    ],
)
def test_a_pilots_number_moves_its_own_control(number, value, column, stands):
    numbers = {**usual_numbers("student"), number: np.array([value])}
    inputs = inputs_of(KINDS["upright"], 2.0, False, RUDDER_THEN_STICK, numbers, 1)
    assert inputs[0, getattr(controls, column)] == pytest.approx(stands)


def test_a_kind_and_a_way_out_are_what_hands_and_feet_do():
    usual = usual_numbers("student")
    flat = inputs_of(KINDS["flat"], 2.0, True, RUDDER_THEN_STICK, usual, 1)[0]
    assert (flat[controls.SIDE], flat[controls.POWER_LATER], flat[controls.AILERON_LATER]) == (
        -1.0,
        1.0,
        -1.0,
    )
    away = inputs_of(KINDS["upright"], 2.0, False, SpinInputs(-1.0, 0.1, False, hands_free=True), usual, 1)[0]
    assert (away[controls.STICK_TO], away[controls.STICK_S]) == (0.1, 0.0)


def test_what_the_card_says_beyond_the_motion_is_added_by_turns_and_side():
    said = {"one_turn_ft": {"value": 2000}, "further_turn_ft": {"value": 900}, "left_factor": {"value": 1.2}}
    character = calibrate(Card.model_validate(changed(LIGHT, spin=said)))
    one, each = 2000 - character.given.one_turn_ft, max(0.0, 900 - character.given.further_turn_ft)
    assert one > 50
    assert character.more_ft(1.0, False) == pytest.approx(one)
    assert character.more_ft(0.5, False) == pytest.approx(one / 2)
    assert character.more_ft(3.0, True) == pytest.approx((one + 2 * each) * 1.2)
    lines = {line.label: line for line in fit_lines(Card.model_validate(changed(LIGHT, spin=said)))}
    assert lines["One turn with recovery"].apart == (one / 2000 > 0.1)
    assert [line.apart for line in fit_lines(TRAINER)] == [
        abs(given / said - 1.0) > 0.1
        for given, said in zip(figures(spin_of(TRAINER).given), figures(spin_of(TRAINER).said), strict=True)
    ]


def test_where_the_motion_cannot_give_what_the_card_says_it_says_what_to_check():
    said = {"one_turn_ft": {"value": 300}, "path_down_deg": None}
    lines = {line.label: line for line in fit_lines(Card.model_validate(changed(LIGHT, spin=said)))}
    assert lines["One turn with recovery"].apart
    assert "pull-out included" in lines["One turn with recovery"].check
    assert "Path when it stops" not in lines
    assert all(bool(line.check) == line.apart for line in (*lines.values(), *fit_lines(TRAINER)))


def figures(of):
    return (of.one_turn_ft, of.further_turn_ft, of.turn_s, of.recovery_turns, of.path_down_deg)


@CARDS
def test_more_turns_never_cost_less(card):
    lost = [
        fly_usual(figure("spin", start_ft=8000, turns=t), conditions(card=card)).lost_ft
        for t in np.arange(0.5, 4.1, 0.5)
    ]
    assert all(more > less + 15 for less, more in zip(lost, lost[1:], strict=False))


@CARDS
def test_the_cards_figures_come_out_or_both_are_given(card):
    """Flown by the reference pilot; what the card says together, the motion may not give: 12 % is near, and
    the character keeps both."""
    c, spun_by = at_card_weight(card), card.spin
    one, two, four = (
        fly_usual(figure("spin", start_ft=spun_by.at_ft.value, turns=t, pull_g=2.5), c, "reference").lost_ft
        for t in (1.0, 2.0, 4.0)
    )
    said, given = c.spin.said, c.spin.given
    assert one == pytest.approx(max(said.one_turn_ft, given.one_turn_ft), abs=8)
    assert (four - two) / 2 == pytest.approx(max(said.further_turn_ft, given.further_turn_ft), abs=8)
    for name in ("one_turn_ft", "further_turn_ft", "turn_s", "recovery_turns"):
        assert getattr(given, name) == pytest.approx(getattr(said, name), rel=0.13), name


def test_a_card_that_loses_little_is_taken_with_both_numbers_said():
    """One turn in 500 to 550 ft used to be refused; 250 ft cannot be, and stays a difference."""
    for one in (500, 550):
        calibrate(Card.model_validate(changed(LIGHT, spin={"one_turn_ft": {"value": one}})))
    character = calibrate(Card.model_validate(changed(LIGHT, spin={"one_turn_ft": {"value": 250}})))
    assert character.said.one_turn_ft == 250
    assert character.given.one_turn_ft > 350


def test_left_is_wilder_by_the_cards_factor():
    left, right = (
        fly_usual(figure("spin", side=side, start_ft=5500), at_card_weight(TRAINER), "reference").lost_ft
        for side in ("left", "right")
    )
    assert 1.0 < left / right < 1.12


def test_lines_are_those_of_the_account_and_the_seconds_those_of_the_trace():
    flown = fly_usual(figure("spin", turns=2.0), conditions())
    names = [name for name, _, _ in flown.parts]
    assert names == [
        "Entry and first turn",
        "Further turns",
        "Inputs",
        "Until it stops",
        "Dive",
        "More, by the card",
        "Pull-out",
    ]
    assert sum(lost for _, lost, _ in flown.parts) == pytest.approx(flown.lost_ft, abs=1e-9)
    assert sum(seconds for _, _, seconds in flown.parts) == pytest.approx(flown.seconds, abs=1e-6)


def test_heavier_and_hotter_cost_more():
    light = fly_usual(figure("spin"), conditions())
    heavy = fly_usual(
        figure("spin"), conditions(plan(load={"front_lb": 210, "rear_lb": 210, "fuel_usgal": {"Centre": 20}}))
    )
    hot = fly_usual(figure("spin"), conditions(plan(day=Day(temperature_c=38).model_dump())))
    assert heavy.lost_ft > light.lost_ft + 5
    assert hot.lost_ft > light.lost_ft + 5


@pytest.mark.parametrize(
    ("number", "by"),
    [
        ("call_s", 0.5),
        ("gap_s", 0.5),
        ("turn_error", 0.2),
        ("centre_s", 0.4),
        ("pull_g", -0.4),
        ("lag_s", 0.2),
    ],
)
def test_worse_technique_costs_height(number, by):
    worse, usual = (fly_usual(figure("spin"), conditions(), "student", **c) for c in ({number: by}, {}))
    assert worse.lost_ft > usual.lost_ft + 8


def test_an_incipient_spin_costs_less_than_a_whole_turn_and_more_than_a_stall():
    stall, incipient, whole = (
        fly_usual(figure(key), conditions()).lost_ft for key in ("stall_power_off", "incipient_spin", "spin")
    )
    assert stall < incipient < whole


def test_a_method_that_the_card_says_does_not_stop_it_does_not():
    card = HEAVY.model_copy(update={"spin": HEAVY.spin.model_copy(update={"does_not_stop": ("Centralise",)})})
    planned = figure("spin", school="centralise", start_ft=8000)
    assert fly_usual(planned, conditions(card=HEAVY)).made
    stuck = fly_usual(planned, conditions(card=card)).shortfall
    assert stuck is not None and "does not stop" in stuck.words
    assert fly_usual(figure("spin", start_ft=8000), conditions(card=card)).made


def test_the_methods_that_a_card_may_rule_out_are_spin_schools_by_name():
    from typing import get_args

    from keelturn.aircraft.card import SpinMethod

    assert set(get_args(SpinMethod)) == {s.name for s in SCHOOLS if s.situation == "spin" and s.taught}


def test_schools_are_told_apart_by_their_inputs():
    c = conditions(card=HEAVY)
    one, centralise, hands = (
        fly_usual(figure("spin", school=school, start_ft=8000), c).lost_ft
        for school in ("power_aileron_rudder_elevator", "centralise", "hands_off")
    )
    assert len({round(one), round(centralise), round(hands)}) == 3


def test_approving_spins_without_a_spin_section_is_refused():
    with pytest.raises(ValidationError, match="spin section is missing"):
        PredictRequest.model_validate({"card": {**LIGHT, "spin": None}})


def test_spread_covers_more_than_the_likely_loss_and_is_the_same_each_time():
    c = conditions()
    spread = spread_of(figure("spin"), c)
    assert 80 < spread.beyond_usual_ft < 400
    assert 350 < spread.recovery_99_ft < fly_usual(figure("spin"), c).lost_ft + spread.beyond_usual_ft
    assert spread_of(figure("spin", id="other"), c) == spread
