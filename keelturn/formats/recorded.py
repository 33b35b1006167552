"""What is asked of a recorder's file, and what is answered: how it was read, what was done to it, and the
figures that were found in it; and flights of known truth as files."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from pydantic import Field

from keelturn.assess.flight import Judged, judge
from keelturn.assess.outcome import Became
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.pilots import Who
from keelturn.formats.answers import as_csv, as_json
from keelturn.formats.documents import PlanRequest, SimulateRequest
from keelturn.recording.cleaning import Step, StepKey
from keelturn.recording.finding import Place
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.measuring import Measured
from keelturn.recording.problems import Kind, Problem
from keelturn.recording.reading import Form, judgements_missing, on_its_own, read_recording
from keelturn.recording.recorder import Sensors
from keelturn.recording.simulated import simulated
from keelturn.recording.truth import TrueFigure


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
    """planned: id of the figure of the plan that it is; null for one that was not planned. sure: 0 to 1."""

    key: str
    title: str
    planned: str | None
    place: Place
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
    counts: dict[Kind, int]
    cleaned: tuple[Step, ...]
    missing: tuple[str, ...]
    figures: tuple[FigureFound, ...]


def read_flight(request: ReadRequest, content: bytes) -> FlightRead:
    """Raises Wrong when nothing of the file can be read, ValueError when the load does not fit the card."""
    conditions = request.conditions()
    reading = read_recording(content, request.columns)
    recording = on_its_own(reading.flights, request.flight - 1)
    cleaned, judged = judge(recording, request.plan.figures, conditions, request.without)
    return FlightRead(
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
        tuple(_as_found(one) for one in judged),
    )


def _as_found(judged: Judged) -> FigureFound:
    found = judged.found
    return FigureFound(
        found.figure.key,
        found.figure.title,
        found.planned_id,
        found.place,
        round(found.sure, 3),
        tuple(CouldBe(figure.title, round(likely, 3)) for figure, likely in found.others if likely >= 0.01),
        judged.measured,
        judged.became,
    )
