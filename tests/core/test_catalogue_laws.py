"""Laws that hold for every figure of the catalogue, and variants of cards and spins."""

import numpy as np
import pytest
from pydantic import BaseModel

from keelturn.air import standard_pressure
from keelturn.aircraft.airframe import airframe, climb_rate
from keelturn.aircraft.card import Card
from keelturn.figures.catalogue import FIGURES, figure_of
from keelturn.flying.costs import fly_usual, pilot_numbers, usual_loss_ft
from keelturn.flying.course import fly
from keelturn.motion import engine
from keelturn.recoveries.spin_kinds import KINDS
from keelturn.units import FPM, FT, G0, HPA, KT, MPH
from keelturn.weather.day import Day
from tests.cards import LIGHT
from tests.flights import HEAVY, PLACE, TRAINER, at_card_weight, conditions, figure, plan

C, H = conditions(), conditions(card=HEAVY)
KEYS = [f.key for f in FIGURES]
KT_IN_MPH = KT / MPH
EVEN = conditions(
    card=TRAINER.model_copy(
        update={
            "roll": TRAINER.roll.model_copy(update={"left_deg_s": TRAINER.roll.right_deg_s}),
            "spin": TRAINER.spin.model_copy(
                update={"left_factor": TRAINER.spin.left_factor.model_copy(update={"value": 1.0})}
            ),
        }
    )
)


@pytest.mark.parametrize("c", [C, H], ids=["light", "heavy"])
@pytest.mark.parametrize("key", KEYS)
def test_energy_closes_with_the_work_of_thrust_and_drag_counted(key, c):
    """To 1e-6 of the energy over every piece that the engine flies, to 1e-4 in a spin, whose drag moves
    faster than its steps."""
    course = fly(figure(key, start_ft=6000), c, pilot_numbers("student"), 6000 * FT, trace=True)
    for rows in course.rows:
        close = 1e-4 if rows.shape[1] > engine.ROW_COLUMNS else 1e-6
        energy = G0 * rows[:, engine.R_HEIGHT] + rows[:, engine.R_TAS] ** 2 / 2 - rows[:, engine.R_WORK]
        assert np.abs(energy - energy[0]).max() < close * abs(energy[0])


@pytest.mark.parametrize("key", [f.key for f in FIGURES if f.has_sides])
def test_left_and_right_cost_the_same_when_the_aircraft_is_even(key):
    left, right = (usual_loss_ft(figure(key, start_ft=6000, side=side), EVEN) for side in ("left", "right"))
    assert left == pytest.approx(right, abs=0.01)


def in_mph(part):
    """The same card with its speeds in miles an hour."""
    if isinstance(part, BaseModel):
        found = part.model_copy(
            update={name: in_mph(getattr(part, name)) for name in type(part).model_fields}
        )
        speeds = [n for n in type(part).model_fields if n.endswith("_ias") or n in ("ias", "cas")]
        for name in speeds:
            was = getattr(part, name)
            now = was * KT_IN_MPH if isinstance(was, float) else None
            if now is None and was is not None:
                now = was.model_copy(update={"value": was.value * KT_IN_MPH})
            found = found.model_copy(update={name: now})
        return found
    return tuple(in_mph(member) for member in part) if isinstance(part, tuple) else part


@pytest.mark.parametrize("key", KEYS)
def test_the_same_card_in_knots_and_in_miles_an_hour_gives_the_same_feet(key):
    approved = {
        k: v and v.model_copy(update={"value": v.value * KT_IN_MPH}) for k, v in TRAINER.approved.items()
    }
    mph = in_mph(TRAINER).model_copy(update={"speed_unit": "mph", "approved": approved})
    assert TRAINER.speed_unit == "kt"
    kt, miles = (fly_usual(figure(key, start_ft=6000), at_card_weight(card)) for card in (TRAINER, mph))
    assert miles.deepest_ft == pytest.approx(kt.deepest_ft, abs=0.05)
    assert miles.exit_ias == pytest.approx(kt.exit_ias * KT_IN_MPH, rel=1e-4)


@pytest.mark.parametrize("key", KEYS)
def test_the_same_air_read_on_qnh_and_on_qfe_gives_the_same_feet(key):
    """Set to the pressure of a field 1,000 ft up, every height reads 1,000 ft less."""
    field = PLACE.model_copy(update={"elevation_ft": 1000.0})
    on_qnh = conditions(place=field)
    qfe = Day(qnh_hpa=standard_pressure(1000 * FT) / HPA)
    on_qfe = conditions(plan(day=qfe), place=PLACE)
    high, low = (
        fly_usual(figure(key, start_ft=ft), c).deepest_ft for ft, c in ((6000, on_qnh), (5000, on_qfe))
    )
    assert high == pytest.approx(low, abs=0.05)


@pytest.mark.parametrize("key", KEYS)
def test_parts_add_up_and_every_figure_can_be_flown_by_the_heavy_one(key):
    flown = fly_usual(figure(key, start_ft=6000), H)
    assert flown.made, flown.shortfall
    assert sum(lost for _, lost, _ in flown.parts) == pytest.approx(flown.lost_ft, abs=1e-9)
    assert flown.deepest_ft >= flown.lost_ft - 0.5
    assert -flown.profile[-1][1] == pytest.approx(flown.lost_ft, abs=0.2)


