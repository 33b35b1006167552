"""Checks of the whole flight: load and fuel, the day, the people, the order. Each with the number that
decides.

Adding one: a member of `Kind` in margins/checks.py, a function here, its place in FLIGHT_CHECKS, and a
test."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from datetime import date
from enum import StrEnum

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Family
from keelturn.flying.conditions import Conditions
from keelturn.margins.checks import Check, Kind, Verdict, judged
from keelturn.margins.floors import regulation_floor
from keelturn.plan import weather_checks
from keelturn.plan.whole_flight import Flight
from keelturn.school.before import Missing
from keelturn.school.dates import Dated
from keelturn.school.standards import Standards
from keelturn.working import Answer, Source, given, in_words


class Worn(StrEnum):
    """What 14 CFR 91.307(c) and (d) make of a family, from memory; the user must confirm it for the place:
    asked for beyond 60 degrees of bank or 30 of pitch; excepted when an instructor gives it toward a
    rating."""

    ASKED = "asked"
    EXCEPTED = "excepted"
    NOT_ASKED = "not asked"


CARD = Source("not given", "aircraft card")
PARACHUTES: Mapping[Family, Worn] = {
    Family.COORDINATION: Worn.NOT_ASKED,
    Family.STALLS: Worn.NOT_ASKED,
    Family.SPIRALS: Worn.ASKED,
    Family.SPINS: Worn.EXCEPTED,
    Family.ROLLS: Worn.ASKED,
    Family.LOOPING: Worn.ASKED,
    Family.LINES: Worn.ASKED,
    Family.UPSETS: Worn.ASKED,
}


# Which limit, what it means, what to do (common practice, no published source).
TOO_FAR_FORWARD = (
    "ahead of the forward",
    "The elevator may not raise the nose at low speed.",
    "Move weight aft.",
)
TOO_FAR_AFT = (
    "behind the aft",
    "Less stable, and a spin may not stop.",
    "Move weight forward.",
)


def _weight(f: Flight, c: Conditions) -> Iterable[Check]:
    weight = c.loading.weight
    limit = c.card.balance.aerobatic_most_lb.answer("Most weight for aerobatics", "lb")
    room = limit.value - weight.value
    words = f"{weight.shown} of {limit.shown}."
    hint = f"{in_words(-room, 'lb', 'up')} over: take out fuel or baggage." if room < 0 else ""
    yield judged(Kind.WEIGHT, "Aerobatic weight", words, weight, limit, room, 20.0, hint)


def _balance_limits(c: Conditions) -> tuple[Answer, Answer]:
    balance = c.card.balance
    return (
        balance.aerobatic_forward_in.answer("Forward limit", "in"),
        balance.aerobatic_aft_in.answer("Aft limit", "in"),
    )


def _balance(f: Flight, c: Conditions) -> Iterable[Check]:
    arm, (forward, aft) = c.loading.arm, _balance_limits(c)
    room, limit = min((arm.value - forward.value, forward), (aft.value - arm.value, aft), key=lambda r: r[0])
    words, hint = _beyond(arm, forward, aft)
    words = words or f"{arm.value:.1f} in, between {forward.value:g} and {aft.value:g}."
    yield judged(Kind.BALANCE, "Centre of gravity", words, arm, limit, room, 0.3, hint)


def _beyond(arm: Answer, forward: Answer, aft: Answer) -> tuple[str, str]:
    """Which limit the centre of gravity is beyond and what that means, and what to do; nothing inside."""
    if forward.value <= arm.value <= aft.value:
        return "", ""
    ahead = arm.value < forward.value
    (which, means, hint), limit = (TOO_FAR_FORWARD, forward) if ahead else (TOO_FAR_AFT, aft)
    return f"{arm.value:.1f} in, {which} limit of {limit.value:g} in. {means}", hint


def _balance_later(f: Flight, c: Conditions) -> Iterable[Check]:
    """The envelope again at the first figure and at the end, as fuel burns; nothing is flown from there to
    the landing."""
    most = c.card.balance.aerobatic_most_lb.answer("Most weight for aerobatics", "lb")
    for point in f.points[1:3]:
        if not point.inside:
            weight, arm = point.loading.weight, point.loading.arm
            title = f"Weight and balance at the {point.when}"
            over = f" ({most.shown} allowed)" if weight.value > most.value else ""
            beyond, hint = _beyond(arm, *_balance_limits(c))
            words = f"With the fuel left then: {weight.shown}{over} at {beyond or f'{arm.value:.1f} in.'}"
            yield Check(Kind.BALANCE, Verdict.STOP, title, words, arm, None, "outside", 0.0, hint, point.when)


def _seats(f: Flight, c: Conditions) -> Iterable[Check]:
    for seat, loaded in zip(c.card.balance.seats, c.loading.seats, strict=True):
        limit = given(f"Most in the {seat.name.lower()} seat", seat.most_lb, "lb", CARD)
        words = f"{loaded.shown} in a seat for {limit.shown}."
        room = limit.value - loaded.value
        yield judged(Kind.SEAT, f"{seat.name} seat", words, loaded, limit, room, 0.0, subject=seat.name)


def _baggage(f: Flight, c: Conditions) -> Iterable[Check]:
    hold, loaded = c.card.balance.baggage, c.loading.baggage
    limit = given(f"Most in the {hold.name.lower()}", hold.most_lb, "lb", CARD)
    words = f"{loaded.shown} where the card allows {limit.shown}."
    room = limit.value - loaded.value
    yield judged(
        Kind.BAGGAGE, f"Baggage, {hold.name.lower()}", words, loaded, limit, room, 0.0, "Take it out."
    )


def _spin_weight(f: Flight, c: Conditions) -> Iterable[Check]:
    """The manual's own limit of weight for spins, where the plan has spins."""
    if c.card.spin is not None and any(figure_of(p.key).spin for p in f.figures):
        limit, weight = c.card.spin.most_lb.answer("Most weight for spins", "lb"), c.loading.weight
        words = f"{weight.shown} of {limit.shown}."
        yield judged(
            Kind.SPIN_WEIGHT, "Weight for spins", words, weight, limit, limit.value - weight.value, 20.0
        )


