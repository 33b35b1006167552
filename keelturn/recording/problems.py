"""What of a file could not be read: line, place, reason, and what to do, the first few of each kind and how
many there are."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray


class Unread(StrEnum):
    NO_NUMBER = "no number"
    NOT_FINITE = "not finite"
    BEYOND = "beyond the sensor"
    NO_TIME = "no time"
    BACK = "time goes back"
    REPEATED = "repeated"
    SAME_TIME = "same time"
    TOO_FEW = "too few fields"
    TOO_MANY = "too many fields"
    NOT_OF_THIS_FORM = "not of this form"


# What is wrong, and what was done and can be done about it.
WORDS: Mapping[Unread, tuple[str, str]] = {
    Unread.NO_NUMBER: (
        "'{text}' is not a number",
        "The field is left out. If all are like this, check the decimal mark and which column is what.",
    ),
    Unread.NOT_FINITE: ("'{text}' is no measurement", "The field is left out."),
    Unread.BEYOND: (
        "{text} is more than the sensor can have measured",
        "The field is left out. If all are like this, check the unit.",
    ),
    Unread.NO_TIME: ("'{text}' is not a time", "The row is left out."),
    Unread.BACK: ("the time goes back, to {text}", "The row is left out."),
    Unread.REPEATED: ("the row stands twice", "It is read once."),
    Unread.SAME_TIME: ("a second row at {text} says something else", "The first one is kept."),
    Unread.TOO_FEW: ("the line breaks off: {text} fields", "What there is of it is read."),
    Unread.TOO_MANY: (
        "the line has too many fields: {text}",
        "The first ones are read. If all are like this, the numbers may have a decimal comma and the fields"
        " too: export with semicolons.",
    ),
    Unread.NOT_OF_THIS_FORM: ("{text}", "The line is left out."),
}


@dataclass(frozen=True, slots=True)
class Problem:
    """line: counted from 1; None where the file has no lines. header: the column as the file calls it."""

    kind: Unread
    line: int | None
    header: str
    what: str
    do: str


@dataclass(slots=True)
class Problems:
    """first: at most `most` of each kind; counts: how many there are."""

    most: int = 12
    first: list[Problem] = field(default_factory=list)
    counts: dict[Unread, int] = field(default_factory=dict)

    def add(
        self,
        kind: Unread,
        lines: "NDArray[np.intp] | Sequence[int | None]",
        header: str,
        texts: Sequence[str],
    ) -> None:
        """texts: what stands there, of the first ones."""
        if not len(lines):
            return
        room = max(0, self.most - sum(one.kind == kind for one in self.first))
        what, do = WORDS[kind]
        for line, text in list(zip(lines, texts, strict=False))[:room]:
            self.first.append(
                Problem(kind, None if line is None else int(line), header, what.format(text=text[:60]), do)
            )
        self.counts[kind] = self.counts.get(kind, 0) + len(lines)
