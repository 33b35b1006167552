"""Upset recovery foundation: an attitude that nobody chose, and the first thing first."""

from keelturn.figures.planned import FlownBy
from keelturn.progress.course import Course, CourseLesson, CourseTask, GroundItem, LessonTask

SHOWN, ALONE = FlownBy.SHOWN, FlownBy.ALONE
EYES_CLOSED = {"eyes_closed": 1.0}

UPSET_RECOVERY = Course(
    key="upset_recovery",
    name="Upset recovery foundation",
    purpose="Recognise where the nose is and where the lift points, do the first thing first, and finish it"
    " with height to spare.",
    source="Common practice; the least hours are those of FCL.745.A (5 h theory, 3 h flight), from memory,"
    " to be confirmed",
    flight_h=3,
    ground_h=5,
    ground=(
        GroundItem(key="energy", words="Energy, angle of attack, and where the lift points", hours=1.5),
        GroundItem(key="limits", words="Structure and limits: g, rolling g, speeds", hours=1),
        GroundItem(key="surprise", words="Startle and surprise: what they do, and what helps", hours=1),
        GroundItem(key="methods", words="The recoveries in order, in the aircraft, engine off", hours=1),
        GroundItem(key="leaving", words="Parachute: the words, leaving, when to pull", hours=0.5),
    ),
    tasks=(
        CourseTask(key="steep_turn", figure="steep_turn", needed="guided"),
        CourseTask(key="power_off", figure="stall_power_off", within_ft=100),
        CourseTask(key="accelerated", figure="stall_accelerated", needed="guided", after=("power_off",)),
        CourseTask(key="incipient", figure="incipient_spin", needed="guided", after=("power_off",)),
        CourseTask(key="spiral", figure="spiral_dive", within_ft=200),
        CourseTask(key="nose_low", figure="nose_low", needed="ready", within_ft=200),
        CourseTask(key="nose_high", figure="nose_high", needed="ready", within_ft=200),
        CourseTask(key="over_banked", figure="over_banked", within_ft=250, after=("nose_low",)),
        CourseTask(
            key="inverted", figure="inverted", after=("over_banked",), words="Push and roll; no pull."
        ),
        CourseTask(key="vertical", figure="vertical_no_speed", needed="guided", after=("nose_high",)),
        CourseTask(
            key="nose_low_blind",
            name="Nose low, eyes closed",
            figure="nose_low",
            settings=EYES_CLOSED,
            after=("nose_low",),
        ),
        CourseTask(
            key="nose_high_blind",
            name="Nose high, eyes closed",
            figure="nose_high",
            settings=EYES_CLOSED,
            after=("nose_high",),
        ),
    ),
    lessons=(
        CourseLesson(
            key="wing_and_nose",
            name="The wing and the nose",
            purpose="Stall and steep turn, then the first two attitudes: nose low and nose high, with talk.",
            ground=("energy", "limits"),
            tasks=(
                LessonTask(task="steep_turn"),
                LessonTask(task="power_off", flown_by=SHOWN),
                LessonTask(task="power_off"),
                LessonTask(task="spiral", side="left"),
                LessonTask(task="nose_low", flown_by=SHOWN),
                LessonTask(task="nose_low"),
                LessonTask(task="nose_high", flown_by=SHOWN),
                LessonTask(task="nose_high", side="right"),
            ),
        ),
        CourseLesson(
            key="both_sides",
            name="To both sides",
            purpose="The same attitudes to the other side, the stall under g, and a spin that is not let"
            " begin.",
            ground=("energy", "limits", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", side="right"),
                LessonTask(task="power_off"),
                LessonTask(task="accelerated", side="left"),
                LessonTask(task="accelerated", side="right"),
                LessonTask(task="spiral", side="right"),
                LessonTask(task="nose_low", side="right"),
                LessonTask(task="nose_high", side="left"),
                LessonTask(task="incipient", side="left"),
                LessonTask(task="incipient", side="right"),
            ),
        ),
        CourseLesson(
            key="upsets",
            name="Upset recovery",
            purpose="Recognise where the nose is and where the lift points, and do the first thing first:"
            " nose low, nose high, over-banked.",
            standing="practised",
            ground=("methods", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", flown_by=ALONE),
                LessonTask(task="nose_high", flown_by=ALONE),
                LessonTask(task="nose_high", side="right", flown_by=ALONE),
                LessonTask(task="nose_low", flown_by=ALONE),
                LessonTask(task="nose_low", side="right", flown_by=ALONE),
                LessonTask(task="over_banked"),
                LessonTask(task="over_banked", side="right"),
                LessonTask(task="spiral", flown_by=ALONE),
            ),
        ),
        CourseLesson(
            key="upside_down",
            name="Upside down and out of speed",
            purpose="Past the vertical with the wing on the wrong side, and pointing up with nothing left.",
            standing="practised",
            ground=("methods", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", flown_by=ALONE),
                LessonTask(task="over_banked", flown_by=ALONE),
                LessonTask(task="inverted", flown_by=SHOWN),
                LessonTask(task="inverted"),
                LessonTask(task="inverted", side="right"),
                LessonTask(task="vertical", flown_by=SHOWN),
                LessonTask(task="vertical"),
                LessonTask(task="vertical", side="right"),
            ),
        ),
        CourseLesson(
            key="eyes_closed",
            name="Eyes closed",
            purpose="Nobody says which attitude it will be. Open your eyes, see it, do the first thing"
            " first.",
            standing="practised",
            ground=("surprise", "methods", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", flown_by=ALONE),
                LessonTask(task="nose_low_blind", flown_by=ALONE),
                LessonTask(task="nose_high_blind", side="right", flown_by=ALONE),
                LessonTask(task="nose_low_blind", side="right", flown_by=ALONE),
                LessonTask(task="nose_high_blind", flown_by=ALONE),
                LessonTask(task="over_banked", flown_by=ALONE),
            ),
        ),
    ),
)
