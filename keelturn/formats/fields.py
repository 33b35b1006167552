"""What of a document can be entered, field by field, as its model says: what an editor is made from, and what
a place in a document is called on the screen."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal, Union, get_args, get_origin

from annotated_types import Ge, Le, MaxLen, MinLen
from pydantic import BaseModel
from pydantic.fields import FieldInfo

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load
from keelturn.document import Document, Standard, Stated
from keelturn.figures.catalogue import FIGURES
from keelturn.noting.attempt import Attempt
from keelturn.plan.briefing import Brief
from keelturn.plan.document import PlanDocument
from keelturn.progress.course import Course
from keelturn.progress.stages import Debrief
from keelturn.school.place import Place
from keelturn.school.standards import Standards

Enter = Literal[
    "stated", "number", "text", "lines", "choice", "choices", "switch", "section", "list", "by figure"
]


Usual = str | bool | float | tuple[str, ...] | None


@dataclass(frozen=True, slots=True)
class FieldSpec:
    """path: by names and dots from the document. under: the heading it stands under. unit: "speed" is the
    aircraft's own. least, most: what a number may be. stated: a number with its source, of which choices has
    the usual one first. choices: any of them. usual: what the document has where nothing is entered. section:
    whether the optional part of the document at this path is there at all; what stands in it has its path as
    `within`. list: of how many rows, and the fields of one. estimated: where it is left blank."""

    path: str
    enter: Enter
    label: str
    unit: str
    under: str
    within: str
    optional: bool
    estimated: bool = False
    choices: tuple[str, ...] = ()
    usual: Usual = None
    least: float | None = None
    most: float | None = None
    most_letters: int | None = None
    least_rows: int = 0
    most_rows: int | None = None
    of: tuple["FieldSpec", ...] = ()


DOCUMENTS: Mapping[str, type[Document]] = {
    "card": Card,
    "place": Place,
    "standards": Standards,
    "plan": PlanDocument,
    "attempt": Attempt,
    "debrief": Debrief,
}


def fields_of(
    model: type[BaseModel], path: str = "", under: str = "", within: str = ""
) -> Iterator[FieldSpec]:
    """In the order in which the model has them, parts of parts included."""
    for name, info in model.model_fields.items():
        if not (info.json_schema_extra or {}).get("hidden"):  # type: ignore[union-attr]
            yield from _fields(f"{path}{name}", info, under, within)


def _fields(path: str, info: FieldInfo, under: str, within: str) -> Iterator[FieldSpec]:
    kind, optional = _without_none(info.annotation)
    extra: Any = info.json_schema_extra or {}
    label, unit, estimated = info.title or path, str(extra.get("unit", "")), bool(extra.get("estimated"))
    made, of = get_origin(kind), get_args(kind)

    def spec(enter: Enter, at: str = path, words: str = label, **more: Any) -> FieldSpec:
        return FieldSpec(at, enter, words, unit, under, within, optional, estimated, **more)

    def plain(enter: Enter, **more: Any) -> FieldSpec:
        return spec(enter, usual=None if info.is_required() else info.default, **more)

    if made is dict and get_origin(of[0]) is Literal:
        for key in get_args(of[0]):
            words = label.format(key=key)
            if issubclass(of[1], Stated | Standard):
                bounds = _bounds(of[1].model_fields["value"])
                yield spec("stated", f"{path}.{key}", words, choices=_sources(of[1]), **bounds)
            else:
                yield from fields_of(of[1], f"{path}.{key}.", words, within)
    elif made is dict:
        yield spec("by figure", choices=_sources(Stated))
    elif made is tuple and get_origin(of[0]) is Literal:
        yield plain("choices", choices=tuple(map(str, get_args(of[0]))))
    elif made is tuple and issubclass(of[0], Document):
        least = next((m.min_length for m in info.metadata if isinstance(m, MinLen)), 0)
        yield spec("list", least_rows=least, most_rows=_most(info), of=tuple(fields_of(of[0])))
    elif made is tuple:
        yield plain("lines")
    elif made is Literal:
        yield plain("choice", choices=tuple(map(str, of)))
    elif issubclass(kind, Stated | Standard):
        yield spec("stated", choices=_sources(kind), **_bounds(kind.model_fields["value"]))
    elif issubclass(kind, Document):
        if optional:
            yield spec("section")
        yield from fields_of(kind, f"{path}.", label, path if optional else within)
    else:
        enter: Enter = "switch" if kind is bool else "text" if kind is str else "number"
        yield plain(enter, most_letters=_most(info) if enter == "text" else None, **_bounds(info))


def _without_none(annotation: Any) -> tuple[Any, bool]:
    """The type, and whether it may be left out."""
    if get_origin(annotation) in (Union, type(int | None)):
        kinds = [kind for kind in get_args(annotation) if kind is not type(None)]
        return kinds[0], True
    return annotation, False


def _most(info: FieldInfo) -> int | None:
    return next((m.max_length for m in info.metadata if isinstance(m, MaxLen)), None)


def _bounds(info: FieldInfo) -> dict[str, Any]:
    """The least and the most that a number may be; one that must be more or less than its limit has none
    here."""
    found: dict[str, Any] = {}
    for limit in info.metadata:
        if isinstance(limit, Ge):
            found["least"] = float(limit.ge)  # type: ignore[arg-type]
        if isinstance(limit, Le):
            found["most"] = float(limit.le)  # type: ignore[arg-type]
    return found


def _sources(kind: type[BaseModel]) -> tuple[str, ...]:
    """What a number's source may be, the usual one first."""
    source = kind.model_fields["source"]
    others = [words for words in get_args(source.annotation) if words != source.default]
    return (source.default, *others)


