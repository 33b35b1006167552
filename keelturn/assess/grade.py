"""Which grade an attempt comes to by the school's standard, and by what: a proposal, that the instructor
follows or not.

The highest grade for which everything that can be looked at is within what the school asks, and no higher
than who flew it, what became of it and which line it crossed allow (common practice, no published source)."""

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from keelturn.assess.as_read import as_read, read_both
from keelturn.assess.loss import NOTED, LossAccount
from keelturn.assess.technique import Technique
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.noting.attempt import Attempt, Outcome, StopKind
from keelturn.noting.earned import EARNED, OUTCOME_SHOWS, TAKEN_OVER_SHOWS, is_judged
from keelturn.school.grading import GRADES, Grade, Measure, asked_of
from keelturn.school.standards import Standards
from keelturn.working import given, in_words

# What two numbers of feet or g may differ by and be the same.
EXACT = 1e-6
RECORDING = "a recording would tell it"
AS_OFFERED = "the height was accepted as offered, nobody read it off"
NOTHING_MEASURED = "The lowest height was accepted as offered: nothing was measured to go by."
NOT_TOLD = "this recording does not tell it"
# Graded by numbers; beyond the first of them it is the lowest that who flew can earn.
BY_NUMBERS: tuple[Grade, ...] = GRADES[2:]
# What feel and fuel stop says nothing of how it was flown.
FLOWN_STOPS = frozenset(StopKind) - {StopKind.FEEL, StopKind.FUEL}


@dataclass(frozen=True, slots=True)
class Criterion:
    """limits: by grade, as read, empty where it is not asked. reaches: the highest grade that it allows."""

    measure: Measure
    label: str
    value: str
    limits: dict[Grade, str]
    reaches: Grade


@dataclass(frozen=True, slots=True)
class NotLookedAt:
    """needs: why not, in words."""

    label: str
    needs: str


@dataclass(frozen=True, slots=True)
class Cap:
    """No higher than this, whatever the numbers say."""

    grade: Grade
    words: str


@dataclass(frozen=True, slots=True)
class Proposal:
    """grade: None where nothing can be looked at. says: what keeps it from the next grade. counts: which
    grade counts in progress while the instructor gives no reason for another, None where theirs does."""

    grade: Grade | None
    says: str
    criteria: tuple[Criterion, ...]
    caps: tuple[Cap, ...]
    not_looked_at: tuple[NotLookedAt, ...]
    counts: Grade | None = None


@dataclass(frozen=True, slots=True)
class Flown:
    """What there is to go by. planned: as it stands in the plan."""

    attempt: Attempt
    planned: PlannedFigure
    briefed: LossAccount | None
    technique: Technique | None


# A value, and half of its 95 % interval.
Looked = tuple[float, float] | None
OF_95 = 1.96


def _beyond(flown: Flown) -> Looked:
    briefed = flown.briefed
    if briefed is None or flown.attempt.loss_is_offered:
        return None
    return briefed.flown.value - briefed.planned.value, 0.0


def _start_off(flown: Flown) -> Looked:
    start = flown.attempt.start_ft
    if start is None or "start_ft" in flown.attempt.offered:
        return None
    return start - flown.planned.start_ft, 0.0


def _off_planned(noted: str, parameter: str) -> Callable[[Flown], Looked]:
    def off(flown: Flown) -> Looked:
        value = getattr(flown.attempt, noted)
        return None if value is None else (value - flown.planned.parameter(parameter), 0.0)

    return off


def _seen(*faults: str) -> Callable[[Flown], Looked]:
    """What the recording says of the first of these faults that it tells."""

    def value(flown: Flown) -> Looked:
        told = {} if flown.technique is None else {one.key: one for one in flown.technique.faults}
        found = next((told[key] for key in faults if key in told), None)
        return None if found is None else (found.number, OF_95 * found.doubt)

    return value


@dataclass(frozen=True, slots=True)
class Rule:
    """off: whichever way; else only more is worse. has: the figures that it is asked of. needs: in words.
    height: the field without which it cannot be looked at."""

    measure: Measure
    label: str
    unit: str
    value: Callable[[Flown], Looked]
    needs: str
    off: bool = True
    has: Callable[[PlannedFigure], bool] = lambda planned: True
    height: str = ""


