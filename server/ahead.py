"""What everybody looks at first is counted before they ask: after each change and each midnight, by a process
of its own. Imported once Django is set up."""

import logging
import os
import time
from datetime import datetime

from server import clock
from server.api.counted import lines_of, page_of
from server.school.models import Person, Student
from server.school.models.kept import Of
from server.school.models.people import Role
from server.school.operations import school
from server.school.operations.kept import missing
from server.school.operations.requirements import standings_of

# Looks so often, and leaves the processor to the others.
EVERY_S, NICE = 10.0, 10


def count_ahead() -> None:
    """For ever. What fails is in the log, and tried again: it is counted when somebody asks, too."""
    os.nice(NICE)
    while True:
        try:
            count(clock.now())
        except Exception:
            logging.getLogger(__name__).exception("counting ahead failed")
        time.sleep(EVERY_S)


def count(now: datetime) -> None:
    """Where it is not kept."""
    today = clock.day_of(now)
    students = list(Student.objects.select_related("person").filter(person__is_active=True))
    lines_of(missing(Of.STUDENT, "line", today, students), True, now)
    for student in missing(Of.STUDENT, "page", today, students):
        page_of(student, True, now)
    teach = Person.objects.filter(role__in=(Role.CHIEF, Role.INSTRUCTOR), is_active=True)
    for person in missing(Of.PERSON, "requirements", today, teach):
        standings_of(person)
    school.seen(school.DAYS)
