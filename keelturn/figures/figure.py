"""What a figure is: a purpose, a gate, parameters, legs or a recovery, faults and words."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from keelturn.motion.legs import Leg

Side = Literal["left", "right"]
Opening = Literal["level", "stall", "spin", "upset"]
SpeedBase = Literal["stall", "manoeuvring", "glide"]


@dataclass(frozen=True, slots=True)
class Parameter:
    """A number the plan may set. The bounds are what the model is meant for, not what is wise."""

    label: str
    unit: str
    usual: float
    least: float
    most: float


@dataclass(frozen=True, slots=True)
class Gate:
    """Entry: speed as a share of a speed of the aircraft today, never above its manoeuvring speed; power and attitude in
    words."""

    speed_base: SpeedBase
    speed_share: float
    power: str
    attitude: str


@dataclass(frozen=True, slots=True)
class Fault:
    key: str
    words: str
    does: str


@dataclass(frozen=True, slots=True)
class Figure:
    """legs: flown after the opening; empty when the recovery school of `situation` flies it. take_over: bank and path (deg)
    from which the instructor would recover when the figure itself is not a recovery; take_over_words finish the sentence
    "My controls at 3,850 ft if ..."."""

    key: str
    name: str
    family: str
    purpose: str
    look_at: str
    opening: Opening
    gate: Gate
    parameters: Mapping[str, Parameter]
    faults: tuple[Fault, ...]
    stop_words: tuple[str, ...]
    take_over_words: str
    steps: tuple[str, ...] = ()
    legs: tuple[Leg, ...] = ()
    situation: str | None = None
    has_sides: bool = True
    throttle: float = 0.0
    take_over: tuple[float, float] | None = None


def fault_of(figure: Figure, key: str) -> Fault | None:
    return next((fault for fault in figure.faults if fault.key == key), None)
