"""How well recordings are read: flights of known truth (keelturn/recording/simulated.py) cleaned, found and
measured, against that truth. The first half of the flights is what costs and widths were set on, the second
half is held out."""

import argparse
import sys
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from keelturn.assess.flight import Judged, judge
from keelturn.figures.catalogue import figure_of
from keelturn.flying.conditions import Conditions
from keelturn.noting.attempt import Outcome
from keelturn.recording.recorder import Table
from keelturn.recording.simulated import Simulated, simulated
from keelturn.recording.table import Column, Recording
from keelturn.recording.truth import Go, TrueFigure
from keelturn.spinning.engine import NEVER_STOPPED, OTHER_WAY, SPIRALLED, SPUN
from tests.flights import HEAVY, NO_SPINS, conditions
from tools.score_technique import TechniqueScore, each_fault, each_number, measures, score_one

FLIGHTS = 300
# What is asked: of 100 figures, seconds in the median, turns and feet at 95 of 100.
NAMED, EDGE_S, WITHIN_TURNS, WITHIN_FT, OF_100 = 97.0, 0.5, 0.25, 15.0, 95.0
BECAME = {SPUN: Outcome.AS_INTENDED, SPIRALLED: Outcome.SPIRAL, OTHER_WAY: Outcome.OTHER_WAY}


@dataclass
class Score:
    """Of each figure flown: whether it was found, and named; of those named how far off (s, ft, turns), and
    whether what became of it is right. extra: found where none was. wrong: each failure in words."""

    found: list[bool] = field(default_factory=list)
    named: list[bool] = field(default_factory=list)
    edges_s: list[float] = field(default_factory=list)
    heights_ft: list[float] = field(default_factory=list)
    turns: list[float] = field(default_factory=list)
    became: list[bool] = field(default_factory=list)
    extra: int = 0
    wrong: list[str] = field(default_factory=list)
    technique: TechniqueScore = field(default_factory=TechniqueScore)

    def add(self, other: "Score") -> None:
        for name in ("found", "named", "edges_s", "heights_ft", "turns", "became", "wrong"):
            getattr(self, name).extend(getattr(other, name))
        self.extra += other.extra
        self.technique.add(other.technique)


def settings() -> tuple[Conditions, ...]:
    """The three cards of the tests."""
    return conditions(), conditions(card=HEAVY), conditions(card=NO_SPINS)


def as_recording(table: Table) -> Recording:
    return Recording({Column(name): table.rows[:, at] for at, name in enumerate(table.columns)})


def scored(number: int, rate_hz: float | None = None, technique: bool = True) -> Score:
    """technique: the pilots' numbers too, which takes much longer."""
    setting = settings()[number % 3]
    flight = simulated(number, setting, rate_hz)
    score = Score()
    if not flight.goes:
        return score
    cleaned, judged = judge(as_recording(flight.table), flight.plan, setting)
    matched = set()
    for at, (go, true) in enumerate(zip(flight.goes, flight.table.figures, strict=True)):
        best = _meets(judged, true, flight.sensors.clock_offset_s)
        score.found.append(best is not None)
        if best is not None:
            matched.add(best)
        named = _of_one(score, flight, at, go, true, None if best is None else judged[best])
        if technique and named is not None:
            score_one(score.technique, go, named, cleaned, setting)
    score.extra = len(judged) - len(matched)
    return score


def _meets(judged: Sequence[Judged], true: TrueFigure, offset_s: float) -> int | None:
    """The one that lies over it longest."""
    over = [
        min(one.measured.ends_s, true.ends_s + offset_s)
        - max(one.measured.begins_s, true.begins_s + offset_s)
        for one in judged
    ]
    best = int(np.argmax(over)) if over else 0
    return best if over and over[best] > 0 else None


