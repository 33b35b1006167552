"""Where the height went, what is missing before each stage, and which fault is going away."""

import pytest

from keelturn.assess.loss import loss_account
from keelturn.flying.costs import fly_usual
from keelturn.noting.attempt import Attempt
from keelturn.noting.earned import shown_by
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief
from keelturn.progress.habits import falls, fault_trends
from keelturn.progress.stages import missing_before
from tests.flights import conditions, figure

SPIN = figure("spin")


def attempt(**fields) -> Attempt:
    return Attempt.model_validate({"id": "a1", "planned": SPIN.model_dump(), **fields})


@pytest.mark.parametrize(
    "fields",
    [
        {"start_ft": 5000, "lowest_ft": 3600},
        {"start_ft": 5000, "recover_ft": 4500, "lowest_ft": 3600},
        {"start_ft": 5020, "recover_ft": 4500, "lowest_ft": 3600, "turns": 1.5, "most_g": 1.9},
        {"start_ft": 5000, "lowest_ft": 4300, "most_g": 3.0},
    ],
)
def test_the_account_adds_up_exactly_to_what_was_flown(fields):
    account = loss_account(attempt(**fields), conditions())
    total = account.planned.value + sum(line.height_ft for line in account.lines)
    assert total == pytest.approx(fields["start_ft"] - fields["lowest_ft"], abs=1e-9)


def read(shown: str) -> int:
    return int(shown.removesuffix(" ft").replace("−", "-").replace("+", "").replace(",", ""))


@pytest.mark.parametrize("lowest", range(3580, 3700, 10))
def test_what_is_shown_of_it_adds_up_too(lowest):
    account = loss_account(
        attempt(start_ft=5000, recover_ft=4500, lowest_ft=lowest, most_g=2.0), conditions()
    )
    assert len(account.lines) == 3
    parts = [account.planned.shown, *(line.shown for line in account.lines)]
    assert sum(map(read, parts)) == read(account.flown.shown)


def test_more_turns_and_a_soft_pull_are_told_apart():
    account = loss_account(
        attempt(start_ft=5000, recover_ft=4250, lowest_ft=3300, turns=2.0, most_g=1.8), conditions()
    )
    lines = {line.part: line.height_ft for line in account.lines}
    assert lines["1 more turn than briefed"] == pytest.approx(290, abs=15)
    assert lines["Pull 1.8 g, briefed 2.5"] > 100


@pytest.mark.parametrize("turns", [1.0, 2.0])
def test_called_late_is_what_the_turns_do_not_explain(turns):
    """The height of a turn too many is counted once, with the turns."""
    before = fly_usual(SPIN, conditions()).before_recovery_ft
    many = loss_account(attempt(start_ft=5000, lowest_ft=3300, turns=turns), conditions())
    of_turns = sum(line.height_ft for line in many.lines if "than briefed" in line.part)
    assert (of_turns > 200) == (turns > 1)
    noted = 5000 - before - of_turns - 120
    account = loss_account(
        attempt(start_ft=5000, recover_ft=noted, lowest_ft=3300, turns=turns), conditions()
    )
    lines = {line.part: line.height_ft for line in account.lines}
    assert lines["Before the recovery was called"] == pytest.approx(120)


def test_what_is_read_as_nothing_has_no_sign():
    usual = fly_usual(SPIN.model_copy(update={"start_ft": 5000.0}), conditions()).lost_ft
    as_read = round(usual / 10.0) * 10.0
    for off, said in ((0, "0 ft"), (10, "+10 ft"), (-10, "\N{MINUS SIGN}10 ft")):
        account = loss_account(attempt(start_ft=5000, lowest_ft=5000 - as_read - off), conditions())
        assert [line.shown for line in account.lines] == [said]


def test_no_account_before_start_and_lowest_are_noted():
    assert loss_account(attempt(start_ft=5000), conditions()) is None


ALL = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))
FLOWN = [attempt(start_ft=5000, lowest_ft=4000)]
GRADED = [attempt(start_ft=5000, lowest_ft=4000, grade="Sound")]
TAKEN_OVER = [attempt(start_ft=5000, lowest_ft=4000, taken_over_ft=4100, grade="Sound")]


