"""Our integrator against scipy's DOP853 at rtol 1e-10, on the same equations: a pull-out from a spin."""

import numpy as np
import pytest

from keelturn.motion import engine
from keelturn.motion.flight import state_of
from keelturn.plan.costs import programme
from keelturn.plan.pilots import usual_numbers
from keelturn.units import FT
from tests.flights import conditions, figure


@pytest.mark.parametrize("step_s", [0.05, 0.1])
@pytest.mark.parametrize("key", ["spin", "nose_low"])
def test_height_of_a_recovery_within_a_tenth_of_a_foot(key, step_s):
    from keelturn.motion.flight import fly_one
    from tools.bench import reference_height_lost

    c = conditions()
    made = programme(figure(key), c, usual_numbers("student"), 1500.0)
    ours, _ = fly_one(made.start, made.legs, c.body, step_s)
    other = reference_height_lost(state_of(made.start, 1)[0], float(np.ravel(made.start.g)[0]),
                                  float(np.ravel(made.start.throttle)[0]), made.legs[0], c.body)
    assert -ours[:, engine.S_HEIGHT].sum() / FT == pytest.approx(other / FT, abs=0.1)
