"""Sorties: today's list, one sortie, saving, moving on, signing, correcting."""

from collections.abc import Sequence
from dataclasses import asdict, replace
from datetime import datetime
from functools import partial
from typing import Any

from django.db.models import Count, Q, QuerySet, prefetch_related_objects
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router

from keelturn.margins.checks import WORST_FIRST, Verdict
from keelturn.noting.attempt import Attempt, disagreements
from keelturn.plan.flight_checks import date_check, parachute_check
from keelturn.progress.stages import Act, next_by_hand, reached
from server import clock
from server.api.debriefing import looks_of
from server.api.doors import REFUSALS, as_json, asking, require_seen, seen_sortie, seen_student
from server.api.schemas import (
    Book,
    Cancel,
    ComingSortie,
    Conflict,
    CorrectionOut,
    DifferenceOut,
    EntriesTaken,
    Id,
    MayOut,
    MoveStage,
    NewCorrection,
    NewEntries,
    NewSortie,
    Notice,
    NotTakenOut,
    ProblemOut,
    SaveSortie,
    SheetIn,
    SheetReadOut,
    Sign,
    SignatureOut,
    SignedSortie,
    SortieLine,
    SortieOut,
    TakeOver,
    Today,
)
from server.api.thin import Thin
from server.school.models import Aircraft, Person, Place, SchoolStandards, SheetRead, Sortie
from server.school.operations import booking, noting, reading, signing
from server.school.operations import sorties as operations
from server.school.operations.clashes import clashes_among
from server.school.operations.dates import all_dates
from server.school.operations.record import OPEN_STAGES, faults_last_time
from server.school.operations.saving import Sheets, save_sortie
from server.school.operations.showing import line_of, record_for, signature_of, stored_line
from server.school.operations.verifying import first_that_does_not_hold
from server.school.permissions import (
    instructs,
    may,
    may_edit,
    require_edit,
    require_instructor,
    sorties_seen_by,
)

router = Router(tags=["sorties"])
RECENT = 12
SORTIE = Thin(SortieOut)


def line(sortie: Sortie) -> SortieLine:
    return SortieLine(**line_read(sortie))


def lightly(signed: QuerySet[Sortie]) -> QuerySet[Sortie]:
    """Signed sorties for a list: without the documents, which are long."""
    long = ("plan", "brief", "debrief", "card_kept", "place_kept", "aircraft__card", "place__place")
    return signed.select_related("signature").defer("signature__document", *long)


def line_read(sortie: Sortie) -> dict[str, Any]:
    """What a SortieLine is made of."""
    return {**_row(sortie), **stored_line(sortie)}


def _row(sortie: Sortie) -> dict[str, Any]:
    """What the row alone knows, whatever its sheets say."""
    return {
        "id": sortie.pk,
        "student_id": sortie.student_id,
        "planned_for": sortie.planned_for,
        "stage": sortie.stage,
        "cancelled": sortie.cancelled,
    }


def whole(request: HttpRequest, sortie: Sortie, status: int = 200) -> HttpResponse:
    """A signed one is drawn from what was signed. Raises Unreadable, and Refused where the stored plan cannot
    be computed."""
    person, signature = asking(request), signature_of(sortie)
    record = record_for(person, sortie, working=False)
    if signature is not None:
        # Both verified and shown.
        prefetch_related_objects([sortie], "corrections__by")
    fault = None if signature is None else first_that_does_not_hold(signature)
    answer = SortieOut(
        **_row(sortie),
        **line_of(record),
        version=sortie.version,
        instructor_id=sortie.instructor_id,
        aircraft_id=sortie.aircraft_id,
        place_id=sortie.place_id,
        speed_unit=record.card.speed_unit,
        student_stage=record.student_stage,
        lesson_purpose=sortie.lesson_words("purpose") or "",
        changed_by=sortie.changed_by.name,
        changed_at=sortie.changed_at,
        may=_may(person, sortie),
        reached=list(reached(sortie.stage_reached)),
        plan=record.plan,
        answer=record.answer,
        brief=record.brief,
        brief_items=list(record.brief_items),
        attempts=list(record.attempts),
        entries=list(record.entries),
        attempt_titles={attempt.id: attempt.planned.title for attempt in record.attempts},
        doubts=_doubts(record.attempts),
        accounts=record.accounts,
        debrief=record.debrief,
        card=record.card,
        block=record.place,
        stage_changes=list(record.stage_changes),
        rebooked=list(record.rebooked),
        newer={
            name: [DifferenceOut(**vars(d)) for d in found]
            for name, found in operations.newer_documents(sortie).items()
        },
        missing={} if signature else operations.missing_for(record, sortie.stage_reached),
        earlier_faults=record.earlier_faults,
        brief_pages=list(record.brief_pages),
        read=record.read,
        questions=list(record.questions),
        clashes=clashes_among([sortie])[sortie.pk] if sortie.open_for(Act.PLAN) else [],
        signature=None
        if signature is None or record.signed_by is None or record.signed_at is None
        else SignatureOut(
            by=record.signed_by,
            at=record.signed_at,
            digest=signature.digest,
            holds=fault is None,
            trouble=fault,
        ),
        sheet_read=_sheet_read(sortie) if signature is not None else None,
        corrections=[
            CorrectionOut(
                by=c.by_name or c.by.name,
                at=c.at,
                reason=c.reason,
                text=c.text,
                what=c.what,
            )
            for c in (sortie.corrections.all() if signature else ())
        ],
    )
    # Sent as it is written: going through the response schema would copy every number of it first.
    return as_json(SORTIE.dump_json(answer), status)


