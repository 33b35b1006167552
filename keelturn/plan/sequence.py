"""A whole plan computed: each figure's account and heights, the strip in time, fuel, drift, and the
checks."""

import math
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from itertools import repeat
from threading import Condition

from cachetools import LRUCache, cached

from keelturn.aircraft.envelope import Envelope, envelope
from keelturn.aircraft.loading import LoadPoint, load_points
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import Flown
from keelturn.flying.entry import entry_speed
from keelturn.margins.checks import (
    Check,
    Measured,
    Verdict,
    approval,
    figure_checks,
    gathered,
    worst,
)
from keelturn.margins.floors import deciding_floor, ground, leave_height, strictest_floor
from keelturn.margins.spread import spread_of
from keelturn.plan.chain import TAXI_MIN, Exposure, climb_fpm, exposure, link
from keelturn.plan.document import PlanDocument, unseen_in_words
from keelturn.plan.figure_answer import FigureAnswer, figure_answer, joined_by, usual_flight
from keelturn.plan.flight_checks import flight_checks
from keelturn.plan.ground import Drift, Moved, drift
from keelturn.plan.in_flight import InFlight, in_flight
from keelturn.plan.overrides import open_stops, overridden
from keelturn.plan.surprises import Drawn, drawn_for
from keelturn.plan.whole_flight import Flight
from keelturn.units import FT
from keelturn.working import Answer, Source, given, worked


@dataclass(frozen=True, slots=True)
class PlanAnswer:
    figures: tuple[FigureAnswer, ...]
    checks: tuple[Check, ...]
    floor: Answer
    floor_from: str
    ground: Answer
    leave: Answer | None
    block_top: Answer
    weight: Answer
    stall: Answer
    manoeuvring: Answer
    minutes: Answer
    climb: Answer
    density_height: Answer
    envelope: Envelope
    load_points: tuple[LoadPoint, ...]
    drift: Drift
    exposure: Exposure
    titles: dict[str, str]
    stops: int
    minds: int
    flight: InFlight | None = None
    drawn: Drawn | None = None
    unseen: str = ""


def climb_today(conditions: Conditions, height_ft: float) -> Answer:
    card, rate = conditions.card, climb_fpm(conditions, height_ft)
    stated = card.speeds.climb_fpm.answer("Climb on the card", "fpm")
    at = given("Height", height_ft, "ft", Source("plan", "middle of the sequence"))
    return worked(
        "Climb today",
        rate,
        "fpm",
        "thrust left over at today's weight and density height, x speed",
        stated,
        conditions.loading.weight,
        at,
    )


def _computable(planned: PlannedFigure, conditions: Conditions) -> bool:
    """Not a figure that the card cannot be asked about: that is a stop of its own, never a nonsense path."""
    return figure_of(planned.key).spin is None or conditions.spin is not None


def _measured(planned: PlannedFigure, answer: FigureAnswer) -> Measured:
    return Measured(
        planned,
        answer.start,
        answer.entry,
        answer.lowest_start,
        answer.worst.value,
        answer.take_over.value - answer.floor.value,
        answer.highest_point,
        answer.fastest,
        answer.most_g,
        answer.least_g,
        answer.most_rolling_g,
        answer.longest_negative,
        answer.shortfall,
    )


@dataclass(slots=True)
class Chained:
    """Figures one after the other: their answers, what was found, what they do over the ground, minutes from
    the start to the end."""

    answers: list[FigureAnswer] = field(default_factory=list)
    found: list[Check] = field(default_factory=list)
    flights: list[tuple[PlannedFigure, Flown]] = field(default_factory=list)
    moved: list[Moved] = field(default_factory=list)
    clock: float = TAXI_MIN / 2.0


def _wholly(planned: PlannedFigure, conditions: Conditions) -> object:
    return planned.id, planned.as_flown, planned.start_ft, conditions.wholly


