"""Eight months of past lessons, flown by the model with each student's own habits, noted as an instructor
notes them.

Deterministic: a seeded generator, dates counted back from the day of loading.
"""

import random
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from keelturn.figures.catalogue import figure_of
from keelturn.figures.faults import BY_KEY as FAULTS
from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import fly_usual
from keelturn.noting.attempt import Attempt
from keelturn.noting.earned import is_judged
from keelturn.school.grading import Grade


@dataclass(frozen=True)
class Habit:
    """A fault and how likely it is: from the first lesson to the last, evenly in between."""

    fault: str
    chances: tuple[float, ...]

    def chance(self, at: float) -> float:
        """at: 0 for the first lesson, 1 for the last."""
        place = at * (len(self.chances) - 1)
        low = min(int(place), len(self.chances) - 1)
        high = min(low + 1, len(self.chances) - 1)
        return self.chances[low] + (self.chances[high] - self.chances[low]) * (place - low)


@dataclass(frozen=True)
class Past:
    """lessons: how many days ago, which. courses: the course that they belong to from so many days ago on.
    instructors: who from which lesson on. taken_over: in which lesson the instructor took over in which
    figure. broken_off: from which figure on in which lesson, and why. weather: how many days ago a lesson was
    cancelled for the weather. ground: of how many items of the course's so many are not done."""

    username: str
    instructors: Mapping[int, str]
    courses: Mapping[int, str]
    lessons: tuple[tuple[int, str], ...]
    habits: tuple[Habit, ...] = ()
    feel: tuple[int, int] = (7, 9)
    aircraft: str = "QX-ROE"
    taken_over: Mapping[int, str] = field(default_factory=dict)
    broken_off: Mapping[int, tuple[int, str]] = field(default_factory=dict)
    weather: tuple[int, ...] = ()
    ground_open: int = 0

    def instructor(self, lesson: int) -> str:
        return self.instructors[max(at for at in self.instructors if at <= lesson)]