def _own_floor(f: Flight, c: Conditions) -> Iterable[Check]:
    if c.own_floor_ft is None:
        return
    rule = regulation_floor(c)
    room = c.own_floor_ft - rule.value
    own = given("Instructor's own floor", c.own_floor_ft, "ft", Source("plan", "set for this sortie"), "up")
    words, hint = f"Your own floor of {own.shown} is above the regulation's {rule.shown}.", ""
    if room < 0:
        words = f"Your floor of {own.shown} is under the regulation's {rule.shown}."
        hint = "Raise it; the regulation's is used meanwhile."
    yield judged(Kind.OWN_FLOOR, "Your own floor", words, own, rule, room, 0.0, hint)


def _fuel(f: Flight, c: Conditions) -> Iterable[Check]:
    reserve, tank = c.standards.reserve_min.answer("Reserve", "min"), c.loading.aerobatic_minutes
    room = tank.value - reserve.value - f.minutes.value
    words = f"{f.minutes.shown} planned and {reserve.shown} kept, {tank.shown} in the tank."
    yield judged(Kind.FUEL, "Fuel in the aerobatic tank", words, tank, reserve, room, 10.0)


def _order(f: Flight, c: Conditions) -> Iterable[Check]:
    """Pushes straight before hard pulls (AC 91-61, from memory)."""
    advice, pairs = Source("regulation", "FAA AC 91-61, from memory"), f.people.pushes_before_pulls
    count = given("Pushes straight before a hard pull", float(len(pairs)), "", advice)
    for push, pull in pairs:
        title = f"{f.titles[pull]}: straight after a push"
        words = f"{f.titles[push]} is flown at less than no g; a hard pull right after is harder to bear."
        spare, hint = "change the order", "Put a gentle one between."
        check = Check(Kind.ORDER, Verdict.MIND, title, words, count, None, spare, hint=hint)
        yield replace(check, figure=pull)


def _comfort(f: Flight, c: Conditions) -> Iterable[Check]:
    people = f.people
    if people.passes_limit_at is None:
        return
    practice = Source("common practice", "no published source")
    load = given("Comfort load", people.comfort_load, "", practice)
    limit = given("Comfort load taken well at this stage", people.comfort_limit, "", practice)
    words = f"From {f.titles[people.passes_limit_at]} on it is more than most take well in one flight at this"
    words += f" stage: {load.value:.0f} of {limit.value:.0f}."
    hint, over = "Ask for the number after every figure.", load.value - limit.value
    check = Check(
        Kind.COMFORT, Verdict.MIND, "Much for one flight", words, load, limit, f"{over:.0f} over", -over, hint
    )
    yield replace(check, figure=people.passes_limit_at)


def _feeling(f: Flight, c: Conditions) -> Iterable[Check]:
    """The student's own number before the flight, where it was asked."""
    if f.plan.feeling is None:
        return
    least = c.standards.feel_least.answer("Least number to begin with", "")
    number = given(
        "The student's number", float(f.plan.feeling), "", Source("plan", "asked before the flight")
    )
    words = f"{f.plan.feeling} of 10 before the flight; the school stops below {least.value:.0f}."
    room = number.value - least.value
    yield judged(Kind.FEELING, "How the student feels", words, number, least, room, 2.0)


