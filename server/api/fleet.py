"""Aircraft, places and the school's standards. Everyone logged in reads; only the chief changes."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router, Status

from keelturn.aircraft.blanks import blanks_of, estimate_line
from keelturn.aircraft.loading import PARACHUTE_LB, usual_fuel
from keelturn.flying.spin import fit_lines
from server.api.doors import REFUSALS, Unseen, as_json, asking
from server.api.heavy import blanks_costed, spin_looked_at
from server.api.plan_schemas import ChangeOut
from server.api.schemas import Id
from server.api.school_schemas import (
    AircraftIn,
    AircraftOut,
    BlanksOut,
    PlaceIn,
    PlaceOut,
    SpinsOut,
    StandardsOut,
)
from server.school.models import Aircraft, Place, SchoolStandards
from server.school.operations import keeping
from server.school.operations.spins import spins_recorded
from server.school.permissions import require_chief
from server.workers import workers

router = Router(tags=["fleet and places"])
# What changes about people stays with the chief, under Records.
OPEN_TO_ALL = ("aircraft ", "place ", "standards", "figure ")


def _aircraft(found: Aircraft) -> AircraftOut:
    return AircraftOut(
        id=found.pk,
        registration=found.registration,
        version=found.version,
        card=found.document(),
        parachutes_packed_on=found.parachutes_packed_on,
        usual_fuel_usgal=usual_fuel(found.document().balance),
        parachute_lb=PARACHUTE_LB,
        spin_fit=list(fit_lines(found.document())),
        blanks=[estimate_line(found.document(), path) for path in blanks_of(found.document())],
    )


@router.get("/aircraft", response={200: list[AircraftOut], **REFUSALS})
def aircraft(request: HttpRequest) -> list[AircraftOut]:
    asking(request)
    return [_aircraft(found) for found in Aircraft.objects.order_by("registration")]


@router.post("/aircraft", response={201: AircraftOut, **REFUSALS})
def add_aircraft(request: HttpRequest, data: AircraftIn) -> Status[Any]:
    made = keeping.save_aircraft(
        asking(request), Aircraft(), 1, data.registration, data.card, data.parachutes_packed_on
    )
    return Status(201, _aircraft(made))


@router.put("/aircraft/{aircraft_id}", response={200: AircraftOut, **REFUSALS})
def save_aircraft(request: HttpRequest, aircraft_id: Id, data: AircraftIn) -> AircraftOut:
    require_chief(asking(request))
    found = get_object_or_404(Aircraft, pk=aircraft_id)
    return _aircraft(
        keeping.save_aircraft(
            asking(request), found, data.version, data.registration, data.card, data.parachutes_packed_on
        )
    )


@router.get("/aircraft/{aircraft_id}/blanks", response={200: BlanksOut, **REFUSALS})
def blanks(request: HttpRequest, aircraft_id: Id) -> HttpResponse:
    """What the numbers that its card leaves blank add to lowest starts."""
    asking(request)
    workers.require_room(request)
    card = get_object_or_404(Aircraft, pk=aircraft_id).document()
    return as_json(workers.answer(request, blanks_costed, card, SchoolStandards.in_force().document()))


@router.get("/aircraft/{aircraft_id}/spins", response={200: SpinsOut, **REFUSALS})
def spins(request: HttpRequest, aircraft_id: Id) -> HttpResponse:
    """Its card beside the spins that were recorded, and what the card would be with their numbers. Nothing is
    stored."""
    require_chief(asking(request))
    workers.require_room(request)
    found = get_object_or_404(Aircraft, pk=aircraft_id)
    recorded = spins_recorded(found)
    return as_json(workers.answer(request, spin_looked_at, found.version, found.document(), recorded))


@router.get("/places", response={200: list[PlaceOut], **REFUSALS})
def places(request: HttpRequest) -> list[PlaceOut]:
    asking(request)
    return [PlaceOut(id=p.pk, version=p.version, place=p.document()) for p in Place.objects.order_by("name")]


@router.post("/places", response={201: PlaceOut, **REFUSALS})
def add_place(request: HttpRequest, data: PlaceIn) -> Status[Any]:
    made = keeping.save_place(asking(request), Place(), 1, data.place)
    return Status(201, PlaceOut(id=made.pk, version=made.version, place=made.document()))


@router.put("/places/{place_id}", response={200: PlaceOut, **REFUSALS})
def save_place(request: HttpRequest, place_id: Id, data: PlaceIn) -> PlaceOut:
    require_chief(asking(request))
    found = keeping.save_place(
        asking(request), get_object_or_404(Place, pk=place_id), data.version, data.place
    )
    return PlaceOut(id=found.pk, version=found.version, place=found.document())


@router.get("/changes", response={200: list[ChangeOut], **REFUSALS})
def changes(request: HttpRequest, subject: str) -> list[ChangeOut]:
    """What was changed about "aircraft 1", "place 2", "standards" or "figure loop", the latest first."""
    asking(request)
    if not subject.startswith(OPEN_TO_ALL):
        raise Unseen("history")
    return [
        ChangeOut(by=c.by.name, at=c.at, before=c.before, after=c.after) for c in keeping.changes_of(subject)
    ]


@router.get("/standards", response={200: StandardsOut, **REFUSALS})
def standards(request: HttpRequest) -> StandardsOut:
    asking(request)
    found = SchoolStandards.in_force()
    return StandardsOut(version=found.version, standards=found.document())


@router.put("/standards", response={200: StandardsOut, **REFUSALS})
def save_standards(request: HttpRequest, data: StandardsOut) -> StandardsOut:
    found = keeping.save_standards(asking(request), data.version, data.standards)
    return StandardsOut(version=found.version, standards=found.document())
