"""What cannot be is refused in words; what fails outside is said; nothing that is stored locks anybody
out."""

import copy
import json
import sqlite3
from contextlib import closing
from datetime import timedelta

import pytest
from django.db import OperationalError, connections

from server import clock
from server.errors import failed
from server.school.models import Aircraft, Sortie
from server.school.operations import sorties as operations
from tests.server.conftest import post, put

METAR = "METAR XTST 011350Z 24014KT 9999 BKN076 11/07 Q1009"


def url(sortie, more=""):
    return f"/api/sorties/{sortie.pk}{more}"


def problem(response, status=422):
    assert response.status_code == status, response.content
    found = response.json()["problems"][0]
    assert found["what"]
    assert found["do"]
    return found


@pytest.mark.parametrize(
    ("group", "instead", "said"),
    [
        ("Q1009", "Q1099", "QNH, 1,099 is above 1,080"),
        ("11/07", "99/07", "Temperature, 99 is above 55"),
        ("24014KT", "240130KT", "Wind, 130 is above 120"),
    ],
)
def test_weather_that_cannot_be_is_refused_with_its_report(school, as_, group, instead, said):
    body = {"day": {}, "place_id": school.place.pk, "report": METAR.replace(group, instead)}
    found = problem(post(as_("bo"), url(school.sortie(), "/weather"), body))
    assert found["where"] == "report"
    assert said in found["what"]
    assert instead in found["what"]


def test_cloud_above_everything_is_no_cloud_base(school, as_):
    school.place.place["elevation_ft"] = 100
    school.place.save()
    body = {"day": {}, "place_id": school.place.pk, "report": METAR.replace("BKN076", "BKN300")}
    assert post(as_("bo"), url(school.sortie(), "/weather"), body).json()["day"]["cloud_base_ft"] is None


def proposal(school, at):
    return {"student_id": school.student("ana").pk, "aircraft_id": school.aircraft.pk, "planned_for": at}


@pytest.mark.parametrize(
    "at", ["0001-01-01T10:00:00Z", "9999-12-31T23:59:59Z", "1969-12-31T00:00:00Z", "2100-01-01T00:00Z"]
)
def test_a_time_out_of_reach_is_refused(school, as_, at):
    assert (
        "outside 1970 to 2099"
        in problem(post(as_("bo"), "/api/sorties/proposal", proposal(school, at)))["what"]
    )


def test_a_time_without_a_zone_is_utc(school, as_):
    asked = {**proposal(school, "2030-01-01T10:00:00"), "lesson": "free"}
    found = post(as_("bo"), "/api/sorties/proposal", asked)
    assert found.json()["planned_for"] == "2030-01-01T10:00:00Z"


@pytest.mark.parametrize("number", ["1" * 400, "-" + "9" * 400, "1e999", "NaN", "Infinity"])
def test_a_number_that_nobody_can_keep_is_refused(school, as_, number):
    sortie = school.sortie()
    text = json.dumps({"version": sortie.version, "plan": sortie.plan}).replace("1013.25", number)
    assert number in text
    response = as_("bo").put(url(sortie), text, content_type="application/json")
    assert problem(response)["where"] == "body"


@pytest.mark.parametrize(
    "kind", ["application/x-www-form-urlencoded", "multipart/form-data; boundary=x", "text/plain"]
)
def test_a_stage_change_sent_as_a_form_is_refused_in_words(school, as_, kind):
    sortie = school.sortie()
    body = '--x\r\nContent-Disposition: form-data; name="to"\r\n\r\nbriefed\r\n--x--\r\n'
    found = problem(as_("bo").post(url(sortie, "/stage"), body, content_type=kind), 400)
    assert "sent as" in found["what"]
    assert found["do"] == "Send application/json."


@pytest.mark.parametrize("letter", ["\x00", "\x07", "\x1b", "\x7f", "\x9d", "\ud800", "\uffff"])
def test_control_characters_reach_no_record(school, as_, letter):
    sortie = school.sortie()
    text = json.dumps({"version": sortie.version, "debrief": {"note": f"a{letter}b"}})
    found = problem(as_("bo").put(url(sortie), text, content_type="application/json"))
    assert found["where"] == "debrief.note"
    assert f"U+{ord(letter):04X}" in found["what"]


