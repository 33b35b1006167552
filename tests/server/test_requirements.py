"""What is required of people, from what is stored, and somebody's word on record of it."""

from datetime import timedelta

import pytest
from django.db import DatabaseError, connection, transaction

from server import clock
from server.school.models import Person, Sortie, Statement
from tests.server.conftest import post
from tests.server.lasting import signed_sortie


def of(client, person):
    return client.get(f"/api/requirements/{person.pk}")


def standing(client, person, key):
    return next(s for s in of(client, person).json()["standings"] if s["requirement"]["key"] == key)


def state(client, person, **said):
    on = clock.day_of(clock.now()).isoformat()
    body = {"requirement": "spin_endorsement", "what": "signature", "on": on, "signed_by": "A. Examiner"}
    return post(client, f"/api/requirements/{person.pk}", {**body, **said})


def test_a_signed_flight_counts_with_its_minutes_and_an_unsigned_one_is_said(school, as_):
    """Its lesson is the spin awareness course's: of the rating it counts, of the upset course it does not."""
    ana = school.people["ana"]
    sortie = school.brought_to("debriefed")
    Sortie.objects.filter(pk=sortie.pk).update(debrief={**sortie.debrief, "flight_min": 45})
    before = standing(as_("bo"), ana, "aerobatic_rating")
    assert (before["lines"][0]["has"], before["not_counted"]) == (0, ["1 flight debriefed and not signed"])
    signed_sortie(school, as_, "ana")
    found = standing(as_("bo"), ana, "aerobatic_rating")
    assert [line["has"] for line in found["lines"]] == [0, 1]
    assert "1 flight without minutes in the debrief" in found["not_counted"]
    Sortie.objects.filter(pk=sortie.pk).update(planned_for=clock.now() - timedelta(days=1))
    assert [line["has"] for line in standing(as_("bo"), ana, "upset_course")["lines"]] == [0, 0, 0]


def test_minutes_of_the_debrief_become_hours(school, as_):
    ana = school.people["ana"]
    sortie = school.brought_to("debriefed")
    client = as_("bo")
    debrief = {**sortie.debrief, "flight_min": 45}
    saved = client.put(
        f"/api/sorties/{sortie.pk}",
        {"version": sortie.version, "debrief": debrief},
        content_type="application/json",
    )
    assert saved.status_code == 200
    found = saved.json()
    asked = {"version": found["version"], "noted": len(found["entries"]), "password": "a-long-enough-one"}
    assert post(client, f"/api/sorties/{sortie.pk}/sign", asked).status_code == 200
    line = standing(client, ana, "aerobatic_rating")["lines"][0]
    assert (line["has"], line["counted"][0]["sortie"]) == (0.75, sortie.pk)


def test_ground_hours_of_the_course_count(school, as_):
    """The upset course as it ships has five hours of them."""
    school.enrolled("ana", "upset_recovery")
    line = standing(as_("bo"), school.people["ana"], "upset_course")["lines"][0]
    assert (line["what"], line["has"], line["missing"]) == ("ground", 5, "")


def test_an_instructor_is_asked_for_a_spin_lately_whoever_the_student_was(school, as_):
    school.brought_to("debriefed", "ana", "bo")
    assert not standing(as_("bo"), school.people["bo"], "spins_lately")["met"]
    flown_on = clock.day_of(signed_sortie(school, as_, "dee").planned_for)
    found = standing(as_("bo"), school.people["bo"], "spins_lately")
    since = (clock.day_of(clock.now()) - flown_on).days
    assert (found["met"], found["lines"][0]["has"]) == (True, since)


@pytest.mark.parametrize(
    ("asker", "whose", "reads", "states"),
    [
        ("chief", "bo", 200, 201),
        ("chief", "ana", 200, 201),
        ("bo", "ana", 200, 201),
        ("bo", "bo", 200, 403),
        ("bo", "cy", 404, 404),
        ("ana", "ana", 200, 403),
        ("ana", "dee", 404, 404),
    ],
)
def test_who_reads_and_who_puts_on_record(school, as_, asker, whose, reads, states):
    person = school.people[whose]
    found = of(as_(asker), person)
    assert found.status_code == reads
    key = "spin_authority" if person.teaches else "spin_endorsement"
    assert state(as_(asker), person, requirement=key).status_code == states
    assert Statement.objects.count() == (states == 201)
    if reads == 200:
        assert found.json()["may_state"] == (states == 201)


def test_a_signature_is_on_record_until_it_is_taken_back_which_stands_beside_it(school, as_):
    ana = school.people["ana"]
    assert state(as_("bo"), ana).json()["standings"][2]["met"]
    row = Statement.objects.get()
    back = f"/api/statements/{row.pk}/take-back"
    assert post(as_("ana"), back, {"reason": "It was another student"}).status_code == 403
    assert post(as_("bo"), back, {"reason": "no"}).status_code == 422
    found = post(as_("bo"), back, {"reason": "It was another student"}).json()
    assert (found["standings"][2]["met"], found["stated"]) == (False, [])
    assert post(as_("bo"), back, {"reason": "It was another student"}).status_code == 422
    lines = as_("chief").get("/api/audit", {"source": "statement"}).json()["lines"]
    assert [(line["what"], line["name"]) for line in lines] == [
        ("took back", "Ana"),
        ("recorded", "Ana"),
    ]


@pytest.mark.parametrize(
    "wrong",
    [
        {"requirement": "nothing"},
        {"requirement": "spins_lately"},
        {"what": "flight", "amount": 3},
        {"requirement": "aerobatic_rating", "what": "flight", "amount": 0},
        {"requirement": "aerobatic_rating", "what": "flight", "amount": 20001},
        {"on": (clock.day_of(clock.now()) + timedelta(days=2)).isoformat()},
        {"signed_by": " "},
    ],
)
def test_what_cannot_be_is_refused(school, as_, wrong):
    assert state(as_("bo"), school.people["ana"], **wrong).status_code == 422
    assert not Statement.objects.exists()


def test_what_is_on_record_does_not_change(school, as_):
    state(as_("bo"), school.people["ana"])
    for sql in (
        "UPDATE school_statement SET signed_by = 'B. Other'",
        "DELETE FROM school_statement",
        "INSERT OR REPLACE INTO school_statement SELECT * FROM school_statement",
    ):
        with pytest.raises(DatabaseError), transaction.atomic(), connection.cursor() as cursor:
            cursor.execute(sql)
    assert Statement.objects.get().signed_by == "A. Examiner"


def test_whoever_teaches_and_is_taught_is_asked_for_both(school, as_):
    from server.school.models import Student

    bo = Person.objects.get(username="bo")
    Student.objects.create(person=bo)
    keys = {s["requirement"]["whom"] for s in of(as_("chief"), bo).json()["standings"]}
    assert keys == {"student", "instructor"}
