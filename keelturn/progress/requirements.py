"""What a rule, or the school, asks of somebody before they are given or go on doing something: hours,
flights, a signature, and that it is not too long ago. It is counted here and said what is missing; it is
never granted here: who is authorised signs, and that is recorded.

The rules are from memory (work of the founders): the user must confirm them for the place and the day. Their
numbers stand among the school's standards, with their sources."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from typing import Literal

from keelturn.figures.figure import Family
from keelturn.school.standards import Standards

Whom = Literal["student", "instructor"]


class AskKind(StrEnum):
    """What can be asked, and recorded of elsewhere."""

    FLIGHT = "flight"
    GROUND = "ground"
    FLIGHTS = "flights"
    SIGNATURE = "signature"
    RECENT = "recent"


UNITS: Mapping[AskKind, str] = {
    AskKind.FLIGHT: "h",
    AskKind.GROUND: "h",
    AskKind.FLIGHTS: "flights",
    AskKind.SIGNATURE: "signature",
    AskKind.RECENT: "days",
}


@dataclass(frozen=True, slots=True)
class Asks:
    """standard: the field of Standards that has the number; empty for a signature."""

    what: AskKind
    words: str
    standard: str = ""


@dataclass(frozen=True, slots=True)
class Requirement:
    """gives: what it stands before. families: a flight counts with a figure of one of these flown to its end.
    course: only flights of lessons of this course count, and its ground hours. any_of: one of what is asked
    is enough."""

    key: str
    name: str
    whom: Whom
    gives: str
    source: str
    asks: tuple[Asks, ...]
    families: tuple[Family, ...] = ()
    course: str = ""
    any_of: bool = False


AEROBATIC = (Family.SPINS, Family.ROLLS, Family.LOOPING, Family.LINES)
FROM_MEMORY = "from memory; confirm it for the place and the day"
REQUIREMENTS: tuple[Requirement, ...] = (
    Requirement(
        key="upset_course",
        name="Advanced upset course",
        whom="student",
        gives="the certificate of the course, by the training organisation",
        source=f"FCL.745.A, {FROM_MEMORY}",
        asks=(
            Asks(AskKind.GROUND, "Theory", "upset_ground_h"),
            Asks(AskKind.FLIGHT, "Flight training", "upset_flight_h"),
            Asks(AskKind.SIGNATURE, "Completed, by the authorised instructor"),
        ),
        course="upset_recovery",
    ),
    Requirement(
        key="aerobatic_rating",
        name="Aerobatic rating",
        whom="student",
        gives="the rating, by the authority",
        source=f"FCL.800, {FROM_MEMORY}",
        asks=(
            Asks(AskKind.FLIGHT, "Aerobatic instruction", "aerobatic_h"),
            Asks(AskKind.FLIGHTS, "or flights of it", "aerobatic_flights"),
        ),
        families=AEROBATIC,
        any_of=True,
    ),
    Requirement(
        key="spin_endorsement",
        name="Spin endorsement of an instructor",
        whom="student",
        gives="the endorsement in the trainee's own record, before the practical test for an instructor",
        source=f"14 CFR 61.183(i) and AC 61-67C, {FROM_MEMORY}",
        asks=(
            Asks(
                AskKind.SIGNATURE,
                "Spins flown, recovered and taught, by an authorised instructor",
            ),
        ),
        families=(Family.SPINS,),
        course="instructors_spins",
    ),
    Requirement(
        key="spins_lately",
        name="Spins lately",
        whom="instructor",
        gives="teaching spins at this school",
        source="school standards (common practice, no published source)",
        asks=(Asks(AskKind.RECENT, "A flight with a spin within", "spin_days"),),
        families=(Family.SPINS,),
    ),
    Requirement(
        key="spin_authority",
        name="Authority to teach spins",
        whom="instructor",
        gives="teaching spins at this school",
        source=f"14 CFR 61.183(i), {FROM_MEMORY}; the chief's own check beside it",
        asks=(Asks(AskKind.SIGNATURE, "Spin endorsement seen, and one flight checked by the chief"),),
    ),
)
BY_KEY: Mapping[str, Requirement] = {one.key: one for one in REQUIREMENTS}


@dataclass(frozen=True, slots=True)
class FlightKept:
    """One flight of theirs as it was signed. minutes: None where nobody noted them. families: of what was
    flown to its end. course: the key of the one whose lesson it was, empty for none. signed: only what is
    signed counts."""

    sortie: int
    on: date
    minutes: float | None
    families: frozenset[Family]
    course: str
    lesson: str
    signed: bool


@dataclass(frozen=True, slots=True)
class WordGiven:
    """Somebody's word that is on record: hours, flights or a signature. amount: hours or flights, nothing for
    a signature. by: who signed or flew it with them, as it was given; recorded_by: who entered it here."""

    id: int
    requirement: str
    what: AskKind
    amount: float
    on: date
    by: str
    words: str
    recorded_by: str


@dataclass(frozen=True, slots=True)
class CountsToward:
    """One thing that counts. amount: in the unit of what is asked. sortie: its number, None for what is of
    elsewhere or of the ground."""

    words: str
    on: date
    amount: float
    sortie: int | None = None


@dataclass(frozen=True, slots=True)
class LineAsked:
    """One thing asked: how much is there of how much, and from what. missing: in words, empty where nothing
    is."""

    what: AskKind
    words: str
    unit: str
    has: float
    asked: float
    missing: str
    counted: tuple[CountsToward, ...]

    @property
    def met(self) -> bool:
        return not self.missing


@dataclass(frozen=True, slots=True)
class RequirementStanding:
    """How somebody stands to one requirement. met: everything asked is there; it is still somebody else who
    grants. not_counted: what would count and does not, and why."""

    requirement: Requirement
    lines: tuple[LineAsked, ...]
    met: bool
    not_counted: tuple[str, ...]


def standing_to(
    requirement: Requirement,
    standards: Standards,
    flights: Sequence[FlightKept],
    ground: Sequence[CountsToward],
    stated: Sequence[WordGiven],
    today: date,
) -> RequirementStanding:
    """ground: hours done on the ground of its course. Source of the rule: the requirement's own."""
    mine = [one for one in stated if one.requirement == requirement.key]
    fit = [flight for flight in flights if _fits(requirement, flight)]
    signed = [flight for flight in fit if flight.signed]
    lines = tuple(_line(asks, standards, signed, ground, mine, today) for asks in requirement.asks)
    enough = any if requirement.any_of else all
    return RequirementStanding(
        requirement, lines, enough(line.met for line in lines), tuple(_left_out(requirement, fit))
    )