def _sheet_read(sortie: Sortie) -> SheetReadOut | None:
    read: SheetRead | None = getattr(sortie, "sheet_read", None)
    return None if read is None else SheetReadOut(at=read.at, comment=read.comment)


def _doubts(attempts: Sequence[Attempt]) -> dict[str, list[ProblemOut]]:
    """By the attempt's id, where there are any."""
    return {
        attempt.id: [
            ProblemOut(where=where, place=str(Attempt.model_fields[where].title), what=what, do=do)
            for where, what, do in found
        ]
        for attempt in attempts
        if (found := disagreements(attempt))
    }


def _may(person: Person, sortie: Sortie) -> MayOut:
    save = may_edit(person, sortie)
    return MayOut(
        save=save,
        move=next_by_hand(sortie.stage_reached) if save else None,
        **{act: may(person, sortie, act) for act in Act},
    )


@router.get("/today", response={200: Today, **REFUSALS})
def today(request: HttpRequest) -> Today:
    """Sorties from today on and those of one's own of earlier days that are not signed, then the last ones
    signed. The number of queries does not rise with that of the sorties."""
    person, now = asking(request), clock.now()
    seen = sorties_seen_by(person)
    morning = clock.morning_of(now)
    coming = seen.filter(stage__in=OPEN_STAGES).exclude(planned_for__lt=morning, cancelled__isnull=False)
    if person.teaches and not person.is_chief:
        coming = coming.filter(Q(instructor=person) | Q(planned_for__gte=morning))
    signed = lightly(seen.filter(stage="signed")).select_related("sheet_read")
    recent = signed.order_by("-planned_for")[:RECENT]
    coming = coming.annotate(asked=Count("questions", filter=Q(questions__answer="")))
    planned = list(coming.defer("aircraft__card", "place__place"))
    twice = clashes_among([s for s in planned if s.open_for(Act.PLAN)])
    last_time = faults_last_time(planned)
    coming_lines = [
        ComingSortie(
            **line_read(s),
            mine=person.is_chief or not instructs(person, s) or s.instructor_id == person.pk,
            left_over=s.planned_for < morning,
            last_time=last_time[s.pk],
            clashes=twice.get(s.pk, []) if person.teaches else [],
            read=hasattr(s, "read"),
            open_questions=s.asked,
            may_read=may(person, s, Act.READ),
            may_say=s.stage == "flown" and may(person, s, Act.OWN_VIEW),
        )
        for s in planned
    ]
    return Today(
        now=now,
        sorties=coming_lines,
        notices=notices(now) if person.teaches else [],
        recent=[SignedSortie(**line_read(s), sheet_read=hasattr(s, "sheet_read")) for s in recent],
    )


def notices(now: datetime) -> list[Notice]:
    """What somebody should see to before it grounds an aircraft or somebody. Three queries."""
    standards, today = SchoolStandards.in_force().document(), clock.day_of(now)
    checks = [date_check(row.document(), today) for row in all_dates()]
    for aircraft in Aircraft.objects.order_by("registration"):
        packed = parachute_check(aircraft.parachute_days(today), standards)
        checks.append(replace(packed, title=f"{packed.title} of {aircraft.registration}"))
    return [
        Notice(
            verdict=check.verdict,
            title=check.title,
            sentence=" ".join(filter(None, (check.sentence, check.hint, f"{check.spare}."))),
        )
        for check in sorted(checks, key=lambda c: WORST_FIRST.index(c.verdict))
        if check.verdict != Verdict.FINE
    ]


def instructor_asked(person: Person, instructor_id: int | None) -> Person:
    """Who is to fly it: the asker where nobody is said. Raises Http404."""
    if instructor_id in (None, person.pk):
        return person
    return get_object_or_404(Person, pk=instructor_id)


@router.post("/sorties", response={201: SortieOut, **REFUSALS})
def plan_sortie(request: HttpRequest, data: NewSortie) -> HttpResponse:
    person = asking(request)
    require_instructor(person)
    student, with_whom = seen_student(request, data.student_id), instructor_asked(person, data.instructor_id)
    aircraft, place = (
        get_object_or_404(Aircraft, pk=data.aircraft_id),
        get_object_or_404(Place, pk=data.place_id),
    )
    if data.copy_of is not None:
        earlier = seen_sortie(request, data.copy_of)
        made = operations.copy_sortie(
            person, earlier, student, aircraft, data.planned_for, data.made_as, with_whom
        )
    else:
        made = operations.plan_sortie(
            person,
            student,
            aircraft,
            place,
            data.lesson,
            data.planned_for,
            data.plan,
            data.made_as,
            with_whom,
        )
    return whole(request, made, 201)