def _of_one(
    score: Score, flight: Simulated, at: int, go: Go, true: TrueFigure, one: Judged | None
) -> Judged | None:
    """The one that has the right name, if any."""
    figure = figure_of(go.planned.key)
    same = one is not None and one.found.figure.key == figure.key
    # A figure that goes straight up and falls is alike to both sides.
    sided = figure.has_sides and figure.situation != "no speed"
    named = same and (not sided or one is not None and one.found.figure.side == go.planned.side)
    score.named.append(named)
    who = f"{flight.number}: {go.planned.title} {flight.faults[at]} at {flight.sensors.rate_hz:.0f} Hz"
    if one is None or not named:
        score.wrong.append(f"{who}: {'not found' if one is None else one.found.figure.title}")
        return None
    measured, offset = one.measured, flight.sensors.clock_offset_s
    score.edges_s += [measured.begins_s - true.begins_s - offset, measured.ends_s - true.ends_s - offset]
    score.heights_ft += [measured.start_ft - true.start_ft, measured.lowest_ft - true.lowest_ft]
    if abs(score.heights_ft[-1]) > WITHIN_FT or abs(score.heights_ft[-2]) > WITHIN_FT:
        score.wrong.append(f"{who}: {score.heights_ft[-2]:+.0f}, {score.heights_ft[-1]:+.0f} ft")
    if figure.spin and measured.turns is not None and true.outcome != NEVER_STOPPED:
        score.turns.append(measured.turns - true.turns)
        if abs(score.turns[-1]) > WITHIN_TURNS:
            score.wrong.append(f"{who}: {measured.turns:.2f} of {true.turns:.2f} turns")
    if one.became is not None and true.outcome != NEVER_STOPPED:
        right = one.became.outcome == BECAME.get(true.outcome, Outcome.AS_INTENDED)
        score.became.append(right)
        if not right:
            score.wrong.append(f"{who}: {one.became.outcome}, {one.became.because}")
    return one


@dataclass(frozen=True)
class Row:
    label: str
    value: float
    asked: str
    met: bool


def rows(score: Score) -> Iterator[Row]:
    def share(values: Sequence[float], within: float) -> float:
        return 100.0 * float((np.abs(values) <= within).mean()) if len(values) else float("nan")

    named = 100.0 * float(np.mean(score.named))
    yield Row("figures found, of 100", 100.0 * float(np.mean(score.found)), "", True)
    yield Row("figures found and named, of 100", named, f"{NAMED:.0f}", named >= NAMED)
    yield Row("found where none was, of 100 flown", 100.0 * score.extra / len(score.named), "", True)
    edge = float(np.median(np.abs(score.edges_s)))
    yield Row("edges off, median, s", edge, f"{EDGE_S}", edge <= EDGE_S)
    heights = share(score.heights_ft, WITHIN_FT)
    yield Row(f"heights within {WITHIN_FT:.0f} ft, of 100", heights, f"{OF_100:.0f}", heights >= OF_100)
    turns = share(score.turns, WITHIN_TURNS)
    yield Row(f"turns within {WITHIN_TURNS}, of 100", turns, f"{OF_100:.0f}", turns >= OF_100)
    became = 100.0 * float(np.mean(score.became))
    yield Row("what became of it, of 100", became, f"{OF_100:.0f}", became >= OF_100)


def score_of(numbers: Sequence[int], technique: bool = True) -> Score:
    whole = Score()
    with ProcessPoolExecutor() as pool:
        for one in pool.map(partial(scored, technique=technique), numbers, chunksize=2):
            whole.add(one)
    return whole


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--flights", type=int, default=FLIGHTS)
    asked.add_argument("--wrong", action="store_true", help="name each failure")
    given = asked.parse_args(sys.argv[1:])
    half = given.flights // 2
    halves = {"set on": range(half), "held out": range(half, given.flights)}
    found = {name: score_of(numbers) for name, numbers in halves.items()}
    print(f"{given.flights} simulated flights, {sum(len(s.named) for s in found.values())} figures")
    for pair in zip(*(rows(score) for score in found.values()), strict=True):
        values = "".join(f"{row.value:12.2f}" for row in pair)
        says = "" if all(row.met for row in pair) else "  not met"
        print(f"{pair[0].label:44s}{values}   {pair[0].asked}{says}")
    for pair in zip(*(measures(score.technique) for score in found.values()), strict=True):
        values = "".join(f"{row.value:12.2f}" for row in pair)
        says = "" if all(row.met for row in pair) else "  not met"
        print(f"{pair[0].label:44s}{values}   {pair[0].asked}{says}")
    for name, score in found.items():
        print(f"\n{name}: faults that are there, precision, recall")
        for key, there, precise, recalled in each_fault(score.technique):
            print(f"  {key:24s}{there:5d}{precise:8.2f}{recalled:8.2f}")
        print(f"{name}: numbers told, off (median), intervals that hold of 100")
        for number, told, off, holds in each_number(score.technique):
            print(f"  {number:24s}{told:5d}{off:10.3f}{holds:8.0f}")
    if given.wrong:
        for name, score in found.items():
            print(f"\n{name}", *score.wrong, sep="\n  ")


if __name__ == "__main__":
    main()
