"""Every direction in the words of a spin is that of the input which the engine flies in it."""

import re

import numpy as np
import pytest

from keelturn.aircraft.card import Card
from keelturn.assess.spoken import said_of_fault, said_of_outcome
from keelturn.figures.catalogue import FIGURES, figure_of
from keelturn.flying import trace
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly, school_of
from keelturn.noting.attempt import Outcome
from keelturn.plan.sequence import compute_plan
from keelturn.recoveries.schools import FLIGHT_MANUAL, schools_for
from keelturn.units import FT
from tests.cards import LIGHT, changed
from tests.flights import HEAVY, conditions, figure, plan

SPINS = [f for f in FIGURES if f.spin]
METHODS = [s.key for s in schools_for("spin") if s.key != FLIGHT_MANUAL]
# The heavy one's manual has no recovery: the methods are flown.
C = conditions(card=HEAVY)
STICK_GOES = re.compile(r"[Ss]tick\b[^.:;]*?\b(forward|back)\b")


def controls_of(planned, c, **changed_numbers):
    """Rows (R, 5): seconds, then throttle, aileron, rudder and stick, while it spins."""
    course = fly(planned, c, pilot_numbers("student", **changed_numbers), planned.start_ft * FT, trace=True)
    rows = trace.trace_of(course)
    rows = rows[~np.isnan(rows[:, trace.STICK])]
    return np.column_stack([rows[:, trace.TIME], trace.controls(rows, c)])


def spoken_and_flown(key, school, side="left", c=C):
    planned = figure(key, start_ft=8000, side=side, school=school)
    answer = compute_plan(plan(planned), c).figures[0]
    return answer, controls_of(planned, c)


@pytest.mark.parametrize("side", ["left", pytest.param("right", marks=pytest.mark.long)])
@pytest.mark.parametrize("method", METHODS)
@pytest.mark.parametrize("spin", SPINS, ids=lambda f: f.key)
def test_each_step_of_each_method_moves_the_control_the_way_it_is_flown(spin, method, side):
    answer, rows = spoken_and_flown(spin.key, method, side)
    out = 1.0 if side == "right" else -1.0
    throttle, aileron, rudder, stick = rows[:, 1:].T
    into = -1.0 if spin.spin.startswith("inverted") else 1.0
    # Held in the spin: the rudder with the side, the stick where it stalls the wing.
    assert max(out * rudder) > 0.8
    assert max(into * stick) > 0.8
    against, unstalled = min(out * rudder), min(into * stick)
    said = " ".join(answer.steps)
    assert throttle[-1] < 0.02
    assert answer.steps[0] == "Throttle closed."
    assert ("aileron out" in said.lower()) == (max(abs(aileron)) > 0.5) or method == "hands_off"
    if "Full rudder against the yaw" in said:
        assert against < -0.8
        other = "right" if side == "left" else "left"
        assert f"Full {other} rudder" in answer.spoken
    else:
        assert against > -0.05
        assert "rudder to the middle" in said
        assert "Full" not in answer.spoken
    goes = set(STICK_GOES.findall(said)) | set(STICK_GOES.findall(answer.spoken))
    if goes:
        assert goes == {"forward" if into > 0 else "back"}
        assert unstalled < -0.2
        # The rudder step stands before the stick step, and moves first.
        assert np.argmax(out * rudder < 0.5) <= np.argmax(into * stick < 0.5) or spin.spin == "accelerated"
        assert said.index("Full rudder") < said.index("Stick")
    else:
        assert unstalled > -0.15
    assert ("not the roll" in said) == (into < 0 and against < -0.8)


@pytest.mark.parametrize("spin", SPINS, ids=lambda f: f.key)
def test_every_other_sentence_about_the_stick_agrees_with_it(spin):
    """Faults of the entry are about the stick that stalls the wing, all else about the one that does not."""
    rows = controls_of(figure(spin.key, start_ft=8000, school=METHODS[0]), C)
    furthest = rows[np.argmax(np.abs(rows[:, 4])), 4]
    stalls, unstalls = ("back", "forward") if furthest > 0 else ("forward", "back")
    for fault in spin.faults:
        words = " ".join((fault.words, fault.does, fault.assumed, said_of_fault(fault.key, spin)))
        goes = set(STICK_GOES.findall(words))
        assert goes <= {stalls if fault.key == "stick_not_back" else unstalls}, words
        assert "{" not in words
    assert STICK_GOES.findall(said_of_outcome(Outcome.SPIRAL, spin)) == [stalls]
    others = (spin.purpose, spin.look_at, *spin.stop_words, spin.take_over_words)
    assert set(STICK_GOES.findall(" ".join(others))) <= {unstalls}


def test_the_faults_of_the_stick_do_what_they_say_either_way_up():
    def flown(key, **numbers):
        course = fly(figure(key), C, pilot_numbers("student", **numbers), 5000 * FT, trace=True)
        return float(course.least_g[0]), float(course.most_g[0]), trace.trace_of(course)

    for key, floats in (("spin", True), ("spin_inverted", False)):
        fault = next(f for f in figure_of(key).faults if f.key == "stick_too_far")
        assert ("floats" in fault.does) == floats
        least, _, rows = flown(key, **fault.numbers)
        spinning = rows[~np.isnan(rows[:, trace.STICK])]
        stopping = spinning[spinning[:, trace.TIME] > 5.0]
        assert (least < -0.5) if floats else (max(stopping[:, trace.G]) > 0.5)