@pytest.mark.parametrize("key", ["nose_low", "spiral_dive", "over_banked"])
@pytest.mark.parametrize(
    ("number", "by"),
    [("delay_s", 0.4), ("roll_share", -0.15), ("onset_g_s", -0.5), ("pull_g", -0.3), ("throttle_s", 0.5)],
)
def test_later_slower_softer_never_loses_less(key, number, by):
    assert usual_loss_ft(figure(key), C, "student", **{number: by}) >= usual_loss_ft(figure(key), C) - 0.5


def test_pulled_through_costs_far_more_than_rolled():
    rolled, through = (
        usual_loss_ft(figure("over_banked", start_ft=8000, school=s), C) for s in (None, "pulled_through")
    )
    assert through > 1.5 * rolled
    upright, over = (
        usual_loss_ft(figure("inverted", start_ft=9000, school=s), C)
        for s in (None, "pulled_through_inverted")
    )
    assert over > upright + 200


@pytest.mark.parametrize("c", [C, H], ids=["light", "heavy"])
@pytest.mark.parametrize("kind", [k for k in KINDS if k != "upright"])
def test_no_kind_of_spin_looks_cheaper_than_the_upright_one(kind, c):
    """By more than a twentieth: the motion gives some of them a few feet."""
    key = next(f.key for f in FIGURES if f.spin == kind)
    for turns in (0.5, 1.0, 3.0):
        upright = usual_loss_ft(figure("spin", start_ft=9000, turns=turns), c)
        assert usual_loss_ft(figure(key, start_ft=9000, turns=turns), c) >= 0.95 * upright


def test_a_cards_own_figures_for_another_spin_are_used_but_never_to_make_it_cheaper():
    dear = {
        **LIGHT,
        "spin": {
            **LIGHT["spin"],
            "variants": {"flat": {"recovery_turns": {"value": 4.0}, "turn_s": {"value": 2.0}}},
        },
    }
    cheap = {
        **LIGHT,
        "spin": {
            **LIGHT["spin"],
            "variants": {"flat": {"recovery_turns": {"value": 0.1}, "further_turn_ft": {"value": 50}}},
        },
    }
    planned = figure("spin_flat", start_ft=9000)
    default, more, less = (
        usual_loss_ft(planned, conditions(card=card))
        for card in (TRAINER.model_copy(), Card.model_validate(dear), Card.model_validate(cheap))
    )
    upright = usual_loss_ft(
        figure("spin", start_ft=9000, turns=2.0), conditions(card=Card.model_validate(cheap))
    )
    assert more > default > less >= upright


@pytest.mark.parametrize("law", ["fixed pitch", "constant speed", "jet"])
def test_every_thrust_law_meets_the_cards_climb_and_top_speed(law):
    card = HEAVY.model_copy(update={"thrust": law})
    frame, speeds = airframe(card, card.speeds.reference_lb.value), card.speeds
    climb, level = (card.speed_si(v.value) for v in (speeds.climb_ias, speeds.level_ias))
    assert climb_rate(frame, climb, 1.0) / FPM == pytest.approx(speeds.climb_fpm.value, rel=1e-6)
    assert frame.full_thrust(level) == pytest.approx(frame.drag(level), rel=1e-6)
    assert 0.1 < frame.full_thrust(0.0) < 1.5


def test_constant_speed_gives_more_in_between_than_a_line_would_not():
    """Power over an offset speed hangs below the line between its two points."""
    line, curve = (
        airframe(HEAVY.model_copy(update={"thrust": law}), 2400).full_thrust(60.0)
        for law in ("fixed pitch", "constant speed")
    )
    assert curve < line


def test_flap_lowers_the_stall_and_the_glide():
    clean, down = C.frame_for(False), C.frame_for(True)
    assert down.stall < clean.stall and down.glide_ratio < clean.glide_ratio
    assert usual_loss_ft(figure("nose_low", flap=1.0), C) != usual_loss_ft(figure("nose_low"), C)


def test_position_error_moves_the_indicated_speed_both_ways():
    card = Card.model_validate(
        {**LIGHT, "position_error": [{"ias": 50, "cas": 54}, {"ias": 100, "cas": 101}]}
    )
    assert card.speed_si(75) == pytest.approx(77.5 * 1852 / 3600)
    assert card.speed_read(card.speed_si(63.0)) == pytest.approx(63.0, abs=0.3)
    assert card.speed_si(200) == pytest.approx(201 * 1852 / 3600)
    with pytest.raises(ValueError, match="does not rise"):
        Card.model_validate({**LIGHT, "position_error": [{"ias": 100, "cas": 99}, {"ias": 90, "cas": 95}]})


def test_a_slow_engine_makes_the_throttle_slow():
    slow = conditions(
        card=TRAINER.model_copy(
            update={"spool_s": TRAINER.speeds.stall_ias.model_copy(update={"value": 6.0})}
        )
    )
    assert usual_loss_ft(figure("stall_power_off"), slow) > usual_loss_ft(figure("stall_power_off"), C)


def test_eyes_closed_costs_the_time_to_find_the_horizon():
    assert usual_loss_ft(figure("nose_low", eyes_closed=1.0), C) > usual_loss_ft(figure("nose_low"), C) + 30


@pytest.mark.parametrize(("key", "rise"), [("loop", 500), ("half_loop_roll_out", 600), ("stall_turn", 600)])
def test_looping_figures_rise(key, rise):
    assert fly_usual(figure(key), C).rise_ft > rise
    assert figure_of(key).gate.to_never_exceed
