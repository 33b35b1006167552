"""A whole plan computed: each figure's account and heights, the strip in time, fuel, and the checks."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from keelturn.aircraft.envelope import Envelope, envelope
from keelturn.aircraft.loading import LoadPoint, load_points
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Fault
from keelturn.plan import checks as check
from keelturn.plan.chain import TAXI_MIN, Drift, Exposure, Link, climb_fpm, drift, exposure, link
from keelturn.plan.checks import Check
from keelturn.plan.conditions import Conditions
from keelturn.plan.costs import Flown, Shortfall, fly_usual
from keelturn.plan.course import fly, school_of
from keelturn.plan.document import PlanDocument, PlannedFigure
from keelturn.plan.floors import (
    ground,
    instructor_recovery,
    leave_height,
    lowest_start,
    strictest_floor,
    take_over_height,
    turns_allowed,
)
from keelturn.plan.numbers import entry_speed, flapped
from keelturn.plan.pilots import FAN, usual_numbers
from keelturn.plan.spread import Spread, spreads_of
from keelturn.units import FT
from keelturn.working import Answer, Lever, Source, given, in_words, worked

# One change at a time, by pilot's number or figure setting: what the why panel offers as "would change it most".
LEVERS = (("pull_g", 0.1, "Pull 0.1 g harder"), ("delay_s", -0.25, "First input a quarter second sooner"),
          ("gap_s", -0.25, "Stick a quarter second sooner after rudder"), ("onset_g_s", 0.5, "g on half as fast again"),
          ("speed_error_kt", -3.0, "Enter 3 kt slower"))


@dataclass(frozen=True, slots=True)
class AccountLine:
    part: str
    height_ft: float
    seconds: float
    shown: str


@dataclass(frozen=True, slots=True)
class FigureAnswer:
    """One planned figure, computed. likely, worst: start to the lowest point. recovers: height at which the recovery begins; ends:
    where the figure leaves the aeroplane; joined: how it got to the gate from the figure before. starts_min,
        ends_min: from take-off. profile: (seconds,
            feet from the start).
    track: (IAS, g). Losses are positive feet."""

    id: str
    key: str
    title: str
    side: str | None
    school: str
    school_source: str
    steps: tuple[str, ...]
    spoken: str
    purpose: str
    look_at: str
    power: str
    attitude: str
    faults: tuple[Fault, ...]
    stop_words: tuple[str, ...]
    start: Answer
    entry: Answer
    likely: Answer
    worst: Answer
    lowest_point: Answer
    recovers: Answer
    highest_point: Answer
    ends: Answer
    joined: Link
    lowest_start: Answer
    take_over: Answer
    take_over_words: str
    turns_allowed: Answer | None
    exit_speed: Answer
    fastest: Answer
    most_g: Answer
    most_rolling_g: Answer | None
    account: tuple[AccountLine, ...]
    profile: tuple[tuple[float, float], ...]
    track: tuple[tuple[float, float], ...]
    shortfall: Shortfall | None
    starts_min: float
    ends_min: float
    verdict: str


@dataclass(frozen=True, slots=True)
class PlanAnswer:
    figures: tuple[FigureAnswer, ...]
    checks: tuple[Check, ...]
    floor: Answer
    ground: Answer
    leave: Answer | None
    block_top: Answer
    weight: Answer
    stall: Answer
    manoeuvring: Answer
    minutes: Answer
    climb: Answer
    envelope: Envelope
    load_points: tuple[LoadPoint, ...]
    drift: Drift
    exposure: Exposure
    titles: dict[str, str]
    stops: int
    minds: int


def title_of(planned: PlannedFigure) -> str:
    """'Spin, 2 turns, left'."""
    figure = figure_of(planned.key)
    words = figure.name
    if planned.key == "spin":
        turns = planned.parameter("turns")
        words = {1.0: "One-turn spin", 2.0: "Two-turn spin", 3.0: "Three-turn spin"}.get(turns, f"Spin, {turns:g} turns")
    elif planned.key == "steep_turn":
        words = f"Steep turn {planned.parameter('bank_deg'):.0f}°"
    return f"{words}, {planned.side}" if figure.has_sides else words


def climb_today(conditions: Conditions, height_ft: float) -> Answer:
    card, rate = conditions.card, climb_fpm(conditions, height_ft)
    stated = card.speeds.climb_fpm.answer("Climb on the card", "fpm")
    at = given("Height", height_ft, "ft", Source("plan", "middle of the sequence"))
    return worked("Climb today", rate, "fpm", "thrust left over at today's weight and density height, x speed", stated,
                  conditions.loading.weight, at)


def _levers(planned: PlannedFigure, conditions: Conditions) -> tuple[Lever, ...]:
    # All changes in one fan: the first pilot flies it unchanged.
    numbers = {name: np.repeat(number, len(LEVERS) + 1) for name, number in usual_numbers("student").items()}
    for i, (name, by, _) in enumerate(LEVERS, start=1):
        numbers[name][i] += by
    lowest = fly(planned, conditions, numbers, planned.start_ft * FT).lowest / FT
    found = []
    for (_, _, words), effect in zip(LEVERS, (lowest[0] - lowest[1:]).tolist(), strict=True):
        if abs(effect) >= 5.0:
            found.append(Lever(words, effect, f"{'saves' if effect < 0 else 'costs'} {in_words(abs(effect), 'ft')}"))
    return tuple(sorted(found, key=lambda lever: -abs(lever.effect)))


class Asked:
    """A figure in its conditions, the same when nothing that its flight depends on differs: what is remembered between changes."""

    def __init__(self, planned: PlannedFigure, conditions: Conditions) -> None:
        self.planned, self.conditions = planned, conditions
        self._key = (planned.model_copy(update={"id": ""}).model_dump_json(), conditions.exactly)

    def __hash__(self) -> int:
        return hash(self._key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Asked) and other._key == self._key


@lru_cache(maxsize=512)
def _usual(asked: Asked) -> tuple[Flown, tuple[Lever, ...]]:
    return fly_usual(asked.planned, asked.conditions), _levers(asked.planned, asked.conditions)


def figure_answer(planned: PlannedFigure, conditions: Conditions, spread: Spread, floor: Answer, flown: Flown,
                  levers: tuple[Lever, ...], joined: Link, clock_min: float) -> FigureAnswer:
    figure, card = figure_of(planned.key), conditions.card
    unit = card.speed_unit
    school = school_of(planned, conditions)
    title = title_of(planned)
    start = given("Start", planned.start_ft, "ft", Source("plan", title))
    lines = tuple(AccountLine(part, lost, seconds, in_words(lost, "ft")) for part, lost, seconds in flown.parts)
    if flown.deepest_ft - flown.lost_ft > 1.0:
        # Ends above its lowest point: the account is of the loss to the lowest.
        lines = (*lines, AccountLine("Won back by the end", flown.deepest_ft - flown.lost_ft, 0.0,
            in_words(flown.deepest_ft - flown.lost_ft,
                "ft")))
    likely = worked("Likely loss", flown.deepest_ft, "ft", "sum of the parts of the account to the lowest point, flown by the usual student",
                    *(worked(line.part, line.height_ft, "ft", "see docs/model.md") for line in lines), rounding="up",
                    levers=levers)
    beyond = worked("Beyond the likely, 19 times in 20", spread.beyond_usual_ft, "ft",
                    f"{FAN} students of the population fly it; all but one in twenty stay within", rounding="up")
    worst = worked("Loss 19 times in 20", likely.value + beyond.value, "ft", "likely loss + what 19 in 20 stay within", likely,
                   beyond, rounding="up", levers=likely.levers)
    recovery = instructor_recovery(spread)
    lowest = lowest_start(floor, worst, recovery, conditions)
    allowed = None
    if planned.key == "spin" and conditions.spin is not None:
        per_turn = conditions.spin.turn / FT * (conditions.spin.left_factor if planned.side == "left" else 1.0)
        allowed = turns_allowed(planned.parameter("turns"), start, lowest, per_turn)
    speed = entry_speed(planned, conditions)
    entry = (
        given("Entry speed", speed, unit, Source("plan", title)) if planned.entry_ias is not None
        else worked("Entry speed", speed, unit,
                    f"{figure.gate.speed_share:.0%} of the {figure.gate.speed_base} speed today, not above Va",
                    conditions.stall if figure.gate.speed_base == "stall" else conditions.manoeuvring)
    )
    flight = "the usual student's flight"
    spent = worked("Lost when the recovery begins", flown.before_recovery_ft, "ft", flight)
    risen = worked("Rise above the start", flown.rise_ft, "ft", flight, rounding="up")
    left = worked("Lost by the end", flown.lost_ft, "ft", flight)
    lowest_point = worked("Lowest, 19 times in 20", start.value - worst.value, "ft", "start - loss 19 times in 20", start, worst,
                          rounding="down")
    spoken = (school.spoken if school else " ".join(figure.steps)).format(
        opposite="right" if planned.side == "left" else "left",
        pull=f"{planned.parameter('pull_g'):.1f} g" if "pull_g" in figure.parameters else "level")
    return FigureAnswer(
        id=planned.id, key=planned.key, title=title, side=planned.side if figure.has_sides else None,
        school=school.name if school else "", school_source=f"{school.source.kind}: {school.source.words}" if school else "",
        steps=school.steps if school else figure.steps, spoken=spoken, purpose=figure.purpose, look_at=figure.look_at,
        power=figure.gate.power, attitude=figure.gate.attitude,
        faults=figure.faults, stop_words=figure.stop_words,
        start=start, entry=entry, likely=likely, worst=worst, lowest_point=lowest_point, lowest_start=lowest,
        recovers=worked("Recover at", start.value - spent.value, "ft", "start - what is lost when the recovery begins", start, spent),
        highest_point=worked("Highest", start.value + risen.value, "ft", "start + rise above it", start, risen, rounding="up"),
        ends=worked("Ends at", start.value - left.value, "ft", "start - what is lost by the end", start, left), joined=joined,
        take_over=take_over_height(floor, recovery), take_over_words=figure.take_over_words, turns_allowed=allowed,
        exit_speed=worked("Exit speed", flown.exit_ias, unit, "where the flight path is level again", rounding="near"),
        fastest=worked("Highest speed", flown.fastest_ias, unit, "highest on the way", rounding="up"),
        most_g=worked("Most g", flown.most_g, "g", "the pull, as far as the wing can give it"),
        most_rolling_g=None if flown.most_rolling_g is None else worked(
            "Most g while rolling", flown.most_rolling_g, "g", "the highest g while the ailerons are held"),
        account=lines, profile=flown.profile, track=flown.track,
        shortfall=flown.shortfall,
        starts_min=clock_min, ends_min=clock_min + flown.seconds / 60.0, verdict="fine",
    )


def _figure_checks(answer: FigureAnswer, c: Conditions, top_words: str, flap: bool) -> list[Check]:
    found = check.height_checks(answer.id, answer.title, answer.start, answer.lowest_start, answer.highest_point, c.place.block_top_ft,
        top_words)
    found += check.speed_checks(c, answer.id, answer.title, answer.entry, answer.fastest)
    found += check.g_checks(c, answer.id, answer.title, answer.most_g, answer.most_rolling_g, flap)
    if answer.shortfall is not None:
        found.append(check.cannot_be_flown(answer.id, answer.title, answer.entry, answer.shortfall))
    approval = check.approval_check(c, answer.key, answer.title, answer.id)
    return found + ([approval] if approval else [])


def _uncomputable(planned: PlannedFigure, conditions: Conditions) -> Check | None:
    """A figure that the card cannot be asked about: a stop of its own, never a nonsense path."""
    if figure_of(planned.key).spin and conditions.spin is None:
        return check.approval_check(conditions, planned.key, title_of(planned), planned.id)
    return None


def compute_plan(plan: PlanDocument, conditions: Conditions) -> PlanAnswer:
    """Every number of a plan. Raises ValueError for a school that does not fit its figure. """
    floor = strictest_floor(conditions)
    refused = [stop for f in plan.figures if (stop := _uncomputable(f, conditions))]
    refused_ids = {stop.figure for stop in refused}
    figures = [f for f in plan.figures if f.id not in refused_ids]
    spreads = spreads_of(figures, conditions)
    middle = sum(f.start_ft for f in figures) / len(figures) if figures else conditions.place.block_top_ft
    climb = climb_today(conditions, middle)
    top_words = f"the top of the block, {in_words(conditions.place.block_top_ft, 'ft', 'down')}"
    clock, height, speed = TAXI_MIN / 2.0, conditions.place.elevation_ft, None
    answers: list[FigureAnswer] = []
    found: list[Check] = list(refused)
    usual = [_usual(Asked(planned, conditions)) for planned in figures]
    flights = [flown for flown, _ in usual]
    for planned, spread, (flown, levers) in zip(figures, spreads, usual, strict=True):
        joined = link(conditions, height, speed, planned.start_ft, entry_speed(planned, conditions))
        clock += joined.minutes
        answer = figure_answer(planned, conditions, spread, floor, flown, levers, joined, clock)
        its = _figure_checks(answer, conditions, top_words, flapped(planned))
        worst = min(its, key=lambda c: check.WORST_FIRST[c.verdict])
        answers.append(replace(answer, verdict=worst.verdict))
        found += its
        clock, height, speed = answer.ends_min, answer.ends.value, flown.exit_ias
    minutes = worked("Minutes", clock + TAXI_MIN / 2.0, "min", "climbs at today's rate + lookout + figures + start and landing",
                     climb, rounding="up")
    highest = max((f.start_ft for f in plan.figures), default=0.0)
    before = TAXI_MIN / 2.0 + (answers[0].joined.minutes if answers else 0.0)
    points = load_points(conditions.card, conditions.load, before, max(0.0, clock - before))
    people = exposure(list(zip(figures, flights, strict=True)), conditions)
    flight = check.weight_checks(conditions) + check.load_point_checks(conditions,
        points) + check.floor_checks(conditions) + [check.fuel_check(conditions,
            minutes)]
    if any(figure_of(f.key).spin for f in figures) and (spins := check.spin_weight_check(conditions)):
        flight.append(spins)
    flight += check.order_checks(people, {planned.id: title_of(planned) for planned in figures})
    flight += check.weather_checks(conditions, highest) + [check.parachute_check(conditions.parachute_days, conditions.standards)]
    everything = _with_overrides(flight + check.gathered(found), plan)
    everything.sort(key=lambda c: (c.overridden is not None, check.WORST_FIRST[c.verdict], c.figure is not None))
    return PlanAnswer(
        figures=tuple(answers), checks=tuple(everything), floor=floor, ground=ground(conditions), leave=leave_height(conditions),
        block_top=given("Block top", conditions.place.block_top_ft, "ft", Source("school", f"place: {conditions.place.name}"), "down"),
        weight=conditions.loading.weight, stall=conditions.stall, manoeuvring=conditions.manoeuvring, minutes=minutes, climb=climb,
        envelope=envelope(conditions.card, conditions.weight_lb),
        load_points=points, drift=drift(conditions, max(0.0, clock - before), sum(flown.along_m for flown in flights)), exposure=people,
        titles={planned.id: title_of(planned) for planned in plan.figures},
        stops=sum(c.verdict == "stop" and c.overridden is None for c in everything),
        minds=sum(c.verdict == "mind" for c in everything),
    )


def starts_above_the_lowest(plan: PlanDocument, conditions: Conditions, spare_ft: float = 300.0) -> PlanDocument:
    """The plan with each start set to its lowest start and something to spare, up to the whole hundred, inside the block
    where the block allows it (a block too shallow is left to the checks to say)."""
    lowest = {figure.id: figure.lowest_start.value for figure in compute_plan(plan, conditions).figures}
    figures = []
    for planned in plan.figures:
        if planned.id in lowest:
            wanted = math.ceil((lowest[planned.id] + spare_ft) / 100.0) * 100.0
            top = math.floor(conditions.place.block_top_ft / 100.0) * 100.0
            start = max(min(wanted, top), math.ceil(lowest[planned.id] / 10.0) * 10.0)
            planned = planned.model_copy(update={"start_ft": start})
        figures.append(planned)
    return plan.model_copy(update={"figures": tuple(figures)})


def _with_overrides(found: list[Check], plan: PlanDocument) -> list[Check]:
    reasons = {o.check: f"{o.by}: {o.reason}" for o in plan.overrides}
    return [replace(c, overridden=reasons[c.key]) if c.verdict == "stop" and c.key in reasons else c for c in found]
