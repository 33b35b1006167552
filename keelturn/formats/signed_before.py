"""Signed documents of earlier versions in the words of today's.

Nothing is computed anew. What an earlier version did not keep as a field is taken from what it did keep: a
number out of its text, the least g out of the path that was signed. What it kept nowhere is left out here and
said to be not kept by `kept.py`.

Version 1 has three shapes: its words changed twice before the number did."""

from dataclasses import asdict
from typing import Any

from keelturn.assess.loss import Cause
from keelturn.figures.planned import FlownBy
from keelturn.margins.checks import Kind
from keelturn.plan.briefing import BEFORE_FLIGHT, pages
from keelturn.plan.figure_answer import spends
from keelturn.progress.lessons import name_of
from keelturn.recoveries.schools import FLIGHT_MANUAL, PRACTICE, SCHOOLS
from keelturn.working import Source, worked

# Before plan and attempt had the same words for it.
FLOWN_BY = {"instructor": FlownBy.SHOWN, "student": FlownBy.ALONE}
KEYS = {school.name: school.key for school in SCHOOLS}
# How the steps of a loss account began in version 1.
CAUSES = (
    ("Technique, not split", Cause.NOT_SPLIT),
    ("Recovery technique", Cause.RECOVERY),
    ("Before the recovery was called", Cause.LATE),
    ("Pull ", Cause.PULL),
)


def from_version_1(document: dict[str, Any]) -> dict[str, Any]:
    """As version 2 wrote it."""
    answer, accounts = _numbered(document["answer"]), _numbered(document["accounts"])
    return {
        **document,
        "answer": {
            **answer,
            "floor_from": answer["floor"]["label"].removeprefix("Floor: "),
            "checks": [_check(check) for check in answer["checks"]],
            "figures": [_figure(figure) for figure in answer["figures"]],
            "load_points": [_load_point(point) for point in answer.get("load_points", [])],
        },
        "accounts": {key: _account(account) for key, account in accounts.items()},
    }


def from_version_2(document: dict[str, Any]) -> dict[str, Any]:
    """As version 3 writes it. What is said before every flight, and what a lesson is called, it did not keep:
    those of today."""
    answer, lesson = document["answer"], document["plan"]["lesson"]
    leave, packed = answer["leave"], [c for c in answer["checks"] if c["kind"] == Kind.PARACHUTE]
    return {
        **document,
        "lesson": lesson,
        "lesson_name": name_of(lesson),
        "attempts": [in_todays_words(attempt) for attempt in document["attempts"]],
        "parachute_days": packed[0]["deciding"]["value"] if packed and packed[0]["deciding"] else None,
        "brief_items": [asdict(item) for item in BEFORE_FLIGHT],
        "brief_pages": [asdict(page) for page in pages(leave["shown"] if leave else None, ())],
    }


def in_todays_words(attempt: dict[str, Any]) -> dict[str, Any]:
    """An attempt as it was noted then."""
    return {**attempt, "flown_by": FLOWN_BY.get(attempt["flown_by"], attempt["flown_by"])}


def _numbered(part: Any) -> Any:
    """Every number written in words, with the number as a field of its own."""
    if isinstance(part, list):
        return [_numbered(item) for item in part]
    if not isinstance(part, dict):
        return part
    made = {key: _numbered(value) for key, value in part.items()}
    if {"shown", "unit", "formula"} <= made.keys():
        made["number"] = made["shown"].removesuffix(made["unit"]).strip()
    return made


def _check(check: dict[str, Any]) -> dict[str, Any]:
    if "kind" in check:
        return check
    kind = next(k for k in sorted(Kind, key=len, reverse=True) if f"{check['key']}_".startswith(f"{k}_"))
    about = check["key"].removeprefix(kind).removeprefix("_")
    return {**check, "kind": kind, "limit": None, "subject": "" if check["figure"] else about}


def _figure(figure: dict[str, Any]) -> dict[str, Any]:
    kind, _, words = figure["school_source"].partition(": ")
    start = figure["start"]["value"]
    highest = figure.get("highest_point", figure["start"])["value"]
    least = worked(
        "Least g", min(g for _, g in figure["track"]), "g", "the least along the path that was signed"
    )
    taken = {
        "school_key": KEYS.get(figure["school"], ""),
        "school_from": asdict(Source(kind, words) if kind else PRACTICE),
        "of_the_manual": KEYS.get(figure["school"]) == FLIGHT_MANUAL,
        "least_g": asdict(least),
        "spends": spends(figure["likely"]["value"], highest - start),
    }
    return {**taken, **figure}


def _load_point(point: dict[str, Any]) -> dict[str, Any]:
    parts = point["loading"]["weight"]["inputs"]
    taken = {
        "seats": [part for part in parts if part["formula"] == "person + parachute"],
        "baggage": next(part for part in parts if part["label"] == "Baggage"),
    }
    return {**point, "loading": {**taken, **point["loading"]}}


def _account(account: dict[str, Any]) -> dict[str, Any]:
    return {**account, "lines": [{"cause": _cause(line["part"]), **line} for line in account["lines"]]}


def _cause(part: str) -> Cause:
    return next((cause for begins, cause in CAUSES if part.startswith(begins)), Cause.TURNS)
