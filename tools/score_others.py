"""Smaller sets of flights of known truth, each for what the large one has not: figures that became another,
goes that were tapped as well, and flights that our model did not make. Part of tools/score.py."""

from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field

import numpy as np

from keelturn.assess.account import Account, account_of_fit
from keelturn.assess.evidence import Evidence
from keelturn.assess.fault_rules import FOUND, looked_at
from keelturn.assess.fit import fit
from keelturn.assess.flight import judge
from keelturn.assess.lanes import lanes_of
from keelturn.noting.attempt import Outcome
from keelturn.recording.recorder import record_goes
from keelturn.recording.simulated import sensors_of
from keelturn.recording.truth import Go
from tests.flights import figure
from tests.outside.six_dof_lessons import Lesson, lessons
from tests.outside.six_dof_pilots import in_the_library
from tools.score_reading import EDGE_S, NAMED, OF_100, WITHIN_FT, Score, as_recording, settings, within
from tools.score_technique import HOLD, READ_FT, Row

# What was meant, what was flown instead, with these turns, and what it became.
OTHERWISE: tuple[tuple[str, str, float | None, Outcome], ...] = (
    ("spin", "spin_flat", 3.0, Outcome.FLAT),
    ("spin", "spin_inverted", 2.0, Outcome.FLAT),
    ("stall_power_off", "stall_secondary", None, Outcome.SECONDARY_STALL),
    ("stall_power_on", "stall_secondary", None, Outcome.SECONDARY_STALL),
)


def became(number: int) -> tuple[Outcome, bool, str]:
    """What it became, whether it was seen, and in words."""
    setting = settings()[0 if number % 4 < 2 else number % 3]
    meant, flown, turns, outcome = OTHERWISE[number % 4]
    settings_of = {} if turns is None else {"turns": turns}
    plan = (figure("steep_turn", 6000), figure(meant, 7000, id="f2", **settings_of))
    instead = figure(flown, 7000, id="f2", **settings_of)
    sensors = sensors_of(np.random.default_rng([15, number]))
    table = record_goes([Go(plan[0]), Go(instead)], setting, sensors)
    _, judged = judge(as_recording(table), plan, setting)
    those = [one for one in judged if one.found.planned_id == "f2"]
    seen = len(those) == 1 and those[0].became is not None and those[0].became.outcome == outcome
    says = [f"{one.found.figure.title}: {one.became and one.became.because}" for one in judged]
    return outcome, seen, f"{number}: {flown} for {meant} at {sensors.rate_hz:.0f} Hz: {says}"


def became_rows(numbers: Sequence[int]) -> tuple[list[Row], list[str]]:
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(became, numbers))
    rows = []
    for outcome in (Outcome.FLAT, Outcome.SECONDARY_STALL):
        share = 100.0 * float(np.mean([seen for which, seen, _ in found if which == outcome]))
        rows.append(Row(f"became otherwise: {outcome}, seen of 100", share, "", True))
    return rows, [words for _, seen, words in found if not seen]


def tapped_rows(score: Score, without: Score) -> Iterator[Row]:
    """The same flights with and without taps."""
    known = 100.0 * float(np.mean(score.tapped))
    yield Row("tapped too: which go is which, of 100", known, f"{NAMED:.0f}", known >= NAMED)
    named, alone = (100.0 * float(np.mean(one.named)) for one in (score, without))
    yield Row("tapped too: found and named, of 100", named, f"{NAMED:.0f}", named >= NAMED)
    yield Row("the same flights without their taps", alone, "", True)


@dataclass
class Outside:
    """Of the flights of the other library. costs: of each pair what the delay cost, ours, its doubt, and
    theirs (ft)."""

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
    before: tuple[Lesson, tuple[float, float] | None] | None = None
    for lesson in lessons(setting):
        who = f"{lesson.planned.title} {lesson.pilot}"
        cleaned, judged = judge(lesson.recording, (lesson.planned,), setting)
        same = [one for one in judged if one.found.planned_id == lesson.planned.id]
        score.named.append(len(judged) == 1 == len(same))
        if not score.named[-1]:
            score.wrong.append(f"{who}: {[one.found.figure.title for one in judged]}")
            continue
        (one,) = same
        measured = one.measured
        score.edges_s += [measured.begins_s - lesson.begins_s, measured.ends_s - lesson.ends_s]
        score.heights_ft += [measured.start_ft - lesson.start_ft, measured.lowest_ft - lesson.lowest_ft]
        fitted = fit(one.found, measured, cleaned, setting)
        score.near.append(fitted.good)
        if not fitted.good:
            score.wrong.append(f"{who}: not flown by the model nearby, {fitted.off_ft:.0f} ft off")
        for name, value in lesson.pilot.items() if fitted.good else ():
            number = fitted.numbers[name]
            if number.told:
                score.off.setdefault(name, []).append((number.value - value, number.doubt))
        evidence = Evidence(
            lesson.planned, measured, one.became, setting, fitted, lanes_of(fitted, measured, cleaned)
        )
        found = {each.fault.key for each in looked_at(evidence) if each.sure > FOUND}
        for key, there in lesson.faults.items():
            score.right += there and key in found
            score.only_found += key in found and not there
            score.only_there += there and key not in found
            if there != (key in found):
                score.wrong.append(f"{who}: {key} {'not found' if there else 'found'}")
        account = account_of_fit(fitted, measured.lost_ft) if lesson.pilot else None
        seeing = None if account is None else _seeing(account)
        if lesson.is_late and before is not None and before[1] is not None and seeing is not None:
            theirs = lesson.lost_ft - before[0].lost_ft
            doubt = float(np.hypot(seeing[1], before[1][1]))
            score.costs.append((seeing[0] - before[1][0], doubt, theirs))
        before = lesson, seeing
    return score


def _seeing(account: Account) -> tuple[float, float]:
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
