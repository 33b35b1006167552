"""Checks: stop, mind, fine. Each is an object: what kind of limit, about what, the number that decides, the
limit, how much is to spare, a sentence a student understands, and what to do.

Adding a check of a figure: a member of `Kind` with what would be changed about it, a function, its place in
FIGURE_CHECKS, and a test."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from keelturn.aircraft.blanks import known
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import SPUN_OTHERWISE, Shortfall
from keelturn.flying.numbers import flapped
from keelturn.working import Answer, Source, given, in_words


class Verdict(StrEnum):
    STOP = "stop"
    MIND = "mind"
    FINE = "fine"


WORST_FIRST = tuple(Verdict)


class Change(StrEnum):
    """The family of a check: what would be changed to mend it, the easiest first."""

    SEQUENCE = "sequence"
    LOAD = "load"
    DAY = "day"
    PEOPLE = "people"
    AIRCRAFT = "aircraft"


class Kind(StrEnum):
    """What limit a check is about, its family, and whether it is said only where it is near. The value is
    kept in stored overrides."""

    change: Change
    quiet: bool

    def __new__(cls, value: str, change: Change, quiet: bool = False) -> "Kind":
        made = str.__new__(cls, value)
        made._value_, made.change, made.quiet = value, change, quiet
        return made

    FLOOR = "floor", Change.SEQUENCE
    TOP = "top", Change.SEQUENCE, True
    VNE = "vne", Change.SEQUENCE
    VFE = "vfe", Change.SEQUENCE
    VA = "va", Change.SEQUENCE, True
    ROUGH_AIR = "rough_air", Change.SEQUENCE, True
    SLOW = "slow", Change.SEQUENCE, True
    POSSIBLE = "possible", Change.SEQUENCE, True
    G = "g", Change.SEQUENCE
    LEAST_G = "least_g", Change.SEQUENCE, True
    ROLLING_G = "rolling_g", Change.SEQUENCE, True
    NEGATIVE_S = "negative_s", Change.SEQUENCE, True
    APPROVED = "approved", Change.AIRCRAFT, True
    OWN_FLOOR = "own_floor", Change.SEQUENCE
    ORDER = "order", Change.SEQUENCE, True
    DRIFT = "drift", Change.SEQUENCE, True
    WEIGHT = "weight", Change.LOAD
    BALANCE = "balance", Change.LOAD
    SEAT = "seat", Change.LOAD, True
    BAGGAGE = "baggage", Change.LOAD, True
    SPIN_WEIGHT = "spin_weight", Change.LOAD
    FUEL = "fuel", Change.LOAD
    VISIBILITY = "visibility", Change.DAY
    CLOUD = "cloud", Change.DAY
    WIND = "wind", Change.DAY
    REPORT = "report", Change.DAY, True
    DAYLIGHT = "daylight", Change.DAY
    AIR = "air", Change.DAY, True
    FEELING = "feeling", Change.PEOPLE
    COMFORT = "comfort", Change.PEOPLE, True
    WORN = "worn", Change.PEOPLE, True
    BEFORE = "before", Change.PEOPLE, True
    PERSON_DATE = "person_date", Change.PEOPLE, True
    AIRCRAFT_DATE = "aircraft_date", Change.AIRCRAFT, True
    PARACHUTE = "parachute", Change.AIRCRAFT


# What is said once for all figures when none of them is near its limit.
GATHERED = {
    Kind.FLOOR: "Every figure ends above the floor",
    Kind.VNE: "Speed stays below Vne",
    Kind.G: "g stays inside the limits",
}


@dataclass(frozen=True, slots=True)
class Check:
    """limit: what the deciding number is held against, where that is a number. room: what is to spare, in the
    deciding number's unit, negative when short; spare says it in words. hint: what to do about it. subject:
    of what else there may be several (a seat, a moment of the load); figure: id of the figure it is about.
    id: of the kind and what it is about, the same from one computing to the next."""

    kind: Kind
    verdict: Verdict
    title: str
    sentence: str
    deciding: Answer
    limit: Answer | None
    spare: str
    room: float = 0.0
    hint: str = ""
    subject: str = ""
    figure: str | None = None
    id: str = ""
    change: Change = Change.SEQUENCE
    overridden: str | None = None

    def __post_init__(self) -> None:
        about = self.figure or self.subject
        object.__setattr__(self, "id", f"{self.kind}_{about}" if about else str(self.kind))
        object.__setattr__(self, "change", self.kind.change)

    @property
    def worth_saying(self) -> bool:
        return not (self.kind.quiet and self.verdict == Verdict.FINE)


def judged(
    kind: Kind,
    title: str,
    sentence: str,
    deciding: Answer,
    limit: Answer | None,
    room: float,
    mind_below: float,
    hint: str = "",
    subject: str = "",
) -> Check:
    """Stop when less than nothing is to spare, mind when less than `mind_below`, else fine."""
    verdict = Verdict.STOP if room < 0 else Verdict.MIND if room < mind_below else Verdict.FINE
    words = in_words(abs(room), deciding.unit, "up" if room < 0 else "down")
    spare = f"{words} short" if room < 0 else f"{words} to spare"
    return Check(kind, verdict, title, sentence, deciding, limit, spare, room, hint, subject)


def passed(
    kind: Kind, verdict: Verdict, title: str, sentence: str, deciding: Answer, limit: Answer, hint: str = ""
) -> Check:
    """A limit that lies below what was reached."""
    over = deciding.value - limit.value
    spare = f"{in_words(over, deciding.unit, 'up')} over"
    return Check(kind, verdict, title, sentence, deciding, limit, spare, -over, hint)


def gathered(checks: Sequence[Check]) -> list[Check]:
    """Stops and minds as they are; of the fine ones about the same limit only the closest, said for all."""
    kept = [c for c in checks if c.verdict != Verdict.FINE]
    for kind, title in GATHERED.items():
        fine = [c for c in checks if c.verdict == Verdict.FINE and c.kind == kind]
        if not fine:
            continue
        closest = min(fine, key=lambda c: c.room)
        others = any(c.kind == kind for c in kept)
        words = f"The others: {title[0].lower()}{title[1:]}" if others else title
        named = closest.title.rsplit(":", 1)[0]
        kept.append(replace(closest, title=words, sentence=f"Closest: {named}. {closest.sentence}"))
    return kept


def worst(checks: Sequence[Check]) -> Verdict:
    return min((c.verdict for c in checks), key=WORST_FIRST.index, default=Verdict.FINE)


@dataclass(frozen=True, slots=True)
class Measured:
    """One figure as computed: what its checks look at. worst_ft, recovery_ft: the loss 19 times in 20, and
    the instructor's recovery 99 times in 100. longest_negative: seconds on end at less than no g."""

    planned: PlannedFigure
    start: Answer
    entry: Answer
    lowest_start: Answer
    worst_ft: float
    recovery_ft: float
    highest_point: Answer
    fastest: Answer
    most_g: Answer
    least_g: Answer
    most_rolling_g: Answer | None
    longest_negative: Answer
    shortfall: Shortfall | None

    @property
    def name(self) -> str:
        return self.planned.title

    def top_speed(self, limit: Answer) -> tuple[Answer, str]:
        """The entry where that alone is beyond the limit or is the highest, else the highest on the way; and
        how it comes about."""
        if self.entry.value > limit.value or self.entry.value >= self.fastest.value:
            return self.entry, "Enters at"
        return self.fastest, "Reaches"


