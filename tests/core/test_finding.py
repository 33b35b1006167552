"""A recording cleaned, its figures found, measured, and what became of them, against what was flown."""

from dataclasses import replace

import numpy as np
import pytest

from keelturn.assess.flight import judge
from keelturn.figures.catalogue import FIGURES
from keelturn.noting.attempt import Outcome
from keelturn.recording.cleaning import CALM_S, MOST_HZ, StepKey, clean, height_lag_s
from keelturn.recording.finding import find
from keelturn.recording.likeness import GROUPS, SIDED, catalogue, mirrored, off, template
from keelturn.recording.measuring import measure
from keelturn.recording.recorder import Sensors, record, record_goes
from keelturn.recording.table import CONTROLS, Column
from keelturn.recording.truth import Go
from keelturn.recording.ways import InPlan
from tests.flights import conditions, exact_sensors, figure, plan
from tests.long import others_long
from tools.score_reading import as_recording

C = conditions()
FIGURES_FLOWN = (
    figure("steep_turn", 5500, id="f1", side="left"),
    figure("loop", 5500, id="f2"),
    figure("spin", 6000, id="f3", side="left", turns=2.0),
    figure("barrel_roll", 5500, id="f4"),
    figure("over_banked", 5500, id="f5"),
)


def heard(sensors=None, figures=FIGURES_FLOWN, **habits):
    return record(figures, C, sensors or exact_sensors(16), habits=habits)


def judged(table, plan=FIGURES_FLOWN, without=frozenset(), setting=C):
    return judge(as_recording(table), plan, setting, without)


def one(key, sensors=None, habits=None, **settings):
    """A figure alone, judged, and what is true of it."""
    flown = figure(key, 6500, **settings)
    table = record_goes([Go(flown, "student", habits or {})], C, sensors or exact_sensors(16))
    cleaned, found = judged(table, (flown,))
    assert len(found) == 1
    return found[0], table.figures[0], cleaned


@pytest.fixture(scope="module")
def exact():
    table = heard()
    return table, *judged(table)


def test_figures_are_found_in_order_with_side_edges_and_heights(exact):
    table, cleaned, found = exact
    assert [(f.found.planned_id, f.found.place) for f in found] == [
        (p.id, InPlan.PLANNED) for p in FIGURES_FLOWN
    ]
    assert [f.found.figure.title for f in found] == [p.title for p in FIGURES_FLOWN]
    for got, true in zip(found, table.figures, strict=True):
        assert got.measured.begins_s == pytest.approx(true.begins_s, abs=0.5)
        assert got.measured.ends_s == pytest.approx(true.ends_s, abs=1.0)
        assert got.measured.start_ft == pytest.approx(true.start_ft, abs=10)
        assert got.measured.lowest_ft == pytest.approx(true.lowest_ft, abs=10)
        assert got.measured.most_g == pytest.approx(true.most_g, abs=0.1)
        assert got.found.sure > 0.95
        assert got.became.outcome == Outcome.AS_INTENDED


def test_phases_add_up_to_what_was_lost_and_turns_are_counted(exact):
    _, _, found = exact
    for got in found:
        assert sum(p.lost_ft for p in got.measured.phases) == pytest.approx(got.measured.lost_ft, abs=1e-6)
    spin = found[2].measured
    assert spin.turns == pytest.approx(exact[0].figures[2].turns, abs=0.1)
    assert 1.0 < spin.turn_s < 4.0
    assert spin.recover_ft is None
    assert found[4].measured.recover_ft == found[4].measured.start_ft
    assert found[1].measured.turns is None


