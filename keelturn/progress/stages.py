"""The five stages of a sortie, and what is still missing before each (common practice, no published
source)."""

from collections.abc import Mapping, Sequence
from enum import StrEnum
from typing import Literal, get_args

from pydantic import Field

from keelturn.document import Document, told
from keelturn.noting.attempt import Attempt, disagreements
from keelturn.noting.earned import EARNED, lacks_a_reason, not_earned
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief

Stage = Literal["planned", "briefed", "flown", "debriefed", "signed"]
STAGES: tuple[Stage, ...] = get_args(Stage)


class Act(StrEnum):
    """What can be done with a sortie, by those who may."""

    PLAN = "plan"
    READ = "read"
    NOTE = "note"
    GRADE = "grade"
    OWN_VIEW = "own_view"
    ASK = "ask"
    SIGN = "sign"
    CORRECT = "correct"
    SHEET = "sheet"
    BOOK = "book"
    HAND_OVER = "hand_over"


# In which stages each can be done.
ALLOWED: Mapping[Act, tuple[Stage, ...]] = {
    Act.PLAN: ("planned", "briefed"),
    Act.READ: ("planned", "briefed"),
    Act.NOTE: ("briefed", "flown", "debriefed"),
    Act.GRADE: ("flown", "debriefed"),
    Act.OWN_VIEW: ("briefed", "flown", "debriefed"),
    Act.ASK: ("planned", "briefed", "flown", "debriefed"),
    Act.SIGN: ("debriefed",),
    Act.CORRECT: ("signed",),
    Act.SHEET: ("signed",),
    Act.BOOK: ("planned", "briefed"),
    # The instructor of what was flown is gone: another grades and signs it.
    Act.HAND_OVER: ("flown", "debriefed"),
}


def allowed(act: Act, stage: Stage) -> bool:
    return stage in ALLOWED[act]


def reached(stage: Stage) -> tuple[Stage, ...]:
    """The stages a sortie has come to, the first left out."""
    return STAGES[1 : STAGES.index(stage) + 1]


def next_by_hand(stage: Stage) -> Stage | None:
    """What an instructor marks next; a sortie is signed with a password, not marked."""
    after = STAGES.index(stage) + 1
    return STAGES[after] if after < STAGES.index("signed") else None


class MarkedMoment(Document):
    """A moment of a recorded attempt that somebody put a word to. at_s: since the figure began."""

    attempt: str = Field(min_length=1, max_length=40)
    at_s: float = Field(ge=-600, le=6000)
    word: str = Field(min_length=1, max_length=60)


class Debrief(Document):
    note: str = told("Note on the flight", "", "", max_length=4000)
    one_thing: str = told("One thing", "", "", max_length=400)
    next: str = told("Next", "", "", max_length=500)
    feel: int | None = told("Feel at the end", "", None, ge=0, le=10)
    flight_min: float | None = told(
        "In the air", "min", None, ge=0, le=600, description="Off the ground to landing; counts as hours"
    )
    moments: tuple[MarkedMoment, ...] = told("Moments", "", (), hidden=True, max_length=100)


def missing_before(
    stage: Stage, figures: int, stops: int, brief: Brief, attempts: Sequence[Attempt], reached: Stage
) -> list[str]:
    """What must still happen before the sortie may be called `stage`; empty when nothing does. stops: those
    of the plan that nobody has overridden."""
    found: list[str] = []
    before = STAGES[STAGES.index(stage) - 1]
    if STAGES.index(reached) < STAGES.index(before):
        found.append(FINISH_FIRST[before])
        if stage == "signed":
            return found
    if stage == "briefed" and stops:
        found.append(f"Clear {stops} stop{'s' if stops > 1 else ''} in the plan, or override with a reason.")
    needed = (stage,) if stage != "signed" else STAGES[1:4]
    return found + [words for each in needed for words in _sheets_lack(each, figures, brief, attempts)]


FINISH_FIRST: Mapping[Stage, str] = {
    "planned": "Plan it first.",
    "briefed": "Finish the brief first.",
    "flown": "Mark the sortie as flown first.",
    "debriefed": "Finish the debrief first.",
}


def _sheets_lack(stage: Stage, figures: int, brief: Brief, attempts: Sequence[Attempt]) -> list[str]:
    """What a stage needs of the sheets, then and for as long as the sortie is in it or beyond."""
    if stage == "briefed":
        found = [] if figures else ["Put at least one figure into the plan."]
        open_items = (item for item in BEFORE_FLIGHT if item.key not in brief.checked)
        return found + [f"Tick '{item.words}' on the before-flight list." for item in open_items]
    if stage == "flown" and not any(attempt.says_something for attempt in attempts):
        return ["Note the start and lowest height of at least one figure, or mark what was skipped."]
    if stage == "debriefed":
        open_grades = sum(a.grade is None for a in attempts if a.to_the_end)
        grades = [f"Grade {open_grades} attempt{'s' if open_grades > 1 else ''}."] if open_grades else []
        unsaid = [
            f"{a.planned.title}: taken over and graded {a.grade}. Say why, or grade it Guided."
            for a in attempts
            if lacks_a_reason(a)
        ]
        not_so = [
            f"{a.planned.title}: '{a.grade}' is not earned by '{a.flown_by}'. Choose"
            f" {' or '.join(EARNED[a.flown_by])}, or correct who flew."
            for a in attempts
            if not_earned(a)
        ]
        return [*grades, *not_so, *unsaid] + [
            f"{attempt.planned.title}: {what}. {do}"
            for attempt in attempts
            for _, what, do in disagreements(attempt)
        ]
    return []


def stage_held(stage: Stage, figures: int, brief: Brief, attempts: Sequence[Attempt]) -> Stage:
    """The furthest stage, up to this one, for which the sheets still hold what it needed."""
    held: Stage = "planned"
    for each in reached(stage):
        if each != "signed" and _sheets_lack(each, figures, brief, attempts):
            break
        held = each
    return held


def back_from(stage: Stage) -> tuple[Stage, ...]:
    """The stages to which a sortie can be taken back: what was flown stays flown."""
    least = STAGES.index("flown" if STAGES.index(stage) >= STAGES.index("flown") else "planned")
    return STAGES[least : STAGES.index(stage)]
