"""What is signed is true: only the server writes what was computed, read or decided; what a stage needed
stays; a signed record is drawn from itself, and every way to change it is refused or found."""

import copy
import json
from datetime import timedelta

import pytest
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, transaction

from keelturn.school.standards import Standards
from server import clock
from server.school.models import Place, SchoolStandards, Signature, Sortie, StageChange
from server.school.operations.signing import digest_of
from server.school.operations.verifying import first_that_does_not_hold
from tests.server.conftest import PASSWORD, post, put

REASON = "The tower reports clear skies"


def url(sortie, more=""):
    return f"/api/sorties/{sortie.pk}{more}"


def below_the_floor(sortie, start_ft=3800.0):
    """The plan with its first spin begun too low, and the id of that stop."""
    plan = copy.deepcopy(sortie.plan)
    spin = next(f for f in plan["figures"] if f["key"] == "spin")
    spin["start_ft"] = start_ft
    return plan, f"floor_{spin['id']}"


def override(check, **fields):
    return {"id": "o-1", "check": check, "reason": REASON, **fields}


def stored(client, sortie, **sheets):
    response = put(client, url(sortie), {"version": sortie.version, **sheets})
    assert response.status_code == 200, response.content
    sortie.refresh_from_db()
    return response.json()


def the_check(shown, check):
    return next(c for c in shown["answer"]["checks"] if c["id"] == check)


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


def test_an_attempt_is_of_the_figure_that_was_planned_whatever_is_sent(school, as_):
    sortie, client = school.brought_to("briefed"), as_("bo")
    spin = next(f for f in sortie.plan["figures"] if f["key"] == "spin")
    lie = {**spin, "parameters": {"turns": 5}, "start_ft": 9000, "school": None}
    sent = [{"id": "a1", "planned": lie, "start_ft": 5000, "lowest_ft": 4000}]
    assert [a["planned"] for a in stored(client, sortie, attempts=sent)["attempts"]] == [spin]


def test_an_attempt_of_a_figure_that_the_plan_does_not_have_is_refused(school, as_):
    sortie = school.brought_to("briefed")
    other = {**sortie.plan["figures"][0], "id": "f99"}
    body = {"version": sortie.version, "attempts": [{"id": "a1", "planned": other, "skipped": True}]}
    refused = put(as_("bo"), url(sortie), body)
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["where"] == "attempts[0].planned"
    assert sortie.attempts.count() == 0


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


def test_a_brief_unticked_before_the_flight_has_to_be_ticked_again(school, as_):
    sortie = school.brought_to("briefed")
    assert stored(as_("bo"), sortie, brief={"checked": []})["stage"] == "planned"
    assert [c.stage for c in StageChange.objects.filter(sortie=sortie)] == ["briefed", "planned"]


@pytest.mark.parametrize("stage", ["flown", "debriefed"])
@pytest.mark.parametrize("sheets", [{"attempts": []}, {"brief": {"checked": []}}])
def test_what_was_needed_for_a_flown_sortie_stays_needed(school, as_, stage, sheets):
    sortie = school.brought_to(stage)
    refused = put(as_("bo"), url(sortie), {"version": sortie.version, **sheets})
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
    attempts = [row.attempt for row in sortie.attempts.all()]
    attempts[0]["grade"] = None
    assert stored(as_("bo"), sortie, attempts=attempts)["stage"] == "flown"
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
    sent = [{"id": "a1", "planned": sortie.plan["figures"][0], "start_ft": 5000}]
    stored(as_("bo"), sortie, attempts=sent)
    assert as_("bo").delete(url(sortie)).status_code == 403
    assert Sortie.objects.filter(pk=sortie.pk).exists()


# Signed


@pytest.fixture
def signed(school, as_):
    """A signed sortie with a question and a correction, beside an open one with a question of its own."""
    sortie = school.sortie()
    post(as_("ana"), url(sortie, "/questions"), {"text": "Why so high?", "figure": "f1"})
    sortie = school.brought_to("debriefed")
    post(as_("ana"), url(sortie, "/questions"), {"text": "What was the third?"})
    signing = post(as_("bo"), url(sortie, "/sign"), {"version": sortie.version, "password": PASSWORD})
    assert signing.status_code == 200, signing.content
    said = {"reason": "misread the altimeter", "text": "Lowest was 3,480 ft"}
    post(as_("bo"), url(sortie, "/corrections"), said)
    return Sortie.objects.get(pk=sortie.pk)


def pages_of(client, sortie):
    shown = client.get(url(sortie)).json()
    for own in ("changed_at", "may", "newer"):
        shown.pop(own)
    return (
        shown,
        client.get(url(sortie, "/plan.json")).content,
        client.get(url(sortie, "/booking.ics")).content,
    )


def card_words(client, sortie):
    import pypdfium2

    pdf = pypdfium2.PdfDocument(client.get(url(sortie, "/card.pdf")).content)
    return "".join(page.get_textpage().get_text_range() for page in pdf)


