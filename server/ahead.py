"""What everybody looks at first is counted before they ask: after each change and each midnight, by a process
of its own. Imported once Django is set up."""

import os
import time
from contextlib import suppress
from datetime import datetime

from django.db import OperationalError

from server import clock
from server.api.counted import lines_of
from server.school.models import Person, Student
from server.school.models.people import Role
from server.school.operations import school
from server.school.operations.requirements import standings_of

# Looks so often, and leaves the processor to the others.
EVERY_S, NICE = 10.0, 10


def count_ahead() -> None:
    """For ever."""
    os.nice(NICE)
    while True:
        with suppress(OperationalError):
            count(clock.now())
        time.sleep(EVERY_S)


def count(now: datetime) -> None:
    """Where it is not kept."""
    lines_of(list(Student.objects.select_related("person").filter(person__is_active=True)), True, now)
    school.seen(school.DAYS)
    for person in Person.objects.filter(role__in=(Role.CHIEF, Role.INSTRUCTOR), is_active=True):
        standings_of(person)