@pytest.mark.parametrize(
    ("stage", "reached", "brief", "attempts", "stops", "missing"),
    [
        ("briefed", "planned", ALL, [], 0, 0),
        ("briefed", "planned", ALL, [], 2, 1),
        ("briefed", "planned", Brief(), [], 0, len(BEFORE_FLIGHT)),
        ("flown", "briefed", ALL, [], 0, 1),
        ("flown", "briefed", ALL, FLOWN, 0, 0),
        ("flown", "planned", ALL, FLOWN, 0, 1),
        ("debriefed", "flown", ALL, FLOWN, 0, 1),
        ("debriefed", "flown", ALL, [attempt(skipped=True)], 0, 0),
        ("signed", "flown", ALL, FLOWN, 0, 1),
        ("signed", "debriefed", ALL, GRADED, 0, 0),
        ("debriefed", "flown", ALL, TAKEN_OVER, 0, 1),
        ("signed", "debriefed", ALL, FLOWN, 0, 1),
        ("signed", "debriefed", ALL, [], 0, 1),
        ("signed", "debriefed", Brief(), GRADED, 0, len(BEFORE_FLIGHT)),
        ("signed", "debriefed", ALL, GRADED, 2, 0),
    ],
)
def test_what_is_missing_before_each_stage(stage, reached, brief, attempts, stops, missing):
    assert len(missing_before(stage, 3, stops, brief, attempts, reached)) == missing


def lessons(counts: list[int]) -> list[list[Attempt]]:
    """Lessons of three spins each, the fault in so many of them."""
    return [[attempt(faults=["soft_pull"] if i < n else []) for i in range(3)] for n in counts]


@pytest.mark.parametrize(
    ("counts", "trend"),
    [
        ([3, 3, 2, 1, 0, 0], "going away"),
        ([2, 3, 2, 2, 2, 3], "not going away"),
        ([3, 2, 1, 0, 0, 0], "gone"),
        ([0, 0, 0, 1, 2, 2], "new"),
        ([3, 3], "too few to tell"),
    ],
)
def test_which_fault_is_going_away(counts, trend):
    assert [t.trend for t in fault_trends(lessons(counts))] == [trend]


def test_demonstrations_by_the_instructor_do_not_count():
    assert fault_trends([[attempt(faults=["soft_pull"], flown_by="instructor")]]) == ()


# What became of it


@pytest.mark.parametrize(
    ("fields", "shows"),
    [
        ({}, "Solo-ready"),
        ({"outcome": "as intended"}, "Solo-ready"),
        ({"outcome": "secondary stall"}, "Guided"),
        ({"outcome": "secondary stall", "grade": "Not yet"}, "Not yet"),
        ({"outcome": "did not spin, became a spiral"}, None),
        ({"outcome": "spun the other way"}, None),
        ({"outcome": "went flat or over the vertical"}, None),
        ({"taken_over_ft": 3700}, "Guided"),
        ({"taken_over_ft": 3700, "grade": "Not yet"}, "Not yet"),
        ({"abandoned": "cloud below us"}, None),
        ({"skipped": True}, None),
        ({"grade": None}, None),
    ],
)
def test_a_grade_shows_no_more_than_what_became_of_the_attempt(fields, shows):
    flown = attempt(**{"grade": "Solo-ready", "flown_by": "student alone", **fields})
    assert shown_by(flown) == shows


def test_what_the_student_did_not_fly_or_not_to_the_end_is_no_chance_for_a_fault():
    def lesson(**fields):
        return [attempt(faults=["stick_late"], **fields)]

    others = ({"flown_by": "student follows through"}, {"abandoned": "cloud"}, {"skipped": True})
    assert fault_trends([lesson(**fields) for fields in others]) == ()
    (trend,) = fault_trends([lesson(flown_by="student against an instructor who plays the student")])
    assert (trend.last, trend.last_of) == (1, 1)


def test_what_was_broken_off_is_not_graded_and_stands_for_a_figure():
    broken = attempt(abandoned="the stick was not back")
    ready = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))
    assert missing_before("flown", 1, 0, ready, [broken], "briefed") == []
    assert missing_before("debriefed", 1, 0, ready, [broken], "flown") == []
    taken = attempt(taken_over_ft=3700)
    assert missing_before("flown", 1, 0, ready, [taken], "briefed") == []
    assert missing_before("debriefed", 1, 0, ready, [taken], "flown") == ["Grade 1 attempt."]


def test_heights_that_disagree_are_corrected_before_the_debrief_is_done_and_account_for_nothing():
    wrong = attempt(start_ft=4000, lowest_ft=4200, grade="Sound")
    assert loss_account(wrong, conditions()) is None
    (words,) = missing_before("debriefed", 1, 0, Brief(), [wrong], "flown")
    assert words == f"{SPIN.title}: 4,200 ft is above start, 4,000 ft. Correct one of the two."


def test_how_probable_it_is_that_a_fault_is_rarer():
    """One of one against none of one: the integral of 2(1 - x)(1 - x^2) from 0 to 1, by hand 5/6."""
    assert falls(0, 0, 0, 0) == pytest.approx(1 / 2)
    assert falls(1, 1, 0, 1) == pytest.approx(5 / 6)
    assert falls(0, 1, 1, 1) == pytest.approx(1 / 6)
