"""Where the height went, what is missing before each stage, and which fault is going away."""

import pytest

from keelturn.assess.loss import loss_account
from keelturn.flying.costs import fly_usual
from keelturn.noting.attempt import Attempt
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief
from keelturn.progress.habits import fault_trends, standards_reached
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


def test_more_turns_and_a_soft_pull_are_told_apart():
    account = loss_account(
        attempt(start_ft=5000, recover_ft=4250, lowest_ft=3300, turns=2.0, most_g=1.8), conditions()
    )
    lines = {line.part: line.height_ft for line in account.lines}
    assert lines["1 more turns than briefed"] == pytest.approx(290, abs=15)
    assert lines["Pull 1.8 g, briefed 2.5"] > 100


@pytest.mark.parametrize("turns", [1.0, 2.0])
def test_called_late_is_what_the_turns_do_not_explain(turns):
    """The height of a turn too many is counted once, with the turns."""
    before = fly_usual(SPIN, conditions()).before_recovery_ft
    many = loss_account(attempt(start_ft=5000, lowest_ft=3300, turns=turns), conditions())
    of_turns = sum(line.height_ft for line in many.lines if "turns than briefed" in line.part)
    assert (of_turns > 200) == (turns > 1)
    noted = 5000 - before - of_turns - 120
    account = loss_account(
        attempt(start_ft=5000, recover_ft=noted, lowest_ft=3300, turns=turns), conditions()
    )
    lines = {line.part: line.height_ft for line in account.lines}
    assert lines["Before the recovery was called"] == pytest.approx(120)


def test_no_account_before_start_and_lowest_are_noted():
    assert loss_account(attempt(start_ft=5000), conditions()) is None


def test_advice_names_the_costliest_step_and_what_it_was_worth():
    usual = fly_usual(SPIN, conditions()).lost_ft
    late = loss_account(attempt(start_ft=5000, recover_ft=4200, lowest_ft=5000 - usual - 450), conditions())
    assert late.say.startswith("Call the recovery when the turn is done")
    assert (
        loss_account(attempt(start_ft=5000, lowest_ft=5000 - usual), conditions()).say
        == "Within the brief. Keep it."
    )


ALL = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))
FLOWN = [attempt(start_ft=5000, lowest_ft=4000)]
GRADED = [attempt(start_ft=5000, lowest_ft=4000, grade="Sound")]


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


def test_the_standard_reached_is_the_best_of_the_latest_lesson():
    flown = [[attempt(grade="Solo-ready")], [attempt(grade="Guided"), attempt(grade="Sound")]]
    assert [(r.figure, r.grade, r.attempts) for r in standards_reached(flown)] == [("spin", "Sound", 3)]
