"""One thing to say of an attempt: what to do instead, in a sentence as it is spoken, and one of evidence.

Which one, by rules (common practice, no published source: one thing at a time). What could have ended badly
comes first; then what cost most height, more so where it came back lesson after lesson; of two that cost much
the same the earlier, because the later follows from it. What the aircraft or the school decides is never
said: the student cannot change it. Feet are said only where the doubt does not reach over to nothing."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from keelturn.assess.fault_rules import RULES
from keelturn.assess.loss import LossAccount
from keelturn.assess.spoken import (
    FIRST,
    KEEP_IT,
    OF_A_CAUSE,
    ORDINALS,
    said_again,
    said_of_fault,
    said_of_outcome,
    said_of_steps,
)
from keelturn.assess.technique import AccountStep, FaultSeen, Technique
from keelturn.assess.where import steps_of
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Fault, Figure
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.recoveries.schools import School
from keelturn.working import in_words

# A step of less beyond the usual student's (ft) is not worth a sentence.
WORTH_FT = 30.0
# What a fault counts for (ft) that was noted, or found for sure, and whose cost nobody can tell; of a cost
# whose doubt reaches over to nothing, this share counts.
NOTED_FT, FOUND_FT, UNSURE = 60.0, 40.0, 0.3
# A step in which nobody noted or found a fault counts for this share of its feet.
NO_FAULT = 0.5
# How much more it counts for each lesson in a row before this one, at most so many; and by how much a later
# one must count more than an earlier one.
AGAIN, MOST_AGAIN, CLEARLY_MORE = 0.5, 3, 1.25
RULE_NUMBERS = {rule.fault: rule.numbers for rule in RULES}


@dataclass(frozen=True, slots=True)
class Advice:
    """says: one or two sentences. fault: key of the one it is about, or nothing. worth_ft: what it cost,
    where that can be told. why: what it was chosen by, in words."""

    says: str
    fault: str = ""
    worth_ft: float | None = None
    why: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Candidate:
    """counts: feet that it counts for. step: of the account, where one of it is its own."""

    says: str
    counts: float
    step: AccountStep | None
    fault: Fault | None = None
    seen: FaultSeen | None = None
    before: int = 0


def advice_of(
    attempt: Attempt,
    technique: Technique | None,
    briefed: LossAccount | None,
    in_a_row: Mapping[str, int],
    method: School | None = None,
) -> Advice | None:
    """in_a_row: by the fault's key, in how many lessons in a row before this one it was noted. method: the
    recovery that was flown. None for what the student did not fly, or nothing was noted of."""
    if attempt.skipped or not attempt.flown_by.by_student or not attempt.says_something:
        return None
    became, figure = attempt.outcome, figure_of(attempt.planned.key)
    if attempt.loss_is_offered:
        # It is the plan's own loss: nothing was kept, and nothing exceeded.
        briefed = None
    if became is not None and became != Outcome.AS_INTENDED:
        return Advice(said_of_outcome(became, figure), why=(f"What became of it: {became}.",))
    candidates = list(_candidates(attempt, technique, in_a_row, method))
    if not any(c.fault for c in candidates) and briefed is not None and _over(briefed) <= WORTH_FT:
        return Advice(KEEP_IT)
    first = next((c for key in FIRST for c in candidates if c.fault is not None and c.fault.key == key), None)
    if first is not None:
        why = "It could have ended badly: that comes before what cost height."
        return _told(first, figure, technique, (why,))
    chosen: Candidate | None = None
    for candidate in candidates:
        if candidate.counts >= (WORTH_FT if chosen is None else CLEARLY_MORE * chosen.counts):
            chosen = candidate
    if chosen is None:
        return _nothing_stands_out(technique, briefed, figure)
    return _told(chosen, figure, technique, ("It counts for most of what the student can change.",))


def _candidates(
    attempt: Attempt, technique: Technique | None, in_a_row: Mapping[str, int], method: School | None
) -> Iterator[Candidate]:
    """In the order in which they happen: faults noted or found for sure, then the steps of no fault. From
    notes alone the account is of pilots who could have flown it: whoever saw a fault saw more than that."""
    steps = () if technique is None or technique.account is None else technique.account.steps
    seen = {} if technique is None else {found.key: found for found in technique.faults if found.found}
    taken: set[tuple[str, ...]] = set()
    found: list[tuple[int, Candidate]] = []
    figure = figure_of(attempt.planned.key)
    for fault in figure.faults:
        noted, by_recording = fault.key in attempt.faults, seen.get(fault.key)
        if not noted and (by_recording is None or not by_recording.sure):
            continue
        own = steps_of(RULE_NUMBERS.get(fault.key) or fault.numbers)
        at, step = next(((n, s) for n, s in enumerate(steps) if own & set(s.names)), (len(steps), None))
        if step is not None:
            taken.add(step.names)
        before = in_a_row.get(fault.key, 0)
        counts = max(_counts(step), NOTED_FT if noted else FOUND_FT)
        counts *= 1.0 + AGAIN * min(before, MOST_AGAIN)
        says = said_of_fault(fault.key, figure, method)
        found.append((at, Candidate(says, counts, step, fault, by_recording, before)))
    from_notes = technique is None or not technique.recorded
    for at, step in enumerate(() if found and from_notes else steps):
        of_steps = said_of_steps(step.names)
        if of_steps is not None and step.names not in taken:
            found.append((at, Candidate(of_steps, NO_FAULT * _counts(step), step)))
    yield from (candidate for _, candidate in sorted(found, key=lambda pair: pair[0]))


def _counts(step: AccountStep | None) -> float:
    """What it cost beyond the usual student: what everybody pays is not this student's to change next."""
    if step is None:
        return 0.0
    return max(0.0, step.height.value - step.usual_ft) * (1.0 if step.clear else UNSURE)


