"""The book of figures: each in a chosen aircraft, place and day, with what the school asks of it."""

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from keelturn.figures.catalogue import BY_KEY
from keelturn.figures.planned import PlannedFigure
from keelturn.formats.documents import PredictRequest
from keelturn.formats.reading import read_document, refused
from keelturn.weather.day import Day
from server.api.doors import REFUSALS, asking
from server.api.heavy import in_the_book
from server.api.plan_schemas import BookOut, ChangeOut, FigureStandardIn
from server.api.schemas import Id
from server.api.school_schemas import StandardsOut
from server.school.models import Aircraft, Place, SchoolStandards
from server.school.operations.keeping import changes_of, save_figure_standard
from server.workers import workers

router = Router(tags=["figures"])


@router.get("/figures/{key}/book", response={200: BookOut, **REFUSALS})
def book(
    request: HttpRequest,
    key: str,
    aircraft_id: Id,
    place_id: Id,
    temperature_c: float = 15.0,
    qnh_hpa: float = 1013.25,
    start_ft: float | None = None,
) -> BookOut:
    """At the card's weight for speeds, begun high in the place's block unless said. Four queries."""
    asking(request)
    if key not in BY_KEY:
        raise refused("figure", f"there is no figure '{key}'", "Choose one of the catalogue.")
    aircraft, place = get_object_or_404(Aircraft, pk=aircraft_id), get_object_or_404(Place, pk=place_id)
    kept, card, where = SchoolStandards.in_force(), aircraft.document(), place.document()
    day = read_document(Day, {"temperature_c": temperature_c, "qnh_hpa": qnh_hpa})
    planned = read_document(PlannedFigure, {"id": "book", "key": key, "start_ft": start_ft or 0.0})
    conditions = PredictRequest(card=card, place=where, standards=kept.document(), day=day).conditions()
    answer, look, why = workers.answer(request, in_the_book, planned, conditions, start_ft is None)
    return BookOut(
        key=key,
        approved=key in card.approved,
        refused=why,
        answer=answer,
        look=look,
        standard=kept.document().figure(key),
        version=kept.version,
        changes=[
            ChangeOut(by=c.by.name, at=c.at, before=c.before, after=c.after)
            for c in changes_of(f"figure {key}")
        ],
    )


@router.put("/figures/{key}/standard", response={200: StandardsOut, **REFUSALS})
def save_standard(request: HttpRequest, key: str, data: FigureStandardIn) -> StandardsOut:
    kept = save_figure_standard(asking(request), data.version, key, data.standard)
    return StandardsOut(version=kept.version, standards=kept.document())
