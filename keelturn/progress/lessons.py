"""The lessons of the syllabus, as data. The first: spins, both ways."""

from dataclasses import dataclass

from keelturn.aircraft.card import Card
from keelturn.plan.document import PlannedFigure


@dataclass(frozen=True, slots=True)
class LessonFigure:
    key: str
    side: str = "left"
    turns: float | None = None
    flown_by: str = "student with talk"


@dataclass(frozen=True, slots=True)
class Lesson:
    key: str
    name: str
    purpose: str
    figures: tuple[LessonFigure, ...]


LESSONS: tuple[Lesson, ...] = (
    Lesson(
        "spins_both_ways", "Spins, both ways",
        "See the incipient spin and the one-turn spin to both sides, stop each in the right order, and finish with a nose-low recovery.",
        (
            LessonFigure("steep_turn", flown_by="student alone"),
            LessonFigure("stall_power_off", flown_by="student alone"),
            LessonFigure("incipient_spin", "left", flown_by="instructor shows"),
            LessonFigure("incipient_spin", "right"),
            LessonFigure("spin", "left"),
            LessonFigure("spin", "right"),
            LessonFigure("nose_low", "left", flown_by="student alone"),
        ),
    ),
)
BY_KEY = {lesson.key: lesson for lesson in LESSONS}


def lesson_of(key: str) -> Lesson:
    """Raises ValueError naming the lessons there are."""
    if key not in BY_KEY:
        raise ValueError(f"no lesson '{key}'; there is {', '.join(BY_KEY)}")
    return BY_KEY[key]


def laid_out(lesson: Lesson, card: Card, start_ft: float) -> tuple[PlannedFigure, ...]:
    """The lesson's figures, all from one height until the heights are computed. Handbook entry speeds of the card are used."""
    found = []
    for i, figure in enumerate(lesson.figures, start=1):
        handbook = card.approved.get(figure.key)
        found.append(PlannedFigure.model_validate({
            "id": f"f{i}", "key": figure.key, "side": figure.side, "start_ft": start_ft, "flown_by": figure.flown_by,
            "entry_ias": handbook.value if handbook is not None else None,
            "parameters": {} if figure.turns is None else {"turns": figure.turns},
        }))
    return tuple(found)
