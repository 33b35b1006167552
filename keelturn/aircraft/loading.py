"""Weight and balance for one flight, and what follows from weight.

Sources: moments about a datum (FAA-H-8083-1B, Weight and Balance Handbook, from memory); Vs and Va
proportional to the square root of weight (FAA-H-8083-25C, chapter on aerodynamics of flight, from memory).
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from pydantic import Field

from keelturn.aircraft.card import Balance, Card
from keelturn.document import Document, Wrong, told
from keelturn.working import Answer, Source, given, worked

AVGAS_LB_USGAL = 6.0  # FAA-H-8083-1B, standard weight of aviation gasoline, from memory
PLAN = Source("plan", "loading of this flight")
# What a plan begins with until somebody says otherwise (common practice, no published source): a parachute's
# weight, and how full the tanks are that may feed aerobatics.
PARACHUTE_LB, FUEL_SHARE = 15.0, 0.7


class Load(Document):
    """What is put into the aircraft. Fuel in US gallons by tank name; a parachute's weight is 0 where none is
    worn."""

    front_lb: float = told("First seat", "lb", ge=0, le=500)
    rear_lb: float = told("Second seat", "lb", ge=0, le=500)
    front_parachute_lb: float = told("Parachute, first seat", "lb", 0, ge=0, le=60)
    rear_parachute_lb: float = told("Parachute, second seat", "lb", 0, ge=0, le=60)
    baggage_lb: float = told("Baggage", "lb", 0, ge=0, le=500)
    fuel_usgal: dict[str, float] = Field(
        default_factory=dict, title="Fuel", json_schema_extra={"unit": "US gal", "hidden": True}
    )


def usual_fuel(balance: Balance) -> dict[str, float]:
    """US gallons by tank that a plan begins with: only in the tanks that may feed aerobatics."""
    return {
        tank.name: round(tank.usable_usgal * FUEL_SHARE, 1) for tank in balance.tanks if tank.feeds_aerobatics
    }


def usual_load(balance: Balance, front_lb: float, rear_lb: float, parachutes: bool) -> Load:
    """What a plan begins with for these two people."""
    worn = PARACHUTE_LB if parachutes else 0.0
    return Load(
        front_lb=front_lb,
        rear_lb=rear_lb,
        front_parachute_lb=worn,
        rear_parachute_lb=worn,
        fuel_usgal=usual_fuel(balance),
    )


def fitted(load: Load, balance: Balance) -> Load:
    """The load on a card whose tanks may be others: what fits stays, fuel of tanks that are no more is taken
    out, a new tank gets what a plan begins with."""
    usual = usual_fuel(balance)
    fuel = {
        tank.name: min(load.fuel_usgal.get(tank.name, usual.get(tank.name, 0.0)), tank.usable_usgal)
        for tank in balance.tanks
        if tank.name in load.fuel_usgal or tank.name in usual
    }
    return load.model_copy(update={"fuel_usgal": fuel})


@dataclass(frozen=True, slots=True)
class Loading:
    """seats: person and parachute in each, in the card's order."""

    weight: Answer
    arm: Answer
    seats: tuple[Answer, ...]
    baggage: Answer
    aerobatic_fuel: Answer
    aerobatic_minutes: Answer


def fuel_aboard(balance: Balance, load: Load) -> dict[str, float]:
    """Gallons by tank. Raises Wrong for a tank the card does not have, or a figure beyond its size or
    below zero."""
    sizes = {tank.name: tank.usable_usgal for tank in balance.tanks}
    for name, gallons in load.fuel_usgal.items():
        if name not in sizes:
            raise Wrong(("load.fuel_usgal", f"this card has no tank '{name}'", f"It has {', '.join(sizes)}."))
        if not 0 <= gallons <= sizes[name]:
            raise Wrong(
                (
                    f"load.fuel_usgal.{name}",
                    f"{gallons:g} is outside 0 to {sizes[name]:g} US gal usable",
                    "Correct the load.",
                )
            )
    return {name: load.fuel_usgal.get(name, 0.0) for name in sizes}


def burned(balance: Balance, fuel: Mapping[str, float], minutes: float, aerobatic: bool) -> dict[str, float]:
    """Gallons by tank after this many minutes at the card's burn. Figures are flown from the tanks that may
    feed them; taxi and climbs empty the others first, where there are any (common practice, no published
    source). A tank never goes below nothing."""
    left, need = dict(fuel), minutes / 60.0 * balance.aerobatic_burn_usgal_h.value
    for tank in sorted(balance.tanks, key=lambda t: t.feeds_aerobatics != aerobatic):
        drawn = min(need, left[tank.name])
        left[tank.name], need = left[tank.name] - drawn, need - drawn
    return left


@dataclass(frozen=True, slots=True)
class LoadPoint:
    """The aircraft at one moment: weight, balance and the speeds that follow, fuel by tank (US gal)."""

    when: str
    loading: Loading
    stall: Answer
    manoeuvring: Answer
    fuel_usgal: dict[str, float]
    inside: bool