# What stands at the beginning of a place besides the documents themselves.
PARTS: Mapping[str, type[Document]] = {
    **DOCUMENTS,
    "load": Load,
    "brief": Brief,
    "attempts": Attempt,
    "course": Course,
}
OWN_HEADING = ("load", "attempts")
STEP = re.compile(r"[^.\[\]]+|\[[^\]]*\]")
SETTINGS = {name: p.label for figure in FIGURES for name, p in figure.parameters.items()}


def place_in_words(where: str, names: Mapping[str, str] | None = None) -> str:
    """What a place is called on the screen: 'plan.figures[3].start_ft' is 'Figure 4, Start'. names: of list
    entries that have an id, by it."""
    steps = STEP.findall(where)
    if not steps:
        return where
    kind: Any = PARTS.get(steps[0])
    if kind is None:
        return _plainly(where)
    found = [_plainly(steps[0].rstrip("s"))] if steps[0] in OWN_HEADING or len(steps) == 1 else []
    for step in steps[1:]:
        if step.startswith("["):
            name = step[1:-1]
            words = str(int(name) + 1) if name.isdigit() else (names or {}).get(name, name)
            found[-1:] = [f"{found[-1]} {words}:" if found else f"{words}:"]
        elif step == "order" and found:
            found[-1] = f"Order of {found[-1].lower()}s"
        else:
            words, kind = _step(kind, step)
            found += [words] if words else []
    return re.sub(r":,", ":", ", ".join(found)).removesuffix(":")


def _step(kind: Any, name: str) -> tuple[str, Any]:
    """What a member is called and what it is made of; nothing for what has no word of its own."""
    if isinstance(kind, tuple):
        label, kind = kind
        return label.format(key=name), kind
    fields: Mapping[str, FieldInfo] = getattr(kind, "model_fields", {})
    if name not in fields:
        return SETTINGS.get(name, name.replace("_", " ")), None
    if issubclass(kind, Stated | Standard):
        return {"value": "", "ref": "where it says so"}.get(name, name), None
    inner, _ = _without_none(fields[name].annotation)
    kinds = [part for part in (inner, *get_args(inner)) if isinstance(part, type)]
    made_of = next((part for part in kinds if issubclass(part, Document)), None)
    label = fields[name].title or name.replace("_", " ")
    if "{key}" in label:
        return "", (label, made_of)
    return "" if name == "parameters" else label, made_of


def _plainly(where: str) -> str:
    words = where.replace("_", " ").replace(".", ", ")
    return words[:1].upper() + words[1:]
