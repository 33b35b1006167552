"""One rule in one place: each test here found two places that said different things."""

import json

import numpy as np
import pytest

from keelturn.figures.faults import BY_KEY as FAULTS
from keelturn.flying.costs import fly_usual
from keelturn.flying.entry import entry_speed
from keelturn.flying.pilots import FIXED, usual_numbers
from keelturn.formats.answers import predict
from keelturn.formats.documents import PredictRequest
from keelturn.margins.gates import entry_gate
from keelturn.margins.spread import take_over_figure
from keelturn.motion import equations as eq
from keelturn.motion.flight import Start, body_of, fly_one
from keelturn.motion.legs import Leg, compile_legs
from keelturn.plan.beside import schools_beside
from keelturn.plan.ground import along_line
from keelturn.plan.sequence import compute_plan
from keelturn.plan.what_if import what_ifs
from keelturn.progress.lessons import laid_out, lesson_of
from keelturn.recording.recorder import Sensors, record
from keelturn.school.place import Place
from keelturn.school.standards import FigureStandard, Standards
from keelturn.units import G0, KT
from keelturn.weather.day import Day, WindAt
from tests.cards import HEAVY, LIGHT
from tests.flights import TRAINER, conditions, figure, plan

CHIEFS = Standards(figures={"loop": FigureStandard(entry_ias={TRAINER.name: {"value": 141}})})


def test_the_chiefs_gate_is_followed_by_plan_gate_and_lesson_alike():
    """The gate forgot it, and a laid-out lesson had frozen the card's 135 kt."""
    c = conditions(standards=CHIEFS)
    loop = next(f for f in laid_out(lesson_of("first_figures"), 5500.0) if f.key == "loop")
    assert loop.entry_ias is None
    assert entry_speed(loop, c).value == entry_gate(loop, c).best.value == 141
    assert compute_plan(plan(loop), c).figures[0].entry.source.kind == "school"


@pytest.mark.parametrize(
    ("planned", "chiefs", "value", "kind"),
    [
        (figure("loop", entry_ias=139), True, 139, "plan"),
        (figure("loop"), True, 141, "school"),
        (figure("loop"), False, 135, "flight manual"),
        (figure("spin"), False, pytest.approx(1.08 * conditions().stall.value), "common practice"),
    ],
)
def test_entry_speeds_follow_plan_school_card_and_catalogue_in_this_order(planned, chiefs, value, kind):
    found = entry_speed(planned, conditions(standards=CHIEFS if chiefs else Standards()))
    assert (found.value, found.source.kind) == (value, kind)


def test_a_share_of_a_speed_names_the_speed_that_caps_it():
    """A nose-low gate of the catalogue may go beyond Va, short of Vne; its why used to say Va."""
    card = TRAINER.model_copy(update={"approved": {"nose_low": None}})
    found = entry_speed(figure("nose_low"), conditions(card=card))
    caps = [i.label for i in found.inputs]
    assert caps[-1] in ("Manoeuvring speed", "Vne less the school's margin")
    assert caps[-1] in found.formula


def test_the_take_over_is_flown_from_the_figures_own_entry_speed_planned_or_not():
    """It began at the upset's gate when the plan left the speed to the card."""
    c = conditions()
    assert take_over_figure(figure("steep_turn"), c).entry_ias == 108
    assert take_over_figure(figure("steep_turn", entry_ias=112), c).entry_ias == 112


@pytest.mark.parametrize(("card", "spin"), [(LIGHT, True), (HEAVY, False)])
def test_the_command_line_shows_the_schools_that_the_book_shows(card, spin):
    """It priced 'Flight manual' on a card without a procedure, and pull-throughs that the book hides."""
    request = PredictRequest.model_validate({"card": card, "pilots": 0})
    c = request.conditions()
    predicted = predict(request).figures
    for found in predicted:
        planned = figure(found.key, start_ft=6000).model_copy(update={"side": "left", "id": found.id})
        beside = schools_beside(planned.model_copy(update={"entry_ias": found.entry_ias}), c)
        assert [(s.school, s.lost_ft) for s in found.schools] == [
            (s.name, None if s.lost is None else s.lost.value) for s in beside
        ]
    names = {s.school for f in predicted if f.key == "spin" for s in f.schools}
    assert ("Flight manual" in names) == spin


