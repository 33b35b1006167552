"""A pilot's numbers had back from a recording, with their doubt; the lanes of his inputs and the faults that
they show."""

from functools import lru_cache

import numpy as np
import pytest

from keelturn.assess.account import REST, account_of_fit
from keelturn.assess.evidence import Evidence
from keelturn.assess.fault_rules import RULES, Rule, cannot_be_seen, faults_found
from keelturn.assess.fit import HANDED_OVER_S, fit
from keelturn.assess.flight import judge
from keelturn.assess.lanes import Control, Way, lanes_of
from keelturn.assess.technique import LANE_OF, technique_of
from keelturn.assess.where import SCHOOLS_CHOICE, stepwise
from keelturn.figures.faults import BY_KEY
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.pilots import RANGES
from keelturn.recording.recorder import Sensors, record_goes
from keelturn.recording.table import CONTROLS, Column, Recording
from keelturn.recording.truth import Go
from tests.flights import conditions, figure
from tests.long import others_long
from tools.score_reading import as_recording

C = conditions()


def flown(key, habits=(), controls=False, columns=None, sensors=None, **settings):
    """One figure by a student of these habits, recorded and read: what was found, and the cleaned flight."""
    planned = figure(key, start_ft=6000, **settings)
    table = record_goes(
        [Go(planned, "student", dict(habits))], C, sensors or Sensors(rate_hz=10, seed=5, controls=controls)
    )
    recording = as_recording(table)
    if columns is not None:
        recording = Recording({name: recording.columns[name] for name in columns})
    cleaned, judged = judge(recording, (planned,), C)
    assert [one.found.figure.key for one in judged] == [key]
    return judged[0], cleaned


def fitted(key, habits=(), **more):
    judged, cleaned = flown(key, habits, **more)
    return fit(judged.found, judged.measured, cleaned, C)


@lru_cache
def usual(key, **more):
    return evidence(key, **more)


def evidence(key, habits=(), **more):
    judged, cleaned = flown(key, habits, **more)
    found = fit(judged.found, judged.measured, cleaned, C)
    return Evidence(
        found.planned, judged.measured, judged.became, C, found, lanes_of(found, judged.measured, cleaned)
    )


@pytest.mark.parametrize(
    ("key", "name", "habit", "within"),
    others_long(
        [
            ("nose_low", "delay_s", 0.9, 0.15),
            ("nose_low", "pull_g", -0.4, 0.04),
            ("nose_low", "pull_g", 0.4, 0.04),
            ("nose_low", "roll_share", -0.25, 0.04),
            ("stall_power_off", "delay_s", 1.0, 0.1),
            ("stall_power_off", "throttle_s", 1.2, 0.25),
            ("spin", "pull_g", -0.5, 0.05),
            ("spin", "gap_s", 1.0, 0.25),
            ("spin", "gap_s", -1.2, 0.3),
            ("loop", "ease_error_g", 0.3, 0.04),
            ("loop", "speed_error_kt", 7.0, 1.5),
        ],
        (1, 7, 9),
    ),
)
def test_a_number_is_had_back_within_its_doubt(key, name, habit, within):
    found = fitted(key, {name: habit})
    true = float(pilot_numbers("student", **{name: habit})[name][0])
    assert found.good
    assert found.numbers[name].told
    assert found.numbers[name].value == pytest.approx(true, abs=within)
    assert abs(found.numbers[name].value - true) < 3.0 * found.numbers[name].doubt


def test_an_upset_may_begin_in_another_attitude_than_was_planned():
    planned = figure("nose_low", start_ft=6000, bank_deg=70, path_deg=-25)
    other = planned.model_copy(update={"parameters": {"bank_deg": 85.0, "path_deg": -33.0}})
    table = record_goes([Go(other, "student", {"pull_g": -0.4})], C, Sensors(rate_hz=10, seed=2))
    cleaned, judged = judge(as_recording(table), (planned,), C)
    found = fit(judged[0].found, judged[0].measured, cleaned, C)
    assert found.good
    assert found.planned.parameter("bank_deg") == pytest.approx(85, abs=4)
    assert found.planned.parameter("path_deg") == pytest.approx(-33, abs=4)
    assert found.numbers["pull_g"].value == pytest.approx(-0.4, abs=0.05)


