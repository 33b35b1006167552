"""A kept document in today's shape, whatever it lacks or has too much: what was signed is opened for ever.

Nothing is checked: it was, when it was taken. What today's shape asks for and the document does not have is
said to be not kept; what it has and nobody knows any more is left out."""

from collections.abc import Callable, Mapping
from copy import copy
from dataclasses import MISSING, Field, fields, is_dataclass
from enum import Enum
from functools import cache, lru_cache, partial
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


Fill = Callable[[Any], Any]


def filled(kind: Any, kept: Any) -> Any:
    """`kept` as this type: a dataclass, a document, or what they are made of."""
    return _filler(kind)(kept)


@cache
def _filler(kind: Any) -> Fill:
    """What fills this type: looked at once, for a record has hundreds of thousands of values."""
    made, of = get_origin(kind), get_args(kind)
    if made is Annotated:
        return _filler(of[0])
    if made in (Union, UnionType):
        return _one_of(of)
    if made is tuple:
        return _several(of) if of[-1] is Ellipsis else _each(of)
    if made is list:
        item = _later(of[0])
        return lambda kept: [item(one) for one in kept] if isinstance(kept, list) else []
    if made in (dict, Mapping):
        key, value = _filler(of[0]), _later(of[1])
        return lambda kept: {key(k): value(v) for k, v in kept.items()} if isinstance(kept, dict) else {}
    if made is Literal:
        return lambda kept: of[0] if kept is None else kept
    if isinstance(kind, type) and issubclass(kind, Enum):
        return lambda kept: next(iter(kind)) if kept is None else kind(kept)
    if _parts(kind):
        return _of_parts(kind)
    if kind is Any or kind in EMPTY:
        empty = EMPTY.get(kind)
        return lambda kept: empty if kept is None else kept
    checked = TypeAdapter(kind).validate_python
    return lambda kept: None if kept is None else checked(kept)


def _later(kind: Any) -> Fill:
    """The same, looked up when it is first used: a kind may have itself among its parts."""
    found: list[Fill] = []

    def fill(kept: Any) -> Any:
        if not found:
            found.append(_filler(kind))
        return found[0](kept)

    return fill


def _of_parts(kind: Any) -> Fill:
    """A dataclass or a document, by its fields."""
    parts = [(name, _later(part), usual) for name, (part, usual) in _parts(kind).items()]
    make = kind.model_construct if issubclass(kind, BaseModel) else kind

    def fill(kept: Any) -> Any:
        there = kept if isinstance(kept, dict) else {}
        values = {
            name: part(there[name]) if name in there else usual() if usual else part(None)
            for name, part, usual in parts
        }
        return make(**values)

    if kind is Answer:
        return lambda kept: fill(kept) if isinstance(kept, dict) else NOT_KEPT
    return fill


def _several(of: tuple[Any, ...]) -> Fill:
    item = _later(of[0])
    return lambda kept: tuple([item(one) for one in kept]) if isinstance(kept, list | tuple) else ()


def _each(of: tuple[Any, ...]) -> Fill:
    items = [_later(kind) for kind in of]

    def fill(kept: Any) -> Any:
        there = kept if isinstance(kept, list | tuple) else ()
        return tuple(item(one) for item, one in zip(items, there, strict=False))

    return fill


def _one_of(of: tuple[Any, ...]) -> Fill:
    """Which of several kinds it is, its own type tells."""
    chosen: dict[type, Fill] = {NoneType: lambda kept: None} if NoneType in of else {}

    def fill(kept: Any) -> Any:
        kind = type(kept)
        if kind not in chosen:
            chosen[kind] = _filler(_that_it_is(of, kept))
        return chosen[kind](kept)

    return fill


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
