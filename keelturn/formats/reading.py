"""Reading a document from outside: every mistake becomes what is wrong, where, and what to do about it."""

from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from keelturn.document import Wrong

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
        return kind.model_validate(document)
    except ValidationError as error:
        raise Refused(problems_of(error)) from error


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
    """One, or each of the contradictions of a card."""
    error = detail.get("ctx", {}).get("error")
    if isinstance(error, Wrong):
        before = _place(detail["loc"]) if detail["loc"] else ""
        return [
            Problem(f"{before}.{where}" if before else where, what, do) for where, what, do in error.problems
        ]
    return [problem_of_detail(detail)]


def problem_of_detail(detail: dict[str, Any]) -> Problem:
    where, kind, context = _place(detail["loc"]), str(detail["type"]), detail.get("ctx", {})
    value = detail.get("input")
    shown = (
        repr(value) if isinstance(value, str) else f"{value:,g}" if isinstance(value, int | float) else "it"
    )
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
    if kind.startswith("string_too"):
        return Problem(
            where, str(detail["msg"]).replace("String should have", "text needs"), "Change the text."
        )
    return Problem(where, str(detail["msg"]), "Correct it and try again.")