def test_the_recorder_drifts_with_the_wind_at_height_and_works_along_the_line():
    """It had the surface wind at every height, and flew straight into it whatever the line."""
    aloft = Day(wind_from_deg=0, wind_kt=0, winds=(WindAt(height_ft=2000, from_deg=270, kt=30),))
    place = Place(name="L", elevation_ft=0, block_top_ft=6500, line_deg=40)
    still, windy = (conditions(plan(day=day.model_dump()), place=place) for day in (Day(), aloft))
    from keelturn.flying.trace import EAST, TIME
    from keelturn.recording import truth

    seen = []
    for c in (still, windy):
        climb = truth._climb(c, 0.0, 120.0, 4000.0, 5000.0, 0.0, (0.0, 0.0), (None, 80.0))
        seen.append((climb[-1, EAST], climb[-1, TIME]))
    assert seen[1][0] - seen[0][0] == pytest.approx(30 * KT * seen[1][1])
    table = record((figure("steep_turn"),), windy, Sensors(angle_noise_deg=0.0))
    heading = table.rows[0, table.columns.index("heading_deg")]
    assert heading == pytest.approx(along_line(windy), abs=0.2)


def test_a_fault_a_what_if_and_the_demo_change_the_same_numbers():
    planned, c = figure("nose_low"), conditions()
    asked = {w.key: w.lost.value for w in what_ifs(planned, c, fly_usual(planned, c))}
    assert asked["later"] == fly_usual(planned, c, "student", **FAULTS["late"].numbers).deepest_ft
    assert asked["softer"] == fly_usual(planned, c, "student", **FAULTS["soft_pull"].numbers).deepest_ft


@pytest.mark.parametrize("law", ["fixed pitch", "constant speed", "jet"])
def test_the_engine_flies_the_drag_and_thrust_that_the_card_was_fitted_with(law):
    """Level, at the card's highest level speed, with power and without: the change of speed is thrust less
    drag."""
    card = TRAINER.model_copy(update={"thrust": law})
    c = conditions(card=card)
    frame, body = c.frame, body_of(c.frame, c.air)
    numbers = {**FIXED, **usual_numbers("reference")}
    level = card.speed_si(card.speeds.level_ias.value) * (c.weight_lb / card.speeds.reference_lb.value) ** 0.5
    for throttle in (0.0, 1.0):
        legs, _ = compile_legs(
            (Leg("Level", throttle=throttle, until="seconds", amount=0.01),),
            {**numbers, "throttle_start": throttle},
            frame.stall,
            1,
        )
        _, rows, held = fly_one(Start(0.0, level, throttle=throttle), legs, body, 0.001)
        slowed = (held.states[0, eq.V] - level) / 0.01 / G0
        wanted = throttle * frame.full_thrust(level) - frame.drag(level)
        assert slowed == pytest.approx(wanted, abs=2e-4)


def test_plans_are_written_with_the_same_words_for_who_flew_as_attempts():
    from keelturn.noting.attempt import Attempt

    planned = json.loads(figure("spin", flown_by="student alone").model_dump_json())
    kept = Attempt.model_validate({"id": "a1", "planned": planned, "flown_by": planned["flown_by"]})
    assert kept.flown_by == kept.planned.flown_by == "student alone"
    earlier = [
        Attempt.model_validate({"id": "a", "planned": planned, "flown_by": w})
        for w in ("instructor", "student")
    ]
    assert [a.flown_by for a in earlier] == ["instructor shows", "student alone"]


def test_numbers_of_a_fan_are_those_of_the_pilot_it_is_asked_for():
    c = conditions()
    lost = fly_usual(figure("nose_low"), c).deepest_ft
    assert schools_beside(figure("nose_low"), c)[0].lost.value == pytest.approx(lost)
    late = {name: np.array([value[0]]) for name, value in usual_numbers("student").items()}
    late["delay_s"] = late["delay_s"] + 1.0
    assert schools_beside(figure("nose_low"), c, late)[0].lost.value > lost + 50
