"""Recordings of flights that our model did not make, read as well as they were: upsets, turns, loops and
rolls that a pilot of our own flew in the six-degree-of-freedom library (tests/outside/six_dof_lessons.py).
Our own values; what is asked of our own flights and is not met here is said in docs/model.md."""

import pytest

from tools.score_outside import outside, outside_rows

pytestmark = pytest.mark.long

pytest.importorskip("jsbsim")


def test_flights_of_the_library_are_found_measured_and_judged():
    score = outside()
    found = {row.label.strip(): row.value for row in outside_rows(score)}
    assert len(score.named) == 25
    assert found["six degrees of freedom: found and named, of 100"] >= 96.0, score.wrong
    assert found["edges off, median, s"] <= 0.5
    assert found["lowest heights within 15 ft, of 100"] >= 95.0
    assert found["start heights off, median, ft"] <= 10.0
    assert found["pull_g: intervals that hold, of 100"] >= 90.0
    assert found["pull_g: off, median"] <= 0.05
    assert found["delay_s: intervals that hold, of 100"] >= 90.0
    assert found["cost of a delay: intervals that hold, of 100"] >= 60.0
    # Pulls that were soft, and wings that were not level, and none where there were none.
    assert (score.right, score.only_found, score.only_there) == (5, 0, 0), score.wrong
