"""A sortie as it is shown: an open one from what is stored, a signed one from the document that was signed
and from nothing else."""

from dataclasses import replace
from functools import lru_cache
from typing import Any, cast

from keelturn.aircraft.card import Card
from keelturn.formats.reading import KEPT, Problem, Refused, Unreadable, read_stored
from keelturn.formats.signed import (
    Asked,
    Booked,
    BriefWasRead,
    Read,
    Rebooked,
    Record,
    RecordingKept,
    StageChanged,
    read_signed,
)
from keelturn.noting.entry import What
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief, pages
from keelturn.plan.document import PlanDocument
from keelturn.plan.sequence import PlanAnswer, as_the_student_sees
from keelturn.progress.lessons import name_of
from keelturn.progress.stages import STAGES, Debrief
from keelturn.school.place import Place
from server.school.models import Person, Signature, Sortie
from server.school.operations.computing import answer_for, entries_kept
from server.school.operations.reading import plan_digest
from server.school.operations.record import earlier_faults
from server.school.permissions import instructs

# What a student is shown when the debrief is done.
INSTRUCTORS_VIEW = (What.GRADE, What.GRADE_REASON, What.SAID)


def record_of(sortie: Sortie, working: bool = True) -> Record:
    """working: of its numbers; without it a signed one is read faster. Raises Unreadable, and Refused where
    the stored plan cannot be computed."""
    signature = signature_of(sortie)
    return _open(sortie) if signature is None else as_signed(signature, working)


def record_for(person: Person, sortie: Sortie, working: bool = True) -> Record:
    """What this person may see of it: before the flight a student does not know the set-ups. Raises as
    record_of."""
    record = record_of(sortie, working)
    if instructs(person, sortie):
        return record
    if sortie.was_flown:
        return record if may_see_looks(person, sortie) else _without_the_instructors(record)
    plan, answer = as_the_student_sees(record.plan, record.answer)
    return replace(record, plan=plan, answer=answer)


def may_see_looks(person: Person, sortie: Sortie) -> bool:
    """The student says first how it was: until the debrief is done, neither grades nor what will be said."""
    return instructs(person, sortie) or STAGES.index(sortie.stage_reached) >= STAGES.index("debriefed")


def _without_the_instructors(record: Record) -> Record:
    unsaid: dict[str, Any] = dict.fromkeys(INSTRUCTORS_VIEW, "") | {What.GRADE: None}
    return replace(
        record,
        attempts=tuple(
            a.model_copy(
                update={
                    **unsaid,
                    "otherwise": tuple(o for o in a.otherwise if o.what not in INSTRUCTORS_VIEW),
                }
            )
            for a in record.attempts
        ),
        entries=tuple(e for e in record.entries if e.what not in INSTRUCTORS_VIEW),
        debrief=record.debrief.model_copy(update={"one_thing": ""}),
    )


def signature_of(sortie: Sortie) -> Signature | None:
    return getattr(sortie, "signature", None) if sortie.stage == "signed" else None


@lru_cache(maxsize=6)
def _read(document: str, working: bool) -> Read:
    """The same text is the same record: a page asks for it several times, and reading it takes longest.
    Each takes thirty megabytes, or three without its working."""
    return read_signed(document, working)


def as_signed(signature: Signature, working: bool = True) -> Record:
    """working: of its numbers. Raises Unreadable."""
    return as_read(signature, working).record


def as_read(signature: Signature, working: bool = True) -> Read:
    """Raises Unreadable."""
    try:
        return _read(signature.document, working)
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise Unreadable([Problem("signed record", f"it cannot be read ({error})", KEPT)]) from error


def _planned(answer: PlanAnswer) -> set[str]:
    """The keys of what may be flown: the figures, and the set-ups that were drawn."""
    drawn = answer.drawn.set_ups if answer.drawn else ()
    return {figure.key for figure in answer.figures} | {one.planned.key for one in drawn}