PASTS: tuple[Past, ...] = (
    Past(
        "petra",
        {0: "tam"},
        {147: "spin_awareness"},
        (
            (145, "stalls"),
            (132, "stalls"),
            (125, "edges"),
            (118, "edges"),
            (98, "spins_both_ways"),
            (84, "spins_both_ways"),
            (71, "spins_both_ways"),
            (57, "spins_both_ways"),
            (43, "spins_both_ways"),
            (26, "spins_both_ways"),
            (12, "spins_both_ways"),
        ),
        (
            Habit("stick_late", (1.0, 1.0, 0.9, 0.5, 0.2, 0.0)),
            Habit("soft_pull", (0.7,)),
            Habit("rudder_not_centred", (0.6, 0.6, 0.5, 0.2, 0.0, 0.0)),
            Habit("forward_late", (0.9, *[0.0] * 10)),
        ),
        weather=(35,),
    ),
    Past(
        "rhea",
        {0: "ilse"},
        {220: "spin_awareness", 96: "instructors_spins"},
        (
            (218, "stalls"),
            (211, "stalls"),
            (203, "edges"),
            (190, "edges"),
            (176, "spins_both_ways"),
            (162, "spins_both_ways"),
            (141, "spiral_or_spin"),
            (120, "spiral_or_spin"),
            (101, "spiral_or_spin"),
            (80, "several_turns"),
            (62, "several_turns"),
            (41, "say_it"),
            (19, "teach_it_back"),
        ),
        (Habit("late", (0.6, 0.3, 0.0)), Habit("stick_not_back", (0.5, 0.2, 0.0, 0.0))),
    ),
    Past(
        "jonah",
        {0: "tam"},
        {77: "spin_awareness"},
        ((75, "stalls"), (61, "stalls"), (47, "edges"), (33, "spins_both_ways"), (14, "spins_both_ways")),
        (
            Habit("pulled_before_rolling", (1.0, 1.0)),
            Habit("forward_late", (1.0, 0.8)),
            Habit("rudder_late", (1.0, 0.5)),
        ),
        (5, 8),
        weather=(26,),
    ),
    Past(
        "davin",
        {0: "ilse"},
        {42: "upset_recovery"},
        ((40, "wing_and_nose"), (21, "wing_and_nose")),
        (Habit("rolled_while_pulling", (0.8, 0.6)), Habit("late", (1.0, 0.5))),
        (4, 6),
        broken_off={0: (4, "Unwell after the second pull")},
        ground_open=2,
    ),
    Past("mirela", {0: "ilse"}, {6: "spin_awareness"}, (), ground_open=3),
    Past(
        "corin",
        {0: "tam", 4: "ilse"},
        {240: "spin_awareness", 70: "instructors_spins"},
        (
            (238, "stalls"),
            (230, "stalls"),
            (223, "edges"),
            (216, "edges"),
            (201, "spins_both_ways"),
            (186, "spins_both_ways"),
            (171, "spiral_or_spin"),
            (150, "spiral_or_spin"),
            (68, "several_turns"),
            (45, "say_it"),
        ),
        (Habit("soft_pull", (0.5, 0.2, 0.0)),),
        weather=(31,),
    ),
    Past(
        "sunniva",
        {0: "ilse"},
        {122: "aerobatic_core"},
        (
            (120, "first_figures"),
            (100, "first_figures"),
            (78, "rolls_and_lines"),
            (55, "rolls_and_lines"),
            (34, "halves"),
        ),
        (Habit("scooped", (0.9, 0.7)), Habit("pulled_soft", (0.6, 0.3))),
        aircraft="QX-COR",
    ),
    Past(
        "tavish",
        {0: "tam", 5: "bryn"},
        {207: "upset_recovery"},
        (
            (205, "wing_and_nose"),
            (192, "both_sides"),
            (178, "both_sides"),
            (165, "upsets"),
            (150, "upsets"),
            (128, "upside_down"),
            (96, "upside_down"),
            (66, "eyes_closed"),
            (40, "eyes_closed"),
            (15, "upsets"),
        ),
        (Habit("late", (1.0, 0.5, 0.2)), Habit("throttle_wrong", (0.6, 0.2, 0.0, 0.0))),
        weather=(141, 53),
    ),
    Past(
        "isla",
        {0: "bryn"},
        {212: "aerobatic_core"},
        (
            (210, "first_figures"),
            (195, "first_figures"),
            (180, "rolls_and_lines"),
            (160, "rolls_and_lines"),
            (140, "halves"),
            (118, "halves"),
            (95, "mixed"),
            (70, "mixed"),
            (38, "mixed"),
            (9, "mixed"),
        ),
        (Habit("not_vertical", (0.9, 0.6, 0.5)), Habit("pulled_hard", (0.8, 0.2, 0.0))),
        (8, 10),
        weather=(84,),
    ),
    Past(
        "keir",
        {0: "bryn"},
        {112: "advanced_spins"},
        (
            (110, "more_turns"),
            (90, "more_turns"),
            (66, "aileron_in_spins"),
            (44, "fast_and_flat"),
            (23, "on_its_back"),
            (7, "fast_and_flat"),
        ),
        (Habit("power_late", (0.7, 0.2, 0.0)), Habit("impatient", (0.5, 0.5))),
        aircraft="QX-COR",
        taken_over={3: "spin_flat"},
    ),
    Past(
        "oskar",
        {0: "tam"},
        {241: "spin_awareness"},
        ((239, "stalls"), (225, "edges"), (212, "spins_both_ways"), (198, "spins_both_ways")),
        (Habit("rudder_late", (0.8, 0.4)),),
    ),
    Past(
        "una",
        {0: "ilse"},
        {100: "upset_recovery"},
        (
            (98, "wing_and_nose"),
            (84, "both_sides"),
            (70, "both_sides"),
            (52, "wing_and_nose"),
            (36, "both_sides"),
            (16, "wing_and_nose"),
        ),
        (Habit("late", (1.0, 0.8, 0.8)), Habit("rolled_while_pulling", (0.4, 0.2))),
        (5, 7),
        taken_over={2: "nose_high", 4: "nose_low"},
        weather=(77,),
    ),
)


