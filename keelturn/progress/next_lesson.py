"""Which lesson is next and with what repeated, from what a student has shown; one that asks less, one that
asks more, and what may not be flown yet (common practice, no published source).

Nothing new after a flight that ended badly; then what has lapsed; nothing new after weeks without a flight;
then the first lesson of the course with a task that is not yet as the course needs it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from keelturn.aircraft.card import Card
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Stage
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.noting.attempt import Attempt
from keelturn.progress.course import counts
from keelturn.progress.habits import FaultTrend
from keelturn.progress.lessons import Lesson, LessonFigure, filled_in, laid_out
from keelturn.progress.states import Flown, State, TaskState, at_least, last_flight
from keelturn.progress.way import Way

# After a flight that ended below this number the next is made gentler.
UNSETTLED_BELOW = 4
# After so many days without a flight what was flown last comes again before anything new.
AWAY_DAYS = 28
# What lapses within so many days is said.
SOON_DAYS = 21


@dataclass(frozen=True, slots=True)
class Offer:
    """Another lesson that may be flown, and how it differs."""

    lesson: Lesson
    why: str


@dataclass(frozen=True, slots=True)
class NotYet:
    """A lesson of the course that may not be flown yet, and what is missing for it."""

    lesson: Lesson
    missing: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class NextLesson:
    """missing: what must come first, where no lesson of the course may be flown yet."""

    lesson: Lesson
    why: tuple[str, ...]
    gentler: Offer | None = None
    harder: Offer | None = None
    not_yet: tuple[NotYet, ...] = ()
    missing: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class _Choice:
    """may: the lessons that may be flown, in the order of the course; able: those of them that the aircraft
    is approved for."""

    way: Way
    may: tuple[Lesson, ...]
    able: tuple[Lesson, ...]

    def wanted(self, lesson: Lesson) -> list[TaskState]:
        """Its tasks that are not yet as the course needs them, and that it brings further."""
        keys = dict.fromkeys(f.task for f in lesson.figures if self._brings_on(f))
        return [self.way.state(key) for key in keys]

    def _brings_on(self, figure: LessonFigure) -> bool:
        """Flown so that it counts, to a side that has not come far enough; and alone where only that is
        missing. What has lapsed is shown again to either side."""
        task, state = self.way.course.task(figure.task), self.way.state(figure.task)
        if state.met or not counts(task, figure.flown_by):
            return False
        side = state.sides[figure.side]
        if at_least(side, state.needed):
            return state.lapsed
        alone = figure.flown_by == FlownBy.ALONE or task.flown_by is not None
        return alone or not at_least(side, State.SOUND)


def next_lesson(
    way: Way, standing: Stage, flown: Sequence[Flown], today: date, card: Card | None = None
) -> NextLesson:
    """For this student in this aircraft, or in any where none is said. flown: oldest first."""
    course = way.course
    lessons = tuple(filled_in(course, lesson) for lesson in course.lessons)
    missing = {lesson.key: way.missing_for(lesson, standing) for lesson in course.lessons}
    may = tuple(lesson for lesson in lessons if not missing[lesson.key])
    able = tuple(lesson for lesson in may if not banned(lesson, card))
    choice = _Choice(way, may, able)
    not_yet = tuple(NotYet(x, missing[x.key]) for x in lessons if missing[x.key])
    if not able:
        return _none_yet(choice, not_yet, card)
    lesson, why = _chosen(choice, flown, today)
    passed = _passed_over(choice, lesson, card)
    gentler = _gentler(choice, lesson)
    harder = _harder(choice, lesson, gentler)
    whole = (why, *passed, *_due_soon(choice, lesson, today), *_as_corrected(flown))
    return NextLesson(lesson, whole, gentler, harder, not_yet)


def _none_yet(choice: _Choice, not_yet: tuple[NotYet, ...], card: Card | None) -> NextLesson:
    """The first that may be flown in another aircraft, or the first of the course, with what it lacks."""
    first = choice.may[0] if choice.may else not_yet[0].lesson
    missing = (
        (f"an aircraft that is approved for {names_of(banned(first, card))}",)
        if choice.may
        else not_yet[0].missing
    )
    why = f"{first.name} would be next. Missing first: {'; '.join(missing)}."
    return NextLesson(first, (why,), not_yet=not_yet, missing=missing)


def _chosen(choice: _Choice, flown: Sequence[Flown], today: date) -> tuple[Lesson, str]:
    last = last_flight(flown)
    again = next((x for x in choice.able if last and x.key == last[0].lesson), None)
    if again is not None and (bad := _ended_how(last)) is not None:
        return again, f"{again.name} again, nothing new: {bad}."
    lapsed = max(choice.able, key=lambda x: len(_lapsed(choice, x)))
    if _lapsed(choice, lapsed):
        return lapsed, f"{lapsed.name}: lapsed: {_titles(_lapsed(choice, lapsed))}."
    if again is not None and (today - last[0].day).days > AWAY_DAYS:
        days = (today - last[0].day).days
        return again, f"{again.name} again before anything new: {days} days without a flight."
    for lesson in choice.able:
        if wanted := choice.wanted(lesson):
            return lesson, f"{lesson.name}: not yet as the course needs it: {_titles(wanted)}."
    last_able = choice.able[-1]
    if choice.way.met:
        return last_able, f"{choice.way.course.name} is complete: {last_able.name} to stay in practice."
    return last_able, f"No lesson that may be flown brings a task further: {last_able.name} again."


def _lapsed(choice: _Choice, lesson: Lesson) -> list[TaskState]:
    return [state for state in choice.wanted(lesson) if state.lapsed]


def _ended_how(last: Sequence[Flown]) -> str | None:
    """Why the last flight calls for nothing new; None where it does not."""
    attempts = [f.attempt for f in last]
    if ended_badly([attempts]):
        felt = [a.feel for a in attempts if a.feel is not None][-1]
        return f"the last flight ended at {felt} (0 very ill, 10 fine)"
    if any(a.abandoned for a in attempts):
        return "the last flight was broken off"
    return None


def _due_soon(choice: _Choice, lesson: Lesson, today: date) -> list[str]:
    """What lapses soon and is not in the lesson, in a sentence."""
    inside = {f.task for f in lesson.figures}
    limit = today + timedelta(days=SOON_DAYS)
    soon = [
        (state.lapses_on, state.title.lower())
        for state in choice.way.tasks
        if state.met and state.lapses_on is not None and state.lapses_on <= limit and state.task not in inside
    ]
    if not soon:
        return []
    first = min(day for day, _ in soon)
    return [f"From {first:%-d %b} on, not in this lesson, lapse: {_few([title for _, title in soon])}."]


def _as_corrected(flown: Sequence[Flown]) -> list[str]:
    """What was corrected of the last flight after it was signed, and counts here."""
    found = [(f.attempt.planned.title, words) for f in last_flight(flown) for words in f.corrected]
    return [f"Of the last flight counts as corrected: {title}: {words}." for title, words in found]


def _passed_over(choice: _Choice, chosen: Lesson, card: Card | None) -> list[str]:
    """Of those that stand before it; of all where it brings nothing further itself."""
    before = choice.may[: choice.may.index(chosen)] if choice.wanted(chosen) else choice.may
    return [
        f"{x.name} would be next, but {card.name} is not approved for {names_of(banned(x, card))}."
        for x in before
        if card is not None and x not in choice.able and choice.wanted(x)
    ]


def _hardest(lesson: Lesson) -> tuple[int, str]:
    """How much the most unsettling figure that the student flies unsettles, and which it is."""
    flown = [f.key for f in lesson.figures if f.flown_by.by_student] or [f.key for f in lesson.figures]
    key = max(flown, key=lambda key: figure_of(key).unsettles)
    return figure_of(key).unsettles, key


def _gentler(choice: _Choice, chosen: Lesson) -> Offer | None:
    """The nearest before it that unsettles less, without the family of what unsettles most in it where there
    is one; after it where there is none before."""
    most, key = _hardest(chosen)
    at = choice.able.index(chosen)
    less = [x for x in (*reversed(choice.able[:at]), *choice.able[at + 1 :]) if _hardest(x)[0] < most]
    if not less:
        return None
    family = figure_of(key).family
    without = [x for x in less if all(figure_of(f.key).family != family for f in x.figures)]
    offered = (without or less)[0]
    most_in_it = names_of([_hardest(offered)[1]])
    if without:
        return Offer(offered, f"without {family.lower()}; its most is {most_in_it}")
    shown = any(f.key == key for f in offered.figures)
    left_out = f"{names_of([key])} only shown" if shown else f"without {names_of([key])}"
    return Offer(offered, f"{left_out}; its most is {most_in_it}")


def _harder(choice: _Choice, chosen: Lesson, gentler: Offer | None) -> Offer | None:
    """The next after it that has something in it to be learnt, or the next that unsettles more."""
    least, at = _hardest(chosen)[0], choice.able.index(chosen)
    later = [x for x in choice.able[at + 1 :] if gentler is None or x != gentler.lesson]
    more = next((x for x in later if choice.wanted(x)), None) or next(
        (x for x in later if _hardest(x)[0] > least), None
    )
    if more is None:
        return None
    mine = {f.key for f in chosen.figures}
    adds = [f.key for f in more.figures if f.key not in mine]
    return Offer(more, f"adds {names_of(adds)}" if adds else "the same figures, with less help")


def banned(lesson: Lesson, card: Card | None) -> list[str]:
    """Its figures, by key, that the aircraft is not approved for; none where no aircraft is said."""
    return [f.key for f in lesson.figures if card is not None and f.key not in card.approved]


def names_of(keys: Sequence[str]) -> str:
    """In small letters, each once, three at most and how many more."""
    return _few([figure_of(key).name.lower() for key in dict.fromkeys(keys)])


def _titles(states: Sequence[TaskState]) -> str:
    return _few([f"{state.title.lower()} ({state.state})" for state in states])


def _few(words: Sequence[str]) -> str:
    return ", ".join(words[:3]) + (f" and {len(words) - 3} more" if len(words) > 3 else "")


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
