"""The words of one planned figure, for this aircraft and side: steps, spoken words, purpose, stop words."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from keelturn.aircraft.card import SpinMass
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Figure
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.numbers import setting
from keelturn.flying.spin import stated_recovery_turns
from keelturn.recoveries.schools import School
from keelturn.recoveries.spin_kinds import KINDS
from keelturn.spinning.calibration import AILERON_LIFTS

# What aileron held against the turn, and into it, does to the spin, by where the mass lies.
AGAINST_TURN: Mapping[SpinMass, str] = {
    mass: "flattens" if lifts > 0 else "steepens" for mass, lifts in AILERON_LIFTS.items()
}
INTO_TURN = {mass: "steepens" if does == "flattens" else "flattens" for mass, does in AGAINST_TURN.items()}
COUNTED = ("One turn", "Two turns", "Three turns", "Four turns", "Five turns", "Six turns")


@dataclass(frozen=True, slots=True)
class FigureWords:
    """steps: in order, as briefed; spoken: the same in a breath."""

    steps: tuple[str, ...]
    spoken: str
    purpose: str
    stop_words: tuple[str, ...]


def words_of(
    planned: PlannedFigure, conditions: Conditions, school: School | None, closes_with: float | None
) -> FigureWords:
    """school: the recovery method flown. closes_with: the setting found for it, where the plan leaves it
    open."""
    figure = figure_of(planned.key)
    steps = school.steps if school else _own_steps(planned, figure, closes_with)
    spoken = school.spoken if school else " ".join(steps)
    return FigureWords(
        steps,
        spoken.format(
            opposite="right" if planned.side == "left" else "left",
            pull=f"{planned.parameter('pull_g'):.1f} g" if "pull_g" in figure.parameters else "level",
        ),
        _purpose(figure, conditions),
        _stop_words(figure, conditions),
    )


def _own_steps(planned: PlannedFigure, figure: Figure, closes_with: float | None) -> tuple[str, ...]:
    """Of a figure without a recovery method."""
    angle = setting(planned, "line_deg", 0.0) if closes_with is None else closes_with
    return tuple(step.format(angle=f"{angle:.0f} degrees") for step in figure.steps)


def _purpose(figure: Figure, conditions: Conditions) -> str:
    """With what the aileron that is held in the spin does to it in this aircraft."""
    spin = conditions.card.spin
    if figure.spin not in ("in-spin aileron", "out-spin aileron") or spin is None:
        return figure.purpose
    does = (INTO_TURN if KINDS[figure.spin].aileron > 0 else AGAINST_TURN)[spin.mass]
    return f"{figure.purpose} With the mass {spin.mass} it {does} the spin."


def _stop_words(figure: Figure, conditions: Conditions) -> tuple[str, ...]:
    """With the whole turns that the card's recovery takes, at least one."""
    if figure.spin is None or conditions.card.spin is None:
        return figure.stop_words
    turns = max(1, math.ceil(stated_recovery_turns(conditions.card, figure.spin)))
    return tuple(words.format(turns=COUNTED[min(turns, len(COUNTED)) - 1]) for words in figure.stop_words)
