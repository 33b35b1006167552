"""One thing to say, and the grade that the school's standard comes to: which, at which limit, and what is
never said."""

from dataclasses import replace

import pytest
from pydantic import ValidationError

from keelturn.assess.advice import WORTH_FT, advice_of
from keelturn.assess.grade import RULES, proposal_of
from keelturn.assess.loss import LossAccount, loss_account
from keelturn.assess.second_look import second_look
from keelturn.assess.spoken import FIRST, KEEP_IT, OF_A_FAULT, OF_A_STEP, OF_AN_OUTCOME
from keelturn.assess.technique import AccountStep, AccountTold, FaultSeen, Technique, technique_noted
from keelturn.assess.where import STEPS
from keelturn.figures.faults import BLOCKING, BY_KEY
from keelturn.figures.planned import PlannedFigure
from keelturn.noting.attempt import Attempt, Outcome, lacks_a_reason, shown_by
from keelturn.progress.habits import in_a_row
from keelturn.recoveries.schools import PRACTICE
from keelturn.school.grading import GRADES, MOST, Grading, Most, asked_of
from keelturn.school.standards import FigureStandard, Standards
from keelturn.working import given
from tests.core.test_after_the_flight import SPIN, attempt, conditions
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
    # However long the row: it has its limit.
    assert "Fourth lesson in a row." in said(noted, told, row={"soft_pull": 30}).why


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


def proposed(noted, told=None, briefed=None, standards=None, planned=SPIN):
    return proposal_of(noted, planned, briefed, told, standards or Standards())


ALONE = {"flown_by": "student alone", "start_ft": 5000, "lowest_ft": 4000}


def with_measure(measure, value):
    """An attempt that is perfect but for this, and what there is to see it by."""
    noted, told, briefed = dict(ALONE), technique(), against(1000, 1000)
    if measure == "beyond_ft":
        briefed = against(1000, 1000 + value)
    if measure == "start_off_ft":
        noted["start_ft"] = 5000 - value
    if measure == "turns_off":
        noted["turns"] = SPIN.parameter("turns") + value
    if measure == "pull_off_g":
        noted["most_g"] = SPIN.parameter("pull_g") - value
    if measure == "faults":
        noted["faults"] = ["soft_pull", "no_lookout", "power_late", "stick_late"][: int(value)]
    by_recording = {"speed_off_kt": "wrong_speed", "heading_off_deg": "off_heading", "first_s": "rudder_late"}
    if measure in by_recording:
        told = technique(faults=[seen(by_recording[measure], -value if measure == "speed_off_kt" else value)])
    return attempt(**noted), told, briefed


@pytest.mark.parametrize("measure", [m for m in MOST if m != "heading_off_deg"])
@pytest.mark.parametrize("at", range(1, len(GRADES)))
def test_a_grade_is_reached_at_its_limit_and_not_beyond_it(measure, at):
    limit = MOST[measure].of(GRADES[at])
    more = 1 if measure == "faults" else 0.01
    assert proposed(*with_measure(measure, limit)).grade == GRADES[at]
    beyond = proposed(*with_measure(measure, limit + more))
    assert GRADES.index(beyond.grade) < at
    failing = next(c for c in beyond.criteria if c.measure == measure)
    # What is beyond the limit is not read as the limit.
    assert failing.value != failing.limits[GRADES[at]]
    assert failing.value in beyond.says


def test_what_may_be_within_a_limit_by_its_doubt_keeps_from_no_grade():
    sure = technique(faults=[seen("rudder_late", 1.6, doubt=0.04)])
    doubtful = technique(faults=[seen("rudder_late", 1.6, doubt=0.06)])
    assert proposed(attempt(**ALONE), sure).grade == "Guided"
    assert proposed(attempt(**ALONE), doubtful).grade == "Sound"
    shown = next(c for c in proposed(attempt(**ALONE), doubtful).criteria if c.measure == "first_s")
    assert shown.value == "1.6 s ±0.1"


def test_with_the_nose_high_nobody_has_to_pull():
    high = PlannedFigure(id="h", key="nose_high", start_ft=5000)
    noted = Attempt(id="h", planned=high, start_ft=5000, lowest_ft=5000, most_g=1.5, flown_by="student alone")
    found = proposed(noted, briefed=loss_account(noted, conditions()), planned=high)
    assert "pull_off_g" not in {c.measure for c in found.criteria}
    # It ends above where it began: nothing is lost, and nothing was briefed to be.
    assert loss_account(noted, conditions()).planned.value == 0.0
    assert found.grade == "Solo-ready"


