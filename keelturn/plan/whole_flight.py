"""The flight as computed: what the checks of the whole of it look at."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from keelturn.aircraft.loading import LoadPoint
from keelturn.figures.planned import PlannedFigure
from keelturn.plan.chain import Exposure
from keelturn.plan.document import PlanDocument
from keelturn.plan.ground import Drift
from keelturn.working import Answer


@dataclass(frozen=True, slots=True)
class Flight:
    """figures: those that could be computed."""

    plan: PlanDocument
    figures: Sequence[PlannedFigure]
    points: Sequence[LoadPoint]
    minutes: Answer
    people: Exposure
    wind: Drift
    titles: Mapping[str, str]
