"""What should come before a lesson and has not, for one student and one aircraft (common practice, no
published source)."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from keelturn.aircraft.card import Card
from keelturn.figures.figure import Stage
from keelturn.progress.course import Course, CourseLesson
from keelturn.progress.next_lesson import next_lesson
from keelturn.progress.states import STATES, Flown
from keelturn.progress.way import Way, reaches, way_through
from keelturn.school.before import Missing
from keelturn.school.standards import Standards

# The lesson is flown for this time without any of its tasks having come further in the flights before.
SAME_AGAIN = 3


@dataclass(frozen=True, slots=True)
class Known:
    """Of a student, as they stand before a flight on `day`. flown: every attempt, oldest first. types: the
    day of the last flight in each type of aircraft, by its name. courses: where a lesson is looked for.
    own: the one that the student is in, if any. ground: the items done, by the key of their course."""

    day: date
    standing: Stage
    flown: Sequence[Flown]
    types: Mapping[str, date]
    courses: Sequence[Course]
    own: Course | None
    ground: Mapping[str, Collection[str]]

    def way_through(self, course: Course, standards: Standards, flights_before: int | None = None) -> Way:
        """flights_before: as it was before that flight."""
        counted = [f for f in self.flown if f.debriefed]
        if flights_before is not None:
            counted = counted[: next(i for i, f in enumerate(counted) if f.flight == flights_before)]
        return way_through(course, counted, tuple(self.ground.get(course.key, ())), self.day, standards)


def missing_before(key: str, card: Card, known: Known, standards: Standards) -> tuple[Missing, ...]:
    """Of the lesson with this key; of one that no course has, what does not follow from a course."""
    lately = tuple(_lately(card, known, standards))
    ways = (
        known.way_through(course, standards) for course in known.courses if course.lesson(key) is not None
    )
    way = next(ways, None)
    own = way
    if known.own is not None and (way is None or way.course != known.own):
        own = known.way_through(known.own, standards)
    another = () if known.own is None or own is None else tuple(_another(key, card, known, own))
    if way is None:
        return (*lately, *another)
    lesson = way.course.lesson(key)
    assert lesson is not None
    return (
        *_prerequisites(way, lesson, known.standing),
        *lately,
        *_again(way, lesson, known, standards),
        *another,
    )


def _prerequisites(way: Way, lesson: CourseLesson, standing: Stage) -> Iterator[Missing]:
    source = _source(way, lesson)
    if not reaches(standing, lesson):
        words = f"{lesson.name} asks for '{lesson.standing}'; the student is at '{standing}'."
        do = "Choose a lesson for this standing, or have the chief set it."
        title = f"Standing '{lesson.standing}' before {lesson.name}"
        yield Missing("standing", title, words, do, 1.0, "", "not reached", source)
    if ground := way.ground_before(lesson):
        words, do = f"Not done: {'; '.join(ground)}.", "Tick it on the student's page when it is done."
        title = f"On the ground before {lesson.name}"
        yield _counted("ground", title, words, do, len(ground), source)
    if tasks := way.tasks_before(lesson):
        words = f"{lesson.name} comes after {'; '.join(tasks)}."
        do, title = "Fly the lesson that teaches them first.", f"Other tasks before {lesson.name}"
        yield _counted("tasks", title, words, do, len(tasks), source)


def _source(way: Way, lesson: CourseLesson) -> str:
    return f"{way.course.name}: {lesson.name}"


def _counted(item: str, title: str, words: str, do: str, number: int, source: str) -> Missing:
    return Missing(item, title, words, do, float(number), "", f"{number} missing", source)  # type: ignore[arg-type]


def _lately(card: Card, known: Known, standards: Standards) -> Iterator[Missing]:
    """What the school's own records say: a student may have flown elsewhere."""
    source = "flights on record here"
    if card.name not in known.types:
        words = f"No flight in {card.name} is on record here{'' if known.types else ', nor in another type'}."
        do = "Allow time for a look round the cockpit, and for slow flight and a stall first."
        title = f"First flight on record in {card.name}"
        yield Missing("type", title, words, do, 1.0, "", "none on record", source)
    if not known.types:
        return
    days, limit = (known.day - max(known.types.values())).days, standards.away_days.value
    if days >= limit:
        words = f"The last flight on record here was {days} days before this one, of {limit:.0f} allowed."
        do = "Begin with what was flown last, with a higher start."
        yield Missing("away", "Long without a flight", words, do, float(days), "days", f"{days} days", source)


def _again(now: Way, lesson: CourseLesson, known: Known, standards: Standards) -> Iterator[Missing]:
    flights = list(dict.fromkeys(f.flight for f in known.flown if f.debriefed and f.lesson == lesson.key))
    if len(flights) < SAME_AGAIN - 1:
        return
    then = known.way_through(now.course, standards, flights_before=flights[1 - SAME_AGAIN])
    for task in {flown.task for flown in lesson.tasks}:
        before, after = then.state(task).sides, now.state(task).sides
        if any(STATES.index(after[side]) > STATES.index(before[side]) for side in after):
            return
    words = f"{lesson.name} was flown {len(flights)} times; the last {SAME_AGAIN - 1}"
    words += " brought none of its tasks further."
    do = "Rehearse it on the ground, choose another exercise, or fly with another instructor."
    number, short = float(len(flights)), f"{len(flights)} times"
    title = f"{lesson.name} again"
    yield Missing("again", title, words, do, number, "", short, _source(now, lesson))


def _another(key: str, card: Card, known: Known, own: Way) -> Iterator[Missing]:
    found = next_lesson(own, known.standing, known.flown, known.day, card)
    if found.missing or found.lesson.key == key:
        return
    title, words = f"{found.lesson.name} comes next", f"As things stand: {' '.join(found.why)}"
    do = "Choose it, or fly this one knowingly."
    yield Missing("next", title, words, do, 1.0, "", "not the next", own.course.name)
