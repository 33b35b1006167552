"""Answers as they are sent to a screen: every number without its working, which is sent when somebody asks
why."""

from typing import Generic, TypeVar

from pydantic import TypeAdapter
from pydantic_core import SchemaSerializer

from keelturn.formats.at_once import Described, with_fields
from keelturn.working import OF_THE_WORKING, Answer

T = TypeVar("T")


class Thin(Generic[T]):
    """Writes values of a type without the working of their numbers."""

    def __init__(self, kind: type[T]) -> None:
        described = with_fields(TypeAdapter(kind).core_schema, Answer, _without_working)
        self._written = SchemaSerializer(described, _use_prebuilt=False)

    def dump_json(self, value: T) -> bytes:
        return self._written.to_json(value)


def _without_working(fields: list[Described]) -> list[Described]:
    return [field for field in fields if field["name"] not in OF_THE_WORKING]