def test_lines_and_letters_of_every_script_are_kept(school, as_):
    sortie, note = school.sortie(), "Zu tief.\n\tΎψος, высота, 高度, גובה"
    shown = put(as_("bo"), url(sortie), {"version": sortie.version, "debrief": {"note": note}}).json()
    assert shown["debrief"]["note"] == note


def test_a_lesson_that_the_syllabus_does_not_have_is_not_stored(school, as_):
    sortie = school.sortie()
    body = {"version": sortie.version, "plan": {**sortie.plan, "lesson": "x"}}
    assert problem(put(as_("bo"), url(sortie), body))["where"] == "plan.lesson"


@pytest.mark.parametrize(
    ("kept", "shown"), [(None, "of_last_year"), ({"name": "Of last year", "purpose": ""}, "Of last year")]
)
def test_a_lesson_that_no_course_has_any_more_is_shown_as_it_was_called(school, as_, kept, shown):
    sortie = school.sortie()
    sortie.plan["lesson"], sortie.lesson_kept = "of_last_year", kept
    sortie.save()
    for who in ("ana", "bo", "chief"):
        assert as_(who).get("/api/today").json()["sorties"][0]["lesson_name"] == shown
    assert as_("bo").get(url(sortie)).json()["lesson_name"] == shown
    assert as_("bo").get(url(sortie, "/card.pdf")).status_code == 200


@pytest.mark.parametrize(
    "spoil",
    [
        {"plan": {}},
        {"plan": []},
        {"plan": {"lesson": 3, "figures": "x"}},
        {"brief": {"checked": ["no such item"]}},
        {"debrief": {"mood": 3}},
        {"card_kept": {}},
        {"place_kept": None},
    ],
)
def test_one_unreadable_sortie_never_takes_a_list_with_it(school, as_, spoil):
    good, bad = school.sortie(), school.sortie()
    spoil = {name: {} if value is None else value for name, value in spoil.items()}
    Sortie.objects.filter(pk=bad.pk).update(**spoil)
    for who in ("ana", "bo", "chief"):
        lines = {line["id"]: line for line in as_(who).get("/api/today").json()["sorties"]}
        assert lines[good.pk]["trouble"] is None
        assert lines[bad.pk]["trouble"].startswith("Cannot be opened: ")
        assert "docs/running.md" in lines[bad.pk]["trouble"]
        assert (lines[bad.pk]["lesson_name"] == "Lesson not readable") == ("plan" in spoil)
        record = as_(who).get(f"/api/students/{good.student_id}").json()["record"]
        assert {line["id"] for line in record} == {good.pk, bad.pk}
    assert as_("bo").get(url(good)).status_code == 200
    assert "docs/running.md" in problem(as_("bo").get(url(bad)))["do"]


def test_an_attempt_that_cannot_be_read_leaves_the_others_in_the_record(school, as_):
    sortie = school.brought_to("flown")
    row = sortie.attempts.all()[0]
    row.attempt = {"id": "a0"}
    row.save()
    school.sortie()
    record = as_("bo").get(f"/api/students/{sortie.student_id}").json()
    assert len(record["attempts"]) == 6
    assert as_("bo").get("/api/today").status_code == 200


# What a sortie remembers


def with_renamed_tank(school):
    card = copy.deepcopy(school.aircraft.card)
    card["balance"]["tanks"][0]["name"] = "Wing"
    card["speeds"]["stall_ias"]["value"] += 1
    packed = str(school.aircraft.parachutes_packed_on)
    sent = {"version": school.aircraft.version, "registration": "QX-TST", "card": card}
    return {**sent, "parachutes_packed_on": packed}


@pytest.mark.parametrize("stage", ["planned", "briefed", "flown", "debriefed"])
def test_a_renamed_tank_locks_no_sortie(school, as_, stage):
    sortie = school.brought_to(stage) if stage != "planned" else school.sortie()
    before = as_("bo").get(url(sortie)).json()
    assert (
        put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", with_renamed_tank(school)).status_code == 200
    )
    after = as_("bo").get(url(sortie)).json()
    assert after["answer"] == before["answer"]
    note = {"version": sortie.version, "debrief": {"note": "still stored"}}
    assert put(as_("bo"), url(sortie), note).status_code == 200