@pytest.mark.long
def test_what_is_no_flight_of_this_figure_is_a_poor_fit_and_has_no_account():
    judged, cleaned = flown("nose_low")
    rows = slice(judged.found.first, judged.found.last)
    cleaned.recording.columns[Column.G][rows] = 1.0
    cleaned.recording.columns[Column.HEIGHT][rows] += np.linspace(0, 600, rows.stop - rows.start)
    found = fit(judged.found, judged.measured, cleaned, C)
    assert not found.good
    assert account_of_fit(found, judged.measured.lost_ft) is None
    assert lanes_of(found, judged.measured, cleaned) is None
    assert "does not come near" in technique_of(judged, cleaned, C).says
    assert technique_of(judged, cleaned, C).numbers == ()


def test_without_attitude_less_is_told_and_the_doubt_is_wider():
    whole = fitted("nose_low", {"delay_s": 0.6})
    judged, cleaned = flown("nose_low", {"delay_s": 0.6})
    for angle in (Column.PITCH, Column.BANK, Column.HEADING, Column.G):
        del cleaned.recording.columns[angle]
    track = fit(judged.found, judged.measured, cleaned, C)
    assert track.numbers["roll_share"].doubt > 2.0 * whole.numbers["roll_share"].doubt
    assert sum(n.told for n in track.numbers.values()) < sum(n.told for n in whole.numbers.values())
    account = account_of_fit(track, judged.measured.lost_ft)
    assert account is not None
    known = account_of_fit(whole, judged.measured.lost_ft)
    assert account.lines[-1].doubt_ft > 2.0 * known.lines[-1].doubt_ft
    # When it was handed over is seen by neither.
    assert track.numbers["delay_s"].doubt > whole.numbers["delay_s"].doubt > HANDED_OVER_S


def test_when_an_upset_was_handed_over_is_in_the_doubt_of_the_delay_alone():
    upset, stall = fitted("nose_low", {"delay_s": 0.6}), fitted("stall_power_off", {"delay_s": 0.6})
    assert upset.numbers["delay_s"].told
    assert HANDED_OVER_S < upset.numbers["delay_s"].doubt < 1.3 * HANDED_OVER_S
    assert stall.numbers["delay_s"].doubt < HANDED_OVER_S
    at = list(upset.numbers).index("delay_s")
    assert upset.covariance[at, at] == pytest.approx(upset.numbers["delay_s"].doubt ** 2)
    others = [n.doubt for name, n in upset.numbers.items() if name not in ("delay_s", "throttle_s")]
    assert min(others) < 0.1


def test_what_climbs_out_of_it_is_compared_to_its_end():
    high = fitted("nose_high", {})
    assert high.compared.time[-1] > 5.0
    low = fitted("nose_low", {})
    lowest = float(low.compared.time[int(np.argmin(low.compared.seen["height"]))])
    assert low.compared.time[-1] < lowest + 1.5


@pytest.mark.parametrize("key", others_long(["nose_low", "inverted", "spin", "stall_power_off"], (0, 2)))
def test_best_and_steps_add_up_to_what_was_measured_exactly(key):
    judged, cleaned = flown(key, {"pull_g": -0.3})
    account = account_of_fit(fit(judged.found, judged.measured, cleaned, C), judged.measured.lost_ft)
    assert account.flown_ft == judged.measured.lost_ft
    assert account.best_ft + sum(line.height_ft for line in account.lines) == pytest.approx(account.flown_ft)
    assert account.lines[-1].names == (REST,)
    assert abs(account.lines[-1].height_ft) < 60


def test_each_step_is_the_true_one_within_its_doubt_or_ten_feet():
    habits = {"delay_s": 0.8, "pull_g": -0.4, "roll_share": -0.2}
    judged, cleaned = flown("nose_low", habits)
    account = account_of_fit(fit(judged.found, judged.measured, cleaned, C), judged.measured.lost_ft)
    true = stepwise(
        judged.found.figure.model_copy(update={"start_ft": 6000.0}), C, pilot_numbers("student", **habits)
    )
    steps = dict(zip(true.names, true.steps_ft[:, 0], strict=True))
    named = [line for line in account.lines if line.names[0] not in (REST, SCHOOLS_CHOICE)]
    assert {"Seeing it", "Rolling slowly", "Pull"} <= {name for line in named for name in line.names}
    for line in named:
        assert abs(line.height_ft - sum(steps[name] for name in line.names)) < max(10.0, 1.5 * line.doubt_ft)


