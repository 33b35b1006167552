"""What the chief keeps: aircraft cards, places, the school's standards and those of each figure. Every change
stays with who and when."""

from datetime import date, timedelta
from typing import Any

from django.db import transaction

from keelturn.aircraft.card import Card
from keelturn.aircraft.reach import beyond_reach
from keelturn.figures.catalogue import BY_KEY
from keelturn.flying.fitting import approvals_wrong, cannot_be_fitted
from keelturn.formats.reading import Problem, Refused, read_document, refused
from keelturn.school.place import Place as PlaceDocument
from keelturn.school.standards import FigureStandard, Standards
from server import clock
from server.school.models import Aircraft, Change, Person, Place, SchoolStandards
from server.school.operations.comparing import same_version
from server.school.operations.enrolling import count_standings
from server.school.permissions import require_chief


def _keep(person: Person, subject: str, before: Any, after: Any) -> None:
    if before != after:
        Change.objects.create(subject=subject, by=person, before=before, after=after)


def figures_and_model_fit(card: Card) -> None:
    """Raises Refused with every approval that cannot be and every number that the model cannot be fitted
    to."""
    beyond = list(beyond_reach(card))
    # Nothing is fitted to numbers that cannot be.
    found = [*beyond, *approvals_wrong(card), *(() if beyond else cannot_be_fitted(card))]
    if found:
        raise Refused([Problem(f"card.{where}", what, do) for where, what, do in found])


def save_aircraft(
    person: Person, aircraft: Aircraft, version: int, registration: str, card: Card, packed: date | None
) -> Aircraft:
    """A new one when `aircraft` has no key yet. Raises Denied, Refused."""
    require_chief(person)
    figures_and_model_fit(card)
    if packed is not None and packed > clock.day_of(clock.now()) + timedelta(days=1):
        raise refused(
            "parachutes_packed_on",
            f"{packed:%d %b %Y} is still to come",
            "Give the day on which they were packed last.",
        )
    registration = registration.strip().upper()
    with transaction.atomic():
        if Aircraft.objects.filter(registration=registration).exclude(pk=aircraft.pk).exists():
            raise refused(
                "registration",
                f"{registration} is already in the fleet",
                "Change that one, or give another registration.",
            )
        before = (
            None
            if aircraft.pk is None
            else {"card": aircraft.card, "parachutes_packed_on": str(aircraft.parachutes_packed_on)}
        )
        if aircraft.pk is not None:
            same_version(Aircraft.objects.get(pk=aircraft.pk).version, version)
            aircraft.version += 1
        aircraft.registration, aircraft.card, aircraft.parachutes_packed_on = (
            registration,
            card.model_dump(mode="json"),
            packed,
        )
        aircraft.save()
        _keep(
            person,
            f"aircraft {aircraft.pk}",
            before,
            {"card": aircraft.card, "parachutes_packed_on": str(packed)},
        )
    return aircraft


def save_place(person: Person, place: Place, version: int, document: PlaceDocument) -> Place:
    """A new one when `place` has no key yet. Raises Denied, Refused."""
    require_chief(person)
    with transaction.atomic():
        if Place.objects.filter(name=document.name).exclude(pk=place.pk).exists():
            raise refused(
                "place.name", f"there is a place named {document.name} already", "Give it another name."
            )
        before = None if place.pk is None else place.place
        if place.pk is not None:
            same_version(Place.objects.get(pk=place.pk).version, version)
            place.version += 1
        place.place, place.name = document.model_dump(mode="json"), document.name
        place.save()
        _keep(person, f"place {place.pk}", before, place.place)
    return place


def save_standards(person: Person, version: int, standards: Standards) -> SchoolStandards:
    """Raises Denied, Refused."""
    require_chief(person)
    with transaction.atomic():
        found = SchoolStandards.in_force()
        same_version(found.version, version)
        before = found.standards
        found.standards, found.version = standards.model_dump(mode="json"), found.version + 1
        found.save()
        _keep(person, "standards", before, found.standards)
        if any(before.get(name) != found.standards[name] for name in ("lapse_days", "grading")):
            count_standings()
    return found


def save_figure_standard(person: Person, version: int, key: str, standard: FigureStandard) -> SchoolStandards:
    """One figure's standard; an empty one takes it away. Raises Denied, Refused."""
    require_chief(person)
    if key not in BY_KEY:
        raise refused("figure", f"there is no figure '{key}'", "Choose one of the catalogue.")
    with transaction.atomic():
        found = SchoolStandards.in_force()
        same_version(found.version, version)
        held = found.document()
        figures = {**held.figures, key: standard}
        if standard == FigureStandard():
            del figures[key]
        kept = {key: figure.model_dump() for key, figure in figures.items()}
        after = read_document(Standards, {**held.model_dump(), "figures": kept})
        before = found.standards.get("figures", {}).get(key)
        found.standards, found.version = after.model_dump(mode="json"), found.version + 1
        found.save()
        _keep(person, f"figure {key}", before, found.standards["figures"].get(key))
        was = held.figure(key)
        if (was.blocking, was.grading) != (standard.blocking, standard.grading):
            count_standings()
    return found


def changes_of(subject: str, most: int = 30) -> list[Change]:
    """The latest first. One query."""
    return list(Change.objects.filter(subject=subject).select_related("by")[:most])
