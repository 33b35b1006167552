"""What a number can be at all, by its unit, for a light aircraft that flies figures: beyond that it is a
slip of the pen. Common practice, no published source.

Asked of what comes in, never of what is kept: what was taken once can be read for ever."""

from collections.abc import Iterator, Mapping
from types import MappingProxyType

from keelturn.document import HIGHEST_FT, SPEED, Document, Stated, Trouble, members

REACH: Mapping[str, tuple[float, float]] = MappingProxyType(
    {
        SPEED: (15.0, 700.0),
        "lb": (0.0, 60_000.0),
        "in": (-1_000.0, 1_000.0),
        "US gal": (0.0, 5_000.0),
        "US gal/h": (0.1, 5_000.0),
        "fpm": (1.0, 60_000.0),
        "ft": (0.0, HIGHEST_FT),
        "g": (-15.0, 15.0),
        "s": (0.05, 600.0),
        "°/s": (5.0, 800.0),
        "×": (0.2, 5.0),
    }
)


def beyond_reach(part: Document, under: str = "") -> Iterator[Trouble]:
    """Every number of a document that cannot be, where it has a unit. under: what its places begin with."""
    for name, field in type(part).model_fields.items():
        extra = field.json_schema_extra
        reach = REACH.get(str(extra.get("unit"))) if isinstance(extra, dict) else None
        for place, member in members(f"{under}{name}", getattr(part, name)):
            number = member.value if isinstance(member, Stated) else member
            if isinstance(number, Document):
                yield from beyond_reach(number, f"{place}.")
            elif reach is not None and isinstance(number, float) and not reach[0] <= number <= reach[1]:
                words = f"{number:g} is outside {reach[0]:g} to {reach[1]:g}"
                yield place, words, "Copy it again, in the unit that is asked for."
