"""What a figure is: a purpose, a gate, parameters, legs and a recovery, faults and words."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Literal

from pydantic import Field

from keelturn.aircraft.card import SpinKind
from keelturn.document import Document
from keelturn.motion.legs import Leg, Number

Side = Literal["left", "right"]
SpeedBase = Literal["stall", "manoeuvring", "glide"]
Category = Literal["normal", "utility", "aerobatic"]
Stage = Literal["first flights", "practised", "ready to fly it alone"]


class Family(StrEnum):
    COORDINATION = "Co-ordination"
    STALLS = "Stalls"
    SPIRALS = "Spirals"
    SPINS = "Spins"
    ROLLS = "Rolls"
    LOOPING = "Looping"
    LINES = "Lines"
    UPSETS = "Upsets"


@dataclass(frozen=True, slots=True)
class Parameter:
    """A number the plan may set. The bounds are what the model is meant for, not what is wise. switch: 0 or
    1, off or on."""

    label: str
    unit: str
    usual: float
    least: float
    most: float
    switch: bool = False


@dataclass(frozen=True, slots=True)
class Gate:
    """Entry: speed as a share of a speed of the aircraft today, never above its manoeuvring speed unless
    `to_never_exceed`; power and attitude in words. full_controls: flown with full deflection, so that Va is a
    limit at the entry."""

    speed_base: SpeedBase
    speed_share: float
    power: str
    attitude: str
    to_never_exceed: bool = False
    full_controls: bool = False


@dataclass(frozen=True, slots=True)
class Closes:
    """The number of a leg by which the pilot brings the figure out at the height it began, looked for between
    least and most; most None for the pull."""

    number: str
    least: float
    most: float | None = None


@dataclass(frozen=True, slots=True)
class Begin:
    """Bank and flight path (deg) in which the legs begin."""

    bank_deg: Number = 0.0
    path_deg: Number = 0.0


class Blocks(Document):
    """Of a fault that could end badly: whatever height it cost, nobody who makes it is graded so or better,
    until so many attempts in a row were without it (common practice, no published source)."""

    grade: Literal["Guided", "Sound", "Solo-ready"] = "Sound"
    clean_attempts: int = Field(2, ge=1, le=10)


@dataclass(frozen=True, slots=True)
class Fault:
    """numbers: what it is taken to change in the pilot's numbers, added to the usual ones, and assumed: how
    that is said; empty where no number stands for it (assumptions of ours, no published source). blocks: from
    which grade and for how long, None where it holds nobody back; the chief's own stands before it."""

    key: str
    words: str
    does: str
    numbers: Mapping[str, float] = field(default_factory=dict)
    assumed: str = ""
    blocks: Blocks | None = None


@dataclass(frozen=True, slots=True)
class Figure:
    """legs: flown from `begin`; then the recovery school of `situation`, where there is one. take_over: bank
    and path (deg) from which the instructor would recover when the figure itself is not a recovery;
    take_over_words finish the sentence "My controls at 3,850 ft if ...". category: the lowest that commonly
    approves it; the card decides. stage: the least a student has reached who flies it. unsettles: load on
    balance and stomach, 0 none to 10 most. holds_height: what the pilot lets go of the height is part of the
    account. titled: its name by its settings, where the name alone does not tell. gentler: key of the figure
    that asks less and teaches the same. counts_turns: the height at its start is shown as turns. keeps_ft: a
    gate speed at which it ends lower than this is none of its gate's. closes: how the pilot makes it end
    where it began. All common practice, no published source, unless said."""

    key: str
    name: str
    family: Family
    purpose: str
    look_at: str
    gate: Gate
    faults: tuple[Fault, ...]
    stop_words: tuple[str, ...]
    take_over_words: str
    category: Category
    stage: Stage
    unsettles: int
    begin: Begin = Begin()
    parameters: Mapping[str, Parameter] = field(default_factory=dict)
    steps: tuple[str, ...] = ()
    legs: tuple[Leg, ...] = ()
    situation: str | None = None
    has_sides: bool = True
    throttle: float = 0.0
    take_over: tuple[float, float] | None = None
    holds_height: bool = False
    spin: SpinKind | None = None
    titled: Callable[[Mapping[str, float]], str] | None = None
    gentler: str | None = None
    counts_turns: bool = False
    keeps_ft: float | None = None
    closes: Closes | None = None

    @property
    def upset(self) -> bool:
        """The instructor sets up the attitude, and the recovery is the figure."""
        return self.family in (Family.UPSETS, Family.SPIRALS)

    def title(self, settings: Mapping[str, float]) -> str:
        """Its name with the settings that tell it from another, without its side."""
        if self.titled is None:
            return self.name
        return self.titled({name: settings.get(name, p.usual) for name, p in self.parameters.items()})


def fault_of(figure: Figure, key: str) -> Fault | None:
    return next((fault for fault in figure.faults if fault.key == key), None)
