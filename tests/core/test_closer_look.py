"""One figure looked at closely: its path, its gate, what would change it, schools and faults in feet."""

import math
from dataclasses import fields, replace

import pytest

from keelturn.figures.catalogue import FIGURES
from keelturn.figures.faults import TABLE as FAULTS
from keelturn.flying.costs import DOES_NOT_STOP, flown_of, fly_usual, pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.pilots import STUDENT
from keelturn.flying.side_view import MOST_MOMENTS, side_view
from keelturn.plan.beside import schools_beside
from keelturn.plan.sequence import compute_plan
from keelturn.plan.what_if import closer_look, fault_costs, gate_map, what_ifs
from keelturn.school.standards import FigureStandard, Standard, Standards
from keelturn.spinning.engine import NEVER_STOPPED, OTHER_WAY, SPIRALLED, SPUN, T_OUTCOME
from keelturn.units import FT
from tests.flights import HEAVY, TRAINER, conditions, figure, plan
from tests.long import every_third

C, H = conditions(), conditions(card=HEAVY)


@pytest.mark.parametrize("key", every_third([f.key for f in FIGURES]))
def test_every_figure_of_the_catalogue_can_be_looked_at(key):
    side = closer_look(figure(key, start_ft=6000), H).side
    columns = [column for name, column in vars_of(side).items() if name != "moments"]
    assert {len(column) for column in columns} == {len(side.seconds)}
    assert all(math.isfinite(number) for column in columns for number in column)
    assert (side.seconds[0], side.along_ft[0], side.across_ft[0]) == (0.0, 0.0, 0.0)
    assert side.height_ft[0] == pytest.approx(6000, abs=1)
    assert list(side.seconds) == sorted(side.seconds)
    assert side.moments[0].words == "Gate"
    assert side.moments[-1].at == len(side.seconds) - 1
    assert 2 <= len(side.moments) <= MOST_MOMENTS


def vars_of(side):
    return {field.name: getattr(side, field.name) for field in fields(side)}


def test_the_picture_loses_what_the_account_says():
    for key in ("nose_low", "spin", "steep_turn", "loop"):
        planned = figure(key, start_ft=5500)
        heights = side_view(planned, C).height_ft
        assert heights[0] - min(heights) == pytest.approx(fly_usual(planned, C).deepest_ft, abs=3), key


def test_a_loop_goes_upside_down_and_comes_back_on_its_heading():
    side = side_view(figure("loop", start_ft=5500), C)
    top = side.height_ft.index(max(side.height_ft))
    assert abs(abs(side.bank_deg[top]) - 180) < 5
    assert math.cos(math.radians(side.heading_deg[-1])) > math.cos(math.radians(2))


def test_a_spin_is_seen_from_the_stall_and_turns_to_its_side():
    left, right = (side_view(figure("spin", side=side), C) for side in ("left", "right"))
    assert left.pitch_deg[0] > 10 and left.bank_deg[0] == 0
    assert min(left.pitch_deg) < -50
    assert left.heading_deg[-1] < -300 and right.heading_deg[-1] > 300


def test_each_what_if_costs_height_or_breaks_something():
    found = {
        w.key: w
        for w in what_ifs(
            figure("spin", start_ft=3800, turns=1.0),
            C,
            fly_usual(figure("spin", start_ft=3800, turns=1.0), C),
        )
    }
    assert set(found) == {"later", "softer", "turn"}
    assert all(w.more.value > 50 for w in found.values())
    assert found["turn"].more.value == pytest.approx(310, abs=25)
    assert "below the floor" in found["turn"].broken
    assert found["later"].lowest.value == pytest.approx(3800 - found["later"].lost.value)


