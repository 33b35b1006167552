"""Keeping what takes long to count: it is counted when somebody asks for it, and again after something of it
has changed, which the database notices (server/school/models/kept.py)."""

import json
from collections.abc import Callable, Iterable, Mapping
from datetime import date
from typing import Any, TypeVar

from django.db import OperationalError, transaction
from django.db.models import Model

from server.recalled import of_code
from server.school.models import Kept
from server.school.models.kept import Of

Row = TypeVar("Row", bound=Model)
# What is counted of many is stored in parts: nobody else waits long to write.
AT_ONCE = 20
# SQLite takes no more than some thirty thousand in one question.
ASKED_AT_ONCE = 10_000


def kept(of: Of, number: int, what: str, day: date | None, count: Callable[[], Any]) -> Any:
    """One answer as JSON has it. One query where it is kept."""
    return kept_of_each(of, [number], what, day, lambda _: {number: count()})[number]


def kept_of_each(
    of: Of,
    numbers: Iterable[int],
    what: str,
    day: date | None,
    count: Callable[[list[int]], Mapping[int, Any]],
) -> dict[int, Any]:
    """By number. count: those that are not kept, of which it may give none. One query where all are."""
    wanted = list(numbers)
    rows = dict[int, Kept]()
    for at in range(0, len(wanted), ASKED_AT_ONCE):
        some = Kept.objects.filter(of=of, what=what, number__in=wanted[at : at + ASKED_AT_ONCE])
        rows |= {row.number: row for row in some}
    found = {n: json.loads(row.said) for n, row in rows.items() if row.said is not None and row.day == day}
    lacking = [n for n in wanted if n not in found]
    for at in range(0, len(lacking), AT_ONCE):
        part = lacking[at : at + AT_ONCE]
        times = _times(of, what, part, rows)
        counted = count(part)
        _store(of, what, day, {n: (times[n], counted[n]) for n in part if n in counted})
        found |= counted
    return found


def missing(of: Of, what: str, day: date | None, rows: Iterable[Row]) -> list[Row]:
    """Those that are not kept. One query."""
    there = set(
        Kept.objects.filter(of=of, what=what, day=day).exclude(said=None).values_list("number", flat=True)
    )
    return [row for row in rows if row.pk not in there]


def _times(of: Of, what: str, numbers: list[int], rows: Mapping[int, Kept]) -> dict[int, int]:
    """How often each has changed until now, before it is counted: a row that is not there cannot tell."""
    new = [n for n in numbers if n not in rows]
    if new:
        _if_it_can(
            lambda: Kept.objects.bulk_create(
                (Kept(of=of, what=what, number=n) for n in new), ignore_conflicts=True
            )
        )
    return dict.fromkeys(new, 0) | {n: rows[n].times for n in numbers if n in rows}


def _store(of: Of, what: str, day: date | None, counted: Mapping[int, tuple[int, Any]]) -> None:
    """Each unless something has changed since."""
    texts = {
        number: (times, json.dumps(said, ensure_ascii=False, separators=(",", ":")))
        for number, (times, said) in counted.items()
    }

    def store() -> None:
        with transaction.atomic():
            for number, (times, text) in texts.items():
                same = Kept.objects.filter(of=of, what=what, number=number, times=times)
                same.update(said=text, day=day)

    _if_it_can(store)


def _if_it_can(store: Callable[[], Any]) -> None:
    """Somebody who only looks is answered, whether it can be kept or not."""
    try:
        store()
    except OperationalError:
        return


def empty_for_another_program() -> None:
    """What another program counted may be counted otherwise by this one."""
    mine = of_code("keelturn", "server")
    found = Kept.objects.filter(of=Of.PROGRAM, number=0).first()
    if found is None or found.said != mine:
        Kept.objects.all().delete()
        Kept.objects.create(of=Of.PROGRAM, number=0, said=mine)
