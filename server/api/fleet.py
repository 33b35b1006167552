"""Aircraft, places and the school's standards. Everyone logged in reads; only the chief changes."""

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from keelturn.formats.reading import refused
from server.api.doors import REFUSALS, asking
from server.api.schemas import AircraftIn, AircraftOut, PlaceIn, PlaceOut, StandardsOut
from server.school.models import Aircraft, Place, SchoolStandards
from server.school.permissions import require_chief

router = Router(tags=["fleet and places"])


def _same_version(held: int, sent: int) -> None:
    if held != sent:
        raise refused("version", f"this was changed meanwhile (now version {held}, yours {sent})", "Read it again and repeat the change.")


def _aircraft(found: Aircraft) -> AircraftOut:
    return AircraftOut(id=found.pk, registration=found.registration, version=found.version, card=found.document(),
                       parachutes_packed_on=found.parachutes_packed_on)


@router.get("/aircraft", response={200: list[AircraftOut], **REFUSALS})
def aircraft(request: HttpRequest) -> list[AircraftOut]:
    asking(request)
    return [_aircraft(found) for found in Aircraft.objects.order_by("registration")]


@router.put("/aircraft/{aircraft_id}", response={200: AircraftOut, **REFUSALS})
def save_aircraft(request: HttpRequest, aircraft_id: int, data: AircraftIn) -> AircraftOut:
    require_chief(asking(request))
    with transaction.atomic():
        found = get_object_or_404(Aircraft, pk=aircraft_id)
        _same_version(found.version, data.version)
        found.card, found.parachutes_packed_on = data.card.model_dump(mode="json"), data.parachutes_packed_on
        found.version += 1
        found.save()
    return _aircraft(found)


@router.get("/places", response={200: list[PlaceOut], **REFUSALS})
def places(request: HttpRequest) -> list[PlaceOut]:
    asking(request)
    return [PlaceOut(id=p.pk, version=p.version, place=p.document()) for p in Place.objects.order_by("name")]


@router.put("/places/{place_id}", response={200: PlaceOut, **REFUSALS})
def save_place(request: HttpRequest, place_id: int, data: PlaceIn) -> PlaceOut:
    require_chief(asking(request))
    with transaction.atomic():
        found = get_object_or_404(Place, pk=place_id)
        _same_version(found.version, data.version)
        found.place, found.name, found.version = data.place.model_dump(mode="json"), data.place.name, found.version + 1
        found.save()
    return PlaceOut(id=found.pk, version=found.version, place=found.document())


@router.get("/standards", response={200: StandardsOut, **REFUSALS})
def standards(request: HttpRequest) -> StandardsOut:
    asking(request)
    found = SchoolStandards.in_force()
    return StandardsOut(version=found.version, standards=found.document())


@router.put("/standards", response={200: StandardsOut, **REFUSALS})
def save_standards(request: HttpRequest, data: StandardsOut) -> StandardsOut:
    require_chief(asking(request))
    with transaction.atomic():
        found = SchoolStandards.in_force()
        _same_version(found.version, data.version)
        found.standards, found.version = data.standards.model_dump(mode="json"), found.version + 1
        found.save()
    return StandardsOut(version=found.version, standards=found.document())
