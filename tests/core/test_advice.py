"""One thing to say of an attempt: which, and what is never said."""

from dataclasses import replace

import pytest

from keelturn.assess.advice import WORTH_FT, advice_of
from keelturn.assess.loss import LossAccount, loss_account
from keelturn.assess.spoken import FIRST, KEEP_IT, OF_A_FAULT, OF_A_STEP, OF_AN_OUTCOME, said_again
from keelturn.assess.technique import AccountStep, AccountTold, FaultSeen, Technique
from keelturn.assess.where import STEPS
from keelturn.figures.catalogue import figure_of
from keelturn.figures.faults import BY_KEY
from keelturn.figures.planned import PlannedFigure
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.progress.habits import in_a_row
from keelturn.recoveries.schools import PRACTICE
from keelturn.working import given
from tests.core.test_after_the_flight import attempt, conditions
from tests.flights import figure


def feet(label, value):
    return given(label, value, "ft", PRACTICE)


def step(name, height, doubt=10.0, usual=0.0):
    names = tuple(name.split("+"))
    return AccountStep(names, feet(name, height), f"{doubt} ft", doubt, usual, abs(height) > doubt)


def technique(*steps, faults=(), recorded=True, best=500.0):
    lost = best + sum(one.height.value for one in steps)
    account = AccountTold(feet("Flown", lost), feet("Best", best), None, steps)
    return Technique(recorded, "", 0.0, None, tuple(faults), (), (), account if steps else None)


def seen(key, number=1.7, found=True, sure=True, doubt=0.0):
    fault = BY_KEY[key]
    words = (fault.words, fault.does, "rudder to stick")
    return FaultSeen(
        key,
        *words,
        found,
        sure,
        f"{number} s",
        "0.9 s",
        number,
        doubt,
        True,
        None,
        0.0,
        None,
        None,
        (),
        PRACTICE,
    )


def against(planned, flown):
    return LossAccount(feet("As briefed", planned), feet("Flown", flown), ())


def said(noted, told=None, briefed=None, row=None):
    return advice_of(noted, told, briefed, row or {})


FLOWN = attempt(start_ft=5000, lowest_ft=4000)


def test_everything_that_can_be_said_has_a_sentence_short_enough_to_be_spoken():
    assert set(OF_A_FAULT) == set(BY_KEY)
    assert set(OF_A_STEP) == {name for name, _ in STEPS}
    assert set(OF_AN_OUTCOME) == set(Outcome) - {Outcome.AS_INTENDED}
    assert set(FIRST) <= set(BY_KEY)
    for words in (*OF_A_FAULT.values(), *OF_A_STEP.values(), *OF_AN_OUTCOME.values()):
        assert words.endswith(".")
        assert len(words.split()) <= 17, words


def test_the_costliest_step_is_said_with_its_feet_of_all_beyond_the_best():
    told = technique(step("Rudder to stick", 190), step("Pull", 60), step("Everything else", 300))
    found = said(FLOWN, told)
    assert found.says == "Rudder full, then the stick at once. 190 of the 550 ft beyond the best."
    assert found.worth_ft == 190


def test_from_notes_alone_the_feet_are_about():
    found = said(FLOWN, technique(step("Pull", 90), step("Everything else", 100), recorded=False))
    assert found.says == "Pull to the g that was briefed and hold it. About 90 of the 190 ft beyond the best."


def test_of_two_that_cost_much_the_same_the_earlier_is_said_and_of_a_clearly_costlier_one_that():
    assert "Pull" not in said(FLOWN, technique(step("Rudder to stick", 100), step("Pull", 120))).says
    assert "Pull" in said(FLOWN, technique(step("Rudder to stick", 100), step("Pull", 126))).says


def test_a_step_in_which_nobody_saw_a_fault_counts_half_of_one_that_was_noted():
    noted = attempt(start_ft=5000, lowest_ft=4000, faults=["soft_pull"])
    told = technique(step("Rudder to stick", 140), step("Pull", 90))
    assert said(noted, told).fault == "soft_pull"
    assert said(noted, technique(step("Rudder to stick", 140), step("Pull", 60))).fault == ""


def test_what_the_usual_student_pays_too_is_not_what_is_to_be_changed():
    told = technique(step("Seeing it", 400, usual=380), step("Pull", 110))
    assert said(FLOWN, told).says.startswith("Pull to the g")
    told = technique(step("Seeing it", 400, usual=250), step("Pull", 80))
    assert said(FLOWN, told).says.startswith("Act on the call at once. 400 of the 480 ft")


def test_from_notes_alone_a_fault_that_somebody_saw_is_said_before_any_step():
    noted = attempt(start_ft=5000, lowest_ft=4000, faults=["soft_pull"])
    steps = step("Rudder to stick", 500), step("Pull", 40)
    assert said(noted, technique(*steps, recorded=False)).fault == "soft_pull"
    assert said(noted, technique(*steps)).fault == ""


def test_feet_are_not_said_whose_doubt_reaches_over_to_nothing():
    told = technique(step("Rudder to stick", 250, doubt=260))
    found = said(FLOWN, told)
    assert found.worth_ft is None
    assert "ft" not in found.says
    assert "What it cost cannot be told." in found.why


def test_neither_the_schools_choice_nor_what_is_left_is_ever_said():
    told = technique(step("The school's order of steps", 400), step("Everything else", 300))
    assert said(FLOWN, told, against(500, 520)).says == KEEP_IT
    assert said(FLOWN, told, against(500, 700)).says.startswith(
        "200 ft beyond the brief, a little everywhere"
    )


