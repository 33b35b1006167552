"""Answers as they are sent to a screen: every number without its working, which is sent when somebody asks
why. It is nine tenths of the bytes."""

from typing import Any, Generic, TypeVar

from pydantic import TypeAdapter
from pydantic_core import SchemaSerializer

from keelturn.working import Answer

T = TypeVar("T")
WORKING = ("formula", "inputs", "source", "levers", "hill", "pilot")


class Thin(Generic[T]):
    """Writes values of a type without the working of their numbers."""

    def __init__(self, kind: type[T]) -> None:
        self._written = SchemaSerializer(_without_working(TypeAdapter(kind).core_schema), _use_prebuilt=False)

    def dump_json(self, value: T) -> bytes:
        return self._written.to_json(value)


def _without_working(schema: Any) -> Any:
    """The same description of a type, but for the fields of an Answer that are left out."""
    if isinstance(schema, list | tuple):
        return type(schema)(_without_working(part) for part in schema)
    if not isinstance(schema, dict):
        return schema
    if schema.get("type") == "dataclass" and schema.get("cls") is Answer:
        kept = [field for field in schema["schema"]["fields"] if field["name"] not in WORKING]
        names = [name for name in schema["fields"] if name not in WORKING]
        return {**schema, "fields": names, "schema": {**schema["schema"], "fields": kept}}
    return {name: _without_working(part) for name, part in schema.items()}