def test_a_changed_card_shows_as_a_difference_and_is_taken_over_knowingly(school, as_):
    sortie = school.brought_to("briefed")
    put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", with_renamed_tank(school))
    shown = as_("bo").get(url(sortie)).json()
    found = {d["where"]: (d["stored"], d["yours"]) for d in shown["newer"]["aircraft"]}
    stall = sortie.card_kept["speeds"]["stall_ias"]["value"]
    assert found["card.speeds.stall_ias.value"] == (f"{stall:g}", f"{stall + 1:g}")
    assert shown["card"]["balance"]["tanks"][0]["name"] != "Wing"
    assert problem(post(as_("ana"), url(sortie, "/take-over"), {"version": 1, "what": "aircraft"}), 403)
    body = {"version": sortie.version, "what": "aircraft"}
    taken = post(as_("bo"), url(sortie, "/take-over"), body).json()
    assert taken["newer"] == {}
    assert list(taken["plan"]["load"]["fuel_usgal"]) == ["Wing"]
    assert taken["card"]["speeds"]["stall_ias"]["value"] == stall + 1
    assert taken["stage"] == "planned"
    assert [c["stage"] for c in taken["stage_changes"]] == ["briefed", "planned"]
    assert post(as_("bo"), url(sortie, "/take-over"), body).status_code == 409


def test_a_changed_place_likewise(school, as_):
    sortie = school.sortie()
    sortie.plan["day"]["observed"] = "2026-11-25T09:20:00Z"
    sortie.save()
    place = {**school.place.place, "block_top_ft": 6000}
    put(as_("chief"), f"/api/places/{school.place.pk}", {"version": 1, "place": place})
    shown = as_("bo").get(url(sortie)).json()
    assert shown["block"]["block_top_ft"] == 6500
    assert shown["newer"]["place"] == [
        {"where": "place.block_top_ft", "place": "Block top", "stored": "6,500", "yours": "6,000"}
    ]
    taken = post(as_("bo"), url(sortie, "/take-over"), {"version": sortie.version, "what": "place"}).json()
    assert taken["answer"]["block_top"]["value"] == 6000
    assert taken["plan"]["day"]["observed"] == "2026-11-25T09:20:00Z"


def test_a_flown_sortie_stays_on_the_card_it_was_flown_on(school, as_):
    sortie = school.brought_to("flown")
    put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", with_renamed_tank(school))
    assert as_("bo").get(url(sortie)).json()["newer"] == {}
    body = {"version": sortie.version, "what": "aircraft"}
    assert post(as_("bo"), url(sortie, "/take-over"), body).status_code == 403


def test_parachutes_repacked_after_the_flight_change_nothing_of_it(school, as_):
    sortie = school.brought_to("flown")
    before = json.loads(as_("bo").get(url(sortie, "/plan.json")).content)["parachute_days"]
    flown_on, packed_on = sortie.planned_for.date(), school.aircraft.parachutes_packed_on
    Aircraft.objects.update(parachutes_packed_on=sortie.planned_for.date() + timedelta(days=3))
    assert json.loads(as_("bo").get(url(sortie, "/plan.json")).content)["parachute_days"] == before
    assert before == (flown_on - packed_on).days


