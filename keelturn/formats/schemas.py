"""The JSON Schemas of what is asked and of what is answered."""

from typing import Any

from pydantic import TypeAdapter

from keelturn.document import Document
from keelturn.formats.answers import ANSWERS as OF_ANSWERS
from keelturn.formats.documents import REQUESTS as OF_DOCUMENTS
from keelturn.formats.recorded import FlightJudged, FlightRead, ReadRequest
from keelturn.progress.course import Course

REQUESTS: dict[str, type[Document]] = {**OF_DOCUMENTS, "read": ReadRequest}
ANSWERS: dict[str, Any] = {**OF_ANSWERS, "flight": FlightRead, "debrief": FlightJudged}
# What is taken in and sent out as it is, and asked of no command.
FILES: dict[str, type[Document]] = {"course": Course}
KINDS = (*REQUESTS, *ANSWERS, *FILES)


def schema_of(kind: str) -> dict[str, Any]:
    """JSON Schema of one of KINDS."""
    asked = REQUESTS.get(kind) or FILES.get(kind)
    made = (
        asked.model_json_schema()
        if asked is not None
        else TypeAdapter(ANSWERS[kind]).json_schema(mode="serialization")
    )
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made}
