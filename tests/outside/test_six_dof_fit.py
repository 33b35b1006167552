"""Recoveries that a pilot of our own flew in the six-degree-of-freedom library, fitted by the model: so that
it does not mark its own work (tests/outside/six_dof_pilots.py). The pull is had back to a twentieth of g, the
delay to six tenths of a second, and what a delay cost, the library's own difference of two flights, to
half."""

import numpy as np
import pytest

from tests.outside.six_dof_pilots import cost_of, flown

pytestmark = pytest.mark.long

pytest.importorskip("jsbsim")
LATE_S, PROMPT_S = 1.2, 0.3
SOURCE = "six-degree-of-freedom library, a pilot of our own"


@pytest.fixture(scope="module", params=[(2.2, 60.0), (3.0, 60.0), (2.2, 110.0)])
def both(request):
    pull, bank = request.param
    return [flown(delay, pull, 1.5, 1.0, bank, seed=1) for delay in (PROMPT_S, LATE_S)]


def test_the_model_flies_it_again_and_has_the_pilot_back(both, compared):
    for one in both:
        assert one.fit.good
        assert one.fit.off_ft < 10.0
        pull = one.fit.planned.parameter("pull_g") + one.fit.numbers["pull_g"].value
        compared("pull of a fitted recovery, g", SOURCE, pull, one.pull_g, abs=0.06)
        compared(
            "delay of a fitted recovery, s", SOURCE, one.fit.numbers["delay_s"].value, one.delay_s, abs=0.6
        )
        rolled = one.fit.numbers["roll_share"].value * one.fit.compared.conditions.frame.roll_right
        assert rolled < 2.0  # rad/s: the library rolls at 1, and takes its time to begin


def test_what_the_delay_cost_is_what_the_library_says(both, compared):
    prompt, late = both
    theirs = late.lost_ft - prompt.lost_ft
    ours = cost_of(late, "Entry", "Seeing it") - cost_of(prompt, "Entry", "Seeing it")
    compared("cost of a delay, ft", SOURCE, ours, theirs, rel=0.45)
    assert theirs > 100


def test_best_and_steps_add_up_where_the_flight_is_not_ours(both):
    for one in both:
        account = one.account
        total = account.best_ft + sum(line.height_ft for line in account.lines)
        assert total == pytest.approx(one.measured.lost_ft)
        assert np.isfinite(account.bound_ft)
        assert account.bound_ft <= account.best_ft
