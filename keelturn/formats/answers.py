"""What the command line answers, made from a request. Nothing is read or written here."""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from pydantic import TypeAdapter

from keelturn.assess.loss import LossAccount, loss_account
from keelturn.assess.where import Where, where_height_went
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import Flown, flown_of
from keelturn.flying.course import fly
from keelturn.flying.entry import entry_speed
from keelturn.flying.numbers import ias_of
from keelturn.flying.pilots import usual_of
from keelturn.flying.trace import ALPHA_0, ALPHA_STALL
from keelturn.formats.documents import AssessRequest, PlanRequest, PredictRequest, SimulateRequest, StartState
from keelturn.margins.gates import VERDICTS, EntryGate, entry_gate, entry_map
from keelturn.margins.influence import QUOTED, Losses, losses
from keelturn.plan.beside import schools_beside
from keelturn.plan.proposal import Proposal, propose
from keelturn.plan.sequence import PlanAnswer, compute_plan
from keelturn.recording.recorder import record
from keelturn.units import DEG, FT, KT
from keelturn.working import in_words


@dataclass(frozen=True, slots=True)
class SchoolCost:
    school: str
    lost_ft: float | None
    compared_only: bool


@dataclass(frozen=True, slots=True)
class MapAnswer:
    """verdict[i][j]: for speed i and pull j."""

    entry_speeds: list[float]
    pulls_g: list[float]
    verdict: list[list[str]]


@dataclass(frozen=True, slots=True)
class FigurePrediction:
    id: str
    key: str
    title: str
    approved: bool
    gate: EntryGate
    entry_ias: float
    flown: Flown
    spread: Losses | None
    schools: tuple[SchoolCost, ...]
    entry_map: MapAnswer | None


@dataclass(frozen=True, slots=True)
class Refusal:
    """A figure that could not be computed, and why."""

    id: str
    key: str
    why: str


@dataclass(frozen=True, slots=True)
class Prediction:
    version: Literal[1]
    speed_unit: str
    weight_lb: float
    stall_ias: float
    figures: tuple[FigurePrediction, ...]
    refused: tuple[Refusal, ...]
    caution: str


@dataclass(frozen=True, slots=True)
class PlanReply:
    version: Literal[1]
    plan: PlanAnswer
    proposal: Proposal | None
    caution: str


@dataclass(frozen=True, slots=True)
class Assessed:
    figure: str
    where: Where | None
    noted: LossAccount | None


@dataclass(frozen=True, slots=True)
class Assessment:
    version: Literal[1]
    flown: tuple[Assessed, ...]
    caution: str


@dataclass(frozen=True, slots=True)
class Span:
    id: str
    from_s: float
    to_s: float


@dataclass(frozen=True, slots=True)
class Recording:
    """columns: names with units, in order. rows: the table. figures: when each was flown, on the true
    clock."""

    version: Literal[1]
    columns: tuple[str, ...]
    rows: list[list[float]]
    figures: tuple[Span, ...]


ANSWERS: dict[str, Any] = {
    "prediction": Prediction,
    "plan_reply": PlanReply,
    "assessment": Assessment,
    "recording": Recording,
}
CAUTION = (
    "A model for training. The flight manual, local rules and a licensed instructor decide; nothing here says"
    " that a flight is without danger."
)


def as_json(answer: object) -> bytes:
    """The answer as a JSON document."""
    made: bytes = TypeAdapter(type(answer)).dump_json(answer, indent=1)
    return made


def as_csv(columns: Sequence[str], rows: Sequence[Sequence[float]]) -> bytes:
    text = io.StringIO()
    csv.writer(text, lineterminator="\n").writerows([columns, *rows])
    return bytes(text.getvalue(), "utf-8")


def with_start(planned: PlannedFigure, start: StartState, conditions: Conditions) -> PlannedFigure:
    """The figure begun from a state given from outside. Raises ValueError for a number that the figure does
    not have."""
    figure = figure_of(planned.key)
    changed: dict[str, Any] = {}
    settings = dict(planned.parameters)
    speed = start.ias
    if start.eas_kt is not None:
        speed = ias_of(conditions, start.eas_kt * KT, planned.start_ft * FT)
    if speed is not None:
        changed["entry_ias"] = speed
    path = start.path_deg
    if start.pitch_deg is not None:
        eas = conditions.card.speed_si(speed if speed is not None else entry_speed(planned, conditions).value)
        share = min(1.0, float(np.cos(start.pitch_deg * DEG)) * (conditions.frame.stall / max(eas, 1.0)) ** 2)
        path = start.pitch_deg - (ALPHA_0 + (ALPHA_STALL - ALPHA_0) * share) / DEG
    for name, value in (
        ("bank_deg", None if start.bank_deg is None else abs(start.bank_deg)),
        ("path_deg", path),
        ("power", start.power),
        ("flap", None if start.flap is None else float(start.flap)),
    ):
        if value is None:
            continue
        if name not in figure.parameters:
            raise ValueError(f"start.{name}: a {figure.name} is not begun from a given {name}; leave it out")
        settings[name] = value
    if start.bank_deg is not None and figure.has_sides:
        changed["side"] = "left" if start.bank_deg < 0 else "right"
    return PlannedFigure.model_validate({**planned.model_dump(), **changed, "parameters": settings})


