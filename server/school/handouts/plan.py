"""The plan as the open document that `python -m keelturn plan` reads (docs/formats.md), and back."""

from typing import Any

from keelturn.formats.documents import PlanRequest
from keelturn.formats.reading import read_document, refused
from keelturn.formats.signed import Record
from keelturn.plan.document import PlanDocument


def plan_document(record: Record) -> PlanRequest:
    """Nothing is checked anew: what a sortie holds can always be taken along."""
    return PlanRequest.model_construct(
        version=1,
        card=record.card,
        place=record.place,
        standards=record.standards,
        student_stage=record.student_stage,
        parachute_days=record.parachute_days,
        dates=record.dates,
        off_blocks=record.planned_for,
        plan=record.plan,
        propose=False,
    )


def plan_from(document: Any) -> PlanDocument:
    """From such a document, or from a plan alone. Overrides are an instructor's on one flight, and a report
    is what this program read: they do not come along. Raises Refused."""
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
    day = found.day.model_copy(update={"sources": {}, "report": "", "observed": None})
    return found.model_copy(update={"overrides": (), "day": day})
