"""Checks of the whole flight: load and fuel, the day, the people, the order. Each with the number that
decides."""

from collections.abc import Mapping, Sequence
from datetime import timedelta

from keelturn.aircraft.loading import LoadPoint
from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.margins.checks import Check, judged
from keelturn.margins.floors import regulation_floor
from keelturn.plan.chain import Exposure
from keelturn.plan.document import PlanDocument
from keelturn.plan.ground import Drift
from keelturn.school.standards import Standards
from keelturn.weather.report import age_in_words
from keelturn.weather.sun import sunset
from keelturn.working import Answer, Source, given, in_words

# Families that go beyond 60 degrees of bank or 30 of pitch, and those that an instructor may give without
# parachutes toward a rating. 14 CFR 91.307(c) and (d), from memory: the user must confirm it for the place.
PARACHUTES_FOR = ("Spirals", "Rolls", "Looping", "Lines", "Upsets")
EXCEPTED = ("Spins",)


def weight_checks(c: Conditions) -> list[Check]:
    balance, weight, arm = c.card.balance, c.loading.weight, c.loading.arm
    limit = balance.aerobatic_most_lb.answer("Most weight for aerobatics", "lb")
    spare = limit.value - weight.value
    over = (
        f"{in_words(-spare, 'lb', 'up')} over: take out fuel or baggage."
        if spare < 0
        else "The limits of the manual hold at this weight."
    )
    found = [
        judged("weight", "Aerobatic weight", weight, spare, 20.0, f"{weight.shown} of {limit.shown}. {over}")
    ]
    forward, aft = balance.aerobatic_forward_in.value, balance.aerobatic_aft_in.value
    room = min(arm.value - forward, aft - arm.value)
    where = "inside" if room >= 0 else "outside"
    found.append(
        judged(
            "balance",
            "Centre of gravity",
            arm,
            room,
            0.3,
            f"{arm.value:.1f} in, {where} {forward:g} to {aft:g}. Too far aft, a spin may not stop.",
        )
    )
    for seat, flown in zip(balance.seats, c.loading.weight.inputs[1:3], strict=True):
        if flown.value > seat.most_lb:
            found.append(
                judged(
                    f"seat_{seat.name}",
                    f"{seat.name} seat",
                    flown,
                    seat.most_lb - flown.value,
                    0.0,
                    f"{flown.shown} in a seat placarded {seat.most_lb:g} lb.",
                )
            )
    return found


def spin_weight_check(c: Conditions) -> Check | None:
    """The manual's own limit of weight for spins, where the plan has spins."""
    if c.card.spin is None:
        return None
    limit = c.card.spin.most_lb.answer("Most weight for spins", "lb")
    weight = c.loading.weight
    return judged(
        "spin_weight",
        "Weight for spins",
        weight,
        limit.value - weight.value,
        20.0,
        f"{weight.shown} of {limit.shown}.",
    )


def floor_checks(c: Conditions) -> list[Check]:
    if c.own_floor_ft is None:
        return []
    rule = regulation_floor(c)
    spare = c.own_floor_ft - rule.value
    own = given("Instructor's own floor", c.own_floor_ft, "ft", Source("plan", "set for this sortie"), "up")
    sentence = (
        f"Your floor of {own.shown} is under the regulation's {rule.shown}. Raise it; the regulation's is"
        " used meanwhile."
        if spare < 0
        else f"Your own floor of {own.shown} is above the regulation's {rule.shown}."
    )
    return [judged("own_floor", "Your own floor", own, spare, 0.0, sentence)]


def fuel_check(c: Conditions, minutes: Answer) -> Check:
    reserve = c.standards.reserve_min.answer("Reserve", "min")
    tank = c.loading.aerobatic_minutes
    spare = tank.value - reserve.value - minutes.value
    return judged(
        "fuel",
        "Fuel in the aerobatic tank",
        tank,
        spare,
        10.0,
        f"{minutes.shown} planned and {reserve.shown} kept, {in_words(tank.value, 'min', 'down')} in the"
        " tank.",
    )


