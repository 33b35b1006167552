"""Figures of a recording as somebody marked them: where each begins and ends, and which it was. They stand in
the place of those that were found: an edge shifted, one renamed, two made one, one made two."""

from collections.abc import Iterator, Sequence

import numpy as np
from pydantic import Field, field_validator

from keelturn.document import Document, Trouble, Wrong
from keelturn.figures.catalogue import BY_KEY
from keelturn.figures.figure import Side
from keelturn.figures.planned import PlannedFigure
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.finding import Found
from keelturn.recording.ways import InPlan

# A figure is not shorter (s); marks of one recording at most.
SHORTEST_S, MOST = 1.0, 200


class Mark(Document):
    """Seconds on the recording's own clock. planned: id of the figure of the plan that it is; null for one
    that was not planned."""

    begins_s: float = Field(ge=-1e6, le=1e9)
    ends_s: float = Field(ge=-1e6, le=1e9)
    key: str
    side: Side = "left"
    planned: str | None = Field(None, max_length=40)

    @field_validator("key", mode="after")
    @classmethod
    def key_is_a_figure(cls, key: str) -> str:
        if key not in BY_KEY:
            raise Wrong(("key", f"there is no figure '{key}'", "Choose one of the catalogue."))
        return key


def marked(cleaned: Cleaned, plan: Sequence[PlannedFigure], marks: Sequence[Mark]) -> tuple[Found, ...]:
    """In the order flown, each as sure as who marked it. Raises Wrong with every mark that cannot be."""
    time = cleaned.flown.time
    in_order = sorted(marks, key=lambda mark: mark.begins_s)
    if wrong := tuple(_wrong(in_order, float(time[0]), float(time[-1]), {f.id for f in plan})):
        raise Wrong(*wrong)
    by_id = {figure.id: figure for figure in plan}
    seen: set[str] = set()
    found = []
    for number, mark in enumerate(in_order):
        first, last = (int(row) for row in np.searchsorted(time, [mark.begins_s, mark.ends_s]))
        last = min(last, len(time) - 1)
        if mark.planned is not None:
            figure = by_id[mark.planned].model_copy(update={"side": mark.side})
            place = InPlan.AGAIN if mark.planned in seen else InPlan.PLANNED
            seen.add(mark.planned)
        else:
            start = float(np.clip(cleaned.flown.height[first], 0.0, 30000.0))
            figure = PlannedFigure(id=f"marked-{number}", key=mark.key, side=mark.side, start_ft=start)
            place = InPlan.UNPLANNED
        found.append(Found(first, last, figure, mark.planned, place, 1.0, ()))
    return tuple(found)


def _wrong(marks: Sequence[Mark], begins_s: float, ends_s: float, ids: set[str]) -> Iterator[Trouble]:
    for number, mark in enumerate(marks):
        where = f"figures[{number}]"
        if mark.ends_s - mark.begins_s < SHORTEST_S:
            yield where, f"it lasts {mark.ends_s - mark.begins_s:.1f} s", "Make it a second long at least."
        if mark.begins_s < begins_s - 1e-6 or mark.ends_s > ends_s + 1e-6:
            yield where, "it reaches beyond the recording", f"Keep it from {begins_s:.1f} to {ends_s:.1f} s."
        if mark.planned is not None and mark.planned not in ids:
            yield (
                where,
                "this figure is not in the plan any more",
                "Choose another, or one that was not planned.",
            )
        if number and mark.begins_s < marks[number - 1].ends_s - 1e-6:
            yield where, "it begins before the one before it has ended", "Shift an edge."
