"""Instructor's spins: who will teach them flies them, says them, and teaches them back."""

from keelturn.figures.planned import FlownBy
from keelturn.progress.course import Course, CourseLesson, CourseTask, GroundItem, LessonTask

SHOWN, ALONE, TALKS, AGAINST = FlownBy.SHOWN, FlownBy.ALONE, FlownBy.TALKS, FlownBy.AGAINST
ONE, TWO, THREE = {"turns": 1.0}, {"turns": 2.0}, {"turns": 3.0}

INSTRUCTORS_SPINS = Course(
    key="instructors_spins",
    name="Instructor's spins",
    purpose="Fly a spin of several turns to both sides, say it while somebody else flies, and take over"
    " from somebody who does it wrong.",
    source="Common practice; 14 CFR 61.183(i) asks instructors for a spin endorsement, from memory, to be"
    " confirmed",
    flight_h=3,
    ground_h=4,
    ground=(
        GroundItem(key="aerodynamics", words="Explains a spin to somebody who has never seen one", hours=1),
        GroundItem(
            key="manual", words="What the flight manual says of spins, and what it does not", hours=0.5
        ),
        GroundItem(
            key="faults", words="Faults of students, what each does, and when to take over", hours=1.5
        ),
        GroundItem(key="leaving", words="Teaches the parachute brief", hours=1),
    ),
    tasks=(
        CourseTask(key="turning", figure="stall_turning", needed="ready", within_ft=150),
        CourseTask(key="secondary", figure="stall_secondary"),
        CourseTask(key="incipient", figure="incipient_spin", needed="ready", within_ft=150),
        CourseTask(
            key="one_turn", figure="spin", settings=ONE, needed="ready", within_ft=150, after=("incipient",)
        ),
        CourseTask(key="two_turns", figure="spin", settings=TWO, within_ft=250, after=("one_turn",)),
        CourseTask(key="three_turns", figure="spin", settings=THREE, needed="guided", after=("two_turns",)),
        CourseTask(key="off_turn", figure="spin_off_turn", needed="guided", after=("one_turn",)),
        CourseTask(
            key="said", figure="spin", settings=ONE, flown_by=TALKS, words="Every step before it comes."
        ),
        CourseTask(
            key="taught_back",
            figure="spin",
            settings=ONE,
            flown_by=AGAINST,
            within_ft=300,
            after=("one_turn", "said"),
            words="The instructor plays the student; the trainee says, waits, and takes over in time.",
        ),
        CourseTask(
            key="stall_taught_back", figure="stall_turning", side="left", flown_by=AGAINST, after=("turning",)
        ),
        CourseTask(key="nose_low", figure="nose_low", within_ft=200),
    ),
    lessons=(
        CourseLesson(
            key="several_turns",
            name="Spins of several turns",
            purpose="Count the turns, call the recovery, and see what each further turn costs.",
            standing="practised",
            ground=("manual", "leaving"),
            tasks=(
                LessonTask(task="turning", flown_by=ALONE),
                LessonTask(task="incipient", flown_by=ALONE),
                LessonTask(task="one_turn"),
                LessonTask(task="one_turn", side="right"),
                LessonTask(task="two_turns"),
                LessonTask(task="off_turn", side="right"),
                LessonTask(task="nose_low", flown_by=ALONE),
            ),
        ),
        CourseLesson(
            key="say_it",
            name="Say it while it happens",
            purpose="The trainee speaks every step while the instructor flies, then flies it alone.",
            standing="practised",
            ground=("aerodynamics", "manual", "leaving"),
            tasks=(
                LessonTask(task="turning", side="right", flown_by=ALONE),
                LessonTask(task="secondary", flown_by=ALONE),
                LessonTask(task="incipient", side="right", flown_by=ALONE),
                LessonTask(task="said", flown_by=TALKS),
                LessonTask(task="said", side="right", flown_by=TALKS),
                LessonTask(task="one_turn", flown_by=ALONE),
                LessonTask(task="two_turns", side="right"),
                LessonTask(task="nose_low", side="right", flown_by=ALONE),
            ),
        ),
        CourseLesson(
            key="teach_it_back",
            name="Teach it back",
            purpose="The instructor plays a student who does it wrong. The trainee teaches, waits as long"
            " as it may, and takes over.",
            standing="practised",
            ground=("faults", "leaving"),
            tasks=(
                LessonTask(task="stall_taught_back", flown_by=AGAINST),
                LessonTask(task="one_turn", side="right", flown_by=ALONE),
                LessonTask(task="taught_back", flown_by=AGAINST),
                LessonTask(task="taught_back", side="right", flown_by=AGAINST),
                LessonTask(task="off_turn", side="left"),
                LessonTask(task="three_turns"),
                LessonTask(task="three_turns", side="right"),
            ),
        ),
    ),
)
