"""How well recordings are read: flights of known truth (keelturn/recording/simulated.py) cleaned, found and
measured, against that truth: part of tools/score.py."""

from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from keelturn.assess.flight import Judged, judge
from keelturn.figures.catalogue import figure_of
from keelturn.flying.conditions import Conditions
from keelturn.noting.attempt import Outcome
from keelturn.noting.entry import What
from keelturn.recording.recorder import Table
from keelturn.recording.simulated import Simulated, simulated
from keelturn.recording.table import Column, Recording
from keelturn.recording.taps import Tap, TappedGo
from keelturn.recording.truth import Go, TrueFigure
from keelturn.spinning.engine import NEVER_STOPPED, OTHER_WAY, SPIRALLED, SPUN
from tests.flights import HEAVY, NO_SPINS, conditions
from tools.score_technique import Row, TechniqueScore, score_one

# What is asked: of 100 figures, seconds in the median, turns and feet at 95 of 100.
NAMED, EDGE_S, WITHIN_TURNS, WITHIN_FT, OF_100 = 97.0, 0.5, 0.25, 15.0, 95.0
# A hand is so much later than what it notes (s), and forgets this share.
TAPPED_LATE_S, NOT_TAPPED = 1.2, 0.1
BECAME = {SPUN: Outcome.AS_INTENDED, SPIRALLED: Outcome.SPIRAL, OTHER_WAY: Outcome.OTHER_WAY}


@dataclass
class Score:
    """Of each figure flown: whether it was found, and named; of those named how far off (s, ft, turns), and
    whether what became of it is right; of those that were tapped too, whether it is known which go is which.
    extra: found where none was. wrong: each failure in words."""

    found: list[bool] = field(default_factory=list)
    named: list[bool] = field(default_factory=list)
    edges_s: list[float] = field(default_factory=list)
    heights_ft: list[float] = field(default_factory=list)
    turns: list[float] = field(default_factory=list)
    became: list[bool] = field(default_factory=list)
    tapped: list[bool] = field(default_factory=list)
    extra: int = 0
    wrong: list[str] = field(default_factory=list)
    technique: TechniqueScore = field(default_factory=TechniqueScore)

    def add(self, other: "Score") -> None:
        for name in ("found", "named", "edges_s", "heights_ft", "turns", "became", "tapped", "wrong"):
            getattr(self, name).extend(getattr(other, name))
        self.extra += other.extra
        self.technique.add(other.technique)


def settings() -> tuple[Conditions, ...]:
    """The three cards of the tests."""
    return conditions(), conditions(card=HEAVY), conditions(card=NO_SPINS)


def as_recording(table: Table) -> Recording:
    return Recording({Column(name): table.rows[:, at] for at, name in enumerate(table.columns)})


def scored(number: int, rate_hz: float | None = None, technique: bool = True, tapped: bool = False) -> Score:
    """technique: the pilots' numbers too, which takes much longer. tapped: somebody noted the starts in
    flight."""
    setting = settings()[number % 3]
    flight = simulated(number, setting, rate_hz)
    score = Score()
    if not flight.goes:
        return score
    taps = _taps(flight) if tapped else ()
    cleaned, judged = judge(as_recording(flight.table), flight.plan, setting, taps=taps)
    goes = {go.attempt for go in taps}
    matched = set()
    for at, (go, true) in enumerate(zip(flight.goes, flight.table.figures, strict=True)):
        best = _meets(judged, true, flight.sensors.clock_offset_s)
        score.found.append(best is not None)
        if best is not None:
            matched.add(best)
        if best is not None and str(at) in goes:
            noted = judged[best].tapped
            score.tapped.append(noted is not None and noted.attempt == str(at))
        named = _of_one(score, flight, at, go, true, None if best is None else judged[best])
        if technique and named is not None:
            score_one(score.technique, go, named, cleaned, setting)
    score.extra = len(judged) - len(matched)
    return score


def _taps(flight: Simulated) -> tuple[TappedGo, ...]:
    """The starts as a hand taps them, by the clock of the tablet."""
    chance = np.random.default_rng([16, flight.number])
    found = []
    for at, (go, true) in enumerate(zip(flight.goes, flight.table.figures, strict=True)):
        late_s = float(chance.normal(TAPPED_LATE_S, TAPPED_LATE_S / 3.0))
        if chance.random() >= NOT_TAPPED:
            tap = Tap(What.START, true.begins_s + late_s)
            found.append(TappedGo(str(at), go.planned.id, go.planned.key, go.planned.side, (tap,)))
    return tuple(found)


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


def within(values: Sequence[float], most: float) -> float:
    """How many of 100 are no further off than this."""
    return 100.0 * float((np.abs(values) <= most).mean()) if len(values) else float("nan")


def rows(score: Score) -> Iterator[Row]:
    named = 100.0 * float(np.mean(score.named))
    yield Row("figures found, of 100", 100.0 * float(np.mean(score.found)), "", True)
    yield Row("figures found and named, of 100", named, f"{NAMED:.0f}", named >= NAMED)
    yield Row("found where none was, of 100 flown", 100.0 * score.extra / len(score.named), "", True)
    edge = float(np.median(np.abs(score.edges_s)))
    yield Row("edges off, median, s", edge, f"{EDGE_S}", edge <= EDGE_S)
    heights = within(score.heights_ft, WITHIN_FT)
    yield Row(f"heights within {WITHIN_FT:.0f} ft, of 100", heights, f"{OF_100:.0f}", heights >= OF_100)
    turns = within(score.turns, WITHIN_TURNS)
    yield Row(f"turns within {WITHIN_TURNS}, of 100", turns, f"{OF_100:.0f}", turns >= OF_100)
    became = 100.0 * float(np.mean(score.became))
    yield Row("what became of it, of 100", became, f"{OF_100:.0f}", became >= OF_100)


def score_of(numbers: Sequence[int], technique: bool = True, tapped: bool = False) -> Score:
    whole = Score()
    with ProcessPoolExecutor() as pool:
        for one in pool.map(partial(scored, technique=technique, tapped=tapped), numbers, chunksize=2):
            whole.add(one)
    return whole