@cached(LRUCache(512), key=_wholly, condition=Condition())
def _alone(planned: PlannedFigure, conditions: Conditions) -> tuple[FigureAnswer, tuple[Check, ...], Flown]:
    """A figure by itself with its checks: between changes of a plan all but one are as they were."""
    flown, levers = usual_flight(planned, conditions)
    answer = figure_answer(
        planned, conditions, spread_of(planned, conditions), flown, levers, strictest_floor(conditions)
    )
    its = figure_checks(_measured(planned, answer), conditions)
    return replace(answer, verdict=worst(its)), tuple(its), flown


def _each(
    figures: Sequence[PlannedFigure], conditions: Conditions
) -> list[tuple[FigureAnswer, tuple[Check, ...], Flown]]:
    """Every figure by itself; where several are new, two at a time (the engine frees the interpreter)."""
    known = _alone.cache or {}
    if sum(_wholly(figure, conditions) not in known for figure in figures) < 2:
        return [_alone(figure, conditions) for figure in figures]
    with ThreadPoolExecutor(2) as pool:
        return list(pool.map(_alone, figures, repeat(conditions)))


def chained(figures: Sequence[PlannedFigure], conditions: Conditions, climb: Answer) -> Chained:
    """Each figure from where the one before left the aircraft."""
    chain, height, speed = Chained(), conditions.place.elevation_ft, None
    for planned, (answer, its, flown) in zip(figures, _each(figures, conditions), strict=True):
        joined = joined_by(
            link(conditions, height, speed, planned.start_ft, entry_speed(planned, conditions).value), climb
        )
        begins = chain.clock + joined.minutes.value
        chain.answers.append(
            replace(answer, joined=joined, starts_min=begins, ends_min=begins + answer.ends_min)
        )
        chain.found += its
        chain.flights.append((planned, flown))
        chain.moved.append(
            Moved(
                planned.id,
                joined.minutes.value,
                flown.seconds / 60.0,
                planned.start_ft - flown.deepest_ft / 2.0,
                flown.along_m,
            )
        )
        chain.clock, height, speed = begins + answer.ends_min, answer.ends.value, flown.exit_ias
    return chain


def compute_plan(plan: PlanDocument, conditions: Conditions) -> PlanAnswer:
    """Every number of a plan. Raises ValueError for a school that does not fit its figure."""
    figures = [f for f in plan.figures if _computable(f, conditions)]
    refused = [stop for f in plan.figures if f not in figures for stop in approval(f, conditions)]
    middle = sum(f.start_ft for f in figures) / len(figures) if figures else conditions.place.top_ft
    climb = climb_today(conditions, middle)
    chain = chained(figures, conditions, climb)
    people = exposure(chain.flights, conditions)
    drawn = drawn_for(
        plan.surprises,
        people.comfort_limit - people.comfort_load,
        conditions,
        lambda those: [answer for answer, _, _ in _each(those, conditions)],
    )
    unseen = [one.planned for one in drawn.set_ups]
    whole = chained([*figures, *unseen], conditions, climb) if unseen else chain
    minutes = worked(
        "Minutes",
        whole.clock + TAXI_MIN / 2.0,
        "min",
        "climbs at today's rate + lookout + figures + start and landing",
        climb,
        rounding="up",
    )
    before = TAXI_MIN / 2.0 + (chain.answers[0].joined.minutes.value if chain.answers else 0.0)
    points = load_points(
        conditions.card, conditions.load, before, max(0.0, whole.clock - before), TAXI_MIN / 2.0
    )
    wind = drift(conditions, chain.moved)
    titles = {planned.id: planned.title for planned in plan.figures}
    flight = Flight(plan, figures, points, minutes, people, wind, titles)
    found = flight_checks(flight, conditions) + gathered(refused + chain.found)
    everything = overridden(found, plan.overrides)
    return PlanAnswer(
        figures=tuple(chain.answers),
        checks=everything,
        floor=strictest_floor(conditions),
        floor_from=deciding_floor(conditions).label.lower(),
        ground=ground(conditions),
        leave=leave_height(conditions),
        block_top=conditions.top,
        weight=conditions.loading.weight,
        stall=conditions.stall,
        manoeuvring=conditions.manoeuvring,
        minutes=minutes,
        climb=climb,
        density_height=density_height(conditions, middle),
        envelope=envelope(conditions.card, conditions.weight_lb),
        load_points=points,
        drift=wind,
        exposure=people,
        titles=titles,
        stops=open_stops(everything),
        minds=sum(c.verdict == Verdict.MIND for c in everything),
        flight=in_flight([*figures, *unseen], whole.answers, points, people.comfort_limit, conditions),
        drawn=drawn,
        unseen=unseen_in_words(plan),
    )


