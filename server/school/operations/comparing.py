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
    """Flat places to plain values. Items of a list that have an id are named by it, so that an insertion is
    one difference."""
    if isinstance(value, dict):
        found: dict[str, Any] = {}
        for key, part in value.items():
            found |= _leaves(part, f"{place}.{key}" if place else str(key))
        return found
    if isinstance(value, list) and value and all(isinstance(item, dict) and "id" in item for item in value):
        found = {f"{place}.order": ", ".join(str(item["id"]) for item in value)}
        for item in value:
            found |= _leaves({k: v for k, v in item.items() if k != "id"}, f"{place}[{item['id']}]")
        return found
    return {place: value}


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
    return f"{value:,g}" if isinstance(value, float) else str(value)
