"""A sortie moved, handed over, taken over, cancelled and put back; who did it stays on the record."""

from datetime import timedelta

import pytest
from icalendar import Calendar

from keelturn.progress.stages import Act
from server.school.models import Sortie
from server.school.permissions import may
from tests.server.conftest import post, put
from tests.server.sheets import below_the_floor, entry, figure_entry, noted, override, stored
from tests.server.test_signed_truth import card_words


def book(client, sortie, **change):
    sortie.refresh_from_db()
    return post(client, f"/api/sorties/{sortie.pk}/booking", {"version": sortie.version, **change})


def cancel(client, sortie, reason):
    sortie.refresh_from_db()
    return post(client, f"/api/sorties/{sortie.pk}/cancel", {"version": sortie.version, "reason": reason})


def test_moved_within_the_day_keeps_what_was_ticked_and_the_weather_and_is_briefed_again(school, as_):
    sortie = school.brought_to("briefed")
    day = {**sortie.plan["day"], "qnh_hpa": 1002}
    Sortie.objects.filter(pk=sortie.pk).update(plan={**sortie.plan, "day": day})
    later = sortie.planned_for.replace(hour=9 if sortie.planned_for.hour != 9 else 10)
    found = book(as_("bo"), sortie, planned_for=later.isoformat()).json()
    assert (found["stage"], found["plan"]["day"]["qnh_hpa"]) == ("planned", 1002)
    assert found["brief"]["checked"]
    assert [(c["what"], c["by"]) for c in found["rebooked"]] == [("time", "Bo")]
    assert [c["stage"] for c in found["stage_changes"]] == ["briefed", "planned"]


def test_moved_to_another_day_begins_with_another_day(school, as_):
    sortie = school.brought_to("briefed")
    plan = {**sortie.plan, "day": {**sortie.plan["day"], "qnh_hpa": 1002}, "feeling": 7}
    Sortie.objects.filter(pk=sortie.pk).update(plan=plan)
    found = book(as_("bo"), sortie, planned_for=(sortie.planned_for + timedelta(days=2)).isoformat()).json()
    assert (found["plan"]["day"]["qnh_hpa"], found["plan"]["feeling"]) == (None, None)
    assert found["brief"]["checked"] == []


@pytest.mark.parametrize(
    ("front", "rear", "seats"),
    [(150, 170, (150, 201)), (170, 140, (201, 140)), (170, 170, (170, 201)), (150, 176, (150, 201))],
)
def test_taken_over_at_the_new_instructors_weight_in_the_seat_of_the_one_before(
    school, as_, front, rear, seats
):
    sortie, cy = school.brought_to("briefed"), school.people["cy"]
    load = {**sortie.plan["load"], "front_lb": front, "rear_lb": rear}
    Sortie.objects.filter(pk=sortie.pk).update(plan={**sortie.plan, "load": load})
    cy.weight_lb = 201
    cy.save()
    found = book(as_("cy"), sortie, instructor_id=cy.pk).json()
    assert (found["plan"]["load"]["front_lb"], found["plan"]["load"]["rear_lb"]) == seats
    assert (found["instructor"], found["stage"], found["brief"]["checked"]) == ("Cy", "planned", [])
    assert [(c["what"], c["before"], c["after"], c["by"]) for c in found["rebooked"]] == [
        ("instructor", "Bo", "Cy", "Cy")
    ]
    assert found["may"]["plan"]
    assert put(as_("bo"), f"/api/sorties/{sortie.pk}", {"version": found["version"]}).status_code == 403


def test_overrides_are_answered_for_by_who_instructs(school, as_):
    sortie = school.sortie()
    plan, check = below_the_floor(sortie)
    stored(as_("bo"), sortie, plan={**plan, "overrides": [override(check)]})
    later = (sortie.planned_for + timedelta(minutes=30)).isoformat()
    assert len(book(as_("chief"), sortie, planned_for=later).json()["plan"]["overrides"]) == 1
    taken = book(as_("cy"), sortie, instructor_id=school.people["cy"].pk).json()
    assert (taken["plan"]["overrides"], taken["answer"]["stops"]) == ([], 1)


def test_a_student_is_no_instructor(school, as_):
    refused = book(as_("bo"), school.sortie(), instructor_id=school.people["ana"].pk)
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["what"] == "Ana does not instruct"


def test_what_changes_nothing_is_no_change(school, as_):
    sortie = school.brought_to("briefed")
    same = book(as_("bo"), sortie, planned_for=sortie.planned_for.isoformat()).json()
    assert (same["version"], same["stage"], same["rebooked"]) == (sortie.version, "briefed", [])
    assert cancel(as_("bo"), sortie, None).json()["version"] == sortie.version


def test_who_books_on_an_older_version_is_told_and_nothing_is_moved(school, as_):
    sortie = school.sortie()
    changes = {"booking": {"instructor_id": school.people["cy"].pk}, "cancel": {"reason": "no wind"}}
    for door, change in changes.items():
        told = post(as_("cy"), f"/api/sorties/{sortie.pk}/{door}", {"version": sortie.version + 1, **change})
        assert (told.status_code, told.json()["by"]) == (409, "Bo")
    assert not sortie.booking_changes.exists()


