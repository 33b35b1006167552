"""A kept document in today's shape, whatever it lacks or has too much: what was signed is opened for ever.

Nothing is checked: it was, when it was taken. What today's shape asks for and the document does not have is
said to be not kept; what it has and nobody knows any more is left out."""

from collections.abc import Callable, Mapping, Sequence
from copy import copy
from dataclasses import MISSING, Field, fields, is_dataclass
from enum import Enum
from functools import lru_cache, partial
from itertools import repeat
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from pydantic import BaseModel, TypeAdapter

from keelturn.working import Answer, Source

NOT_KEPT = Answer(
    "Not kept",
    0.0,
    "",
    "—",
    "—",
    "older records kept no number here",
    (),
    Source("plan", "the signed record"),
)


def filled(kind: Any, kept: Any) -> Any:
    """`kept` as this type: a dataclass, a document, or what they are made of."""
    made, of = get_origin(kind), get_args(kind)
    if made is Annotated:
        return filled(of[0], kept)
    if made in (Union, UnionType):
        return None if kept is None and NoneType in of else filled(_that_it_is(of, kept), kept)
    if made is tuple:
        return _tuple(of, kept) if isinstance(kept, list | tuple) else ()
    if made is list:
        return [filled(of[0], item) for item in kept] if isinstance(kept, list) else []
    if made in (dict, Mapping):
        whole = kept if isinstance(kept, dict) else {}
        return {filled(of[0], key): filled(of[1], item) for key, item in whole.items()}
    if made is Literal:
        return of[0] if kept is None else kept
    if isinstance(kind, type) and issubclass(kind, Enum):
        return next(iter(kind)) if kept is None else kind(kept)
    if kind is Answer and not isinstance(kept, dict):
        return NOT_KEPT
    if parts := _parts(kind):
        there = kept if isinstance(kept, dict) else {}
        values = {
            name: filled(part, there[name]) if name in there else usual() if usual else filled(part, None)
            for name, (part, usual) in parts.items()
        }
        return kind.model_construct(**values) if issubclass(kind, BaseModel) else kind(**values)
    if kept is None:
        return EMPTY.get(kind)
    return kept if kind is Any or kind in EMPTY else TypeAdapter(kind).validate_python(kept)


def _tuple(of: tuple[Any, ...], kept: Sequence[Any]) -> tuple[Any, ...]:
    kinds = repeat(of[0]) if of[-1] is Ellipsis else of
    return tuple(filled(kind, item) for kind, item in zip(kinds, kept, strict=False))


EMPTY: Mapping[Any, Any] = {str: "", float: 0.0, int: 0, bool: False, Any: None}


def _that_it_is(kinds: tuple[Any, ...], kept: Any) -> Any:
    """Of several kinds the one that was kept; the first where that does not tell."""
    some = [kind for kind in kinds if kind is not NoneType]
    plain = (kind for kind in some if kind in EMPTY and type(kept) is kind)
    return next(plain, float if type(kept) is int and float in some else some[0])


@lru_cache(maxsize=256)
def _parts(kind: Any) -> dict[str, tuple[Any, Callable[[], Any] | None]]:
    """Of a dataclass or a document: each field's type, and what makes its usual value where it has one."""
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        return {
            name: (
                info.annotation,
                None if info.is_required() else partial(info.get_default, call_default_factory=True),
            )
            for name, info in kind.model_fields.items()
        }
    if not is_dataclass(kind):
        return {}
    hints = get_type_hints(kind)
    return {field.name: (hints[field.name], _usual(field)) for field in fields(kind) if field.init}


def _usual(field: Field[Any]) -> Callable[[], Any] | None:
    if field.default is not MISSING:
        return partial(copy, field.default)
    return None if field.default_factory is MISSING else field.default_factory
