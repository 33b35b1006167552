"""The tests' own aircraft, invented: what the demo does with its fleet changes no test."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

LIGHT, HEAVY, NO_SPINS = (
    json.loads((Path(__file__).parent / f"{name}.json").read_text())
    for name in ("light", "heavy", "no_spins")
)


def changed(card: dict[str, Any], **parts: dict[str, Any]) -> dict[str, Any]:
    """The card with these fields of its parts replaced."""
    return {**card, **{part: {**card[part], **fields} for part, fields in parts.items()}}


def left_blank(card: dict[str, Any], *paths: str) -> dict[str, Any]:
    """The card without these numbers ("spin.turn_s")."""
    card = deepcopy(card)
    for path in paths:
        part, name = path.split(".")
        card[part][name] = None
    return card
