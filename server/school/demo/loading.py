"""Putting the demo school into an empty database: people, fleet, places, eight months of lessons, today's
sorties."""

import random
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import partial

from django.contrib.auth.hashers import make_password
from django.db import transaction
from django.db.models import Max, Q

from keelturn.assess.second_look import SecondLook
from keelturn.assess.spoken import said_of_fault
from keelturn.figures.catalogue import figure_of
from keelturn.figures.faults import BY_KEY as FAULTS
from keelturn.figures.figure import Figure
from keelturn.formats.signed import Record
from keelturn.noting.attempt import Attempt
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief
from keelturn.progress.first_plan import laid_out_above_the_lowest
from keelturn.progress.lessons import lesson_of
from keelturn.progress.stages import Debrief, Stage
from keelturn.school.standards import Standards
from keelturn.weather.day import Day
from server import clock
from server.school.demo.cards import FLEET, PLACES
from server.school.demo.history import PASTS, Past, PastFlight, at_hour, flown_attempts
from server.school.demo.people import GOALS, PASSWORD, PEOPLE, SCHOOL, SET_STANDINGS
from server.school.demo.recorded import FLIGHTS, Flight, recorded_lesson
from server.school.demo.week import is_laid_out, lay_out
from server.school.models import (
    Aircraft,
    AttemptRow,
    Enrolment,
    GroundDone,
    Person,
    Place,
    School,
    SchoolStandards,
    Signature,
    Sortie,
    StageChange,
    Student,
)
from server.school.operations.adding import add_up_again, keep_of_the_brief
from server.school.operations.booking import cancel
from server.school.operations.computing import conditions_for, plan_of
from server.school.operations.courses import course_in_force
from server.school.operations.enrolling import count_standing
from server.school.operations.noting import note_attempts
from server.school.operations.own import count_population
from server.school.operations.proposing import setting_of
from server.school.operations.record import attempt_kept
from server.school.operations.saving import Sheets, save_sortie
from server.school.operations.showing import record_of
from server.school.operations.signing import seal
from server.school.operations.sorties import plan_sortie

DAY = Day(qnh_hpa=1009, temperature_c=11, wind_from_deg=240, wind_kt=14, visibility_sm=8, cloud_base_ft=7600)
# The parachutes of a past lesson had been repacked so many days before it.
PACKED_BEFORE = 60
WEATHER = (
    "Cloud at 2,500 ft and no change before noon",
    "Wind 35 kt across the strip",
    "Showers, one after the other",
)
ALL_CHECKED = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))


# The second look at the attempts of a record, by their ids: of lessons with a recorder, where it takes long.
Looks = Callable[[Sortie, Record], dict[str, SecondLook]]
# Older ones were signed before there was one: whoever opens them has it counted then.
LOOKED_AT_DAYS = 30


# Who flies today or flew yesterday: their plans follow from their lessons, which are there first.
FIRST = ("petra", "rhea", "jonah", "mirela")


@dataclass(frozen=True)
class Part:
    """One lesson, or what is counted when all are there."""

    words: str
    _do: Callable[[], None]

    def do(self) -> None:
        """All of it or nothing; done again, it leaves what is there."""
        with transaction.atomic():
            self._do()


def load_demo(now: datetime, looks: Looks, say: Callable[[str], None]) -> None:
    """One transaction: the whole school or nothing. Deterministic for a given day."""
    with transaction.atomic():
        load_first(now, say)
        for part in the_rest(now, looks):
            say(part.words)
            part.do()


