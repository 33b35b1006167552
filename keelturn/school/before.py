"""What should come before a lesson and has not, and whether it stops the flight: the chief decides for each
(common practice, no published source)."""

from dataclasses import dataclass
from typing import Literal

from keelturn.document import Document, told

Says = Literal["stop", "caution"]
Item = Literal["standing", "ground", "tasks", "brief", "type", "away", "again", "next"]


class BeforeALesson(Document):
    """What each becomes where it is missing. The first three are the prerequisites of the lesson's course."""

    standing: Says = told("Standing below the lesson's", "", "stop")
    ground: Says = told("Ground items not done", "", "stop")
    tasks: Says = told("Tasks that come before it", "", "stop")
    brief: Says = told("Brief not read", "", "caution")
    type: Says = told("First flight on the type", "", "caution")
    away: Says = told("Long without a flight", "", "caution")
    again: Says = told("Third time without progress", "", "caution")
    next: Says = told("Another lesson comes next", "", "caution")


@dataclass(frozen=True, slots=True)
class Missing:
    """One of them, missing. number: how much of it, in `unit`, and in words (`short`); an override holds for
    that much. source: where it is asked for."""

    item: Item
    title: str
    words: str
    do: str
    number: float
    unit: str
    short: str
    source: str
