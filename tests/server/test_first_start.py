"""From an empty installation to a first flight."""

from io import StringIO

import pytest
from django.core.management import CommandError, call_command
from django.test import Client

from keelturn.progress.courses import SPIN_AWARENESS
from keelturn.school.standards import Standards
from server.school.models import Person, School, Student
from tests.cards import LIGHT
from tests.server.conftest import PASSWORD, post, put

FIRST = {
    "school": "Loch Aran Flying",
    "name": "Effie Strand",
    "username": "effie",
    "email": "",
    "password": PASSWORD,
    "weight_lb": 150,
}


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


def begun():
    client = Client()
    answer = post(client, "/api/session/first", FIRST)
    assert answer.status_code == 200, answer.content
    return client


def test_whoever_comes_first_is_the_chief_and_nobody_after(db):
    nobody = Client()
    assert nobody.get("/api/session").json()["first_start"] is True
    client = begun()
    told = client.get("/api/session").json()
    assert (told["person"]["role"], told["school"]) == ("chief", "Loch Aran Flying")
    assert nobody.get("/api/session").json()["first_start"] is False
    again = post(nobody, "/api/session/first", {**FIRST, "username": "mallory"})
    assert again.status_code == 422
    assert "somebody is here already" in again.json()["problems"][0]["what"]
    assert Person.objects.count() == 1


@pytest.mark.parametrize(
    "wrong", [{"password": "short"}, {"username": "a b"}, {"school": " "}, {"name": ""}, {"weight_lb": None}]
)
def test_nothing_is_begun_by_halves(db, wrong):
    assert post(Client(), "/api/session/first", {**FIRST, **wrong}).status_code == 422
    assert (Person.objects.count(), School.objects.count()) == (0, 0)


def open_steps(client):
    return [s["key"] for s in client.get("/api/first-steps").json()["steps"] if not s["done"]]


def test_every_step_to_the_first_sortie_without_demo_data(db):
    """Through the doors that the pages use, and nothing else."""
    client = begun()
    left = ["school", "aircraft", "place", "student", "course", "sortie"]
    assert open_steps(client) == left
    held = client.get("/api/standards").json()
    assert held["standards"] == Standards().model_dump(mode="json")
    assert put(client, "/api/standards", held).status_code == 200
    assert open_steps(client) == left[1:]
    # A card with numbers that contradict themselves is not taken, and the number is named.
    wrong = {**LIGHT, "speeds": {**LIGHT["speeds"], "never_exceed_ias": {"value": 40, "source": "manual"}}}
    refused = post(client, "/api/aircraft", {"registration": "QX-NEW", "card": wrong})
    assert refused.status_code == 422
    assert any("speeds" in p["where"] for p in refused.json()["problems"])
    made = post(client, "/api/aircraft", {"registration": "QX-NEW", "card": LIGHT}).json()
    assert open_steps(client) == left[2:]
    block = {"name": "Aran block", "elevation_ft": 20, "block_top_ft": 7000}
    place = post(client, "/api/places", {"place": block}).json()
    assert open_steps(client) == left[3:]
    asked = post(client, "/api/people", {"username": "finn", "name": "Finn Oake", "weight_lb": 160}).json()
    student = asked["person"]["student_id"]
    assert open_steps(client) == left[4:]
    into = put(client, f"/api/students/{student}/course", {"course": SPIN_AWARENESS.key, "why": ""})
    assert into.status_code == 200
    assert open_steps(client) == left[5:]
    asked_for = {"student_id": student, "aircraft_id": made["id"]}
    assert post(client, "/api/sorties/proposal", asked_for).status_code == 200
    sortie = post(
        client,
        "/api/sorties",
        {
            "student_id": student,
            "aircraft_id": made["id"],
            "place_id": place["id"],
            "planned_for": "2030-01-01T10:00:00Z",
        },
    )
    assert sortie.status_code == 201
    assert sortie.json()["answer"]["figures"]
    assert open_steps(client) == []
    assert Student.objects.get().sorties.count() == 1


def test_the_chief_alone_sees_the_steps_and_names_the_school(school, as_):
    assert as_("bo").get("/api/first-steps").status_code == 403
    assert put(as_("bo"), "/api/school-name", {"name": "Bo's own"}).status_code == 403
    named = put(as_("chief"), "/api/school-name", {"name": "Loch Aran Flying"}).json()
    assert named["school"] == "Loch Aran Flying"
    assert as_("bo").get("/api/session").json()["school"] == "Loch Aran Flying"
    assert School.objects.count() == 1
    put(as_("chief"), "/api/school-name", {"name": "Aran Flying"})
    assert (School.objects.count(), School.called()) == (1, "Aran Flying")


def test_a_way_in_is_made_on_the_machine_where_no_chief_can(school):
    said = StringIO()
    call_command("way_in", "chief", stdout=said)
    link = said.getvalue().split()[0]
    assert post(Client(), f"/api/session{link}", {"password": "three-otters-sleeping"}).status_code == 200
    with pytest.raises(CommandError, match="Nobody logs in as nobody"):
        call_command("way_in", "nobody")
    Person.objects.filter(username="bo").update(is_active=False)
    with pytest.raises(CommandError, match="has left the school"):
        call_command("way_in", "bo")