@router.get("/sorties/{sortie_id}", response={200: SortieOut, **REFUSALS})
def sortie(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    return whole(request, seen_sortie(request, sortie_id, "signature", "sheet_read"))


@router.put("/sorties/{sortie_id}", response={200: SortieOut, 409: Conflict, **REFUSALS})
def save(request: HttpRequest, sortie_id: Id, data: SaveSortie) -> HttpResponse:
    require_seen(request, sortie_id)
    sheets = Sheets(
        data.plan,
        data.brief,
        data.debrief,
        None if data.aircraft_id is None else get_object_or_404(Aircraft, pk=data.aircraft_id),
        None if data.place_id is None else get_object_or_404(Place, pk=data.place_id),
    )
    return whole(request, save_sortie(asking(request), sortie_id, data.version, sheets))


@router.post("/sorties/{sortie_id}/entries", response={200: EntriesTaken, **REFUSALS})
def note(request: HttpRequest, sortie_id: Id, data: NewEntries) -> EntriesTaken:
    """What was noted, on whatever device. Sent twice it is there once."""
    require_seen(request, sortie_id)
    taken = noting.take_entries(asking(request), sortie_id, data.entries)
    return EntriesTaken(
        noted=taken.of,
        known=list(taken.known),
        refused=[
            NotTakenOut(id=n.id, problem=ProblemOut(place="Entry", **asdict(n.problem)))
            for n in taken.refused
        ],
        now=clock.now(),
    )


@router.post("/sorties/{sortie_id}/booking", response={200: SortieOut, 409: Conflict, **REFUSALS})
def rebook(request: HttpRequest, sortie_id: Id, data: Book) -> HttpResponse:
    """At another time, with another instructor, in another aircraft, for longer or shorter."""
    require_seen(request, sortie_id)
    otherwise = booking.Otherwise(
        data.planned_for,
        None if data.instructor_id is None else get_object_or_404(Person, pk=data.instructor_id),
        None if data.aircraft_id is None else get_object_or_404(Aircraft, pk=data.aircraft_id),
        data.minutes,
    )
    return whole(request, booking.rebook(asking(request), sortie_id, data.version, otherwise))


@router.post("/sorties/{sortie_id}/cancel", response={200: SortieOut, 409: Conflict, **REFUSALS})
def cancel(request: HttpRequest, sortie_id: Id, data: Cancel) -> HttpResponse:
    """Not flown, and why; or put back."""
    require_seen(request, sortie_id)
    return whole(request, booking.cancel(asking(request), sortie_id, data.version, data.reason))


@router.delete("/sorties/{sortie_id}", response={204: None, **REFUSALS})
def discard(request: HttpRequest, sortie_id: Id) -> HttpResponse:
    operations.discard_sortie(asking(request), seen_sortie(request, sortie_id))
    return HttpResponse(status=204)


@router.post("/sorties/{sortie_id}/stage", response={200: SortieOut, 409: Conflict, **REFUSALS})
def move_stage(request: HttpRequest, sortie_id: Id, data: MoveStage) -> HttpResponse:
    require_seen(request, sortie_id)
    return whole(request, operations.move_stage(asking(request), sortie_id, data.version, data.to))


@router.post("/sorties/{sortie_id}/take-over", response={200: SortieOut, 409: Conflict, **REFUSALS})
def take_over(request: HttpRequest, sortie_id: Id, data: TakeOver) -> HttpResponse:
    """Plan it on the aircraft's card, or on the place, as they are now."""
    require_seen(request, sortie_id)
    return whole(request, operations.take_over(asking(request), sortie_id, data.version, data.what))


@router.post("/sorties/{sortie_id}/sign", response={200: SortieOut, 409: Conflict, **REFUSALS})
def sign(request: HttpRequest, sortie_id: Id, data: Sign) -> HttpResponse:
    require_edit(asking(request), seen_sortie(request, sortie_id))
    looks = partial(looks_of, request)
    signed = signing.sign_sortie(asking(request), sortie_id, data.version, data.noted, data.password, looks)
    return whole(request, signed)


@router.post("/sorties/{sortie_id}/sheet", response={200: SortieOut, **REFUSALS})
def read_sheet(request: HttpRequest, sortie_id: Id, data: SheetIn) -> HttpResponse:
    """The student has read the sheet, with what they say of it."""
    found = seen_sortie(request, sortie_id)
    reading.mark_sheet_read(asking(request), found, data.comment)
    return whole(request, found)


@router.post("/sorties/{sortie_id}/corrections", response={201: SortieOut, **REFUSALS})
def correct(request: HttpRequest, sortie_id: Id, data: NewCorrection) -> HttpResponse:
    found = seen_sortie(request, sortie_id)
    said = data.text or data.what
    assert said is not None
    signing.add_correction(asking(request), found, data.reason, said)
    return whole(request, found, 201)
