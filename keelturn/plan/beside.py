"""The schools of recovery for one figure beside each other: what each would cost the same pilot.

Which are shown is decided here for every reader: the flight manual's only where the card has a procedure, a
pull-through only where the lift points below the horizon."""

from dataclasses import dataclass, replace

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import flown_of, pilot_numbers
from keelturn.flying.course import fly, school_of
from keelturn.motion.legs import Numbers
from keelturn.recoveries.schools import FLIGHT_MANUAL, School, schools_for
from keelturn.units import FT
from keelturn.working import Answer, worked

NOT_THIS_TYPE = "The card says that this does not stop it."


@dataclass(frozen=True, slots=True)
class SchoolBeside:
    """lost: start to lowest point, None where the figure cannot be flown so."""

    key: str
    name: str
    source: str
    steps: tuple[str, ...]
    lost: Answer | None
    in_use: bool
    compared_only: bool
    note: str = ""


def can_pull_through(planned: PlannedFigure) -> bool:
    """Whether the lift points below the horizon, so that pulling instead of rolling goes through the
    vertical."""
    figure = figure_of(planned.key)
    bank = planned.parameter("bank_deg") if "bank_deg" in figure.parameters else 0.0
    return figure.situation == "inverted" or (figure.situation == "nose low" and bank >= 90.0)


def schools_beside(
    planned: PlannedFigure, conditions: Conditions, pilot: Numbers | None = None
) -> tuple[SchoolBeside, ...]:
    """pilot: the usual student's numbers where left out. Raises ValueError as `fly` does."""
    numbers = pilot_numbers("student") if pilot is None else pilot
    in_use = school_of(planned, conditions)
    return tuple(
        replace(_beside(school, in_use, planned, conditions, numbers), note=_note(school, conditions))
        for school in _shown(planned, in_use)
    )


def _shown(planned: PlannedFigure, in_use: School | None) -> list[School]:
    figure = figure_of(planned.key)
    through = can_pull_through(planned)
    return [
        # The manual's steps are the card's.
        in_use if in_use is not None and school.key == in_use.key else school
        for school in (schools_for(figure.situation, figure.spin) if figure.situation else ())
        if (through or not school.compared_only)
        and (school.key != FLIGHT_MANUAL or (in_use is not None and in_use.key == FLIGHT_MANUAL))
    ]


def _note(school: School, conditions: Conditions) -> str:
    spin = conditions.card.spin
    return NOT_THIS_TYPE if spin is not None and school.name in spin.does_not_stop else ""


def _beside(
    school: School,
    in_use: School | None,
    planned: PlannedFigure,
    conditions: Conditions,
    numbers: Numbers,
) -> SchoolBeside:
    course = fly(planned, conditions, numbers, planned.start_ft * FT, trace=True, school=school)
    flown = flown_of(planned, conditions, course)
    lost = worked(
        f"Likely loss, {school.name.lower()}",
        flown.deepest_ft,
        "ft",
        "this pilot's flight by this school",
        rounding="up",
    )
    return SchoolBeside(
        school.key,
        school.name,
        f"{school.source.kind}: {school.source.words}",
        school.steps,
        lost if flown.made else None,
        in_use is not None and school.key == in_use.key,
        school.compared_only,
    )
