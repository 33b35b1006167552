"""The second look at an attempt: how it was flown, one thing to say, and which grade it comes to."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from keelturn.assess.advice import Advice, advice_of
from keelturn.assess.grade import Proposal, grade_that_counts, proposal_of
from keelturn.assess.loss import LossAccount
from keelturn.assess.technique import Technique
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.course import school_of
from keelturn.noting.attempt import Attempt


@dataclass(frozen=True, slots=True)
class SecondLook:
    """technique: None where neither a recording nor what was noted tells it. advice, proposal: None for what
    the student did not fly to the end, and where somebody is not to see them yet. counted_now: of an older
    signed record, which kept none: by the program as it is today, from what was signed."""

    technique: Technique | None
    advice: Advice | None
    proposal: Proposal | None
    counted_now: bool = False


def second_look(
    attempt: Attempt,
    planned: PlannedFigure,
    briefed: LossAccount | None,
    technique: Technique | None,
    conditions: Conditions,
    in_a_row: Mapping[str, int],
) -> SecondLook:
    """planned: the figure as it stands in the plan. in_a_row: advice.py."""
    standards = conditions.standards
    proposal = proposal_of(attempt, planned, briefed, technique, standards)
    if proposal is not None:
        briefed_ft = None if briefed is None else briefed.planned.value
        counts = grade_that_counts(attempt, attempt.lost_ft, briefed_ft, standards)
        proposal = replace(proposal, counts=counts)
    advice = advice_of(attempt, technique, briefed, in_a_row, school_of(attempt.planned, conditions))
    return SecondLook(technique, advice, proposal)