def load_first(now: datetime, say: Callable[[str], None]) -> None:
    """What Today shows: people, fleet, places, and today's sorties with the lessons behind them. One
    transaction."""
    with transaction.atomic():
        say("people, aircraft and places")
        # One hash for all: it is made to cost a second, and this password is no secret.
        hashed = make_password(PASSWORD)
        people = {u: _person(u, name, role, weight, hashed) for u, name, role, weight in PEOPLE}
        for registration, card, packed in FLEET:
            Aircraft.objects.create(
                registration=registration,
                card=card,
                parachutes_packed_on=(now - timedelta(days=packed)).date(),
            )
        for place in PLACES:
            Place.objects.create(name=place["name"], place=place)
        School.objects.create(name=SCHOOL, by=people["morag"], at=at_hour(now, 250, 9))
        SchoolStandards.objects.create(standards=Standards().model_dump(mode="json"))
        for past in PASTS:
            _in_courses(past, people, now)
        for part in _lessons(FIRST, people, now):
            say(part.words)
            part.do()
        say("today's sorties")
        _standings(people, now, FIRST)
        count_population()
        _todays_sorties(people, now)


def the_rest(now: datetime, looks: Looks) -> Sequence[Part]:
    """What follows on load_first, in its order."""
    people = {
        person.username: person for person in Person.objects.filter(username__in=[p[0] for p in PEOPLE])
    }

    def count() -> None:
        if is_laid_out(people, now):
            return
        _standings(people, now, [past.username for past in PASTS])
        count_population()
        lay_out(people, now, _new)
        _last_here(people)

    others = [past.username for past in PASTS if past.username not in FIRST]
    return (
        *_lessons(others, people, now),
        *(
            Part(
                f"a recorded lesson of {people[flight.username].name}: {flight.name}",
                partial(_recorded_lesson, flight, people, now, looks),
            )
            for flight in FLIGHTS
        ),
        Part("standings and the week", count),
    )


def _lessons(usernames: Sequence[str], people: dict[str, Person], now: datetime) -> Iterator[Part]:
    for past in PASTS:
        if past.username in usernames:
            before = Counter[str]()
            for lesson in range(len(past.lessons)):
                words = f"lesson {lesson + 1} of {len(past.lessons)} of {people[past.username].name}"
                yield Part(words, partial(_past_lesson, past, lesson, before, people, now))


def _is_there(student: Person, at: datetime, stage: Stage) -> bool:
    """The lesson of this time."""
    return Sortie.objects.filter(student__person=student, planned_for=at, stage=stage).exists()


def _last_here(people: dict[str, Person]) -> None:
    """Each was logged in when they last signed something, or had it signed."""
    for person in people.values():
        mine = Q(sortie__instructor=person) | Q(sortie__student__person=person)
        last = Signature.objects.filter(mine).aggregate(at=Max("at"))["at"]
        Person.objects.filter(pk=person.pk).update(last_login=last)


def _person(username: str, name: str, role: str, weight_lb: float, hashed: str) -> Person:
    person = Person.objects.create(
        username=username,
        password=hashed,
        name=name,
        role=role,
        weight_lb=weight_lb,
        email=f"{username}@school.example",
    )
    if role == "student":
        Student.objects.create(person=person, goal=GOALS[username])
    return person


def _in_courses(past: Past, people: dict[str, Person], now: datetime) -> None:
    """Put into each course when they began it, with what was done on the ground."""
    student = Student.objects.get(person=people[past.username])
    for number, (days_ago, key) in enumerate(past.courses.items()):
        at = at_hour(now, days_ago, 9)
        by = people[past.instructor(0)]
        student.enrolments.filter(ended=None).update(ended=at, ended_why="Every task as the course needs it")
        course = course_in_force(key)
        Enrolment.objects.create(student=student, course=course, by=by, began=at)
        items = course.document().ground
        last = number == len(past.courses) - 1
        for item in items[: len(items) - (past.ground_open if last else 0)]:
            GroundDone.objects.create(student=student, course=key, item=item.key, by=by, at=at)


def _standings(people: dict[str, Person], now: datetime, usernames: Sequence[str]) -> None:
    """What the chief has set, and what follows from the lessons."""
    for username in usernames:
        student = Student.objects.get(person=people[username])
        student.stage = ""
        if username in SET_STANDINGS:
            student.stage, student.stage_reason = SET_STANDINGS[username]
            student.stage_by, student.stage_at = people["morag"], at_hour(now, 115, 17)
        student.save()
        count_standing(student)


