"""The five stages of a sortie, and what is still missing before each (common practice, no published
source)."""

from collections.abc import Mapping, Sequence
from enum import StrEnum
from typing import Literal, get_args

from pydantic import Field

from keelturn.assess.attempts import Attempt
from keelturn.document import Document
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief

Stage = Literal["planned", "briefed", "flown", "debriefed", "signed"]
STAGES: tuple[Stage, ...] = get_args(Stage)


class Act(StrEnum):
    """What can be done with a sortie, by those who may."""

    PLAN = "plan"
    READ = "read"
    NOTE = "note"
    GRADE = "grade"
    ASK = "ask"
    SIGN = "sign"
    CORRECT = "correct"


# In which stages each can be done.
ALLOWED: Mapping[Act, tuple[Stage, ...]] = {
    Act.PLAN: ("planned", "briefed"),
    Act.READ: ("planned", "briefed"),
    Act.NOTE: ("briefed", "flown", "debriefed"),
    Act.GRADE: ("flown", "debriefed"),
    Act.ASK: ("planned", "briefed", "flown", "debriefed"),
    Act.SIGN: ("debriefed",),
    Act.CORRECT: ("signed",),
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


class Debrief(Document):
    note: str = Field("", max_length=4000)
    next: str = Field("", max_length=500)


def missing_before(
    stage: Stage, figures: int, stops: int, brief: Brief, attempts: Sequence[Attempt], reached: Stage
) -> list[str]:
    """What must still happen before the sortie may be called `stage`; empty when nothing does."""
    found: list[str] = []
    done = STAGES.index(reached)
    if stage == "briefed":
        if figures == 0:
            found.append("Put at least one figure into the plan.")
        if stops:
            found.append(
                f"Clear {stops} stop{'s' if stops > 1 else ''} in the plan, or override with a reason."
            )
        for item in BEFORE_FLIGHT:
            if item.key not in brief.checked:
                found.append(f"Tick '{item.words}' on the before-flight list.")
    elif stage == "flown":
        if done < STAGES.index("briefed"):
            found.append("Finish the brief first.")
        if not any(a.lost_ft is not None or a.skipped for a in attempts):
            found.append("Note the start and lowest height of at least one figure, or mark what was skipped.")
    elif stage == "debriefed":
        if done < STAGES.index("flown"):
            found.append("Mark the sortie as flown first.")
        open_grades = sum(a.grade is None for a in attempts if not a.skipped)
        if open_grades:
            found.append(f"Grade {open_grades} attempt{'s' if open_grades > 1 else ''}.")
    elif stage == "signed" and done < STAGES.index("debriefed"):
        found.append("Finish the debrief first.")
    return found
