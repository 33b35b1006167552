"""Only the server writes what was computed, read or decided, and what a stage needed stays."""

import copy

import pytest

from server.school.models import Aircraft, Place, Sortie, StageChange
from tests.server.conftest import post, put
from tests.server.sheets import (
    REASON,
    below_the_floor,
    correction,
    entry,
    figure_entry,
    noted,
    override,
    stored,
    the_check,
    url,
)

# Overrides


def test_an_override_is_whose_who_stores_it_now_and_for_how_much(school, as_):
    sortie = school.sortie()
    plan, check = below_the_floor(sortie)
    lie = {"by": "Chief", "at": "2020-01-01T00:00:00Z", "title": "all of it", "room": -9e9, "spare": "none"}
    shown = stored(as_("bo"), sortie, plan={**plan, "overrides": [override(check, **lie)]})
    (kept,) = shown["plan"]["overrides"]
    short = the_check(shown, check)
    assert (kept["by"], kept["title"], kept["spare"]) == ("Bo", short["title"], short["spare"])
    assert kept["room"] == short["room"] < 0
    assert kept["at"][:4] != "2020"
    assert short["overridden"] == f"Bo, for {short['spare']}: {REASON}"
    assert shown["answer"]["stops"] == 0


def test_a_new_sortie_cannot_bring_an_override_in_the_name_of_another(school, as_):
    plan, check = below_the_floor(school.sortie())
    body = {
        "student_id": school.student("ana").pk,
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
        "planned_for": "2030-01-01T10:00:00Z",
        "plan": {**plan, "overrides": [override(check, by="Chief")]},
    }
    made = post(as_("bo"), "/api/sorties", body).json()
    assert [o["by"] for o in made["plan"]["overrides"]] == ["Bo"]


def test_a_larger_trespass_is_a_new_stop_and_a_smaller_one_is_not(school, as_):
    sortie, client = school.sortie(), as_("bo")
    plan, check = below_the_floor(sortie)
    first = stored(client, sortie, plan={**plan, "overrides": [override(check)]})
    kept = first["plan"]["overrides"]
    higher, _ = below_the_floor(sortie, 3810.0)
    assert stored(client, sortie, plan={**higher, "overrides": kept})["answer"]["stops"] == 0
    lower, _ = below_the_floor(sortie, 3790.0)
    again = stored(client, sortie, plan={**lower, "overrides": kept})
    assert again["answer"]["stops"] == 1
    spare = the_check(first, check)["spare"]
    assert the_check(again, check)["hint"].endswith(f"The override of Bo was for {spare}.")


def test_stored_again_an_override_keeps_the_value_it_was_given_for(school, as_):
    """Whatever the sender writes into it meanwhile; given anew, with a name of its own, it is for now."""
    sortie, client = school.sortie(), as_("bo")
    plan, check = below_the_floor(sortie)
    (kept,) = stored(client, sortie, plan={**plan, "overrides": [override(check)]})["plan"]["overrides"]
    lower, _ = below_the_floor(sortie, 3700.0)
    raised = {**kept, "room": -5000.0, "by": "Chief"}
    shown = stored(client, sortie, plan={**lower, "overrides": [raised]})
    assert (shown["plan"]["overrides"], shown["answer"]["stops"]) == ([kept], 1)
    anew = stored(client, sortie, plan={**lower, "overrides": [override(check, id="o-2")]})
    assert anew["answer"]["stops"] == 0
    assert anew["plan"]["overrides"][0]["room"] < kept["room"]


def test_an_override_without_a_name_is_not_given_anew_by_being_stored_again(school, as_):
    sortie, client = school.sortie(), as_("bo")
    plan, check = below_the_floor(sortie)
    nameless = override(check, id="")
    assert stored(client, sortie, plan={**plan, "overrides": [nameless]})["answer"]["stops"] == 0
    lower, _ = below_the_floor(sortie, 3700.0)
    assert stored(client, sortie, plan={**lower, "overrides": [nameless]})["answer"]["stops"] == 1


def test_an_override_is_not_for_another_figure_under_the_same_name(school, as_):
    sortie, client = school.sortie(), as_("bo")
    plan, check = below_the_floor(sortie)
    kept = stored(client, sortie, plan={**plan, "overrides": [override(check)]})["plan"]["overrides"]
    other = copy.deepcopy(plan)
    spin = next(f for f in other["figures"] if f["key"] == "spin")
    spin["side"] = "right" if spin["side"] == "left" else "left"
    assert stored(client, sortie, plan={**other, "overrides": kept})["answer"]["stops"] == 1