def test_heading_is_asked_of_figures_that_come_out_on_one():
    loop = PlannedFigure(id="l", key="loop", start_ft=4000)
    noted = Attempt(id="l", planned=loop, start_ft=4000, lowest_ft=3990, flown_by="student alone")
    told = technique(faults=[seen("off_heading", 10.0)])
    assert proposed(noted, told, planned=loop).grade == "Solo-ready"
    told = technique(faults=[seen("off_heading", 10.1)])
    assert proposed(noted, told, planned=loop).grade == "Sound"
    assert "heading_off_deg" not in {c.measure for c in proposed(attempt(**ALONE)).criteria}


@pytest.mark.parametrize(
    ("noted", "grade"),
    [
        ({}, "Solo-ready"),
        ({"flown_by": "student against an instructor who plays the student"}, "Solo-ready"),
        ({"flown_by": "student with talk"}, "Sound"),
        ({"flown_by": "student follows through"}, "Shown"),
        ({"flown_by": "instructor shows"}, "Shown"),
        ({"outcome": "as intended"}, "Solo-ready"),
        ({"outcome": "secondary stall"}, "Guided"),
        ({"outcome": "did not spin, became a spiral"}, "Shown"),
        ({"taken_over_ft": 4100}, "Guided"),
        ({"stops": [{"kind": "floor", "value": 3000}]}, "Guided"),
        ({"stops": [{"kind": "feel", "value": 3}]}, "Solo-ready"),
    ],
)
def test_no_grade_is_higher_than_who_flew_what_became_and_which_line_was_crossed_allow(noted, grade):
    found = proposed(attempt(**{**ALONE, **noted}), briefed=against(1000, 1000))
    assert found.grade == grade
    assert bool(found.caps) == (grade != "Solo-ready")


def test_the_figures_own_numbers_stand_before_the_schools_and_those_before_the_programs():
    school = Grading(most={"beyond_ft": Most(guided=900, sound=800, solo_ready=700)})
    own = FigureStandard(grading=Grading(most={"beyond_ft": Most(guided=90, sound=60, solo_ready=30)}))
    noted, briefed = attempt(**ALONE), against(1000, 1500)
    assert proposed(noted, briefed=briefed).grade == "Shown"
    assert proposed(noted, briefed=briefed, standards=Standards(grading=school)).grade == "Solo-ready"
    both = Standards(grading=school, figures={"spin": own})
    assert proposed(noted, briefed=briefed, standards=both).grade == "Shown"
    assert asked_of("turns_off", own.grading, school) == MOST["turns_off"]


def test_a_limit_that_is_not_asked_keeps_from_no_grade():
    free = Standards(grading=Grading(most={"beyond_ft": Most(guided=None, sound=200, solo_ready=None)}))
    assert proposed(attempt(**ALONE), briefed=against(1000, 1200), standards=free).grade == "Solo-ready"
    assert proposed(attempt(**ALONE), briefed=against(1000, 1201), standards=free).grade == "Guided"


def test_what_could_not_be_looked_at_is_said_and_where_that_is_everything_no_grade_is_proposed():
    found = proposed(attempt(flown_by="student alone"))
    assert found.grade is None
    assert {one.label for one in found.not_looked_at} >= {"Start, off the plan", "Height beyond the brief"}
    by_notes = proposed(attempt(**ALONE), briefed=against(1000, 1000))
    assert {one.needs for one in by_notes.not_looked_at} == {
        "a recording would tell it",
        "the turns are not noted",
        "the most g is not noted",
    }
    recorded = proposed(attempt(**ALONE), technique(), against(1000, 1000))
    assert "this recording does not tell it" in {one.needs for one in recorded.not_looked_at}


def test_what_was_left_out_or_broken_off_is_not_graded():
    assert proposed(attempt(skipped=True)) is None
    assert proposed(attempt(abandoned="traffic", **ALONE)) is None
    looked = second_look(attempt(skipped=True), SPIN, None, None, Standards(), {})
    assert (looked.advice, looked.proposal) == (None, None)


