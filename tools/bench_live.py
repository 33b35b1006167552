"""How near the marks that are found in flight come to the true ones, over simulated figures."""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from keelturn.figures.catalogue import FIGURES
from keelturn.figures.figure import Figure
from keelturn.recording.flown import Flown
from keelturn.recording.live import LiveFinder, Mark, MarkKind, flown_of
from keelturn.recording.recorder import Sensors, Table, record
from keelturn.stand_in import samples_of
from tests.flights import conditions, exact_sensors, figure

CONDITIONS = conditions()
EXACT = exact_sensors(50)
# What is asked of a mark: ft, s, turns.
WITHIN_FT, WITHIN_S, LEVEL_S, WITHIN_TURNS = 20.0, 0.5, 1.0, 0.25
# Where the height is within this of the lowest, no moment of it is a wrong one.
FLAT_FT = 5.0
# It is flown level from its beginning to its end: there is nothing to be found.
LEVEL_ALL_THE_WAY = ("slow_flight",)
FLOWN = tuple(f for f in FIGURES if f.key not in LEVEL_ALL_THE_WAY)


@dataclass(frozen=True)
class Found:
    """wrong: what of its marks is off, in words; empty when all are as near as they have to be."""

    key: str
    seed: int
    wrong: tuple[str, ...]


def flights(kind: Figure, sensors: Sensors) -> Table:
    """The figure, and another after it."""
    side = {"side": "left"} if kind.has_sides else {}
    first, second = figure(kind.key, 5500, **side), figure("steep_turn", 5500, id="f2")
    return record((first, second), CONDITIONS, sensors)


def found_in(kind: Figure, seed: int, rate_hz: float = 16.0) -> Found:
    heard, true = flights(kind, Sensors(rate_hz=rate_hz, seed=seed)), flights(kind, EXACT)
    began, ended = true.figures[0].begins_s, true.figures[0].ends_s
    marks: dict[MarkKind, list[Mark]] = defaultdict(list)
    finder = LiveFinder()
    for sample in samples_of(heard.rows[heard.rows[:, 0] < ended + 15.0], CONDITIONS):
        for mark in finder.feed(sample):
            marks[mark.kind].append(mark)
    rows = true.rows[(true.rows[:, 0] >= began) & (true.rows[:, 0] <= ended)]
    flown = flown_of(list(samples_of(rows, CONDITIONS)))
    return Found(kind.key, seed, tuple(_wrong(kind, marks, flown, ended)))


def _wrong(kind: Figure, marks: dict[MarkKind, list[Mark]], true: Flown, ended: float) -> Iterator[str]:
    if len(marks[MarkKind.LOWEST]) != 1:
        yield f"{len(marks[MarkKind.LOWEST])} figures found"
        return
    lowest, level = marks[MarkKind.LOWEST][0], marks[MarkKind.LEVEL][0]
    deepest = float(true.height.min())
    at = true.time[true.height <= deepest + FLAT_FT]
    early, late = float(at.min()) - lowest.time_s, lowest.time_s - float(at.max())
    if abs(lowest.value - deepest) > WITHIN_FT or max(early, late) > WITHIN_S:
        yield f"lowest {lowest.value - deepest:+.0f} ft, {max(early, late):.1f} s off"
    if abs(level.time_s - ended) > LEVEL_S:
        yield f"level {level.time_s - ended:+.1f} s off"
    spun = abs(float((true.turning[1:] * np.diff(true.time)).sum())) / 360.0 if kind.spin else 0.0
    turns = marks[MarkKind.TURNS][0].value if marks[MarkKind.TURNS] else 0.0
    if abs(turns - spun) > WITHIN_TURNS:
        yield f"{turns:.2f} turns of {spun:.2f}"


def all_found(seeds: range) -> list[Found]:
    return [found_in(kind, seed) for seed in seeds for kind in FLOWN]


def main() -> None:
    found = all_found(range(1, 4))
    right = 100.0 * sum(not one.wrong for one in found) / len(found)
    print(f"Live marks right for {right:.1f} of 100 figures (97 wanted), {len(found)} flown")
    for one in found:
        if one.wrong:
            print(f"  {one.key}, seed {one.seed}: {'; '.join(one.wrong)}")


if __name__ == "__main__":
    main()