def _new(
    people: dict[str, Person],
    username: str,
    instructor: str,
    registration: str,
    place: int,
    at: datetime,
    lesson: str = "spins_both_ways",
) -> Sortie:
    """Planned with the demo's day, each figure a little above its lowest start."""
    student = Student.objects.get(person=people[username])
    aircraft, block = (
        Aircraft.objects.get(registration=registration),
        Place.objects.get(name=PLACES[place]["name"]),
    )
    setting = replace(setting_of(aircraft, student, people[instructor], at), days={block.name: DAY})
    plan = laid_out_above_the_lowest(lesson_of(lesson), setting, block.document())
    return plan_sortie(people[instructor], student, aircraft, block, lesson, at, plan)


def _moved(sortie: Sortie, person: Person, stage: Stage) -> None:
    """Stage set directly: the history is not asked again whether it was ready."""
    lands = stage == "flown"
    if lands:
        sortie.packed_kept = sortie.planned_for.date() - timedelta(days=PACKED_BEFORE)
        keep_of_the_brief(sortie, record_of(sortie))
    sortie.stage = stage
    sortie.save()
    if lands:
        add_up_again(sortie)
    StageChange.objects.create(sortie=sortie, stage=stage, by=person)


def _past_lesson(
    past: Past, lesson: int, before: Counter[str], people: dict[str, Person], now: datetime
) -> None:
    """Flown, debriefed and signed. before: how often each figure was flown in the lessons until then; those
    of this one are added."""
    at = _began(past, lesson, now)
    if not _is_there(people[past.username], at, "signed"):
        _fly(past, lesson, before, people, now)
    rows = AttemptRow.objects.filter(sortie__student__person=people[past.username], sortie__planned_for=at)
    attempts = [attempt for row in rows if (attempt := attempt_kept(row)) is not None]
    before.update({attempt.planned.key for attempt in attempts if attempt.to_the_end})


def _with_fault(attempts: list[Attempt], fault: str) -> Figure:
    return figure_of(next(attempt.planned.key for attempt in attempts if fault in attempt.faults))


def _began(past: Past, lesson: int, now: datetime) -> datetime:
    return at_hour(now, past.lessons[lesson][0], 9 + lesson % 5, 30)


def _fly(past: Past, lesson: int, before: Counter[str], people: dict[str, Person], now: datetime) -> None:
    key, instructor = past.lessons[lesson][1], past.instructor(lesson)
    person, at = people[instructor], _began(past, lesson, now)
    # As it stood then; what follows from the lessons is counted when all are there.
    Student.objects.filter(person=people[past.username]).update(stage=lesson_of(key).standing)
    _weather_days(past, lesson, people, now)
    with clock.as_of(at - timedelta(days=1)):
        sortie = _new(people, past.username, instructor, past.aircraft, 0, at, key)
    plan = plan_of(sortie)
    flight = PastFlight(past, lesson, plan.figures, dict(before))
    chance = random.Random(f"{past.username} {lesson}")
    attempts = flown_attempts(flight, conditions_for(sortie, plan), chance)
    counted = Counter(fault for attempt in attempts for fault in attempt.faults)
    fault = min(counted, key=lambda f: (-counted[f], f), default=None)
    debrief = Debrief(
        note=_note(attempts, fault),
        one_thing="" if fault is None else said_of_fault(fault, _with_fault(attempts, fault)),
        next=f"{FAULTS[fault].words}: once more, both sides" if fault is not None else "Go on",
        flight_min=24.0 + 2.5 * len(attempts),
        feel=attempts[-1].feel or next((a.feel for a in reversed(attempts) if a.feel is not None), None),
    )
    with clock.as_of(at - timedelta(minutes=40)):
        sortie = save_sortie(person, sortie.pk, sortie.version, Sheets(brief=ALL_CHECKED, debrief=debrief))
        _moved(sortie, person, "briefed")
    with clock.as_of(at + timedelta(minutes=50)):
        _moved(sortie, person, "flown")
        note_attempts(person, sortie, attempts, "demo")
    with clock.as_of(at + timedelta(hours=2)):
        _moved(sortie, person, "debriefed")
        seal(person, sortie, record_of(sortie), clock.now())


