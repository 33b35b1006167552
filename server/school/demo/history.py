"""Three months of past lessons, flown by the model with each student's own habits, noted as an instructor
notes them.

Deterministic: a seeded generator, dates counted back from the day of loading.
"""

import random
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from keelturn.figures.catalogue import figure_of
from keelturn.figures.faults import BY_KEY as FAULTS
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import fly_usual
from keelturn.noting.attempt import Attempt
from keelturn.school.grading import Grade


@dataclass(frozen=True)
class Habit:
    """A fault and how likely it is in each lesson, first to last."""

    fault: str
    chances: tuple[float, ...]


@dataclass(frozen=True)
class Past:
    username: str
    instructor: str
    days_ago: tuple[int, ...]
    figures: tuple[str, ...]
    habits: tuple[Habit, ...]
    feel: tuple[int, int] = (7, 9)
    next_steps: tuple[str, ...] = field(default_factory=tuple)


SPIN_DAY = ("steep_turn", "incipient_spin", "spin", "spin", "nose_low")
PASTS: tuple[Past, ...] = (
    Past(
        "petra",
        "tam",
        (84, 71, 57, 43, 26, 12),
        ("steep_turn", "stall_power_off", "incipient_spin", "spin", "spin", "nose_low"),
        (
            Habit("stick_late", (1.0, 0.9, 0.7, 0.5, 0.2, 0.1)),
            Habit("soft_pull", (0.7, 0.6, 0.7, 0.6, 0.7, 0.7)),
            Habit("rudder_not_centred", (0.6, 0.5, 0.2, 0.0, 0.0, 0.0)),
            Habit("forward_late", (0.9, 0.4, 0.2, 0.0, 0.0, 0.0)),
        ),
    ),
    Past(
        "rhea",
        "ilse",
        (80, 62, 41, 19),
        SPIN_DAY,
        (Habit("late", (0.6, 0.4, 0.2, 0.0)), Habit("stick_not_back", (0.5, 0.3, 0.0, 0.0))),
    ),
    Past(
        "jonah",
        "tam",
        (33, 14),
        ("steep_turn", "stall_power_off", "incipient_spin", "nose_low"),
        (
            Habit("pulled_before_rolling", (1.0, 1.0)),
            Habit("nose_dropped", (1.0, 0.5)),
            Habit("forward_late", (1.0, 1.0)),
            Habit("rudder_late", (1.0, 0.5)),
        ),
        (5, 8),
    ),
    Past(
        "davin",
        "ilse",
        (21,),
        ("steep_turn", "stall_power_off", "incipient_spin"),
        (Habit("nose_dropped", (1.0,)),),
        (3, 5),
    ),
)


def flown_attempts(
    past: Past, lesson: int, figures: tuple[PlannedFigure, ...], conditions: Conditions, chance: random.Random
) -> list[Attempt]:
    """One lesson's attempts as noted: heights to 20 ft, in the order flown."""
    found = []
    for planned in figures:
        made = [
            h.fault
            for h in past.habits
            if h.fault in _faults(planned) and chance.random() < h.chances[lesson]
        ]
        changed: dict[str, float] = {}
        for fault in made:
            for name, by in FAULTS[fault].numbers.items():
                changed[name] = changed.get(name, 0.0) + by
        changed["delay_s"] = changed.get("delay_s", 0.0) + chance.uniform(-0.2, 0.25)
        changed["pull_g"] = changed.get("pull_g", 0.0) + chance.uniform(-0.15, 0.2)
        flown = fly_usual(planned, conditions, "student", **changed)
        start = planned.start_ft + 20.0 * chance.randint(-3, 4)
        lowest = 20.0 * round((start - flown.lost_ft) / 20.0)
        recover = None
        if figure_of(planned.key).spin and lesson > 0:
            spent = fly_usual(planned, conditions).before_recovery_ft
            recover = max(lowest, 20.0 * round((start - spent) / 20.0))
        found.append(
            Attempt.model_validate(
                {
                    "id": planned.id,
                    "planned": planned.model_dump(),
                    "start_ft": start,
                    "recover_ft": recover,
                    "lowest_ft": lowest,
                    "level_ft": lowest + 20.0 * chance.randint(0, 4),
                    "turns": planned.parameters.get("turns") if planned.key == "spin" else None,
                    "most_g": round(flown.most_g, 1),
                    "feel": chance.randint(*past.feel),
                    "flown_by": FlownBy.WITH_TALK if lesson < 3 else FlownBy.ALONE,
                    "faults": made,
                    "grade": _grade(len(made), lesson),
                }
            )
        )
    return found


def _faults(planned: PlannedFigure) -> set[str]:
    return {fault.key for fault in figure_of(planned.key).faults}


def _grade(faults: int, lesson: int) -> Grade:
    if lesson == 0 and faults > 1:
        return "Shown"
    if faults == 0:
        return "Solo-ready" if lesson >= 3 else "Sound"
    return "Sound" if faults == 1 and lesson >= 2 else "Guided"


def at_hour(day: datetime, days_ago: int, hour: int, minute: int = 0) -> datetime:
    return (day - timedelta(days=days_ago)).replace(hour=hour, minute=minute, second=0, microsecond=0)
