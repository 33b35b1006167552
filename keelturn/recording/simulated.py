"""Flights of known truth, to count by how well recordings are read: figures of the whole catalogue, flown by
students each with habits of their own, now and then left out, repeated or not planned, and written by
recorders of every quality. The same number gives the same flight.

Shares and sizes are ours: they are meant to be worse than a usual flight."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from keelturn.figures.catalogue import FIGURES, figure_of
from keelturn.figures.figure import Fault, Figure
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.pilots import RANGES, STUDENT
from keelturn.recording.recorder import Sensors, Table, record_goes
from keelturn.recording.truth import Go
from keelturn.units import FT


@dataclass(frozen=True, slots=True)
class Simulated:
    """plan: what was briefed; goes: what was flown, and by whom; faults: of each go, the key of the one that
    was flown into it, or empty; table: what the recorder wrote."""

    number: int
    plan: tuple[PlannedFigure, ...]
    goes: tuple[Go, ...]
    faults: tuple[str, ...]
    sensors: Sensors
    table: Table


FEWEST, MOST = 5, 9
LEFT_OUT, REPEATED, NOT_PLANNED, AT_FAULT = 0.08, 0.15, 0.08, 0.4
RATES = (1.0, 4.0, 8.0, 10.0, 16.0, 16.0, 25.0, 64.0)
# A student's own number is this share of the whole spread away from the usual; the rest is from go to go.
OWN = 0.7


def simulated(number: int, conditions: Conditions, rate_hz: float | None = None) -> Simulated:
    """rate_hz: of the recorder, any of those that there are when left out."""
    chance = np.random.default_rng([14, number])
    figures = [figure for figure in FIGURES if conditions.spin is not None or figure.spin is None]
    chosen = chance.choice(len(figures), int(chance.integers(FEWEST, MOST + 1)), replace=False)
    plan = [_planned(f"f{n}", figures[int(at)], chance) for n, at in enumerate(chosen, 1)]
    student = {name: float(chance.normal()) for name, usual in STUDENT.items() if usual.varies > 0}
    goes: list[Go] = []
    faults: list[str] = []

    def add(planned: PlannedFigure) -> None:
        fault = _fault(planned, chance)
        go = Go(planned, "student", _habits(student, fault, chance))
        if not _ends(go, conditions):
            go, fault = Go(planned), None
        if _ends(go, conditions):
            goes.append(go)
            faults.append("" if fault is None else fault.key)

    for planned in plan:
        if chance.random() < LEFT_OUT:
            continue
        add(planned)
        if chance.random() < REPEATED:
            add(planned)
        if chance.random() < NOT_PLANNED:
            add(_planned("unplanned", figures[int(chance.integers(len(figures)))], chance))
    sensors = sensors_of(chance, rate_hz)
    return Simulated(
        number, tuple(plan), tuple(goes), tuple(faults), sensors, record_goes(goes, conditions, sensors)
    )


def _planned(name: str, figure: Figure, chance: np.random.Generator) -> PlannedFigure:
    settings = {}
    if "turns" in figure.parameters and figure.key == "spin":
        settings["turns"] = float(chance.choice([1.0, 1.0, 2.0, 3.0]))
    return PlannedFigure(
        id=name,
        key=figure.key,
        side="left" if chance.random() < 0.5 else "right",
        start_ft=float(chance.integers(55, 80) * 100),
        parameters=settings,
    )


def _fault(planned: PlannedFigure, chance: np.random.Generator) -> Fault | None:
    known = [fault for fault in figure_of(planned.key).faults if fault.numbers]
    return known[int(chance.integers(len(known)))] if known and chance.random() < AT_FAULT else None


def _habits(
    student: Mapping[str, float], fault: Fault | None, chance: np.random.Generator
) -> dict[str, float]:
    """Away from the usual numbers: the student's own part, the day's, and the fault."""
    habits = {}
    for name, own in student.items():
        usual = STUDENT[name]
        away = usual.varies * (OWN * own + np.sqrt(1.0 - OWN**2) * float(chance.normal()))
        habits[name] = float(np.clip(usual.usual + away, usual.least, usual.most)) - usual.usual
    for name, more in (fault.numbers if fault is not None else {}).items():
        middle, reach = STUDENT[name].usual, RANGES[name]
        meant = middle + habits.get(name, 0.0) + more
        habits[name] = float(np.clip(meant, reach.least, reach.most)) - middle
    return habits


def _ends(go: Go, conditions: Conditions) -> bool:
    """Whether it comes to an end at all, above the ground."""
    course = fly(go.planned, conditions, pilot_numbers(go.who, **go.habits), go.planned.start_ft * FT)
    return bool(course.made[0] > 0) and float(course.lowest[0]) / FT > conditions.place.elevation_ft + 300.0


def sensors_of(chance: np.random.Generator, rate_hz: float | None = None) -> Sensors:
    """A recorder of any quality."""
    worse = float(chance.uniform(0.5, 2.0))
    defect = [float(chance.random() < share) for share in (0.3, 0.3, 0.2, 0.3, 0.2)]
    return Sensors(
        rate_hz=rate_hz or float(chance.choice(RATES)),
        height_noise_ft=4.0 * worse,
        ias_noise_kt=0.7 * worse,
        g_noise=0.03 * worse,
        angle_noise_deg=0.5 * worse,
        height_lag_s=defect[0] * float(chance.uniform(0.2, 0.8)),
        ias_lag_s=defect[1] * float(chance.uniform(0.1, 0.4)),
        g_bias=defect[2] * float(chance.normal(0.0, 0.05)),
        dropouts_share=defect[3] * float(chance.uniform(0.0, 0.03)),
        spikes_share=defect[4] * 0.0005,
        clock_offset_s=float(chance.uniform(-600, 600)),
        controls=bool(chance.random() < 0.5),
        seed=int(chance.integers(1, 2**31)),
    )
