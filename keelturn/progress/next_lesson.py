"""Which lesson is next, where, and with what repeated, from what a student has shown (common practice, no
published source).

The first lesson of the syllabus that the student's stage allows and that has a figure not yet flown to a
sound standard is next; a fault that is not going away has its figure flown once more; the place is the first
in which everything keeps its floor."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import get_args

from keelturn.aircraft.card import Card
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Stage
from keelturn.figures.planned import PlannedFigure
from keelturn.noting.attempt import Attempt
from keelturn.progress.habits import FaultTrend
from keelturn.progress.lessons import LESSONS, Lesson, laid_out
from keelturn.school.grading import GRADES, Grade

ENOUGH: Grade = "Sound"
# After a flight that ended below this number the next is made gentler.
UNSETTLED_BELOW = 4
STAGES: tuple[Stage, ...] = get_args(Stage)


@dataclass(frozen=True, slots=True)
class NextLesson:
    lesson: Lesson
    why: tuple[str, ...]


def not_yet(lesson: Lesson, reached: Mapping[str, Grade], stage: Stage) -> list[str]:
    """Figures of the lesson that have not been flown to a sound standard, by key, in order. Of a lesson that
    the student's stage lies beyond only those that were graded below it: who is practised elsewhere is not
    sent back to the beginning."""
    keys = dict.fromkeys(f.key for f in lesson.figures)
    beyond = STAGES.index(stage) > STAGES.index(lesson.stage)
    return [
        key
        for key in keys
        if (not beyond if key not in reached else GRADES.index(reached[key]) < GRADES.index(ENOUGH))
    ]


def next_lesson(reached: Mapping[str, Grade], stage: Stage, card: Card | None = None) -> NextLesson:
    """For this student in this aircraft, or in any where none is said. The last lesson when every one has
    been shown."""

    def banned_in(lesson: Lesson) -> list[str]:
        return [f.key for f in lesson.figures if card is not None and f.key not in card.approved]

    allowed = [lesson for lesson in LESSONS if STAGES.index(lesson.stage) <= STAGES.index(stage)]
    passed_over: list[str] = []
    for lesson in allowed:
        wanted = not_yet(lesson, reached, stage)
        if not wanted:
            continue
        banned = banned_in(lesson)
        if card is not None and banned:
            passed_over.append(
                f"{lesson.name} would be next, but {card.name} is not approved for {_names(banned)}."
            )
            continue
        return NextLesson(
            lesson, (f"{lesson.name}: not yet flown to '{ENOUGH}': {_names(wanted)}.", *passed_over)
        )
    able = [lesson for lesson in allowed if not banned_in(lesson)]
    last = able[-1] if able else allowed[0]
    in_it = f" and {card.name} is approved for" if card is not None and passed_over else ""
    why = f"Everything the standing '{stage}' allows{in_it} has been flown to '{ENOUGH}': {last.name} again."
    return NextLesson(last, (why, *passed_over))


def _names(keys: Sequence[str]) -> str:
    names = [figure_of(key).name.lower() for key in dict.fromkeys(keys)]
    return ", ".join(names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else "")


def sequence_for(
    lesson: Lesson,
    start_ft: float,
    trends: Sequence[FaultTrend],
    unsettled: bool,
    taken_over: Sequence[str] = (),
) -> tuple[tuple[PlannedFigure, ...], tuple[str, ...]]:
    """The lesson's figures for this student, and why they differ from the lesson's: one more of the figure
    whose fault stays, and of one (by key) in which the instructor took over last time; without the most
    unsettling one after a flight that ended badly."""
    figures = list(laid_out(lesson, start_ft))
    why: list[str] = []
    stubborn = next((t for t in trends if t.trend == "not going away"), None)
    if stubborn is not None:
        for at, planned in enumerate(figures):
            if planned.flown_by.by_student and any(
                f.key == stubborn.key for f in figure_of(planned.key).faults
            ):
                figures.insert(at + 1, planned.model_copy(update={"id": f"{planned.id}b"}))
                why.append(
                    f"{figure_of(planned.key).name} twice: '{stubborn.words.lower()}' is not going away"
                    f" ({stubborn.sentence})."
                )
                break
    again = next((f for f in figures if f.flown_by.by_student and f.key in taken_over), None)
    if again is not None and not any(f.id == f"{again.id}b" for f in figures):
        figures.insert(figures.index(again) + 1, again.model_copy(update={"id": f"{again.id}b"}))
        why.append(f"{figure_of(again.key).name} twice: the instructor took over in it last time.")
    if unsettled and len(figures) > 3:
        hardest = max(figures, key=lambda f: figure_of(f.key).unsettles)
        figures.remove(hardest)
        why.append(f"Without {figure_of(hardest.key).name.lower()}: the last flight ended with a low number.")
    return tuple(figures), tuple(why)


def taken_over_in(lessons: Sequence[Sequence[Attempt]]) -> tuple[str, ...]:
    """Figures, by key, of the last lesson in which the instructor took over from the student."""
    last = lessons[-1] if lessons else ()
    found = (a.planned.key for a in last if a.taken_over_ft is not None and a.flown_by.by_student)
    return tuple(dict.fromkeys(found))


def ended_badly(lessons: Sequence[Sequence[Attempt]]) -> bool:
    """Whether the last flight in which the student gave a number ended below four."""
    last = [attempt.feel for attempt in lessons[-1] if attempt.feel is not None] if lessons else []
    return bool(last) and last[-1] < UNSETTLED_BELOW