@pytest.mark.parametrize("stage", ["flown", "debriefed"])
def test_what_was_flown_is_neither_moved_nor_cancelled(school, as_, stage):
    sortie = school.brought_to(stage)
    assert book(as_("bo"), sortie, instructor_id=school.people["cy"].pk).status_code == 403
    assert cancel(as_("bo"), sortie, "it was not flown").status_code == 403


def test_a_cancelled_sortie_stands_still_until_it_is_put_back(school, as_):
    sortie = school.brought_to("briefed")
    found = cancel(as_("cy"), sortie, "wind over the limits").json()
    assert (found["cancelled"], found["stage"]) == ("wind over the limits", "briefed")
    sortie.refresh_from_db()
    assert [act for act in Act if may(school.people["bo"], sortie, act)] == [Act.BOOK]
    assert not any(may(school.people["ana"], sortie, act) for act in Act)
    at = f"/api/sorties/{sortie.pk}"
    saved = put(as_("bo"), at, {"version": sortie.version, "debrief": {"note": "x"}})
    assert saved.json()["problems"][0] == {
        "where": "access",
        "place": "Access",
        "what": "this sortie is cancelled",
        "do": "Put it back first, under Booking.",
    }
    moved = book(as_("bo"), sortie, planned_for=(sortie.planned_for + timedelta(hours=1)).isoformat())
    assert moved.status_code == 403
    assert post(as_("ana"), f"{at}/questions", {"text": "why is it cancelled"}).status_code == 403
    assert "CANCELLED: wind over the limits" in card_words(as_("ana"), sortie)
    back = cancel(as_("bo"), sortie, None).json()
    assert "CANCELLED" not in card_words(as_("ana"), sortie)
    assert (back["cancelled"], back["may"]["plan"]) == (None, True)
    assert [(c["what"], c["before"], c["after"], c["by"]) for c in back["rebooked"]] == [
        ("cancelled", "", "wind over the limits", "Cy"),
        ("cancelled", "wind over the limits", "", "Bo"),
    ]


def test_a_reason_to_cancel_is_a_sentence(school, as_):
    refused = cancel(as_("bo"), school.sortie(), "aaaaaaaa")
    assert refused.status_code == 422
    assert "says nothing" in refused.json()["problems"][0]["what"]


def test_what_was_noted_in_flight_is_not_cancelled_away(school, as_):
    sortie = school.brought_to("briefed")
    noted(as_("bo"), sortie, figure_entry(sortie), entry("f1", "start_ft", 5000))
    assert "something was noted" in cancel(as_("bo"), sortie, "wind too strong").json()["problems"][0]["what"]


def test_a_cancelled_sortie_takes_nobodys_time_and_its_calendar_says_so(school, as_):
    sortie = school.sortie()
    other = school.sortie("dee", at=sortie.planned_for)
    seen = f"/api/sorties/{other.pk}"
    assert as_("bo").get(seen).json()["clashes"]
    cancel(as_("bo"), sortie, "wind too strong")
    assert as_("bo").get(seen).json()["clashes"] == []
    event = Calendar.from_ical(as_("bo").get(f"/api/sorties/{sortie.pk}/booking.ics").content).walk("VEVENT")[
        0
    ]
    assert (event["status"], event["sequence"]) == ("CANCELLED", sortie.version + 1)


def test_another_aircraft_is_on_the_record_too(school, as_):
    sortie = school.sortie()
    body = {"version": sortie.version, "aircraft_id": school.no_spins.pk}
    found = put(as_("bo"), f"/api/sorties/{sortie.pk}", body)
    if found.status_code == 422:  # its tanks have other names
        load = {**sortie.plan["load"], "fuel_usgal": {}}
        found = put(as_("bo"), f"/api/sorties/{sortie.pk}", {**body, "plan": {**sortie.plan, "load": load}})
    assert [(c["what"], c["before"], c["after"]) for c in found.json()["rebooked"]] == [
        ("aircraft", "QX-TST", "QX-NOS")
    ]


def test_colleagues_sorties_are_seen_and_cancelled_ones_of_earlier_days_are_not(school, as_):
    mine, theirs = school.sortie("dee", "cy"), school.sortie("ana", "bo")
    lines = {s["id"]: s["mine"] for s in as_("cy").get("/api/today").json()["sorties"]}
    assert lines == {mine.pk: True, theirs.pk: False}
    assert all(s["mine"] for s in as_("ana").get("/api/today").json()["sorties"])
    for sortie in (mine, theirs):
        Sortie.objects.filter(pk=sortie.pk).update(planned_for=sortie.planned_for - timedelta(days=3))
    assert [s["id"] for s in as_("cy").get("/api/today").json()["sorties"]] == [mine.pk]
    cancel(as_("cy"), mine, "aircraft in the hangar")
    assert as_("cy").get("/api/today").json()["sorties"] == []
