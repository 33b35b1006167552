"""Reading a document from outside: every mistake becomes what is wrong, where, and what to do about it."""

import math
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from keelturn.aircraft.reach import beyond_reach
from keelturn.document import Document, Wrong

Doc = TypeVar("Doc", bound=BaseModel)


@dataclass(frozen=True, slots=True)
class Problem:
    where: str
    what: str
    do: str


class Refused(Exception):
    """A document that cannot be taken. Nothing of it is kept."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__("; ".join(f"{p.where}: {p.what}. {p.do}" for p in problems))
        self.problems = problems


def refusal_of(wrong: Wrong) -> Refused:
    return Refused([Problem(where, what, do) for where, what, do in wrong.problems])


def refused(where: str, what: str, do: str) -> Refused:
    return Refused([Problem(where, what, do)])


def read_document(kind: type[Doc], document: object) -> Doc:
    """The document as its type. Raises Refused with every problem found."""
    try:
        found = kind.model_validate(document)
    except ValidationError as error:
        raise Refused(problems_of(error)) from error
    if isinstance(found, Document) and (beyond := tuple(beyond_reach(found))):
        raise refusal_of(Wrong(*beyond))
    return found


class Unreadable(Refused):
    """What is stored cannot be read: nobody's mistake now, and nothing of it is lost."""


def read_stored(kind: type[Doc], document: object, where: str) -> Doc:
    """What was taken once. where: what it is, for the words. Raises Unreadable."""
    try:
        return kind.model_validate(document)
    except ValidationError as error:
        problems = [Problem(f"{where}.{p.where}", p.what, KEPT) for p in problems_of(error)]
        raise Unreadable(problems) from error


KEPT = "It is kept as it is. Have the one who runs the program look at it: docs/running.md says how."


def problems_of(error: ValidationError) -> list[Problem]:
    return [
        problem for detail in error.errors(include_url=False) for problem in problems_of_detail(dict(detail))
    ]


def _place(location: tuple[int | str, ...]) -> str:
    words = ""
    for step in location:
        words += f"[{step}]" if isinstance(step, int) else f".{step}" if words else str(step)
    return words or "document"


def problems_of_detail(detail: dict[str, Any]) -> list[Problem]:
    """One, or each of the contradictions of a card, or what a part found wrong with what stands in it."""
    error = detail.get("ctx", {}).get("error")
    if isinstance(error, ValidationError):
        return [Problem(_place((*detail["loc"], p.where)), p.what, p.do) for p in problems_of(error)]
    if isinstance(error, Wrong):
        before = _place(detail["loc"]) if detail["loc"] else ""
        return [
            Problem(f"{before}.{where}" if before else where, what, do) for where, what, do in error.problems
        ]
    return [problem_of_detail(detail)]


def problem_of_detail(detail: dict[str, Any]) -> Problem:
    where, kind, context = _place(detail["loc"]), str(detail["type"]), detail.get("ctx", {})
    value = detail.get("input")
    shown = _shown(value)
    bounds = {
        "greater_than_equal": ("ge", "below", "or more"),
        "greater_than": ("gt", "not above", "needs more"),
        "less_than_equal": ("le", "above", "or less"),
        "less_than": ("lt", "not below", "needs less"),
    }
    if kind in bounds:
        name, side, ask = bounds[kind]
        limit = context[name]
        do = (
            f"Give {limit:,g} {ask}."
            if ask.startswith("or")
            else f"Give {'more' if 'more' in ask else 'less'} than {limit:,g}."
        )
        return Problem(where, f"{shown} is {side} {limit:,g}", do)
    if kind == "extra_forbidden":
        return Problem(where, "this field is not known", "Remove it, or check its spelling.")
    if kind == "missing" or value is None:
        return Problem(where, "is missing", "Fill it in.")
    if "float" in kind or "int" in kind or kind == "finite_number":
        return Problem(where, f"{shown} is not a number", "Write a number, without its unit.")
    if kind == "value_error":
        return Problem(where, str(context.get("error", detail["msg"])), "Correct it and try again.")
    if kind == "literal_error":
        return Problem(where, f"{shown} is not one of {context['expected']}", "Choose one of these.")
    if kind in LENGTHS:
        name, side, of = LENGTHS[kind]
        return Problem(where, f"has {side} than {context[name]:,g} {of}", "Change how much it has.")
    for part, (what, do) in SHAPES.items():
        if kind.startswith(part):
            return Problem(where, what, do)
    return Problem(where, "cannot be read as what belongs here", "See the published schema of this document.")


def _shown(value: object) -> str:
    """What was sent, as it may be said again."""
    if isinstance(value, str):
        return repr(value[:40])
    if isinstance(value, int | float) and not isinstance(value, bool):
        beyond = math.isfinite(value) and abs(value) >= 1e9
        return "so large a number" if beyond else f"{value:,.10g}"
    return "it"


# By what the validator calls them: in our words, which say nothing of the validator.
LENGTHS = {
    "string_too_short": ("min_length", "fewer", "letters"),
    "string_too_long": ("max_length", "more", "letters"),
    "too_short": ("min_length", "fewer", "entries"),
    "too_long": ("max_length", "more", "entries"),
}
SHAPES = {
    "model": ("is not an object with named fields", "Write { } with its fields."),
    "dict": ("is not an object with named fields", "Write { } with its fields."),
    "dataclass": ("is not an object with named fields", "Write { } with its fields."),
    "tuple": ("is not a list", "Write [ ] with its entries."),
    "list": ("is not a list", "Write [ ] with its entries."),
    "string_pattern": ("is not written as it should be", "Write at least two letters or digits."),
    "string": ("is not text", "Write it between quotation marks."),
    "bool": ("is not true or false", "Write true or false."),
    "enum": ("is not one of the words for this", "See the published schema of this document."),
    "datetime": ("is not a date and time", "Write it as 2026-11-25T09:30:00Z."),
    "date": ("is not a date", "Write it as 2026-11-25."),
    "time": ("is not a time", "Write it as 09:30."),
}
