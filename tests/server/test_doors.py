"""Every door, for every role, signed in and out. A door that is not in the table fails the last test."""

import json
from contextlib import contextmanager

import pytest
from django.db import transaction

from server.school.operations.enrolling import enrol
from tests.server.conftest import post, put
from tests.server.doors import DOORS, WHO, body_for, description, rows_for
from tests.server.sheets import to_sign

JSON = "application/json"


@pytest.fixture(autouse=True)
def no_archives(settings, tmp_path):
    """None is there, and none of these tests' stays."""
    settings.SCHEDULED = tmp_path


def address_of(method, path, school, sortie):
    url = path.format(
        sortie_id=sortie.pk,
        student_id=sortie.student_id,
        aircraft_id=school.aircraft.pk,
        place_id=school.place.pk,
        key="spin_awareness" if "courses" in path else "loop",
        item="manual",
        question_id=1,
        recording_id=1,
        waiting_id=1,
        person_id=school.people["ana"].pk,
        **rows_for(school),
        name="MQ",
        token="made-up",
        attempt="f1",
    )
    if "lessons" in path:
        url += f"?student_id={sortie.student_id}"
    if method == "DELETE" and "dates" in path:
        url += "?version=1"
    if path == "/api/taken-file":
        url += f"?aircraft_id={school.aircraft.pk}"
    if method == "GET" and ("figures" in path or "changes" in path):
        url += f"?aircraft_id={school.aircraft.pk}&place_id={school.place.pk}&subject=standards"
    return url


@contextmanager
def undone():
    """What is done inside is as if it had not been: each of those who ask finds the same."""
    with transaction.atomic():
        yield
        transaction.set_rollback(True)


@pytest.mark.parametrize(("method", "path"), DOORS)
def test_who_gets_through_which_door(school, as_, method, path):
    sortie = school.sortie()
    if "{student_id}/" in path:
        enrol(school.people["bo"], school.student("ana"), "spin_awareness", "")
    url, body = address_of(method, path, school, sortie), body_for(method, path, school, sortie)
    for who in WHO:
        with undone():
            client = as_(who)
            send = {
                "GET": lambda client=client: client.get(url),
                "PUT": lambda client=client: put(client, url, body),
                "POST": lambda client=client: post(client, url, body),
                "DELETE": lambda client=client: client.delete(url),
            }[method]
            response = send()
        assert response.status_code == DOORS[method, path][who], (who, response.content)
        if response.status_code >= 400:
            problem = response.json()["problems"][0]
            assert all(problem[part] for part in ("where", "what", "do"))


def of_an_object(schema):
    """Every door that leads to somebody's sortie or record, from the description itself."""
    for path, methods in schema["paths"].items():
        if "{sortie_id}" in path or "{student_id}" in path:
            yield from ((method, path) for method in methods)


@pytest.mark.long
def test_what_is_somebody_elses_is_not_there_object_by_object(school, as_):
    """Whatever its stage, and whatever is sent."""
    schema = description()
    sorties = [school.brought_to(stage) for stage in ("planned", "briefed", "flown", "debriefed")]
    assert post(as_("bo"), f"/api/sorties/{sorties[-1].pk}/sign", to_sign(sorties[-1])).status_code == 200
    ana, nobody, dee = school.student("ana").pk, as_(None), as_("dee")
    found = list(of_an_object(schema))
    assert len(found) > 40
    for method, path in found:
        for sortie in sorties:
            url = path.format(
                sortie_id=sortie.pk,
                student_id=ana,
                question_id=1,
                recording_id=1,
                attempt="f1",
                item="manual",
            )
            body = body_for(method.upper(), path, school, sortie)
            said = [c.generic(method.upper(), url, json.dumps(body), JSON).status_code for c in (nobody, dee)]
            assert said == [401, 404], (method, path, sortie.stage)


def test_every_door_is_in_the_table():
    schema = description()
    doors = {(method.upper(), path) for path, methods in schema["paths"].items() for method in methods}
    assert doors == set(DOORS)


def test_lists_hold_only_what_may_be_seen(school, as_):
    school.sortie("ana", "bo")
    school.sortie("dee", "cy")
    seen = {
        who: {s["student"] for s in as_(who).get("/api/today").json()["sorties"]}
        for who in ("chief", "bo", "cy", "ana", "dee")
    }
    assert seen == {**dict.fromkeys(("chief", "bo", "cy"), {"Ana", "Dee"}), "ana": {"Ana"}, "dee": {"Dee"}}
    assert [s["name"] for s in as_("ana").get("/api/students").json()] == ["Ana"]


def test_a_flown_sortie_of_the_school_is_seen_by_other_instructors_but_not_changed(school, as_):
    sortie = school.brought_to("flown")
    assert as_("cy").get(f"/api/sorties/{sortie.pk}").status_code == 200
    assert (
        put(
            as_("cy"), f"/api/sorties/{sortie.pk}", {"version": sortie.version, "debrief": {"note": "x"}}
        ).status_code
        == 403
    )