def _has(*parameters: str) -> Callable[[PlannedFigure], bool]:
    return lambda planned: all(name in figure_of(planned.key).parameters for name in parameters)


def _pulls(planned: PlannedFigure) -> bool:
    """The pull is what it is flown with, and with the nose high nobody has to."""
    figure = figure_of(planned.key)
    return "pull_g" in figure.parameters and figure.situation != "nose high"


def _has_fault(*keys: str) -> Callable[[PlannedFigure], bool]:
    return lambda planned: any(fault.key in keys for fault in figure_of(planned.key).faults)


RULES: tuple[Rule, ...] = (
    Rule(
        "beyond_ft",
        "Height beyond the brief",
        "ft",
        _beyond,
        "start and lowest height are not both noted",
        off=False,
        height="lowest_ft",
    ),
    Rule(
        "start_off_ft",
        "Start, off the plan",
        "ft",
        _start_off,
        "the start height is not noted",
        height="start_ft",
    ),
    Rule("speed_off_kt", "Speed at the gate, off the plan", "kt", _seen("wrong_speed"), RECORDING),
    Rule(
        "turns_off",
        "Turns, off the plan",
        "",
        _off_planned("turns", "turns"),
        "the turns are not noted",
        has=_has("turns"),
    ),
    Rule(
        "pull_off_g",
        "Most g, off the plan",
        "g",
        _off_planned("most_g", "pull_g"),
        "the most g is not noted",
        has=_pulls,
    ),
    Rule(
        "heading_off_deg",
        "Heading, off where it should come out",
        "°",
        _seen("off_heading"),
        RECORDING,
        has=_has_fault("off_heading"),
    ),
    Rule(
        "first_s",
        "To the first input",
        "s",
        _seen("rudder_late", "late", "forward_late"),
        RECORDING,
        off=False,
        has=_has_fault("rudder_late", "late", "forward_late"),
    ),
    Rule("faults", "Faults noted", "", lambda flown: (float(len(flown.attempt.faults)), 0.0), "", off=False),
)


def proposal_of(
    attempt: Attempt,
    planned: PlannedFigure,
    briefed: LossAccount | None,
    technique: Technique | None,
    standards: Standards,
) -> Proposal | None:
    """planned: the figure as it stands in the plan. None for what was left out or broken off: it is not
    graded."""
    if not attempt.to_the_end:
        return None
    flown = Flown(attempt, planned, briefed, technique)
    recorded = technique is not None and technique.recorded
    gradings = (standards.figure(attempt.planned.key).grading, standards.grading)
    criteria, missing = [], []
    for rule in RULES:
        if not rule.has(planned):
            continue
        most = asked_of(rule.measure, *gradings)
        limits = {grade: limit for grade in BY_NUMBERS if (limit := most.of(grade)) is not None}
        looked = rule.value(flown)
        if looked is None:
            needs = NOT_TOLD if recorded and rule.needs == RECORDING else rule.needs
            if rule.height in attempt.offered:
                needs = AS_OFFERED
            missing.append(NotLookedAt(rule.label, needs))
        elif limits:
            value, doubt = looked
            criteria.append(_criterion(rule, abs(value) if rule.off else value, doubt, limits))
    sure = (one.key for one in technique.faults if one.found and one.sure) if technique else ()
    caps = tuple(_caps(attempt, frozenset((*attempt.faults, *sure)), standards))
    if attempt.loss_is_offered and is_judged(attempt.flown_by) and not recorded:
        return Proposal(None, NOTHING_MEASURED, (), caps, tuple(missing))
    if briefed is None and technique is None and not caps:
        return Proposal(None, "Nothing was noted that it could go by.", (), (), tuple(missing))
    reached = min((c.reaches for c in criteria), key=GRADES.index, default=GRADES[-1])
    grade = min([reached, *(cap.grade for cap in caps)], key=GRADES.index)
    return Proposal(grade, _says(grade, criteria, caps), tuple(criteria), caps, tuple(missing))


