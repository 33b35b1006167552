"""A small school, made without the demo's history: a chief, two instructors, two students, two aircraft, one
place."""

from collections.abc import Callable, Iterator
from copy import deepcopy
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.db import connection
from django.test import Client
from django.test.client import ClientHandler

from keelturn.formats.reading import read_document
from keelturn.noting.attempt import Attempt
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief
from keelturn.plan.document import PlanDocument
from keelturn.school.before import BeforeALesson
from keelturn.school.standards import Standards
from server import clock
from server.school.models import Aircraft, Person, Place, SchoolStandards, Sortie, Student
from server.school.operations.courses import course_in_force
from server.school.operations.enrolling import enrol, tick_ground
from server.school.operations.noting import note_attempts
from server.school.operations.saving import Sheets, save_sortie
from server.school.operations.sorties import move_stage, plan_sortie
from server.sessions import SessionStore
from tests.cards import LIGHT, NO_SPINS
from tests.flights import GIVEN
from tests.server import once

PASSWORD = "a-long-enough-one"
# Of all clients: each of its own would look through the page's built files again.
HANDLER = ClientHandler(enforce_csrf_checks=False)


@dataclass
class School:
    people: dict[str, Person]
    aircraft: Aircraft
    no_spins: Aircraft
    place: Place
    # Of the database's connection, when nothing but this was in it.
    untouched: int = 0

    def begun_with(self, what: str, make: Callable[[], Sortie]) -> Sortie:
        """Where a test begins with it, it is made once for all that do."""
        if connection.connection.total_changes != self.untouched:
            return make()
        once.once(f"{what} {clock.ahead()}", make)
        self.read_again()
        return Sortie.objects.get()

    def read_again(self) -> None:
        for row in (*self.people.values(), self.aircraft, self.no_spins, self.place):
            row.refresh_from_db()

    def student(self, name: str) -> Student:
        return Student.objects.get(person=self.people[name])

    def enrolled(self, name: str, key: str = "spin_awareness") -> None:
        """Into a course, with everything on the ground done."""
        student, by = self.student(name), self.people["bo"]
        enrol(by, student, key, "")
        for item in course_in_force(key).document().ground:
            tick_ground(by, student, item.key, True)

    def sortie(self, student: str = "ana", instructor: str = "bo", at: datetime | None = None) -> Sortie:
        return self.begun_with(
            f"sortie {student} {instructor} {at}", lambda: self._sortie(student, instructor, at)
        )

    def _sortie(self, student: str, instructor: str, at: datetime | None) -> Sortie:
        sortie = plan_sortie(
            self.people[instructor],
            self.student(student),
            self.aircraft,
            self.place,
            "spins_both_ways",
            at or clock.now() + timedelta(hours=2),
        )
        return with_weather(sortie)

    def brought_to(self, stage: str, student: str = "ana", instructor: str = "bo") -> Sortie:
        """A sortie moved through its stages as an instructor would."""
        return self.begun_with(
            f"{stage} {student} {instructor}", lambda: self._brought_to(stage, student, instructor)
        )

    def _brought_to(self, stage: str, student: str, instructor: str) -> Sortie:
        person, sortie = self.people[instructor], self.sortie(student, instructor)
        plan = read_document(PlanDocument, sortie.plan)
        brief = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))
        flown = [
            Attempt.model_validate(
                {
                    "id": f"a{i}",
                    "planned": f.model_dump(),
                    "start_ft": f.start_ft,
                    "lowest_ft": f.start_ft - 300,
                    "grade": "Sound",
                }
            )
            for i, f in enumerate(plan.figures)
        ]
        for to in ("briefed", "flown", "debriefed"):
            if sortie.stage == stage:
                break
            if to == "briefed":
                sortie = save_sortie(person, sortie.pk, sortie.version, Sheets(brief=brief))
            if to == "flown":
                note_attempts(person, sortie, flown, "tests")
            sortie = move_stage(person, sortie.pk, sortie.version, to)  # type: ignore[arg-type]
        return sortie


