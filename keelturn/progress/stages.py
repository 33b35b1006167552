"""The five stages of a sortie, and what is still missing before each (common practice, no published
source)."""

from collections.abc import Sequence
from typing import Literal, get_args

from pydantic import Field

from keelturn.assess.attempts import Attempt
from keelturn.document import Document
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief

Stage = Literal["planned", "briefed", "flown", "debriefed", "signed"]
STAGES: tuple[Stage, ...] = get_args(Stage)


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