@dataclass(frozen=True)
class PastFlight:
    """One past lesson: the figures as planned, how often the student has flown each in lessons before, and
    which lesson it is of theirs, from 0."""

    past: Past
    lesson: int
    figures: tuple[PlannedFigure, ...]
    before: Mapping[str, int]


def flown_attempts(flight: PastFlight, conditions: Conditions, chance: random.Random) -> list[Attempt]:
    """One lesson's attempts as noted: heights to 20 ft, in the order flown."""
    past, found = flight.past, list[Attempt]()
    broken_at, why = past.broken_off.get(flight.lesson, (len(flight.figures), ""))
    for at, planned in enumerate(flight.figures):
        if at > broken_at:
            found.append(_attempt(planned, skipped=True))
        elif at == broken_at:
            found.append(_attempt(planned, start_ft=planned.start_ft, abandoned=why, feel=2))
        else:
            found.append(_flown(flight, planned, conditions, chance))
    return found


def _attempt(planned: PlannedFigure, **noted: object) -> Attempt:
    held = {"id": planned.id, "planned": planned.model_dump(), "flown_by": planned.flown_by}
    return Attempt.model_validate({**held, **noted})


def _flown(
    flight: PastFlight, planned: PlannedFigure, conditions: Conditions, chance: random.Random
) -> Attempt:
    past, times = flight.past, flight.before.get(planned.key, 0)
    done = flight.lesson / max(1, len(past.lessons) - 1)
    made = [
        h.fault
        for h in past.habits
        if h.fault in _faults(planned) and planned.flown_by.by_student and chance.random() < h.chance(done)
    ]
    changed: dict[str, float] = {}
    for fault in made:
        for name, by in FAULTS[fault].numbers.items():
            changed[name] = changed.get(name, 0.0) + by
    changed["delay_s"] = changed.get("delay_s", 0.0) + chance.uniform(-0.2, 0.2) + 0.3 / (1 + times)
    changed["pull_g"] = changed.get("pull_g", 0.0) + chance.uniform(-0.15, 0.2)
    flown = fly_usual(planned, conditions, "student", **changed)
    start = planned.start_ft + 20.0 * chance.randint(-3, 4)
    lowest = 20.0 * round((start - flown.lost_ft) / 20.0)
    recover = None
    if figure_of(planned.key).spin and times > 0:
        spent = fly_usual(planned, conditions).before_recovery_ft
        recover = max(lowest, 20.0 * round((start - spent) / 20.0))
    alone = planned.flown_by == FlownBy.WITH_TALK and times >= ALONE_AFTER
    taken_over = past.taken_over.get(flight.lesson) == planned.key
    return _attempt(
        planned,
        start_ft=start,
        recover_ft=recover,
        lowest_ft=lowest,
        level_ft=lowest + 20.0 * chance.randint(0, 4),
        turns=planned.parameters.get("turns") if planned.key == "spin" else None,
        most_g=round(flown.most_g, 1),
        feel=chance.randint(*past.feel),
        flown_by=FlownBy.ALONE if alone else planned.flown_by,
        faults=made,
        taken_over_ft=lowest + 160.0 if taken_over else None,
        grade="Guided" if taken_over else _grade(planned.key, len(made), times, planned.flown_by, alone),
    )


# After so many lessons with a figure the student flies it alone.
ALONE_AFTER = 2
# What unsettles no more is flown soundly the first time, without a fault.
EASY = 2


def _faults(planned: PlannedFigure) -> set[str]:
    return {fault.key for fault in figure_of(planned.key).faults}


def _grade(key: str, faults: int, times: int, flown_by: FlownBy, alone: bool) -> Grade:
    if not is_judged(flown_by):
        return "Shown"
    if faults > 2:
        return "Not yet"
    if faults > 1 or (faults == 1 and times < ALONE_AFTER):
        return "Guided"
    if faults == 0 and times > ALONE_AFTER and (alone or flown_by == FlownBy.ALONE):
        return "Solo-ready"
    return "Sound" if times > 0 or figure_of(key).unsettles <= EASY else "Guided"


def at_hour(day: datetime, days_ago: int, hour: int, minute: int = 0) -> datetime:
    return (day - timedelta(days=days_ago)).replace(hour=hour, minute=minute, second=0, microsecond=0)
