"""Putting the demo school into an empty database: people, fleet, places, three months of lessons, today's
sorties."""

import random
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta

from django.contrib.auth.hashers import make_password
from django.db import transaction

from keelturn.assess.second_look import SecondLook
from keelturn.assess.spoken import OF_A_FAULT
from keelturn.figures.faults import BY_KEY as FAULTS
from keelturn.figures.planned import PlannedFigure
from keelturn.formats.reading import read_document
from keelturn.formats.signed import Record
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief
from keelturn.plan.document import PlanDocument
from keelturn.plan.sequence import starts_above_the_lowest
from keelturn.progress.stages import Debrief, Stage
from keelturn.school.standards import Standards
from keelturn.weather.day import Day
from server.school.demo.cards import FLEET, PLACES
from server.school.demo.history import PASTS, Past, at_hour, flown_attempts
from server.school.demo.people import GOALS, PASSWORD, PEOPLE, STAGES
from server.school.demo.recorded import FLIGHTS, Flight, recorded_lesson
from server.school.models import (
    Aircraft,
    Person,
    Place,
    SchoolStandards,
    Sortie,
    StageChange,
    Student,
)
from server.school.operations.computing import conditions_for
from server.school.operations.noting import note_attempts
from server.school.operations.saving import Sheets, save_sortie
from server.school.operations.showing import record_of
from server.school.operations.signing import seal
from server.school.operations.sorties import plan_sortie

DAY = Day(qnh_hpa=1009, temperature_c=11, wind_from_deg=240, wind_kt=14, visibility_sm=8, cloud_base_ft=7600)
# The parachutes of a past lesson had been repacked so many days before it.
PACKED_BEFORE = 60
ALL_CHECKED = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))


# The second look at the attempts of a record, by their ids: of lessons with a recorder, where it takes long.
Looks = Callable[[Sortie, Record], dict[str, SecondLook]]


def load_demo(now: datetime, looks: Looks, say: Callable[[str], None]) -> None:
    """One transaction: the whole school or nothing. Deterministic for a given day."""
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
        SchoolStandards.objects.create(standards=Standards().model_dump(mode="json"))
        for past in PASTS:
            say(f"past lessons of {people[past.username].name}")
            for lesson in range(len(past.days_ago)):
                _past_lesson(past, lesson, people, now)
        for flight in FLIGHTS:
            say(f"a recorded lesson of {people[flight.username].name}: {flight.name}")
            _recorded_lesson(flight, people, now, looks)
        say("today's sorties")
        _todays_sorties(people, now)


def _person(username: str, name: str, role: str, weight_lb: float, hashed: str) -> Person:
    person = Person.objects.create(
        username=username, password=hashed, name=name, role=role, weight_lb=weight_lb
    )
    if role == "student":
        Student.objects.create(
            person=person, stage=STAGES.get(username, "first flights"), goal=GOALS[username]
        )
    return person


def _new(
    people: dict[str, Person],
    username: str,
    instructor: str,
    registration: str,
    place: int,
    at: datetime,
    lesson: str = "spins_both_ways",
) -> Sortie:
    student = Student.objects.get(person=people[username])
    aircraft, block = (
        Aircraft.objects.get(registration=registration),
        Place.objects.get(name=PLACES[place]["name"]),
    )
    sortie = plan_sortie(people[instructor], student, aircraft, block, lesson, at)
    plan = read_document(PlanDocument, sortie.plan).model_copy(update={"day": DAY})
    plan = starts_above_the_lowest(plan, conditions_for(sortie, plan))
    return save_sortie(people[instructor], sortie.pk, sortie.version, Sheets(plan=plan))


def _moved(sortie: Sortie, person: Person, stage: Stage) -> None:
    """Stage set directly: the history is not asked again whether it was ready."""
    sortie.stage = stage
    if sortie.was_flown:
        sortie.packed_kept = sortie.planned_for.date() - timedelta(days=PACKED_BEFORE)
    sortie.save()
    StageChange.objects.create(sortie=sortie, stage=stage, by=person)


