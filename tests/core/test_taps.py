"""Goes that were tapped in flight laid over a recording: the clocks, the names, and which go is which."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from keelturn.assess.flight import judge
from keelturn.assess.noted import attempts_of_flight
from keelturn.noting.entry import Entry, What
from keelturn.recording.cleaning import StepKey
from keelturn.recording.recorder import record
from keelturn.recording.simulated import simulated
from keelturn.recording.taps import NEAR_S, Tap, TappedGo, clock_by_taps, tapped_goes
from keelturn.recording.ways import InPlan
from tests.flights import conditions, exact_sensors, figure
from tools.score_reading import as_recording, settings

C = conditions()
BEGAN = datetime(2026, 5, 14, 10, 0, tzinfo=UTC)
LOOP, SPIN = figure("loop", 5500, id="f1"), figure("spin", 6000, id="f2", side="left")


def go(attempt, at_s, planned="f1", key="loop", what=What.START):
    return TappedGo(attempt, planned, key, "left", (Tap(what, at_s),))


def entry(number, attempt, what, value, seconds, **more):
    at = BEGAN + timedelta(seconds=seconds)
    return Entry(id=f"entry-{number:04}", attempt=attempt, what=what, value=value, device="d1", at=at, **more)


def noted(attempt, planned, seconds, number):
    """A figure and its heights as somebody taps them, four seconds apart."""
    yield entry(number, attempt, What.FIGURE, planned, seconds)
    for n, what in enumerate((What.START, What.RECOVER, What.LOWEST, What.LEVEL)):
        yield entry(number + n + 1, attempt, what, 5000.0 - 100 * n, seconds + 4 * n)


def test_goes_are_what_a_hand_noted_in_flight_by_the_servers_clock():
    entries = [
        *noted("a2", SPIN, 300, 10),
        *noted("a1", LOOP, 100, 20),
        # Corrected on the ground; by a recorder; taken back; without its start; on a device that is late.
        entry(30, "a1", What.START, 5200.0, 9000, replaces=("entry-0021",)),
        entry(31, "a3", What.FIGURE, LOOP, 500, source="recorder"),
        entry(32, "a3", What.START, 5000.0, 500, source="recorder"),
        entry(33, "a4", What.FIGURE, LOOP, 600),
        entry(34, "a4", What.LOWEST, 4000.0, 610),
        entry(35, "a5", What.FIGURE, LOOP, 700, offset_s=-90),
        entry(36, "a5", What.START, 5000.0, 700, offset_s=-90),
    ]
    goes = tapped_goes(entries)
    since = [(g.attempt, g.planned, round(g.begins_s - BEGAN.timestamp())) for g in goes]
    assert since == [("a1", "f1", 100), ("a2", "f2", 300), ("a5", "f1", 610)]
    assert [tap.what for tap in goes[0].taps] == [What.START, What.RECOVER, What.LOWEST, What.LEVEL]
    assert goes[0].taps[3].at_s - goes[0].begins_s == pytest.approx(12.0)


def test_the_clock_is_where_most_goes_are_near_a_figure_of_their_own():
    found = [100.0, 300.0, 420.0, 700.0]
    goes = [
        go(f"a{n}", 5000.0 + at + late) for n, (at, late) in enumerate(zip(found, (1, 2, 0, 90), strict=True))
    ]
    clock = clock_by_taps(goes, found)
    assert clock.later_s == pytest.approx(5001.0)
    assert (clock.goes, clock.of) == (3, 4)
    assert clock.spread_s == pytest.approx(1.0)
    assert clock.on[0].begins_s == pytest.approx(100.0)


@pytest.mark.parametrize(
    "tapped",
    [(), (100.0,), (100.0, 250.0, 333.0, 512.0), (100.0, 100.5, 99.5)],
    ids=["nothing", "one", "others", "one figure thrice"],
)
def test_what_fits_too_few_figures_sets_no_clock(tapped):
    goes = [go(f"a{n}", at) for n, at in enumerate(tapped)]
    assert clock_by_taps(goes, [100.0, 900.0, 1700.0]) is None


@pytest.mark.parametrize(("off", "near"), [(NEAR_S - 0.1, 2), (NEAR_S + 0.1, None)])
def test_near_is_six_seconds(off, near):
    clock = clock_by_taps([go("a1", 100.0), go("a2", 300.0 + off)], [100.0, 300.0])
    assert (clock and clock.goes) == near


@pytest.mark.parametrize(("near", "known"), [(3, True), (2, False)])
def test_three_of_five_goes_have_to_be_near(near, known):
    found = [100.0, 300.0, 420.0, 700.0, 1010.0]
    off = [0.0] * near + [40.0, 67.0, 91.0][: 5 - near]
    goes = [go(f"a{n}", at + late) for n, (at, late) in enumerate(zip(found, off, strict=True))]
    assert (clock_by_taps(goes, found) is not None) == known


def heard(figures, zero=None):
    table = record(figures, C, exact_sensors(16))
    return replace(as_recording(table), zero=zero), table.figures


def tapped(figures, true, later=0.0, names=None):
    begins = BEGAN.timestamp() + later
    return [
        TappedGo(
            names[n] if names else f"{f.id}-go", f.id, f.key, f.side, (Tap(What.START, begins + t.begins_s),)
        )
        for n, (f, t) in enumerate(zip(figures, true, strict=True))
    ]


def test_a_figure_has_the_name_of_the_go_that_was_tapped_as_it_was_flown():
    flown = (LOOP, SPIN, LOOP)
    recording, true = heard(flown, BEGAN)
    # The first loop was not noted: what was noted of a loop is the second one.
    goes = tapped(flown, true, later=42.0, names=("x", "s1", "f1"))[1:]
    cleaned, judged = judge(recording, (LOOP, SPIN), C, taps=goes)
    assert [one.found.place for one in judged] == [InPlan.PLANNED, InPlan.PLANNED, InPlan.AGAIN]
    assert attempts_of_flight(judged, "box") == ("f1.2", "s1", "f1")
    assert judged[0].tapped is None
    assert judged[2].tapped.begins_s == pytest.approx(true[2].begins_s, abs=0.6)
    assert cleaned.steps[-1].key == StepKey.CLOCK
    assert cleaned.steps[-1].words.startswith("Its clock is 4")
    assert "behind the taps: 2 of 2 starts" in cleaned.steps[-1].words


def test_one_that_was_not_planned_has_the_name_that_was_noted_for_it():
    roll = figure("barrel_roll", 5500, id="added", side="left")
    recording, true = heard((LOOP, roll, SPIN))
    goes = tapped((LOOP, roll, SPIN), true)
    judged = judge(recording, (LOOP, SPIN), C, taps=goes)[1]
    assert [one.found.planned_id for one in judged] == ["f1", None, "f2"]
    assert attempts_of_flight(judged, "box") == ("f1-go", "added-go", "f2-go")
    other_side = [replace(g, side="right") if g.key == "barrel_roll" else g for g in goes]
    judged = judge(recording, (LOOP, SPIN), C, taps=other_side)[1]
    assert attempts_of_flight(judged, "box") == ("f1-go", "box-2", "f2-go")


def test_without_the_clock_the_order_tells_which_is_which():
    flown = (LOOP, SPIN, LOOP)
    recording, true = heard(flown)
    goes = tapped(flown, true, names=("x", "s1", "f1"))[1:]
    cleaned, judged = judge(recording, (LOOP, SPIN), C, frozenset({StepKey.CLOCK}), taps=goes)
    assert attempts_of_flight(judged, "box") == ("f1", "f2", "f1.2")
    assert (cleaned.steps[-1].done, cleaned.steps[-1].words[:23]) == (False, "What was tapped laid ov")
    assert judge(recording, (LOOP, SPIN), C)[0].steps == ()


def test_what_was_noted_speaks_for_its_name():
    """Two figures that move alike, flown in the other order than planned."""
    one = figure("stall_power_on", 5500, id="f1")
    other = figure("stall_power_off", 5500, id="f2")
    recording, true = heard((other, one))
    silent = judge(recording, (one, other), C)[1]
    told = judge(recording, (one, other), C, taps=tapped((other, one), true))[1]
    assert [j.found.planned_id for j in silent] == ["f1", "f2"]
    assert [j.found.planned_id for j in told] == ["f2", "f1"]
    assert [j.found.place for j in told] == [InPlan.PLANNED, InPlan.PLANNED]


@pytest.mark.long
def test_the_clock_of_simulated_flights_is_found_within_two_seconds():
    chance = np.random.default_rng(9)
    off = []
    for number in range(200, 207):
        setting = settings()[number % 3]
        flight = simulated(number, setting)
        goes = [
            TappedGo(
                f"go-{n}",
                go.planned.id,
                go.planned.key,
                go.planned.side,
                (Tap(What.START, 1e9 + true.begins_s + float(chance.uniform(0.0, 2.0))),),
            )
            for n, (go, true) in enumerate(zip(flight.goes, flight.table.figures, strict=True))
            if chance.random() > 0.2
        ]
        cleaned, judged = judge(as_recording(flight.table), flight.plan, setting, taps=goes)
        on = [one.tapped.begins_s for one in judged if one.tapped is not None]
        if not on:
            off.append(np.inf)
            continue
        first = next(one for one in judged if one.tapped is not None)
        was = next(g for g in goes if g.attempt == first.tapped.attempt).begins_s
        off.append(abs(was - first.tapped.begins_s - 1e9 + flight.sensors.clock_offset_s - 1.0))
    assert np.median(off) < 1.0
    assert sum(one < 2.5 for one in off) >= 6