def test_a_figure_left_out_one_again_and_one_that_was_not_planned():
    flown = (FIGURES_FLOWN[1], FIGURES_FLOWN[1], FIGURES_FLOWN[3], figure("half_cuban", 6000, id="x"))
    found = judged(heard(figures=flown))[1]
    assert [(f.found.planned_id, f.found.place) for f in found] == [
        ("f2", InPlan.PLANNED),
        ("f2", InPlan.AGAIN),
        ("f4", InPlan.PLANNED),
        (None, InPlan.UNPLANNED),
    ]
    assert found[3].found.figure.title == "Half Cuban, right"
    assert [f.found.figure.key for f in judged(heard(figures=flown), ())[1]] == [
        "loop",
        "loop",
        "barrel_roll",
        "half_cuban",
    ]


def test_the_other_side_is_seen_and_level_flight_has_no_figure():
    flown = FIGURES_FLOWN[3].model_copy(update={"side": "left"})
    found = judged(heard(figures=(flown,)))[1]
    assert [(f.found.figure.side, f.found.planned_id) for f in found] == [("left", "f4")]
    level = as_recording(heard()).rows(slice(0, 16 * 200))
    assert judge(level, FIGURES_FLOWN, C)[1] == ()


def test_a_height_and_a_track_alone_give_the_planned_figures_and_no_more_than_they_tell():
    recording = as_recording(heard())
    bare = replace(
        recording, columns={c: recording.columns[c] for c in (Column.TIME, Column.PRESSURE_HEIGHT)}
    )
    found = judge(bare, FIGURES_FLOWN, C)[1]
    spin = next(f for f in found if f.found.figure.key == "spin")
    assert spin.became is None
    measured = spin.measured
    assert (measured.turns, measured.most_g, measured.entry_ias, measured.heading_off_deg) == (None,) * 4
    assert measured.lost_ft > 500


def test_pressure_heights_are_set_to_the_qnh_of_the_day_and_can_be_left():
    low = conditions(plan(day={"qnh_hpa": 995.0}))
    flown = (figure("loop", 5500),)
    recording = as_recording(record(flown, low, exact_sensors(16)))
    cleaned = clean(recording, low.air)
    assert [step.key for step in cleaned.steps] == [StepKey.PRESSURE]
    # 18.25 hPa at 27.3 ft each near the ground (ICAO standard atmosphere).
    assert "\N{MINUS SIGN}50" in cleaned.steps[0].words or "\N{MINUS SIGN}49" in cleaned.steps[0].words
    assert judge(recording, flown, low)[1][0].measured.start_ft == pytest.approx(5500, abs=12)
    left = judge(recording, flown, low, frozenset({StepKey.PRESSURE}))
    assert left[1][0].measured.start_ft == pytest.approx(6005, abs=25)
    assert [step.done for step in left[0].steps] == [False]


def test_wild_fields_are_replaced_and_a_real_dive_is_not():
    noisy = exact_sensors(16).model_copy(update={"spikes_share": 0.002})
    cleaned = clean(as_recording(heard(noisy)), C.air)
    assert [step.key for step in cleaned.steps] == [StepKey.WILD]
    quiet = clean(as_recording(heard()), C.air)
    assert quiet.steps == ()
    for column, near in ((Column.HEIGHT, 25.0), (Column.IAS, 3.0), (Column.G, 0.3)):
        off_by = np.abs(cleaned.recording.columns[column] - quiet.recording.columns[column])
        assert off_by.max() < near
    left = clean(as_recording(heard(noisy)), C.air, frozenset({StepKey.WILD}))
    assert np.abs(left.recording.columns[Column.HEIGHT] - quiet.recording.columns[Column.HEIGHT]).max() > 200


def test_between_two_rows_a_second_apart_a_dive_goes_far_and_is_not_wild():
    flown = (
        figure("inverted", 6500),
        figure("loop", 6500, id="f2"),
        figure("spin", 6500, id="f3", turns=3.0),
    )
    recording = as_recording(heard(exact_sensors(1), flown))
    assert clean(recording, C.air).steps == ()
    heights = recording.columns[Column.PRESSURE_HEIGHT].copy()
    heights[300] += 500.0
    broken = recording.with_columns({Column.PRESSURE_HEIGHT: heights})
    assert [step.key for step in clean(broken, C.air).steps] == [StepKey.WILD]


