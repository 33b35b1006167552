"""The spread: evenly drawn pilots against 20,000 random ones, and what the memory of 2,000 ft steps may cost."""

import numpy as np
import pytest

from keelturn.plan.costs import fan_losses, fly_usual, spread_of
from keelturn.plan.pilots import STUDENT, drawn_numbers
from keelturn.units import FT
from tests.flights import conditions, figure


@pytest.mark.parametrize("key", ["spin", "nose_low"])
def test_1024_even_pilots_agree_with_20000_random_ones(key):
    c, start = conditions(), 5000 * FT
    random = np.random.default_rng(7)
    drawn = {k: np.clip(n.usual + n.varies * random.standard_normal(20000), n.least, n.most) for k, n in STUDENT.items()}
    many, _ = fan_losses(figure(key), c, drawn, start)
    even, _ = fan_losses(figure(key), c, drawn_numbers("student"), start)
    for q, tolerance in ((0.5, 0.01), (0.95, 0.015), (0.99, 0.025)):
        assert np.quantile(even, q) == pytest.approx(np.quantile(many, q), rel=tolerance)


def test_the_margin_hardly_changes_over_the_2000_ft_it_is_remembered_for():
    c = conditions()
    low, high = (spread_of(figure("spin", start_ft=ft), c).beyond_usual_ft for ft in (4000, 6000))
    assert abs(high - low) < 0.01 * fly_usual(figure("spin"), c).lost_ft
