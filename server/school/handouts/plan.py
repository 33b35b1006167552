"""The plan as the open document that `python -m keelturn plan` reads (docs/formats.md), and back."""

from typing import Any

from keelturn.formats.documents import PlanRequest
from keelturn.formats.reading import read_document, refused
from keelturn.plan.document import PlanDocument
from server.school.models import SchoolStandards, Sortie


def plan_document(sortie: Sortie) -> PlanRequest:
    days = sortie.aircraft.parachute_days(sortie.planned_for.date())
    return PlanRequest.model_validate(
        {
            "card": sortie.aircraft.card,
            "place": sortie.place.place,
            "standards": SchoolStandards.in_force().standards,
            "student_stage": sortie.student.stage,
            "parachute_days": days,
            "off_blocks": sortie.planned_for,
            "plan": sortie.plan,
        }
    )


def plan_from(document: Any) -> PlanDocument:
    """From such a document, or from a plan alone. Overrides are an instructor's on one flight: they do not
    come along. Raises Refused."""
    if not isinstance(document, dict):
        raise refused(
            "document",
            "this is not a plan: it does not begin with {",
            "Choose a file that was stored by 'Plan as JSON'.",
        )
    found = (
        read_document(PlanRequest, document).plan
        if "plan" in document
        else read_document(PlanDocument, document)
    )
    return found.model_copy(update={"overrides": ()})