def _open(sortie: Sortie) -> Record:
    found = answer_for(sortie)
    flown_in = found.conditions
    read = getattr(sortie, "read", None)
    leave = found.answer.leave
    return Record(
        sortie=sortie.pk,
        student=sortie.student.person.name,
        student_stage=sortie.student.stage_reached,
        instructor=sortie.instructor.name,
        planned_for=sortie.planned_for,
        lesson=found.plan.lesson,
        lesson_name=sortie.lesson_words("name") or name_of(found.plan.lesson),
        aircraft=sortie.aircraft.registration,
        card=flown_in.card,
        parachute_days=flown_in.parachute_days,
        place=flown_in.place,
        standards=flown_in.standards,
        plan=found.plan,
        brief=read_stored(Brief, sortie.brief, "brief"),
        brief_items=BEFORE_FLIGHT,
        brief_pages=pages(leave.shown if leave else None, flown_in.card.leaving),
        read=None if read is None else BriefWasRead(read.at, read.plan_digest == plan_digest(sortie)),
        questions=tuple(
            Asked(
                id=q.pk,
                by=q.by.name,
                at=q.at,
                figure=q.figure,
                text=q.text,
                answer=q.answer,
                answered_by=q.answered_by.name if q.answered_by else None,
            )
            for q in sortie.questions.select_related("by", "answered_by")
        ),
        attempts=tuple(found.attempts),
        entries=entries_kept(sortie),
        debrief=read_stored(Debrief, sortie.debrief, "debrief"),
        stage_changes=tuple(
            StageChanged(c.stage, c.by.name, c.at) for c in sortie.stage_changes.select_related("by")
        ),
        earlier_faults=earlier_faults(sortie),
        answer=found.answer,
        accounts=found.accounts,
        dates=flown_in.dates,
        before=flown_in.before,
        own={key: own for key, own in flown_in.own.items() if key in _planned(found.answer)},
        student_id=sortie.student_id,
        instructor_id=sortie.instructor_id,
        aircraft_id=sortie.aircraft_id,
        place_id=sortie.place_id,
        recordings=tuple(
            RecordingKept(r.name, r.digest, r.size, r.set_aside, r.by.name, r.at)
            for r in sortie.recordings.select_related("by").defer("said", "traces").order_by("pk")
        ),
        rebooked=tuple(
            Rebooked(cast(Booked, c.what), c.before, c.after, c.by.name, c.at)
            for c in sortie.booking_changes.select_related("by")
        ),
    )


def line_of(record: Record) -> dict[str, Any]:
    """What a list shows of a sortie."""
    return {
        "lesson": record.lesson,
        "lesson_name": record.lesson_name,
        "student": record.student,
        "instructor": record.instructor,
        "aircraft": record.aircraft,
        "aircraft_name": record.card.name,
        "place": record.place.name,
        "figures": len(record.plan.figures),
    }


def stored_line(sortie: Sortie) -> dict[str, Any]:
    """The same of a stored sortie, nothing computed; for a signed one as it was signed. What cannot be read
    says so in its own line, with what to do, and takes no list with it."""
    signature = signature_of(sortie)
    if signature is not None and signature.line:
        return {**signature.line, "trouble": None}
    plan = sortie.plan if isinstance(sortie.plan, dict) else {}
    lesson, figures = plan.get("lesson"), plan.get("figures")
    card = sortie.card_kept if isinstance(sortie.card_kept, dict) else {}
    place = sortie.place_kept if isinstance(sortie.place_kept, dict) else {}
    return {
        "lesson": lesson if isinstance(lesson, str) else "",
        "lesson_name": (
            sortie.lesson_words("name") or name_of(lesson)
            if isinstance(lesson, str)
            else "Lesson not readable"
        ),
        "student": sortie.student.person.name,
        "instructor": sortie.instructor.name,
        "aircraft": sortie.aircraft.registration,
        "aircraft_name": str(card.get("name", "")),
        "place": str(place.get("name", sortie.place.name)),
        "figures": len(figures) if isinstance(figures, list) else 0,
        "trouble": trouble_of(sortie),
    }


def trouble_of(sortie: Sortie) -> str | None:
    """Why it cannot be opened, in words; None for one that can, as far as reading tells."""
    try:
        if signature_of(sortie) is None:
            sheets = (
                (sortie.plan, PlanDocument, "plan"),
                (sortie.brief, Brief, "brief"),
                (sortie.debrief, Debrief, "debrief"),
                (sortie.card_kept, Card, "card"),
                (sortie.place_kept, Place, "place"),
            )
            for stored, kind, name in sheets:
                read_stored(kind, stored, name)
    except Refused as error:
        first = error.problems[0]
        return f"Cannot be opened: {first.where}: {first.what}. {first.do}"
    return None
