"""The speed at a figure's gate, and where it comes from: the one rule."""

from keelturn.figures.catalogue import figure_of
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.working import Answer, Source, given, worked

# At a gate this near the stall the aircraft sets the speed, not the pilot.
STALL_GATE = 1.15
LABEL = "Entry speed"


def at_the_stall(key: str) -> bool:
    """Whether the figure's gate is at the stall, so that the aircraft sets its speed."""
    gate = figure_of(key).gate
    return gate.speed_base == "stall" and gate.speed_share <= STALL_GATE


def entry_speed(planned: PlannedFigure, conditions: Conditions) -> Answer:
    """IAS in the aircraft's unit: as planned, else what the figure asks of this aircraft by itself."""
    if planned.entry_ias is not None:
        return given(LABEL, planned.entry_ias, conditions.card.speed_unit, Source("plan", planned.title))
    return usual_entry(planned.key, conditions)


def usual_entry(key: str, conditions: Conditions) -> Answer:
    """The school's gate for this aircraft, else the card's, else the catalogue's share of a speed today: at
    most Va, or short of Vne for the gates that may go there."""
    card = conditions.card
    school = conditions.standards.figure(key).entry_ias.get(card.name)
    if school is not None:
        words = school.ref or "the chief's gate for this figure"
        return given(LABEL, school.value, card.speed_unit, Source("school", words))
    handbook = card.approved.get(key)
    if handbook is not None:
        return given(LABEL, handbook.value, card.speed_unit, handbook.where())
    gate = figure_of(key).gate
    bases = {"stall": conditions.stall, "manoeuvring": conditions.manoeuvring, "glide": conditions.glide}
    base, most = bases[gate.speed_base], conditions.manoeuvring
    if gate.to_never_exceed:
        most = conditions.fastest_allowed
    value = min(gate.speed_share * base.value, most.value)
    return worked(
        LABEL,
        value,
        card.speed_unit,
        f"{gate.speed_share:.0%} of the {gate.speed_base} speed today, not above {most.label}",
        base,
        most,
        source=Source("common practice", "no published source"),
        # A limit is not read as more than it is.
        rounding="down" if value == most.value else "near",
    )
