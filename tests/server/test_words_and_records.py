"""Differences in words, notices of the day, and what a student's record shows."""

from datetime import timedelta

import pytest

from keelturn.noting.entry import Entry
from server import clock
from server.school.operations.comparing import differences
from server.school.operations.noting import take_entries
from server.school.operations.record import earlier_faults, faults_last_time
from tests.server.sheets import entry

ONE, TWO = {"id": "x", "ft": 1.0}, {"id": "y", "ft": 2.0}


@pytest.mark.parametrize(
    ("stored", "yours", "found"),
    [
        (
            {"tanks": [{"name": "Centre", "usgal": 26.0}]},
            {"tanks": [{"name": "Centre", "usgal": 25.0}]},
            [("tanks[Centre].usgal", "26", "25")],
        ),
        ({"note": "a"}, {"note": "a"}, []),
        ({"note": "a"}, {"note": ""}, [("note", "a", "—")]),
        ({"day": {"qnh": 1013.0}}, {"day": {"qnh": 1001.5}}, [("day.qnh", "1,013", "1,001.5")]),
        ({"checked": ["a"]}, {"checked": ["a", "b"]}, [("checked", "a", "a, b")]),
        ({"f": [ONE, TWO]}, {"f": [TWO, ONE]}, [("f.order", "x, y", "y, x")]),
        ({"f": [ONE]}, {"f": [ONE, TWO]}, [("f.order", "x", "x, y"), ("f[y].ft", "—", "2")]),
    ],
)
def test_differences_are_told_place_by_place(stored, yours, found):
    assert [(d.where, d.stored, d.yours) for d in differences(stored, yours)] == found


def test_an_insertion_is_not_a_difference_of_everything_after_it():
    before = {"f": [{"id": str(i), "ft": float(i)} for i in range(9)]}
    after = {"f": [{"id": "new", "ft": 0.5}, *before["f"]]}
    assert {d.where for d in differences(before, after)} == {"f.order", "f[new].ft"}


@pytest.mark.parametrize(("days", "verdict"), [(20, None), (170, "mind"), (190, "stop")])
def test_parachutes_due_are_noticed_in_time(school, as_, days, verdict):
    school.aircraft.parachutes_packed_on = clock.now().date() - timedelta(days=days)
    school.aircraft.save()
    notices = as_("bo").get("/api/today").json()["notices"]
    assert [n["verdict"] for n in notices] == ([verdict] if verdict else [])
    assert as_("ana").get("/api/today").json()["notices"] == []


def flown_with(school, faults, days_ago):
    """A sortie flown some days ago with these faults in its first spin."""
    sortie = school.brought_to("flown")
    spin = sortie.attempts.filter(figure="spin")[0].attempt["id"]
    sent = [Entry.model_validate(entry(spin, "fault", True, fault)) for fault in faults]
    take_entries(school.people["bo"], sortie.pk, sent)
    sortie.planned_for = clock.now() - timedelta(days=days_ago)
    sortie.save()
    return sortie


def test_the_brief_is_told_the_faults_of_the_last_lesson_not_of_older_ones(school, as_):
    flown_with(school, ["stick_late", "harsh_pull"], 20)
    flown_with(school, ["soft_pull"], 5)
    sortie = school.sortie()
    assert earlier_faults(sortie)["spin"] == ["Timid pull"]
    assert faults_last_time([sortie]) == {sortie.pk: ["Timid pull"]}
    assert as_("bo").get(f"/api/sorties/{sortie.pk}").json()["earlier_faults"]["spin"] == ["Timid pull"]


def test_the_last_lesson_is_each_figures_own(school):
    """A lesson since then without a spin does not make what was noted of the last spin forgotten."""
    flown_with(school, ["soft_pull"], 20)
    flown_with(school, [], 5).attempts.filter(figure="spin").delete()
    assert earlier_faults(school.sortie())["spin"] == ["Timid pull"]


def test_a_draft_is_no_part_of_the_record(school, as_):
    school.sortie()
    record = as_("bo").get(f"/api/students/{school.student('ana').pk}").json()
    assert (record["sorties"], record["attempts"], record["last_flew"]) == (0, [], None)
    assert len(record["record"]) == 1


@pytest.mark.parametrize(
    ("url", "body", "where"),
    [
        ("/api/sorties", {"student_id": 1}, "aircraft_id"),
        ("/api/sorties", {"student_id": "x", "aircraft_id": 1, "place_id": 1}, "student_id"),
        ("/api/session/login", {"username": "bo"}, "password"),
    ],
)
def test_requests_with_holes_are_answered_with_the_place(school, as_, url, body, where):
    response = as_("bo").post(url, body, content_type="application/json")
    assert response.status_code == 422
    assert where in [p["where"] for p in response.json()["problems"]]


def test_a_body_that_is_not_json_is_refused_not_a_crash(school, as_):
    response = as_("bo").put(f"/api/sorties/{school.sortie().pk}", "{half", content_type="application/json")
    assert response.status_code == 400
