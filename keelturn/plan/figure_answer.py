"""One planned figure, computed: its account, heights, speeds and words."""

from dataclasses import dataclass, replace
from threading import Condition

import numpy as np
from cachetools import LRUCache, cached

from keelturn.aircraft.blanks import known
from keelturn.aircraft.card import Card
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Fault
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import Flown, Shortfall, fly_usual
from keelturn.flying.course import closing, fly, school_of
from keelturn.flying.entry import entry_speed
from keelturn.flying.pilots import usual_numbers
from keelturn.margins.checks import Verdict
from keelturn.margins.fan import ASKED, FAN
from keelturn.margins.floors import (
    floor_of,
    instructor_recovery,
    lowest_start,
    take_over_height,
    turns_allowed,
)
from keelturn.margins.own import OwnFigure, own_figure, ruling
from keelturn.margins.spread import Spread, pilot_behind
from keelturn.margins.unsure import AND_BLANKS, unsure_parts
from keelturn.plan.chain import Link
from keelturn.plan.figure_words import words_of
from keelturn.recoveries.schools import FLIGHT_MANUAL, PRACTICE
from keelturn.units import FT
from keelturn.working import Answer, Lever, Rounding, Source, given, in_number, in_words, read_off, worked

# One change at a time, by pilot's number or figure setting: what the why panel offers as "would change it
# most".
LEVERS = (
    ("pull_g", 0.1, "Pull 0.1 g harder"),
    ("delay_s", -0.25, "First input a quarter second sooner"),
    ("call_s", -0.25, "First input a quarter second sooner"),
    ("gap_s", -0.25, "Stick a quarter second sooner after rudder"),
    ("onset_g_s", 0.5, "g on half as fast again"),
    ("speed_error_kt", -3.0, "Enter 3 kt slower"),
)


@dataclass(frozen=True, slots=True)
class AccountLine:
    part: str
    height_ft: float
    seconds: float
    shown: str


@dataclass(frozen=True, slots=True)
class Joined:
    """How the figure is reached from the one before: feet to climb, minutes with the lookout."""

    climb: Answer
    minutes: Answer


@dataclass(frozen=True, slots=True)
class FigureAnswer:
    """One planned figure, computed. likely, worst: start to the lowest point. recovers: height at which the
    recovery begins; ends: where the figure leaves the aircraft; joined: how it got to the gate from the
    figure before; floor: this figure's own. school_words: what the chief asks to be said. starts_min,
    ends_min: from take-off. closes_with: the setting found for it where the plan leaves it open. profile:
    (seconds, feet from the start). track: (IAS, g). own: this student's numbers beside the population's;
    worst is that of the two which rules. lies: as of Spread. Losses are positive feet."""

    id: str
    key: str
    title: str
    side: str | None
    school: str
    school_key: str
    school_from: Source
    of_the_manual: bool
    steps: tuple[str, ...]
    spoken: str
    purpose: str
    look_at: str
    power: str
    attitude: str
    faults: tuple[Fault, ...]
    stop_words: tuple[str, ...]
    school_words: str
    start: Answer
    entry: Answer
    likely: Answer
    worst: Answer
    lowest_point: Answer
    recovers: Answer
    highest_point: Answer
    ends: Answer
    joined: Joined
    floor: Answer
    lowest_start: Answer
    take_over: Answer
    take_over_words: str
    turns_allowed: Answer | None
    exit_speed: Answer
    fastest: Answer
    most_g: Answer
    least_g: Answer
    longest_negative: Answer
    most_rolling_g: Answer | None
    account: tuple[AccountLine, ...]
    profile: tuple[tuple[float, float], ...]
    track: tuple[tuple[float, float], ...]
    shortfall: Shortfall | None
    starts_min: float
    ends_min: float
    spends: str
    verdict: Verdict
    closes_with: Answer | None = None
    own: OwnFigure | None = None
    lies: tuple[float, ...] = ()


def _levers(planned: PlannedFigure, conditions: Conditions) -> tuple[Lever, ...]:
    # All changes in one fan: the first pilot flies it unchanged.
    numbers = {name: np.repeat(number, len(LEVERS) + 1) for name, number in usual_numbers("student").items()}
    for i, (name, by, _) in enumerate(LEVERS, start=1):
        numbers[name][i] += by
    lowest = fly(planned, conditions, numbers, planned.start_ft * FT).lowest / FT
    found = []
    for (_, _, words), effect in zip(LEVERS, (lowest[0] - lowest[1:]).tolist(), strict=True):
        if abs(effect) >= 5.0:
            found.append(
                Lever(words, effect, f"{'saves' if effect < 0 else 'costs'} {in_words(abs(effect), 'ft')}")
            )
    return tuple(sorted(found, key=lambda lever: -abs(lever.effect)))


