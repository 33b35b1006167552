"""A recording made fit to be looked at: on the height of the day, without wild fields, on an even grid, with
what its sensors are off taken out. Everything done is a step with its size, and can be left out.

Sizes beyond which something is done are common practice, no published source; how near the cleaned heights
come to the true ones is counted by `make score`."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from keelturn.air import DayAir
from keelturn.motion.legs import Floats
from keelturn.recording.flown import G_OFF, Flown, slope
from keelturn.recording.table import ATTITUDE, CONTROLS, Column, Recording
from keelturn.units import FT, G0, KT


class StepKey(StrEnum):
    PRESSURE = "pressure setting"
    WILD = "wild fields"
    GAPS = "gaps"
    RATE = "even rate"
    BIAS = "g bias"
    LAG = "height lag"
    CLOCK = "clock by the taps"


@dataclass(frozen=True, slots=True)
class CleaningStep:
    """What was done and how much of it, in words; done: whether it was, or left out. optional: it can be."""

    key: StepKey
    words: str
    done: bool
    optional: bool = False


@dataclass(frozen=True, slots=True)
class Cleaned:
    """recording: even rows, heights on QNH as Column.HEIGHT. holes: rows (R,) that lie in a silence too long
    to be filled."""

    recording: Recording
    flown: Flown
    holes: NDArray[np.bool_]
    steps: tuple[CleaningStep, ...]


# Rows a second that are looked at, however many came; a silence up to so long is filled.
MOST_HZ, FILLED_S = 16.0, 2.0
# A field this far from the middle of its neighbours, and this many times their usual distance, is wild; by so
# much more as can happen a second, from row to row.
WILD_ROWS, WILD_TIMES = 7, 8.0
WILD: Mapping[Column, tuple[float, float]] = {
    Column.HEIGHT: (40.0, 300.0),
    Column.IAS: (6.0, 25.0),
    Column.G: (0.4, 4.0),
}
# Flight within these is straight.
CALM_BANK_DEG, CALM_PITCH_DEG = 6.0, 10.0
# In less of it than this (s) g is not one in the middle: the path is being changed.
CALM_S = 20.0
# Not taken out when smaller: g, s. A static line later than this is broken.
LEAST_BIAS, LEAST_LAG_S, MOST_LAG_S = 0.02, 0.35, 2.0


def clean(recording: Recording, air: DayAir, without: frozenset[StepKey] = frozenset()) -> Cleaned:
    """air: of the day, with its QNH. Raises KeyError for a recording without a height."""
    steps: list[CleaningStep] = []

    def do(key: StepKey, found: "tuple[str, Callable[[], Recording]] | None", now: Recording) -> Recording:
        if found is None:
            return now
        words, change = found
        done = key not in without
        steps.append(CleaningStep(key, words, done, True))
        return change() if done else now

    now = do(StepKey.PRESSURE, _on_qnh(recording, air), recording)
    if not now.has(Column.HEIGHT):
        now = now.with_columns({Column.HEIGHT: now.columns[Column.PRESSURE_HEIGHT]})
    now = do(StepKey.WILD, _wild(now), now)
    now, holes, filled = _even(now)
    steps += filled
    now = do(StepKey.BIAS, _bias(now), now)
    now = do(StepKey.LAG, _lag(now), now)
    return Cleaned(now, Flown.of_recording(now), holes, tuple(steps))


def _on_qnh(recording: Recording, air: DayAir) -> tuple[str, Callable[[], Recording]] | None:
    if not recording.has(Column.PRESSURE_HEIGHT):
        return None
    off = air.pressure_height(0.0) / FT
    if abs(off) < 0.5:
        return None
    return (
        f"Pressure heights set to QNH: {signed(-off, ',.0f')} ft",
        lambda: recording.with_columns({Column.HEIGHT: recording.columns[Column.PRESSURE_HEIGHT] - off}),
    )


def signed(value: float, form: str) -> str:
    """With the minus that is read as one."""
    return f"{value:+{form}}".replace("-", "\N{MINUS SIGN}")


def _wild(recording: Recording) -> tuple[str, Callable[[], Recording]] | None:
    """Single fields far from the middle of the rows around them (Hampel's identifier, with a least distance
    of its own for each sensor)."""
    from scipy.ndimage import median_filter

    found: dict[Column, tuple[NDArray[np.intp], Floats]] = {}
    step_s = 1.0 / recording.rate_hz
    for column, (least, a_second) in WILD.items():
        values = recording.columns.get(column)
        if values is None or len(values) < WILD_ROWS:
            continue
        middle = median_filter(values, WILD_ROWS, mode="nearest")
        off = np.abs(values - middle)
        usual = median_filter(off, 5 * WILD_ROWS, mode="nearest")
        at = np.flatnonzero(off > np.maximum(least + a_second * step_s, WILD_TIMES * 1.4826 * usual))
        if len(at):
            found[column] = (at, middle)
    if not found:
        return None

    def change() -> Recording:
        changed = {}
        for column, (at, middle) in found.items():
            changed[column] = recording.columns[column].copy()
            changed[column][at] = middle[at]
        return recording.with_columns(changed)

    many = ", ".join(f"{len(at):,} of {LABELS[column]}" for column, (at, _) in found.items())
    return f"Wild fields replaced by the middle of their neighbours: {many}", change


LABELS = {Column.HEIGHT: "height", Column.IAS: "speed", Column.G: "g"}


def _even(recording: Recording) -> tuple[Recording, NDArray[np.bool_], list[CleaningStep]]:
    """On even rows: fewer after a low pass where there were more, lines between the rows over short silences;
    attitudes turn the shortest way. This one cannot be left out: everything after it stands on even rows."""
    rate = recording.rate_hz
    hz = min(rate, MOST_HZ)
    time = np.arange(recording.time[0], recording.time[-1] + 1e-9, 1.0 / hz)
    steps = []
    silent = np.diff(recording.time)
    gaps = np.flatnonzero(silent > max(1.8 / rate, 0.3))
    long = gaps[silent[gaps] > max(FILLED_S, 3.0 / rate)]
    holes = np.zeros(len(time), dtype=np.bool_)
    for at in long:
        holes |= (time > recording.time[at]) & (time < recording.time[at + 1])
    if len(gaps):
        longest = f"the longest {silent[gaps].max():.1f} s"
        words = f"{len(gaps):,} silences, {longest}; those up to {FILLED_S:.0f} s filled"
        steps.append(CleaningStep(StepKey.GAPS, words, done=True))
    if rate > 1.05 * MOST_HZ:
        steps.append(CleaningStep(StepKey.RATE, f"{rate:.0f} rows a second made {hz:.0f}", done=True))
    columns: dict[Column, Floats] = {Column.TIME: time}
    turns = recording.has(*ATTITUDE)
    for name in recording.columns:
        if name != Column.TIME and not (turns and name in ATTITUDE):
            columns[name] = _at(time, recording, name, rate, hz)
    if turns:
        columns.update(_attitude_at(time, recording))
    return Recording(columns, recording.zero, recording.of_day), holes, steps


def _at(time: Floats, recording: Recording, name: Column, rate: float, hz: float) -> Floats:
    values = recording.columns[name]
    there = np.isfinite(values)
    if there.sum() < 2:
        return np.full(len(time), np.nan)
    known, at = values[there], recording.time[there]
    if rate > 1.5 * hz and len(known) > 30 and name not in CONTROLS:
        from scipy.signal import butter, sosfiltfilt

        known = sosfiltfilt(butter(2, hz / 2.5, fs=rate, output="sos"), known)
    return np.interp(time, at, known)


def _attitude_at(time: Floats, recording: Recording) -> dict[Column, Floats]:
    """By the components of nose and wings in the world: what has no jump."""
    pitch, bank, heading = (np.radians(recording.columns[name]) for name in ATTITUDE)
    there = np.isfinite(pitch) & np.isfinite(bank) & np.isfinite(heading)
    if there.sum() < 2:
        return {name: np.full(len(time), np.nan) for name in ATTITUDE}
    at = recording.time[there]
    nose, up = _vectors(pitch[there], bank[there], heading[there])
    nose, up = (np.stack([np.interp(time, at, part) for part in vector.T], axis=1) for vector in (nose, up))
    right = np.cross(nose, up)
    pitch = np.arctan2(nose[:, 2], np.hypot(nose[:, 0], nose[:, 1]))
    return {
        Column.PITCH: np.degrees(pitch),
        Column.BANK: np.degrees(np.arctan2(-right[:, 2], up[:, 2])),
        Column.HEADING: np.degrees(np.arctan2(nose[:, 0], nose[:, 1])) % 360.0,
    }


def _vectors(pitch: Floats, bank: Floats, heading: Floats) -> tuple[Floats, Floats]:
    """Where nose and head point: east, north, up; (R, 3)."""
    east, north = np.sin(heading), np.cos(heading)
    nose = np.stack([np.cos(pitch) * east, np.cos(pitch) * north, np.sin(pitch)], axis=1)
    lean, stand = np.sin(bank), np.cos(bank)
    up = np.stack(
        [
            -stand * np.sin(pitch) * east + lean * north,
            -stand * np.sin(pitch) * north - lean * east,
            stand * np.cos(pitch),
        ],
        axis=1,
    )
    return nose, up


def _calm(recording: Recording) -> NDArray[np.bool_]:
    """Straight flight, in which g is the cosine of the path."""
    pitch, bank = recording.columns[Column.PITCH], recording.columns[Column.BANK]
    off = np.abs(recording.columns[Column.G] - 1.0)
    return (np.abs(bank) < CALM_BANK_DEG) & (np.abs(pitch) < CALM_PITCH_DEG) & (off < G_OFF)


def _bias(recording: Recording) -> tuple[str, Callable[[], Recording]] | None:
    if not recording.has(Column.G, *ATTITUDE):
        return None
    calm = _calm(recording)
    if calm.sum() < 30 or calm.sum() < CALM_S * recording.rate_hz:
        return None
    # What level flight leaves out is where it is 0.3 g off: the middle is not moved by that.
    off = float(np.median(recording.columns[Column.G][calm])) - 1.0
    if abs(off) < LEAST_BIAS:
        return None
    return (
        f"g meter reads {signed(off, '.2f')} in level flight: taken off",
        lambda: recording.with_columns({Column.G: recording.columns[Column.G] - off}),
    )


def _lag(recording: Recording) -> tuple[str, Callable[[], Recording]] | None:
    """How late the height follows, from where the lift pointed: g and attitude, twice integrated, against the
    height, both without what changes slowly. A static line follows with a time constant: the height was that
    much further along its slope."""
    late = height_lag_s(recording)
    if late is None or late < LEAST_LAG_S:
        return None
    height = recording.columns[Column.HEIGHT]
    return (
        f"Height {late:.1f} s behind g and attitude: moved along its slope",
        lambda: recording.with_columns({Column.HEIGHT: height + late * slope(recording.time, height)}),
    )


# Figures last between these (s): what is slower is the engine, what is quicker noise.
SLOWER_S, QUICKER_S = 16.0, 1.5


def height_lag_s(recording: Recording) -> float | None:
    """None without g, attitude and speed, with too few rows, or with too little that moved."""
    hz = recording.rate_hz
    if not recording.has(Column.G, Column.IAS, *ATTITUDE) or hz < 4.0 or len(recording) < 60 * hz:
        return None
    from scipy.signal import butter, sosfiltfilt

    pitch, bank = (np.radians(recording.columns[name]) for name in (Column.PITCH, Column.BANK))
    g, speed = recording.columns[Column.G], recording.columns[Column.IAS]
    if not all(np.isfinite(values).all() for values in (pitch, bank, g, speed)):
        return None
    # Along the nose it is the change of speed, and what of weight pulls it there.
    along = np.gradient(speed * KT, recording.time)
    rising = G0 * (g * np.cos(bank) * np.cos(pitch) - np.cos(pitch) ** 2) + along * np.sin(pitch)
    band = butter(2, [1.0 / SLOWER_S, 1.0 / QUICKER_S], btype="band", fs=hz, output="sos")

    def moved(values: Floats) -> Floats:
        return np.asarray(sosfiltfilt(band, values))

    flown = moved(np.cumsum(moved(np.cumsum(moved(rising)) / hz)) / hz)
    heard = moved(recording.columns[Column.HEIGHT] * FT)
    if flown.std() < 1.0:
        return None
    tried = np.arange(0.0, MOST_LAG_S + 0.05, 0.1)
    off = [float(np.square(moved(follows(flown, late * hz)) - heard).sum()) for late in tried]
    return float(tried[int(np.argmin(off))])


def follows(values: Floats, rows: float) -> Floats:
    """A sensor that follows with this time constant, in rows."""
    if rows <= 0:
        return values
    from scipy.signal import lfilter

    kept = np.exp(-1.0 / rows)
    followed, _ = lfilter([1.0 - kept], [1.0, -kept], values, zi=values[:1] * kept)
    return np.asarray(followed)