def approval(planned: PlannedFigure, c: Conditions) -> list[Check]:
    """A stop when the card does not approve the figure; nothing when it does (one line for all of them is
    enough)."""
    if planned.key in c.card.approved:
        return []
    source = Source("flight manual", f"{c.card.name}, approved figures")
    listed = given("Approved figures on the card", float(len(c.card.approved)), "", source)
    title, words = (
        f"{planned.title} not approved",
        f"It is not among the approved figures on the card of {c.card.name}.",
    )
    hint = "Choose another aircraft or another figure."
    stop = Check(Kind.APPROVED, Verdict.STOP, title, words, listed, None, "not approved", hint=hint)
    return [replace(stop, figure=planned.id)]


def _approval(m: Measured, c: Conditions) -> Iterable[Check]:
    return approval(m.planned, c)


def _floor(m: Measured, c: Conditions) -> Iterable[Check]:
    room = m.start.value - m.lowest_start.value
    by_recovery = m.recovery_ft > m.worst_ft
    short = "no height for the instructor's recovery" if by_recovery else "ends below the floor"
    title = f"{m.name}: {short if room < 0 else 'ends above the floor'}"
    keeps = (
        "leaves the instructor's recovery above the floor 99 times in 100"
        if by_recovery
        else "keeps the floor 19 times in 20"
    )
    words = f"Starts at {m.start.shown}; the lowest start that {keeps} is {m.lowest_start.shown}."
    yield judged(Kind.FLOOR, title, words, m.lowest_start, m.start, room, 200.0)


