"""Which grade an attempt can earn: by who flew it, by what became of it, and after a take-over. All common
practice, no published source."""

from collections.abc import Mapping

from keelturn.figures.planned import FlownBy
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.school.grading import GRADES, Grade

# Lowest first. "Shown" is what the instructor flew; whatever the student flew or said has a grade of its own.
EARNED: Mapping[FlownBy, tuple[Grade, ...]] = {
    FlownBy.SHOWN: ("Shown",),
    FlownBy.FOLLOWS: ("Shown",),
    FlownBy.TALKS: ("Not yet", "Guided", "Sound"),
    FlownBy.WITH_TALK: ("Not yet", "Guided", "Sound"),
    FlownBy.ALONE: ("Not yet", "Guided", "Sound", "Solo-ready"),
    FlownBy.AGAINST: ("Not yet", "Guided", "Sound", "Solo-ready"),
}
# The most that an attempt can show of its figure, whatever it was graded: None for nothing, where it did not
# become the figure at all.
OUTCOME_SHOWS: Mapping[Outcome, Grade | None] = {
    Outcome.AS_INTENDED: "Solo-ready",
    Outcome.SPIRAL: None,
    Outcome.OTHER_WAY: None,
    Outcome.FLAT: None,
    Outcome.SECONDARY_STALL: "Guided",
}
TAKEN_OVER_SHOWS: Grade = "Guided"


def lesser(grade: Grade, other: Grade) -> Grade:
    return min(grade, other, key=GRADES.index)


def is_judged(flown_by: FlownBy) -> bool:
    """Whether a grade says something of the student."""
    return EARNED[flown_by] != ("Shown",)


def not_earned(attempt: Attempt) -> bool:
    """Whether the way it was flown does not earn its grade."""
    return attempt.grade is not None and attempt.grade not in EARNED[attempt.flown_by]


def lacks_a_reason(attempt: Attempt) -> bool:
    """Taken over, graded above what a take-over shows, and nobody said why."""
    above = attempt.grade is not None and GRADES.index(attempt.grade) > GRADES.index(TAKEN_OVER_SHOWS)
    return attempt.taken_over_ft is not None and above and not attempt.grade_reason.strip()


def shown_by(attempt: Attempt) -> Grade | None:
    """The standard that an attempt shows: its grade, no higher than who flew and what became of it allow; a
    take-over with a reason for its grade shows that grade."""
    if attempt.grade is None or not attempt.to_the_end:
        return None
    most = OUTCOME_SHOWS[attempt.outcome or Outcome.AS_INTENDED]
    if most is None:
        return None
    most = lesser(most, EARNED[attempt.flown_by][-1])
    if attempt.taken_over_ft is not None and not attempt.grade_reason.strip():
        most = lesser(most, TAKEN_OVER_SHOWS)
    return lesser(attempt.grade, most)
