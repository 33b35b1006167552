"""Wind at a height between those at which it is known: east and north parts between the nearest two, linear
in height (common practice, no published source)."""

import math
from collections.abc import Sequence

Level = tuple[float, float, float]


def wind_at(height_ft: float, levels: Sequence[Level]) -> tuple[float, float]:
    """(from deg true, kt) at a height. levels: (height ft on QNH, from deg, kt), any order, at least one;
    beyond the ends the end's."""
    rising = sorted(levels)
    below = max((level for level in rising if level[0] <= height_ft), default=rising[0])
    above = min((level for level in rising if level[0] >= height_ft), default=rising[-1])
    share = 0.0 if above[0] <= below[0] else (height_ft - below[0]) / (above[0] - below[0])
    east, north = (low + share * (high - low) for low, high in zip(_parts(below), _parts(above), strict=True))
    speed = math.hypot(east, north)
    return (math.degrees(math.atan2(east, north)) % 360.0 if speed > 1e-9 else 0.0), speed


def _parts(level: Level) -> tuple[float, float]:
    """East and north parts of where the wind comes from."""
    _, from_deg, kt = level
    return kt * math.sin(math.radians(from_deg)), kt * math.cos(math.radians(from_deg))