def load_points(
    card: Card, load: Load, before_min: float, figures_min: float, after_min: float
) -> tuple[LoadPoint, ...]:
    """Take-off, the first figure (after `before_min` of taxi and climb), the end of the last (after
    `figures_min` more) and the landing (`after_min` later)."""
    fuel = fuel_aboard(card.balance, load)
    first = burned(card.balance, fuel, before_min, aerobatic=False)
    last = burned(card.balance, first, figures_min, aerobatic=True)
    down = burned(card.balance, last, after_min, aerobatic=False)
    moments = (("take-off", fuel), ("first figure", first), ("end", last), ("landing", down))
    return tuple(_point(card, load, when, tanks) for when, tanks in moments)


def _point(card: Card, load: Load, when: str, fuel: Mapping[str, float]) -> LoadPoint:
    here = loading(card, load.model_copy(update={"fuel_usgal": dict(fuel)}))
    balance = card.balance
    inside = here.weight.value <= balance.aerobatic_most_lb.value and (
        balance.aerobatic_forward_in.value <= here.arm.value <= balance.aerobatic_aft_in.value
    )
    return LoadPoint(
        when, here, stall_speed(card, here.weight), manoeuvring_speed(card, here.weight), dict(fuel), inside
    )


def loading(card: Card, load: Load) -> Loading:
    """Weight (lb), centre of gravity (in) and fuel that may feed aerobatics, with this fuel aboard."""
    balance = card.balance
    fuel = fuel_aboard(balance, load)
    seats = [
        (balance.seats[0], load.front_lb, load.front_parachute_lb),
        (balance.seats[1], load.rear_lb, load.rear_parachute_lb),
    ]
    in_seats = tuple(_seat(seat.name, person, chute) for seat, person, chute in seats)
    baggage = given("Baggage", load.baggage_lb, "lb", PLAN)
    items = [
        (balance.empty_lb.answer("Empty weight", "lb"), balance.empty_arm_in.value),
        *zip(in_seats, (seat.arm_in for seat in balance.seats), strict=True),
        (baggage, balance.baggage.arm_in),
    ]
    for tank in balance.tanks:
        items.append((given(f"Fuel, {tank.name}", fuel[tank.name] * AVGAS_LB_USGAL, "lb", PLAN), tank.arm_in))
    parts = tuple(item for item, _ in items)
    total = sum(item.value for item in parts)
    moment = sum(item.value * arm for item, arm in items)
    weight = worked(
        "Weight", total, "lb", "empty weight + seats + baggage + fuel at 6 lb a US gallon", *parts
    )
    arm = worked("Centre of gravity", moment / total, "in", "sum of weight x arm, divided by weight", weight)
    gallons = sum(fuel[tank.name] for tank in balance.tanks if tank.feeds_aerobatics)
    aboard = given("Fuel that may feed aerobatics", gallons, "US gal", PLAN)
    burn = balance.aerobatic_burn_usgal_h.answer("Burn in aerobatic work", "US gal/h")
    minutes = worked(
        "Aerobatic minutes in the tank",
        gallons / burn.value * 60,
        "min",
        "fuel / burn x 60",
        aboard,
        burn,
        rounding="down",
    )
    return Loading(weight, arm, in_seats, baggage, aboard, minutes)


def _seat(name: str, person_lb: float, parachute_lb: float) -> Answer:
    person = given(f"{name} seat", person_lb, "lb", PLAN)
    if parachute_lb == 0:
        return person
    return worked(
        f"{name} seat",
        person_lb + parachute_lb,
        "lb",
        "person + parachute",
        person,
        given("Parachute", parachute_lb, "lb", PLAN),
        source=PLAN,
    )


def scaled_speed(card: Card, stated_ias: float, weight_lb: float) -> float:
    """A speed of the card moved to this weight: V x sqrt(W / reference weight)."""
    return stated_ias * math.sqrt(weight_lb / card.speeds.reference_lb.value)


def stall_speed(card: Card, weight: Answer, load_factor: float = 1.0) -> Answer:
    """Vs (IAS, clean) at this weight and load factor: Vs x sqrt(n W / reference weight). FAA-H-8083-25C."""
    stated = card.speed_answer(card.speeds.stall_ias, "Vs at the card's weight")
    reference = card.speeds.reference_lb.answer("The card's weight for speeds", "lb")
    n = given("Load factor", load_factor, "g", PLAN)
    value = scaled_speed(card, stated.value, weight.value) * math.sqrt(load_factor)
    return worked(
        "Stall speed",
        value,
        card.speed_unit,
        "Vs x root of (load factor x weight / the card's weight)",
        stated,
        n,
        weight,
        reference,
    )


def manoeuvring_speed(card: Card, weight: Answer) -> Answer:
    """Va (IAS) at this weight, never above the card's: Va x sqrt(W / reference weight). FAA-H-8083-25C."""
    stated = card.speed_answer(card.speeds.manoeuvring_ias, "Va at the card's weight")
    reference = card.speeds.reference_lb.answer("The card's weight for speeds", "lb")
    value = min(stated.value, scaled_speed(card, stated.value, weight.value))
    return worked(
        "Manoeuvring speed",
        value,
        card.speed_unit,
        "Va x root of (weight / the card's weight), not above Va",
        stated,
        weight,
        reference,
    )
