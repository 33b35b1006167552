"""A recorder's file judged against the plan: read, cleaned, its figures found, measured, and what became of
them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from keelturn.assess.outcome import Became, outcome_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.recording.cleaning import Cleaned, CleaningStep, StepKey, clean
from keelturn.recording.finding import Candidates, Found
from keelturn.recording.marking import Mark, marked
from keelturn.recording.measuring import Measured, measure
from keelturn.recording.table import Recording
from keelturn.recording.taps import NEAR_S, TapClock, TappedGo, clock_by_taps


@dataclass(frozen=True, slots=True)
class Judged:
    """became: None where the recording does not tell. tapped: the same go as it was noted in flight, on the
    recording's own time; None where nothing was, or the clocks are not known."""

    found: Found
    measured: Measured
    became: Became | None
    tapped: TappedGo | None = None


def judge(
    recording: Recording,
    plan: Sequence[PlannedFigure],
    conditions: Conditions,
    without: frozenset[StepKey] = frozenset(),
    marks: Sequence[Mark] = (),
    taps: Sequence[TappedGo] = (),
) -> tuple[Cleaned, tuple[Judged, ...]]:
    """without: steps of cleaning that are left out. marks: what somebody says that the figures are, in the
    place of what is found. taps: goes as a hand noted them, by the server's clock. Raises Wrong where marks
    cannot be."""
    cleaned = clean(recording, conditions.air, without)
    candidates = None if marks else Candidates.of(cleaned, plan, conditions)
    founds = marked(cleaned, plan, marks) if candidates is None else candidates.found()
    by_taps = clock_by_taps(taps, [float(cleaned.flown.time[found.first]) for found in founds])
    on: tuple[TappedGo, ...] = ()
    if by_taps is not None:
        done = StepKey.CLOCK not in without
        cleaned = replace(cleaned, steps=(*cleaned.steps, _clock_step(by_taps, recording.zero, done)))
        on = by_taps.on if done else ()
        founds = founds if candidates is None else candidates.found(on)
    judged = []
    for found in founds:
        measured = measure(found, cleaned, conditions)
        became = outcome_of(found, measured, cleaned, conditions)
        judged.append(Judged(found, measured, became, _noted(found, measured, on)))
    return cleaned, tuple(judged)


def _clock_step(clock: TapClock, zero: datetime | None, done: bool) -> CleaningStep:
    near = f"{clock.goes} of {clock.of} starts, half of them within {max(1.0, clock.spread_s):.0f} s"
    if zero is None:
        return CleaningStep(StepKey.CLOCK, f"What was tapped laid over it: {near}", done, True)
    off = clock.later_s - zero.timestamp()
    way = "behind" if off > 0.0 else "ahead of"
    return CleaningStep(StepKey.CLOCK, f"Its clock is {abs(off):,.0f} s {way} the taps: {near}", done, True)


def _noted(found: Found, measured: Measured, on: Sequence[TappedGo]) -> TappedGo | None:
    """The go that was tapped nearest to its beginning, while it was flown or just before or after."""
    near = [
        go
        for go in on
        if go.is_of(found.figure, found.planned_id)
        and measured.begins_s - NEAR_S <= go.begins_s <= max(measured.ends_s, measured.begins_s + NEAR_S)
    ]
    return min(near, key=lambda go: abs(go.begins_s - measured.begins_s), default=None)
