"""The school as its chief looks at it, and how its data are kept safe."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Query, Router

from keelturn.progress.school import SchoolSeen
from server.api.doors import REFUSALS, asking
from server.safe_keeping import Safe
from server.school.operations import school as operations

router = Router(tags=["school"])
Days = Annotated[int, Query(ge=1, le=3650, description="Until today")]


@router.get("/school", response={200: SchoolSeen, **REFUSALS})
def school(request: HttpRequest, days: Days = operations.DAYS) -> SchoolSeen:
    return operations.seen_by_the_chief(asking(request), days)


@router.get("/safe-keeping", response={200: Safe, **REFUSALS})
def safe_keeping(request: HttpRequest) -> Safe:
    return operations.how_it_is_kept(asking(request))


@router.post("/safe-keeping/backup", response={200: Safe, **REFUSALS})
def back_up(request: HttpRequest) -> Safe:
    """Now, besides the schedule."""
    return operations.back_up(asking(request))


@router.post("/safe-keeping/trial", response={200: Safe, **REFUSALS})
def try_restoring(request: HttpRequest) -> Safe:
    """The last backup, in a corner: what is in use stays as it is."""
    return operations.try_restoring(asking(request))
