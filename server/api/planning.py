"""Planning and briefing: proposals, drafts computed, weather, files, and the student's reading."""

from dataclasses import replace
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router

from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import refused
from keelturn.plan.document import Override, PlanDocument
from keelturn.plan.flight_checks import stops
from keelturn.plan.sequence import PlanAnswer
from keelturn.plan.what_if import CloserLook
from keelturn.working import Answer
from server import clock
from server.api.doors import (
    REFUSALS,
    a_file,
    as_json,
    asking,
    file_sent,
    seen_draft,
    seen_sortie,
    seen_student,
)
from server.api.heavy import (
    FEW_FIGURES,
    first_planned,
    fitted,
    looked_at,
    previewed,
    why_of_draft,
    why_of_look,
    working_at,
)
from server.api.plan_schemas import (
    AbleOut,
    AskWeather,
    BeforeOut,
    DayReadOut,
    FitOut,
    LookAt,
    NewAnswer,
    NewQuestion,
    PlanFile,
    Preview,
    ProposedOut,
    ThreeChoices,
    Why,
)
from server.api.schemas import Id, SortieOut
from server.api.sorties import instructor_asked, whole
from server.school.handouts.booking import booking_ics
from server.school.handouts.card import card_pdf
from server.school.handouts.plan import plan_document, plan_from
from server.school.models import Aircraft, Place, Sortie
from server.school.operations import reading
from server.school.operations.before import missing_before_lesson
from server.school.operations.clashes import clashes_at
from server.school.operations.computing import conditions_for, plan_of
from server.school.operations.dates import ended_by
from server.school.operations.free import NextFree, next_free
from server.school.operations.proposing import others_able, places_to_plan_in, setting_of
from server.school.operations.showing import record_for
from server.school.operations.sorties import require_can_instruct
from server.school.operations.weather import day_from_report, days_known, fetched_day
from server.school.permissions import require_edit, require_instructor
from server.workers import workers

router = Router(tags=["planning"])


def _draft(
    request: HttpRequest, sortie: Sortie, data: Preview
) -> tuple[PlanDocument, Conditions, str, tuple[Override, ...]]:
    """What a draft is computed from: the plan, where and in what, who asks, and the overrides that stand."""
    conditions = conditions_for(sortie, data.plan, *_asked(sortie, data))
    return data.plan, conditions, asking(request).name, plan_of(sortie).overrides


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
    """What the program would plan for these three choices, for the weather as reported where the flight is
    soon. No sortie is stored."""
    person = asking(request)
    require_instructor(person)
    workers.require_room(request)
    student, aircraft = (
        seen_student(request, data.student_id),
        get_object_or_404(Aircraft, pk=data.aircraft_id),
    )
    instructor = instructor_asked(person, data.instructor_id)
    require_can_instruct(instructor, student)
    places = places_to_plan_in()
    asked = data.planned_for
    free = next_free(aircraft, instructor, student, places) if asked is None else NextFree(asked, "")
    at = free.at
    setting = setting_of(aircraft, student, instructor, at, with_record=True)
    setting = replace(setting, days=days_known(person, places, at, clock.now()))
    where = [place.document() for place in places]
    first = workers.answer(request, first_planned, data.lesson, setting, where)
    place = places[first.place]
    return ProposedOut(
        planned_for=at,
        when=free.words,
        lesson=first.lesson.key,
        lesson_name=first.lesson.name,
        purpose=first.lesson.purpose,
        place_id=place.pk,
        place=place.name,
        plan=first.plan,
        fits=first.fits,
        why=list(first.why),
        way_out=first.way_out,
        able=[AbleOut(id=a.pk, registration=a.registration) for a in others_able(first.lesson, aircraft)],
        before=[
            BeforeOut(title=m.title, words=m.words, stops=stops(m, setting.standards))
            for m in missing_before_lesson(student, first.lesson.key, setting.card, at)
        ],
        clashes=[
            *clashes_at(at, aircraft, instructor, student),
            *ended_by(at, aircraft, instructor, student),
        ],
    )


@router.post("/sorties/{sortie_id}/preview", response={200: PlanAnswer, **REFUSALS})
def preview(request: HttpRequest, sortie_id: Id, data: Preview) -> HttpResponse:
    """The draft computed; nothing is stored."""
    found = seen_draft(request, sortie_id)
    require_edit(asking(request), found)
    asked = _draft(request, found, data)
    few = len(data.plan.figures) <= FEW_FIGURES
    return as_json(previewed(*asked) if few else workers.answer(request, previewed, *asked))


@router.post("/sorties/{sortie_id}/closer", response={200: CloserLook, **REFUSALS})
def closer(request: HttpRequest, sortie_id: Id, data: LookAt) -> HttpResponse:
    """One figure of the draft: its path, its gate and map, what would change it. Nothing is stored."""
    workers.require_room(request)
    found = seen_draft(request, sortie_id)
    figure = _figure_in(data.plan, data.figure)
    conditions = conditions_for(found, data.plan, *_asked(found, data))
    return as_json(workers.answer(request, looked_at, figure, conditions))


