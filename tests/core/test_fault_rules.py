"""Faults that follow from the lanes of a recovery, from its outcome and from what was measured."""

from dataclasses import replace

import pytest

from keelturn.assess.evidence import Evidence
from keelturn.assess.fault_rules import faults_found, looked_at
from keelturn.assess.lanes import Control, Lane, Lanes, Stretch, Way
from keelturn.assess.outcome import Became
from keelturn.noting.attempt import Outcome
from tests.core.test_fit import C, usual


def by_hand(**lanes):
    """Evidence with these lanes: control to stretches, from the controls."""
    base = usual("spin")
    made = tuple(Lane(control, tuple(lanes.get(control.name.lower(), ())), ()) for control in Control)
    return Evidence(base.planned, base.measured, base.became, C, None, Lanes(4.0, -2.0, 8.0, made, True))


def values(evidence):
    return {one.fault.key: one for one in looked_at(evidence)}


def test_the_wrong_foot_counts_from_the_first_input_and_while_it_turns():
    right = by_hand(
        rudder=[Stretch(-2.0, 0.5, Way.INTO, 1.0), Stretch(0.6, 3.0, Way.AGAINST, 1.0)],
        stick=[Stretch(0.9, 2.0, Way.FORWARD, 0.4)],
        rotation=[Stretch(-2.0, 2.6, Way.TURNING, 0.5)],
    )
    assert values(right)["wrong_rudder"].value == 0.0
    wrong = by_hand(
        rudder=[Stretch(-2.0, 1.9, Way.INTO, 1.0), Stretch(2.0, 4.0, Way.AGAINST, 1.0)],
        stick=[Stretch(0.4, 2.0, Way.FORWARD, 0.4)],
        rotation=[Stretch(-2.0, 3.0, Way.TURNING, 0.5)],
    )
    assert values(wrong)["wrong_rudder"].value == pytest.approx(1.5)
    assert values(wrong)["wrong_rudder"].sure > 0.99
    # Against it at last, and into it again after it stopped: another fault.
    after = by_hand(
        rudder=[Stretch(0.5, 2.0, Way.AGAINST, 1.0), Stretch(2.5, 4.0, Way.INTO, 1.0)],
        rotation=[Stretch(-2.0, 2.1, Way.TURNING, 0.5)],
    )
    assert values(after)["wrong_rudder"].value == 0.0


def test_power_in_the_pull_out_counts_until_the_lowest():
    lowest = usual("spin").measured
    until = lowest.lowest_s - lowest.begins_s - 4.0
    pull = [Stretch(until - 2.0, until, Way.BACK, 0.6)]
    off = by_hand(stick=pull, throttle=[Stretch(-2.0, 0.4, Way.ON, 0.5)])
    assert values(off)["power_before_horizon"].value == 0.0
    on = by_hand(stick=pull, throttle=[Stretch(until - 1.5, until + 3.0, Way.ON, 1.0)])
    assert values(on)["power_before_horizon"].value == pytest.approx(1.5)


def test_a_second_stall_is_a_fault_with_its_place():
    base = usual("stall_power_off")
    again = Became(Outcome.SECONDARY_STALL, "", base.measured.begins_s + 3.0)
    found = faults_found(Evidence(base.planned, base.measured, again, C, None, None))
    assert [(one.fault.key, one.at_s) for one in found] == [("secondary_stall", pytest.approx(3.0))]


def test_what_is_measured_is_held_against_the_flight_and_the_card():
    base = usual("aileron_roll")
    off = base.measured.heading_off_deg
    vne = C.card.speeds.never_exceed_ias.value
    for heading, fastest, expected in (
        (off, vne, []),
        (off + 15.0, vne, []),
        (off + 25.0, vne, ["off_heading"]),
        (off - 25.0, vne, ["off_heading"]),
    ):
        measured = replace(base.measured, heading_off_deg=heading, fastest_ias=fastest)
        assert [one.fault.key for one in faults_found(replace(base, measured=measured))] == expected
    loop = usual("loop")
    fast = replace(loop.measured, fastest_ias=vne + 2.0)
    assert [one.fault.key for one in faults_found(replace(loop, measured=fast))] == ["overspeed"]
    poor = replace(base, fit=replace(base.fit, good=False))
    assert "off_heading" not in values(poor)
