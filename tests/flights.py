"""Plans and conditions that several tests fly: an invented aircraft over flat ground near sea level."""

from typing import Any

from keelturn.aircraft.card import Card
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.plan.document import PlanDocument, conditions_of
from keelturn.recording.recorder import Sensors
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import Day
from tests import cards

TRAINER, HEAVY, NO_SPINS = (Card.model_validate(card) for card in (cards.LIGHT, cards.HEAVY, cards.NO_SPINS))
PLACE = Place(name="Test block", elevation_ft=0, block_top_ft=6500)
# Weather that somebody gave: a standard day, calm and clear.
GIVEN = {
    "qnh_hpa": 1013.25,
    "temperature_c": 15.0,
    "wind_from_deg": 0.0,
    "wind_kt": 0.0,
    "visibility_sm": 10.0,
    "no_cloud": True,
}
STANDARD_DAY = Day.model_validate(GIVEN)


def figure(key: str, start_ft: float = 5000, **settings: Any) -> PlannedFigure:
    """A planned figure; settings that are not fields of it are its parameters."""
    fields = {
        name: settings.pop(name)
        for name in ("id", "side", "school", "entry_ias", "flown_by")
        if name in settings
    }
    return PlannedFigure.model_validate(
        {"id": "f1", "side": "right", **fields, "key": key, "start_ft": start_ft, "parameters": settings}
    )


def plan(*figures: PlannedFigure, **fields: Any) -> PlanDocument:
    numbered = [f.model_copy(update={"id": f"f{i}"}).model_dump() for i, f in enumerate(figures, 1)]
    load = {
        "front_lb": 155,
        "front_parachute_lb": 15,
        "rear_lb": 155,
        "rear_parachute_lb": 15,
        "fuel_usgal": {"Centre": 18},
    }
    return PlanDocument.model_validate(
        {"load": load, "figures": numbered, **fields, "day": given_day(**dict(fields.get("day", {})))}
    )


def given_day(**changed: Any) -> dict[str, Any]:
    """The standard day with what is changed about it; nothing and false in it are no change."""
    changed = {name: value for name, value in changed.items() if value not in (None, False)}
    return {**GIVEN, "no_cloud": "cloud_base_ft" not in changed, **changed}


def exact_sensors(rate_hz: float) -> Sensors:
    """A recorder that writes what was flown."""
    noise = dict.fromkeys(("height_noise_ft", "ias_noise_kt", "g_noise", "angle_noise_deg"), 0.0)
    return Sensors(rate_hz=rate_hz, height_step_ft=0, ias_step_kt=0, **noise)


def conditions(
    document: PlanDocument | None = None,
    card: Card = TRAINER,
    place: Place = PLACE,
    stage: Any = "practised",
    standards: Standards | None = None,
    parachute_days: float | None = 30,
) -> Conditions:
    document = document or plan()
    if card is not TRAINER:
        tank = next(t.name for t in card.balance.tanks if t.feeds_aerobatics)
        document = document.model_copy(
            update={"load": document.load.model_copy(update={"fuel_usgal": {tank: 12.0}})}
        )
    return conditions_of(document, card, place, standards or Standards(), stage, parachute_days)


def at_card_weight(card: Card) -> Conditions:
    """Loaded to the weight that the card's speeds and spin figures are for, on a standard day at sea
    level."""
    empty, reference = card.balance.empty_lb.value, card.speeds.reference_lb.value
    seat = (reference - empty) / 2
    document = PlanDocument.model_validate({"load": {"front_lb": seat, "rear_lb": seat}, "figures": []})
    return conditions_of(document, card, PLACE, Standards(), "practised", 30)
