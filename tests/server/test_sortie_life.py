"""Planned, briefed, flown, debriefed, signed; saved whole or not at all; nobody overwritten unseen; signed is
signed."""

import copy
import hashlib
import json
from contextlib import contextmanager
from datetime import timedelta

import pytest
from django.db import DatabaseError, connection, transaction

from server import clock
from server.school.models import AttemptRow, Signature, Sortie, StageChange
from server.school.operations import signing
from tests.server.conftest import post, put
from tests.server.sheets import to_sign


def open_sortie(client, sortie):
    return client.get(f"/api/sorties/{sortie.pk}").json()


def test_a_new_sortie_is_laid_out_without_stops(school, as_):
    at = (clock.now() + timedelta(days=1)).isoformat()
    body = {
        "student_id": school.student("ana").pk,
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
        "planned_for": at,
    }
    found = post(as_("bo"), "/api/sorties", body).json()
    assert found["answer"]["stops"] == 0
    assert [f["key"] for f in found["plan"]["figures"]].count("spin") == 2
    assert found["stage"] == "planned"
    assert "briefed" in found["missing"]


@pytest.mark.parametrize(
    ("edit", "where", "what"),
    [
        (
            lambda p: p["figures"][0].update(start_ft=90000),
            "plan.figures[0].start_ft",
            "90,000 is above 30,000",
        ),
        (lambda p: p["load"].update(front_lb=-1), "plan.load.front_lb", "-1 is below 0"),
        (
            lambda p: p["figures"][2].update(entry_ias="fast"),
            "plan.figures[2].entry_ias",
            "'fast' is not a number",
        ),
        (lambda p: p["load"].update(fuel_usgal={"Centre": 400}), "load.fuel_usgal.Centre", "outside 0 to 26"),
        (lambda p: p["figures"][3].update(school="prayer"), "plan.figures", "'prayer' is not one for spin"),
    ],
)
def test_a_bad_plan_is_refused_whole(school, as_, edit, where, what):
    sortie = school.sortie()
    if "prayer" in what:
        sortie.card_kept["spin"]["recovery"] = []
        sortie.save()
    plan = copy.deepcopy(sortie.plan)
    plan["day"]["qnh_hpa"] = 1001
    edit(plan)
    response = put(
        as_("bo"),
        f"/api/sorties/{sortie.pk}",
        {"version": sortie.version, "plan": plan, "debrief": {"note": "half"}},
    )
    assert response.status_code == 422
    problem = response.json()["problems"][0]
    assert problem["where"] == where
    assert what in problem["what"]
    kept = Sortie.objects.get(pk=sortie.pk)
    assert (kept.plan, kept.debrief, kept.version) == (sortie.plan, sortie.debrief, sortie.version)


def test_the_aircraft_not_approved_for_spins_stops_the_brief(school, as_):
    client, sortie = as_("bo"), school.sortie()
    plan = {**sortie.plan, "load": {"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Wings": 15}}}
    found = put(
        client,
        f"/api/sorties/{sortie.pk}",
        {"version": sortie.version, "plan": plan, "aircraft_id": school.no_spins.pk},
    ).json()
    stops = [c for c in found["answer"]["checks"] if c["verdict"] == "stop"]
    assert any("not among the approved" in c["sentence"] for c in stops)
    refused = post(client, f"/api/sorties/{sortie.pk}/stage", {"version": found["version"], "to": "briefed"})
    assert refused.status_code == 422
    assert any("stop" in p["what"] for p in refused.json()["problems"])


def test_a_preview_stores_nothing(school, as_):
    sortie = school.sortie()
    plan = copy.deepcopy(sortie.plan)
    plan["figures"][4]["start_ft"] = 3100
    body = {"plan": plan, "aircraft_id": school.aircraft.pk, "place_id": school.place.pk}
    found = post(as_("bo"), f"/api/sorties/{sortie.pk}/preview", body).json()
    assert found["stops"] >= 1
    assert Sortie.objects.get(pk=sortie.pk).version == sortie.version


