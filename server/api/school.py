"""The school as its chief looks at it."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Query, Router

from keelturn.progress.school import SchoolSeen
from server.api.doors import REFUSALS, asking
from server.school.operations.school import seen_by_the_chief

router = Router(tags=["school"])
Days = Annotated[int, Query(ge=1, le=3650, description="Until today")]


@router.get("/school", response={200: SchoolSeen, **REFUSALS})
def school(request: HttpRequest, days: Days = 365) -> SchoolSeen:
    return seen_by_the_chief(asking(request), days)