def predict(request: PredictRequest) -> Prediction:
    """Raises ValueError when the load does not fit the card, or a start does not fit its figure."""
    conditions = request.conditions()
    given_start = request.start != StartState()
    found, refused = [], []
    for planned in request.planned():
        if given_start:
            planned = with_start(planned, request.start, conditions)
        try:
            found.append(_prediction(planned, request, conditions))
        except ValueError as error:
            refused.append(Refusal(planned.id, planned.key, str(error)))
    return Prediction(
        1,
        conditions.card.speed_unit,
        conditions.weight_lb,
        conditions.stall.value,
        tuple(found),
        tuple(refused),
        CAUTION,
    )


def _prediction(planned: PlannedFigure, request: PredictRequest, conditions: Conditions) -> FigurePrediction:
    given = request.pilot.pilot()
    pilot = usual_of(given)
    gate = entry_gate(planned, conditions)
    if planned.entry_ias is None:
        planned = planned.model_copy(update={"entry_ias": gate.best.value})
    course = fly(planned, conditions, pilot, planned.start_ft * FT, trace=True)
    spread = losses(planned, conditions, given, request.pilots) if request.pilots >= 20 else None
    if spread is not None and spread.pilots < QUOTED:
        spread = replace(spread, p99_ft=None)
    drawn = None
    if request.entry_map and "pull_g" in figure_of(planned.key).parameters:
        made = entry_map(planned, conditions)
        drawn = MapAnswer(
            made.speeds.round(1).tolist(),
            made.pulls.round(2).tolist(),
            [[VERDICTS[v] for v in row] for row in made.verdict],
        )
    return FigurePrediction(
        planned.id,
        planned.key,
        planned.title,
        planned.key in conditions.card.approved,
        gate,
        entry_speed(planned, conditions).value,
        flown_of(planned, conditions, course),
        spread,
        tuple(
            SchoolCost(s.name, None if s.lost is None else s.lost.value, s.compared_only)
            for s in schools_beside(planned, conditions, pilot)
        ),
        drawn,
    )


def plan(request: PlanRequest) -> PlanReply:
    """Raises ValueError when the load does not fit the card."""
    conditions = request.conditions()
    return PlanReply(
        1,
        compute_plan(request.plan, conditions),
        propose(request.plan, conditions) if request.propose else None,
        CAUTION,
    )


def assess(request: AssessRequest) -> Assessment:
    """Raises ValueError when the load does not fit the card."""
    conditions = request.conditions()
    found = []
    for flown in request.flown:
        where = (
            None
            if flown.pilot is None
            else where_height_went(flown.figure, conditions, flown.pilot.fixed, flown.pilot.who)
        )
        noted = None if flown.noted is None else loss_account(flown.noted, conditions)
        found.append(Assessed(flown.figure.title, where, noted))
    return Assessment(1, tuple(found), CAUTION)


def simulate(request: SimulateRequest) -> Recording:
    """Raises ValueError when the load does not fit the card or a figure cannot be computed."""
    table = record(
        request.plan.figures, request.conditions(), request.sensors, request.pilot.who, request.pilot.numbers
    )
    spans = tuple(Span(f.id, f.begins_s, f.ends_s) for f in table.figures)
    return Recording(1, table.columns, table.rows.round(3).tolist(), spans)


def as_table(prediction: Prediction) -> str:
    """The prediction as an instructor reads it: gate, loss, exit, g and top speed of every figure."""
    unit = prediction.speed_unit
    names = ("figure", "lowest", "entry", "highest", "likely", "19 in 20", "rise", "exit", "g", "top")
    lines = [
        (
            f"{prediction.weight_lb:.0f} lb, Vs {prediction.stall_ias:.0f} {unit}; heights in ft, speeds in"
            f" {unit}"
        ),
        _line(*names),
    ]
    for made in prediction.figures:
        flown, gate = made.flown, made.gate
        low, high = (g.number if g else "-" for g in (gate.lowest, gate.highest))
        spread = _feet(made.spread.p95_ft) if made.spread and made.spread.p95_ft is not None else "-"
        said = [] if made.approved else ["not approved on this card"]
        said += [f"{flown.shortfall.words} ({flown.shortfall.part.lower()})"] if flown.shortfall else []
        lines.append(
            "  ".join(
                [
                    _line(
                        made.title,
                        low,
                        f"{made.entry_ias:.0f}",
                        high,
                        _feet(flown.deepest_ft),
                        spread,
                        _feet(flown.rise_ft),
                        f"{flown.exit_ias:.0f}",
                        f"{flown.most_g:.1f}",
                        f"{flown.fastest_ias:.0f}",
                    ),
                    *said,
                    *([gate.would_help] if gate.would_help else []),
                ]
            )
        )
    lines += [f"{refusal.key:36s} {refusal.why}" for refusal in prediction.refused]
    return "\n".join([*lines, prediction.caution])


def _line(name: str, *columns: str) -> str:
    return f"{name:36s}" + "".join(f"{column:>9s}" for column in columns)


def _feet(height_ft: float) -> str:
    return in_words(height_ft, "ft", "up").removesuffix(" ft")
