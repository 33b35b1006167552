"""The student's sheet: one page of what was flown, how it went in height pictures, one thing to change, and
what comes next."""

from collections.abc import Sequence
from io import BytesIO
from typing import Any

from django.utils import timezone

from keelturn.figures.catalogue import figure_of
from keelturn.formats.signed import Record
from keelturn.noting.attempt import Attempt
from server.school.handouts.card import words_set

MARGIN = 40.0
# Most attempts in the picture and the table, so that the page stays one; the record has them all.
ON_A_PAGE = 14
PICTURE = 230.0
CAUTION = (
    "A training record. It grants nothing and promises nothing: the flight manual, local rules and your"
    " instructor come first. Heights in ft on QNH."
)


def sheet_pdf(record: Record, corrections: Sequence[str] = ()) -> bytes:
    """corrections: what was corrected since it was signed, in words."""
    from reportlab.lib.pagesizes import A4
    from reportlab.platypus import KeepInFrame, SimpleDocTemplate, Spacer

    width, height = A4[0] - 2 * MARGIN, A4[1] - 2 * MARGIN
    shown = record.attempts[:ON_A_PAGE]
    signed = (
        f"Signed by {record.signed_by}, {timezone.localtime(record.signed_at):%a %d %b %Y %H:%M %Z}."
        if record.signed_at is not None
        else "Not signed: this can still change."
    )
    left_out = len(record.attempts) - len(shown)
    story = [
        words_set(f"{record.student}: {record.lesson_name}", "big"),
        words_set(
            f"{timezone.localtime(record.planned_for):%a %d %b %Y %H:%M %Z} · {record.aircraft}"
            f" {record.card.name} · {record.place.name} · instructor {record.instructor}"
        ),
        Spacer(1, 10),
        *_one_thing(record),
        Spacer(1, 8),
        _picture(shown, record, width),
        words_set(
            "Each bar runs from the start to the lowest height: solid as flown, outlined as briefed from the"
            " same start.",
            "small",
        ),
        Spacer(1, 8),
        _table(shown, record, width),
        *([words_set(f"and {left_out} more in the record", "small")] if left_out else []),
        Spacer(1, 8),
        *([words_set(record.debrief.note), Spacer(1, 6)] if record.debrief.note else []),
        *_of_each(shown),
        words_set(f"Next lesson: {record.debrief.next or 'not said'}", "bold"),
        Spacer(1, 8),
        *(words_set(f"Corrected since: {words}", "bold") for words in corrections),
        words_set(signed, "small"),
        words_set(CAUTION, "small"),
    ]
    out = BytesIO()
    SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN - 6,
        bottomMargin=MARGIN - 6,
        author=record.instructor,
        title=f"{record.student}, {record.lesson_name}",
        creator="Keel Turn",
    ).build([KeepInFrame(width, height, story, mode="shrink")])
    return out.getvalue()


def _one_thing(record: Record) -> list[Any]:
    said = record.debrief.one_thing
    return [words_set("One thing", "small"), words_set(said, "big")] if said else []


def _of_each(attempts: Sequence[Attempt]) -> list[Any]:
    """What was said of each figure: the faults that were noted, the instructor's words, the student's."""
    from reportlab.platypus import Spacer

    found: list[Any] = []
    for n, attempt in enumerate(attempts, start=1):
        figure = figure_of(attempt.planned.key)
        parts = [fault.words for fault in figure.faults if fault.key in attempt.faults]
        parts += [attempt.said] if attempt.said else []
        parts += [f"In your words: {attempt.surprise}"] if attempt.surprise else []
        if parts:
            words = "; ".join(part.rstrip(".") for part in parts)
            found.append(words_set(f"{n} {attempt.planned.title}: {words}."))
    return [*found, Spacer(1, 8)] if found else []


def _picture(attempts: Sequence[Attempt], record: Record, width: float) -> Any:
    """Bars side by side to one scale of heights, above the floor of the flight."""
    from reportlab.graphics.shapes import Drawing, Line, Rect
    from reportlab.lib import colors

    drawing = Drawing(width, PICTURE)
    flown = [a for a in attempts if a.start_ft is not None and a.lost_ft is not None]
    if not flown:
        drawing.add(_label(0, PICTURE / 2, "No heights were noted.", 9))
        return drawing
    floor = record.answer.floor.value
    lowest = min([floor, *(a.lowest_ft or floor for a in flown)]) - 150.0
    highest = max(a.start_ft or 0.0 for a in flown) + 150.0
    left, base, top = 34.0, 12.0, PICTURE - 8.0

    def y(feet: float) -> float:
        return base + (feet - lowest) / max(1.0, highest - lowest) * (top - base)

    for feet in range(int(lowest // 500 + 1) * 500, int(highest) + 1, 500):
        drawing.add(Line(left, y(feet), width, y(feet), strokeColor=colors.lightgrey, strokeWidth=0.5))
        drawing.add(_label(left - 4, y(feet) - 3, f"{feet:,}", 7, "end"))
    drawing.add(Line(left, y(floor), width, y(floor), strokeColor=colors.black, strokeWidth=1.2))
    drawing.add(_label(width, y(floor) + 2, f"floor {record.answer.floor.number}", 7, "end"))
    as_flown = {"fillColor": colors.HexColor("#6A3B8F"), "strokeColor": None}
    as_briefed = {"fillColor": None, "strokeColor": colors.black, "strokeDashArray": [2, 2]}
    step = (width - left) / len(flown)
    bar = min(step * 0.25, 26.0)
    for n, attempt in enumerate(flown):
        account, start = record.accounts.get(attempt.id), attempt.start_ft or 0.0
        x = left + (n + 0.5) * step
        if account is not None:
            low = y(start - account.planned.value)
            drawing.add(Rect(x - bar - 1, low, bar, y(start) - low, **as_briefed))
        low = y(start - (attempt.lost_ft or 0.0))
        drawing.add(Rect(x + 1, low, bar, y(start) - low, **as_flown))
        drawing.add(_label(x, 1, str(1 + attempts.index(attempt)), 8, "middle"))
    return drawing


def _label(x: float, y: float, text: str, points: float, anchor: str = "start") -> Any:
    from reportlab.graphics.shapes import String

    return String(x, y, text, fontName="Helvetica", fontSize=points, textAnchor=anchor)


def _table(attempts: Sequence[Attempt], record: Record, width: float) -> Any:
    from reportlab.platypus import Table

    from server.school.handouts.card import ruled

    head = ("", "Figure", "Who flew", "Lost", "Briefed", "Grade", "Your own")
    rows = [[words_set(text, "small") for text in head]]
    for n, attempt in enumerate(attempts, start=1):
        account = record.accounts.get(attempt.id)
        rows.append(
            [
                words_set(text)
                for text in (
                    str(n),
                    attempt.planned.title,
                    "skipped" if attempt.skipped else str(attempt.flown_by),
                    "" if account is None else account.flown.shown,
                    "" if account is None else account.planned.shown,
                    attempt.grade or "",
                    attempt.own_grade or "",
                )
            ]
        )
    widths = [width * share for share in (0.05, 0.29, 0.20, 0.11, 0.11, 0.12, 0.12)]
    return Table(rows, colWidths=widths, style=ruled(), repeatRows=1)