def with_weather(sortie: Sortie) -> Sortie:
    """As somebody gave it."""
    sortie.plan = {**sortie.plan, "day": {**sortie.plan["day"], **GIVEN}}
    sortie.save(update_fields=["plan"])
    return sortie


@pytest.fixture
def school(db: Any, settings: Any) -> School:
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    roles = {"chief": "chief", "bo": "instructor", "cy": "instructor", "ana": "student", "dee": "student"}
    people = {
        n: Person.objects.create_user(username=n, password=PASSWORD, name=n.title(), role=r, weight_lb=170)
        for n, r in roles.items()
    }
    for name in ("ana", "dee"):
        Student.objects.create(person=people[name], stage="practised")
    # Nobody here is in a course yet, and everybody flies: said, and no stop.
    lenient = Standards(before=BeforeALesson(ground="caution", tasks="caution"))
    SchoolStandards.objects.create(standards=lenient.model_dump(mode="json"))
    packed = clock.now().date() - timedelta(days=20)
    made = School(
        people,
        Aircraft.objects.create(registration="QX-TST", card=deepcopy(LIGHT), parachutes_packed_on=packed),
        Aircraft.objects.create(registration="QX-NOS", card=NO_SPINS, parachutes_packed_on=packed),
        Place.objects.create(
            name="Test block", place={"name": "Test block", "elevation_ft": 10, "block_top_ft": 6500}
        ),
    )
    made.untouched = connection.connection.total_changes
    return made


@pytest.fixture(autouse=True)
def nothing_stays(request: pytest.FixtureRequest) -> Iterator[None]:
    """What a test outside of a transaction leaves is removed behind the guards: they keep it otherwise."""
    if "transactional_db" not in request.fixturenames:
        yield
        return
    request.getfixturevalue("transactional_db")
    once.once("empty", lambda: None)
    yield
    once.once("empty", lambda: None)


def session_of(person: Person) -> str:
    """A session of their own, without what else comes with a log-in."""
    session = SessionStore()
    session[SESSION_KEY] = str(person.pk)
    session[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
    session[HASH_SESSION_KEY] = person.get_session_auth_hash()
    session.create()
    return str(session.session_key)


@pytest.fixture
def as_(school: School) -> Callable[[str | None], Client]:
    """A browser logged in as somebody, or as nobody."""

    def client(name: str | None) -> Client:
        made = Client()
        made.handler = HANDLER
        if name is not None:
            made.cookies[settings.SESSION_COOKIE_NAME] = session_of(school.people[name])
        return made

    return client


@pytest.fixture
def files(settings: Any, tmp_path: Path) -> Path:
    """Where recorders' files are kept, of this test alone."""
    settings.DATA = tmp_path
    return tmp_path


@pytest.fixture
def two(school: School, as_: Callable[[str | None], Client]) -> tuple[Sortie, Sortie]:
    """Two students, each with a signed sortie and a correction: four links."""
    from tests.server.lasting import signed_sortie

    once.once("two", lambda: [signed_sortie(school, as_, name) for name in ("ana", "dee")])
    school.read_again()
    first, second = Sortie.objects.order_by("pk")
    return first, second


@pytest.fixture
def full(
    school: School, as_: Callable[[str | None], Client], files: Path, two: tuple[Sortie, Sortie]
) -> list[Sortie]:
    """Beside these an open one with a recording, a student in a course, a date, somebody's word and a time at
    which the aircraft is not to be had."""
    from tests.server.doors import rows_for
    from tests.server.test_recordings import file_of, sent

    def more() -> None:
        school.enrolled("ana")
        rows_for(school)
        open_one = school.brought_to("briefed")
        sent(as_("bo"), open_one, file_of(open_one))

    once.once("full", more, files)
    school.read_again()
    return list(Sortie.objects.order_by("pk"))


def put(client: Client, url: str, body: dict[str, Any]) -> Any:
    return client.put(url, body, content_type="application/json")


def post(client: Client, url: str, body: dict[str, Any]) -> Any:
    return client.post(url, body, content_type="application/json")
