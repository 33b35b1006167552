"""What is asked of a recorder's file, and what is answered: how it was read, what was done to it, and the
figures that were found in it; and flights of known truth as files."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

import numpy as np
from pydantic import Field

from keelturn.air import RHO0
from keelturn.assess.flight import Judged, judge
from keelturn.assess.noted import attempts_of_flight, entries_of_flight
from keelturn.assess.outcome import Became
from keelturn.assess.technique import Technique, technique_of
from keelturn.figures.figure import Side
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.pilots import Who
from keelturn.formats.answers import as_csv, as_json
from keelturn.formats.documents import PlanRequest, SimulateRequest
from keelturn.motion.legs import Floats
from keelturn.noting.entry import Entry
from keelturn.recording.cleaning import Cleaned, CleaningStep, StepKey
from keelturn.recording.flown import through_the_air
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.marking import MOST, Mark
from keelturn.recording.measuring import Measured
from keelturn.recording.problems import Problem, Unread
from keelturn.recording.reading import Form, judgements_missing, on_its_own, read_recording
from keelturn.recording.recorder import Sensors
from keelturn.recording.simulated import simulated
from keelturn.recording.taps import Tap, TappedGo
from keelturn.recording.truth import TrueFigure
from keelturn.recording.ways import InPlan
from keelturn.units import FT, KT, SPEED


def simulated_files(request: SimulateRequest, number: int) -> dict[str, bytes]:
    """A flight of known truth by name of file: the table, the plan that was briefed, and what is true; the
    last one last. Raises ValueError when the load does not fit the card."""
    made = simulated(number, request.conditions())
    plan = request.plan.model_copy(update={"figures": made.plan})
    asked = PlanRequest(**{name: getattr(request, name) for name in PlanRequest.model_fields})
    true = [
        TrueFlown(go.planned, go.who, dict(go.habits), fault, figure)
        for go, fault, figure in zip(made.goes, made.faults, made.table.figures, strict=True)
    ]
    return {
        "flight.csv": as_csv(made.table.columns, made.table.rows.round(3).tolist()),
        "plan.json": as_json(asked.model_copy(update={"plan": plan})),
        "truth.json": as_json(TrueFlight(1, number, made.sensors, tuple(true))),
    }


@dataclass(frozen=True, slots=True)
class TrueFlown:
    """habits: what was added to the usual pilot's numbers, the fault's among them. fault: its key, or
    empty."""

    figure: PlannedFigure
    who: Who
    habits: dict[str, float]
    fault: str
    true: TrueFigure


@dataclass(frozen=True, slots=True)
class TrueFlight:
    version: Literal[1]
    number: int
    sensors: Sensors
    flown: tuple[TrueFlown, ...]


class ReadRequest(PlanRequest):
    """The plan that was flown, as `plan` asks for it; the recording is a file beside it. columns: which of
    its columns is what, guessed when left out. flight: which of several in the file. without: steps of
    cleaning that are left out. figures: as somebody marked them, found when left out."""

    columns: ColumnMap | None = None
    flight: int = Field(1, ge=1)
    without: frozenset[StepKey] = frozenset()
    figures: tuple[Mark, ...] = Field((), max_length=MOST)


@dataclass(frozen=True, slots=True)
class CouldBe:
    title: str
    likely: float


@dataclass(frozen=True, slots=True)
class FigureFound:
    """attempt: which go it is. planned: id of the figure of the plan that it is; null for one that was not
    planned. sure: 0 to 1. taps: what a hand noted of it in flight, on the recording's own time."""

    attempt: str
    key: str
    title: str
    side: Side
    planned: str | None
    place: InPlan
    sure: float
    could_be: tuple[CouldBe, ...]
    measured: Measured
    became: Became | None
    taps: tuple[Tap, ...] = ()


@dataclass(frozen=True, slots=True)
class FlightRead:
    """flights: how many the file has, and flight: which of these. without, marks, taps: as it was asked
    to be read. began: when second 0 was, first_at: when its first row was, where the file says it. columns:
    how the table was read. missing: what cannot be judged, and for want of what."""

    version: Literal[1]
    form: Form
    flights: int
    rows: int
    began: datetime | None
    aircraft: str
    columns: ColumnMap | None
    problems: tuple[Problem, ...]
    counts: dict[Unread, int]
    cleaned: tuple[CleaningStep, ...]
    missing: tuple[str, ...]
    figures: tuple[FigureFound, ...]
    flight: int = 1
    without: tuple[StepKey, ...] = ()
    marks: tuple[Mark, ...] = ()
    first_at: datetime | None = None
    taps: tuple[TappedGo, ...] = ()


@dataclass(frozen=True, slots=True)
class Trace:
    """A figure as it was recorded, from a little before to a little after, arrays of the same length; empty
    where it was not recorded. seconds: since it began. ias: in the aircraft's unit. east_ft, north_ft:
    through the air, from where it began (recording/flown.py)."""

    seconds: tuple[float, ...]
    height_ft: tuple[float, ...]
    ias: tuple[float, ...]
    g: tuple[float, ...]
    pitch_deg: tuple[float, ...] = ()
    bank_deg: tuple[float, ...] = ()
    heading_deg: tuple[float, ...] = ()
    east_ft: tuple[float, ...] = ()
    north_ft: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Debriefed:
    """A recording read for a debrief: what is answered, the names of its columns, what it says of each
    attempt as entries, and the trace of each by the attempt's id."""

    flight: FlightRead
    headers: tuple[str, ...]
    entries: tuple[Entry, ...]
    traces: dict[str, Trace]


