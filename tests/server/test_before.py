"""What should come before a lesson: in Plan, at the change of stage, where a lesson is chosen, and on the
record."""

from datetime import timedelta

import pytest

from keelturn.plan.briefing import BEFORE_FLIGHT, Brief
from keelturn.school.before import BeforeALesson
from keelturn.school.standards import Standards
from server import clock
from server.school.models import SchoolStandards, Sortie
from server.school.operations import reading
from server.school.operations.enrolling import tick_ground
from server.school.operations.saving import Sheets, save_sortie
from tests.server import sheets
from tests.server.conftest import post

CHECKED = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))


@pytest.fixture
def strict(school):
    """As a school begins: prerequisites stop the flight."""
    SchoolStandards.objects.update(standards=Standards().model_dump(mode="json"))
    return school


def before_of(client, sortie):
    answer = client.get(sheets.url(sortie)).json()["answer"]
    return {c["id"]: c["verdict"] for c in answer["checks"] if c["kind"] == "before"}


def briefed(client, school, sortie):
    now = Sortie.objects.get(pk=sortie.pk)
    now = save_sortie(school.people["bo"], now.pk, now.version, Sheets(brief=CHECKED))
    return post(client, sheets.url(now, "/stage"), {"to": "briefed", "version": now.version})


def test_a_spin_lesson_for_a_student_without_any_of_it_stops_until_an_instructor_overrides(strict, as_):
    sortie, bo = strict.sortie(at=clock.now()), as_("bo")
    said = before_of(bo, sortie)
    assert said == {
        "before_ground": "stop",
        "before_type": "mind",
        "before_brief": "mind",
    }
    refused = briefed(bo, strict, sortie)
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["what"] == "Clear 1 stop in the plan, or override with a reason"
    now = Sortie.objects.get(pk=sortie.pk)
    given = [{"check": c, "reason": "Done at another school"} for c, v in said.items() if v == "stop"]
    sheets.stored(bo, now, plan={**now.plan, "overrides": given})
    answer = bo.get(sheets.url(sortie)).json()["answer"]
    kept = {c["id"]: c["overridden"] for c in answer["checks"] if c["kind"] == "before"}
    assert kept["before_ground"] == "Bo, for 3 missing: Done at another school"
    assert briefed(bo, strict, sortie).status_code == 200


def test_what_is_done_or_read_is_not_said_any_more(strict, as_):
    strict.enrolled("ana")
    sortie, bo = strict.sortie(at=clock.now()), as_("bo")
    assert "before_ground" not in before_of(bo, sortie)
    assert before_of(bo, sortie)["before_brief"] == "mind"
    reading.mark_read(strict.people["ana"], Sortie.objects.get(pk=sortie.pk))
    assert "before_brief" not in before_of(bo, sortie)
    tick_ground(strict.people["bo"], strict.student("ana"), "leaving", False)
    assert before_of(bo, sortie)["before_ground"] == "stop"
    # A draft that differs from what was read is not read.
    draft = {
        "plan": {**sortie.plan, "own_floor_ft": 3600},
        "aircraft_id": sortie.aircraft_id,
        "place_id": sortie.place_id,
    }
    shown = post(bo, sheets.url(sortie, "/preview"), draft).json()["checks"]
    assert "before_brief" in {c["id"] for c in shown}


def test_where_the_lesson_is_chosen_it_is_said_too(strict, as_):
    asked = {"student_id": strict.student("ana").pk, "aircraft_id": strict.aircraft.pk}
    found = post(as_("bo"), "/api/sorties/proposal", {**asked, "lesson": "spins_both_ways"}).json()["before"]
    assert [(one["title"], one["stops"]) for one in found] == [
        ("On the ground before Spins, both ways", True),
        ("First flight on record in Light two-seater", False),
    ]
    assert found[0]["words"].startswith("Not done: ")


def test_where_an_aircraft_may_not_fly_all_of_it_another_is_offered(school, as_):
    def able(aircraft):
        asked = {"student_id": school.student("ana").pk, "aircraft_id": aircraft.pk}
        found = post(as_("bo"), "/api/sorties/proposal", {**asked, "lesson": "spins_both_ways"}).json()
        return [one["registration"] for one in found["able"]], found["way_out"]

    assert able(school.aircraft) == ([], "")
    others, way_out = able(school.no_spins)
    assert (others, way_out.startswith("without ")) == (["QX-TST"], True)


def test_what_was_missing_when_it_was_flown_stays_with_it(school, as_):
    sortie = school.brought_to("flown")
    was = before_of(as_("bo"), sortie)
    assert "before_ground" in was
    school.enrolled("ana")
    assert before_of(as_("bo"), sortie) == was
    kept = as_("bo").get(sheets.url(sortie)).json()["answer"]["checks"]
    assert any(c["id"] == "before_type" for c in kept)


def test_another_sortie_of_the_same_day_is_no_earlier_flight(school, as_):
    first = school.brought_to("debriefed")
    at = first.planned_for - timedelta(hours=3)
    assert "before_type" in before_of(as_("bo"), school.sortie("ana", "bo", at))
    later = school.sortie("ana", "bo", first.planned_for + timedelta(hours=3))
    assert "before_type" not in before_of(as_("bo"), later)


def test_an_unread_brief_is_said_on_the_day_or_as_soon_as_it_stops_the_flight(school, as_):
    later, bo = school.sortie("ana", "bo", clock.now() + timedelta(days=2)), as_("bo")
    assert "before_brief" not in before_of(bo, later)
    strict = Standards(before=BeforeALesson(brief="stop")).model_dump(mode="json")
    SchoolStandards.objects.update(standards=strict)
    assert before_of(bo, later)["before_brief"] == "stop"


def test_a_chief_s_other_decision_is_in_force_at_once(school, as_):
    sortie, bo = school.sortie(at=clock.now()), as_("bo")
    assert before_of(bo, sortie)["before_brief"] == "mind"
    strict = Standards(before=BeforeALesson(brief="stop")).model_dump(mode="json")
    SchoolStandards.objects.update(standards=strict)
    assert before_of(bo, sortie)["before_brief"] == "stop"
    reading.mark_read(school.people["ana"], Sortie.objects.get(pk=sortie.pk))
    assert "before_brief" not in before_of(bo, sortie)
