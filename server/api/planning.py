"""Planning and briefing: proposals, drafts computed, weather, files, and the student's reading."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router
from pydantic import TypeAdapter

from keelturn.formats.reading import refused
from keelturn.plan.proposal import differences, propose
from keelturn.plan.sequence import PlanAnswer
from keelturn.plan.what_if import CloserLook, closer_look
from keelturn.progress.booking import next_slot
from server import clock
from server.api.doors import REFUSALS, asking, seen_sortie, seen_student
from server.api.plan_schemas import (
    AskWeather,
    DayReadOut,
    FitOut,
    LookAt,
    NewAnswer,
    NewQuestion,
    PlanFile,
    Preview,
    ProposedOut,
    ThreeChoices,
)
from server.api.schemas import SortieOut
from server.api.sorties import whole
from server.school.handouts.booking import booking_ics
from server.school.handouts.card import card_pdf
from server.school.handouts.plan import plan_document, plan_from
from server.school.models import Aircraft, Place, Sortie
from server.school.operations import reading
from server.school.operations.clashes import clashes_at
from server.school.operations.computing import answer_for, computed, conditions_for
from server.school.operations.proposing import propose_sortie
from server.school.operations.weather import day_from_report, fetched_day
from server.school.permissions import require_edit, require_instructor

router = Router(tags=["planning"])
PLAN_ANSWER, LOOK, FIT = TypeAdapter(PlanAnswer), TypeAdapter(CloserLook), TypeAdapter(FitOut)


def as_json(adapter: TypeAdapter[Any], answer: Any) -> HttpResponse:
    """Written by the adapter at once: going through the response schema would copy every number of it
    first."""
    return HttpResponse(adapter.dump_json(answer), content_type="application/json; charset=utf-8")


def _asked(sortie: Sortie, data: Preview) -> tuple[Aircraft, Place]:
    """The aircraft and the place that the draft names: the sortie's own, which are at hand, or others."""
    aircraft = (
        sortie.aircraft
        if data.aircraft_id == sortie.aircraft_id
        else get_object_or_404(Aircraft, pk=data.aircraft_id)
    )
    return aircraft, sortie.place if data.place_id == sortie.place_id else get_object_or_404(
        Place, pk=data.place_id
    )


@router.post("/sorties/proposal", response={200: ProposedOut, **REFUSALS})
def proposal(request: HttpRequest, data: ThreeChoices) -> ProposedOut:
    """What the program would plan for these three choices. Nothing is stored."""
    person = asking(request)
    require_instructor(person)
    student, aircraft = (
        seen_student(request, data.student_id),
        get_object_or_404(Aircraft, pk=data.aircraft_id),
    )
    at = data.planned_for or next_slot(timezone.localtime(clock.now()))
    found = propose_sortie(person, student, aircraft, data.lesson, at)
    first = found.first
    return ProposedOut(
        planned_for=at,
        lesson=first.lesson.key,
        lesson_name=first.lesson.name,
        purpose=first.lesson.purpose,
        place_id=found.place.pk,
        place=found.place.name,
        plan=first.plan,
        fits=first.fits,
        why=list(first.why),
        clashes=clashes_at(at, aircraft, person, student),
    )


@router.post("/sorties/{sortie_id}/preview", response={200: PlanAnswer, **REFUSALS})
def preview(request: HttpRequest, sortie_id: int, data: Preview) -> HttpResponse:
    """The draft computed; nothing is stored."""
    found = seen_sortie(request, sortie_id)
    require_edit(asking(request), found)
    return as_json(PLAN_ANSWER, computed(data.plan, conditions_for(found, data.plan, *_asked(found, data))))


@router.post("/sorties/{sortie_id}/closer", response={200: CloserLook, **REFUSALS})
def closer(request: HttpRequest, sortie_id: int, data: LookAt) -> HttpResponse:
    """One figure of the draft: its path, its gate and map, what would change it. Nothing is stored."""
    found = seen_sortie(request, sortie_id)
    figure = next((f for f in data.plan.figures if f.id == data.figure), None)
    if figure is None:
        raise refused("figure", f"there is no figure '{data.figure}' in this plan", "Choose one that is.")
    try:
        return as_json(LOOK, closer_look(figure, conditions_for(found, data.plan, *_asked(found, data))))
    except ValueError as error:
        raise refused("figure", str(error), "Choose another figure or another aircraft.") from error