@pytest.mark.long
def test_what_the_g_meter_is_off_in_level_flight_is_taken_off_from_two_hundredths_on():
    for bias, said in ((0.06, True), (0.01, False)):
        cleaned = clean(as_recording(heard(exact_sensors(16).model_copy(update={"g_bias": bias}))), C.air)
        assert [step.key for step in cleaned.steps] == ([StepKey.BIAS] if said else [])
    # In a few seconds of level flight the path is still being changed.
    whole = as_recording(heard(exact_sensors(16).model_copy(update={"g_bias": 0.06})))
    short = whole.rows(slice(0, round((CALM_S - 1.0) * 16)))
    assert not [step for step in clean(short, C.air).steps if step.key == StepKey.BIAS]
    biased = exact_sensors(16).model_copy(update={"g_bias": 0.06})
    assert judged(heard(biased))[1][1].measured.most_g == pytest.approx(3.5, abs=0.12)


@pytest.mark.parametrize("late", others_long([0.0, 0.6, 1.0], (1,)))
def test_how_late_the_static_line_is_comes_out_within_a_quarter_of_a_second(late):
    sensors = Sensors(rate_hz=16, height_lag_s=late, seed=3)
    raw = clean(as_recording(heard(sensors)), C.air, frozenset({StepKey.LAG}))
    assert height_lag_s(raw.recording) == pytest.approx(late, abs=0.25)
    assert [step.key for step in raw.steps] == ([StepKey.LAG] if late else [])
    true = record(FIGURES_FLOWN, C, exact_sensors(16)).figures[2].lowest_ft
    assert judged(heard(sensors))[1][2].measured.lowest_ft == pytest.approx(true, abs=15)


def test_silences_up_to_two_seconds_are_filled_and_longer_ones_are_holes():
    recording = as_recording(heard())
    for silence, holes in ((1.5, False), (4.0, True)):
        kept = ~((recording.time > 600) & (recording.time < 600 + silence))
        cleaned = clean(recording.rows(kept), C.air)
        assert [step.key for step in cleaned.steps] == [StepKey.GAPS]
        assert f"longest {silence:.1f} s" in cleaned.steps[0].words
        assert cleaned.holes.any() == holes
    spin = heard().figures[2]
    cut = ~((recording.time > spin.begins_s + 3) & (recording.time < spin.begins_s + 9))
    assert "spin" not in [f.found.figure.key for f in judge(recording.rows(cut), (), C)[1]]


@pytest.mark.parametrize("rate", others_long([1.0, 4.0, 64.0], (0,)))
def test_recorders_of_every_rate_give_the_same_figures(rate):
    sensors = Sensors(rate_hz=rate, seed=7)
    cleaned, found = judged(heard(sensors))
    assert [f.found.planned_id for f in found] == [p.id for p in FIGURES_FLOWN]
    assert cleaned.recording.rate_hz == pytest.approx(min(rate, MOST_HZ), rel=0.02)
    assert (found[2].measured.turns is None) == (rate < 3)
    assert (found[2].became is None) == (rate < 3)


def test_with_controls_the_first_input_against_a_spin_is_where_the_recovery_begins():
    sensors = exact_sensors(16).model_copy(update={"controls": True})
    prompt, true, _ = one("spin", sensors)
    slow, later, _ = one("spin", sensors, {"call_s": 2.0})
    # First the call, then half a second to the first input, which is seen once it has gone a quarter.
    for got, call in ((prompt, true), (slow, later)):
        assert got.measured.recover_ft < call.recover_ft
    first, second = (got.measured.phases[0] for got in (prompt, slow))
    assert first.name == second.name == "Before the recovery"
    assert second.seconds - first.seconds == pytest.approx(2.0, abs=0.2)
    # The rudder is first, and it counts though the stick waits; of either side.
    for side in ("left", "right"):
        waited, _, _ = one("spin", sensors, {"gap_s": 1.5}, side=side)
        assert waited.measured.phases[0].seconds == pytest.approx(first.seconds, abs=0.3)
    assert prompt.measured.inputs[0].control in CONTROLS
    assert one("spin")[0].measured.inputs == ()