@pytest.mark.parametrize("kind", ["in-spin aileron", "out-spin aileron", "flat", "inverted flat"])
def test_where_aileron_is_the_exercise_its_fault_is_that_it_is_not_held(kind):
    spin = next(f for f in SPINS if f.spin == kind)
    fault = next(f for f in spin.faults if f.key == "aileron_in")
    assert fault.words == "Aileron not held as briefed"
    assert not fault.numbers
    assert max(abs(controls_of(figure(spin.key, start_ft=8000), C)[:, 2])) > 0.9


@pytest.mark.parametrize("mass", ["along the fuselage", "along the wings"])
@pytest.mark.parametrize("key", ["spin_in_aileron", "spin_out_aileron"])
def test_what_aileron_does_to_this_aircrafts_spin_is_said_as_it_is_flown(mass, key):
    c = conditions(card=Card.model_validate(changed(LIGHT, spin={"mass": mass, "recovery": []})))

    def alpha(which):
        course = fly(
            figure(which, start_ft=8000, turns=3), c, pilot_numbers("student"), 8000 * FT, trace=True
        )
        return np.nanmax(trace.trace_of(course)[:, trace.ALPHA])

    purpose = compute_plan(plan(figure(key, start_ft=8000)), c).figures[0].purpose
    assert ("flattens" if alpha(key) > alpha("spin") else "steepens") in purpose
    assert mass in purpose


def test_only_the_flat_spin_is_said_to_answer_late_and_it_does():
    def seconds(key):
        _, rows = spoken_and_flown(key, METHODS[0], "right")
        return rows[-1, 0] - rows[np.argmax(rows[:, 3] < 0.5), 0]

    for spin in SPINS:
        steps = compute_plan(plan(figure(spin.key, school=METHODS[0])), C).figures[0].steps
        assert any("answers late" in step for step in steps) == ("flat" in spin.spin)
    assert seconds("spin_flat") > seconds("spin") + 0.5


def test_the_manuals_recovery_stands_in_for_no_other_kind_of_spin():
    upright = [f.key for f in SPINS if f.spin == "upright"]
    c = conditions()
    manual = {f.key for f in SPINS if school_of(figure(f.key), c).key == FLIGHT_MANUAL}
    assert manual == set(upright)
    assert "back" in compute_plan(plan(figure("spin_inverted")), c).figures[0].spoken
    both = Card.model_validate(changed(LIGHT, spin={"recovery_for": ["upright", "flat"]}))
    assert school_of(figure("spin_flat"), conditions(card=both)).key == FLIGHT_MANUAL
    assert school_of(figure("spin_inverted"), conditions(card=both)).key != FLIGHT_MANUAL


def test_the_manuals_recovery_is_flown_like_the_method_that_its_card_names():
    like = changed(LIGHT, spin={"recovery_like": "Centralise", "recovery": ["Let {go} of everything."]})
    c = conditions(card=Card.model_validate(like))
    planned = figure("spin", start_ft=8000)
    assert min(controls_of(planned, c)[:, 3]) > -0.05
    assert min(controls_of(planned, conditions())[:, 3]) < -0.8
    assert compute_plan(plan(planned), c).figures[0].spoken.startswith("Let {go} of everything. Pull")


@pytest.mark.parametrize(("stated", "words"), [(None, "One turn"), (1.0, "One turn"), (1.5, "Two turns")])
def test_the_take_over_waits_for_the_turns_that_the_card_gives_the_recovery(stated, words):
    variants = {} if stated is None else {"flat": {"recovery_turns": {"value": stated}}}
    c = conditions(card=Card.model_validate(changed(LIGHT, spin={"variants": variants})))
    found = compute_plan(plan(figure("spin_flat", start_ft=8000)), c).figures[0].stop_words
    assert f"{words} after full inputs and still turning: my aircraft." in found
    assert (
        compute_plan(plan(figure("spin", start_ft=8000)), c).figures[0].stop_words[-1].startswith("One turn")
    )


MOVES = {"rudder": r"\brudder\b|\bfeet\b|\bfoot\b", "stick": r"\bstick\b|[Hh]ands off|[Ee]verything"}


@pytest.mark.parametrize("method", schools_for("spin"), ids=lambda method: method.key)
@pytest.mark.parametrize(
    "fault", ["rudder_late", "stick_before_rudder", "stick_late", "stick_too_far", "wrong_rudder"]
)
def test_what_is_said_of_a_fault_is_what_the_method_does(method, fault):
    says, inputs = said_of_fault(fault, figure_of("spin"), method), method.spin_inputs
    assert ("middle" in says) == (inputs.rudder_to == 0.0 and inputs.stick_to == 0.0), says
    if inputs.hands_free:
        assert "forward" not in says
    if "against" in says:
        assert inputs.rudder_to < 0.0
    if "first, then" in says or "then the stick" in says:
        assert inputs.stick_after_rudder


def test_every_fault_has_words_that_fit_every_figure_it_is_in():
    for made in FIGURES:
        for fault in made.faults:
            assert "{" not in said_of_fault(fault.key, made) + fault.words + fault.does + fault.assumed
