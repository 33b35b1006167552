"""A figure as it was recorded beside the core's own flight of it: how far they are apart, in the noise of
what was recorded.

How fine each column is taken to be at first is ours; the fit replaces it by how far apart they stay."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.course import fly
from keelturn.flying.numbers import ias_along
from keelturn.flying.pilots import STUDENT
from keelturn.flying.trace import (
    EAS,
    HEIGHT,
    TIME,
    G,
    attitude,
    axes,
    controls,
    traces_of,
)
from keelturn.motion.legs import Floats, Numbers
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.finding import Found
from keelturn.recording.flown import turned_deg
from keelturn.recording.measuring import Measured
from keelturn.recording.table import ATTITUDE, CONTROLS, Column
from keelturn.units import DEG, FT, KT, SPEED

# What is compared, and how fine it is taken to be at first: ft, the aircraft's speed, g, degrees (of nose and
# wings; of pitch; of all turning), shares of a control's travel.
NOISE: Mapping[str, float] = {
    "height": 5.0,
    "ias": 0.8,
    "g": 0.04,
    "axes": 0.7,
    "pitch": 1.0,
    "turned": 5.0,
    "controls": 0.04,
}
# What stands beside the pilot's numbers: when it really began, and what the recorder did to it. Usual value,
# deviation, least, most.
RECORDER: Mapping[str, tuple[float, float, float, float]] = {
    "shift_s": (0.0, 0.35, -2.0, 2.0),
    "height_off_ft": (0.0, 20.0, -80.0, 80.0),
    "heading_off_deg": (0.0, 20.0, -90.0, 90.0),
    "height_lag_s": (0.1, 0.2, -0.4, 0.8),
    "ias_lag_s": (0.1, 0.15, 0.0, 0.6),
    "g_off": (0.0, 0.03, -0.1, 0.1),
}
# So long around the beginning the attitude is taken for that of the hand-over (s).
BEGINS_S = 0.25
# What begins slowly is found early, and an upset when it was handed over: held so far, least, most (s).
SLOWLY_S, SHARPLY_S = (1.5, -4.0, 10.0), (0.1, -0.6, 0.4)
# How far an upset may really have been handed over off the attitude that was recorded: the same (deg).
BEGUN: Mapping[str, tuple[float, float, float, float]] = {
    "bank_deg": (0.0, 3.0, -45.0, 45.0),
    "path_deg": (0.0, 3.0, -45.0, 45.0),
}
# Points that are compared at most; seconds after the lowest height that still are; over so long (s) what is
# compared fades in and out at the ends of the flight; between rows of it (s); what height and speed
# count outside, where they hold still; slower than this (deg/s) a spin has stopped.
POINTS, AFTER_S, FADES_S, STEP_S, OUTSIDE, STOPPED_DEG_S = 140, 0.7, 0.2, 0.04, 0.3, 20.0


def recorded_axes(heading: Floats, pitch: Floats, bank: Floats) -> tuple[Floats, Floats, Floats]:
    """The same vectors as flying/trace.py has, from what was recorded (deg)."""
    h, p, b = heading * DEG, pitch * DEG, bank * DEG
    nose = np.stack([np.cos(p) * np.sin(h), np.cos(p) * np.cos(h), np.sin(p)], axis=1)
    level = np.stack([np.cos(h), -np.sin(h), np.zeros(len(h))], axis=1)
    up = np.cross(level, nose)
    c, s = np.cos(b)[:, None], np.sin(b)[:, None]
    return nose, c * up + s * level, c * level - s * up


@dataclass(frozen=True, slots=True)
class Flight:
    """The core's flight: rows (R, flying.trace.COLUMNS); as it would be recorded, by the names of what is
    compared of NOISE: (R,), axes nose and right wing (R, 6), controls (R, 4)."""

    rows: Floats
    recorded: Mapping[str, Floats]

    @classmethod
    def each_of(cls, flights: list[Floats], compared: "Compared") -> list["Flight"]:
        """Of several, counted in one go."""
        rows, on, seen = np.vstack(flights), compared.conditions, compared.seen
        all_of_it = {"height": rows[:, HEIGHT] / FT, "g": rows[:, G]}
        if "ias" in seen:
            own = SPEED[on.card.speed_unit] / KT
            all_of_it["ias"] = ias_along(on, rows[:, EAS], rows[:, HEIGHT]) * own
        if {"axes", "turned"} & seen.keys():
            nose, head, right = axes(rows, on.frame.stall)
            if "axes" in seen:
                all_of_it["axes"] = np.hstack([nose, right])
            else:
                all_of_it["turned"] = turned_deg(nose, head, right)
                all_of_it["pitch"] = np.arcsin(np.clip(nose[:, 2], -1.0, 1.0)) / DEG
        if "controls" in seen:
            all_of_it["controls"] = controls(rows, on)
        ends = np.cumsum([len(flight) for flight in flights]).tolist()
        return [
            cls(flight, {name: values[end - len(flight) : end] for name, values in all_of_it.items()})
            for flight, end in zip(flights, ends, strict=True)
        ]


@dataclass(frozen=True, slots=True)
class _Between:
    """Between which rows each moment lies, and how far, (P,): for all columns at once."""

    before: NDArray[np.intp]
    share: Floats

    @classmethod
    def of(cls, clock: Floats, moments: Floats) -> "_Between":
        before = np.searchsorted(clock, moments, side="right") - 1
        before = np.minimum(np.maximum(before, 0), len(clock) - 2)
        begun = clock[before]
        # Where one piece of a flight ends and the next begins stand two rows of the same moment.
        step = np.maximum(clock[before + 1] - begun, 1e-9)
        return cls(before, np.minimum(np.maximum((moments - begun) / step, 0.0), 1.0))

    def at(self, values: Floats) -> Floats:
        """Of (R,) or (R, C)."""
        share = self.share if values.ndim == 1 else self.share[:, None]
        low: Floats = values[self.before]
        return low + (values[self.before + 1] - low) * share


@dataclass(slots=True)
class Compared:
    """time: s since it was found to begin, (P,). seen: what was recorded, by the names of NOISE, (P,) or
    (P, C); noise: how far apart they are taken to be by nothing but noise; coarse: how many times coarser
    than NOISE that is. stops_s: when a spin had stopped; after that nobody knows which way it pulls out."""

    planned: PlannedFigure
    conditions: Conditions
    time: Floats
    seen: dict[str, Floats]
    heading_deg: float
    stops_s: float
    noise: dict[str, float] = field(default_factory=lambda: dict(NOISE))
    coarse: float = 1.0

    def take_as(self, coarse: float) -> None:
        """Everything so many times coarser than NOISE says."""
        self.coarse, self.noise = coarse, {name: coarse * fine for name, fine in NOISE.items()}

    @classmethod
    def of(cls, found: Found, measured: Measured, cleaned: Cleaned, conditions: Conditions) -> "Compared":
        recording, figure = cleaned.recording, figure_of(found.figure.key)
        last = found.last
        # What climbs out of it, as from nose high, was lowest as it began.
        if figure.situation is not None and measured.lowest_s > measured.begins_s + AFTER_S:
            last = min(last, int(np.searchsorted(recording.time, measured.lowest_s + AFTER_S)))
        rows = slice(found.first, last + 1)
        columns = {name: values[rows] for name, values in recording.columns.items()}
        every = max(1, -(-len(columns[Column.HEIGHT]) // POINTS))

        def points(values: Floats) -> Floats:
            whole = max(1, len(values) // every) * every
            means: Floats = values[:whole].reshape(-1, min(every, whole), *values.shape[1:]).mean(axis=1)
            return means

        def recorded(*names: Column) -> bool:
            return recording.has(*names) and all(np.isfinite(columns[name]).all() for name in names)

        time = points(recording.time[rows]) - measured.begins_s
        seen = {"height": points(columns[Column.HEIGHT])}
        if recorded(Column.IAS):
            seen["ias"] = points(columns[Column.IAS])
        if recorded(Column.G):
            seen["g"] = points(columns[Column.G])
        heading, stops = 0.0, np.inf
        if recorded(*ATTITUDE):
            heading = float(columns[Column.HEADING][0])
            three = recorded_axes(*(columns[c] for c in (Column.HEADING, Column.PITCH, Column.BANK)))
            if figure.spin:
                seen["turned"], seen["pitch"] = points(turned_deg(*three)), points(columns[Column.PITCH])
                stops = _stops(time, seen["turned"])
            else:
                seen["axes"] = points(np.hstack([three[0], three[2]]))
        if recorded(*CONTROLS):
            seen["controls"] = points(np.stack([columns[c] for c in CONTROLS], axis=1))
        planned = found.figure.model_copy(update={"start_ft": max(0.0, measured.start_ft)})
        return cls(planned, conditions, time, seen, heading, stops)

    def begins_off(self) -> dict[str, float]:
        """How far the attitude at the beginning is off the planned one, by the names of BEGUN; nothing where
        it was not recorded."""
        at = np.abs(self.time) < BEGINS_S
        if "axes" not in self.seen or not at.any():
            return {}
        usual = {name: number.usual for name, number in STUDENT.items()}
        pitch, bank, _ = (
            float(a[0]) / DEG for a in attitude(self.flown(usual, {}).rows, self.conditions.frame.stall)
        )
        nose, right = self.seen["axes"][at, :3].mean(axis=0), self.seen["axes"][at, 3:].mean(axis=0)
        head = np.cross(right, nose)
        was = float(np.arctan2(-right[2], head[2])) / DEG
        side = -1.0 if self.planned.side == "left" else 1.0
        return {
            "bank_deg": side * ((was - bank + 180.0) % 360.0 - 180.0),
            "path_deg": float(np.arcsin(np.clip(nose[2], -1.0, 1.0))) / DEG - pitch,
        }

    def begun(self, off: Mapping[str, float]) -> PlannedFigure:
        """The figure begun so far off the attitude that was planned, by the names of BEGUN."""
        changed = {name: self.planned.parameter(name) + by for name, by in off.items()}
        return self.planned.model_copy(update={"parameters": {**self.planned.parameters, **changed}})

    def flown(self, numbers: Mapping[str, float], begun: Mapping[str, float]) -> Flight:
        """The core's flight by a pilot of these numbers."""
        (flight,) = self.each_flown({name: np.array([value]) for name, value in numbers.items()}, begun)
        return flight

    def each_flown(self, numbers: Numbers, begun: Mapping[str, float]) -> list[Flight]:
        """The same of several pilots, arrays (N,)."""
        planned = self.begun(begun)
        start_m = planned.start_ft * FT
        course = fly(planned, self.conditions, numbers, start_m, trace=True, step_s=STEP_S)
        return Flight.each_of(traces_of(course), self)

    def apart(self, flight: Flight, recorder: Mapping[str, float], while_flown: Floats) -> dict[str, Floats]:
        """How far apart, in noise, by what is compared: (P * C,). recorder: a number for each of RECORDER."""
        since, clock, as_flown = self.time - recorder["shift_s"], flight.rows[:, TIME], flight.recorded
        now = _Between.of(clock, since)
        counts = np.maximum(while_flown, OUTSIDE)
        late = _Between.of(clock, since - recorder["height_lag_s"])
        height = late.at(as_flown["height"]) + recorder["height_off_ft"]
        off = {"height": (height - self.seen["height"]) * counts}
        if "ias" in self.seen:
            late = _Between.of(clock, since - recorder["ias_lag_s"])
            off["ias"] = (late.at(as_flown["ias"]) - self.seen["ias"]) * counts
        if "g" in self.seen:
            off["g"] = (now.at(as_flown["g"]) + recorder["g_off"] - self.seen["g"]) * while_flown
        if "axes" in self.seen:
            both = _to_heading(now.at(as_flown["axes"]), self.heading_deg + recorder["heading_off_deg"])
            off["axes"] = (both - self.seen["axes"]) / DEG * while_flown[:, None]
        if "turned" in self.seen:
            turned = now.at(as_flown["turned"]) - as_flown["turned"][0] + recorder["heading_off_deg"]
            off["turned"] = (turned - self.seen["turned"]) * while_flown * (self.time <= self.stops_s)
            off["pitch"] = (now.at(as_flown["pitch"]) - self.seen["pitch"]) * while_flown
        if "controls" in self.seen:
            off["controls"] = (now.at(as_flown["controls"]) - self.seen["controls"]) * while_flown[:, None]
        return {name: values.ravel() / self.noise[name] for name, values in off.items()}

    def while_flown(self, flight: Flight, recorder: Mapping[str, float]) -> Floats:
        """How much each point counts, (P,): 1 in the flight, less before it, 0 after it, where nobody knows
        what was flown."""
        since = self.time - recorder["shift_s"]
        begun = np.minimum(np.maximum(since / FADES_S + 0.5, 0.0), 1.0)
        ended = np.minimum(np.maximum((since - flight.rows[-1, TIME]) / FADES_S + 0.5, 0.0), 1.0)
        # Before an upset it is being set up; before anything else it was as at the gate.
        before = 0.0 if figure_of(self.planned.key).upset else OUTSIDE
        return np.asarray((before + (1.0 - before) * begun) * (1.0 - ended))

    def left_out(self, while_flown: Floats) -> Floats:
        """What points outside the flight cost, (P,): as much as noise, so that none is left out for gain."""
        many = sum(values.size for name, values in self.seen.items() if name not in ("height", "ias"))
        share = np.sqrt(1.0 - while_flown**2)
        return np.asarray(share * np.sqrt(many / len(self.time)) / self.coarse)

    def noisy_by(self, apart: Mapping[str, Floats]) -> dict[str, float]:
        """How far apart they stay, in the noise of each, as if it were one standard deviation: a fifth of the
        points may be wild. apart: as `apart` gives it."""
        found = {}
        for name, values in apart.items():
            there = np.abs(values[values != 0.0])
            found[name] = float(np.quantile(there, 0.8)) / 1.28 if len(there) else 1.0
        return found


def _to_heading(both: Floats, heading_deg: float) -> Floats:
    """Nose and right wing (R, 6) turned to the right by this."""
    c, s = np.cos(heading_deg * DEG), np.sin(heading_deg * DEG)
    turned = both.copy()
    for east, north in ((0, 1), (3, 4)):
        turned[:, east] = c * both[:, east] + s * both[:, north]
        turned[:, north] = c * both[:, north] - s * both[:, east]
    return turned


def _stops(time: Floats, turned: Floats) -> float:
    if len(time) < 3:
        return np.inf
    rate = np.abs(np.gradient(turned, time))
    fastest = int(rate.argmax())
    slow = np.flatnonzero(rate[fastest:] < STOPPED_DEG_S)
    return float(time[fastest + int(slow[0])]) if len(slow) else np.inf
