"""The computed numbers of a signed sortie, read for ever: documents of version 1 in the words of version 2.

Nothing is computed anew. What version 1 did not keep as a field is taken from what it did keep: a number out
of its text, the least g out of the path that was signed."""

from typing import Any

from pydantic import TypeAdapter

from keelturn.assess.attempts import Cause, LossAccount
from keelturn.margins.checks import Kind
from keelturn.plan.figure_answer import spends
from keelturn.plan.sequence import PlanAnswer
from keelturn.recoveries.schools import FLIGHT_MANUAL, PRACTICE, SCHOOLS
from keelturn.working import Source, worked

VERSION = 2
PLAN_ANSWER = TypeAdapter(PlanAnswer)
ACCOUNTS = TypeAdapter(dict[str, LossAccount])
KEYS = {school.name: school.key for school in SCHOOLS}
NOT_KEPT = {
    "label": "Not kept",
    "value": 0.0,
    "unit": "",
    "number": "—",
    "shown": "—",
    "formula": "records of version 1 kept no number here",
    "inputs": [],
    "source": {"kind": "plan", "words": "the signed record"},
}
# How the steps of a loss account began in version 1.
CAUSES = (
    ("Technique, not split", Cause.NOT_SPLIT),
    ("Recovery technique", Cause.RECOVERY),
    ("Before the recovery was called", Cause.LATE),
    ("Pull ", Cause.PULL),
)


def read_signed(document: dict[str, Any]) -> tuple[PlanAnswer, dict[str, LossAccount]]:
    """The answer and the loss accounts by attempt, as they were when signed. Raises ValueError for a version
    that is not known."""
    answer, accounts = document["answer"], document["accounts"]
    if document["version"] == 1:
        answer, accounts = _plan(_numbered(answer)), _numbered(accounts)
        for account in accounts.values():
            account["lines"] = [{**line, "cause": _cause(line["part"])} for line in account["lines"]]
    elif document["version"] != VERSION:
        raise ValueError(f"a signed sortie of version {document['version']} is not known here")
    return PLAN_ANSWER.validate_python(answer), ACCOUNTS.validate_python(accounts)


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


def _plan(answer: dict[str, Any]) -> dict[str, Any]:
    return {
        **answer,
        "floor_from": answer["floor"]["label"].removeprefix("Floor: "),
        "checks": [_check(check) for check in answer["checks"]],
        "figures": [_figure(figure) for figure in answer["figures"]],
        "load_points": [_load_point(point) for point in answer["load_points"]],
    }


def _check(check: dict[str, Any]) -> dict[str, Any]:
    kind = next(k for k in sorted(Kind, key=len, reverse=True) if f"{check['key']}_".startswith(f"{k}_"))
    about = check["key"].removeprefix(kind).removeprefix("_")
    kept = {key: value for key, value in check.items() if key not in ("key", "change")}
    return {
        **kept,
        "kind": kind,
        "limit": None,
        "deciding": check["deciding"] or NOT_KEPT,
        "subject": "" if check["figure"] else about,
    }


def _figure(figure: dict[str, Any]) -> dict[str, Any]:
    kind, _, words = figure["school_source"].partition(": ")
    start, track = figure["start"]["value"], figure["track"]
    least = worked("Least g", min(g for _, g in track), "g", "the least along the path that was signed")
    return {
        **figure,
        "school_key": KEYS.get(figure["school"], ""),
        "school_from": Source(kind, words) if kind else PRACTICE,
        "of_the_manual": KEYS.get(figure["school"]) == FLIGHT_MANUAL,
        "least_g": least,
        "longest_negative": NOT_KEPT,
        "spends": spends(figure["likely"]["value"], figure["highest_point"]["value"] - start),
    }


def _load_point(point: dict[str, Any]) -> dict[str, Any]:
    parts = point["loading"]["weight"]["inputs"]
    loading = {
        **point["loading"],
        "seats": [part for part in parts if part["formula"] == "person + parachute"],
        "baggage": next(part for part in parts if part["label"] == "Baggage"),
    }
    return {**point, "loading": loading}


def _cause(part: str) -> Cause:
    return next((cause for begins, cause in CAUSES if part.startswith(begins)), Cause.TURNS)