def test_a_standard_that_allows_more_for_a_higher_grade_is_refused():
    for wrong in ({"guided": 1, "sound": 2}, {"sound": 1, "solo_ready": 2}, {"guided": 1, "solo_ready": 1.1}):
        with pytest.raises(ValidationError, match="which a lower grade allows"):
            Most(**wrong)
    assert Most(guided=1, sound=1, solo_ready=1).of("Shown") is None
    with pytest.raises(ValidationError, match="at most 300"):
        Grading(words={"Sound": "x" * 301})


def test_every_measure_has_a_rule_and_a_number_of_its_own():
    assert [rule.measure for rule in RULES] == list(MOST)


@pytest.mark.parametrize(
    ("grade", "reason", "lacks", "shows"),
    [
        ("Guided", "", False, "Guided"),
        ("Sound", "", True, "Guided"),
        ("Sound", "  ", True, "Guided"),
        ("Sound", "taken over for traffic, not for the flying", False, "Sound"),
        ("Solo-ready", "", True, "Guided"),
    ],
)
def test_a_take_over_above_guided_needs_a_reason_and_shows_no_more_without(grade, reason, lacks, shows):
    noted = attempt(**ALONE, taken_over_ft=4100, grade=grade, grade_reason=reason)
    assert lacks_a_reason(noted) == lacks
    assert shown_by(noted) == shows
    assert not lacks_a_reason(noted.model_copy(update={"taken_over_ft": None}))


def test_what_is_proposed_of_a_noted_spin_from_end_to_end():
    noted = attempt(start_ft=5000, lowest_ft=4140, faults=["rudder_late"])
    told = technique_noted(noted, conditions())
    found = second_look(noted, SPIN, loss_account(noted, conditions()), told, Standards(), {"rudder_late": 1})
    assert found.technique is told
    assert found.advice.says.startswith("Full rudder against at once. About ")
    assert "Second lesson in a row." in found.advice.why
    assert found.proposal.grade == "Sound"
    assert replace(found).counted_now is False


def test_of_steps_that_cannot_be_told_apart_only_what_mends_each_of_them_is_said():
    together = said(FLOWN, technique(step("Called late+Seeing it", 190), step("Everything else", 300)))
    assert together.says.startswith("First recovery input sooner: it came late after the turns.")
    unknown = said(FLOWN, technique(step("Rudder to stick+Stick", 190), step("Everything else", 300)))
    assert unknown is None


@pytest.mark.parametrize("offered", [("lowest_ft",), ("start_ft", "lowest_ft")])
def test_heights_that_were_only_accepted_as_offered_praise_nothing_and_grade_nothing(offered):
    noted = attempt(**{**ALONE, "offered": offered})
    account = loss_account(noted, conditions())
    assert account.flown.label == "Flown, as offered"
    assert account.flown.source.words == "accepted as offered, not read off"
    assert advice_of(noted, None, account, {}) is None
    found = proposed(noted, None, account)
    assert found.grade is None
    lacks = {one.label: one.needs for one in found.not_looked_at}
    assert lacks["Height beyond the brief"].startswith("the height was accepted as offered")
    assert found.says.startswith("The lowest height was accepted as offered")
    assert technique_noted(noted, conditions()) is None
    shown = attempt(**{**ALONE, "flown_by": "instructor shows", "offered": offered})
    assert proposed(shown, None, loss_account(shown, conditions())).grade == "Shown"
    # Read off, the same heights are a flight.
    read = attempt(**ALONE)
    assert proposed(read, None, loss_account(read, conditions())).grade is not None


def test_a_dangerous_fault_caps_the_grade_however_little_height_it_cost():
    assert set(FIRST) <= BLOCKING
    low = figure("nose_low")
    noted = attempt(**{**ALONE, "planned": low, "faults": ("pulled_before_rolling",)})
    account = against(1000, 900)
    found = proposed(noted, None, account, planned=low)
    assert found.grade == "Guided"
    assert "a dangerous fault: pulled before rolling" in found.says.lower()
    sure = technique(faults=(seen("pulled_before_rolling"),))
    assert proposed(attempt(**{**ALONE, "planned": low}), sure, account, planned=low).grade == "Guided"
    unsure = technique(faults=(seen("pulled_before_rolling", sure=False),))
    assert proposed(attempt(**{**ALONE, "planned": low}), unsure, account, planned=low).grade != "Guided"