def _fits(requirement: Requirement, flight: FlightKept) -> bool:
    of_course = not requirement.course or flight.course == requirement.course
    return of_course and (not requirement.families or not flight.families.isdisjoint(requirement.families))


def _line(
    asks: Asks,
    standards: Standards,
    flights: Sequence[FlightKept],
    ground: Sequence[CountsToward],
    stated: Sequence[WordGiven],
    today: date,
) -> LineAsked:
    said = [CountsToward(_said(one), one.on, one.amount) for one in stated if one.what == asks.what]
    if asks.what == AskKind.SIGNATURE:
        last = max((one.on for one in said), default=None)
        missing = "" if last is not None else "nobody's signature is on record"
        return LineAsked(asks.what, asks.words, UNITS[asks.what], float(len(said)), 1.0, missing, tuple(said))
    asked = float(getattr(standards, asks.standard).value)
    if asks.what == AskKind.RECENT:
        return _recent(asks, asked, flights, said, today)
    by_hours = asks.what != AskKind.FLIGHTS
    flown = [
        CountsToward(f.lesson, f.on, (f.minutes or 0.0) / 60.0 if by_hours else 1.0, f.sortie)
        for f in flights
        if not by_hours or f.minutes is not None
    ]
    here = list(ground) if asks.what == AskKind.GROUND else flown
    counted = tuple(sorted([*here, *said], key=lambda one: one.on))
    # Minutes add up to hours without a remainder in the last place.
    has = round(sum(one.amount for one in counted), 6)
    unit = UNITS[asks.what]
    missing = "" if has >= asked else _in_words(asked - has, unit)
    return LineAsked(asks.what, asks.words, unit, has, asked, missing, counted)


def _recent(
    asks: Asks, days: float, flights: Sequence[FlightKept], said: Sequence[CountsToward], today: date
) -> LineAsked:
    """Days since the last of them against the most that there may be. has: the days since."""
    all_of_them = [*(CountsToward(f.lesson, f.on, 1.0, f.sortie) for f in flights), *said]
    last = max(all_of_them, key=lambda one: one.on, default=None)
    if last is None:
        return LineAsked(asks.what, asks.words, "days", 0.0, days, "none on record", ())
    since = float((today - last.on).days)
    missing = "" if since <= days else f"the last is {since:.0f} days ago, {days:.0f} at most"
    return LineAsked(asks.what, asks.words, "days", since, days, missing, (last,))


def recent_until(line: LineAsked) -> date | None:
    """The last day on which it is not too long ago; None where there is none."""
    return line.counted[0].on + timedelta(days=int(line.asked)) if line.counted else None


def _said(one: WordGiven) -> str:
    return f"{one.by}: {one.words}" if one.words else one.by


def _in_words(value: float, unit: str) -> str:
    """Hours and minutes as they stand in a record, the minutes up: what is missing is not said to be less."""
    if unit != "h":
        return f"{value:g} {unit}"
    minutes = -int(-round(value * 60.0, 3) // 1)
    over = f" {minutes % 60:02d}" if minutes % 60 else ""
    return f"{minutes // 60} h{over}"


def _left_out(requirement: Requirement, fit: Sequence[FlightKept]) -> Iterator[str]:
    unsigned = sum(not flight.signed for flight in fit)
    if unsigned:
        yield f"{_count(unsigned)} debriefed and not signed"
    asks_minutes = any(asks.what == AskKind.FLIGHT for asks in requirement.asks)
    unknown = sum(flight.signed and flight.minutes is None for flight in fit)
    if asks_minutes and unknown:
        yield f"{_count(unknown)} without minutes in the debrief"


def _count(n: int) -> str:
    return "1 flight" if n == 1 else f"{n} flights"