def test_every_number_carries_its_working(school, as_):
    sortie = school.sortie()
    found = open_sortie(as_("bo"), sortie)["answer"]
    at, spin = next((i, f) for i, f in enumerate(found["figures"]) if f["key"] == "spin")

    def why(place):
        return post(as_("bo"), f"/api/sorties/{sortie.pk}/why", {"at": place}).json()

    lowest = why(f"answer.figures.{at}.lowest_start")
    assert {name: lowest[name] for name in ("label", "value", "unit", "number", "shown")} == spin[
        "lowest_start"
    ]
    assert [i["label"] for i in lowest["inputs"]] == [
        "Floor: school floor",
        "Loss 19 times in 20",
        "Instructor's recovery, 99 times in 100",
        "Altimeter and reading it",
    ]
    assert {i["source"]["kind"] for i in lowest["inputs"]} == {"school", "model"}
    assert lowest["levers"]
    assert why("answer.floor")["inputs"][0]["inputs"][0]["source"]["kind"] == "regulation"


def test_the_working_of_a_draft_is_that_of_the_draft_and_of_what_is_not_there_there_is_none(school, as_):
    sortie = school.sortie()
    plan = {**sortie.plan, "own_floor_ft": 4200}
    draft = {"plan": plan, "aircraft_id": sortie.aircraft_id, "place_id": sortie.place_id}

    def why(who="bo", **asked):
        return post(as_(who), f"/api/sorties/{sortie.pk}/why", asked)

    assert why(at="answer.floor").json()["shown"] == "3,010 ft"
    mine = why(at="answer.floor", draft=draft).json()
    assert mine["shown"] == "4,200 ft" and mine["formula"]
    spin = next(f["id"] for f in plan["figures"] if f["key"] == "spin")
    looked = why(at="look.gate.lowest", draft=draft, figure=spin).json()
    assert looked["unit"] == "kt" and looked["formula"]
    for place in (
        "answer.floor.__class__",
        "answer.figures.99.start",
        "answer.titles",
        "answer",
        "look.gate",
    ):
        refused = why(at=place)
        assert refused.status_code == 422, place
        assert refused.json()["problems"][0]["what"] == "there is no number at this place"
    # A student asks of what is stored, not of drafts.
    assert why("ana", at="answer.floor").status_code == 200
    assert why("ana", at="answer.floor", draft=draft).status_code == 403


def test_what_is_sent_is_compressed_and_without_working(school, as_):
    sortie = school.sortie()
    draft = {"plan": sortie.plan, "aircraft_id": sortie.aircraft_id, "place_id": sortie.place_id}
    plain = post(as_("bo"), f"/api/sorties/{sortie.pk}/preview", draft).content
    assert b'"formula":' not in plain and b'"inputs":' not in plain
    sent = as_("bo").get(f"/api/sorties/{sortie.pk}", headers={"accept-encoding": "gzip"})
    assert sent["Content-Encoding"] == "gzip"
    assert len(sent.content) < 0.35 * len(as_("bo").get(f"/api/sorties/{sortie.pk}").content)


def test_the_second_to_save_is_told_and_shown_the_difference(school, as_):
    sortie, url = school.sortie(), "/api/sorties/{}"
    first, second = as_("bo"), as_("bo")
    plan = copy.deepcopy(sortie.plan)
    plan["figures"][0]["start_ft"] = 4400
    assert put(first, url.format(sortie.pk), {"version": sortie.version, "plan": plan}).status_code == 200
    other = copy.deepcopy(sortie.plan)
    other["day"]["qnh_hpa"] = 1001
    response = put(second, url.format(sortie.pk), {"version": sortie.version, "plan": other})
    assert response.status_code == 409
    conflict = response.json()
    assert conflict["by"] == "Bo"
    assert {d["where"] for d in conflict["differences"]} == {"plan.figures[f1].start_ft", "plan.day.qnh_hpa"}
    kept = Sortie.objects.get(pk=sortie.pk)
    assert kept.plan["figures"][0]["start_ft"] == 4400
    assert kept.plan["day"]["qnh_hpa"] != 1001
    assert (
        put(second, url.format(sortie.pk), {"version": conflict["version"], "plan": other}).status_code == 200
    )


