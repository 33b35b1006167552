"""The spread: evenly drawn pilots against 20,000 random ones, and what the memory of 2,000 ft steps may
cost."""

import numpy as np
import pytest

from keelturn.flying.costs import fan_losses, fly_usual
from keelturn.flying.pilots import STUDENT, drawn_numbers
from keelturn.margins.spread import flown_by_many, spread_of
from keelturn.units import FT
from tests.flights import conditions, figure, plan


@pytest.mark.parametrize("key", ["spin", "nose_low"])
def test_768_even_pilots_agree_with_20000_random_ones(key):
    c, start = conditions(), 5000 * FT
    random = np.random.default_rng(7)
    drawn = {
        k: np.clip(n.usual + n.varies * random.standard_normal(20000), n.least, n.most)
        for k, n in STUDENT.items()
    }
    many, _ = fan_losses(figure(key), c, drawn, start)
    even, _ = fan_losses(figure(key), c, drawn_numbers("student"), start)
    for q, tolerance in ((0.5, 0.01), (0.95, 0.015), (0.99, 0.025)):
        assert np.quantile(even, q) == pytest.approx(np.quantile(many, q), rel=tolerance)


def test_the_margin_hardly_changes_over_the_2000_ft_it_is_remembered_for():
    c = conditions()
    low, high = (spread_of(figure("spin", start_ft=ft), c).beyond_usual_ft for ft in (4000, 6000))
    assert abs(high - low) < 0.01 * fly_usual(figure("spin"), c).lost_ft


def test_the_margin_hardly_changes_over_the_steps_of_weight_and_air_it_is_remembered_for():
    def margin(front_lb: float, temperature_c: float, qnh_hpa: float) -> float:
        flown_by_many.cache_clear()
        load = {"front_lb": front_lb, "rear_lb": 170, "fuel_usgal": {"Centre": 18}}
        return spread_of(
            figure("spin"),
            conditions(plan(load=load, day={"temperature_c": temperature_c, "qnh_hpa": qnh_hpa})),
        ).beyond_usual_ft

    assert margin(190, 18, 1008) == pytest.approx(margin(170, 15, 1013), abs=8)


def test_a_fan_asked_for_by_many_at_once_is_flown_once(monkeypatch):
    from concurrent.futures import ThreadPoolExecutor

    from keelturn.margins import spread

    flown = []
    really = spread.drawn_numbers
    monkeypatch.setattr(spread, "drawn_numbers", lambda who: flown.append(who) or really(who))
    flown_by_many.cache_clear()
    spread.recovery_99.cache_clear()
    c = conditions()
    with ThreadPoolExecutor(6) as pool:
        found = list(pool.map(lambda _: spread_of(figure("spin"), c), range(6)))
    assert sorted(flown) == ["instructor", "student"]
    assert len(set(found)) == 1


def test_a_fan_that_cannot_be_flown_is_asked_again_not_remembered():
    from tests.flights import NO_SPINS

    c = conditions(card=NO_SPINS)
    for _ in range(2):
        with pytest.raises(ValueError, match="no spin figures"):
            spread_of(figure("spin"), c)


def test_a_pilot_who_never_gets_out_is_not_given_a_height():
    """A light trainer upside down and stalled in a barrel roll it has not the speed for: some never come
    level. No path of theirs may become a percentile."""
    from keelturn.flying.costs import within
    from keelturn.margins.influence import losses
    from tests.flights import NO_SPINS

    found = losses(figure("stall_barrel"), conditions(card=NO_SPINS), pilots=2000)
    assert found.never_out > 0
    assert found.p95_ft is None or found.p95_ft < 3000
    assert within(np.array([1.0, 2.0, np.nan]), 50.0) == 2.0
    assert within(np.array([1.0, np.nan, np.nan]), 95.0) == np.inf
