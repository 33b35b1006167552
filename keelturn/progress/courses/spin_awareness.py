"""Spin awareness: from the stall to a spin that is stopped, for a pilot who will not meet one on purpose."""

from keelturn.figures.planned import FlownBy
from keelturn.progress.course import Course, CourseLesson, CourseTask, GroundItem, LessonTask

SHOWN, ALONE, TALKS = FlownBy.SHOWN, FlownBy.ALONE, FlownBy.TALKS

SPIN_AWARENESS = Course(
    key="spin_awareness",
    name="Spin awareness",
    purpose="Know the edge of the wing from every side, never cross it by mistake, and come back from a"
    " spin in the right order.",
    source="Common practice; the ground items follow the headings of AC 61-67C, from memory, to be confirmed",
    flight_h=5,
    ground_h=4,
    ground=(
        GroundItem(key="aerodynamics", words="Why a wing stalls, and why it then turns", hours=1),
        GroundItem(key="manual", words="What the flight manual says of spins, word by word", hours=0.5),
        GroundItem(key="order", words="The recovery in order, hands on the controls, engine off", hours=0.5),
        GroundItem(key="leaving", words="Parachute: the words, leaving, when to pull", hours=1),
        GroundItem(key="accidents", words="How turns to final become spins", hours=1),
    ),
    tasks=(
        CourseTask(key="steep_turn", figure="steep_turn", needed="guided"),
        CourseTask(key="slow_flight", figure="slow_flight"),
        CourseTask(key="power_off", figure="stall_power_off", needed="ready", within_ft=100),
        CourseTask(key="power_on", figure="stall_power_on", within_ft=100, after=("power_off",)),
        CourseTask(key="turning", figure="stall_turning", within_ft=150, after=("power_off",)),
        CourseTask(key="skidded", figure="stall_skidded", side="left", needed="guided", after=("turning",)),
        CourseTask(key="secondary", figure="stall_secondary", needed="guided", after=("power_off",)),
        CourseTask(key="spiral", figure="spiral_dive", within_ft=200, words="Told from a spin by the speed."),
        CourseTask(
            key="incipient", figure="incipient_spin", needed="ready", within_ft=150, after=("power_off",)
        ),
        CourseTask(
            key="one_turn", figure="spin", within_ft=200, settings={"turns": 1.0}, after=("incipient",)
        ),
        CourseTask(key="one_turn_said", figure="spin", side="left", settings={"turns": 1.0}, flown_by=TALKS),
        CourseTask(key="nose_low", figure="nose_low", within_ft=200),
    ),
    lessons=(
        CourseLesson(
            key="stalls",
            name="Slow flight and stalls",
            purpose="Feel the wing near its limit, let it go, and get it back with little height: straight,"
            " with power, in a turn.",
            ground=("aerodynamics",),
            tasks=(
                LessonTask(task="steep_turn"),
                LessonTask(task="slow_flight"),
                LessonTask(task="power_off", flown_by=SHOWN),
                LessonTask(task="power_off"),
                LessonTask(task="power_on"),
                LessonTask(task="turning"),
                LessonTask(task="skidded", flown_by=SHOWN),
                LessonTask(task="spiral", side="right"),
            ),
        ),
        CourseLesson(
            key="edges",
            name="The stall that was not meant",
            purpose="Turning, skidded, pulled again too soon: where stalls happen to people who know better.",
            ground=("aerodynamics", "accidents"),
            tasks=(
                LessonTask(task="steep_turn", side="right"),
                LessonTask(task="power_off", flown_by=ALONE),
                LessonTask(task="turning", side="left"),
                LessonTask(task="turning", side="right"),
                LessonTask(task="skidded"),
                LessonTask(task="secondary", flown_by=SHOWN),
                LessonTask(task="secondary"),
                LessonTask(task="spiral", side="left"),
            ),
        ),
        CourseLesson(
            key="spins_both_ways",
            name="Spins, both ways",
            purpose="See the incipient spin and the one-turn spin to both sides, stop each in the right"
            " order, and finish with a nose-low recovery.",
            ground=("manual", "order", "leaving"),
            tasks=(
                LessonTask(task="steep_turn", flown_by=ALONE),
                LessonTask(task="power_off", flown_by=ALONE),
                LessonTask(task="incipient", flown_by=SHOWN),
                LessonTask(task="incipient", side="right"),
                LessonTask(task="one_turn"),
                LessonTask(task="one_turn", side="right"),
                LessonTask(task="nose_low", flown_by=ALONE),
            ),
        ),
        CourseLesson(
            key="spiral_or_spin",
            name="Spiral or spin",
            purpose="Tell one from the other at once, say the recovery while somebody else flies it, then"
            " do it alone.",
            standing="practised",
            ground=("manual", "order", "leaving"),
            tasks=(
                LessonTask(task="power_off", flown_by=ALONE),
                LessonTask(task="incipient", flown_by=ALONE),
                LessonTask(task="incipient", side="right", flown_by=ALONE),
                LessonTask(task="one_turn_said", flown_by=TALKS),
                LessonTask(task="one_turn", flown_by=ALONE),
                LessonTask(task="one_turn", side="right", flown_by=ALONE),
                LessonTask(task="spiral", flown_by=ALONE),
                LessonTask(task="nose_low", side="right", flown_by=ALONE),
            ),
        ),
    ),
)
