"""The card for the kneeboard: black and white, one or two small pages, to be read at arm's length."""

from io import BytesIO
from typing import Any, Literal

from django.utils import timezone

from keelturn.formats.signed import Record
from keelturn.plan.document import PlanDocument
from keelturn.plan.figure_answer import FigureAnswer
from keelturn.plan.sequence import PlanAnswer
from server.school.handouts.letters import marked_up

Paper = Literal["a5", "half-letter"]
# Points. A pilot's eye is 28 inches from the knee: figures that decide are 15 point and bold, nothing is
# under 7.5.
BIG, MIDDLE, SMALL = 15.0, 9.5, 7.5
MARGIN = 20.0
CAUTION = (
    "A training aid. The flight manual, local rules and your instructor come first. Heights in ft on QNH."
)


def card_pdf(record: Record, paper: Paper = "a5") -> bytes:
    from reportlab.lib.pagesizes import A5
    from reportlab.platypus import SimpleDocTemplate, Spacer

    size = A5 if paper == "a5" else (396.0, 612.0)
    width = size[0] - 2 * MARGIN
    plan, answer = record.plan, record.answer
    between = next((page.lines for page in record.brief_pages if page.key == "between"), ())
    story = [
        *([words_set(f"CANCELLED: {record.cancelled}", "bold")] if record.cancelled else []),
        words_set(f"{record.student}: {record.lesson_name}", "bold"),
        words_set(_who_and_where(record), "small"),
        Spacer(1, 4),
        _heights(plan, answer, width),
        Spacer(1, 3),
        words_set(_speeds_and_wind(plan, answer)),
        Spacer(1, 4),
        _figures(answer, width),
        *([words_set(answer.unseen, "bold")] if answer.unseen else []),
        Spacer(1, 5),
        words_set("Between: " + " ".join(between), "small"),
        Spacer(1, 3),
        *(words_set(line, "small") for line in _spoken(answer)),
        Spacer(1, 4),
        words_set('"You have control." "I have control." Anybody says stop: it stops.', "bold"),
        words_set(CAUTION, "small"),
    ]
    out = BytesIO()
    SimpleDocTemplate(
        out,
        pagesize=size,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN,
        bottomMargin=MARGIN,
        author=record.instructor,
        title=f"Card, {record.student}, {record.lesson_name}",
        creator="Keel Turn",
    ).build(story)
    return out.getvalue()


FONTS = {
    "big": ("Helvetica-Bold", BIG),
    "middle": ("Helvetica", MIDDLE),
    "bold": ("Helvetica-Bold", MIDDLE + 1),
    "small": ("Helvetica", SMALL),
}


def words_set(text: str, kind: str = "middle") -> Any:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph

    font, points = FONTS[kind]
    style = ParagraphStyle(kind, fontName=font, fontSize=points, leading=points * 1.18)
    return Paragraph(marked_up(text, bold=font.endswith("Bold")), style)


def ruled() -> Any:
    from reportlab.lib import colors
    from reportlab.platypus import TableStyle

    everywhere = (0, 0), (-1, -1)
    return TableStyle(
        [
            ("VALIGN", *everywhere, "MIDDLE"),
            ("INNERGRID", *everywhere, 0.5, colors.black),
            ("BOX", *everywhere, 1.2, colors.black),
            ("LEFTPADDING", *everywhere, 3),
            ("RIGHTPADDING", *everywhere, 3),
            ("TOPPADDING", *everywhere, 1.5),
            ("BOTTOMPADDING", *everywhere, 2.5),
        ]
    )


def _who_and_where(record: Record) -> str:
    when = f"{timezone.localtime(record.planned_for):%a %d %b %H:%M %Z}"
    return f"{record.aircraft} {record.card.name}, {record.place.name}, {when}, {record.instructor}"


def _heights(plan: PlanDocument, answer: PlanAnswer, width: float) -> Any:
    from reportlab.platypus import Table

    heights = [("Floor", answer.floor.number), (answer.block_top.label, answer.block_top.number)]
    if answer.leave is not None:
        heights.append(("Leave at", answer.leave.number))
    heights.append(("QNH", "—" if plan.day.qnh_hpa is None else f"{plan.day.qnh_hpa:.0f}"))
    labels, numbers = (
        [words_set(label, "small") for label, _ in heights],
        [words_set(n, "big") for _, n in heights],
    )
    return Table([labels, numbers], colWidths=[width / len(heights)] * len(heights), style=ruled())


def _speeds_and_wind(plan: PlanDocument, answer: PlanAnswer) -> str:
    day = plan.day
    from_deg = "—" if day.wind_from_deg is None else f"{day.wind_from_deg:03.0f}"
    wind = "wind —" if day.wind_kt is None else f"wind {from_deg}/{day.wind_kt:.0f} kt"
    speeds = f"Va {answer.manoeuvring.shown}, stall {answer.stall.shown}"
    return (
        f"{speeds}, {answer.weight.shown}, {answer.minutes.shown}, {wind}, work along"
        f" {answer.drift.work_along.shown}"
    )


def _figures(answer: PlanAnswer, width: float) -> Any:
    from reportlab.platypus import Table

    head = [words_set(text, "small") for text in ("Figure", "Start", "Lowest start", "Enter", "My controls")]
    rows = [_row(n, figure) for n, figure in enumerate(answer.figures, start=1)]
    widths = [width * share for share in (0.40, 0.155, 0.145, 0.15, 0.15)]
    return Table([head, *rows], colWidths=widths, style=ruled(), repeatRows=1)


def _row(n: int, figure: FigureAnswer) -> list[Any]:
    loss = f"loses {figure.likely.number}, 19 times in 20 {figure.worst.number}; {figure.power}"
    lowest, entry, controls = figure.lowest_start.number, figure.entry.shown, figure.take_over.number
    return [
        [words_set(f"{n} {figure.title}", "bold"), words_set(loss, "small")],
        words_set(figure.start.number, "big"),
        *(words_set(text, "bold") for text in (lowest, entry, controls)),
    ]


def _spoken(answer: PlanAnswer) -> list[str]:
    """The words of each figure; those of several figures once, with their numbers."""
    said: dict[str, list[str]] = {}
    for n, figure in enumerate(answer.figures, start=1):
        said.setdefault(f"{figure.spoken} {figure.school_words}".strip(), []).append(str(n))
    return [f"{', '.join(numbers)}: {line}" for line, numbers in said.items() if line]
