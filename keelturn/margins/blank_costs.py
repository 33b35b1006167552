"""What each number that an aircraft card leaves blank adds to the lowest starts, for whoever could fill it
in: on a standard day over ground at sea level, at the card's weight."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from keelturn.aircraft.blanks import Blank, EstimateLine, blanks_of, estimate_line
from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load, loading
from keelturn.figures.catalogue import BY_KEY
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import fly_usual
from keelturn.margins.spread import Spread, spread_of
from keelturn.margins.unsure import IN_100, unsure_of, without_unsure
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import STANDARD_C, STANDARD_QNH_HPA, Day
from keelturn.working import in_words

# Figures are begun there: what blank numbers add changes little with it.
START_FT, TOP_FT = 6000.0, 10000.0
# Of the figures whose loss a number moves most, so many are looked at: the lowest start of one may go by the
# instructor's recovery, which it leaves as it is.
LOOKED_AT = 4


@dataclass(frozen=True, slots=True)
class BlankCost:
    """adds: to the lowest start of the approved figure that it adds most to, '50 ft'; empty, as figure is,
    where it adds nothing to any."""

    number: EstimateLine
    adds: str
    figure: str


def blank_costs(card: Card, standards: Standards) -> tuple[BlankCost, ...]:
    """Of each blank number, the dearest first; empty where none is."""
    blanks = blanks_of(card)
    found = dict.fromkeys(blanks, (0.0, ""))
    if blanks:
        conditions = standard_conditions(card, standards)
        for path, moved in _moved(card, conditions).items():
            for _, planned in sorted(moved, key=lambda one: -one[0])[:LOOKED_AT]:
                likely_ft, spread = fly_usual(planned, conditions).deepest_ft, spread_of(planned, conditions)
                more_ft = _start(likely_ft, spread) - _start(likely_ft, spread, without=path)
                found[path] = max(found[path], (more_ft, planned.title))
    costs = []
    for path, (adds_ft, figure) in sorted(found.items(), key=lambda one: -one[1][0]):
        said = (in_words(adds_ft, "ft", "up"), figure) if adds_ft >= 1.0 else ("", "")
        costs.append(BlankCost(estimate_line(card, path), *said))
    return tuple(costs)


def _moved(card: Card, conditions: Conditions) -> Mapping[Blank, list[tuple[float, PlannedFigure]]]:
    """By each number, the approved figures whose loss it moves, and by how much (ft); those left out that
    this aircraft cannot fly."""
    found: dict[Blank, list[tuple[float, PlannedFigure]]] = {}
    for key in card.approved:
        for side in ("left", "right") if BY_KEY[key].has_sides else ("right",):
            planned = PlannedFigure(id="blank", key=key, side=side, start_ft=START_FT)
            try:
                parts = unsure_of(planned, conditions, "student")
            except ValueError:
                continue
            for one in parts:
                found.setdefault(one.path, []).append((one.lost_ft, planned))
    return found


def _start(likely_ft: float, spread: Spread, without: Blank | None = None) -> float:
    """What decides the lowest start: the larger of the loss 19 times in 20 and the instructor's recovery, or
    what it would be with this number known."""
    lost = next((one.lost_ft for one in spread.unsure if one.path == without), 0.0)
    recovery = next((one.recovery_ft for one in spread.unsure_recovery if one.path == without), 0.0)
    usual = spread.instructors.usual
    return max(
        likely_ft + without_unsure(spread.beyond_usual_ft, lost),
        usual + without_unsure(spread.recovery_99_ft - usual, recovery, IN_100),
    )


def standard_conditions(card: Card, standards: Standards) -> Conditions:
    """At the weight that the card's numbers are for, whatever is put into its seats."""
    place = Place(name="Sea level", elevation_ft=0.0, block_top_ft=TOP_FT)
    load = Load(front_lb=0.0, rear_lb=0.0)
    loaded = loading(card, load)
    weight = replace(loaded.weight, value=card.speeds.reference_lb.value)
    day = Day(qnh_hpa=STANDARD_QNH_HPA, temperature_c=STANDARD_C)
    return Conditions(
        card, place, standards, "practised", day, load, replace(loaded, weight=weight), None, None
    )