def test_heading_bank_at_the_pull_and_g_while_rolling_are_measured():
    got, _, _ = one("nose_low", habits={"pull_from_bank_deg": 18.0})
    assert abs(got.measured.bank_at_pull_deg) == pytest.approx(30, abs=12)
    assert got.measured.rolling_g < got.measured.most_g
    turn, _, _ = one("steep_turn")
    assert turn.measured.heading_off_deg == pytest.approx(-25, abs=20)
    loop, _, _ = one("loop")
    assert loop.measured.heading_off_deg == pytest.approx(0, abs=3)
    assert loop.measured.rolling_g is None


def test_the_other_side_of_a_figure_is_its_mirror_and_every_figure_is_most_like_itself():
    right = template(figure("barrel_roll", 6000), C)
    left = template(figure("barrel_roll", 6000, side="left"), C)
    # Left and right roll rates of the card differ a little, and a spin's two sides by the card's factor.
    assert off(mirrored(right).numbers, left.numbers[None])[0] < 1.0
    assert off(right.numbers, left.numbers[None])[0] > 10.0
    assert len(SIDED) == sum(many for many, *_ in GROUPS.values())
    known = catalogue(C, 6000.0)
    numbers = np.stack([one.numbers for one in known])
    for like in known:
        nearest = known[int(np.argmin(off(like.numbers, numbers)))]
        assert off(like.numbers, nearest.numbers[None])[0] == 0.0
    assert {like.key for like in known} == {kind.key for kind in FIGURES}


def test_what_was_not_recorded_does_not_count_against_a_figure():
    like = template(figure("loop", 6000), C).numbers
    bare = like.copy()
    bare[: 3 * 13] = np.nan
    assert off(bare, like[None])[0] == 0.0
    assert off(bare, template(figure("spin", 6000), C).numbers[None])[0] > 5.0


def test_the_plan_decides_between_figures_that_move_alike():
    flown = figure("spin_in_aileron", 7000, id="f1")
    table = record((flown,), C, exact_sensors(16))
    assert judged(table, (flown,))[1][0].found.figure.key == "spin_in_aileron"
    accelerated = figure("spin_accelerated", 7000, id="f1")
    found = judged(table, (accelerated,))[1][0].found
    assert found.figure.key == "spin_accelerated"
    assert measure(found, judged(table, (accelerated,))[0], C).turns > 1.5
    assert find(judged(table, ())[0], (), C)[0].planned_id is None


def test_the_order_of_the_plan_counts_for_how_sure_a_name_is():
    """Half a turn flown a little late is alike to a turn stopped a little early; their place tells them."""
    both = (figure("incipient_spin", 6000, id="f1"), figure("spin", 6000, id="f2"))
    found = [f.found for f in judged(heard(figures=both), both)[1]]
    assert [(f.planned_id, f.sure > 0.9) for f in found] == [("f1", True), ("f2", True)]
    for one in found:
        assert 0 < one.sure <= 1
        assert one.sure + sum(likely for _, likely in one.others) <= 1 + 1e-9


def test_what_is_no_recovery_has_no_phases_of_one(exact):
    turn, loop, spin = (f.measured.phases for f in exact[2][:3])
    assert [p.name for p in turn] == [p.name for p in loop] == ["To the lowest height"]
    assert [p.name for p in spin] == ["Until the rotation slows", "To the pull", "Pull-out"]


def test_without_a_heading_turns_are_not_counted():
    recording = as_recording(heard())
    bare = replace(recording, columns={c: v for c, v in recording.columns.items() if c != Column.HEADING})
    found = judge(bare, FIGURES_FLOWN, C)[1]
    spin = next(f for f in found if f.found.planned_id == "f3")
    assert spin.measured.turns is None
    assert spin.measured.heading_off_deg is None
    assert spin.became is None
