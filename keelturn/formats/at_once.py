"""A kept document of exactly today's shape, read at once from its text: a third of the time that filling it
in takes (keelturn/formats/kept.py)."""

from collections.abc import Callable
from typing import Any

from pydantic import TypeAdapter
from pydantic_core import SchemaValidator

from keelturn.formats.kept import filled
from keelturn.working import OF_THE_WORKING, Answer

# No document has a field of this name.
NOWHERE = "\0"


Described = dict[str, Any]


def with_fields(schema: Any, kind: type, change: Callable[[list[Described]], list[Described]]) -> Any:
    """The description of a type (pydantic's core schema) with other fields wherever this dataclass is in
    it."""
    if isinstance(schema, list | tuple):
        return type(schema)(with_fields(part, kind, change) for part in schema)
    if not isinstance(schema, dict):
        return schema
    if schema.get("type") == "dataclass" and schema.get("cls") is kind:
        fields = change(schema["schema"]["fields"])
        names = [name for name in schema["fields"] if any(name == field["name"] for field in fields)]
        return {**schema, "fields": names, "schema": {**schema["schema"], "fields": fields}}
    return {name: with_fields(part, kind, change) for name, part in schema.items()}


def reader_of(kind: type, working: bool) -> SchemaValidator:
    """Reads documents of this dataclass. It refuses one that lacks a field at the top, or has anywhere what
    would not be taken today. working: of its numbers; without it they are given none, whatever is written."""
    described = with_fields(TypeAdapter(kind).core_schema, kind, _all_asked_for)
    if not working:
        described = with_fields(described, Answer, _passing_over)
    return SchemaValidator(described, _use_prebuilt=False)


def _all_asked_for(fields: list[Described]) -> list[Described]:
    return [{**field, "schema": _unwrapped(field["schema"])} for field in fields]


def _unwrapped(schema: Described) -> Described:
    """Without what it usually is."""
    usual: Described = schema["schema"] if schema["type"] == "default" else schema
    return usual


def _passing_over(fields: list[Described]) -> list[Described]:
    """The working of an Answer is looked for where nothing is."""
    none = filled(Answer, {})
    return [
        field
        if field["name"] not in OF_THE_WORKING
        else {
            **field,
            "validation_alias": NOWHERE,
            "schema": {
                "type": "default",
                "schema": _unwrapped(field["schema"]),
                "default": getattr(none, field["name"]),
            },
        }
        for field in fields
    ]