def weather_checks(c: Conditions, highest_start_ft: float) -> list[Check]:
    least = c.standards.visibility_sm.answer("Least visibility", "SM")
    seen = given("Visibility", c.day.visibility_sm, "SM", Source("day", c.day.source("visibility_sm")))
    found = report_checks(c)
    found += [
        judged(
            "visibility",
            "Visibility",
            seen,
            seen.value - least.value,
            2.0,
            f"{seen.shown} reported, {least.shown} asked for.",
        )
    ]
    if c.day.cloud_base_ft is not None:
        base = given(
            "Cloud base",
            c.day.cloud_base_ft,
            "ft",
            Source("day", f"{c.day.source('cloud_base_ft')}, on QNH"),
            "down",
        )
        above = c.standards.cloud_above_ft.answer("Kept below cloud", "ft", "up")
        spare = base.value - highest_start_ft - above.value
        sentence = (
            f"Base {base.shown}; the highest start is {in_words(highest_start_ft, 'ft', 'up')} and"
            f" {above.shown} is kept below cloud."
        )
        found.append(judged("cloud", "Cloud base", base, spare, 500.0, sentence))
    return found


def parachute_check(days: float | None, standards: Standards) -> Check:
    limit = standards.parachute_days.answer("Days between repacks", "days")
    if days is None:
        return Check(
            "parachute",
            "mind",
            "Parachutes",
            "No repack date on record. Look at the card in the pack.",
            limit,
            "not known",
        )
    age = given("Days since the last repack", days, "days", Source("school", "aircraft record"))
    return judged(
        "parachute",
        "Parachutes",
        age,
        limit.value - age.value,
        14.0,
        f"Oldest was packed {age.value:.0f} days ago, limit {limit.value:.0f}.",
    )


def load_point_checks(c: Conditions, points: Sequence[LoadPoint]) -> list[Check]:
    """The envelope again at the first figure and at the end, as fuel burns; said only where it leaves the
    limits."""
    found = []
    for point in points[1:3]:  # Nothing is flown from there to the landing.
        if not point.inside:
            arm = point.loading.arm
            found.append(
                Check(
                    f"balance_{point.when}",
                    "stop",
                    f"Weight and balance at the {point.when}",
                    f"With the fuel left then: {point.loading.weight.shown} at {arm.value:.1f} in, outside"
                    " the aerobatic limits.",
                    arm,
                    "outside",
                )
            )
    return found


def order_checks(people: Exposure, titles: Mapping[str, str]) -> list[Check]:
    """What the order does to the people: pushes straight before hard pulls (AC 91-61, from memory), and the
    comfort load."""
    found = []
    advice = Source("regulation", "FAA AC 91-61, from memory")
    for push, pull in people.pushes_before_pulls:
        count = given(
            "Pushes straight before a hard pull", float(len(people.pushes_before_pulls)), "", advice
        )
        found.append(
            Check(
                f"order_{pull}",
                "mind",
                f"{titles[pull]}: straight after a push",
                f"{titles[push]} is flown at less than no g; a hard pull right after is harder to bear. Put a"
                " gentle one between.",
                count,
                "change the order",
                pull,
            )
        )
    if people.passes_limit_at is not None:
        load = given(
            "Comfort load", people.comfort_load, "", Source("common practice", "no published source")
        )
        found.append(
            Check(
                "comfort",
                "mind",
                "Much for one flight",
                f"From {titles[people.passes_limit_at]} on it is more than most take well in one flight at"
                f" this stage: {people.comfort_load:.0f} of {people.comfort_limit:.0f}. Ask for the number"
                " after every figure.",
                load,
                f"{people.comfort_load - people.comfort_limit:.0f} over",
                people.passes_limit_at,
            )
        )
    return found


def report_checks(c: Conditions) -> list[Check]:
    """The age of the report at the time of the flight; nothing where there is no report, or no time."""
    if c.day.observed is None or c.off_blocks is None:
        return []
    limit = c.standards.report_min.answer("Oldest report used", "min")
    age = (c.off_blocks - c.day.observed).total_seconds() / 60.0
    old = given(
        "Age of the report at the time of the flight",
        age,
        "min",
        Source("day", c.day.report[:60] or "report"),
    )
    if age <= limit.value:
        return []
    return [
        Check(
            "report",
            "mind",
            "Weather report",
            f"It will be {age_in_words(age)} old when you fly. Fetch or paste a newer one before you go.",
            old,
            f"{in_words(age - limit.value, 'min', 'up')} over",
        )
    ]