@router.post("/sorties/{sortie_id}/why", response={200: Answer, **REFUSALS})
def why(request: HttpRequest, sortie_id: Id, data: Why) -> HttpResponse:
    """One number with its working, all the way down. Nothing is stored."""
    found = seen_sortie(request, sortie_id)
    if data.draft is None:
        record = record_for(asking(request), found)
        return as_json(working_at({"answer": record.answer, "accounts": record.accounts}, data.at))
    if data.figure is None:
        require_edit(asking(request), found)
        return as_json(why_of_draft(data.at, *_draft(request, found, data.draft)))
    figure = _figure_in(data.draft.plan, data.figure)
    conditions = conditions_for(found, data.draft.plan, *_asked(found, data.draft))
    return as_json(workers.answer(request, why_of_look, data.at, figure, conditions))


def _figure_in(plan: PlanDocument, name: str) -> PlannedFigure:
    """Raises Refused."""
    figure = next((f for f in plan.figures if f.id == name), None)
    if figure is None:
        raise refused("figure", f"there is no figure '{name}' in this plan", "Choose one that is.")
    return figure


@router.post("/sorties/{sortie_id}/fit", response={200: FitOut, **REFUSALS})
def fit(request: HttpRequest, sortie_id: Id, data: Preview) -> HttpResponse:
    """Order and heights that keep every limit, or the smallest change that would. Nothing is stored."""
    workers.require_room(request)
    found = seen_sortie(request, sortie_id)
    require_edit(asking(request), found)
    return as_json(workers.answer(request, fitted, *_draft(request, found, data)))


@router.post("/sorties/{sortie_id}/weather", response={200: DayReadOut, **REFUSALS})
def weather(request: HttpRequest, sortie_id: Id, data: AskWeather) -> DayReadOut:
    """A pasted report read, or a new one fetched. Nothing is stored."""
    require_edit(asking(request), seen_sortie(request, sortie_id))
    place, now = get_object_or_404(Place, pk=data.place_id), clock.now()
    read = (
        fetched_day(asking(request), data.day, place, now)
        if data.report is None
        else day_from_report(asking(request), data.report, data.day, place, now)
    )
    return DayReadOut(day=read.day, doubts=list(read.doubts), taken=read.taken)


@router.post("/sorties/{sortie_id}/plan-from-file", response={200: Any, **REFUSALS})
def plan_fromfile_sent(request: HttpRequest, sortie_id: Id, data: PlanFile) -> Any:
    """A plan document checked, as a plan for the draft. Nothing is stored."""
    require_edit(asking(request), seen_sortie(request, sortie_id))
    return plan_from(data.document).model_dump(mode="json")


@router.get("/sorties/{sortie_id}/card.pdf", response=REFUSALS, openapi_extra=a_file("application/pdf"))
def card(request: HttpRequest, sortie_id: Id, paper: Literal["a5", "half-letter"] = "a5") -> HttpResponse:
    found = seen_sortie(request, sortie_id)
    record = record_for(asking(request), found)
    return file_sent(card_pdf(record, paper), "application/pdf", f"card-{sortie_id}.pdf")


@router.get("/sorties/{sortie_id}/plan.json", response={200: Any, **REFUSALS})
def plan_json(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    record = record_for(asking(request), seen_sortie(request, sortie_id))
    text = plan_document(record).model_dump_json(indent=2)
    return file_sent(text.encode(), "application/json; charset=utf-8", f"plan-{sortie_id}.json")


@router.get("/sorties/{sortie_id}/booking.ics", response=REFUSALS, openapi_extra=a_file("text/calendar"))
def booking(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    return file_sent(
        booking_ics(seen_sortie(request, sortie_id)),
        "text/calendar; charset=utf-8",
        f"booking-{sortie_id}.ics",
    )


@router.post("/sorties/{sortie_id}/read", response={200: SortieOut, **REFUSALS})
def read(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    """The student has read the brief."""
    found = seen_sortie(request, sortie_id)
    reading.mark_read(asking(request), found)
    return whole(request, seen_sortie(request, sortie_id))


@router.post("/sorties/{sortie_id}/questions", response={200: SortieOut, **REFUSALS})
def ask(request: HttpRequest, sortie_id: Id, data: NewQuestion) -> HttpResponse:
    found = seen_sortie(request, sortie_id)
    reading.ask(asking(request), found, data.text, data.figure)
    return whole(request, found)


@router.post("/sorties/{sortie_id}/questions/{question_id}", response={200: SortieOut, **REFUSALS})
def answer(request: HttpRequest, sortie_id: Id, question_id: Id, data: NewAnswer) -> HttpResponse:
    found = seen_sortie(request, sortie_id)
    reading.answer(asking(request), found, question_id, data.text)
    return whole(request, found)
