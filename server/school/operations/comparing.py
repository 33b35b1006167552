"""What differs between what someone stored and what someone else is about to store."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from keelturn.figures.catalogue import figure_of
from keelturn.formats.fields import place_in_words
from keelturn.formats.reading import refused

ABSENT = "—"


@dataclass(frozen=True)
class Difference:
    """where: the place in the documents; place: what it is called on the screen."""

    where: str
    place: str
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


def differences(
    stored: dict[str, Any], yours: dict[str, Any], names: Mapping[str, str] | None = None
) -> list[Difference]:
    """By the name of the document. names: of list entries, by their id."""
    theirs, mine, names = _leaves(stored), _leaves(yours), names or {}
    places = list(theirs) + [place for place in mine if place not in theirs]
    return [
        Difference(
            place,
            place_in_words(place, names),
            _words(theirs.get(place, ABSENT), names),
            _words(mine.get(place, ABSENT), names),
        )
        for place in places
        if theirs.get(place, ABSENT) != mine.get(place, ABSENT)
    ]


def names_in(*sheets: Mapping[str, Any]) -> dict[str, str]:
    """What the figures of these sheets are called, by their ids: '4 Two-turn spin, left'."""
    found: dict[str, str] = {}
    for sheet in sheets:
        for i, planned in enumerate(sheet.get("plan", {}).get("figures", ()), start=1):
            found[planned["id"]] = f"{i} {_title(planned)}"
    return found


def _title(planned: Mapping[str, Any]) -> str:
    figure = figure_of(planned["key"])
    words = figure.title(planned.get("parameters") or {})
    return f"{words}, {planned['side']}" if figure.has_sides else words


def _words(value: Any, names: Mapping[str, str]) -> str:
    if value is None or value in ("", [], {}):
        return ABSENT
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, str) and ", " in value and set(value.split(", ")) <= set(names):
        return "; ".join(names[name] for name in value.split(", "))
    if isinstance(value, list):
        return ", ".join(str(item) for item in value)
    if isinstance(value, int | float):
        return f"{value:,g}" if abs(value) < 1e6 else f"{value:,.0f}"
    return str(value)


def same_version(held: int, sent: int) -> None:
    """Raises Refused when somebody changed it meanwhile."""
    if held != sent:
        raise refused(
            "version",
            f"this was changed meanwhile (now version {held}, yours {sent})",
            "Read it again and repeat the change.",
        )