@router.post("/sorties/{sortie_id}/fit", response={200: FitOut, **REFUSALS})
def fit(request: HttpRequest, sortie_id: int, data: Preview) -> HttpResponse:
    """Order and heights that keep every limit, or the smallest change that would. Nothing is stored."""
    found = seen_sortie(request, sortie_id)
    require_edit(asking(request), found)
    aircraft, place = _asked(found, data)
    try:
        proposed = propose(data.plan, conditions_for(found, data.plan, aircraft, place))
    except ValueError as error:
        raise refused(
            "plan.figures", str(error), "Leave that figure out, or choose another aircraft."
        ) from error
    answer = (
        None
        if proposed.plan is None
        else computed(proposed.plan, conditions_for(found, proposed.plan, aircraft, place))
    )
    return as_json(
        FIT,
        FitOut.model_construct(
            fits=proposed.fits,
            why=proposed.why,
            changes=list(proposed.changes),
            differences=list(differences(data.plan, proposed)),
            plan=proposed.plan,
            answer=answer,
        ),
    )


@router.post("/sorties/{sortie_id}/weather", response={200: DayReadOut, **REFUSALS})
def weather(request: HttpRequest, sortie_id: int, data: AskWeather) -> DayReadOut:
    """A pasted report read, or a new one fetched. Nothing is stored."""
    require_edit(asking(request), seen_sortie(request, sortie_id))
    place, now = get_object_or_404(Place, pk=data.place_id), clock.now()
    read = (
        fetched_day(data.day, place, now)
        if data.report is None
        else day_from_report(data.report, data.day, place, now)
    )
    return DayReadOut(day=read.day, doubts=list(read.doubts), taken=read.taken)


@router.post("/sorties/{sortie_id}/plan-from-file", response={200: Any, **REFUSALS})
def plan_from_file(request: HttpRequest, sortie_id: int, data: PlanFile) -> Any:
    """A plan document checked, as a plan for the draft. Nothing is stored."""
    require_edit(asking(request), seen_sortie(request, sortie_id))
    return plan_from(data.document).model_dump(mode="json")


def _file(content: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(
        content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@router.get("/sorties/{sortie_id}/card.pdf", response={200: bytes, **REFUSALS})
def card(request: HttpRequest, sortie_id: int, paper: Literal["a5", "half-letter"] = "a5") -> HttpResponse:
    found = seen_sortie(request, sortie_id)
    computed_now = answer_for(found)
    return _file(
        card_pdf(found, computed_now.plan, computed_now.answer, paper),
        "application/pdf",
        f"card-{sortie_id}.pdf",
    )


@router.get("/sorties/{sortie_id}/plan.json", response={200: Any, **REFUSALS})
def plan_json(request: HttpRequest, sortie_id: int) -> HttpResponse:
    text = plan_document(seen_sortie(request, sortie_id)).model_dump_json(indent=2)
    return _file(text.encode(), "application/json; charset=utf-8", f"plan-{sortie_id}.json")


@router.get("/sorties/{sortie_id}/booking.ics", response={200: bytes, **REFUSALS})
def booking(request: HttpRequest, sortie_id: int) -> HttpResponse:
    return _file(
        booking_ics(seen_sortie(request, sortie_id)),
        "text/calendar; charset=utf-8",
        f"booking-{sortie_id}.ics",
    )


@router.post("/sorties/{sortie_id}/read", response={200: SortieOut, **REFUSALS})
def read(request: HttpRequest, sortie_id: int) -> SortieOut:
    """The student has read the brief."""
    found = seen_sortie(request, sortie_id)
    reading.mark_read(asking(request), found)
    return whole(request, seen_sortie(request, sortie_id))


@router.post("/sorties/{sortie_id}/questions", response={200: SortieOut, **REFUSALS})
def ask(request: HttpRequest, sortie_id: int, data: NewQuestion) -> SortieOut:
    found = seen_sortie(request, sortie_id)
    reading.ask(asking(request), found, data.text, data.figure)
    return whole(request, found)


@router.post("/sorties/{sortie_id}/questions/{question_id}", response={200: SortieOut, **REFUSALS})
def answer(request: HttpRequest, sortie_id: int, question_id: int, data: NewAnswer) -> SortieOut:
    found = seen_sortie(request, sortie_id)
    reading.answer(asking(request), found, question_id, data.text)
    return whole(request, found)
