"""One figure looked at closely: its path, its gate, what would change it, schools and faults in feet."""

import math

import pytest

from keelturn.figures.catalogue import FIGURES
from keelturn.flying.costs import fly_usual
from keelturn.flying.side_view import COLUMNS, MOST_MOMENTS, side_view
from keelturn.plan.what_if import FAULT_NUMBERS, closer_look, fault_costs, gate_map, schools_beside, what_ifs
from keelturn.school.standards import FigureStandard, Standard, Standards
from tests.flights import HEAVY, conditions, figure, plan

C, H = conditions(), conditions(card=HEAVY)
SECONDS, ALONG, ACROSS, HEIGHT, PATH, PITCH, BANK, HEADING, IAS, G = range(len(COLUMNS))


@pytest.mark.parametrize("key", [f.key for f in FIGURES])
def test_every_figure_of_the_catalogue_can_be_looked_at(key):
    look = closer_look(figure(key, start_ft=6000), H)
    points = look.side.points
    assert points[0][:4] == (0.0, 0.0, 0.0, pytest.approx(6000, abs=1))
    assert all(math.isfinite(number) for point in points for number in point)
    assert [p[SECONDS] for p in points] == sorted(p[SECONDS] for p in points)
    assert look.side.moments[0].words == "Gate"
    assert look.side.moments[-1].at == len(points) - 1
    assert 2 <= len(look.side.moments) <= MOST_MOMENTS


def test_the_picture_loses_what_the_account_says():
    for key in ("nose_low", "spin", "steep_turn", "loop"):
        planned = figure(key, start_ft=5500)
        heights = [p[HEIGHT] for p in side_view(planned, C).points]
        assert heights[0] - min(heights) == pytest.approx(fly_usual(planned, C).deepest_ft, abs=3), key


def test_a_loop_goes_upside_down_and_comes_back_on_its_heading():
    points = side_view(figure("loop", start_ft=5500), C).points
    top = max(points, key=lambda p: p[HEIGHT])
    assert abs(abs(top[BANK]) - 180) < 5
    assert points[-1][HEADING] % 360 == pytest.approx(0, abs=2) or points[-1][HEADING] % 360 == pytest.approx(
        360, abs=2
    )


def test_a_spin_is_seen_from_the_stall_and_turns_to_its_side():
    left, right = (side_view(figure("spin", side=side), C).points for side in ("left", "right"))
    assert left[0][PITCH] > 10 and left[0][BANK] == 0
    assert min(p[PITCH] for p in left) < -50
    assert left[-1][HEADING] < -300 and right[-1][HEADING] > 300


def test_each_what_if_costs_height_or_breaks_something():
    found = {
        w.key: w
        for w in what_ifs(
            figure("spin", start_ft=4300, turns=1.0),
            C,
            fly_usual(figure("spin", start_ft=4300, turns=1.0), C),
        )
    }
    assert set(found) == {"later", "softer", "turn"}
    assert all(w.more.value > 50 for w in found.values())
    assert found["turn"].more.value == pytest.approx(290, abs=25)
    assert "below the floor" in found["turn"].broken
    assert found["later"].lowest.value == pytest.approx(4300 - found["later"].lost.value)


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
    spin = schools_beside(figure("spin"), C)
    assert [s.name for s in spin if s.in_use] == ["Flight manual"]
    assert all("cannot tell" in s.note for s in spin)


def test_faults_cost_what_their_number_costs_and_the_rest_say_nothing():
    planned = figure("nose_low")
    costs = {f.key: f for f in fault_costs(planned, C, fly_usual(planned, C))}
    late = fly_usual(planned, C, "student", delay_s=1.0).deepest_ft - fly_usual(planned, C).deepest_ft
    assert costs["late"].more.value == pytest.approx(late)
    assert costs["no_lookout"].more is None
    assert costs["no_lookout"].assumed == ""
    feet = [f.more.value for f in costs.values() if f.more]
    assert feet == sorted(feet, reverse=True)


def test_faults_that_cost_are_faults_there_are():
    known = {fault.key for f in FIGURES for fault in f.faults}
    assert set(FAULT_NUMBERS) <= known


def test_the_map_is_for_figures_whose_speed_the_pilot_sets():
    drawn = gate_map(figure("loop", entry_ias=135), C)
    i = min(range(len(drawn.speeds)), key=lambda k: abs(drawn.speeds[k] - 135))
    j = min(range(len(drawn.pulls)), key=lambda k: abs(drawn.pulls[k] - 3.5))
    assert drawn.verdicts[drawn.verdict[i][j]] == "fine"
    assert drawn.verdicts[drawn.verdict[2][j]] in ("too slow", "too hard")
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
