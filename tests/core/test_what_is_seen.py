"""Rules that look at more than one of the pilot's numbers: what a loop says once, wings at the pull, the call
that was tapped, and what nobody knows."""

from dataclasses import replace

import pytest

from keelturn.assess.fault_rules import cannot_be_seen, faults_found
from keelturn.assess.fit import Number
from keelturn.assess.technique import technique_of
from keelturn.noting.entry import What
from keelturn.recording.taps import Tap, TappedGo
from tests.core.test_fault_rules import values
from tests.core.test_fit import C, evidence, flown, usual


def test_the_pull_of_a_loop_is_said_once():
    soft = evidence("loop", {"pull_g": -0.5})
    assert [one.fault.key for one in faults_found(soft)] == ["pulled_soft"]
    assert {"soft_pull", "harsh_pull"}.isdisjoint(fault.key for fault, _ in cannot_be_seen(soft))
    recovery = evidence("nose_low", {"pull_g": -0.5})
    assert [one.fault.key for one in faults_found(recovery)] == ["soft_pull"]


@pytest.mark.parametrize(
    ("fault", "number", "inside", "beyond"),
    [
        ("scooped", "scoop_g", 0.55, 0.65),
        ("no_top_rudder", "top_rudder", 0.16, 0.14),
        ("no_forward_inverted", "on_its_back", 0.53, 0.47),
    ],
)
def test_where_a_fault_of_a_roll_begins(fault, number, inside, beyond):
    base = usual("slow_roll")
    for value, found in ((inside, []), (beyond, [fault])):
        numbers = {**base.fit.numbers, number: Number(value, 0.01, True)}
        told = replace(base, fit=replace(base.fit, numbers=numbers))
        assert [one.fault.key for one in faults_found(told)] == found


@pytest.mark.parametrize(
    ("bank", "expected"), [(7.0, []), (-7.0, []), (9.0, ["wings_not_level"]), (-9.0, ["wings_not_level"])]
)
def test_a_loop_is_pulled_with_level_wings(bank, expected):
    loop = usual("loop")
    shape = replace(loop.measured.shape, first_bank_deg=bank)
    leaning = replace(loop, measured=replace(loop.measured, shape=shape))
    assert [one.fault.key for one in faults_found(leaning)] == expected


def called(evidence, before_s):
    """The same, with a tap so long before the first input."""
    fault = "rudder_late" if evidence.planned.key == "spin" else "late"
    moved = values(replace(evidence, tapped=None))[fault].at_s
    moved += 0.0 if fault == "rudder_late" else evidence.fit.numbers["delay_s"].value
    tap = Tap(What.RECOVER, evidence.begins_s + moved - before_s)
    of = TappedGo("a1", "f1", evidence.planned.key, "right", (Tap(What.START, 0.0), tap))
    return values(replace(evidence, tapped=of))[fault]


@pytest.mark.parametrize(("key", "most"), [("spin", 1.1), ("nose_low", 1.5)])
def test_late_counts_from_the_tap_where_there_is_one(key, most):
    base = usual(key)
    for before, late in ((most + 0.2, True), (most - 0.2, False), (0.0, False)):
        found = called(base, before)
        assert found.value == pytest.approx(before)
        assert (found.sure > 0.5) == late
    # Tapped after it was moved, or long before: something else was meant, and the fit counts.
    silent = values(base)[found.fault.key].value
    assert [called(base, before).value for before in (-1.1, 8.1)] == [silent, silent]
    assert called(base, 7.9).value == pytest.approx(7.9)


@pytest.mark.long
def test_the_first_input_of_what_never_span_is_not_shown():
    def shown(**habits):
        return {one.name for one in technique_of(*flown("spin", habits, controls=True), C).numbers}

    assert "first_input" in shown()
    assert {"first_input", "call_s", "turn_error"}.isdisjoint(shown(entry_stick=-0.65))
