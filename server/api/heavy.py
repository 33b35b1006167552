"""Questions that cost seconds: asked of the core in a worker's process (server/workers.py), answered as the
bytes that are sent. They know no database."""

from collections.abc import Mapping, Sequence
from datetime import datetime

from cachetools import LRUCache, cached
from pydantic import TypeAdapter

from keelturn.aircraft.card import Card
from keelturn.assess.flight import Judged
from keelturn.assess.technique import Technique, technique_of
from keelturn.document import Wrong
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import refusal_of, refused
from keelturn.formats.recorded import Debriefed, HowToRead, debriefed, read_for
from keelturn.margins.blank_costs import blank_costs
from keelturn.plan.document import Override, PlanDocument
from keelturn.plan.figure_answer import FigureAnswer
from keelturn.plan.proposal import differences, propose
from keelturn.plan.sequence import PlanAnswer, begun_inside, compute_plan
from keelturn.plan.what_if import CloserLook, closer_look
from keelturn.progress.first_plan import FirstPlan, Setting, first_plan
from keelturn.progress.spin_beside import spin_beside
from keelturn.progress.spins_flown import SpinFlown
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.mapping import ColumnMap
from keelturn.recording.reading import read_recording
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.working import Answer, answer_at
from server.api.plan_schemas import FitOut
from server.api.school_schemas import BlanksOut, SpinsOut
from server.api.thin import Thin
from server.school.operations.computing import computed, with_overrides

PLAN_ANSWER, LOOK, FIT = Thin(PlanAnswer), Thin(CloserLook), Thin(FitOut)
WORKING, SPINS, BLANKS = TypeAdapter(Answer), TypeAdapter(SpinsOut), TypeAdapter(BlanksOut)
# Up to so many figures are computed where the question arrives: it costs less than sending it.
FEW_FIGURES = 15


def previewed(plan: PlanDocument, conditions: Conditions, by: str, stored: Sequence[Override]) -> bytes:
    """Raises Refused when a figure asks for a school that does not fit."""
    return PLAN_ANSWER.dump_json(draft_computed(plan, conditions, by, stored))


def draft_computed(
    plan: PlanDocument, conditions: Conditions, by: str, stored: Sequence[Override]
) -> PlanAnswer:
    """Raises Refused when a figure asks for a school that does not fit."""
    return with_overrides(by, plan, stored, computed(plan, conditions))[1]


def why_of_draft(
    place: str, plan: PlanDocument, conditions: Conditions, by: str, stored: Sequence[Override]
) -> bytes:
    """Raises Refused where there is no such number."""
    return working_at({"answer": draft_computed(plan, conditions, by, stored)}, place)


def why_of_look(place: str, figure: PlannedFigure, conditions: Conditions) -> bytes:
    """Raises Refused where there is no such number."""
    return working_at({"look": closer_look(figure, conditions)}, place)


def working_at(computed: Mapping[str, object], place: str) -> bytes:
    """The number at a place of what was computed, with all its working. Raises Refused."""
    try:
        return WORKING.dump_json(answer_at(computed, place))
    except (LookupError, ValueError) as error:
        raise refused("at", "there is no number at this place", "Ask for one that was sent.") from error


def looked_at(figure: PlannedFigure, conditions: Conditions) -> bytes:
    """Raises Refused for one that the card cannot be asked about."""
    try:
        return LOOK.dump_json(closer_look(figure, conditions))
    except ValueError as error:
        raise refused("figure", str(error), "Choose another figure or another aircraft.") from error


def fitted(plan: PlanDocument, conditions: Conditions, by: str, stored: Sequence[Override]) -> bytes:
    """Raises Refused where a figure cannot be computed."""
    try:
        proposed = propose(plan, conditions)
    except ValueError as error:
        raise refused(
            "plan.figures", str(error), "Leave that figure out, or choose another aircraft."
        ) from error
    answer = None if proposed.plan is None else computed(proposed.plan, conditions)
    if proposed.plan is not None and answer is not None:
        answer = with_overrides(by, proposed.plan, stored, answer)[1]
    return FIT.dump_json(
        FitOut.model_construct(
            fits=proposed.fits,
            why=proposed.why,
            headline=proposed.headline,
            differences=list(differences(plan, proposed)),
            plan=proposed.plan,
            answer=answer,
        )
    )