def as_the_student_sees(plan: PlanDocument, answer: PlanAnswer) -> tuple[PlanDocument, PlanAnswer]:
    """Before the flight: how many set-ups there will be, and nothing that tells which."""
    if plan.surprises is None:
        return plan, answer
    unknown = plan.surprises.model_copy(update={"seed": 0})
    planned, flight = {figure.id for figure in answer.figures}, answer.flight
    if flight is not None:
        figures = (
            replace(figure, then=tuple(one for one in figure.then if one.id in planned))
            for figure in flight.figures
            if figure.id in planned
        )
        flight = replace(flight, figures=tuple(figures))
    return plan.model_copy(update={"surprises": unknown}), replace(answer, flight=flight, drawn=None)


def density_height(conditions: Conditions, height_ft: float) -> Answer:
    """Height in the standard atmosphere of the density at this height today (ICAO Doc 7488)."""
    day = conditions.day
    qnh = given("QNH", day.pressure_hpa, "hPa", Source("day", day.source("qnh_hpa")))
    warm = given("Temperature at the place", day.air_c, "°C", Source("day", day.source("temperature_c")))
    at = given("Middle of the sequence", height_ft, "ft", Source("plan", "mean of the starts"))
    return worked(
        "Density height",
        conditions.air.density_height(height_ft * FT) / FT,
        "ft",
        "height in the standard atmosphere with today's density there",
        at,
        qnh,
        warm,
    )


def begun_inside(planned: PlannedFigure, conditions: Conditions, below_ft: float = 500.0) -> PlannedFigure:
    """The figure begun `below_ft` under the top, or as much lower as keeps its highest point 100 ft below it,
    at a whole 100 ft."""
    top = conditions.place.top_ft
    high = planned.model_copy(update={"start_ft": max(0.0, top - below_ft)})
    rise = 0.0 if not _computable(planned, conditions) else usual_flight(high, conditions)[0].rise_ft
    return high.model_copy(
        update={"start_ft": max(0.0, math.floor(min(top - below_ft, top - rise - 100.0) / 100.0) * 100.0)}
    )


def starts_above_the_lowest(
    plan: PlanDocument, conditions: Conditions, spare_ft: float = 300.0
) -> PlanDocument:
    """The plan with each start set to its lowest start and something to spare, up to the whole hundred,
    inside the block where the block allows it (a block too shallow is left to the checks to say)."""
    computed = {figure.id: figure for figure in compute_plan(plan, conditions).figures}
    figures = []
    for planned in plan.figures:
        if planned.id in computed:
            its = computed[planned.id]
            rise, lowest = its.highest_point.value - its.start.value, its.lowest_start.value
            wanted = math.ceil((lowest + spare_ft) / 100.0) * 100.0
            highest = math.floor((conditions.place.top_ft - rise) / 50.0) * 50.0
            start = max(min(wanted, highest), math.ceil(lowest / 10.0) * 10.0)
            planned = planned.model_copy(update={"start_ft": start})
        figures.append(planned)
    return plan.model_copy(update={"figures": tuple(figures)})
