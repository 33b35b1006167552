"""The plan that a new sortie begins with: lesson, place, sequence and heights for this student in this
aircraft, and why.

The place is the first in which everything keeps its floor, in the lesson's order or another; where none does,
the first with a way out, which is taken (common practice, no published source)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load
from keelturn.figures.figure import Stage
from keelturn.flying.conditions import Conditions
from keelturn.flying.deviations import OwnLoss
from keelturn.margins.checks import Change, Check, Verdict
from keelturn.plan.document import PlanDocument, conditions_of
from keelturn.plan.proposal import Proposal, propose
from keelturn.plan.sequence import PlanAnswer, compute_plan, starts_above_the_lowest
from keelturn.progress.course import Course
from keelturn.progress.courses import COURSES
from keelturn.progress.habits import fault_trends
from keelturn.progress.lessons import FREE, Lesson, laid_out, lesson_of
from keelturn.progress.next_lesson import (
    NextLesson,
    banned,
    ended_badly,
    names_of,
    next_lesson,
    sequence_for,
    taken_over_in,
)
from keelturn.progress.states import Flown, by_flight
from keelturn.progress.way import Way
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import Day

# Figures are laid out this far under the top until their heights are computed.
BELOW_TOP_FT = 500.0
STANDARD_DAY = Day()


@dataclass(frozen=True)
class Setting:
    """Who flies what, when: all that a plan depends on besides its lesson and its place. flown: the student's
    attempts, oldest first. courses: where a lesson is looked for, the student's own first. way: through that
    one; None for who is in none. days: the weather by the name of a place, where it is known already. own:
    what the student loses against the population, by figure."""

    card: Card
    standards: Standards
    stage: Stage
    load: Load
    parachute_days: float | None
    off_blocks: datetime | None
    flown: Sequence[Flown] = ()
    courses: Sequence[Course] = COURSES
    way: Way | None = None
    today: date = date.min
    days: Mapping[str, Day] = field(default_factory=dict)
    own: Mapping[str, OwnLoss] = field(default_factory=dict)

    def day_at(self, place: Place) -> Day:
        return self.days.get(place.name, STANDARD_DAY)

    def conditions(self, plan: PlanDocument, place: Place) -> Conditions:
        return conditions_of(
            plan,
            self.card,
            place,
            self.standards,
            self.stage,
            self.parachute_days,
            self.off_blocks,
            self.own,
        )


@dataclass(frozen=True, slots=True)
class FirstPlan:
    """plan: with its heights; place: which of those given, from 0; fits: nothing stops it; why: lesson, what
    differs from it, place, heights, in that order. way_out: what was changed so that it fits, in words; empty
    when nothing had to be. next: how the lesson was chosen, where it was not asked for."""

    lesson: Lesson
    place: int
    plan: PlanDocument
    fits: bool
    why: tuple[str, ...]
    way_out: str = ""
    next: NextLesson | None = None


@dataclass(frozen=True, slots=True)
class _AtPlace:
    """The lesson laid out at one place. here: what stops it there; anywhere: what would at any place, in
    words."""

    plan: PlanDocument
    conditions: Conditions
    differs: tuple[str, ...]
    here: list[Check]
    anywhere: list[str]

    @property
    def keeps_its_floors(self) -> bool:
        """Whether what stops it is in the load alone, which no other place mends."""
        return all(check.change == Change.LOAD for check in self.here)


def laid_out_above_the_lowest(lesson: Lesson, setting: Setting, place: Place) -> PlanDocument:
    """The lesson as it is, each figure a little above its lowest start. Raises ValueError when the load does
    not fit the card."""
    figures = laid_out(lesson, place.top_ft - BELOW_TOP_FT)
    day = setting.day_at(place)
    plan = PlanDocument(load=setting.load, day=day, lesson=lesson.key, figures=figures)
    return starts_above_the_lowest(plan, setting.conditions(plan, place))


def first_plan(lesson_key: str | None, setting: Setting, places: Sequence[Place]) -> FirstPlan:
    """lesson_key None: the next of the student's course, or the gentler one where that fits nowhere today;
    'free': no figures yet. places: at least one. Raises ValueError for a lesson that there is not, for the
    next one of who is in no course, and when the load does not fit the card."""
    if lesson_key == FREE.key:
        day = setting.day_at(places[0])
        plan = PlanDocument(load=setting.load, day=day, lesson=FREE.key, figures=())
        return FirstPlan(FREE, 0, plan, True, ("Free: add the figures yourself.",))
    if lesson_key is not None:
        lesson = lesson_of(lesson_key, setting.courses)
        return _laid_anywhere(lesson, (), setting, places)
    if setting.way is None:
        raise ValueError("the student is in no course, so no lesson is next")
    found = next_lesson(setting.way, setting.stage, setting.flown, setting.today, setting.card)
    first = _laid_anywhere(found.lesson, found.why, setting, places)
    if not first.fits and found.gentler is not None:
        less = found.gentler.lesson
        instead = f"{found.lesson.name} would be next, but it fits nowhere today: {less.name} instead."
        gentler = _laid_anywhere(less, (instead,), setting, places)
        first = gentler if gentler.fits else first
    return replace(first, next=found)


def _laid_anywhere(
    lesson: Lesson, why: tuple[str, ...], setting: Setting, places: Sequence[Place]
) -> FirstPlan:
    """Without the figures that the aircraft may not fly, where it may fly others of the lesson."""
    may_not = banned(lesson, setting.card)
    if not may_not or len(may_not) == len(lesson.figures):
        return _laid(lesson, why, setting, places)
    others = replace(lesson, figures=tuple(f for f in lesson.figures if f.key not in may_not))
    without = f"without {names_of(may_not)}"
    said = f"{setting.card.name} is not approved for {names_of(may_not)}: left out."
    found = _laid(others, (*why, said), setting, places)
    way_out = f"{without}; {found.way_out}" if found.way_out else without
    return replace(found, lesson=lesson, way_out=way_out)


def _laid(lesson: Lesson, why: tuple[str, ...], setting: Setting, places: Sequence[Place]) -> FirstPlan:
    laid = []
    for at, place in enumerate(places):
        found = _laid_at(place, lesson, setting)
        laid.append(found)
        if not found.here:
            how = "every figure keeps its floor with something to spare, in the order of the lesson"
            words = f"{place.name}{_not(places[:at])}: {how}."
            whole = (*why, *found.differs, words, *_reported(found.plan), *found.anywhere)
            return FirstPlan(lesson, at, found.plan, not found.anywhere, whole)
        if found.keeps_its_floors:
            break
    tried, places = "", places[: len(laid)]
    for at, (place, found) in enumerate(zip(places, laid, strict=True)):
        proposal = _way_out(found)
        if proposal.plan is None:
            tried = tried or f"{place.name}: {proposal.why}"
            continue
        left = _stops(compute_plan(proposal.plan, setting.conditions(proposal.plan, place)))
        words = f"{'No place takes it as it is. ' if len(places) > 1 else ''}{place.name}:"
        if proposal.headline:
            words += f" {proposal.why} The smallest way out is taken: {proposal.headline}."
        stops = (*(check.sentence for check in left[0]), *left[1])
        whole = (*why, *found.differs, words, *_reported(found.plan), *stops)
        return FirstPlan(lesson, at, proposal.plan, not any(left), whole, proposal.headline)
    whole = (*why, *laid[0].differs, f"No place takes it as it is. {tried}")
    return FirstPlan(lesson, 0, laid[0].plan, False, whole)


def _laid_at(place: Place, lesson: Lesson, setting: Setting) -> _AtPlace:
    """The lesson's figures for this student, each a little above its lowest start."""
    flown = by_flight(setting.flown)
    figures, differs = sequence_for(
        lesson, place.top_ft - BELOW_TOP_FT, fault_trends(flown), ended_badly(flown), taken_over_in(flown)
    )
    day = setting.day_at(place)
    plan = PlanDocument(load=setting.load, day=day, lesson=lesson.key, figures=figures)
    conditions = setting.conditions(plan, place)
    plan = starts_above_the_lowest(plan, conditions)
    return _AtPlace(plan, conditions, differs, *_stops(compute_plan(plan, conditions)))


def _reported(plan: PlanDocument) -> tuple[str, ...]:
    """That the day is as reported, in a sentence; nothing where no report was read."""
    return (f"For the weather of {plan.day.report}.",) if plan.day.report else ()


def _way_out(laid: _AtPlace) -> Proposal:
    """The proposal; one without a plan where the card cannot be asked."""
    try:
        return propose(laid.plan, laid.conditions)
    except ValueError as error:
        return Proposal(None, False, (), 0.0, 0.0, f"{error}.")


def _stops(answer: PlanAnswer) -> tuple[list[Check], list[str]]:
    """What stops the plan at this place, and what would stop it at any (the day, the aircraft, the people) in
    words."""
    stops = [c for c in answer.checks if c.verdict == Verdict.STOP and c.overridden is None]
    here = [c for c in stops if c.change in (Change.SEQUENCE, Change.LOAD)]
    return here, [f"{c.title}: {c.sentence}" for c in stops if c not in here]


def _not(tried: Sequence[Place]) -> str:
    return f" (it does not fit {' or '.join(place.name for place in tried)})" if tried else ""