def _top(m: Measured, c: Conditions) -> Iterable[Check]:
    top = c.top
    if m.start.value > top.value:
        over = in_words(m.start.value - top.value, "ft", "up")
        words, hint = f"Starts {over}", "Start lower, fly fewer turns, or use another place."
        title, reached = f"{m.name}: above the block", m.start
    elif m.highest_point.value > top.value:
        over = in_words(m.highest_point.value - top.value, "ft", "up")
        words, hint = f"Rises to {m.highest_point.shown}, {over}", "Start lower, or use another place."
        title, reached = f"{m.name}: rises above the block", m.highest_point
    else:
        return
    words = f"{words} above the top of the block, {top.shown}."
    yield passed(Kind.TOP, Verdict.STOP, title, words, reached, top, hint)


def _never_exceed(m: Measured, c: Conditions) -> Iterable[Check]:
    never = c.card.speed_answer(c.card.speeds.never_exceed_ias, "Vne")
    (top, what), margin = m.top_speed(never), c.standards.speed_margin.value
    words = f"{what} {top.shown}; Vne is {never.shown}."
    yield judged(Kind.VNE, f"{m.name}: speed", words, top, never, never.value - top.value, margin)


def _flap_speed(m: Measured, c: Conditions) -> Iterable[Check]:
    if flapped(m.planned):
        most = c.card.speed_answer(c.card.speeds.flap_most_ias, "Vfe")
        top, what = m.top_speed(most)
        words = f"{what} {top.shown} with flap; Vfe is {most.shown}."
        yield judged(Kind.VFE, f"{m.name}: speed with flap", words, top, most, most.value - top.value, 5.0)


def _full_controls(m: Measured, c: Conditions) -> Iterable[Check]:
    """Va binds the entries that are flown with full deflection."""
    if figure_of(m.planned.key).gate.full_controls and m.entry.value > c.manoeuvring.value:
        title = f"{m.name}: full controls above Va"
        words = f"Enters at {m.entry.shown} with full deflection; Va today is {c.manoeuvring.shown}."
        yield passed(Kind.VA, Verdict.MIND, title, words, m.entry, c.manoeuvring, "Enter slower.")


def _rough_air(m: Measured, c: Conditions) -> Iterable[Check]:
    """Vno is for smooth air: it is looked at when gusts are given."""
    normal = c.card.speed_answer(c.card.speeds.normal_most_ias, "Vno")
    top, what = m.top_speed(normal)
    if c.day.gust_kt is not None and top.value > normal.value:
        words = f"{what} {top.shown}. Above Vno, {normal.shown}, only in smooth air; gusts"
        words += f" reach {c.day.gust_kt:.0f} kt."
        hint = "Leave it for a calmer day, or fly it slower."
        yield passed(Kind.ROUGH_AIR, Verdict.MIND, f"{m.name}: above Vno in gusts", words, top, normal, hint)