def test_saving_the_same_again_is_not_a_new_version(school, as_):
    sortie = school.sortie()
    found = put(
        as_("bo"), f"/api/sorties/{sortie.pk}", {"version": sortie.version, "plan": sortie.plan}
    ).json()
    assert found["version"] == sortie.version


def test_a_changed_plan_has_to_be_briefed_again(school, as_):
    sortie = school.brought_to("briefed")
    plan = copy.deepcopy(sortie.plan)
    plan["figures"][0]["start_ft"] += 100
    assert (
        put(as_("bo"), f"/api/sorties/{sortie.pk}", {"version": sortie.version, "plan": plan}).json()["stage"]
        == "planned"
    )


def test_the_plan_of_a_flown_sortie_does_not_change(school, as_):
    sortie = school.brought_to("flown")
    plan = copy.deepcopy(sortie.plan)
    plan["figures"][0]["start_ft"] += 100
    assert (
        put(as_("bo"), f"/api/sorties/{sortie.pk}", {"version": sortie.version, "plan": plan}).status_code
        == 403
    )


def test_stages_are_not_jumped(school, as_):
    sortie = school.sortie()
    response = post(as_("bo"), f"/api/sorties/{sortie.pk}/stage", {"version": sortie.version, "to": "flown"})
    assert response.status_code == 422
    assert "cannot become flown at once" in response.json()["problems"][0]["what"]


def test_attempts_are_accounted_and_show_in_the_students_record(school, as_):
    sortie = school.brought_to("debriefed")
    found = open_sortie(as_("bo"), sortie)
    assert len(found["accounts"]) == 7
    record = as_("ana").get(f"/api/students/{sortie.student_id}").json()
    assert len(record["attempts"]) == 7
    assert all(a["lost_ft"] == 300 and a["briefed_ft"] > 0 for a in record["attempts"])
    assert {a["grade"] for a in record["attempts"]} == {"Sound"}


def signed(school, as_):
    sortie = school.brought_to("debriefed")
    response = post(as_("bo"), f"/api/sorties/{sortie.pk}/sign", to_sign(sortie))
    assert response.status_code == 200, response.content
    assert response.json()["version"] == sortie.version + 1
    return Sortie.objects.get(pk=sortie.pk)


def test_signing_asks_for_the_password_again(school, as_):
    sortie = school.brought_to("debriefed")
    response = post(as_("bo"), f"/api/sorties/{sortie.pk}/sign", to_sign(sortie, "guess"))
    assert response.status_code == 422
    assert "not your password" in response.json()["problems"][0]["what"]
    assert not Signature.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_inside_flushed_to_disk_every_commit_waits_for_the_disk():
    def level() -> int:
        with connection.cursor() as cursor:
            return cursor.execute("PRAGMA synchronous").fetchone()[0]

    with signing.flushed_to_disk():
        assert level() == 2
    assert level() == 1


def test_a_signature_is_flushed_to_disk(school, as_, monkeypatch):
    seen = []

    @contextmanager
    def recorder():
        seen.append(Signature.objects.count())
        yield
        seen.append(Signature.objects.count())

    monkeypatch.setattr(signing, "flushed_to_disk", recorder)
    signed(school, as_)
    assert seen == [0, 1]


def test_what_was_signed_is_stored_with_its_digest(school, as_):
    sortie = signed(school, as_)
    signature = sortie.signature
    document = json.loads(signature.document)
    assert hashlib.sha256(signature.document.encode()).hexdigest() == signature.digest
    assert document["plan"] == sortie.plan
    assert len(document["attempts"]) == 7
    assert document["card"] == sortie.card().model_dump(mode="json")
    assert open_sortie(as_("ana"), sortie)["signature"]["holds"] is True


