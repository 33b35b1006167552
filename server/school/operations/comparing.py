"""What differs between what someone stored and what someone else is about to store."""

from dataclasses import dataclass
from typing import Any

ABSENT = "—"


@dataclass(frozen=True)
class Difference:
    where: str
    stored: str
    yours: str


def _leaves(value: Any, place: str = "") -> dict[str, Any]:
    """Flat places to plain values. Items of a list that have an id or a name are named by it, so that an
    insertion is one difference."""
    if isinstance(value, dict):
        found: dict[str, Any] = {}
        for key, part in value.items():
            found |= _leaves(part, f"{place}.{key}" if place else str(key))
        return found
    if isinstance(value, list) and (key := _told_apart_by(value)) is not None:
        found = {f"{place}.order": ", ".join(str(item[key]) for item in value)}
        for item in value:
            found |= _leaves({k: v for k, v in item.items() if k != key}, f"{place}[{item[key]}]")
        return found
    return {place: value}


def _told_apart_by(items: list[Any]) -> str | None:
    for key in ("id", "name"):
        if items and all(isinstance(item, dict) and key in item for item in items):
            return key
    return None


def differences(stored: dict[str, Any], yours: dict[str, Any]) -> list[Difference]:
    theirs, mine = _leaves(stored), _leaves(yours)
    places = list(theirs) + [place for place in mine if place not in theirs]
    return [
        Difference(place, _words(theirs.get(place, ABSENT)), _words(mine.get(place, ABSENT)))
        for place in places
        if theirs.get(place, ABSENT) != mine.get(place, ABSENT)
    ]


def _words(value: Any) -> str:
    if value is None or value in ("", [], {}):
        return ABSENT
    if isinstance(value, list):
        return ", ".join(str(item) for item in value)
    if isinstance(value, int | float) and not isinstance(value, bool):
        return f"{value:,g}" if abs(value) < 1e6 else f"{value:,.0f}"
    return str(value)
