"""The card for the kneeboard: black and white, one or two small pages, to be read at arm's length."""

from collections.abc import Callable
from io import BytesIO
from typing import Any, Literal

from keelturn.plan.briefing import BETWEEN
from keelturn.plan.document import PlanDocument
from keelturn.plan.figure_answer import FigureAnswer
from keelturn.plan.sequence import PlanAnswer
from keelturn.progress.lessons import lesson_of
from server.school.models import Sortie

Paper = Literal["a5", "half-letter"]
# Points. A pilot's eye is 28 inches from the knee: figures that decide are 15 point and bold, nothing is
# under 7.5.
BIG, MIDDLE, SMALL = 15.0, 9.5, 7.5
MARGIN = 20.0
CAUTION = (
    "A training aid. The flight manual, local rules and your instructor come first. Heights in ft on QNH."
)


def card_pdf(sortie: Sortie, plan: PlanDocument, answer: PlanAnswer, paper: Paper = "a5") -> bytes:
    from reportlab.lib import colors
    from reportlab.lib.pagesizes import A5
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

    size = A5 if paper == "a5" else (396.0, 612.0)
    width = size[0] - 2 * MARGIN
    style = {
        name: ParagraphStyle(name, fontName=font, fontSize=points, leading=points * 1.18)
        for name, font, points in (
            ("big", "Helvetica-Bold", BIG),
            ("middle", "Helvetica", MIDDLE),
            ("bold", "Helvetica-Bold", MIDDLE + 1),
            ("small", "Helvetica", SMALL),
        )
    }

    def words(text: str, kind: str = "middle") -> Paragraph:
        return Paragraph(text.replace("&", "&amp;").replace("<", "&lt;"), style[kind])

    everywhere = (0, 0), (-1, -1)
    ruled = TableStyle(
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
    heights = [("Floor", answer.floor.number), (answer.block_top.label, answer.block_top.number)]
    if answer.leave is not None:
        heights.append(("Leave at", answer.leave.number))
    heights.append(("QNH", f"{plan.day.qnh_hpa:.0f}"))
    top = Table(
        [
            [words(label, "small") for label, _ in heights],
            [words(number, "big") for _, number in heights],
        ],
        colWidths=[width / len(heights)] * len(heights),
        style=ruled,
    )
    head = [words(text, "small") for text in ("Figure", "Start", "Not below", "Enter", "My controls")]
    rows = [_row(n, figure, words) for n, figure in enumerate(answer.figures, start=1)]
    figures = Table(
        [head, *rows],
        colWidths=[width * share for share in (0.40, 0.155, 0.145, 0.15, 0.15)],
        style=ruled,
        repeatRows=1,
    )
    when = f"{sortie.planned_for:%a %d %b %H:%M} UTC"
    wind = (
        f"wind {plan.day.wind_from_deg:03.0f}/{plan.day.wind_kt:.0f} kt, work along"
        f" {answer.drift.work_along.shown}"
    )
    said: dict[str, list[str]] = {}
    for n, figure in enumerate(answer.figures, start=1):
        said.setdefault(f"{figure.spoken} {figure.school_words}".strip(), []).append(str(n))
    story = [
        words(f"{sortie.student.person.name}: {lesson_of(plan.lesson).name}", "bold"),
        words(
            f"{sortie.aircraft.registration} {sortie.aircraft.card['name']}, {sortie.place.name}, {when},"
            f" {sortie.instructor.name}",
            "small",
        ),
        Spacer(1, 4),
        top,
        Spacer(1, 3),
        words(
            f"Va {answer.manoeuvring.shown}, stall {answer.stall.shown}, {answer.weight.shown},"
            f" {answer.minutes.shown}, {wind}"
        ),
        Spacer(1, 4),
        figures,
        Spacer(1, 5),
        words("Between: " + " ".join(BETWEEN), "small"),
        Spacer(1, 3),
        *(words(f"{', '.join(numbers)}: {line}", "small") for line, numbers in said.items() if line),
        Spacer(1, 4),
        words('"You have control." "I have control." Anybody says stop: it stops.', "bold"),
        words(CAUTION, "small"),
    ]
    out = BytesIO()
    SimpleDocTemplate(
        out,
        pagesize=size,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN,
        bottomMargin=MARGIN,
        author=sortie.instructor.name,
        title=f"Card, {sortie.student.person.name}, {lesson_of(plan.lesson).name}",
        creator="Keel Turn",
    ).build(story)
    return out.getvalue()


def _row(n: int, figure: FigureAnswer, words: Callable[[str, str], Any]) -> list[Any]:
    return [
        [words(f"{n} {figure.title}", "bold"), words(_loss(figure), "small")],
        words(figure.start.number, "big"),
        *(words(answer.number, "bold") for answer in (figure.lowest_start, figure.entry, figure.take_over)),
    ]


def _loss(figure: FigureAnswer) -> str:
    return f"loses {figure.likely.number}, 19 in 20 {figure.worst.number}; {figure.power}"
