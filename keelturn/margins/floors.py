"""Floors: regulation, school, place, student stage, the instructor's own. The strictest wins and is named.

Heights that follow from the floor: where the instructor takes over, the lowest start, when to leave the
aircraft."""

from keelturn.air import RHO0
from keelturn.aircraft.card import Card
from keelturn.flying.conditions import Conditions
from keelturn.margins.fan import ASKED, FAN
from keelturn.margins.spread import Spread
from keelturn.margins.unsure import AND_BLANKS, unsure_parts
from keelturn.units import FT
from keelturn.working import Answer, Source, given, relabelled, worked

ABOVE_GROUND = "height above the ground + elevation of the ground"


def ground(conditions: Conditions) -> Answer:
    return given(
        "Ground",
        conditions.place.elevation_ft,
        "ft",
        Source("school", f"place: {conditions.place.name}"),
        "up",
    )


def regulation_floor(conditions: Conditions) -> Answer:
    agl = conditions.standards.regulation_floor_ft.answer("Regulation, above the ground", "ft", "up")
    earth = ground(conditions)
    return worked(
        "Regulation floor",
        agl.value + earth.value,
        "ft",
        ABOVE_GROUND,
        agl,
        earth,
        source=agl.source,
        rounding="up",
    )


def floors(conditions: Conditions) -> tuple[Answer, ...]:
    """Every floor that applies, on QNH (ft)."""
    earth = ground(conditions)
    standards = conditions.standards
    school = standards.school_floor_ft.answer("School, above the ground", "ft", "up")
    extra = standards.stage_extra_ft[conditions.stage].answer(f"Added for '{conditions.stage}'", "ft", "up")
    found = [regulation_floor(conditions)]
    found.append(
        worked(
            "School floor",
            school.value + extra.value + earth.value,
            "ft",
            "school's height above the ground + what the student's standing adds + elevation of the ground",
            school,
            extra,
            earth,
            source=school.source,
            rounding="up",
        )
    )
    if conditions.place.place_floor_ft is not None:
        asked = conditions.place.place_floor_ft.answer("This place, above the ground", "ft", "up")
        found.append(
            worked(
                "Floor of this place",
                asked.value + earth.value,
                "ft",
                ABOVE_GROUND,
                asked,
                earth,
                source=asked.source,
                rounding="up",
            )
        )
    if conditions.own_floor_ft is not None:
        found.append(
            given(
                "Instructor's own floor",
                conditions.own_floor_ft,
                "ft",
                Source("plan", "set for this sortie"),
                "up",
            )
        )
    return tuple(found)


def deciding_floor(conditions: Conditions) -> Answer:
    """The highest of the floors. An instructor's own floor under the regulation does not lower it."""
    return max(floors(conditions), key=lambda floor: floor.value)


def strictest_floor(conditions: Conditions) -> Answer:
    """The floor that holds, with all that were asked."""
    highest = deciding_floor(conditions)
    return worked(
        f"Floor: {highest.label.lower()}",
        highest.value,
        "ft",
        "the highest of the floors that apply",
        *floors(conditions),
        source=highest.source,
        rounding="up",
    )


def floor_of(key: str, conditions: Conditions, everywhere: Answer | None = None) -> Answer:
    """The floor of one figure: the strictest of all, or the school's own for this figure where that is
    higher. everywhere: the strictest, where it is at hand."""
    everywhere = everywhere or strictest_floor(conditions)
    own = conditions.standards.figure(key).floor_ft
    if own is None:
        return everywhere
    asked, earth = own.answer("This figure, above the ground", "ft", "up"), ground(conditions)
    its = worked(
        "Floor of this figure",
        asked.value + earth.value,
        "ft",
        ABOVE_GROUND,
        asked,
        earth,
        source=asked.source,
        rounding="up",
    )
    return its if its.value > everywhere.value else everywhere


def instructor_recovery(spread: Spread, card: Card) -> Answer:
    unsure = unsure_parts(card, ((one.path, one.recovery_ft) for one in spread.unsure_recovery))
    return worked(
        "Instructor's recovery, 99 times in 100",
        spread.recovery_99_ft,
        "ft",
        f"recovery flown by {FAN} instructors of the population, and {ASKED:,} more are asked by what was"
        f" fitted to those{AND_BLANKS if unsure else ''}",
        *unsure,
        rounding="up",
        hill=spread.instructors,
    )


def take_over_height(floor: Answer, recovery: Answer) -> Answer:
    """Floor + what a recovery begun by the instructor at that moment needs, 99 in 100."""
    return worked(
        "My controls at",
        floor.value + recovery.value,
        "ft",
        "floor + the height a recovery begun by the instructor needs",
        floor,
        recovery,
        rounding="up",
    )


def lowest_start(floor: Answer, worst: Answer, recovery: Answer, conditions: Conditions) -> Answer:
    """Floor + allowance + the larger of the 19-in-20 loss and the instructor's recovery, so that a figure
    never begins below the height at which the instructor would have to have the controls."""
    allowance = conditions.standards.allowance_ft.answer("Altimeter and reading it", "ft", "up")
    return worked(
        "Lowest start",
        floor.value + max(worst.value, recovery.value) + allowance.value,
        "ft",
        "floor + the larger of (loss 19 times in 20, instructor's recovery) + allowance for the altimeter and"
        " reading it",
        floor,
        worst,
        recovery,
        allowance,
        rounding="up",
        levers=worst.levers,
    )


def leave_height(conditions: Conditions) -> Answer | None:
    """(decide + get out) seconds x rate of descent in the spin + canopy height + ground; None without spin
    figures."""
    if conditions.spin is None:
        return None
    standards, earth = conditions.standards, ground(conditions)
    decide = standards.decide_s.answer("Seconds to decide", "s")
    egress = standards.egress_s.answer("Seconds to get out", "s")
    canopy = standards.canopy_ft.answer("Height for the canopy", "ft", "up")
    sigma = conditions.air.density(earth.value * FT) / RHO0
    rate = conditions.spin.descent(conditions.weight_lb, sigma) / FT
    descent = worked(
        "Descent in the spin",
        rate * 60.0,
        "fpm",
        "height of a turn / seconds of a turn, at today's weight and air",
        conditions.loading.weight,
    )
    height = (decide.value + egress.value) * rate + canopy.value + earth.value
    return worked(
        "Leave the aircraft at",
        height,
        "ft",
        "(decide + get out) x descent + canopy + elevation of the ground",
        decide,
        egress,
        descent,
        canopy,
        earth,
        rounding="up",
    )


def turns_allowed(turns: float, start: Answer, lowest: Answer, each: Answer) -> Answer:
    """Turns that the start height pays for, down to the half turn: each further turn costs its height
    once."""
    spare = (start.value - lowest.value) / each.value
    allowed = max(0.0, turns + spare) if turns + spare >= 1.0 else 0.0
    flown = given("Turns planned", turns, "turns", Source("plan", "this figure"))
    return worked(
        "Turns allowed",
        allowed,
        "turns",
        "turns planned + (start - lowest start) / height of a further turn",
        flown,
        start,
        relabelled(lowest, "Lowest start for the turns planned"),
        each,
        rounding="down",
    )
