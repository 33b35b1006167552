"""The five courses that ship, of our own writing (common practice, no published source, unless said). They
are where a school begins: the chief changes them."""

from keelturn.progress.course import Course
from keelturn.progress.courses.advanced_spins import ADVANCED_SPINS
from keelturn.progress.courses.aerobatic_core import AEROBATIC_CORE
from keelturn.progress.courses.instructors_spins import INSTRUCTORS_SPINS
from keelturn.progress.courses.spin_awareness import SPIN_AWARENESS
from keelturn.progress.courses.upset_recovery import UPSET_RECOVERY

COURSES: tuple[Course, ...] = (
    UPSET_RECOVERY,
    SPIN_AWARENESS,
    INSTRUCTORS_SPINS,
    AEROBATIC_CORE,
    ADVANCED_SPINS,
)