def test_pulling_through_is_asked_only_where_the_lift_points_down():
    def keys(planned):
        return {w.key for w in what_ifs(planned, C, fly_usual(planned, C))}

    over = figure("nose_low", start_ft=6000, bank_deg=120, path_deg=-30)
    assert "through" in keys(over)
    assert "through" not in keys(figure("nose_low", start_ft=6000, bank_deg=60))
    roll = {
        w.key: w
        for w in what_ifs(
            figure("aileron_roll", start_ft=6000), C, fly_usual(figure("aileron_roll", start_ft=6000), C)
        )
    }
    assert roll["through"].more.value > 1000
    assert "beyond Vne" in roll["through"].broken


def test_a_slower_loop_falls_out_of_the_top_and_it_is_said():
    broken = {w.key: w.broken for w in closer_look(figure("loop"), C).what_ifs}
    assert "over the top" in broken["slower"]


def test_schools_stand_side_by_side_with_the_one_in_use():
    schools = {s.key: s for s in schools_beside(figure("nose_low", bank_deg=100), C)}
    assert [key for key, s in schools.items() if s.in_use] == ["power_roll_pull"]
    assert schools["push_roll_power_stabilise"].lost.value > schools["power_roll_pull"].lost.value
    assert schools["pulled_through"].compared_only
    assert [s.name for s in schools_beside(figure("spin"), C) if s.in_use] == ["Flight manual"]


def test_spin_schools_stand_beside_each_other_with_their_own_costs_and_what_the_card_rules_out():
    spin = {s.name: s for s in schools_beside(figure("spin", start_ft=8000), conditions(card=HEAVY))}
    costs = [s.lost.shown for s in spin.values()]
    assert len(spin) == 3 and len(set(costs)) >= 2
    ruled_out = HEAVY.model_copy(
        update={"spin": HEAVY.spin.model_copy(update={"does_not_stop": ("Centralise",)})}
    )
    beside = {s.name: s for s in schools_beside(figure("spin", start_ft=8000), conditions(card=ruled_out))}
    assert beside["Centralise"].lost is None
    assert "does not stop" in beside["Centralise"].note
    assert beside["Hands off"].note == ""


def test_a_manual_s_own_procedure_does_not_hide_what_the_other_schools_cost():
    own = TRAINER.model_copy(
        update={"spin": TRAINER.spin.model_copy(update={"recovery": ("Rudder against.", "Stick forward.")})}
    )
    without = TRAINER.model_copy(update={"spin": TRAINER.spin.model_copy(update={"recovery": ()})})
    beside = {s.name: s for s in schools_beside(figure("spin"), conditions(card=own))}
    alone = {s.name: s for s in schools_beside(figure("spin"), conditions(card=without))}
    assert beside["Flight manual"].in_use
    assert beside["Flight manual"].steps == ("Rudder against.", "Stick forward.")
    for school in ("Centralise", "Hands off", "Power, aileron, rudder, elevator"):
        assert beside[school].lost.value == pytest.approx(alone[school].lost.value)
    assert beside["Centralise"].lost.value != beside["Flight manual"].lost.value


def test_faults_cost_what_their_number_costs_and_the_rest_say_nothing():
    planned = figure("nose_low")
    costs = {f.key: f for f in fault_costs(planned, C, fly_usual(planned, C))}
    late = fly_usual(planned, C, "student", delay_s=1.0).deepest_ft - fly_usual(planned, C).deepest_ft
    assert costs["late"].more.value == pytest.approx(late)
    assert costs["no_lookout"].more is None
    assert costs["no_lookout"].assumed == ""
    feet = [f.more.value for f in costs.values() if f.more]
    assert feet == sorted(feet, reverse=True)


def test_a_fault_that_ends_as_something_else_says_what_it_becomes():
    planned = figure("spin", start_ft=8000)
    light = {f.key: f for f in fault_costs(planned, C, fly_usual(planned, C))}
    assert light["stick_not_back"].assumed == "stick a third back: becomes a spiral, not a spin"
    assert light["rudder_late"].assumed == "rudder a second later"


