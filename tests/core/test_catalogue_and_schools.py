"""Figures and schools as data: complete, named once, and each can be flown."""

import pytest

from keelturn.aircraft.envelope import envelope
from keelturn.figures.catalogue import BY_KEY, FIGURES, figure_of
from keelturn.flying.costs import fly_usual
from keelturn.flying.course import school_of
from keelturn.flying.entry import entry_speed
from keelturn.noting.attempt import Attempt
from keelturn.plan.chain import climb_fpm
from keelturn.plan.sequence import compute_plan
from keelturn.progress.courses import COURSES
from keelturn.progress.lessons import laid_out, lesson_of, lessons_of
from keelturn.recoveries.schools import FLIGHT_MANUAL, SCHOOLS, schools_for
from tests.flights import HEAVY, TRAINER, at_card_weight, conditions, figure, plan

C = conditions()
FLOWN_BY_ALL_SCHOOLS = [
    (f.key, s.key) for f in FIGURES if f.situation for s in schools_for(f.situation) if s.key != FLIGHT_MANUAL
]


@pytest.mark.parametrize("made", FIGURES, ids=lambda f: f.key)
def test_a_figure_says_everything_a_brief_needs(made):
    assert made.purpose.endswith(".")
    assert made.look_at.endswith(".")
    assert made.stop_words
    assert made.take_over_words
    assert made.gate.power
    assert made.faults
    assert len({f.key for f in made.faults}) == len(made.faults)
    assert made.situation or (made.legs and made.steps)
    for parameter in made.parameters.values():
        assert parameter.least <= parameter.usual <= parameter.most


def test_keys_are_used_once_and_a_wrong_one_is_answered_with_the_right_ones():
    assert len(BY_KEY) == len(FIGURES)
    assert len({s.key for s in SCHOOLS}) == len(SCHOOLS)
    with pytest.raises(ValueError, match="no figure 'lomcevak' in the catalogue; it has steep_turn"):
        figure_of("lomcevak")
    with pytest.raises(ValueError, match="no lesson 'x'"):
        lesson_of("x")


@pytest.mark.parametrize(("key", "school"), FLOWN_BY_ALL_SCHOOLS)
@pytest.mark.parametrize("side", ["left", "right"])
def test_every_school_recovers_every_figure_it_is_for(key, school, side):
    flown = fly_usual(figure(key, start_ft=6000, school=school, side=side), conditions(card=HEAVY))
    assert flown.made
    # A nose-high recovery gains before it loses; a flat spin is the dearest.
    assert (-300 if figure_of(key).situation == "nose high" else 50) < flown.lost_ft < 3000
    assert flown.most_g <= 3.1


def test_spin_schools_close_the_throttle_first_and_nose_low_has_one_for_comparison():
    spin = schools_for("spin")
    assert FLIGHT_MANUAL in {s.key for s in spin}
    assert all(s.steps[0].startswith("Throttle closed") for s in spin if s.key != FLIGHT_MANUAL)
    assert [s.key for s in schools_for("nose low") if s.compared_only] == ["pulled_through"]


def test_what_is_spoken_names_the_opposite_rudder_and_the_pull():
    found = compute_plan(
        plan(figure("spin", side="left", pull_g=2.8)), conditions(plan(figure("spin")), card=HEAVY)
    ).figures[0]
    assert "Full right rudder" in found.spoken
    assert "2.8 g" in found.spoken
    manual = compute_plan(plan(figure("spin", pull_g=2.8)), C).figures[0]
    assert manual.spoken.startswith("Throttle closed. Ailerons neutral.")
    assert "{" not in manual.spoken + found.spoken


def test_the_manual_wins_only_where_it_has_a_procedure():
    assert school_of(figure("spin", school="centralise"), conditions(card=HEAVY)).key == "centralise"
    assert school_of(figure("spin", school="centralise"), C).key == FLIGHT_MANUAL
    assert (
        school_of(figure("spin", school=FLIGHT_MANUAL), conditions(card=HEAVY)).key
        == "power_aileron_rudder_elevator"
    )
    assert school_of(figure("steep_turn"), C) is None


