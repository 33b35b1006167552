"""What is asked of a recorder's file, and what is answered: how it was read, what was done to it, and the
figures that were found in it; and flights of known truth as files."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal

import numpy as np
from pydantic import Field

from keelturn.assess.flight import Judged, judge
from keelturn.assess.noted import attempts_of_flight, entries_of_flight
from keelturn.assess.outcome import Became
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.pilots import Who
from keelturn.formats.answers import as_csv, as_json
from keelturn.formats.documents import PlanRequest, SimulateRequest
from keelturn.motion.legs import Floats
from keelturn.noting.entry import Entry
from keelturn.recording.cleaning import Cleaned, CleaningStep, StepKey
from keelturn.recording.finding import InPlan
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.measuring import Measured
from keelturn.recording.problems import Problem, Unread
from keelturn.recording.reading import Form, judgements_missing, on_its_own, read_recording
from keelturn.recording.recorder import Sensors
from keelturn.recording.simulated import simulated
from keelturn.recording.truth import TrueFigure
from keelturn.units import KT, SPEED


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
    cleaning that are left out."""

    columns: ColumnMap | None = None
    flight: int = Field(1, ge=1)
    without: frozenset[StepKey] = frozenset()


@dataclass(frozen=True, slots=True)
class CouldBe:
    title: str
    likely: float


@dataclass(frozen=True, slots=True)
class FigureFound:
    """attempt: which go it is. planned: id of the figure of the plan that it is; null for one that was not
    planned. sure: 0 to 1."""

    attempt: str
    key: str
    title: str
    planned: str | None
    place: InPlan
    sure: float
    could_be: tuple[CouldBe, ...]
    measured: Measured
    became: Became | None


@dataclass(frozen=True, slots=True)
class FlightRead:
    """flights: how many the file has. began: when second 0 was, where the file says it. columns: how the
    table was read. missing: what cannot be judged, and for want of what."""

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


@dataclass(frozen=True, slots=True)
class Trace:
    """A figure as it was recorded, from a little before to a little after, arrays of the same length; empty
    where it was not recorded. seconds: since it began. ias: in the aircraft's unit."""

    seconds: tuple[float, ...]
    height_ft: tuple[float, ...]
    ias: tuple[float, ...]
    g: tuple[float, ...]


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
    asked = HowToRead(request.columns, request.flight, request.without)
    return debriefed(content, asked, request.plan.figures, request.conditions(), "recorder", EPOCH).flight


EPOCH = datetime(1970, 1, 1, tzinfo=UTC)


@dataclass(frozen=True, slots=True)
class HowToRead:
    """As ReadRequest has them."""

    columns: ColumnMap | None = None
    flight: int = 1
    without: frozenset[StepKey] = frozenset()


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
    reading = read_recording(content, asked.columns)
    recording = on_its_own(reading.flights, asked.flight - 1)
    cleaned, judged = judge(recording, plan, conditions, asked.without)
    attempts = attempts_of_flight(judged, device)
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
        tuple(_as_found(one, attempt) for one, attempt in zip(judged, attempts, strict=True)),
    )
    return Debriefed(
        flight,
        reading.headers,
        entries_of_flight(judged, plan, device, at),
        {name: _trace(one, cleaned, conditions) for one, name in zip(judged, attempts, strict=True)},
    )


# Shown before and after a figure (s), and points of it at most.
AROUND_S, MOST_POINTS = 3.0, 240


def _trace(judged: Judged, cleaned: Cleaned, conditions: Conditions) -> Trace:
    flown = cleaned.flown
    begins, ends = judged.measured.begins_s, judged.measured.ends_s
    low, high = np.searchsorted(flown.time, [begins - AROUND_S, ends + AROUND_S])
    at = np.unique(np.linspace(int(low), int(high) - 1, min(MOST_POINTS, int(high - low))).astype(int))
    own = KT / SPEED[conditions.card.speed_unit]

    def points(values: Floats, digits: int) -> tuple[float, ...]:
        return tuple(values[at].round(digits).tolist()) if np.isfinite(values[at]).all() else ()

    return Trace(
        points(flown.time - begins, 2),
        points(flown.height, 1),
        points(flown.ias * own, 1),
        points(flown.g, 2),
    )


def _as_found(judged: Judged, attempt: str) -> FigureFound:
    found = judged.found
    return FigureFound(
        attempt,
        found.figure.key,
        found.figure.title,
        found.planned_id,
        found.place,
        round(found.sure, 3),
        tuple(CouldBe(figure.title, round(likely, 3)) for figure, likely in found.others if likely >= 0.01),
        judged.measured,
        judged.became,
    )