def test_nothing_that_changes_around_it_changes_a_signed_record(school, as_, signed):
    client = as_("bo")
    before, card = pages_of(client, signed), card_words(client, signed)
    lines = [
        client.get("/api/today").json()["recent"],
        client.get(f"/api/students/{signed.student_id}").json()["record"],
    ]
    school.aircraft.registration, school.aircraft.version = "QX-OTH", 7
    school.aircraft.card["name"] = "Another 200"
    school.aircraft.card["speeds"]["stall_ias"]["value"] = 61
    school.aircraft.card["balance"]["tanks"][0]["name"] = "Wing"
    school.aircraft.parachutes_packed_on = clock.now().date() + timedelta(days=90)
    school.aircraft.save()
    Place.objects.update(
        name="Elsewhere", place={**school.place.place, "name": "Elsewhere", "block_top_ft": 9000}
    )
    floor = Standards().model_copy(update={"school_floor_ft": Standards().canopy_ft})
    SchoolStandards.objects.update(standards=floor.model_dump(mode="json"))
    for name in ("ana", "bo"):
        school.people[name].name = f"{name} renamed"
        school.people[name].save()
    student = school.student("ana")
    student.stage = "first flights"
    student.save()
    after = pages_of(client, signed)
    assert after[0].pop("changed_by") == "bo renamed"
    before[0].pop("changed_by")
    changed = {name for name in before[0] if after[0][name] != before[0][name]}
    assert (changed, after[1:]) == (set(), before[1:])
    assert card_words(client, signed) == card
    found = [
        client.get("/api/today").json()["recent"],
        client.get(f"/api/students/{signed.student_id}").json()["record"],
    ]
    assert [line for line in found[1] if line["stage"] == "signed"] == [
        line for line in lines[1] if line["stage"] == "signed"
    ]
    assert found[0] == lines[0]


SHEETS = ("plan", "answer", "brief", "attempts", "accounts", "debrief", "questions", "read", "earlier_faults")
PEOPLE = ("student", "instructor", "aircraft", "lesson_name", "student_stage", "stage_changes", "card")


def to_the_second(part):
    """The interface is sent times to the millisecond."""
    if isinstance(part, dict):
        return {key: item[:19] if key == "at" else to_the_second(item) for key, item in part.items()}
    return [to_the_second(item) for item in part] if isinstance(part, list) else part


def test_the_digest_covers_what_is_shown(school, as_, signed):
    document = to_the_second(json.loads(signed.signature.document))
    shown = to_the_second(as_("bo").get(url(signed)).json())
    for name in SHEETS + PEOPLE:
        assert document[name] == shown[name], name
    assert document["place"] == shown["block"]
    assert document["signed_by"] == shown["signature"]["by"]
    assert [c["stage"] for c in document["stage_changes"]][-1] == "signed"
    assert digest_of(signed.signature.document) == shown["signature"]["digest"]


TAMPERING = {
    "UPDATE school_sortie SET debrief = json_object('note', 'x')": "the stored debrief",
    "UPDATE school_sortie SET plan = json_set(plan, '$.own_floor_ft', 100)": "the stored plan",
    "UPDATE school_sortie SET brief = json_set(brief, '$.note', 'x')": "the stored brief",
    "UPDATE school_sortie SET stage = 'debriefed'": "is marked as debriefed",
    "UPDATE school_sortie SET student_id = (SELECT max(id) FROM school_student)": "student, instructor",
    "UPDATE school_sortie SET planned_for = '2020-01-01 10:00:00'": "the stored time",
    "DELETE FROM school_sortie": None,
    "UPDATE school_signature SET document = replace(document, 'Bo', 'Cy')": "its digest differs",
    "UPDATE school_signature SET digest = 'x'": "its digest differs",
    "UPDATE school_signature SET at = '2020-01-01 10:00:00'": "the time of the signature",
    "UPDATE school_signature SET line = '{}'": "its line",
    "UPDATE school_signature SET sortie_id = (SELECT id FROM school_sortie WHERE stage != 'signed')": (
        "the document is of sortie"
    ),
    "DELETE FROM school_signature": None,
    "UPDATE school_attemptrow SET lost_ft = 1": "the stored attempt",
    "UPDATE school_attemptrow SET attempt = json_set(attempt, '$.grade', 'Shown')": "the stored attempt",
    "UPDATE school_attemptrow SET sortie_id = (SELECT id FROM school_sortie WHERE stage != 'signed')": (
        "attempts are stored"
    ),
    "DELETE FROM school_attemptrow": "attempts are stored",
    (
        "INSERT INTO school_attemptrow (sortie_id, 'order', attempt, figure)"
        " SELECT sortie_id, 9, attempt, figure FROM school_attemptrow LIMIT 1"
    ): "attempts are stored",
    "INSERT OR REPLACE INTO school_attemptrow (id, sortie_id, 'order', attempt, figure) SELECT id, sortie_id,"
    " 'order', attempt, figure FROM school_attemptrow": None,
    "INSERT OR REPLACE INTO school_signature SELECT * FROM school_signature": None,
    "INSERT OR REPLACE INTO school_sortie SELECT * FROM school_sortie WHERE stage = 'signed'": None,
    "INSERT OR REPLACE INTO school_correction SELECT * FROM school_correction": None,
    "UPDATE school_stagechange SET at = '2020-01-01 10:00:00' WHERE stage = 'flown'": "the stages",
    "DELETE FROM school_stagechange WHERE stage = 'flown'": "the stages",
    "INSERT OR REPLACE INTO school_stagechange SELECT * FROM school_stagechange WHERE stage = 'flown'": None,
    "UPDATE school_question SET text = 'Something else?'": "the questions",
    "DELETE FROM school_question": "the questions",
    "UPDATE school_correction SET text = 'x y'": "the correction",
    "DELETE FROM school_correction": None,
}