def _as_flown(planned: PlannedFigure, conditions: Conditions) -> object:
    return planned.as_flown, planned.start_ft, conditions.exactly


@cached(LRUCache(512), key=_as_flown, condition=Condition())
def usual_flight(planned: PlannedFigure, conditions: Conditions) -> tuple[Flown, tuple[Lever, ...]]:
    return fly_usual(planned, conditions), _levers(planned, conditions)


def account_of(flown: Flown) -> tuple[AccountLine, ...]:
    """The parts of the account, to the lowest point. What is shown is rounded so that the lines add up to the
    loss as it is shown."""
    parts = list(flown.parts)
    if flown.deepest_ft - flown.lost_ft > 1.0:
        # Ends above its lowest point: the account is of the loss to the lowest.
        parts.append(("Won back by the end", flown.deepest_ft - flown.lost_ft, 0.0))
    lines, so_far, before = [], 0.0, 0.0
    for i, (part, lost, seconds) in enumerate(parts):
        so_far += lost
        after = read_off(so_far, "ft", "up" if i == len(parts) - 1 else "near")
        lines.append(AccountLine(part, lost, seconds, in_words(after - before, "ft")))
        before = after
    return tuple(lines)


# A figure by itself is reached from nowhere.
UNJOINED = Joined(
    *(
        given(words, 0.0, unit, Source("plan", "by itself"))
        for words, unit in (("Climb before it", "ft"), ("Minutes before it", "min"))
    )
)


def joined_by(link: Link, climb: Answer) -> Joined:
    """The way to the gate as answers. climb: today's rate."""
    parts = [
        worked(words, feet, "ft", formula)
        for words, feet, formula in (
            (
                "Dived for speed",
                link.dive_ft,
                "flown at full power to the next entry speed, levelling out included",
            ),
            ("Won from speed", link.zoom_ft, "a share of the speed above the next gate turned into height"),
        )
        if feet > 0
    ]
    feet = worked(
        "Climb before it",
        link.climb_ft,
        "ft",
        "start - where the last figure ended + dived for speed - won from speed",
        *parts,
    )
    return Joined(
        feet, worked("Minutes before it", link.minutes, "min", "climb / today's rate + lookout", feet, climb)
    )


def spends(deepest_ft: float, rise_ft: float) -> str:
    """'−620', 'up 800' or 'keeps': what the figure does to the height, in feet."""
    if deepest_ft > 5.0:
        return f"−{in_number(deepest_ft, 'ft', 'up')}"
    return f"up {in_number(rise_ft, 'ft', 'up')}" if rise_ft > 20.0 else "keeps"


@dataclass(frozen=True, slots=True)
class Losses:
    """likely and worst: start to lowest point; recovery: the instructor's."""

    likely: Answer
    worst: Answer
    recovery: Answer


def _losses(
    flown: Flown,
    spread: Spread,
    levers: tuple[Lever, ...],
    lines: tuple[AccountLine, ...],
    behind: tuple[Answer, ...],
    card: Card,
) -> Losses:
    likely = worked(
        "Likely loss",
        flown.deepest_ft,
        "ft",
        "sum of the parts of the account to the lowest point, flown by the usual student",
        *(_part(line) for line in lines),
        rounding="up",
        levers=levers,
    )
    likely = replace(likely, pilot=behind)
    unsure = unsure_parts(card, ((one.path, one.lost_ft) for one in spread.unsure))
    beyond = worked(
        "Beyond the likely, 19 times in 20",
        spread.beyond_usual_ft,
        "ft",
        f"{FAN} students of the population fly it, and {ASKED:,} more are asked by what was fitted to those;"
        f" all but one in twenty stay within{AND_BLANKS if unsure else ''}",
        *unsure,
        rounding="up",
    )
    worst = worked(
        "Loss 19 times in 20",
        likely.value + beyond.value,
        "ft",
        "likely loss + what it is within 19 times in 20",
        likely,
        beyond,
        rounding="up",
        levers=levers,
        hill=replace(spread.students, least=likely.value + spread.students.least, usual=likely.value),
    )
    return Losses(likely, worst, instructor_recovery(spread, card))


def _part(line: AccountLine) -> Answer:
    """As the account reads it, so that the parts add up here too."""
    words = f"{FLIGHT}, {line.seconds:.1f} s of it"
    part = worked(line.part, line.height_ft, "ft", words)
    return replace(part, shown=line.shown, number=line.shown.removesuffix(" ft"))


def _below(label: str, start: Answer, lost: Answer, formula: str, rounding: Rounding = "near") -> Answer:
    return worked(label, start.value - lost.value, "ft", f"start - {formula}", start, lost, rounding=rounding)


def _highest(start: Answer, flown: Flown) -> Answer:
    risen = worked("Rise above the start", flown.rise_ft, "ft", FLIGHT, rounding="up")
    height = start.value + risen.value
    return worked("Highest", height, "ft", "start + rise above it", start, risen, rounding="up")


