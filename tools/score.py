"""How well recordings are read and judged: `make score`. Flights of known truth; the first half of each set
is what costs and widths were set on, the second half is held out."""

import argparse
import sys
from collections.abc import Iterable

from tools.score_others import became_rows, tapped_rows
from tools.score_outside import outside, outside_rows
from tools.score_reading import rows, score_of
from tools.score_technique import Row, each_fault, each_number, measures

FLIGHTS, OTHERWISE, TAPPED = 300, 80, 24


def say(*columns: Iterable[Row]) -> None:
    for row in zip(*columns, strict=True):
        values = "".join(f"{one.value:12.2f}" for one in row)
        says = "" if all(one.met for one in row) else "  not met"
        print(f"{row[0].label:52s}{values}   {row[0].asked}{says}")


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--flights", type=int, default=FLIGHTS)
    asked.add_argument("--wrong", action="store_true", help="name each failure")
    given = asked.parse_args(sys.argv[1:])
    half = given.flights // 2
    halves = {"set on": range(half), "held out": range(half, given.flights)}
    found = {name: score_of(numbers) for name, numbers in halves.items()}
    wrong = {name: score.wrong for name, score in found.items()}
    print(f"{given.flights} simulated flights, {sum(len(s.named) for s in found.values())} figures")
    say(*(rows(score) for score in found.values()))
    say(*(measures(score.technique) for score in found.values()))
    otherwise = [became_rows(range(first, first + OTHERWISE // 2)) for first in (0, OTHERWISE // 2)]
    say(*(of_it for of_it, _ in otherwise))
    wrong["became otherwise, held out"] = otherwise[1][1]
    halves = {
        name: range(numbers[0], min(numbers[0] + TAPPED, numbers[-1] + 1)) for name, numbers in halves.items()
    }
    tapped = [
        (score_of(n, technique=False, tapped=True), score_of(n, technique=False)) for n in halves.values()
    ]
    say(*(tapped_rows(*pair) for pair in tapped))
    others = outside()
    wrong["six degrees of freedom"] = others.wrong
    say(outside_rows(others))
    for name, score in found.items():
        print(f"\n{name}: faults that are there, precision, recall")
        for key, there, precise, recalled in each_fault(score.technique):
            print(f"  {key:24s}{there:5d}{precise:8.2f}{recalled:8.2f}")
        print(f"{name}: numbers told, off (median), intervals that hold of 100")
        for number, told, off, holds in each_number(score.technique):
            print(f"  {number:24s}{told:5d}{off:10.3f}{holds:8.0f}")
    if given.wrong:
        for name, words in wrong.items():
            print(f"\n{name}", *words, sep="\n  ")


if __name__ == "__main__":
    main()
