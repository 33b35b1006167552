"""Who belongs to the school: two roles in one person, leaving and coming back, and the last chief."""

from datetime import timedelta

import pytest

from server import clock
from server.school.models import BookingChange, Change, Deed, Person, Sortie, Student
from server.school.operations.sorties import plan_sortie
from tests.server.conftest import PASSWORD, post, put
from tests.server.sheets import to_sign, url
from tests.server.test_accounts import NEW, invited, logged_in


def changed(client, person, **other):
    body = {
        "username": person.username,
        "name": person.name,
        "email": person.email,
        "role": person.role,
        "student": hasattr(person, "student"),
        "weight_lb": person.weight_lb,
    }
    return put(client, f"/api/people/{person.pk}", {**body, **other})


def test_the_last_chief_cannot_leave_or_stop_being_chief(school, as_):
    chief, bo = school.people["chief"], school.people["bo"]
    assert post(as_("chief"), f"/api/people/{chief.pk}/leave", {"reason": "moving away"}).status_code == 422
    assert changed(as_("chief"), chief, role="instructor").status_code == 422
    assert changed(as_("chief"), bo, role="chief").status_code == 200
    assert post(as_("chief"), f"/api/people/{chief.pk}/leave", {"reason": "moving away"}).status_code == 200
    assert Person.objects.get(pk=chief.pk).is_active is False
    assert post(as_("bo"), f"/api/people/{bo.pk}/leave", {"reason": "moving away"}).status_code == 422


def test_several_roles_in_one_person(school, as_):
    cy = school.people["cy"]
    answer = changed(as_("chief"), cy, student=True)
    assert (answer.json()["role"], answer.json()["student_id"] is not None) == ("instructor", True)
    assert as_("cy").get("/api/session").json()["person"]["student_id"] == answer.json()["student_id"]
    student = Student.objects.get(person=cy)
    at = clock.now() + timedelta(hours=2)
    sortie = plan_sortie(school.people["bo"], student, school.aircraft, school.place, "spins_both_ways", at)
    may = as_("cy").get(url(sortie)).json()["may"]
    assert (may["read"], may["plan"]) == (True, False)
    # In their own sortie they are told what a student is told.
    put(
        as_("bo"), url(sortie), {"version": 1, "plan": {**sortie.plan, "surprises": {"count": 2, "seed": 77}}}
    )
    assert as_("cy").get(url(sortie)).json()["plan"]["surprises"]["seed"] == 0
    assert as_("chief").get(url(sortie)).json()["plan"]["surprises"]["seed"] == 77
    # Nobody instructs themselves.
    body = {
        "student_id": student.pk,
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
        "planned_for": "2030-01-01T10:00:00Z",
    }
    refused = post(as_("cy"), "/api/sorties", body)
    assert refused.status_code == 422
    assert "is the student of it" in refused.json()["problems"][0]["what"]
    move = {"version": Sortie.objects.get(pk=sortie.pk).version, "instructor_id": cy.pk}
    assert post(as_("chief"), url(sortie, "/booking"), move).status_code == 422
    # A mark that sorties hang on stays.
    assert changed(as_("chief"), cy, student=False).status_code == 422


def test_who_leaves_is_locked_out_and_what_is_theirs_is_handed_on(school, as_):
    client, _ = logged_in("bo", PASSWORD)
    flown, planned = school.brought_to("debriefed"), school.sortie("dee")
    bo, cy = school.people["bo"], school.people["cy"]
    way = f"/api/people/{bo.pk}/leave"
    assert next(p for p in as_("chief").get("/api/people").json() if p["id"] == bo.pk)["ahead"] == 2
    without = post(as_("chief"), way, {"reason": "moving away"})
    assert without.status_code == 422
    assert "2 sorties" in without.json()["problems"][0]["what"]
    assert post(as_("chief"), way, {"reason": "moving away", "instead": bo.pk}).status_code == 422
    assert post(as_("chief"), way, {"reason": "x", "instead": cy.pk}).status_code == 422
    left = post(as_("chief"), way, {"reason": "moving away", "instead": cy.pk}).json()
    assert (left["state"], left["left_why"], left["ahead"]) == ("left", "moving away", 0)
    assert client.get("/api/today").status_code == 401
    assert logged_in("bo", PASSWORD)[1].status_code == 422
    assert {s.instructor.name for s in Sortie.objects.all()} == {"Cy"}
    assert Sortie.objects.get(pk=flown.pk).stage == "debriefed"
    assert Sortie.objects.get(pk=planned.pk).stage == "planned"
    assert BookingChange.objects.filter(sortie=flown, before="Bo", after="Cy").exists()
    flown.refresh_from_db()
    assert post(as_("cy"), url(flown, "/sign"), to_sign(flown)).status_code == 200
    assert "Bo" not in [one["name"] for one in as_("cy").get("/api/instructors").json()]
    back = post(as_("chief"), f"/api/people/{bo.pk}/back", {}).json()
    assert back["state"] == "in"
    assert logged_in("bo", PASSWORD)[1].status_code == 200


def test_a_student_who_leaves_is_flown_no_more(school, as_):
    sortie = school.sortie("ana")
    post(as_("chief"), f"/api/people/{school.people['ana'].pk}/leave", {"reason": "gave it up"})
    sortie.refresh_from_db()
    assert sortie.cancelled == "Ana has left the school"
    assert [s["name"] for s in as_("bo").get("/api/students").json()] == ["Dee"]
    # What was flown is still found.
    assert as_("bo").get(f"/api/students/{school.student('ana').pk}").status_code == 200


def test_what_was_flown_is_handed_over_by_the_chief_alone_and_on_the_record(school, as_):
    sortie, cy = school.brought_to("flown"), school.people["cy"]
    body = {"version": sortie.version, "instructor_id": cy.pk}
    for who in ("bo", "cy"):
        assert post(as_(who), url(sortie, "/booking"), body).status_code == 403
    kept = sortie.plan
    moved = {**body, "planned_for": "2030-01-01T10:00:00Z"}
    assert post(as_("chief"), url(sortie, "/booking"), moved).status_code == 403
    assert post(as_("chief"), url(sortie, "/booking"), body).status_code == 200
    sortie.refresh_from_db()
    assert (sortie.instructor, sortie.stage, sortie.plan) == (cy, "flown", kept)
    assert BookingChange.objects.get(sortie=sortie).by == school.people["chief"]


def test_what_the_chief_writes_down_of_somebody_is_on_the_record(school, as_):
    made = invited(as_("chief"))
    person = Person.objects.get(pk=made["person"]["id"])
    assert changed(as_("chief"), person, name="Eve Marlowe").status_code == 200
    first, second = Change.objects.filter(subject=f"person {person.pk}").order_by("pk")
    assert (first.before, second.before["name"], second.after["name"]) == (None, "Eve Marlow", "Eve Marlowe")
    assert Deed.objects.filter(what="made a link in", subject=f"person {person.pk}").exists()


@pytest.mark.parametrize(
    ("wrong", "where"),
    [
        ({"username": "bo"}, "username"),
        ({"username": "BO"}, "username"),
        ({"username": "a b"}, "username"),
        ({"name": " "}, "name"),
        ({"email": "no address"}, "email"),
        ({"student": False}, "role"),
        ({"weight_lb": 20}, "weight_lb"),
    ],
)
def test_somebody_is_not_taken_with_what_cannot_be(school, as_, wrong, where):
    before = Person.objects.count()
    answer = post(as_("chief"), "/api/people", {**NEW, **wrong})
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["where"] == where
    assert Person.objects.count() == before
