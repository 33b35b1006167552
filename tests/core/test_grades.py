"""Which grade is proposed for an attempt, and why no higher."""

from dataclasses import replace

import pytest
from pydantic import ValidationError

from keelturn.assess.advice import advice_of
from keelturn.assess.grade import RULES, grade_that_counts, proposal_of
from keelturn.assess.loss import loss_account
from keelturn.assess.second_look import second_look
from keelturn.assess.spoken import FIRST
from keelturn.assess.technique import technique_noted
from keelturn.figures.faults import BLOCKING
from keelturn.figures.figure import Blocks
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.noting.attempt import Attempt
from keelturn.noting.earned import EARNED, is_judged, lacks_a_reason, not_earned, shown_by
from keelturn.school.grading import GRADES, MOST, Grading, Most, asked_of
from keelturn.school.standards import FigureStandard, Standards
from tests.core.test_advice import against, seen, technique
from tests.core.test_after_the_flight import SPIN, attempt, conditions
from tests.flights import figure


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
@pytest.mark.parametrize("at", range(2, len(GRADES)))
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
        ({"outcome": "did not spin, became a spiral"}, "Not yet"),
        ({"flown_by": "student talks, instructor flies"}, "Sound"),
        ({"taken_over_ft": 4100}, "Guided"),
        ({"stops": [{"kind": "floor", "value": 3000}]}, "Guided"),
        ({"stops": [{"kind": "feel", "value": 3}]}, "Solo-ready"),
    ],
)
def test_no_grade_is_higher_than_who_flew_what_became_and_which_line_was_crossed_allow(noted, grade):
    found = proposed(attempt(**{**ALONE, **noted}), briefed=against(1000, 1000))
    assert found.grade == grade
    assert bool(found.caps) == (grade != "Solo-ready")


@pytest.mark.parametrize("flown_by", FlownBy)
def test_what_is_proposed_is_what_the_way_of_flying_earns_however_it_went(flown_by):
    for lowest in (4000, 3900, 3700, 3000):
        noted = attempt(**{**ALONE, "flown_by": flown_by, "lowest_ft": lowest})
        found = proposed(noted, briefed=against(1000, 5000 - lowest)).grade
        assert found in EARNED[flown_by]
        assert not not_earned(noted.model_copy(update={"grade": found}))
    assert is_judged(flown_by) == (found == "Not yet")
    assert not_earned(noted.model_copy(update={"grade": "Shown"})) == is_judged(flown_by)


def test_a_grade_counts_for_no_more_than_the_way_of_flying_earns():
    def shown(flown_by):
        return shown_by(attempt(**{**ALONE, "flown_by": flown_by, "grade": "Solo-ready"}))

    assert {way: shown(way) for way in FlownBy} == {way: EARNED[way][-1] for way in FlownBy}


def test_the_figures_own_numbers_stand_before_the_schools_and_those_before_the_programs():
    school = Grading(most={"beyond_ft": Most(guided=900, sound=800, solo_ready=700)})
    own = FigureStandard(grading=Grading(most={"beyond_ft": Most(guided=90, sound=60, solo_ready=30)}))
    noted, briefed = attempt(**ALONE), against(1000, 1500)
    assert proposed(noted, briefed=briefed).grade == "Not yet"
    assert proposed(noted, briefed=briefed, standards=Standards(grading=school)).grade == "Solo-ready"
    both = Standards(grading=school, figures={"spin": own})
    assert proposed(noted, briefed=briefed, standards=both).grade == "Not yet"
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
    looked = second_look(attempt(skipped=True), SPIN, None, None, conditions(), {})
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
    found = second_look(
        noted, SPIN, loss_account(noted, conditions()), told, conditions(), {"rudder_late": 1}
    )
    assert found.technique is told
    assert found.advice.says.startswith("Full rudder against at once. About ")
    assert "Second lesson in a row." in found.advice.why
    assert found.proposal.grade == "Sound"
    assert replace(found).counted_now is False


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
    assert set(FIRST) <= set(BLOCKING)
    low = figure("nose_low")
    noted = attempt(**{**ALONE, "planned": low, "faults": ("pulled_before_rolling",)})
    account = against(1000, 900)
    found = proposed(noted, None, account, planned=low)
    assert found.grade == "Guided"
    assert "a dangerous fault: pulled before rolling" in found.says.lower()
    sure = technique(faults=(seen("pulled_before_rolling"),))
    assert proposed(attempt(**{**ALONE, "planned": low}), sure, account, planned=low).grade == "Guided"
    never = Standards(figures={"nose_low": FigureStandard(blocking={"pulled_before_rolling": None})})
    assert proposed(noted, None, account, never, low).grade != "Guided"
    later = FigureStandard(blocking={"pulled_before_rolling": Blocks(grade="Solo-ready")})
    assert proposed(noted, None, account, Standards(figures={"nose_low": later}), low).grade == "Sound"
    unsure = technique(faults=(seen("pulled_before_rolling", sure=False),))
    assert proposed(attempt(**{**ALONE, "planned": low}), unsure, account, planned=low).grade != "Guided"


NOTED = {"start_ft": 5000, "lowest_ft": 4000, "flown_by": "student with talk"}


@pytest.mark.parametrize(
    ("noted", "lost_ft", "briefed_ft", "counts"),
    [
        ({}, 1000.0, 1000.0, "Sound"),
        ({}, 1300.0, 1000.0, "Guided"),
        ({}, None, 1000.0, None),
        ({}, 1000.0, None, None),
        ({"flown_by": "student talks, instructor flies"}, 1000.0, 1000.0, None),
        ({"flown_by": "instructor shows"}, 1000.0, 1000.0, None),
        ({"offered": ("lowest_ft",)}, 1000.0, 1000.0, None),
    ],
)
def test_which_grade_counts_while_nobody_gives_a_reason(noted, lost_ft, briefed_ft, counts):
    assert grade_that_counts(attempt(**NOTED | noted), lost_ft, briefed_ft, Standards()) == counts


def test_the_grade_that_counts_stands_beside_the_proposal_whatever_a_recording_adds():
    recorded = technique(faults=[seen("rudder_late", 9.0)])
    looked = second_look(attempt(**NOTED), SPIN, against(1000, 1000), recorded, conditions(), {})
    assert (looked.proposal.grade, looked.proposal.counts) == ("Not yet", "Sound")
