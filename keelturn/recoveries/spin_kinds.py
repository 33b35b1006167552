"""The kinds of spin, as what hands and feet do in them. The motion is the same for all.

Common practice, no published source."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from keelturn.aircraft.card import SpinKind


@dataclass(frozen=True, slots=True)
class Kind:
    """What the pilot changes once the aircraft has turned `from_turns`: stick (1 fully into the stall),
    aileron (into the turn positive), power. inverted: the stick that stalls the wing is forward, not back."""

    from_turns: float = math.inf
    stick: float = 1.0
    aileron: float = 0.0
    power: float = 0.0
    inverted: bool = False

    @property
    def stalls(self) -> str:
        """Where the stick holds the wing stalled."""
        return "forward" if self.inverted else "back"

    @property
    def unstalls(self) -> str:
        """Where the stick lets the wing fly again."""
        return "back" if self.inverted else "forward"


KINDS: Mapping[SpinKind, Kind] = MappingProxyType(
    {
        "upright": Kind(),
        "accelerated": Kind(0.75, stick=0.55),
        "flat": Kind(0.5, aileron=-1.0, power=1.0),
        "inverted": Kind(inverted=True),
        "inverted flat": Kind(0.5, aileron=-1.0, power=1.0, inverted=True),
        "in-spin aileron": Kind(0.5, aileron=1.0),
        "out-spin aileron": Kind(0.5, aileron=-1.0),
    }
)
