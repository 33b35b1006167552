"""Numbers of a debrief as they are read."""

# Figures more than usual, at most.
FINEST = 5


def read_both(value: float, limit: float, unit: str) -> tuple[str, str]:
    """Two numbers that are not the same are not read as the same."""
    for finer in range(FINEST):
        pair = as_read(value, unit, finer), as_read(limit, unit, finer)
        if value == limit or pair[0] != pair[1]:
            break
    return pair


def as_read(value: float, unit: str, finer: int = 0) -> str:
    """As read: shares by hundredths, small numbers by tenths, heights by tens; nothing has no sign."""
    digits = finer + {"": 2, "s": 1, "g": 1, "g/s": 1, "turns": 1, "ft": -1}.get(unit, 0)
    number = f"{round(value, digits) + 0.0:,.{max(digits, 0)}f}".replace("-", "−")
    return f"{number}{unit}" if unit in ("°", "%") else f"{number} {unit}".strip()
