"""Advanced spins: what makes a spin worse, seen with somebody who has seen it before."""

from keelturn.figures.planned import FlownBy
from keelturn.progress.course import Course, CourseLesson, CourseTask, GroundItem, LessonTask

SHOWN, ALONE, TALKS = FlownBy.SHOWN, FlownBy.ALONE, FlownBy.TALKS
TWO, THREE = {"turns": 2.0}, {"turns": 3.0}

ADVANCED_SPINS = Course(
    key="advanced_spins",
    name="Advanced spins",
    purpose="Power, aileron and forward stick in a spin, the spin on its back, and the way out of each. For"
    " somebody who spins well already, or has one fault that stays.",
    source="Common practice, no published source; only what the flight manual approves",
    flight_h=4,
    ground_h=3,
    ground=(
        GroundItem(
            key="manual", words="Which of these the flight manual approves, and how it ends them", hours=1
        ),
        GroundItem(key="inertia", words="Why forward stick, power and aileron change a spin", hours=1),
        GroundItem(key="leaving", words="Leaving a turning aeroplane: height, words, which side", hours=1),
    ),
    tasks=(
        CourseTask(key="two_turns", figure="spin", settings=TWO, needed="ready", within_ft=250),
        CourseTask(key="three_turns", figure="spin", settings=THREE, within_ft=300, after=("two_turns",)),
        CourseTask(key="off_turn", figure="spin_off_turn", after=("two_turns",)),
        CourseTask(key="in_aileron", figure="spin_in_aileron", needed="guided", after=("two_turns",)),
        CourseTask(key="out_aileron", figure="spin_out_aileron", needed="guided", after=("in_aileron",)),
        CourseTask(key="accelerated", figure="spin_accelerated", needed="guided", after=("three_turns",)),
        CourseTask(key="flat", figure="spin_flat", needed="guided", after=("accelerated",)),
        CourseTask(key="inverted", figure="spin_inverted", needed="guided", after=("three_turns",)),
        CourseTask(key="inverted_said", figure="spin_inverted", side="left", flown_by=TALKS, needed="guided"),
        CourseTask(key="falling_leaf", figure="falling_leaf", needed="guided"),
        CourseTask(key="nose_low", figure="nose_low", needed="ready", within_ft=200),
    ),
    lessons=(
        CourseLesson(
            key="more_turns",
            name="Two turns and three",
            purpose="The spin has settled: what it costs from here, turn by turn, to both sides.",
            standing="practised",
            ground=("manual", "leaving"),
            tasks=(
                LessonTask(task="falling_leaf"),
                LessonTask(task="two_turns", flown_by=ALONE),
                LessonTask(task="two_turns", side="right", flown_by=ALONE),
                LessonTask(task="three_turns"),
                LessonTask(task="three_turns", side="right"),
                LessonTask(task="nose_low", flown_by=ALONE),
            ),
        ),
        CourseLesson(
            key="aileron_in_spins",
            name="Aileron in a spin",
            purpose="What aileron does to a spin, one way and the other, shown first.",
            standing="ready to fly it alone",
            ground=("manual", "inertia", "leaving"),
            tasks=(
                LessonTask(task="off_turn", side="left"),
                LessonTask(task="in_aileron", flown_by=SHOWN),
                LessonTask(task="in_aileron"),
                LessonTask(task="in_aileron", side="right"),
                LessonTask(task="out_aileron", flown_by=SHOWN),
                LessonTask(task="out_aileron"),
                LessonTask(task="out_aileron", side="right"),
                LessonTask(task="nose_low", side="right", flown_by=ALONE),
            ),
        ),
        CourseLesson(
            key="fast_and_flat",
            name="Accelerated and flat",
            purpose="Stick forward too soon, power left on: the spin that does not listen at first.",
            standing="ready to fly it alone",
            ground=("manual", "inertia", "leaving"),
            tasks=(
                LessonTask(task="two_turns", flown_by=ALONE),
                LessonTask(task="off_turn", side="right"),
                LessonTask(task="accelerated", flown_by=SHOWN),
                LessonTask(task="accelerated"),
                LessonTask(task="accelerated", side="right"),
                LessonTask(task="flat", flown_by=SHOWN),
                LessonTask(task="flat"),
                LessonTask(task="flat", side="right"),
            ),
        ),
        CourseLesson(
            key="on_its_back",
            name="On its back",
            purpose="The spin that turns the other way from where it seems to: said first, then flown.",
            standing="ready to fly it alone",
            ground=("manual", "inertia", "leaving"),
            tasks=(
                LessonTask(task="three_turns", flown_by=ALONE),
                LessonTask(task="inverted", flown_by=SHOWN),
                LessonTask(task="inverted_said", flown_by=TALKS),
                LessonTask(task="inverted"),
                LessonTask(task="inverted", side="right"),
            ),
        ),
    ),
)