def _too_slow(m: Measured, c: Conditions) -> Iterable[Check]:
    """A gate may be meant a little below the stall without power: its own share of it is what may not be
    undercut."""
    gate = figure_of(m.planned.key).gate
    share = min(1.0, gate.speed_share) if gate.speed_base == "stall" else 1.0
    if m.entry.value < share * c.stall.value - 0.5:
        words = f"Enters at {m.entry.shown}; the stall speed today is {c.stall.shown}."
        room = m.entry.value - c.stall.value
        yield judged(Kind.SLOW, f"{m.name}: entry below the stall", words, m.entry, c.stall, room, 0.0)


def _possible(m: Measured, c: Conditions) -> Iterable[Check]:
    """With the part in which it stops, and the speed that is missing there."""
    lacks = m.shortfall
    if lacks is None:
        return
    missing = "" if lacks.speed is None else f", {in_words(lacks.speed, m.entry.unit, 'up')} short there"
    title = f"{m.name}: cannot be flown so"
    words = f"Entered at {m.entry.shown}: {lacks.words} ({lacks.part.lower()}{missing})."
    spun = lacks in SPUN_OTHERWISE.values()
    room = "not as planned" if spun else "not enough speed"
    hint = "Another way out, or leave it out." if spun else "Enter faster, or ask less of it."
    yield Check(Kind.POSSIBLE, Verdict.STOP, title, words, m.entry, None, room, hint=hint)


def most_g(c: Conditions, flap: bool) -> Answer:
    """The limit load factor: lower with flap."""
    limits = c.card.limits
    return limits.flap_g.answer("Limit with flap", "g") if flap else limits.most_g.answer("Limit", "g")


def _most_g(m: Measured, c: Conditions) -> Iterable[Check]:
    flap = flapped(m.planned)
    limit = most_g(c, flap)
    words = f"Pulls {m.most_g.shown}; the limit{' with flap' if flap else ''} is {limit.shown}."
    yield judged(Kind.G, f"{m.name}: g", words, m.most_g, limit, limit.value - m.most_g.value, 0.5)


def _least_g(m: Measured, c: Conditions) -> Iterable[Check]:
    limit = c.card.limits.least_g.answer("Least g", "g")
    words = f"Pushes to {m.least_g.shown}; the limit is {limit.shown}."
    room = m.least_g.value - limit.value
    yield judged(Kind.LEAST_G, f"{m.name}: negative g", words, m.least_g, limit, room, 0.5)


def _rolling_g(m: Measured, c: Conditions) -> Iterable[Check]:
    rolling = m.most_rolling_g
    if rolling is not None:
        stated = known(c.card, "limits.rolling_g")
        limit = stated.answer("Limit while rolling", "g")
        estimated = ", estimated" if stated.how else ""
        words = f"{rolling.shown} while rolling; the limit is {limit.shown}{estimated}."
        room = limit.value - rolling.value
        yield judged(Kind.ROLLING_G, f"{m.name}: g while rolling", words, rolling, limit, room, 0.3)


def _negative_time(m: Measured, c: Conditions) -> Iterable[Check]:
    """The manual's longest time inverted, where it has one."""
    stated, negative = c.card.limits.inverted_s, m.longest_negative
    if stated is not None and negative.value > 0:
        limit = stated.answer("Longest inverted or at negative g", "s")
        words = f"{negative.shown} on end at negative g; the limit is {limit.shown}."
        hint = "The engine may lack oil or fuel beyond it: ask less of the figure, or leave it out."
        title, room = f"{m.name}: time at negative g", limit.value - negative.value
        yield judged(Kind.NEGATIVE_S, title, words, negative, limit, room, 1.0, hint)


FIGURE_CHECKS: tuple[Callable[[Measured, Conditions], Iterable[Check]], ...] = (
    _floor,
    _top,
    _never_exceed,
    _flap_speed,
    _full_controls,
    _rough_air,
    _too_slow,
    _most_g,
    _least_g,
    _rolling_g,
    _negative_time,
    _possible,
    _approval,
)


def figure_checks(measured: Measured, conditions: Conditions) -> list[Check]:
    checks = (check for look in FIGURE_CHECKS for check in look(measured, conditions))
    return [replace(c, figure=measured.planned.id) for c in checks if c.worth_saying]
