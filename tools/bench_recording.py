"""Two hours of a recorder at 16 Hz with 16 columns: read against the bare parse, and all of it to the
judgement, on one core, against their targets."""

import io
import os
import resource
import time

import numpy as np
import polars as pl

from keelturn.assess.fit import fit
from keelturn.assess.flight import judge
from keelturn.recording import likeness
from keelturn.recording.reading import read_recording
from keelturn.recording.recorder import Sensors, record
from keelturn.recording.table import QUANTITIES, Column
from tests.flights import conditions, figure
from tools.bench import DRY, SPINS, best_of

SECONDS, HZ = 7200.0, 16.0
# s, MB, times the bare parse, s a figure.
ALL_OF_IT_S, MEMORY_MB, TIMES_PARSE, FIT_S = 3.0, 500.0, 3.0, 0.3


def two_hours() -> bytes:
    """A flight of eighteen figures and level flight after it, as every column that there is."""
    plan = tuple(figure(key, 7000, id=f"f{n}") for n, key in enumerate((*DRY, *SPINS), 1))
    table = record(plan, conditions(), Sensors(rate_hz=HZ, controls=True, seed=3))
    rows = np.vstack([table.rows, np.repeat(table.rows[-1:], int(SECONDS * HZ) - len(table.rows), axis=0)])
    rows[:, 0] = np.arange(len(rows)) / HZ
    written = {Column(name): rows[:, at] for at, name in enumerate(table.columns)}
    # Where a height is recorded beside the pressure height it is the one that is read.
    written[Column.HEIGHT] = written[Column.PRESSURE_HEIGHT]
    whole = np.stack([written.get(column, np.full(len(rows), _still(column))) for column in Column], axis=1)
    text = io.StringIO()
    text.write(",".join(Column) + "\n")
    np.savetxt(text, whole, fmt="%.3f", delimiter=",")
    return text.getvalue().encode()


def _still(column: Column) -> float:
    return max(0.0, QUANTITIES[column].least)


def main() -> None:
    # One core; polars is told before it starts its threads, by the environment.
    os.sched_setaffinity(0, {sorted(os.sched_getaffinity(0))[0]})
    content, setting = two_hours(), conditions()
    plan = tuple(figure(key, 7000, id=f"f{n}") for n, key in enumerate((*DRY, *SPINS), 1))
    parse = best_of(3, lambda: pl.read_csv(io.BytesIO(content)))
    read = best_of(3, lambda: read_recording(content))

    def whole() -> int:
        likeness.catalogue.cache_clear()
        return len(judge(read_recording(content).flights[0], plan, setting)[1])

    began = time.perf_counter()
    found = whole()
    cold = time.perf_counter() - began
    warm = best_of(2, whole)
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024.0
    cleaned, judged = judge(read_recording(content).flights[0], plan, setting)
    seconds = []
    for one in judged:
        begins = time.perf_counter()
        fit(one.found, one.measured, cleaned, setting)
        seconds.append(time.perf_counter() - begins)
    print(f"\nA recording of two hours, {len(content) / 1e6:.0f} MB, {found} of {len(plan)} figures found")
    for words, value, target, unit in (
        ("read, times the bare parse", read / parse, TIMES_PARSE, "x"),
        ("read, cleaned, found, measured, judged, the first time", cold, ALL_OF_IT_S, "s"),
        ("the same again, with what the core remembers of the plan", warm, ALL_OF_IT_S, "s"),
        ("memory of the process at its most", memory, MEMORY_MB, "MB"),
        ("a fit, of all its figures in the mean", float(np.mean(seconds)), FIT_S, "s"),
        ("a fit, of the slowest of them", max(seconds), FIT_S, "s"),
    ):
        says = "" if value <= target else "   not met"
        print(f"  {words:58s}{value:8.2f} {unit}   within {target:g}{says}")


if __name__ == "__main__":
    main()
