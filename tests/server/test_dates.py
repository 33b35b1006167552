"""Dates of people and aircraft: kept by the chief, said and stopped by in plans, remembered by what was
flown."""

from datetime import timedelta

import pytest

from server import clock
from server.school.models import Change, DueDate
from tests.server.conftest import post, put
from tests.server.test_booking import book


def today():
    return clock.day_of(clock.now())


def body(days=-1, **said):
    until = (today() + timedelta(days=days)).isoformat()
    return {"what": "Medical", "until": until, "warn_days": 14, "stops": True, **said}


def add(client, days=-1, **said):
    return post(client, "/api/dates", body(days, **said))


def dates_said(client, sortie):
    checks = client.get(f"/api/sorties/{sortie.pk}").json()["answer"]["checks"]
    return {c["title"]: c["verdict"] for c in checks if c["kind"].endswith("_date")}


def test_the_chief_keeps_them_and_who_teaches_reads(school, as_):
    bo = school.people["bo"].pk
    assert add(as_("bo"), person_id=bo).status_code == 403
    assert add(as_("chief"), person_id=bo).status_code == 201
    found = as_("bo").get("/api/dates").json()
    assert [(d["date"]["of"], d["days_left"]) for d in found["dates"] if d["id"]] == [("Bo", -1)]
    assert not found["may_change"]
    assert as_("ana").get("/api/dates").status_code == 403


@pytest.mark.parametrize("whose", ["bo", "ana", "aircraft"])
def test_each_of_those_who_fly_it_can_stop_a_flight(school, as_, whose):
    sortie = school.sortie()
    of = (
        {"aircraft_id": school.aircraft.pk} if whose == "aircraft" else {"person_id": school.people[whose].pk}
    )
    add(as_("chief"), **of)
    assert list(dates_said(as_("bo"), sortie).values()) == ["stop"]


def test_of_others_it_is_not_asked(school, as_):
    sortie = school.sortie()
    for whose in ("cy", "dee"):
        add(as_("chief"), person_id=school.people[whose].pk)
    add(as_("chief"), aircraft_id=school.no_spins.pk)
    assert dates_said(as_("bo"), sortie) == {}


def test_in_another_aircraft_the_dates_of_that_one_are_asked(school, as_):
    sortie = school.sortie()
    add(as_("chief"), aircraft_id=school.no_spins.pk)
    assert dates_said(as_("bo"), sortie) == {}
    book(as_("bo"), sortie, aircraft_id=school.no_spins.pk)
    assert dates_said(as_("bo"), sortie) == {"Medical of QX-NOS": "stop"}


def test_what_was_flown_remembers_the_dates_of_then(school, as_):
    sortie = school.brought_to("briefed")
    add(as_("chief"), days=5, person_id=school.people["bo"].pk)
    sortie = school.brought_to("flown")
    row = DueDate.objects.get()
    put(as_("chief"), f"/api/dates/{row.pk}", {"version": 1, **body(-30)})
    assert dates_said(as_("bo"), sortie) == {"Medical of Bo": "mind"}
    assert dates_said(as_("bo"), school.sortie()) == {"Medical of Bo": "stop"}


def test_a_proposal_says_what_has_ended_by_then(school, as_):
    add(as_("chief"), days=3, person_id=school.people["bo"].pk)
    asked = {"student_id": school.student("ana").pk, "aircraft_id": school.aircraft.pk, "lesson": "free"}
    at = clock.now() + timedelta(days=4)
    said = post(as_("bo"), "/api/sorties/proposal", {**asked, "planned_for": at.isoformat()}).json()
    ended = (today() + timedelta(days=3)).strftime("%d %b %Y")
    assert said["clashes"] == [f"Medical of Bo: ended on {ended}, 1 day before"]
    soon = (at - timedelta(days=1)).isoformat()
    assert post(as_("bo"), "/api/sorties/proposal", {**asked, "planned_for": soon}).json()["clashes"] == []


def test_today_says_what_ends_soon_the_stops_first(school, as_):
    add(as_("chief"), days=10, person_id=school.people["cy"].pk)
    add(as_("chief"), days=-2, aircraft_id=school.aircraft.pk, what="Inspection")
    add(as_("chief"), days=60, person_id=school.people["bo"].pk)
    said = [(n["title"], n["verdict"]) for n in as_("bo").get("/api/today").json()["notices"]]
    assert said == [("Inspection of QX-TST", "stop"), ("Medical of Cy", "mind")]


def test_one_of_a_kind_of_one_person_or_aircraft(school, as_):
    bo = school.people["bo"].pk
    add(as_("chief"), person_id=bo)
    again = add(as_("chief"), person_id=bo, what="medical")
    assert "already" in again.json()["problems"][0]["what"]
    for wrong in (
        {},
        {"person_id": bo, "aircraft_id": school.aircraft.pk},
        {"person_id": bo, "what": " "},
        {"person_id": bo, "what": "Other", "warn_days": 401},
    ):
        assert add(as_("chief"), **wrong).status_code == 422
    assert DueDate.objects.count() == 1


def test_a_change_and_an_end_stand_on_record_and_nobody_overwrites_another(school, as_):
    add(as_("chief"), person_id=school.people["bo"].pk)
    row = DueDate.objects.get()
    changed = {"version": 1, **body(30)}
    assert put(as_("chief"), f"/api/dates/{row.pk}", changed).status_code == 200
    assert put(as_("chief"), f"/api/dates/{row.pk}", changed).status_code == 422
    assert as_("chief").delete(f"/api/dates/{row.pk}?version=1").status_code == 422
    assert as_("bo").delete(f"/api/dates/{row.pk}?version=2").status_code == 403
    assert as_("chief").delete(f"/api/dates/{row.pk}?version=2").status_code == 200
    said = Change.objects.filter(subject=f"person {school.people['bo'].pk}")
    assert [(c.before is None, c.after is None) for c in said.order_by("pk")] == [
        (True, False),
        (False, False),
        (False, True),
    ]


def test_what_changes_about_people_is_not_everybodys_to_read(school, as_):
    add(as_("chief"), person_id=school.people["bo"].pk)
    for who in ("ana", "bo", "chief"):
        assert as_(who).get(f"/api/changes?subject=person {school.people['bo'].pk}").status_code == 404
    assert as_("ana").get(f"/api/changes?subject=aircraft {school.aircraft.pk}").status_code == 200


def test_the_last_spin_and_the_repack_stand_among_them(school, as_):
    """90 days after the last spin, by the school's standards; packed 20 days ago, 180 by 91.307(a) from
    memory."""
    ahead = (clock.day_of(school.brought_to("flown").planned_for) - today()).days
    found = {(d["date"]["of"], d["date"]["what"]): d for d in as_("bo").get("/api/dates").json()["dates"]}
    spun = found[("Bo", "Spins lately")]
    assert (spun["id"], spun["days_left"], spun["date"]["stops"]) == (None, 90 + ahead, False)
    assert found[("QX-TST", "Parachute repack")]["days_left"] == 160
    assert ("Cy", "Spins lately") not in found