@pytest.mark.parametrize("lesson", lessons_of(*COURSES), ids=lambda x: x.key)
def test_a_lesson_can_be_flown_in_every_aircraft_approved_for_it(lesson):
    figures = laid_out(lesson, 6000.0)
    assert [f.key for f in figures] == [f.key for f in lesson.figures]
    approved = [card for card in (TRAINER, HEAVY) if {f.key for f in figures} <= set(card.approved)]
    assert HEAVY in approved
    assert all(fly_usual(f, conditions(card=card)).made for f in figures for card in approved)


@pytest.mark.parametrize(
    ("planned", "words"),
    [
        (figure("spin", side="left"), "One-turn spin, left"),
        (figure("spin", turns=2), "Two-turn spin, right"),
        (figure("spin", turns=2.5), "Spin, 2.5 turns, right"),
        (figure("steep_turn", bank_deg=45), "Steep turn 45°, right"),
        (figure("stall_power_off"), "Power-off stall"),
    ],
)
def test_titles(planned, words):
    assert planned.title == words


def test_entry_speeds_follow_the_weight_and_never_exceed_va():
    heavy = conditions(plan(load={"front_lb": 200, "rear_lb": 190, "fuel_usgal": {"Centre": 22}}))
    assert entry_speed(figure("spin"), heavy).value > entry_speed(figure("spin"), C).value
    assert entry_speed(figure("spin"), C).value == pytest.approx(1.08 * C.stall.value)
    assert entry_speed(figure("nose_low"), C).value <= C.manoeuvring.value
    assert entry_speed(figure("nose_low", entry_ias=133.0), C).value == 133.0


def test_the_envelope_starts_at_the_stall_and_ends_at_vne_and_the_limits():
    c = at_card_weight(TRAINER)
    found = envelope(TRAINER, c.weight_lb)
    at_one_g = min(found.outline, key=lambda p: abs(p[1] - 1.0))
    assert at_one_g[0] == pytest.approx(c.stall.value * at_one_g[1] ** 0.5)
    assert max(v for v, _ in found.outline) == TRAINER.speeds.never_exceed_ias.value
    assert {max(g for _, g in found.outline), min(g for _, g in found.outline)} == {6.0, -3.0}


def test_a_sequence_climbs_between_figures_and_adds_up_its_minutes():
    found = compute_plan(
        plan(figure("spin", start_ft=5000), figure("spin", start_ft=5000), figure("spin", start_ft=6000)), C
    )
    starts = [f.starts_min for f in found.figures]
    first, second = found.figures[1].joined, found.figures[2].joined
    lost = found.figures[0].likely.value
    # The speed left after a pull-out is worth some of the climb.
    won = [
        next(i.value for i in joined.climb.inputs if i.label == "Won from speed")
        for joined in (first, second)
    ]
    assert 50 < won[0] < 300
    assert first.climb.value == pytest.approx(lost - won[0])
    assert second.climb.value == pytest.approx(1000 + lost - won[1])
    assert starts[1] - found.figures[0].ends_min == pytest.approx(first.minutes.value)
    assert first.minutes.value == pytest.approx(first.climb.value / climb_fpm(C, 5000 - lost / 2) + 0.75)
    assert found.minutes.value > starts[-1]


def test_levers_say_what_would_change_the_loss_most_first():
    levers = compute_plan(plan(figure("nose_low")), C).figures[0].likely.levers
    effects = [abs(lever.effect) for lever in levers]
    assert effects == sorted(effects, reverse=True)
    assert any(lever.change.startswith("Enter 3 kt slower") and lever.effect < 0 for lever in levers)
    assert all(lever.shown.startswith("saves" if lever.effect < 0 else "costs") for lever in levers)


def test_unloading_while_rolling_costs_height_when_the_nose_is_low():
    """A sensitivity that surprises pilots (docs/model.md): rolling at 0.6 g instead of 1 g loses more,
    because the path steepens meanwhile. What unloading buys is the rolling g limit and a wing that cannot
    stall."""
    unloaded = fly_usual(figure("nose_low", bank_deg=90), C, "student", roll_g=-0.4).lost_ft
    assert unloaded > fly_usual(figure("nose_low", bank_deg=90), C).lost_ft + 20


def test_every_fault_that_can_be_noted_belongs_to_its_figure():
    for made in FIGURES:
        planned = figure(made.key)
        for fault in made.faults:
            assert Attempt(id="a", planned=planned, faults=(fault.key,)).faults == (fault.key,)
