"""What everybody looks at first is counted before they ask: after each change and each midnight, by a process
of its own. Imported once Django is set up."""

import logging
import os
import time
from contextlib import suppress
from datetime import datetime, timedelta

from keelturn.formats.reading import Refused
from server import clock
from server.api.counted import lines_of, page_of
from server.school.models import Person, Sortie, Student
from server.school.models.kept import Of
from server.school.models.people import Role
from server.school.operations import school
from server.school.operations.computing import answer_for
from server.school.operations.kept import missing
from server.school.operations.record import OPEN_STAGES
from server.school.operations.requirements import standings_of
from server.school.permissions import with_people

# Looks so often, and leaves the processor to the others.
EVERY_S, NICE = 10.0, 10
# Open sorties whose plans are answered: so far back, and so many.
DAYS_OPEN, MOST_OPEN = 14, 60


def count_ahead() -> None:
    """For ever. What fails is in the log, and tried again: it is counted when somebody asks, too."""
    os.nice(NICE)
    answered = set[tuple[int, int]]()
    while True:
        try:
            count(clock.now())
            answer_plans(answered)
        except Exception:
            logging.getLogger(__name__).exception("counting ahead failed")
        time.sleep(EVERY_S)


def answer_plans(answered: set[tuple[int, int]]) -> None:
    """Of the sorties that are still open, each once in every version: their first answer takes a second.
    answered: those that have been, with the version."""
    since = clock.now() - timedelta(days=DAYS_OPEN)
    still = with_people(Sortie.objects.filter(stage__in=OPEN_STAGES, cancelled=None, planned_for__gte=since))
    for sortie in still.order_by("planned_for")[:MOST_OPEN]:
        if (sortie.pk, sortie.version) in answered:
            continue
        answered.add((sortie.pk, sortie.version))
        # Whoever opens it is told why not.
        with suppress(Refused):
            answer_for(sortie)


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
