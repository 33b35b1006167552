"""The plan that a new sortie begins with: lesson, place, sequence and heights for this student in this
aircraft, and why.

The place is the first in which everything keeps its floor, in the lesson's order or another; where none does,
the first, with its smallest way out (common practice, no published source)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load
from keelturn.assess.attempts import Attempt
from keelturn.figures.figure import Stage
from keelturn.flying.conditions import Conditions
from keelturn.margins.checks import Change, Verdict
from keelturn.plan.document import PlanDocument, conditions_of
from keelturn.plan.proposal import Proposal, propose
from keelturn.plan.sequence import PlanAnswer, compute_plan, starts_above_the_lowest
from keelturn.progress.habits import fault_trends, standards_reached
from keelturn.progress.lessons import FREE, Lesson, laid_out, lesson_of
from keelturn.progress.next_lesson import ended_badly, next_lesson, sequence_for
from keelturn.school.place import Place
from keelturn.school.standards import Standards

# Figures are laid out this far under the top until their heights are computed.
BELOW_TOP_FT = 500.0


@dataclass(frozen=True)
class Setting:
    """Who flies what, when: all that a plan depends on besides its lesson and its place. flown: the student's
    attempts, lesson by lesson, oldest first."""

    card: Card
    standards: Standards
    stage: Stage
    load: Load
    parachute_days: float | None
    off_blocks: datetime | None
    flown: Sequence[Sequence[Attempt]] = ()

    def conditions(self, plan: PlanDocument, place: Place) -> Conditions:
        return conditions_of(
            plan, self.card, place, self.standards, self.stage, self.parachute_days, self.off_blocks
        )


@dataclass(frozen=True, slots=True)
class FirstPlan:
    """plan: with its heights; place: which of those given, from 0; fits: nothing stops it; why: lesson, what
    differs from it, place, heights, in that order."""

    lesson: Lesson
    place: int
    plan: PlanDocument
    fits: bool
    why: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _AtPlace:
    """The lesson laid out at one place. here: what stops it there; anywhere: what would at any place, in
    words."""

    plan: PlanDocument
    conditions: Conditions
    differs: tuple[str, ...]
    here: list[str]
    anywhere: list[str]


def laid_out_above_the_lowest(lesson: Lesson, setting: Setting, place: Place) -> PlanDocument:
    """The lesson as it is, each figure a little above its lowest start. Raises ValueError when the load does
    not fit the card."""
    figures = laid_out(lesson, place.top_ft - BELOW_TOP_FT)
    plan = PlanDocument(load=setting.load, lesson=lesson.key, figures=figures)
    return starts_above_the_lowest(plan, setting.conditions(plan, place))


def first_plan(lesson_key: str | None, setting: Setting, places: Sequence[Place]) -> FirstPlan:
    """lesson_key None: the next of the syllabus; 'free': no figures yet. places: at least one. Raises
    ValueError for a lesson that there is not, and when the load does not fit the card."""
    if lesson_key == FREE.key:
        plan = PlanDocument(load=setting.load, lesson=FREE.key, figures=())
        return FirstPlan(FREE, 0, plan, True, ("Free: add the figures yourself.",))
    lesson, why = _lesson(lesson_key, setting)
    tried: list[tuple[Place, _AtPlace, Proposal]] = []
    for at, place in enumerate(places):
        laid = _laid_at(place, lesson, setting)
        before = _not([other.name for other, _, _ in tried])
        if not laid.here:
            words = (
                f"{place.name}{before}: every figure keeps its floor with something to spare, in the order of"
                " the lesson."
            )
            whole = (*why, *laid.differs, words, *laid.anywhere)
            return FirstPlan(lesson, at, laid.plan, not laid.anywhere, whole)
        proposal = _way_out(laid)
        if _fits_as_it_is(proposal, laid):
            assert proposal.plan is not None
            as_the_lesson = [f.id for f in proposal.plan.figures] == [f.id for f in laid.plan.figures]
            how = "in the order of the lesson, with less to spare" if as_the_lesson else "in another order"
            words = f"{place.name}{before}: {how}, it fits."
            whole = (*why, *laid.differs, words, *laid.anywhere)
            return FirstPlan(lesson, at, proposal.plan, not laid.anywhere, whole)
        tried.append((place, laid, proposal))
    place, laid, proposal = tried[0]
    out = f" The smallest way out: {proposal.changes[0]}." if proposal.changes else ""
    words = f"No place takes it as it is. {place.name}: {proposal.why}{out}"
    return FirstPlan(lesson, 0, laid.plan, False, (*why, *laid.differs, words))


def _lesson(key: str | None, setting: Setting) -> tuple[Lesson, tuple[str, ...]]:
    """The one asked for, or the next of the syllabus with why."""
    if key is not None:
        return lesson_of(key), ()
    reached = {r.figure: r.grade for r in standards_reached(setting.flown)}
    found = next_lesson(reached, setting.stage, setting.card)
    return found.lesson, found.why


def _laid_at(place: Place, lesson: Lesson, setting: Setting) -> _AtPlace:
    """The lesson's figures for this student, each a little above its lowest start."""
    flown = setting.flown
    figures, differs = sequence_for(
        lesson, place.top_ft - BELOW_TOP_FT, fault_trends(flown), ended_badly(flown)
    )
    plan = PlanDocument(load=setting.load, lesson=lesson.key, figures=figures)
    conditions = setting.conditions(plan, place)
    plan = starts_above_the_lowest(plan, conditions)
    return _AtPlace(plan, conditions, differs, *_stops(compute_plan(plan, conditions)))


def _way_out(laid: _AtPlace) -> Proposal:
    """The proposal; one without a plan where the card cannot be asked."""
    try:
        return propose(laid.plan, laid.conditions)
    except ValueError as error:
        return Proposal(None, False, (), 0.0, 0.0, f"{error}.")


def _fits_as_it_is(proposal: Proposal, laid: _AtPlace) -> bool:
    """Whether the same figures fit in another order, with nothing changed."""
    if proposal.plan is None or proposal.changes:
        return False
    return not _stops(compute_plan(proposal.plan, laid.conditions))[0]


def _stops(answer: PlanAnswer) -> tuple[list[str], list[str]]:
    """What stops the plan at this place, and what would stop it at any (the day, the aircraft, the people),
    in words."""
    stops = [c for c in answer.checks if c.verdict == Verdict.STOP and c.overridden is None]
    here = [c for c in stops if c.change in (Change.SEQUENCE, Change.LOAD)]
    return [c.sentence for c in here], [f"{c.title}: {c.sentence}" for c in stops if c not in here]


def _not(tried: Sequence[str]) -> str:
    return f" (it does not fit {' or '.join(tried)})" if tried else ""
