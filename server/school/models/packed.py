"""A column of long texts that are kept for ever."""

from typing import Any

from django.db import models

from server.packing import pack, unpack


class PackedText(models.TextField):  # type: ignore[type-arg]
    """Text to whoever reads it, word for word; bytes in the database. Bytes given are packed already."""

    def get_prep_value(self, value: Any) -> Any:
        return pack(value) if isinstance(value, str) else value

    def from_db_value(self, value: Any, *_: Any) -> str | None:
        return None if value is None else unpack(value)
