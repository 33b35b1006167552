"""The attempts that entries add up to, whatever their order, however often each came, over however many
devices.

The rule, in full:
1. Entries with the same identity are one entry.
2. At one place (attempt, what, about) those stand that no other entry there replaces. Usually that is one:
   the last correction. There are more where people or devices noted without seeing each other.
3. Of these a hand entry counts before the recorder's, the recorder's before one that a hand accepted as it
   was offered, and of the same kind the one noted last by the server's clock; at the same moment the one
   whose identity is greater. What differs from it is kept beside it (`otherwise`), but for what was only
   offered.
4. An entry without a value takes back what stood there; where a hand took back, the recorder's counts again.
5. An attempt is there when its figure is said and one thing more; attempts stand in the order in which
   something was first noted of them.

The page does the same while there is no server (web/src/notes/addUp.ts); tests/said/core/adding_up.json
holds both to the same cases.
"""

from collections.abc import Iterable, Mapping
from typing import Any

from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import fault_of
from keelturn.figures.planned import PlannedFigure
from keelturn.noting.attempt import Attempt, Otherwise, StopKind, StopNoted
from keelturn.noting.entry import Entry, What

Place = tuple[What, str]


def attempts_of(entries: Iterable[Entry]) -> tuple[Attempt, ...]:
    """In the order flown."""
    by_attempt: dict[str, dict[str, Entry]] = {}
    for entry in entries:
        there = by_attempt.setdefault(entry.attempt, {})
        there[entry.id] = min(there.get(entry.id, entry), entry, key=Entry.model_dump_json)
    found = [
        (min((e.noted_at, e.id) for e in noted.values()), made)
        for key, noted in by_attempt.items()
        if (made := _attempt(key, noted.values())) is not None
    ]
    return tuple(attempt for _, attempt in sorted(found, key=lambda pair: pair[0]))


def _attempt(key: str, entries: Iterable[Entry]) -> Attempt | None:
    places: dict[Place, list[Entry]] = {}
    for entry in entries:
        places.setdefault((entry.what, entry.about), []).append(entry)
    counts: dict[Place, Entry] = {}
    otherwise: list[Otherwise] = []
    for place, there in sorted(places.items()):
        counted, others = that_counts(there)
        if counted is not None:
            counts[place] = counted
        otherwise += [_beside(other) for other in others]
    figure = counts.pop((What.FIGURE, ""), None)
    if figure is None or not isinstance(figure.value, PlannedFigure) or not counts:
        return None
    return Attempt.model_validate(
        {
            "id": key,
            "planned": figure.value,
            **_defaults(figure.value),
            **{what: entry.value for (what, about), entry in counts.items() if not about},
            "faults": _faults(figure.value, counts),
            "stops": tuple(
                StopNoted(kind=StopKind(about), value=_number(entry))
                for (what, about), entry in counts.items()
                if what == What.STOP
            ),
            "otherwise": tuple(other for other in otherwise if other.what != What.FIGURE),
            "offered": tuple(what for (what, _), entry in counts.items() if entry.source == "offered"),
        }
    )


def that_counts(there: list[Entry]) -> tuple[Entry | None, list[Entry]]:
    """Of the entries at one place: the one that counts, none where all was taken back, and those beside it
    that say something else."""
    replaced = {name for entry in there for name in entry.replaces if name != entry.id}
    # Entries that replace each other in a ring replace nothing.
    heads = [entry for entry in there if entry.id not in replaced] or there
    hands = sorted((e for e in heads if e.source != "recorder"), key=_when)
    boxes = sorted((e for e in heads if e.source == "recorder"), key=_when)
    by_hand = bool(hands) and hands[-1].value is not None
    if by_hand and hands[-1].source == "offered":
        by_hand = not any(box.value is not None for box in boxes[-1:])
    last = hands[-1:] if by_hand else boxes[-1:]
    counted = last[0] if last and last[0].value is not None else None
    others = {
        str(entry.value): entry
        for entry in (*boxes, *hands)
        if counted is not None
        and entry.source != "offered"
        and entry.value is not None
        and entry.value != counted.value
    }
    return counted, [others[value] for value in sorted(others)]


def _when(entry: Entry) -> tuple[Any, str]:
    return entry.noted_at, entry.id


def _defaults(planned: PlannedFigure) -> Mapping[str, Any]:
    """What stands until something else is noted: who flies is as planned."""
    return {"flown_by": planned.flown_by}


def _faults(planned: PlannedFigure, counts: Mapping[Place, Entry]) -> tuple[str, ...]:
    """Those that stand, in the order of the figure's own; one that it does not have was noted of another."""
    figure = figure_of(planned.key)
    made = {about for (what, about), entry in counts.items() if what == What.FAULT and entry.value}
    return tuple(fault.key for fault in figure.faults if fault.key in made and fault_of(figure, fault.key))


def _number(entry: Entry) -> float:
    return float(entry.value) if isinstance(entry.value, float | int) else 0.0


def _beside(entry: Entry) -> Otherwise:
    value = entry.value
    return Otherwise(
        what=entry.what,
        about=entry.about,
        value=value.title if isinstance(value, PlannedFigure) else (value if value is not None else ""),
        by=entry.by,
        recorder=entry.source == "recorder",
    )