@pytest.mark.parametrize(
    ("outcome", "words"),
    [(SPIRALLED, "a spiral"), (OTHER_WAY, "the other way"), (NEVER_STOPPED, "does not stop"), (SPUN, None)],
)
def test_what_a_spin_becomes_is_what_stops_it(outcome, words):
    planned = figure("spin", start_ft=8000)
    course = fly(planned, C, pilot_numbers("student"), 8000 * FT, trace=True)
    course.spun[0, T_OUTCOME] = outcome
    lacks = flown_of(planned, C, course).shortfall
    assert lacks is None if words is None else words in lacks.words


def test_a_fault_after_which_it_does_not_stop_has_no_feet(monkeypatch):
    planned = figure("spin", start_ft=8000)
    usual = fly_usual(planned, C)
    stuck = replace(usual, deepest_ft=usual.deepest_ft + 4000, shortfall=DOES_NOT_STOP)
    monkeypatch.setattr("keelturn.plan.what_if.fly_usual", lambda *a, **k: stuck)
    costs = {f.key: f for f in fault_costs(planned, C, usual)}
    assert (costs["stick_late"].more, costs["stick_late"].said) == (None, "does not stop")
    assert costs["stick_late"].assumed.endswith(": the rotation does not stop so")
    assert costs["no_lookout"].said == "not computed"


def test_a_plan_that_does_not_stop_is_stopped_for_that_and_not_for_speed():
    own = TRAINER.spin.model_copy(update={"does_not_stop": ("Centralise",), "recovery": ()})
    card = TRAINER.model_copy(update={"spin": own})
    wanted = plan(figure("spin", start_ft=6000, school="centralise"))
    checks = [
        c for c in compute_plan(wanted, conditions(wanted, card=card)).checks if "cannot be flown" in c.title
    ]
    assert [c.verdict for c in checks] == ["stop"]
    assert "the rotation does not stop so" in checks[0].sentence
    assert "faster" not in checks[0].hint


def test_what_a_fault_costs_is_said_with_the_number_of_the_pilot_that_it_changes():
    for fault in FAULTS:
        assert bool(fault.numbers) == bool(fault.assumed)
        assert set(fault.numbers) <= set(STUDENT)
    assert {fault.key for f in FIGURES for fault in f.faults} <= {fault.key for fault in FAULTS}


def test_the_map_is_for_figures_whose_speed_the_pilot_sets():
    drawn = gate_map(figure("loop", entry_ias=135), C)
    i = min(range(len(drawn.speeds)), key=lambda k: abs(drawn.speeds[k] - 135))
    j = min(range(len(drawn.pulls)), key=lambda k: abs(drawn.pulls[k] - 3.5))
    assert drawn.verdict[i][j] == "fine"
    assert drawn.verdict[2][j] in ("too slow", "too hard")
    assert (drawn.here_speed, drawn.here_pull) == (135, 3.5)
    assert gate_map(figure("spin"), C) is None
    assert gate_map(figure("steep_turn"), C) is None


def test_the_chiefs_gate_school_and_floor_are_followed():
    asked = {
        "loop": FigureStandard(entry_ias={C.card.name: {"value": 141}}, floor_ft=Standard(value=4000)),
        "nose_low": FigureStandard(school="push_roll_power_stabilise", words="Light first."),
    }
    c = conditions(standards=Standards(figures=asked))
    from keelturn.plan.sequence import compute_plan

    loop, low = compute_plan(plan(figure("loop"), figure("nose_low", start_ft=6000)), c).figures
    assert (loop.entry.value, loop.entry.source.kind) == (141, "school")
    assert (loop.floor.value, low.floor.value) == (4000, 3000)
    assert low.school == "Push, roll, power, stabilise"
    assert low.school_words == "Light first."
    # The plan's own wins over the school's.
    assert compute_plan(plan(figure("loop", entry_ias=138)), c).figures[0].entry.value == 138
    with pytest.raises(ValueError, match="not a recovery taught"):
        Standards(figures={"loop": FigureStandard(school="hands_off")})
