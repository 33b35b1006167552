"""Trade values: common practice, no published source. Loose on purpose; the model must fall inside at typical cards."""

import pytest

from keelturn.plan.costs import fly_usual
from tests.flights import HEAVY, TRAINER, at_card_weight, conditions, figure


def test_exit_speed_of_a_gentle_spin_recovery_is_100_to_130_kt_or_near():
    """Light trainer, about 2 g: back up to 100 to 130 kt if the pull is gentle; ours, slower-stalling, from 90."""
    assert 85 <= fly_usual(figure("spin", turns=1.5, pull_g=2.0), conditions()).fastest_ias <= 130


def test_two_turns_in_a_heavy_nosed_monoplane_cost_about_2000_ft():
    """300 hp, recovering in half a turn: about 2,000 ft."""
    assert fly_usual(figure("spin", start_ft=6000, turns=2.0), conditions(card=HEAVY)).lost_ft == pytest.approx(2000, rel=0.15)


def test_each_further_turn_costs_a_few_hundred_feet():
    one, two = (fly_usual(figure("spin", start_ft=6000, turns=t), conditions()).lost_ft for t in (1.0, 2.0))
    assert 200 <= two - one <= 500


def test_good_unload_and_roll_from_nearly_inverted():
    """Pull-through from inverted at 3 g about 2,400 ft against 700 to 800 ft for a good unload-and-roll; 135 degrees of bank,
    30 nose down, at 120 kt."""
    flown = fly_usual(figure("nose_low", entry_ias=120, bank_deg=120, path_deg=-30, pull_g=3.0), conditions(), "instructor")
    assert 550 <= flown.lost_ft <= 900


def test_spins_to_the_left_are_wilder_behind_a_clockwise_propeller():
    c = at_card_weight(TRAINER)
    assert fly_usual(figure("spin", side="left"), c).lost_ft > fly_usual(figure("spin", side="right"), c).lost_ft


def test_recovery_never_takes_fewer_turns_than_the_card_says():
    """23.221 (from memory): one further turn after a one-turn spin; the default is never better than the card."""
    from keelturn.plan.pilots import PILOTS, drawn_numbers

    for who in PILOTS:
        assert drawn_numbers(who)["recovery_factor"].min() >= 1.0