def daylight_check(c: Conditions, minutes: Answer) -> list[Check]:
    """Sunset less the school's minutes against the end of the flight; nothing where the place has no position
    or the plan no time."""
    if c.off_blocks is None or c.place.latitude_deg is None or c.place.longitude_deg is None:
        return []
    sets = sunset(c.place.latitude_deg, c.place.longitude_deg, c.off_blocks)
    if sets is None:
        return []
    kept = c.standards.daylight_min.answer("Kept before sunset", "min")
    ends = c.off_blocks + timedelta(minutes=minutes.value)
    spare = (sets - ends).total_seconds() / 60.0 - kept.value
    left = given(
        "From the end of the flight to sunset",
        spare + kept.value,
        "min",
        Source("day", "sun's position at the place (astral)"),
        "down",
    )
    if not -720.0 < spare < 720.0:
        return []
    verdict = "comes too soon" if spare < 0 else "leaves enough"
    return [
        judged(
            "daylight",
            "Daylight",
            left,
            spare,
            20.0,
            f"Sunset is at {sets:%H:%M} UTC and {verdict}: down at {ends:%H:%M} UTC, {kept.shown} kept"
            " before it.",
        )
    ]


def worn_check(c: Conditions, figures: Sequence[PlannedFigure]) -> list[Check]:
    """Parachutes where the figures ask for them and two are aboard."""
    load = c.load
    without = [
        seat.name.lower()
        for seat, person, chute in zip(
            c.card.balance.seats,
            (load.front_lb, load.rear_lb),
            (load.front_parachute_lb, load.rear_parachute_lb),
            strict=True,
        )
        if person and not chute
    ]
    asks = [f for f in figures if figure_of(f.key).family in PARACHUTES_FOR]
    excepted = [f for f in figures if figure_of(f.key).family in EXCEPTED]
    if not without or not (load.front_lb and load.rear_lb) or not (asks or excepted):
        return []
    rule = given(
        "Seats without a parachute",
        float(len(without)),
        "",
        Source("regulation", "14 CFR 91.307(c) and (d), from memory; confirm for the place"),
    )
    names = sorted({figure_of(f.key).name.lower() for f in asks or excepted})
    which = ", ".join(names[:3]) + (" and more" if len(names) > 3 else "")
    seats = " and ".join(without)
    if asks:
        return [
            Check(
                "worn",
                "stop",
                "Parachutes not worn",
                f"None in the {seats} seat, and {which} {'goes' if len(names) == 1 else 'go'} beyond 60 "
                "degrees of bank or 30 of pitch. Enter them under Load, or leave these figures out.",
                rule,
                "not worn",
            )
        ]
    return [
        Check(
            "worn",
            "mind",
            "Parachutes not worn",
            f"None in the {seats} seat. For {which} an instructor may go without when it is for a rating; "
            "your school and your place decide.",
            rule,
            "not worn",
        )
    ]


def feeling_check(c: Conditions, plan: PlanDocument) -> list[Check]:
    """The student's own number before the flight, where it was asked."""
    if plan.feeling is None:
        return []
    least = c.standards.feel_least.answer("Least number to begin with", "")
    number = given("The student's number", float(plan.feeling), "", Source("plan", "asked before the flight"))
    return [
        judged(
            "feeling",
            "How the student feels",
            number,
            plan.feeling - least.value,
            2.0,
            f"{plan.feeling} of 10 before the flight; the school stops below {least.value:.0f}.",
        )
    ]


def drift_check(found: Drift, titles: Mapping[str, str], radius_nm: float) -> list[Check]:
    """The first figure that ends outside the block when nothing is done about the wind."""
    if found.first_outside is None:
        return []
    crossing = next(c for c in found.crossings if c.figure == found.first_outside)
    over = given(
        "From the middle of the place", crossing.from_middle_nm, "NM", Source("model", "docs/model.md, drift")
    )
    return [
        Check(
            "drift",
            "mind",
            f"{titles[crossing.figure]}: ends outside the block",
            f"The wind carries you {found.total.shown} in all. Go back upwind before it, or begin further"
            " upwind.",
            over,
            f"{crossing.from_middle_nm - radius_nm:.1f} NM out",
            crossing.figure,
        )
    ]


def flight_checks(
    plan: PlanDocument,
    c: Conditions,
    figures: Sequence[PlannedFigure],
    points: Sequence[LoadPoint],
    minutes: Answer,
    people: Exposure,
    wind: Drift,
    titles: Mapping[str, str],
) -> list[Check]:
    """Everything that is asked of the flight as a whole."""
    found = [*weight_checks(c), *load_point_checks(c, points), *floor_checks(c), fuel_check(c, minutes)]
    if any(figure_of(f.key).spin for f in figures) and (spins := spin_weight_check(c)):
        found.append(spins)
    found += order_checks(people, titles)
    found += weather_checks(c, max((f.start_ft for f in plan.figures), default=0.0))
    found += daylight_check(c, minutes) + drift_check(wind, titles, c.place.radius_nm)
    found += worn_check(c, figures) + feeling_check(c, plan)
    return [*found, parachute_check(c.parachute_days, c.standards)]
