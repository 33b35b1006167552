"""Flights of the six-degree-of-freedom library (tests/outside/six_dof_lessons.py), read and judged: what our
model did not make. Part of tools/score.py."""

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from keelturn.assess.account import Account, account_of_fit
from keelturn.assess.evidence import Evidence
from keelturn.assess.fault_rules import FOUND, looked_at
from keelturn.assess.fit import Fit, fit
from keelturn.assess.flight import Judged, judge
from keelturn.assess.lanes import lanes_of
from keelturn.flying.conditions import Conditions
from keelturn.recording.cleaning import Cleaned
from tests.outside.six_dof_lessons import Lesson, lessons
from tests.outside.six_dof_pilots import in_the_library
from tools.score_reading import EDGE_S, NAMED, OF_100, WITHIN_FT, within
from tools.score_technique import HOLD, READ_FT, Row

# Feet until something was done, and their doubt.
Seeing = tuple[float, float]


@dataclass
class Outside:
    """Of each flight. costs: of each pair what the delay cost, ours, its doubt, and theirs (ft)."""

    named: list[bool] = field(default_factory=list)
    edges_s: list[float] = field(default_factory=list)
    heights_ft: list[float] = field(default_factory=list)
    near: list[bool] = field(default_factory=list)
    off: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    costs: list[tuple[float, float, float]] = field(default_factory=list)
    right: int = 0
    only_found: int = 0
    only_there: int = 0
    wrong: list[str] = field(default_factory=list)


def outside() -> Outside:
    setting, score = in_the_library(), Outside()
    prompt: tuple[Lesson, Seeing | None] | None = None
    for lesson in lessons(setting):
        cleaned, judged = judge(lesson.recording, (lesson.planned,), setting)
        one = _named(score, lesson, judged)
        seeing = None if one is None else _technique(score, lesson, one, cleaned, setting)
        if lesson.is_late and prompt and prompt[1] and seeing:
            theirs = lesson.lost_ft - prompt[0].lost_ft
            doubt = float(np.hypot(seeing[1], prompt[1][1]))
            score.costs.append((seeing[0] - prompt[1][0], doubt, theirs))
        prompt = lesson, seeing
    return score


def _named(score: Outside, lesson: Lesson, judged: tuple[Judged, ...]) -> Judged | None:
    """Where it is the only one found, and has its name."""
    score.named.append([one.found.planned_id for one in judged] == [lesson.planned.id])
    if not score.named[-1]:
        score.wrong.append(f"{lesson.words}: {[one.found.figure.title for one in judged]}")
        return None
    measured = judged[0].measured
    score.edges_s += [measured.begins_s - lesson.begins_s, measured.ends_s - lesson.ends_s]
    score.heights_ft += [measured.start_ft - lesson.start_ft, measured.lowest_ft - lesson.lowest_ft]
    return judged[0]


def _technique(
    score: Outside, lesson: Lesson, one: Judged, cleaned: Cleaned, setting: Conditions
) -> Seeing | None:
    fitted = fit(one.found, one.measured, cleaned, setting)
    score.near.append(fitted.good)
    if not fitted.good:
        score.wrong.append(f"{lesson.words}: not flown by the model nearby, {fitted.off_ft:.0f} ft off")
    for name, value in lesson.pilot.items() if fitted.good else ():
        number = fitted.numbers[name]
        if number.told:
            score.off.setdefault(name, []).append((number.value - value, number.doubt))
    _faults(score, lesson, one, fitted, cleaned)
    account = account_of_fit(fitted, one.measured.lost_ft) if lesson.pilot else None
    return None if account is None else _seeing(account)


def _faults(score: Outside, lesson: Lesson, one: Judged, fitted: Fit, cleaned: Cleaned) -> None:
    lanes = lanes_of(fitted, one.measured, cleaned)
    evidence = Evidence(lesson.planned, one.measured, one.became, fitted.compared.conditions, fitted, lanes)
    found = {each.fault.key for each in looked_at(evidence) if each.sure > FOUND}
    for key, there in lesson.faults.items():
        score.right += there and key in found
        score.only_found += key in found and not there
        score.only_there += there and key not in found
        if there != (key in found):
            score.wrong.append(f"{lesson.words}: {key} {'not found' if there else 'found'}")


def _seeing(account: Account) -> Seeing:
    """What it cost until something was done, and its doubt (ft)."""
    those = [line for line in account.lines if set(line.names) & {"Entry", "Seeing it"}]
    return sum(line.height_ft for line in those), float(np.hypot.reduce([line.doubt_ft for line in those]))


def outside_rows(score: Outside) -> Iterator[Row]:
    named = 100.0 * float(np.mean(score.named))
    yield Row("six degrees of freedom: found and named, of 100", named, f"{NAMED:.0f}", named >= NAMED)
    edge = float(np.median(np.abs(score.edges_s)))
    yield Row("  edges off, median, s", edge, f"{EDGE_S}", edge <= EDGE_S)
    lowest = within(score.heights_ft[1::2], WITHIN_FT)
    yield Row("  lowest heights within 15 ft, of 100", lowest, f"{OF_100:.0f}", lowest >= OF_100)
    starts = float(np.median(np.abs(score.heights_ft[::2])))
    yield Row("  start heights off, median, ft", starts, "", True)
    yield Row("  flown by the model nearby, of 100", 100.0 * float(np.mean(score.near)), "", True)
    for name, offs in score.off.items():
        holds = 100.0 * float(np.mean([abs(off) <= 1.96 * doubt for off, doubt in offs]))
        yield Row(f"  {name}: intervals that hold, of 100", holds, f"{HOLD[0]:.0f}", holds >= HOLD[0])
        yield Row(f"  {name}: off, median", float(np.median([abs(off) for off, _ in offs])), "", True)
    hold = 100.0 * float(
        np.mean([abs(ours - theirs) <= max(doubt, READ_FT) for ours, doubt, theirs in score.costs])
    )
    yield Row("  cost of a delay: intervals that hold, of 100", hold, f"{HOLD[0]:.0f}", hold >= HOLD[0])
    off = float(np.median([abs(ours - theirs) / theirs for ours, _, theirs in score.costs]))
    yield Row("  cost of a delay: off, median share", off, "", True)
    there, found = (score.right + wrong for wrong in (score.only_there, score.only_found))
    yield Row("  faults that were flown: found, of those there", score.right / max(1, there), "", True)
    yield Row("  faults that were flown: there, of those found", score.right / max(1, found), "", True)