def _turns_allowed(
    planned: PlannedFigure, conditions: Conditions, start: Answer, lowest: Answer
) -> Answer | None:
    spin = conditions.spin
    if not figure_of(planned.key).counts_turns or spin is None:
        return None
    per_turn = spin.further_turn_ft(planned.side == "left")
    stated = known(conditions.card, "spin.further_turn_ft").how == ""
    said = "the card's height of a further turn" if stated else "the most that a further turn may cost"
    each = worked("Each further turn", per_turn, "ft", f"{said}, on this side", rounding="up")
    return turns_allowed(planned.parameter("turns"), start, lowest, each)


def _closes_with(planned: PlannedFigure, conditions: Conditions) -> Answer | None:
    """The setting that the plan leaves to be found."""
    figure = figure_of(planned.key)
    closes = figure.closes
    if closes is None or closes.number not in figure.parameters or closes.number in planned.parameters:
        return None
    asked = figure.parameters[closes.number]
    found = closing(planned, conditions, planned.start_ft * FT)
    return worked(
        asked.label, found, asked.unit, "with which the usual student ends at the height of the start"
    )


FLIGHT = "the usual student's flight"


def figure_answer(
    planned: PlannedFigure,
    conditions: Conditions,
    spread: Spread,
    flown: Flown,
    levers: tuple[Lever, ...],
    everywhere: Answer,
) -> FigureAnswer:
    figure, school = figure_of(planned.key), school_of(planned, conditions)
    unit = conditions.card.speed_unit
    start = given("Start", planned.start_ft, "ft", Source("plan", planned.title))
    floor, lines = floor_of(planned.key, conditions, everywhere), account_of(flown)
    losses = _losses(flown, spread, levers, lines, pilot_behind(planned, spread.moving), conditions.card)
    own = own_figure(
        planned.key, losses.likely, losses.worst, spread.lies, floor, losses.recovery, conditions
    )
    worst = ruling(losses.worst, own)
    lowest = lowest_start(floor, worst, losses.recovery, conditions)
    closes_with = _closes_with(planned, conditions)
    words = words_of(planned, conditions, school, closes_with.value if closes_with else None)
    spent = worked("Lost when the recovery begins", flown.before_recovery_ft, "ft", FLIGHT)
    left = worked("Lost by the end", flown.lost_ft, "ft", FLIGHT)
    rolling = None
    if flown.most_rolling_g is not None:
        held = "the highest g while the ailerons are held"
        rolling = worked("Most g while rolling", flown.most_rolling_g, "g", held)
    return FigureAnswer(
        id=planned.id,
        key=planned.key,
        title=planned.title,
        side=planned.side if figure.has_sides else None,
        school=school.name if school else "",
        school_key=school.key if school else "",
        school_from=school.source if school else PRACTICE,
        of_the_manual=school is not None and school.key == FLIGHT_MANUAL,
        steps=words.steps,
        spoken=words.spoken,
        purpose=words.purpose,
        look_at=figure.look_at,
        power=figure.gate.power,
        attitude=figure.gate.attitude,
        faults=figure.faults,
        stop_words=words.stop_words,
        school_words=conditions.standards.figure(planned.key).words,
        start=start,
        entry=entry_speed(planned, conditions),
        likely=losses.likely,
        worst=worst,
        lowest_point=_below("Lowest, 19 times in 20", start, worst, "loss 19 times in 20", rounding="down"),
        recovers=_below("Recover at", start, spent, "what is lost when the recovery begins"),
        highest_point=_highest(start, flown),
        ends=_below("Ends at", start, left, "what is lost by the end"),
        joined=UNJOINED,
        floor=floor,
        lowest_start=lowest,
        take_over=take_over_height(floor, losses.recovery),
        take_over_words=figure.take_over_words,
        turns_allowed=_turns_allowed(planned, conditions, start, lowest),
        exit_speed=worked("Exit speed", flown.exit_ias, unit, "where the flight path is level again"),
        fastest=worked("Highest speed", flown.fastest_ias, unit, "highest on the way", rounding="up"),
        most_g=worked("Most g", flown.most_g, "g", "the pull, as far as the wing can give it"),
        least_g=worked("Least g", flown.least_g, "g", "the least on the way"),
        longest_negative=worked(
            "Longest at negative g", flown.longest_negative_s, "s", "seconds on end at less than no g"
        ),
        most_rolling_g=rolling,
        account=lines,
        profile=flown.profile,
        track=flown.track,
        shortfall=flown.shortfall,
        starts_min=0.0,
        ends_min=flown.seconds / 60.0,
        spends=spends(flown.deepest_ft, flown.rise_ft),
        verdict=Verdict.FINE,
        closes_with=closes_with,
        own=own,
        lies=spread.lies,
    )
