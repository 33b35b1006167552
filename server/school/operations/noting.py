"""Taking what was noted, on whatever device: entries are added, never changed, and what they add up to is
kept beside them for lists and history."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import timedelta

from django.db import transaction

from keelturn.assess.loss import loss_account
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import Problem, read_stored
from keelturn.noting.adding_up import attempts_of
from keelturn.noting.attempt import Attempt
from keelturn.noting.entry import OWN_VIEW, Entry, entries_of
from keelturn.plan.briefing import Brief
from keelturn.progress.stages import STAGES, Act, stage_held
from server import clock
from server.school.models import AttemptRow, EntryRow, Person, Sortie
from server.school.operations.computing import conditions_for, entries_kept, plan_of
from server.school.operations.enrolling import COUNTED_STAGES, count_standing
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
            _add_up(sortie, {entry.attempt for entry in fresh})
            _keep_stage(person, sortie)
            if sortie.stage in COUNTED_STAGES:
                count_standing(sortie.student)
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


def _add_up(sortie: Sortie, changed: set[str]) -> None:
    """The rows of the attempts, as the entries add up to them now; accounts only of those that changed."""
    attempts = attempts_of(entries_kept(sortie))
    before = {row.attempt.get("id"): row for row in sortie.attempts.all()}
    conditions = conditions_for(sortie, plan_of(sortie))
    rows = [
        row_of(sortie, order, attempt, conditions)
        if attempt.id in changed or attempt.id not in before
        else _moved(before[attempt.id], order)
        for order, attempt in enumerate(attempts)
    ]
    sortie.attempts.all().delete()
    AttemptRow.objects.bulk_create(rows)


def add_up_again(sortie: Sortie) -> None:
    """When what was briefed is no longer what it was as things were noted."""
    _add_up(sortie, {str(row.attempt.get("id")) for row in sortie.attempts.all()})


def _moved(row: AttemptRow, order: int) -> AttemptRow:
    row.pk, row.order = None, order
    return row


def row_of(sortie: Sortie, order: int, attempt: Attempt, conditions: Conditions) -> AttemptRow:
    account = loss_account(attempt, conditions)
    return AttemptRow(
        sortie=sortie,
        order=order,
        attempt=attempt.model_dump(mode="json"),
        figure=attempt.planned.key,
        lost_ft=attempt.lost_ft,
        briefed_ft=account.planned.value if account else None,
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