def test_a_fault_that_was_noted_is_said_though_nobody_knows_its_cost_and_one_that_was_found_too():
    noted = attempt(start_ft=5000, lowest_ft=4000, faults=["no_lookout"])
    found = said(noted, technique(step("Pull", 50)), against(1000, 1000))
    assert (found.fault, found.says) == (
        "no_lookout",
        "Look out first, every time. Nobody knows who is below.",
    )
    assert found.worth_ft is None
    recorded = technique(step("Rudder to stick", 190), faults=[seen("stick_late")])
    assert said(FLOWN, recorded).says == (
        "Rudder full, then the stick at once. Rudder to stick 1.7 s: 190 ft."
    )


def test_a_fault_that_the_recording_does_not_show_for_sure_is_not_said():
    doubtful = technique(faults=[seen("stick_late", sure=False)])
    assert said(FLOWN, doubtful, against(1000, 1000)).says == KEEP_IT
    absent = technique(faults=[seen("stick_late", found=False)])
    assert said(FLOWN, absent, against(1000, 1000)).says == KEEP_IT


def test_what_could_have_ended_badly_comes_before_what_cost_height():
    noted = attempt(start_ft=5000, lowest_ft=4000, faults=["stick_late", "wrong_rudder"])
    found = said(noted, technique(step("Rudder to stick", 500)))
    assert found.fault == "wrong_rudder"
    became = attempt(
        start_ft=5000, lowest_ft=4000, outcome="did not spin, became a spiral", faults=["soft_pull"]
    )
    assert said(became).says.startswith("Stick all the way back")


def test_a_fault_of_lesson_after_lesson_counts_for_more_and_says_which_it_is():
    noted = attempt(start_ft=5000, lowest_ft=4000, faults=["power_late", "soft_pull"])
    told = technique(step("Throttle", 100), step("Pull", 90))
    assert said(noted, told).fault == "power_late"
    found = said(noted, told, row={"soft_pull": 2})
    assert found.fault == "soft_pull"
    assert "Third lesson in a row." in found.why
    assert "rehearse it in the seat on the ground" in found.says
    assert "rehearse" not in said(noted, told, row={"soft_pull": 1}).says
    # However long the row: it has its limit.
    again = said(noted, told, row={"soft_pull": 3})
    assert "Fourth lesson in a row." in again.why
    assert "fly the incipient spin first" in again.says
    # A gentler figure without this fault mends nothing of it.
    assert "fly the" not in said_again(
        4, "rudder_half", replace(figure_of("spin"), gentler="stall_power_off")
    )
    assert "let another instructor look at it" in said(noted, told, row={"soft_pull": 30}).says


def test_within_the_brief_and_no_fault_nothing_is_to_be_changed():
    usual = technique(step("Seeing it", 200))
    assert said(FLOWN, usual, against(1000, 1000 + WORTH_FT)).says == KEEP_IT
    assert said(FLOWN, usual, against(1000, 1001 + WORTH_FT)).says != KEEP_IT


def test_where_nothing_splits_it_the_brief_is_what_it_is_said_against():
    late = attempt(start_ft=5000, recover_ft=4200, lowest_ft=3700)
    found = said(late, None, loss_account(late, conditions()))
    assert found.says.startswith("Begin the recovery sooner. About ")
    where = attempt(start_ft=5000, lowest_ft=3900)
    assert "Note the height at the recovery" in said(where, None, loss_account(where, conditions())).says


def test_a_figure_without_a_recovery_is_told_nothing_of_one():
    looped = attempt(planned=figure("loop").model_dump(), start_ft=5000, recover_ft=4500, lowest_ft=3900)
    account = loss_account(looped, conditions())
    assert [line.part for line in account.lines] == ["Technique, not split"]
    assert said(looped, None, account).says.endswith("what was noted does not say where.")


@pytest.mark.parametrize(
    "noted",
    [
        {"skipped": True},
        {"start_ft": None, "lowest_ft": None},
        {"flown_by": "instructor shows"},
        {"flown_by": "student talks, instructor flies"},
    ],
)
def test_of_what_the_student_did_not_fly_nothing_is_said(noted):
    assert said(attempt(**{"start_ft": 5000, "lowest_ft": 4000, **noted})) is None


def test_lessons_in_a_row_are_counted_back_from_the_last_and_one_without_the_figure_breaks_no_row():
    def spin(*faults):
        return [attempt(faults=faults)]

    turn = PlannedFigure(id="t", key="steep_turn", start_ft=4000)
    other = [Attempt(id="t", planned=turn)]
    assert in_a_row([spin("soft_pull"), spin("soft_pull")])["soft_pull"] == 2
    assert in_a_row([spin("soft_pull"), spin(), spin("soft_pull")])["soft_pull"] == 1
    assert in_a_row([spin("soft_pull"), other, spin("soft_pull"), other])["soft_pull"] == 2
    assert "soft_pull" not in in_a_row([spin("soft_pull"), spin()])
    shown = [attempt(faults=["soft_pull"], flown_by="instructor shows")]
    assert "soft_pull" not in in_a_row([shown])


# Grades


def test_of_steps_that_cannot_be_told_apart_only_what_mends_each_of_them_is_said():
    together = said(FLOWN, technique(step("Called late+Seeing it", 190), step("Everything else", 300)))
    assert together.says.startswith("First recovery input sooner: it came late after the turns.")
    unknown = said(FLOWN, technique(step("Rudder to stick+Stick", 190), step("Everything else", 300)))
    assert unknown is None
