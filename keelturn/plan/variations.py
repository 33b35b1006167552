"""Changes that may make a plan fit: other fuel, fewer turns, a gentler figure, without a figure."""

from collections.abc import Mapping, Sequence

from keelturn.aircraft.loading import AVGAS_LB_USGAL
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.plan.document import PlanDocument

Variation = tuple[float, str, PlanDocument]


def variations(plan: PlanDocument, conditions: Conditions) -> list[Variation]:
    """Changes to try, (size, words, plan), smallest first: less or more fuel, fewer turns, an incipient spin
    for a whole one, without a figure; each for one figure and for all of its kind at once."""
    found = _other_fuel(plan, conditions)
    for key in dict.fromkeys(f.key for f in plan.figures):
        its = [at for at, f in enumerate(plan.figures) if f.key == key]
        for ats in [[at] for at in its] + ([its] if len(its) > 1 else []):
            found += _milder(plan, ats)
    return sorted(found, key=lambda change: change[0])


def _other_fuel(plan: PlanDocument, conditions: Conditions) -> list[Variation]:
    found: list[Variation] = []
    for tank in conditions.card.balance.tanks:
        aboard = plan.load.fuel_usgal.get(tank.name, 0.0)
        for less in (2.0, 4.0, 6.0):
            if aboard - less >= 4.0:
                load = plan.load.model_copy(
                    update={"fuel_usgal": {**plan.load.fuel_usgal, tank.name: aboard - less}}
                )
                words = f"{less:g} US gal less in {tank.name} ({less * AVGAS_LB_USGAL:.0f} lb)"
                found.append((less, words, plan.model_copy(update={"load": load})))
        for more in (2.0, 4.0, 8.0):
            if tank.feeds_aerobatics and aboard + more <= tank.usable_usgal:
                load = plan.load.model_copy(
                    update={"fuel_usgal": {**plan.load.fuel_usgal, tank.name: aboard + more}}
                )
                found.append(
                    (
                        more + 0.5,
                        f"{more:g} US gal more in {tank.name}",
                        plan.model_copy(update={"load": load}),
                    )
                )
    return found


def _milder(plan: PlanDocument, ats: Sequence[int]) -> list[Variation]:
    """The same figure or figures (of one kind) with less asked of them."""
    figures = [plan.figures[at] for at in ats]
    known, count = figure_of(figures[0].key), len(ats)
    numbers = " and ".join(str(at + 1) for at in ats)
    found: list[Variation] = []
    turns = min(f.parameter("turns") for f in figures) if "turns" in known.parameters else 1.0
    for fewer in (1.0, 2.0, 3.0):
        if turns - fewer >= 1.0:
            milder = [
                f.model_copy(update={"parameters": {**f.parameters, "turns": turns - fewer}}) for f in figures
            ]
            words = (
                f"{known.name} (number {numbers}): {turns - fewer:g} turn{'s' if turns - fewer != 1 else ''}"
                f" instead of {turns:g}"
            )
            found.append((10.0 * fewer + count - 1.0, words, _with(plan, ats, milder)))
    if known.gentler is not None:
        other = figure_of(known.gentler)
        gentler = [
            f.model_copy(update={"key": other.key, "parameters": _but_turns(f.parameters)}) for f in figures
        ]
        words = f"{other.name.lower()} instead of {known.name.lower()} (number {numbers})"
        found.append((15.0 + count - 1.0, words, _with(plan, ats, gentler)))
    found.append((25.0 * count, f"without {known.name.lower()} (number {numbers})", _with(plan, ats, [])))
    return found


def _but_turns(settings: Mapping[str, float]) -> dict[str, float]:
    return {name: value for name, value in settings.items() if name != "turns"}


def _with(plan: PlanDocument, ats: Sequence[int], others: Sequence[PlannedFigure]) -> PlanDocument:
    """The plan with these places taken by others, in order, or by nothing."""
    instead: dict[int, PlannedFigure | None] = {
        at: others[i] if i < len(others) else None for i, at in enumerate(ats)
    }
    kept = [instead.get(at, figure) for at, figure in enumerate(plan.figures)]
    return plan.model_copy(update={"figures": tuple(figure for figure in kept if figure is not None)})