def recording_read(
    content: bytes,
    how: HowToRead,
    plan: Sequence[PlannedFigure],
    conditions: Conditions,
    device: str,
    at: datetime,
) -> Debriefed:
    """Raises Refused where nothing of it can be read."""
    try:
        return debriefed(content, how, plan, conditions, device, at)
    except Wrong as wrong:
        raise refusal_of(wrong) from wrong


def when_recorded(content: bytes, columns: ColumnMap | None) -> tuple[datetime | None, str]:
    """When its first row was and what it calls its aircraft, None and empty where it does not say, or where
    it has to be told first which column is what. Raises Refused where nothing of it can be read."""
    try:
        reading = read_recording(content, columns)
    except Wrong as wrong:
        if all(where == "columns" for where, *_ in wrong.problems):
            return None, ""
        raise refusal_of(wrong) from wrong
    return reading.flights[0].first_at, reading.aircraft


def technique_recorded(
    digest: str,
    content: bytes,
    how: HowToRead,
    plan: Sequence[PlannedFigure],
    conditions: Conditions,
    attempt: str,
    device: str,
) -> Technique | None:
    """None where nothing that was recorded is this attempt any more: the plan is another one."""
    cleaned, judged = _read_again(digest, content, how, tuple(plan), conditions, device)
    return technique_of(judged[attempt], cleaned, conditions) if attempt in judged else None


def _as_read(
    digest: str, content: bytes, how: HowToRead, plan: object, conditions: Conditions, device: str
) -> object:
    return digest, repr(how), repr(plan), conditions.wholly, device


@cached(LRUCache(2), key=_as_read)
def _read_again(
    digest: str,
    content: bytes,
    how: HowToRead,
    plan: Sequence[PlannedFigure],
    conditions: Conditions,
    device: str,
) -> tuple[Cleaned, dict[str, Judged]]:
    """Kept for a while: the attempts of a lesson are looked at one after the other."""
    return read_for(content, how, plan, conditions, device)


def in_the_book(
    planned: PlannedFigure, conditions: Conditions, begin_inside: bool
) -> tuple[FigureAnswer | None, CloserLook | None, str | None]:
    """The figure computed and looked at closely, or why it cannot be."""
    try:
        planned = begun_inside(planned, conditions) if begin_inside else planned
        plan = PlanDocument(load=conditions.load, day=conditions.day, figures=(planned,))
        found = compute_plan(plan, conditions)
        if found.figures:
            return found.figures[0], closer_look(planned, conditions), None
        return None, None, next(c.sentence for c in found.checks if c.figure == planned.id)
    except ValueError as error:
        return None, None, str(error)


def first_planned(lesson_key: str | None, setting: Setting, places: Sequence[Place]) -> FirstPlan:
    """Raises Refused for a lesson that there is not, for the next one of who is in no course, and when the
    load does not fit the card."""
    try:
        return first_plan(lesson_key, setting, places)
    except ValueError as error:
        do = "Choose a lesson, or put the student into a course first, on their page."
        raise refused("lesson", str(error), do) from error


def blanks_costed(card: Card, standards: Standards) -> bytes:
    return BLANKS.dump_json(BlanksOut(costs=list(blank_costs(card, standards))))


def spin_looked_at(version: int, card: Card, spins: Sequence[SpinFlown]) -> bytes:
    """Raises Refused where the card has no spin section, or none comes near what was flown."""
    try:
        return SPINS.dump_json(SpinsOut(version=version, beside=spin_beside(card, spins)))
    except Wrong as error:
        raise refusal_of(error) from error
