"""Our integrator against scipy's DOP853 at rtol 1e-10, on the same equations: every figure of the
catalogue."""

import pytest

from keelturn.figures.catalogue import FIGURES
from keelturn.flying import course as course_module
from keelturn.flying.costs import pilot_numbers
from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.flight import FAN_STEP_S, STEP_S, Held, fly_each, fly_one
from keelturn.motion.legs import Floats
from keelturn.units import FT
from tests.flights import HEAVY, conditions, figure
from tests.long import every_third
from tools.reference import reference_end

CARDS = conditions(), conditions(card=HEAVY)


# Figures that are several flown without a pause: a tenth of a foot for each.
IN_ONE = {"cloverleaf": 4, "cuban_eight": 2}


def pieces(key: str, c, monkeypatch) -> list[tuple[Held, Floats, Floats]]:
    """What the engine is asked to fly for a figure: where each piece begins, its legs, the aircraft."""
    asked = []

    def recording(held, legs, body, step_s):
        asked.append((held, legs, body))
        return fly_each(held, legs, body, step_s)

    monkeypatch.setattr(course_module, "fly_each", recording)
    course_module.fly(figure(key, start_ft=6000), c, pilot_numbers("student"), 6000 * FT, trace=True)
    return asked


@pytest.mark.parametrize("c", CARDS, ids=["light", "heavy"])
@pytest.mark.parametrize("key", every_third([f.key for f in FIGURES]))
def test_height_of_a_figure_within_a_tenth_of_a_foot(key, c, monkeypatch, compared):
    for held, legs, body in pieces(key, c, monkeypatch):
        end = reference_end(held, legs[0], body)
        for step_s, within in ((STEP_S, 0.1 * IN_ONE.get(key, 1)), (FAN_STEP_S, 3.0)):
            summary, _, ours = fly_one(held, legs, body, step_s)
            assert (summary[:, engine.S_STATUS] == engine.MADE).all()
            compared(
                f"height at the end of a figure, step {step_s} s, ft",
                "scipy DOP853, rtol 1e-10",
                ours.states[0, eq.UP] / FT,
                end[eq.UP] / FT,
                abs=within,
            )
            assert ours.states[0, eq.V] == pytest.approx(end[eq.V], abs=0.05 if step_s == STEP_S else 1.0)
