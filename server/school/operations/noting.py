"""Taking what was noted, on whatever device: entries are added, never changed."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import timedelta

from django.db import transaction

from keelturn.formats.reading import Problem, read_stored
from keelturn.noting.attempt import Attempt
from keelturn.noting.entry import OWN_VIEW, Entry, entries_of
from keelturn.plan.briefing import Brief
from keelturn.progress.stages import STAGES, Act, stage_held
from server import clock
from server.school.models import EntryRow, Person, Sortie
from server.school.operations.adding import add_up
from server.school.operations.computing import plan_of
from server.school.operations.enrolling import count_flight
from server.school.operations.record import COUNTED_STAGES
from server.school.operations.sorties import standing_of, stored_next
from server.school.permissions import Denied, may, require_edit, with_people

# Between two attempts noted at once, so that their order is kept.
MOMENT = timedelta(milliseconds=1)


@dataclass(frozen=True)
class NotTaken:
    """An entry that was not kept: why, and what to do. It stays on its device."""

    id: str
    problem: Problem


@dataclass(frozen=True)
class Taken:
    """of: how many entries the sortie has now. known: those of the sent that it has, by identity."""

    of: int
    known: tuple[str, ...]
    refused: tuple[NotTaken, ...]


def take_entries(person: Person, sortie_id: int, sent: Sequence[Entry]) -> Taken:
    """Whatever comes twice, or in any order, is there once. The sheets' version does not rise: no save is
    overtaken by what was noted in flight. Raises Denied, Unreadable."""
    with transaction.atomic():
        sortie = with_people(Sortie.objects.all()).get(pk=sortie_id)
        own_view = may(person, sortie, Act.OWN_VIEW)
        if not own_view:
            require_edit(person, sortie)
        if not own_view and not may(person, sortie, Act.NOTE):
            raise Denied(
                "this sortie is not briefed: nothing is noted in it yet",
                "Brief it, then what was noted is taken.",
            )
        if own_view and any(entry.what not in OWN_VIEW for entry in sent):
            raise Denied(
                "a student notes their own view, and nothing else", "Ask the instructor of this sortie."
            )
        theirs = {entry.id: entry for entry in sent}
        there = dict(EntryRow.objects.filter(ident__in=theirs).values_list("ident", "sortie_id"))
        elsewhere = tuple(
            NotTaken(name, _elsewhere()) for name, of in there.items() if of != sortie.pk and name in theirs
        )
        fresh = [entry for name, entry in theirs.items() if name not in there]
        if fresh:
            _add(person, sortie, fresh)
            add_up(sortie, {entry.attempt for entry in fresh})
            _keep_stage(person, sortie)
            if sortie.stage in COUNTED_STAGES:
                count_flight(sortie.student)
        known = tuple(name for name in theirs if there.get(name, sortie.pk) == sortie.pk)
        return Taken(sortie.entries.count(), known, elsewhere)


def _elsewhere() -> Problem:
    return Problem(
        "id", "another sortie has an entry of this identity", "Note it again: it gets one of its own."
    )


def _add(person: Person, sortie: Sortie, fresh: Iterable[Entry]) -> None:
    """By whom is what the server knows, whatever was sent."""
    now = clock.now()
    EntryRow.objects.bulk_create(
        EntryRow(
            sortie=sortie,
            ident=entry.id,
            entry=entry.model_copy(update={"by": person.name}).model_dump(mode="json"),
            by=person,
            received_at=now,
        )
        for entry in fresh
    )


def _keep_stage(person: Person, sortie: Sortie) -> None:
    """What was flown stays flown; a debrief that lost a grade is open again, on the record."""
    attempts = [read_stored(Attempt, row.attempt, "attempt") for row in sortie.attempts.all()]
    brief, figures = read_stored(Brief, sortie.brief, "brief"), len(plan_of(sortie).figures)
    held = stage_held(sortie.stage_reached, figures, brief, attempts)
    least = "flown" if sortie.was_flown else sortie.stage_reached
    stage = max(held, least, key=STAGES.index)
    if stage != sortie.stage:
        before = standing_of(sortie)
        sortie.stage = stage
        stored_next(person, sortie, before)


def note_attempts(person: Person, sortie: Sortie, attempts: Sequence[Attempt], device: str) -> Taken:
    """As if each thing that these say had been noted now, one attempt after the other."""
    now = clock.now()
    entries = [
        entry
        for order, attempt in enumerate(attempts)
        for entry in entries_of(attempt, f"{device} {sortie.pk}", now + order * MOMENT)
    ]
    return take_entries(person, sortie.pk, entries)
