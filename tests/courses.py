"""A small course, and attempts at its tasks, that several tests use."""

from datetime import date, timedelta
from typing import Any

from keelturn.document import Standard
from keelturn.noting.attempt import Attempt
from keelturn.progress.course import Course
from keelturn.progress.states import Flown
from keelturn.school.standards import Standards
from tests.flights import figure

TODAY = date(2026, 5, 14)
AGAINST = "student against an instructor who plays the student"
SMALL: dict[str, Any] = {
    "key": "small",
    "name": "Small",
    "tasks": [
        {"key": "stall", "figure": "stall_power_off", "needed": "ready"},
        {"key": "turning", "figure": "stall_turning", "after": ["stall"]},
        {"key": "one", "figure": "spin", "settings": {"turns": 1.0}, "within_ft": 200, "after": ["stall"]},
        {"key": "taught", "figure": "spin", "side": "left", "flown_by": AGAINST, "needed": "guided"},
    ],
    "ground": [{"key": "manual", "words": "What the manual says"}],
    "lessons": [
        {
            "key": "easy",
            "name": "Easy",
            "tasks": [
                {"task": "stall"},
                {"task": "turning"},
                {"task": "turning", "side": "right"},
            ],
        },
        {
            "key": "spins",
            "name": "Spins",
            "ground": ["manual"],
            "tasks": [{"task": "stall"}, {"task": "one"}, {"task": "one", "side": "right"}],
        },
        {
            "key": "teach",
            "name": "Teach",
            "standing": "practised",
            "tasks": [{"task": "one", "flown_by": "student alone"}, {"task": "taught", "flown_by": AGAINST}],
        },
    ],
}


def asked(lapse_days: float = 90, **of_figures: Any) -> Standards:
    return Standards(lapse_days=Standard(value=lapse_days), figures=of_figures)


ASKED = asked()


def course(**changed: Any) -> Course:
    return Course.model_validate({**SMALL, **changed})


def flown(
    key: str,
    grade: str | None = "Sound",
    flight: int = 1,
    ago: int = 10,
    beyond_ft: float | None = 0,
    lesson: str = "",
    **noted: Any,
) -> Flown:
    """An attempt of so many days ago. side and turns are the figure's; the rest is the attempt's."""
    settings = {name: noted.pop(name) for name in ("side", "turns", "school") if name in noted}
    attempt = {"id": "a1", "planned": figure(key, **settings).model_dump(), "grade": grade, **noted}
    return Flown(Attempt.model_validate(attempt), TODAY - timedelta(days=ago), flight, lesson, beyond_ft)