def _told(chosen: Candidate, figure: Figure, technique: Technique | None, why: tuple[str, ...]) -> Advice:
    step, seen, fault = chosen.step, chosen.seen, chosen.fault
    worth = step.height.value if step is not None and step.clear and step.height.value >= WORTH_FT else None
    parts = []
    if seen is not None:
        parts.append(f"{seen.looks_at} {seen.value}")
    if worth is not None and step is not None:
        parts.append(_worth(worth, step, technique))
    if parts:
        evidence = ": ".join(parts)
        evidence = f"{evidence[0].upper()}{evidence[1:]}."
    else:
        evidence = "" if fault is None else fault.does
    reasons = list(why)
    if chosen.before:
        reasons.append(f"{ORDINALS[min(chosen.before, len(ORDINALS) - 1)].capitalize()} lesson in a row.")
    if worth is None:
        reasons.append("What it cost cannot be told.")
    elif step is not None and len(step.names) > 1:
        reasons.append(f"The feet are those of '{step.height.label}', which cannot be told apart.")
    another = "" if fault is None else said_again(chosen.before + 1, fault.key, figure)
    says = " ".join(part for part in (chosen.says, another, evidence) if part)
    return Advice(says, "" if fault is None else fault.key, worth, tuple(reasons))


def _worth(worth_ft: float, step: AccountStep, technique: Technique | None) -> str:
    about = "" if technique is not None and technique.recorded else "about "
    account = None if technique is None else technique.account
    beyond = 0.0 if account is None else account.flown.value - account.best.value
    if beyond <= worth_ft:
        return f"{about}{in_words(worth_ft, 'ft')}"
    less = in_words(worth_ft, "ft").removesuffix(" ft")
    return f"{about}{less} of the {in_words(beyond, 'ft')} beyond the best"


def _over(briefed: LossAccount) -> float:
    return briefed.flown.value - briefed.planned.value


def _nothing_stands_out(
    technique: Technique | None, briefed: LossAccount | None, figure: Figure
) -> Advice | None:
    """Against the brief, where the account says nothing."""
    if briefed is None:
        return None
    over = _over(briefed)
    if over <= WORTH_FT:
        return Advice(KEEP_IT)
    said = f"{in_words(over, 'ft')} beyond the brief"
    if technique is not None and technique.account is not None:
        return Advice(f"{said}, a little everywhere. Fly it again before changing anything.")
    worst = max(briefed.lines, key=lambda line: line.height_ft)
    if worst.cause in OF_A_CAUSE and worst.height_ft > WORTH_FT:
        words = f"{OF_A_CAUSE[worst.cause]} About {in_words(worst.height_ft, 'ft')}; in all {said}."
        return Advice(words, worth_ft=worst.height_ft, why=("Against the brief: it could not be split.",))
    next_time = " Note the height at the recovery next time." if figure.situation is not None else ""
    return Advice(f"{said}, and what was noted does not say where.{next_time}")
