"""What became of a recovery, seen in a recording: as it was meant, a spiral, the other way, stalled again."""

from dataclasses import replace

import numpy as np
import pytest

from keelturn.assess.outcome import outcome_of
from keelturn.noting.attempt import Outcome
from tests.core.test_finding import C, one
from tests.flights import figure


def test_a_stick_that_was_not_back_is_seen_as_a_spiral_with_what_decided():
    got, true, _ = one("spin", habits={"entry_stick": -0.65})
    assert true.outcome == 1.0
    assert got.became.outcome == Outcome.SPIRAL
    assert "kt" in got.became.because and "not stalled" in got.became.because
    assert one("spin")[0].became.outcome == Outcome.AS_INTENDED


def test_a_spin_that_goes_on_to_the_other_side_and_a_push_past_the_vertical():
    got, _, cleaned = one("spin", side="left", turns=3.0)
    flown = cleaned.flown
    half = int(np.searchsorted(flown.time, got.measured.begins_s + 5.0))
    turned = flown.turning.copy()
    turned[half:] *= -1.0
    other = replace(cleaned, flown=replace(flown, turning=turned))
    became = outcome_of(got.found, got.measured, other, C)
    assert became.outcome == Outcome.OTHER_WAY
    assert "turns one way, then" in became.because
    stopped = int(np.flatnonzero(np.abs(flown.turning) > 60)[-1])
    g, pitch = flown.g.copy(), flown.pitch.copy()
    g[stopped + 4 : stopped + 12], pitch[stopped + 4 : stopped + 12] = -0.5, -85.0
    over = replace(cleaned, flown=replace(flown, g=g, pitch=pitch))
    assert outcome_of(got.found, got.measured, over, C).outcome == Outcome.FLAT
    g[stopped + 4 : stopped + 12] = -0.2
    assert outcome_of(got.found, got.measured, over, C).outcome == Outcome.AS_INTENDED


@pytest.mark.parametrize(
    ("nose", "from_turn", "outcome"),
    [
        (-22.0, 1.2, Outcome.FLAT),
        (-28.0, 1.2, Outcome.AS_INTENDED),
        # Less than three quarters of a turn of it.
        (-22.0, 2.6, Outcome.AS_INTENDED),
    ],
)
def test_a_nose_that_comes_up_after_the_first_turn_is_a_flat_spin(nose, from_turn, outcome):
    got, _, cleaned = one("spin", side="left", turns=3.0)
    flown = cleaned.flown
    spinning = np.abs(flown.turning) > 60.0
    spinning[: got.found.first] = spinning[got.found.last :] = False
    steps = np.diff(flown.time, prepend=flown.time[:1])
    done = np.cumsum(np.where(spinning, np.abs(flown.turning) * steps, 0.0)) / 360.0
    pitch = np.where(spinning & (done > from_turn), nose, flown.pitch)
    high = replace(cleaned, flown=replace(flown, pitch=pitch))
    became = outcome_of(got.found, got.measured, high, C)
    assert became.outcome == outcome
    if outcome == Outcome.FLAT:
        assert "nose 22° down" in became.because
        assert became.at_s > got.measured.begins_s + 2.0
    meant = replace(got.found, figure=figure("spin_flat", 6500, side="left"))
    assert outcome_of(meant, got.measured, high, C).outcome == Outcome.AS_INTENDED


@pytest.mark.parametrize(("g", "outcome"), [(-0.6, Outcome.FLAT), (-0.2, Outcome.AS_INTENDED)])
def test_a_spin_at_less_than_no_g_is_on_its_back(g, outcome):
    got, _, cleaned = one("spin", side="left", turns=2.0)
    flown = cleaned.flown
    under = replace(cleaned, flown=replace(flown, g=np.where(np.abs(flown.turning) > 60.0, g, flown.g)))
    assert outcome_of(got.found, got.measured, under, C).outcome == outcome
    assert one("spin_inverted")[0].became.outcome == Outcome.AS_INTENDED


@pytest.mark.parametrize(
    ("pulled", "then", "falls", "outcome"),
    [
        (2.3, 1.2, 6.0, Outcome.SECONDARY_STALL),
        # Only just: from 0.83 of what the wing had, by 0.3 g and two and a half degrees.
        (1.8, 1.5, 2.5, Outcome.SECONDARY_STALL),
        # From three quarters of what the wing had; by less g; the nose did not fall; no pull at all.
        (1.6, 1.2, 6.0, Outcome.AS_INTENDED),
        (2.3, 2.1, 6.0, Outcome.AS_INTENDED),
        (2.3, 1.2, 0.0, Outcome.AS_INTENDED),
        (1.1, 0.8, 6.0, Outcome.AS_INTENDED),
    ],
)
def test_a_pull_that_stalls_again_is_a_secondary_stall_and_one_that_is_eased_is_not(
    pulled, then, falls, outcome
):
    got, _, cleaned = one("nose_low")
    flown = cleaned.flown
    lowest = got.found.first + int(np.argmin(flown.height[got.found.first : got.found.last]))
    at = lowest - 32
    g, ias, pitch = flown.g.copy(), flown.ias.copy(), flown.pitch.copy()
    # 51 kt is the stall: the pull of 1.1 g uses all of it where it is slower.
    ias[at - 8 : lowest] = 75.0 if pulled > 1.15 else 52.0
    g[at - 8 : at], g[at:lowest] = pulled, then
    pitch[at - 8 : at], pitch[at:lowest] = -20.0, -20.0 - falls
    stalled = replace(cleaned, flown=replace(flown, g=g, ias=ias, pitch=pitch))
    became = outcome_of(got.found, got.measured, stalled, C)
    assert became.outcome == outcome
    if outcome == Outcome.SECONDARY_STALL:
        assert "all the wing had" in became.because


def test_stalled_again_is_only_what_flew_in_between_and_was_not_meant_to():
    got, _, cleaned = one("stall_secondary")
    assert got.became.outcome == Outcome.AS_INTENDED
    meant = replace(got.found, figure=figure("stall_power_off", 6500))
    assert outcome_of(meant, got.measured, cleaned, C).outcome == Outcome.SECONDARY_STALL
    # The same with all of the lift used from the beginning on: it is still the first stall.
    share = np.maximum(cleaned.flown.g * (51.0 / cleaned.flown.ias) ** 2, 0.65)
    held = replace(cleaned, flown=replace(cleaned.flown, g=share * (cleaned.flown.ias / 51.0) ** 2))
    assert outcome_of(meant, got.measured, held, C).outcome == Outcome.AS_INTENDED
