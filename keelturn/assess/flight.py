"""A recorder's file judged against the plan: read, cleaned, its figures found, measured, and what became of
them."""

from collections.abc import Sequence
from dataclasses import dataclass

from keelturn.assess.outcome import Became, outcome_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.recording.cleaning import Cleaned, StepKey, clean
from keelturn.recording.finding import Found, find
from keelturn.recording.measuring import Measured, measure
from keelturn.recording.table import Recording


@dataclass(frozen=True, slots=True)
class Judged:
    """became: None where the recording does not tell."""

    found: Found
    measured: Measured
    became: Became | None


def judge(
    recording: Recording,
    plan: Sequence[PlannedFigure],
    conditions: Conditions,
    without: frozenset[StepKey] = frozenset(),
) -> tuple[Cleaned, tuple[Judged, ...]]:
    """without: steps of cleaning that are left out."""
    cleaned = clean(recording, conditions.air, without)
    judged = []
    for found in find(cleaned, plan, conditions):
        measured = measure(found, cleaned, conditions)
        judged.append(Judged(found, measured, outcome_of(found, measured, cleaned, conditions)))
    return cleaned, tuple(judged)
