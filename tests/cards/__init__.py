"""The tests' own aircraft, invented: what the demo does with its fleet changes no test."""

import json
from pathlib import Path
from typing import Any

LIGHT, HEAVY, NO_SPINS = (
    json.loads((Path(__file__).parent / f"{name}.json").read_text())
    for name in ("light", "heavy", "no_spins")
)


def changed(card: dict[str, Any], **parts: dict[str, Any]) -> dict[str, Any]:
    """The card with these fields of its parts replaced."""
    return {**card, **{part: {**card[part], **fields} for part, fields in parts.items()}}