def _worn(f: Flight, c: Conditions) -> Iterable[Check]:
    """Parachutes where the figures ask for them and two are aboard."""
    load = c.load
    people = (load.front_lb, load.rear_lb)
    chutes = (load.front_parachute_lb, load.rear_parachute_lb)
    without = [
        seat.name.lower()
        for seat, person, chute in zip(c.card.balance.seats, people, chutes, strict=True)
        if person and not chute
    ]
    rules = {p.key: PARACHUTES[figure_of(p.key).family] for p in f.figures}
    asks = [key for key, rule in rules.items() if rule == Worn.ASKED]
    excepted = [key for key, rule in rules.items() if rule == Worn.EXCEPTED]
    if not without or not all(people) or not (asks or excepted):
        return
    source = Source("regulation", "14 CFR 91.307(c) and (d), from memory; confirm for the place")
    count = given("Seats without a parachute", float(len(without)), "", source)
    names = sorted({figure_of(key).name.lower() for key in asks or excepted})
    which = ", ".join(names[:3]) + (" and more" if len(names) > 3 else "")
    none = f"None in the {' and '.join(without)} seat."
    if asks:
        goes = "goes" if len(names) == 1 else "go"
        words = f"{none} {which[0].upper()}{which[1:]} {goes} beyond 60 degrees of bank or 30 of pitch."
        verdict, hint = Verdict.STOP, "Enter them under Load, or leave these figures out."
    else:
        words = f"{none} For {which} an instructor may go without when it is for a rating."
        verdict, hint = Verdict.MIND, "Your school and your place decide."
    yield Check(Kind.WORN, verdict, "Parachutes not worn", words, count, None, "not worn", hint=hint)


def parachute_check(days: float | None, standards: Standards) -> Check:
    """Days since the last repack; None where it is not on record."""
    limit = standards.parachute_days.answer("Days between repacks", "days")
    if days is None:
        words, hint = "No repack date on record.", "Look at the card in the pack."
        return Check(Kind.PARACHUTE, Verdict.MIND, "Parachutes", words, limit, limit, "not known", hint=hint)
    age = given("Days since the last repack", days, "days", Source("school", "aircraft record"))
    words = f"Oldest was packed {age.value:.0f} days ago, limit {limit.value:.0f}."
    return judged(Kind.PARACHUTE, "Parachutes", words, age, limit, limit.value - age.value, 14.0)


def _parachute(f: Flight, c: Conditions) -> Iterable[Check]:
    yield parachute_check(c.parachute_days, c.standards)


def date_check(dated: Dated, on: date) -> Check:
    """What this date makes of a flight on that day."""
    kind = Kind.PERSON_DATE if dated.kind == "person" else Kind.AIRCRAFT_DATE
    source = Source("school", f"dates of {dated.of}")
    left = given("Days until it ends", float(dated.days_left(on)), "days", source)
    warned = given("Said from so many days before", float(dated.warn_days), "days", source)
    words, hint = dated.words(on), "Have it renewed, and the new date entered under Dates."
    check = judged(
        kind, dated.title, words, left, warned, left.value, dated.warn_days + 1.0, hint, dated.title
    )
    return check if dated.stops or check.verdict != Verdict.STOP else replace(check, verdict=Verdict.MIND)


def _dates(f: Flight, c: Conditions) -> Iterable[Check]:
    if c.off_blocks is not None:
        yield from (date_check(dated, c.off_blocks.date()) for dated in c.dates)


def stops(one: Missing, standards: Standards) -> bool:
    """Whether the chief lets it stop the flight, until an instructor overrides it."""
    return bool(getattr(standards.before, one.item) == "stop")


def _before(f: Flight, c: Conditions) -> Iterable[Check]:
    """What should come before the lesson and has not; the chief decides whether it stops the flight."""
    for one in c.before:
        verdict = Verdict.STOP if stops(one, c.standards) else Verdict.MIND
        number = given(one.title, one.number, one.unit, Source("school", one.source))
        yield Check(
            Kind.BEFORE,
            verdict,
            one.title,
            one.words,
            number,
            None,
            one.short,
            hint=one.do,
            subject=one.item,
        )


def _drift(f: Flight, c: Conditions) -> Iterable[Check]:
    """The first figure that ends outside the block when nothing is done about the wind."""
    if f.wind.first_outside is None:
        return
    crossing = next(x for x in f.wind.crossings if x.figure == f.wind.first_outside)
    out = given("From the middle of the place", crossing.from_middle_nm, "NM", Source("model", "drift"))
    limit = given("Radius of the block", c.place.radius_nm, "NM", Source("school", f"place: {c.place.name}"))
    title = f"{f.titles[crossing.figure]}: ends outside the block"
    words = f"The wind carries you {f.wind.total.shown} in all."
    hint, beyond = "Go back upwind before it, or begin further upwind.", out.value - limit.value
    spare = f"{beyond:.1f} NM out"
    check = Check(Kind.DRIFT, Verdict.MIND, title, words, out, limit, spare, -beyond, hint)
    yield replace(check, figure=crossing.figure)


FLIGHT_CHECKS: tuple[Callable[[Flight, Conditions], Iterable[Check]], ...] = (
    _weight,
    _balance,
    _seats,
    _baggage,
    _balance_later,
    _own_floor,
    _fuel,
    _spin_weight,
    _order,
    _comfort,
    weather_checks.report,
    weather_checks.air,
    weather_checks.visibility,
    weather_checks.cloud,
    weather_checks.wind,
    weather_checks.daylight,
    _drift,
    _worn,
    _feeling,
    _parachute,
    _dates,
    _before,
)


def flight_checks(flight: Flight, conditions: Conditions) -> list[Check]:
    """Everything that is asked of the flight as a whole."""
    checks = (check for look in FLIGHT_CHECKS for check in look(flight, conditions))
    return [check for check in checks if check.worth_saying]