def test_taken_back_and_given_again_it_is_for_what_stood_there_when_it_was_given(school, as_):
    """As undo does, and meanwhile more is short."""
    sortie, client = school.sortie(), as_("bo")
    plan, check = below_the_floor(sortie)
    given = override(check, room=the_check(stored(client, sortie, plan=plan), check)["room"])
    assert stored(client, sortie, plan={**plan, "overrides": [given]})["answer"]["stops"] == 0
    stored(client, sortie, plan=plan)
    lower, _ = below_the_floor(sortie, 3700.0)
    again = stored(client, sortie, plan={**lower, "overrides": [given]})
    assert (again["plan"]["overrides"], again["answer"]["stops"]) == ([], 1)


def test_an_override_of_no_stop_is_not_kept(school, as_):
    sortie = school.sortie()
    shown = stored(as_("bo"), sortie, plan={**sortie.plan, "overrides": [override("visibility")]})
    assert shown["plan"]["overrides"] == []


@pytest.mark.parametrize("reason", ["        ", "\t\n        ", "because!!", "12345678 90"])
def test_a_reason_is_a_sentence(school, as_, reason):
    sortie = school.sortie()
    plan, check = below_the_floor(sortie)
    body = {"version": sortie.version, "plan": {**plan, "overrides": [override(check, reason=reason)]}}
    refused = put(as_("bo"), url(sortie), body)
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["where"] == "plan.overrides[0].reason"


def test_a_preview_shows_an_override_as_a_save_would_take_it(school, as_):
    sortie, client = school.sortie(), as_("bo")
    plan, check = below_the_floor(sortie)
    draft = {"aircraft_id": school.aircraft.pk, "place_id": school.place.pk}
    shown = post(client, url(sortie, "/preview"), {**draft, "plan": {**plan, "overrides": [override(check)]}})
    assert shown.json()["stops"] == 0
    kept = stored(client, sortie, plan={**plan, "overrides": [override(check)]})["plan"]["overrides"]
    lower, _ = below_the_floor(sortie, 3700.0)
    assert (
        post(client, url(sortie, "/preview"), {**draft, "plan": {**lower, "overrides": kept}}).json()["stops"]
        == 1
    )


# Weather

METAR = "METAR XTST 011350Z 24014KT 9999 BKN076 11/07 Q1009"


def read(client, school, sortie, report=METAR, day=None):
    return post(
        client,
        url(sortie, "/weather"),
        {"day": day or {}, "place_id": school.place.pk, "report": report},
    )


def test_a_report_that_was_read_here_is_where_the_numbers_came_from(school, as_):
    sortie, client = school.sortie(), as_("bo")
    day = read(client, school, sortie).json()["day"]
    kept = stored(client, sortie, plan={**sortie.plan, "day": day})["plan"]["day"]
    assert kept["sources"] == dict.fromkeys(
        ("qnh_hpa", "temperature_c", "visibility_sm", "wind_from_deg", "cloud_base_ft"),
        "METAR XTST 01 1350Z, pasted",
    )
    assert (kept["report"], kept["qnh_hpa"]) == (METAR, 1009)


def test_a_report_that_nobody_read_here_is_not_a_source(school, as_):
    sortie = school.sortie()
    made_up = {
        **sortie.plan["day"],
        "qnh_hpa": 1020,
        "report": "METAR XTST 011350Z Q1020",
        "observed": "2026-11-01T13:50:00Z",
        "sources": {"qnh_hpa": "METAR XTST 01 1350Z"},
    }
    kept = stored(as_("bo"), sortie, plan={**sortie.plan, "day": made_up})["plan"]["day"]
    assert (kept["sources"], kept["report"], kept["observed"], kept["qnh_hpa"]) == ({}, "", None, 1020)


