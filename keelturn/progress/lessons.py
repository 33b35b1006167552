"""The lessons of the syllabus, as data, in the order in which they are usually taught (common practice, no
published source)."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from keelturn.figures.figure import Side, Stage
from keelturn.figures.planned import FlownBy, PlannedFigure


@dataclass(frozen=True, slots=True)
class LessonFigure:
    """settings: the figure's own, by name, where they are not the usual ones."""

    key: str
    side: Side = "left"
    flown_by: FlownBy = FlownBy.WITH_TALK
    settings: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Lesson:
    key: str
    name: str
    purpose: str
    figures: tuple[LessonFigure, ...]
    stage: Stage = "first flights"


SHOWN, ALONE = FlownBy.SHOWN, FlownBy.ALONE
LESSONS: tuple[Lesson, ...] = (
    Lesson(
        "stalls",
        "Slow flight and stalls",
        "Feel the wing near its limit, let it go, and get it back with little height: straight, with power,"
        " in a turn.",
        (
            LessonFigure("steep_turn"),
            LessonFigure("slow_flight"),
            LessonFigure("stall_power_off", flown_by=SHOWN),
            LessonFigure("stall_power_off"),
            LessonFigure("stall_power_on"),
            LessonFigure("stall_turning", "left"),
            LessonFigure("stall_skidded", "left", flown_by=SHOWN),
            LessonFigure("spiral_dive", "right"),
        ),
    ),
    Lesson(
        "spins_both_ways",
        "Spins, both ways",
        "See the incipient spin and the one-turn spin to both sides, stop each in the right order, and finish"
        " with a nose-low recovery.",
        (
            LessonFigure("steep_turn", flown_by=ALONE),
            LessonFigure("stall_power_off", flown_by=ALONE),
            LessonFigure("incipient_spin", "left", flown_by=SHOWN),
            LessonFigure("incipient_spin", "right"),
            LessonFigure("spin", "left"),
            LessonFigure("spin", "right"),
            LessonFigure("nose_low", "left", flown_by=ALONE),
        ),
    ),
    Lesson(
        "upsets",
        "Upset recovery",
        "Recognise where the nose is and where the lift points, and do the first thing first: nose low, nose"
        " high, over-banked.",
        (
            LessonFigure("steep_turn", flown_by=ALONE),
            LessonFigure("nose_high", "left"),
            LessonFigure("nose_high", "right"),
            LessonFigure("nose_low", "left"),
            LessonFigure("nose_low", "right", settings={"bank_deg": 90.0}),
            LessonFigure("over_banked", "left"),
            LessonFigure("over_banked", "right"),
            LessonFigure("spiral_dive", "left", flown_by=ALONE),
        ),
        "practised",
    ),
    Lesson(
        "several_turns",
        "Spins of several turns",
        "Count the turns, call the recovery, and see what each further turn costs.",
        (
            LessonFigure("stall_turning", "left", flown_by=ALONE),
            LessonFigure("incipient_spin", "left", flown_by=ALONE),
            LessonFigure("spin", "left", settings={"turns": 1.0}),
            LessonFigure("spin", "right", settings={"turns": 1.0}),
            LessonFigure("spin", "left", settings={"turns": 2.0}),
            LessonFigure("spin_off_turn", "right"),
            LessonFigure("nose_low", "left", flown_by=ALONE),
        ),
        "practised",
    ),
    Lesson(
        "first_figures",
        "Wing-over, roll and loop",
        "Energy: speed into height and back, g built up in steps, and the first time upside down.",
        (
            LessonFigure("steep_turn", flown_by=ALONE),
            LessonFigure("wing_over", "left"),
            LessonFigure("wing_over", "right"),
            LessonFigure("aileron_roll", "left", flown_by=SHOWN),
            LessonFigure("aileron_roll", "left"),
            LessonFigure("loop", flown_by=SHOWN),
            LessonFigure("loop"),
            LessonFigure("stall_turn", "left", flown_by=SHOWN),
        ),
        "practised",
    ),
    Lesson(
        "mixed",
        "A mixed sequence",
        "Ten figures in one block, each leaving what the next one needs.",
        (
            LessonFigure("steep_turn", flown_by=ALONE),
            LessonFigure("wing_over", "left"),
            LessonFigure("stall_turning", "right"),
            LessonFigure("incipient_spin", "left"),
            LessonFigure("spin", "right"),
            LessonFigure("loop"),
            LessonFigure("stall_turn", "right"),
            LessonFigure("half_cuban", "left"),
            LessonFigure("aileron_roll", "left"),
            LessonFigure("nose_low", "left", flown_by=ALONE),
        ),
        "ready to fly it alone",
    ),
)
FREE = Lesson("free", "Free", "Figures as the instructor chooses.", ())
BY_KEY = {lesson.key: lesson for lesson in (*LESSONS, FREE)}


def lesson_of(key: str) -> Lesson:
    """Raises ValueError naming the lessons there are."""
    if key not in BY_KEY:
        raise ValueError(f"no lesson '{key}'; there is {', '.join(BY_KEY)}")
    return BY_KEY[key]


def name_of(key: str) -> str:
    """What the lesson is called; the key itself for one that the syllabus does not have (any more)."""
    return BY_KEY[key].name if key in BY_KEY else key


def laid_out(lesson: Lesson, start_ft: float) -> tuple[PlannedFigure, ...]:
    """The lesson's figures, all from one height until the heights are computed. Entry speeds are left to what
    each figure asks of the aircraft that day."""
    return tuple(
        PlannedFigure(
            id=f"f{i}",
            key=figure.key,
            side=figure.side,
            start_ft=start_ft,
            flown_by=figure.flown_by,
            parameters=dict(figure.settings),
        )
        for i, figure in enumerate(lesson.figures, start=1)
    )