def grade_by_notes(
    attempt: Attempt, lost_ft: float | None, briefed_ft: float | None, standards: Standards
) -> Grade | None:
    """What the notes alone come to by the school's standard, whoever graded it; None where nothing measured
    tells. lost_ft, briefed_ft: as flown and as briefed, None where not known."""
    briefed = None
    if lost_ft is not None and briefed_ft is not None:
        planned = given("As briefed", briefed_ft, "ft", NOTED)
        briefed = LossAccount(planned, given("Flown", lost_ft, "ft", NOTED), ())
    found = proposal_of(attempt, attempt.planned, briefed, None, standards)
    return None if found is None else found.grade


def grade_that_counts(
    attempt: Attempt, lost_ft: float | None, briefed_ft: float | None, standards: Standards
) -> Grade | None:
    """In progress, where the instructor gives no reason for another: what the notes come to where the student
    flew and somebody measured. None where the instructor's own counts."""
    if lost_ft is None or briefed_ft is None or not attempt.flown_by.by_student:
        return None
    return grade_by_notes(attempt, lost_ft, briefed_ft, standards)


def _criterion(rule: Rule, value: float, doubt: float, limits: Mapping[Grade, float]) -> Criterion:
    """A grade is reached by those who are within its limit and those of every lower one, or nobody knows
    whether they are: beyond a limit is what is beyond it with all its doubt."""
    clear = value - doubt
    reaches: Grade = "Not yet"
    for grade in BY_NUMBERS:
        if clear > limits.get(grade, math.inf) + EXACT:
            break
        reaches = grade
    above = next((limits[g] for g in BY_NUMBERS if g in limits and clear > limits[g] + EXACT), None)
    if rule.measure == "faults":
        shown = f"{value:.0f}"
    else:
        shown = as_read(value, rule.unit) if above is None else read_both(value, above, rule.unit)[0]
    if doubt > 0.0:
        shown = f"{shown} ±{as_read(doubt, rule.unit).removesuffix(rule.unit).strip()}"
    read = {grade: _limit(limit, rule.unit) for grade, limit in limits.items()}
    return Criterion(rule.measure, rule.label, shown, read, reaches)


def _limit(limit: float, unit: str) -> str:
    return f"{limit:g}°" if unit == "°" else f"{limit:g} {unit}".strip()


def _caps(attempt: Attempt, faults: frozenset[str], standards: Standards) -> Iterator[Cap]:
    """faults: noted, or found for sure."""
    most = EARNED[attempt.flown_by][-1]
    if most != GRADES[-1]:
        yield Cap(most, f"Who flew: {attempt.flown_by}.")
    became = attempt.outcome or Outcome.AS_INTENDED
    if became != Outcome.AS_INTENDED:
        yield Cap(OUTCOME_SHOWS[became] or "Not yet", f"What became of it: {became}.")
    if attempt.taken_over_ft is not None:
        yield Cap(TAKEN_OVER_SHOWS, f"Taken over at {in_words(attempt.taken_over_ft, 'ft')}.")
    for fault in figure_of(attempt.planned.key).faults:
        blocks = standards.figure(attempt.planned.key).blocks(fault)
        if blocks is not None and fault.key in faults:
            below = GRADES[GRADES.index(blocks.grade) - 1]
            yield Cap(below, f"A dangerous fault: {fault.words.lower()}.")
    for stop in attempt.stops:
        if stop.kind in FLOWN_STOPS:
            yield Cap("Guided", f"Crossed: {stop.kind}.")


def _says(grade: Grade, criteria: list[Criterion], caps: tuple[Cap, ...]) -> str:
    if grade == GRADES[-1]:
        return "Everything that could be looked at is within what the school asks."
    above = GRADES[GRADES.index(grade) + 1]
    reasons = [cap.words.rstrip(".") for cap in caps if cap.grade == grade]
    reasons += [
        f"{c.label[0].lower()}{c.label[1:]} {c.value} ({above}: at most {c.limits[above]})"
        for c in criteria
        if c.reaches == grade and above in c.limits
    ]
    said = "; ".join(reasons)
    return f"{said[:1].upper()}{said[1:]}."