@pytest.mark.parametrize(
    ("key", "fault", "habits"),
    others_long(
        [
            ("nose_low", "late", {"delay_s": 1.0}),
            ("nose_low", "soft_pull", {"pull_g": -0.5}),
            ("nose_low", "harsh_pull", {"pull_g": 0.65}),
            ("nose_low", "rolled_while_pulling", {"roll_g": 0.9}),
            ("nose_low", "wrong_speed", {"speed_error_kt": -8.0}),
            ("stall_power_off", "forward_late", {"delay_s": 1.2}),
            ("stall_power_off", "power_in_late", {"throttle_s": 1.5}),
            ("spin", "stick_late", {"gap_s": 1.2}),
            ("spin", "stick_before_rudder", {"gap_s": -1.5}),
            ("spin", "rudder_late", {"call_s": 1.3}),
            ("spin", "stick_not_back", {"entry_stick": -0.3}),
            ("spin", "rudder_half", {"entry_rudder": -0.45}),
            ("loop", "pulled_soft", {"pull_g": -0.5}),
            ("loop", "pulled_hard", {"pull_g": 0.5}),
            ("loop", "no_easing", {"ease_error_g": 0.3}),
            ("aileron_roll", "nose_low_first", {"angle_error_deg": -10.0}),
            ("aileron_roll", "scooped", {"scoop_g": 1.0}),
            ("slow_roll", "scooped", {"scoop_g": 1.0}),
            ("slow_roll", "no_top_rudder", {"top_rudder": -0.25}),
            ("slow_roll", "no_forward_inverted", {"on_its_back": -0.7}),
            ("half_cuban", "scooped", {"scoop_g": 1.0}),
            ("stall_turn", "not_vertical", {"angle_error_deg": -9.0}),
            ("steep_turn", "nose_dropped", {"height_keeping_ft": 100.0}),
        ],
        (1, 7, 14, 20),
    ),
)
def test_a_fault_is_found_and_a_usual_pilot_has_none(key, fault, habits):
    found = faults_found(evidence(key, habits))
    assert fault in [one.fault.key for one in found]
    one = next(one for one in found if one.fault.key == fault)
    assert one.rule.beyond(one.value) > 0
    assert one.sure > 0.5
    assert 0.0 <= one.at_s < 60.0
    assert faults_found(usual(key)) == ()


def test_what_lies_on_the_line_is_no_fault_and_doubt_makes_it_unsure():
    rule = Rule("late", "", "s", lambda e: None, most=1.5)
    assert rule.beyond(1.5) == 0.0
    assert rule.beyond(1.6) == pytest.approx(0.1)
    low = Rule("soft_pull", "", "g", lambda e: None, least=-0.4)
    assert low.beyond(-0.4) == 0.0
    assert low.beyond(-0.5) == pytest.approx(0.1)
    assert low.beyond(0.5) < 0


def test_every_rule_is_of_a_fault_and_of_numbers_that_there_are():
    assert {rule.fault for rule in RULES} <= set(BY_KEY)
    assert len({rule.fault for rule in RULES}) == len(RULES)
    assert all(name in RANGES for rule in RULES for name in rule.numbers)
    assert all(name in RANGES for names in LANE_OF.values() for name in names)


def test_what_cannot_be_seen_says_what_would_be_needed():
    unseen = {fault.key: needs for fault, needs in cannot_be_seen(usual("spin"))}
    assert unseen["wrong_rudder"] == "a recorder of the controls"
    assert unseen["no_lookout"] == "somebody who was there"
    evidence("spin", controls=True)
    with_controls = {fault.key: needs for fault, needs in cannot_be_seen(evidence("spin", controls=True))}
    assert "wrong_rudder" not in with_controls
    assert len(with_controls) < len(unseen)


def lane(lanes, control):
    return next(lane for lane in lanes.lanes if lane.control == control)