def test_parachutes_are_not_packed_in_the_future(school, as_):
    packed = str(clock.now().date() + timedelta(days=2))
    body = {
        "version": 1,
        "registration": "QX-TST",
        "card": school.aircraft.card,
        "parachutes_packed_on": packed,
    }
    assert (
        problem(put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", body))["where"]
        == "parachutes_packed_on"
    )


# Once, and gone


def new(school, **more):
    three = {
        "student_id": school.student("ana").pk,
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
    }
    return {**three, "planned_for": "2030-01-01T10:00:00Z", **more}


def test_a_double_post_makes_one(school, as_):
    body = new(school, made_as="0123456789abcdef")
    first, second = (post(as_("bo"), "/api/sorties", body) for _ in range(2))
    assert (first.status_code, second.status_code) == (201, 201)
    assert first.json()["id"] == second.json()["id"]
    assert Sortie.objects.count() == 1
    assert problem(post(as_("cy"), "/api/sorties", body))["where"] == "made_as"
    copied = {**body, "copy_of": first.json()["id"], "made_as": "another name of it"}
    assert {post(as_("bo"), "/api/sorties", copied).json()["id"] for _ in range(2)} == {
        Sortie.objects.latest("pk").pk
    }
    assert Sortie.objects.count() == 2


def test_a_save_that_races_a_delete_is_told_so(school, as_, monkeypatch):
    sortie, real = school.sortie(), operations.computed

    def and_meanwhile(*arguments):
        Sortie.objects.filter(pk=sortie.pk).delete()
        return real(*arguments)

    monkeypatch.setattr("server.school.operations.saving.computed", and_meanwhile)
    plan = {**sortie.plan, "own_floor_ft": 4000}
    assert (
        "no such"
        in problem(put(as_("bo"), url(sortie), {"version": sortie.version, "plan": plan}), 404)["what"]
    )


def test_nothing_is_computed_inside_a_write_transaction(school, as_, monkeypatch, transactional_db):
    inside = []

    def watch(name):
        real = getattr(operations, name)

        def watched(*arguments):
            inside.append(connections["default"].in_atomic_block)
            return real(*arguments)

        for room in ("sorties", "saving", "computing"):
            monkeypatch.setattr(f"server.school.operations.{room}.{name}", watched, raising=False)

    watch("computed")
    sortie = school.sortie()
    plan = {**sortie.plan, "own_floor_ft": 4000}
    assert put(as_("bo"), url(sortie), {"version": sortie.version, "plan": plan}).status_code == 200
    assert len(inside) >= 2
    assert not any(inside)


def test_old_unsigned_sorties_stay_on_today(school, as_):
    old = school.sortie(at=clock.now() - timedelta(days=90))
    lines = {line["id"]: line["left_over"] for line in as_("bo").get("/api/today").json()["sorties"]}
    assert lines[old.pk] is True
    assert lines.get(school.sortie().pk) is None
    now = {line["id"]: line["left_over"] for line in as_("bo").get("/api/today").json()["sorties"]}
    assert list(now.values()) == [True, False]


# The disk


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ("database is locked", "busy with somebody else's work"),
        ("database or disk is full", "the disk is full"),
        ("attempt to write a readonly database", "can be read only"),
        ("unable to open database file", "cannot be opened"),
        ("database disk image is malformed", "is damaged"),
    ],
)
def test_a_disk_that_does_not_take_it_is_said_with_when_to_try_again(school, as_, monkeypatch, said, words):
    def refuse(*_, **__):
        raise OperationalError(said)

    sortie = school.sortie()
    monkeypatch.setattr("server.school.operations.saving.stored_next", refuse)
    response = put(as_("bo"), url(sortie), {"version": sortie.version, "debrief": {"note": "x"}})
    assert words in problem(response, 503)["what"]
    assert response["Retry-After"] == "10"


def test_a_database_that_is_really_locked_answers_in_words(school, as_, transactional_db, settings):
    """Another process holds it; our patience is made short."""
    sortie, client = school.sortie(), as_("bo")
    connection = connections["default"]
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA busy_timeout=50")
    with closing(sqlite3.connect(connection.settings_dict["NAME"])) as other:
        other.execute("BEGIN IMMEDIATE")
        response = put(client, url(sortie), {"version": sortie.version, "debrief": {"note": "x"}})
        other.rollback()
    assert "busy" in problem(response, 503)["what"]


@pytest.mark.parametrize(
    ("path", "kind"), [("/api/today", "application/json"), ("/students", "text/plain; charset=utf-8")]
)
@pytest.mark.parametrize(
    ("error", "status"), [(OperationalError("database is locked"), 503), (KeyError("x"), 500)]
)
def test_what_fails_outside_every_door_is_said_in_words_too(rf, path, kind, error, status):
    try:
        raise error
    except (OperationalError, KeyError):
        response = failed(rf.get(path))
    assert (response.status_code, response["Content-Type"]) == (status, kind)
    assert ("Retry-After" in response) == (status == 503)
    assert response.content != b"x"


@pytest.mark.parametrize("number", ["99999999999999999999", "-1"])
def test_a_number_of_no_row_is_refused(school, as_, number):
    assert as_("bo").get(f"/api/sorties/{number}").status_code in (404, 422)
    assert as_("bo").get(f"/api/figures/loop/book?aircraft_id={number}&place_id=1").status_code in (404, 422)