def _note(attempts: list[Attempt], fault: str | None) -> str:
    broken = next((a for a in attempts if a.abandoned), None)
    if broken is not None:
        return f"{broken.abandoned}: straight home. Nothing to be ashamed of."
    taken = next((a for a in attempts if a.taken_over_ft is not None), None)
    if taken is not None:
        return f"I took over in the {taken.planned.title.lower()} at {taken.taken_over_ft:,.0f} ft."
    return f"{FAULTS[fault].words}, {'again' if len(attempts) > 6 else 'once'}." if fault else "As briefed."


def _weather_days(past: Past, lesson: int, people: dict[str, Person], now: datetime) -> None:
    """Lessons that were cancelled for the weather between the one before and this one."""
    days_ago, key = past.lessons[lesson]
    before = past.lessons[lesson - 1][0] if lesson else 10_000
    for day in past.weather:
        if days_ago < day < before:
            person = people[past.instructor(lesson)]
            at = at_hour(now, day, 11)
            with clock.as_of(at - timedelta(hours=3)):
                sortie = _new(people, past.username, person.username, past.aircraft, 0, at, key)
                cancel(person, sortie.pk, sortie.version, WEATHER[day % len(WEATHER)])


def _recorded_lesson(flight: Flight, people: dict[str, Person], now: datetime, looks: Looks) -> None:
    by, at = people[flight.instructor], at_hour(now, flight.days_ago, 11 + flight.days_ago % 3)
    if _is_there(people[flight.username], at, "flown" if flight.open else "signed"):
        return
    with clock.as_of(at - timedelta(minutes=40)):
        sortie = _new(people, flight.username, flight.instructor, flight.aircraft, 0, at, flight.lesson)
        sortie = save_sortie(by, sortie.pk, sortie.version, Sheets(brief=ALL_CHECKED))
        _moved(sortie, by, "briefed")
    with clock.as_of(at + timedelta(hours=2)):
        recorded_lesson(flight, by, sortie, _moved)
        sortie.refresh_from_db()
        # Of what is open they are kept as when somebody reads it in.
        record = record_of(sortie)
        seen = looks(sortie, record) if flight.days_ago <= LOOKED_AT_DAYS else {}
        if not flight.open:
            seal(by, sortie, replace(record, looks=seen), clock.now())


def _todays_sorties(people: dict[str, Person], now: datetime) -> None:
    _new(people, "petra", "tam", "QX-ROE", 0, at_hour(now, 0, 10, 30))
    flown = _new(people, "rhea", "ilse", "QX-ROE", 0, at_hour(now, 1, 14), "several_turns")
    plan = plan_of(flown)
    past = next(p for p in PASTS if p.username == "rhea")
    flight = PastFlight(past, 1, plan.figures, {figure.key: 1 for figure in plan.figures})
    attempts = flown_attempts(flight, conditions_for(flown, plan), random.Random("rhea yesterday"))
    ungraded = [attempt.model_copy(update={"grade": None}) for attempt in attempts]
    flown = save_sortie(people["ilse"], flown.pk, flown.version, Sheets(brief=ALL_CHECKED))
    _moved(flown, people["ilse"], "briefed")
    note_attempts(people["ilse"], flown, ungraded, "demo")
    _moved(flown, people["ilse"], "flown")
    briefed = _new(people, "jonah", "tam", "QX-ROE", 1, at_hour(now, 0, 14, 0))
    briefed = save_sortie(people["tam"], briefed.pk, briefed.version, Sheets(brief=ALL_CHECKED))
    _moved(briefed, people["tam"], "briefed")
    _new(people, "mirela", "ilse", "QX-COR", 0, at_hour(now, -1, 11, 0), "stalls")