def without_guards(cursor):
    for (name,) in cursor.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'").fetchall():
        cursor.execute(f"DROP TRIGGER {name}")


@pytest.mark.parametrize("statement", TAMPERING)
def test_the_database_refuses_every_way_to_change_a_signed_record(school, signed, statement):
    with (
        pytest.raises(DatabaseError, match="does not change"),
        transaction.atomic(),
        connection.cursor() as cursor,
    ):
        cursor.execute(f"{statement}{of_the_signed(statement)}")
    assert first_that_does_not_hold(signed.signature) is None


def of_the_signed(statement):
    """An open sortie lies beside it, with rows of its own: only the signed one's are meant."""
    table = statement.split()[1] if statement.startswith("UPDATE") else statement.split()[2]
    if not statement.startswith(("UPDATE", "DELETE")) or table in ("school_signature", "school_correction"):
        return ""
    key = "id" if table == "school_sortie" else "sortie_id"
    link = " AND" if " WHERE " in statement.split("(SELECT")[0] else " WHERE"
    return f"{link} {key} = (SELECT sortie_id FROM school_signature)"


@pytest.mark.parametrize("statement", [s for s, fault in TAMPERING.items() if fault])
def test_what_was_changed_behind_the_guards_is_found_and_said(school, as_, signed, statement):
    """By somebody who has the file and takes the triggers away."""
    with connection.cursor() as cursor:
        without_guards(cursor)
        cursor.execute(f"{statement}{of_the_signed(statement)}")
    fault = first_that_does_not_hold(Signature.objects.get())
    assert TAMPERING[statement] in fault
    with pytest.raises(CommandError, match="signed records do not hold"):
        call_command("verify")


def test_the_page_says_what_does_not_hold(school, as_, signed):
    with connection.cursor() as cursor:
        without_guards(cursor)
        cursor.execute("UPDATE school_attemptrow SET lost_ft = 1")
    shown = as_("ana").get(url(signed)).json()["signature"]
    assert shown["holds"] is False
    assert "attempt" in shown["trouble"]


def test_signed_without_a_signature_is_refused_and_found(school, signed):
    other = school.sortie("dee")
    with pytest.raises(DatabaseError, match="does not change"), transaction.atomic():
        Sortie.objects.filter(pk=other.pk).update(stage="signed")
    with connection.cursor() as cursor:
        without_guards(cursor)
    Sortie.objects.filter(pk=other.pk).update(stage="signed")
    with pytest.raises(CommandError, match=f"sortie {other.pk}: it is marked as signed"):
        call_command("verify")


def test_verify_says_that_all_hold(school, signed, capsys):
    call_command("verify")
    assert capsys.readouterr().out == "1 signed records: each is as it was signed.\n"


@pytest.mark.parametrize(
    "body", [{"reason": "    ", "text": "Lowest was 3,480 ft"}, {"reason": "misread it", "text": " \n "}]
)
def test_a_correction_of_blanks_is_refused(school, as_, signed, body):
    assert post(as_("bo"), url(signed, "/corrections"), body).status_code == 422
    assert signed.corrections.count() == 1


def test_changes_of_the_chief_stay_as_they_were_written(school, as_):
    place = {"version": 1, "place": {**school.place.place, "notes": "Mind the gulls"}}
    assert put(as_("chief"), f"/api/places/{school.place.pk}", place).status_code == 200
    with pytest.raises(DatabaseError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("UPDATE school_change SET before = NULL")


def test_the_standards_may_rise_after_the_flight_without_locking_the_signature(school, as_):
    sortie = school.brought_to("debriefed")
    high = Standards().school_floor_ft.model_copy(update={"value": 6000})
    kept = Standards().model_copy(update={"school_floor_ft": high})
    SchoolStandards.objects.update(standards=kept.model_dump(mode="json"))
    signing = post(as_("bo"), url(sortie, "/sign"), {"version": sortie.version, "password": PASSWORD})
    assert signing.status_code == 200
    assert signing.json()["answer"]["stops"] > 0
