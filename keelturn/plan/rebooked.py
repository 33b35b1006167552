"""What becomes of a plan and its brief when the sortie is flown on another day, with another instructor or in
another aircraft
(common practice, no published source)."""

from keelturn.aircraft.loading import Load
from keelturn.plan.briefing import Brief
from keelturn.plan.document import PlanDocument
from keelturn.weather.day import Day


def on_another_day(plan: PlanDocument, brief: Brief) -> tuple[PlanDocument, Brief]:
    """Weather and the student's number are of a day; what was ticked is ticked again."""
    return plan.model_copy(update={"day": Day(), "feeling": None}), unticked(brief)


def with_another_instructor(
    plan: PlanDocument, brief: Brief, before_lb: float, after_lb: float
) -> tuple[PlanDocument, Brief]:
    """At the new one's weight (lb), without the overrides that the one before answered for."""
    load = with_weight(plan.load, before_lb, after_lb)
    return plan.model_copy(update={"load": load, "overrides": ()}), unticked(brief)


def in_another_aircraft(plan: PlanDocument, brief: Brief, load: Load) -> tuple[PlanDocument, Brief]:
    """With a load of its own and the entry speeds of its card, without the overrides that were given for the
    one before."""
    figures = tuple(figure.model_copy(update={"entry_ias": None}) for figure in plan.figures)
    return plan.model_copy(update={"load": load, "figures": figures, "overrides": ()}), unticked(brief)


def unticked(brief: Brief) -> Brief:
    return brief.model_copy(update={"checked": ()})


def with_weight(load: Load, before_lb: float, after_lb: float) -> Load:
    """The weight changed in the seat that is nearer to the one before; in the second where both are."""
    first = abs(load.front_lb - before_lb) < abs(load.rear_lb - before_lb)
    return load.model_copy(update={"front_lb" if first else "rear_lb": after_lb})