def test_numbers_of_a_signed_sortie_stay_when_the_card_changes(school, as_):
    sortie = signed(school, as_)
    before = open_sortie(as_("bo"), sortie)["answer"]["figures"][4]["likely"]["shown"]
    school.aircraft.card["spin"]["one_turn_ft"]["value"] = 1400
    school.aircraft.save()
    assert open_sortie(as_("bo"), sortie)["answer"]["figures"][4]["likely"]["shown"] == before


def test_a_signed_sortie_is_locked_for_the_api(school, as_):
    sortie, client = signed(school, as_), as_("bo")
    assert (
        put(
            client, f"/api/sorties/{sortie.pk}", {"version": sortie.version, "debrief": {"note": "x"}}
        ).status_code
        == 403
    )
    assert (
        post(
            client, f"/api/sorties/{sortie.pk}/stage", {"version": sortie.version, "to": "flown"}
        ).status_code
        == 403
    )
    assert client.delete(f"/api/sorties/{sortie.pk}").status_code == 403


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE school_sortie SET debrief = '{}'",
        "DELETE FROM school_signature",
        "UPDATE school_signature SET digest = 'x'",
        "UPDATE school_attemptrow SET lost_ft = 1",
        "DELETE FROM school_attemptrow",
        "UPDATE school_correction SET text = 'x'",
    ],
)
def test_a_signed_record_is_locked_in_the_database_itself(school, as_, statement):
    sortie = signed(school, as_)
    post(
        as_("bo"),
        f"/api/sorties/{sortie.pk}/corrections",
        {"reason": "misread the altimeter", "text": "It was 4,380 ft"},
    )
    with (
        pytest.raises(DatabaseError, match="does not change"),
        transaction.atomic(),
        connection.cursor() as cursor,
    ):
        cursor.execute(statement)
    assert AttemptRow.objects.filter(lost_ft=300).count() == 7


def test_a_correction_is_added_beside_it_with_author_time_and_reason(school, as_):
    sortie = signed(school, as_)
    document = sortie.signature.document
    body = {"reason": "misread the altimeter", "text": "Lowest of figure 5 was 3,480 ft"}
    assert post(as_("cy"), f"/api/sorties/{sortie.pk}/corrections", body).status_code == 403
    found = post(as_("chief"), f"/api/sorties/{sortie.pk}/corrections", body)
    assert found.status_code == 201
    correction = found.json()["corrections"][0]
    assert (correction["by"], correction["reason"]) == ("Chief", "misread the altimeter")
    assert correction["at"]
    assert Signature.objects.get(sortie=sortie).document == document


def test_stage_changes_are_kept(school, as_):
    sortie = signed(school, as_)
    assert [c.stage for c in StageChange.objects.filter(sortie=sortie)] == [
        "briefed",
        "flown",
        "debriefed",
        "signed",
    ]


def test_a_draft_can_be_thrown_away_but_not_what_was_flown(school, as_):
    assert as_("bo").delete(f"/api/sorties/{school.sortie().pk}").status_code == 204
    assert as_("bo").delete(f"/api/sorties/{school.brought_to('flown').pk}").status_code == 403


def test_two_chiefs_cannot_overwrite_a_card(school, as_):
    client, url = as_("chief"), f"/api/aircraft/{school.aircraft.pk}"
    body = {"version": 1, "registration": "QX-TST", "card": school.aircraft.card}
    assert put(client, url, body).json()["version"] == 2
    assert "changed meanwhile" in put(client, url, body).json()["problems"][0]["what"]


def test_an_impossible_card_is_refused(school, as_):
    card = copy.deepcopy(school.aircraft.card)
    card["speeds"]["stall_ias"]["value"] = 140
    response = put(
        as_("chief"),
        f"/api/aircraft/{school.aircraft.pk}",
        {"version": 1, "registration": "QX-TST", "card": card},
    )
    assert response.status_code == 422
    assert "the stall (140)" in response.json()["problems"][0]["what"]