def _past_lesson(past: Past, lesson: int, people: dict[str, Person], now: datetime) -> None:
    person, at = people[past.instructor], at_hour(now, past.days_ago[lesson], 10 + lesson % 4, 30)
    registration = "QX-COR" if past.username == "rhea" and lesson == 3 else "QX-ROE"
    sortie = _new(people, past.username, past.instructor, registration, 0, at)
    plan = read_document(PlanDocument, sortie.plan)
    plan = plan.model_copy(update={"figures": _chosen(plan.figures, past.figures)})
    conditions = conditions_for(sortie, plan)
    attempts = flown_attempts(
        past, lesson, plan.figures, conditions, random.Random(f"{past.username} {lesson}")
    )
    faults = sorted({fault for attempt in attempts for fault in attempt.faults})
    words = f"{FAULTS[faults[0]].words}, as last time." if faults else "Nothing to mend today."
    sortie = save_sortie(
        person,
        sortie.pk,
        sortie.version,
        Sheets(
            plan=plan,
            brief=ALL_CHECKED,
            debrief=Debrief(
                note=words,
                one_thing=OF_A_FAULT[faults[0]] if faults else "",
                next="Again, both ways",
            ),
        ),
    )
    _moved(sortie, person, "briefed")
    note_attempts(person, sortie, attempts, "demo")
    _moved(sortie, person, "debriefed")
    signed_at = at + timedelta(hours=2)
    seal(person, sortie, record_of(sortie), signed_at)


def _recorded_lesson(flight: Flight, people: dict[str, Person], now: datetime, looks: Looks) -> None:
    ilse, at = people["ilse"], at_hour(now, flight.days_ago, 12 + flight.days_ago % 4)
    sortie = _new(people, flight.username, "ilse", flight.aircraft, 0, at, flight.lesson)
    sortie = save_sortie(ilse, sortie.pk, sortie.version, Sheets(brief=ALL_CHECKED))
    _moved(sortie, ilse, "briefed")
    recorded_lesson(flight, ilse, sortie, _moved)
    sortie.refresh_from_db()
    # Of what is open they are kept as when somebody reads it in.
    record = record_of(sortie)
    seen = looks(sortie, record)
    if not flight.open:
        seal(ilse, sortie, replace(record, looks=seen), at + timedelta(hours=2))


def _chosen(figures: tuple[PlannedFigure, ...], keys: tuple[str, ...]) -> tuple[PlannedFigure, ...]:
    """The lesson's figures that were flown that day, in order; a key asked for twice is flown to both
    sides."""
    left = list(keys)
    found = []
    for figure in figures:
        if figure.key in left:
            left.remove(figure.key)
            found.append(figure)
    return tuple(found)


def _todays_sorties(people: dict[str, Person], now: datetime) -> None:
    _new(people, "petra", "tam", "QX-ROE", 0, at_hour(now, 0, 10, 30))
    flown = _new(people, "rhea", "ilse", "QX-ROE", 0, at_hour(now, 1, 14))
    plan = read_document(PlanDocument, flown.plan)
    past = next(p for p in PASTS if p.username == "rhea")
    attempts = flown_attempts(
        past, 1, plan.figures, conditions_for(flown, plan), random.Random("rhea yesterday")
    )
    ungraded = [attempt.model_copy(update={"grade": None}) for attempt in attempts]
    flown = save_sortie(people["ilse"], flown.pk, flown.version, Sheets(brief=ALL_CHECKED))
    _moved(flown, people["ilse"], "briefed")
    note_attempts(people["ilse"], flown, ungraded, "demo")
    _moved(flown, people["ilse"], "flown")
    briefed = _new(people, "jonah", "tam", "QX-ROE", 1, at_hour(now, 0, 14, 0))
    briefed = save_sortie(people["tam"], briefed.pk, briefed.version, Sheets(brief=ALL_CHECKED))
    _moved(briefed, people["tam"], "briefed")
    _new(people, "mirela", "ilse", "QX-COR", 0, at_hour(now, -1, 9, 0))