@pytest.mark.parametrize("controls", [True, False])
@pytest.mark.parametrize("side", others_long(["left", "right"], (0,)))
def test_the_lanes_of_a_spin_have_the_order_that_was_flown(side, controls):
    judged, cleaned = flown("spin", {"gap_s": 0.8}, controls=controls, side=side)
    lanes = lanes_of(fit(judged.found, judged.measured, cleaned, C), judged.measured, cleaned)
    assert lanes.from_controls == controls
    rudder = next(s for s in lane(lanes, Control.RUDDER).flown if s.way == Way.AGAINST)
    stick = next(s for s in lane(lanes, Control.STICK).flown if s.way == Way.FORWARD)
    assert stick.from_s - rudder.from_s == pytest.approx(1.2, abs=0.35)
    assert lane(lanes, Control.RUDDER).flown[0].way == Way.INTO
    # The method as briefed: rudder, then the stick at once, both after the call.
    method_rudder = next(s for s in lane(lanes, Control.RUDDER).method if s.way == Way.AGAINST)
    method_stick = next(s for s in lane(lanes, Control.STICK).method if s.way == Way.FORWARD)
    assert 0.0 < method_rudder.from_s < method_stick.from_s < stick.from_s
    turning = lane(lanes, Control.ROTATION).flown
    assert turning[0].from_s < 0.0 < turning[-1].to_s


def test_a_figure_without_a_recovery_has_no_lanes():
    judged, cleaned = flown("loop")
    assert lanes_of(fit(judged.found, judged.measured, cleaned, C), judged.measured, cleaned) is None


def test_a_debrief_has_each_number_with_its_working():
    judged, cleaned = flown("nose_low", {"delay_s": 1.2, "pull_g": -0.4})
    technique = technique_of(judged, cleaned, C)
    assert technique.recorded
    late = next(fault for fault in technique.faults if fault.key == "late")
    assert late.found
    assert late.sure
    assert late.more
    assert late.limit == "1.5 s"
    assert late.cost_ft > 100
    assert late.cost_doubt_ft < late.cost_ft
    account = technique.account
    assert account.best.label == "Best possible"
    assert account.bound.value <= account.best.value
    steps = {step.height.label: step for step in account.steps}
    assert steps["Seeing it"].height.shown.startswith("+")
    assert {given.label for given in steps["Seeing it"].height.inputs} >= {"Seeing it to first input"}
    total = account.best.value + sum(step.height.value for step in account.steps)
    assert total == pytest.approx(account.flown.value)
    assert not any(step.height.shown in ("−0 ft", "+0 ft") for step in account.steps)
    # What is shown adds up too.
    shown = [account.best.shown, *(step.height.shown for step in account.steps)]
    assert sum(feet_of(words) for words in shown) == feet_of(account.flown.shown)
    numbers = {number.name: number for number in technique.numbers}
    assert numbers["pull_g"].value == "−0.4 g"
    assert "lag_s" not in numbers


def feet_of(shown):
    return int(shown.removesuffix(" ft").replace("−", "-").replace("+", "").replace(",", ""))


@pytest.mark.parametrize("key", ["spin", "nose_low"])
def test_with_controls_a_usual_pilot_has_no_fault_either(key):
    """Power comes on after the lowest height, by the clock of the lanes: a spin is found seconds early."""
    found = evidence(key, controls=True)
    assert found.begins_s - found.measured.begins_s > (2.0 if key == "spin" else -1.0)
    assert faults_found(found) == ()


@pytest.mark.long
def test_a_poor_fit_with_controls_has_lanes_from_the_first_rudder():
    judged, cleaned = flown("spin", controls=True)
    rows = slice(judged.found.first, judged.found.last)
    cleaned.recording.columns[Column.G][rows] = 1.0
    cleaned.recording.columns[Column.HEIGHT][rows] += np.linspace(0, 600, rows.stop - rows.start)
    found = fit(judged.found, judged.measured, cleaned, C)
    assert not found.good
    lanes = lanes_of(found, judged.measured, cleaned)
    against = next(s for s in lane(lanes, Control.RUDDER).flown if s.way == Way.AGAINST)
    assert against.from_s == pytest.approx(0.0, abs=0.1)
    assert lanes.called_s > 3.0


def test_of_a_spin_the_best_is_that_of_the_method():
    account = technique_of(*flown("spin"), C).account
    assert account.best.label == "Best by this method"
    assert account.bound is None


def test_controls_are_needed_whole():
    judged, cleaned = flown("spin", controls=True)
    del cleaned.recording.columns[CONTROLS[2]]
    assert not lanes_of(
        fit(judged.found, judged.measured, cleaned, C), judged.measured, cleaned
    ).from_controls