@pytest.mark.parametrize(
    ("change", "typed"),
    [({"qnh_hpa": 1010}, "qnh_hpa"), ({"gust_kt": 40}, "wind_from_deg"), ({"wind_kt": 2}, "wind_from_deg")],
)
def test_a_number_changed_by_hand_is_not_the_reports_any_more(school, as_, change, typed):
    sortie, client = school.sortie(), as_("bo")
    day = read(client, school, sortie).json()["day"]
    kept = stored(client, sortie, plan={**sortie.plan, "day": {**day, **change}})["plan"]["day"]
    assert typed in day["sources"]
    assert set(kept["sources"]) == set(day["sources"]) - {typed}


# Attempts and stages


def test_a_save_that_takes_a_briefed_plan_back_is_on_the_record(school, as_):
    sortie = school.brought_to("briefed")
    plan = copy.deepcopy(sortie.plan)
    plan["figures"][0]["start_ft"] += 100
    shown = stored(as_("bo"), sortie, plan=plan)
    assert shown["stage"] == "planned"
    assert [(c["stage"], c["by"]) for c in shown["stage_changes"]] == [("briefed", "Bo"), ("planned", "Bo")]


def test_the_students_number_alone_does_not_undo_the_brief(school, as_):
    sortie = school.brought_to("briefed")
    assert stored(as_("bo"), sortie, plan={**sortie.plan, "feeling": 8})["stage"] == "briefed"


def test_the_same_plan_at_another_place_or_in_another_aircraft_has_to_be_briefed_again(school, as_):
    place = Place.objects.create(name="Other", place={**school.place.place, "name": "Other"})
    sortie = school.brought_to("briefed")
    assert stored(as_("bo"), sortie, place_id=school.place.pk)["stage"] == "briefed"
    assert stored(as_("bo"), sortie, place_id=place.pk)["stage"] == "planned"
    sortie = school.brought_to("briefed")
    plane = Aircraft.objects.create(registration="QX-TWO", card=school.aircraft.card)
    assert stored(as_("bo"), sortie, aircraft_id=plane.pk)["stage"] == "planned"


def test_a_brief_unticked_before_the_flight_has_to_be_ticked_again(school, as_):
    sortie = school.brought_to("briefed")
    assert stored(as_("bo"), sortie, brief={"checked": []})["stage"] == "planned"
    assert [c.stage for c in StageChange.objects.filter(sortie=sortie)] == ["briefed", "planned"]


@pytest.mark.parametrize("stage", ["flown", "debriefed"])
def test_what_was_needed_for_a_flown_sortie_stays_needed(school, as_, stage):
    sortie = school.brought_to(stage)
    refused = put(as_("bo"), url(sortie), {"version": sortie.version, "brief": {"checked": []}})
    assert refused.status_code == 422
    assert f"needed for a sortie that is {stage}" in refused.json()["problems"][0]["what"]
    kept = Sortie.objects.get(pk=sortie.pk)
    assert (kept.stage, kept.version, kept.attempts.count(), kept.brief) == (
        stage,
        sortie.version,
        7,
        sortie.brief,
    )


def test_a_grade_taken_away_takes_the_debrief_back(school, as_):
    sortie = school.brought_to("debriefed")
    first = sortie.attempts.all()[0].attempt["id"]
    noted(as_("bo"), sortie, correction(sortie, first, "grade", None))
    assert sortie.stage == "flown"
    assert StageChange.objects.filter(sortie=sortie).last().stage == "flown"


@pytest.mark.parametrize("to", ["planned", "briefed"])
def test_what_was_flown_stays_flown(school, as_, to):
    sortie = school.brought_to("debriefed")
    refused = post(as_("bo"), url(sortie, "/stage"), {"version": sortie.version, "to": to})
    assert refused.status_code == 422
    assert "does not become" in refused.json()["problems"][0]["what"]
    again = post(as_("bo"), url(sortie, "/stage"), {"version": sortie.version, "to": "flown"})
    assert again.json()["stage"] == "flown"


def test_a_brief_can_be_taken_back_by_hand(school, as_):
    sortie = school.brought_to("briefed")
    back = post(as_("bo"), url(sortie, "/stage"), {"version": sortie.version, "to": "planned"})
    assert back.json()["stage"] == "planned"


def test_a_draft_in_which_something_was_noted_is_not_thrown_away(school, as_):
    sortie = school.brought_to("briefed")
    noted(as_("bo"), sortie, figure_entry(sortie), entry("f1", "start_ft", 5000))
    assert as_("bo").delete(url(sortie)).status_code == 403
    assert Sortie.objects.filter(pk=sortie.pk).exists()
