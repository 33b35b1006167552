"""Aerobatic core: energy, the first time upside down, and figures that follow each other."""

from keelturn.figures.planned import FlownBy
from keelturn.progress.course import Course, CourseLesson, CourseTask, GroundItem, LessonTask

SHOWN, ALONE = FlownBy.SHOWN, FlownBy.ALONE

AEROBATIC_CORE = Course(
    key="aerobatic_core",
    name="Aerobatic core",
    purpose="Speed into height and back, g built up in steps, rolls and loops well rounded, and a sequence"
    " in one block.",
    source="Common practice; the least hours are those of FCL.800 (5 h or 20 flights), from memory, to be"
    " confirmed",
    flight_h=5,
    ground_h=4,
    ground=(
        GroundItem(key="limits", words="Structure and limits: g, rolling g, speeds", hours=1),
        GroundItem(key="body", words="What g does to pilots, and what helps (AC 91-61)", hours=0.5),
        GroundItem(key="place", words="The block, the rules of the place, lookout", hours=0.5),
        GroundItem(key="sequence", words="Entry gates, and how figures chain", hours=1),
        GroundItem(key="leaving", words="Parachute: the words, leaving, when to pull", hours=1),
    ),
    tasks=(
        CourseTask(key="steep_turn", figure="steep_turn", within_ft=100),
        CourseTask(key="wing_over", figure="wing_over"),
        CourseTask(key="turning", figure="stall_turning", needed="guided"),
        CourseTask(key="one_turn", figure="spin", settings={"turns": 1.0}, within_ft=200),
        CourseTask(key="aileron_roll", figure="aileron_roll", needed="ready", after=("wing_over",)),
        CourseTask(key="barrel_roll", figure="barrel_roll", after=("aileron_roll",)),
        CourseTask(key="slow_roll", figure="slow_roll", needed="guided", after=("aileron_roll",)),
        CourseTask(key="loop", figure="loop", needed="ready", after=("wing_over",)),
        CourseTask(key="stall_turn", figure="stall_turn", after=("wing_over",)),
        CourseTask(key="half_cuban", figure="half_cuban", after=("loop", "aileron_roll")),
        CourseTask(key="half_loop", figure="half_loop_roll_out", after=("loop", "aileron_roll")),
        CourseTask(key="nose_low", figure="nose_low", within_ft=200),
    ),
    lessons=(
        CourseLesson(
            key="first_figures",
            name="Wing-over, roll and loop",
            purpose="Energy: speed into height and back, g built up in steps, and the first time upside"
            " down.",
            standing="practised",
            ground=("limits", "body", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", flown_by=ALONE),
                LessonTask(task="wing_over"),
                LessonTask(task="wing_over", side="right"),
                LessonTask(task="aileron_roll", flown_by=SHOWN),
                LessonTask(task="aileron_roll"),
                LessonTask(task="loop", flown_by=SHOWN),
                LessonTask(task="loop"),
                LessonTask(task="stall_turn", flown_by=SHOWN),
            ),
        ),
        CourseLesson(
            key="rolls_and_lines",
            name="Rolls and lines",
            purpose="Rolls to both sides, the stall turn, and a spin to know the way back.",
            standing="practised",
            ground=("limits", "body", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", side="right", flown_by=ALONE),
                LessonTask(task="one_turn"),
                LessonTask(task="one_turn", side="right"),
                LessonTask(task="aileron_roll", side="right"),
                LessonTask(task="barrel_roll", flown_by=SHOWN),
                LessonTask(task="barrel_roll"),
                LessonTask(task="barrel_roll", side="right"),
                LessonTask(task="stall_turn"),
                LessonTask(task="stall_turn", side="right"),
            ),
        ),
        CourseLesson(
            key="halves",
            name="Half figures",
            purpose="Two figures joined in the middle: half a loop and half a roll, in either order.",
            standing="practised",
            ground=("sequence", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", flown_by=ALONE),
                LessonTask(task="turning", side="left"),
                LessonTask(task="loop", flown_by=ALONE),
                LessonTask(task="half_cuban"),
                LessonTask(task="half_cuban", side="right"),
                LessonTask(task="half_loop"),
                LessonTask(task="half_loop", side="right"),
                LessonTask(task="slow_roll", flown_by=SHOWN),
                LessonTask(task="slow_roll"),
                LessonTask(task="slow_roll", side="right"),
            ),
        ),
        CourseLesson(
            key="mixed",
            name="A mixed sequence",
            purpose="Ten figures in one block, each leaving what the next one needs.",
            standing="practised",
            ground=("sequence", "place", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", flown_by=ALONE),
                LessonTask(task="wing_over"),
                LessonTask(task="turning", side="right"),
                LessonTask(task="one_turn", side="right"),
                LessonTask(task="loop", flown_by=ALONE),
                LessonTask(task="stall_turn", side="right"),
                LessonTask(task="half_cuban"),
                LessonTask(task="aileron_roll", flown_by=ALONE),
                LessonTask(task="aileron_roll", side="right", flown_by=ALONE),
                LessonTask(task="nose_low", flown_by=ALONE),
                LessonTask(task="nose_low", side="right", flown_by=ALONE),
            ),
        ),
    ),
)