def read_flight(request: ReadRequest, content: bytes) -> FlightRead:
    """Raises Wrong when nothing of the file can be read, ValueError when the load does not fit the card."""
    return _read(content, _how(request), request.plan.figures, request.conditions(), "recorder").flight


@dataclass(frozen=True, slots=True)
class FlightJudged:
    """flight: as `read` answers; technique: how each of its attempts was flown, by the attempt's id."""

    version: Literal[1]
    flight: FlightRead
    technique: dict[str, Technique]


def judge_flight(request: ReadRequest, content: bytes) -> FlightJudged:
    """Raises as `read_flight` does."""
    conditions = request.conditions()
    read = _read(content, _how(request), request.plan.figures, conditions, "recorder")
    technique = {name: technique_of(one, read.cleaned, conditions) for name, one in read.judged.items()}
    return FlightJudged(1, read.flight, technique)


def _how(request: ReadRequest) -> "HowToRead":
    return HowToRead(request.columns, request.flight, request.without, request.figures)


@dataclass(frozen=True, slots=True)
class HowToRead:
    """As ReadRequest has them. taps: what was noted in flight, by the server's clock."""

    columns: ColumnMap | None = None
    flight: int = 1
    without: frozenset[StepKey] = frozenset()
    marks: tuple[Mark, ...] = ()
    taps: tuple[TappedGo, ...] = ()


def debriefed(
    content: bytes,
    asked: HowToRead,
    plan: Sequence[PlannedFigure],
    conditions: Conditions,
    device: str,
    at: datetime,
) -> Debriefed:
    """device: what tells this recording from others; at: when it was read. Raises Wrong when nothing of the
    file can be read."""
    read = _read(content, asked, plan, conditions, device)
    return Debriefed(
        read.flight,
        read.headers,
        entries_of_flight(tuple(read.judged.values()), plan, device, at),
        {name: _trace(one, read.cleaned, conditions) for name, one in read.judged.items()},
    )


@dataclass(frozen=True, slots=True)
class _Read:
    """judged: by the attempt's id."""

    flight: FlightRead
    headers: tuple[str, ...]
    cleaned: Cleaned
    judged: dict[str, Judged]


def _read(
    content: bytes, asked: HowToRead, plan: Sequence[PlannedFigure], conditions: Conditions, device: str
) -> _Read:
    reading = read_recording(content, asked.columns)
    recording = on_its_own(reading.flights, asked.flight - 1)
    cleaned, found = judge(recording, plan, conditions, asked.without, asked.marks, asked.taps)
    judged = dict(zip(attempts_of_flight(found, device), found, strict=True))
    flight = FlightRead(
        1,
        reading.form,
        len(reading.flights),
        reading.rows,
        recording.zero,
        reading.aircraft,
        reading.columns,
        reading.problems,
        reading.counts,
        cleaned.steps,
        judgements_missing(recording),
        tuple(_as_found(one, attempt) for attempt, one in judged.items()),
        asked.flight,
        tuple(sorted(asked.without)),
        asked.marks,
        recording.first_at,
        asked.taps,
    )
    return _Read(flight, reading.headers, cleaned, judged)


# Shown before and after a figure (s), and points of it at most.
AROUND_S, MOST_POINTS = 3.0, 320


def _trace(judged: Judged, cleaned: Cleaned, conditions: Conditions) -> Trace:
    flown = cleaned.flown
    begins, ends = judged.measured.begins_s, judged.measured.ends_s
    low, high = np.searchsorted(flown.time, [begins - AROUND_S, ends + AROUND_S])
    at = np.unique(np.linspace(int(low), int(high) - 1, min(MOST_POINTS, int(high - low))).astype(int))
    own = KT / SPEED[conditions.card.speed_unit]
    thin = conditions.air.density(float(np.mean(flown.height)) * FT) / RHO0
    east, north = through_the_air(flown, thin)

    def points(values: Floats, digits: int) -> tuple[float, ...]:
        return tuple(values[at].round(digits).tolist()) if np.isfinite(values[at]).all() else ()

    return Trace(
        points(flown.time - begins, 2),
        points(flown.height, 1),
        points(flown.ias * own, 1),
        points(flown.g, 2),
        points(flown.pitch, 1),
        points(flown.bank, 1),
        points(flown.heading, 1),
        points(east - np.interp(begins, flown.time, east), 0),
        points(north - np.interp(begins, flown.time, north), 0),
    )


def read_for(
    content: bytes, asked: HowToRead, plan: Sequence[PlannedFigure], conditions: Conditions, device: str
) -> tuple[Cleaned, dict[str, Judged]]:
    """The same as `debriefed` finds, by the attempt's id. Raises Wrong when nothing of the file can be
    read."""
    read = _read(content, asked, plan, conditions, device)
    return read.cleaned, read.judged


def _as_found(judged: Judged, attempt: str) -> FigureFound:
    found = judged.found
    return FigureFound(
        attempt,
        found.figure.key,
        found.figure.title,
        found.figure.side,
        found.planned_id,
        found.place,
        round(found.sure, 3),
        tuple(CouldBe(figure.title, round(likely, 3)) for figure, likely in found.others if likely >= 0.01),
        judged.measured,
        judged.became,
        () if judged.tapped is None else judged.tapped.taps,
    )
