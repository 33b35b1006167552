"""The student reads the brief before the flight, ticks it, and asks; the instructor answers."""

import hashlib
import json

from keelturn.formats.reading import read_stored, refused
from keelturn.plan.document import PlanDocument
from keelturn.progress.stages import Act
from server import clock
from server.school.models import BriefRead, Person, Question, SheetRead, Sortie
from server.school.permissions import Denied, may, require_edit


def plan_digest(sortie: Sortie) -> str:
    """Of what a brief is made from: the plan, the aircraft and the place."""
    made_of = [sortie.plan, sortie.aircraft_id, sortie.card_version, sortie.place_id, sortie.place_version]
    return hashlib.sha256(json.dumps(made_of, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def is_read(sortie: Sortie, plan: PlanDocument) -> bool:
    """Whether the student has read the brief of this plan, as it is stored. Raises Unreadable."""
    read = getattr(sortie, "read", None)
    if read is None or read.plan_digest != plan_digest(sortie):
        return False
    return plan == read_stored(PlanDocument, sortie.plan, "plan")


def mark_read(person: Person, sortie: Sortie) -> None:
    """Raises Denied for anybody but the sortie's student, and once it is flown."""
    if sortie.student.person_id != person.pk:
        raise Denied("only the student of this sortie ticks it as read")
    if not sortie.open_for(Act.READ):
        raise Denied(
            "this sortie has been flown; there is nothing left to read before it", "Read its debrief."
        )
    BriefRead.objects.update_or_create(
        sortie=sortie, defaults={"plan_digest": plan_digest(sortie), "at": clock.now()}
    )


def mark_sheet_read(person: Person, sortie: Sortie, comment: str) -> None:
    """Read again with another comment, that one stands. Raises Denied for anybody but the sortie's student,
    and before it is signed."""
    if not may(person, sortie, Act.SHEET):
        raise Denied(
            "the student of this sortie ticks its sheet as read, when it is signed", "Read it until then."
        )
    SheetRead.objects.update_or_create(sortie=sortie, defaults={"at": clock.now(), "comment": comment})


def ask(person: Person, sortie: Sortie, text: str, figure: str) -> None:
    """Raises Denied for anybody but the sortie's student; Refused for a figure that is not in the plan."""
    if sortie.student.person_id != person.pk:
        raise Denied("questions are the student's", "Write a note in the brief instead.")
    if not sortie.open_for(Act.ASK):
        raise Denied("this record is signed", "Ask your instructor.")
    if figure and figure not in {f["id"] for f in sortie.plan["figures"]}:
        raise refused("figure", "this figure is not in the plan any more", "Ask about the whole flight.")
    Question.objects.create(sortie=sortie, by=person, text=text, figure=figure)


def answer(person: Person, sortie: Sortie, question_id: int, text: str) -> None:
    """Raises Denied for anybody but the sortie's instructor; Refused for a question that is not there."""
    require_edit(person, sortie)
    changed = sortie.questions.filter(pk=question_id).update(
        answer=text, answered_by=person, answered_at=clock.now()
    )
    if not changed:
        raise refused("question", "there is no such question here", "Reload the brief.")
