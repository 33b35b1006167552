"""Smaller sets of flights of known truth, each for what the large one has not: figures that became another,
and goes that were tapped as well. Part of tools/score.py."""

from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from keelturn.assess.flight import judge
from keelturn.noting.attempt import Outcome
from keelturn.recording.recorder import record_goes
from keelturn.recording.simulated import sensors_of
from keelturn.recording.truth import Go
from tests.flights import figure
from tools.score_reading import NAMED, Score, as_recording, settings
from tools.score_technique import Row

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
