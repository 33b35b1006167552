"""Every refusal as it is read: what, where, and what to do."""

import pytest

from tests.cards import LIGHT
from tests.said import held
from tests.server.conftest import post, put
from tests.server.sheets import entry, to_sign, url

TOO_HOT = "METAR XTST 011350Z 24014KT 9999 99/07 Q1009"
FAR = "2030-01-01T10:00:00Z"
BLOCK = {"name": "Test block", "elevation_ft": 10, "block_top_ft": 6500}


def words(response):
    assert 400 <= response.status_code < 500, response.content
    return [f"{p['where']}: {p['what']}. {p['do']}" for p in response.json()["problems"]]


@pytest.fixture
def stages(school):
    return {stage: school.brought_to(stage) for stage in ("planned", "briefed", "flown", "debriefed")}


def test_what_the_chief_keeps(school, as_):
    chief, plane, place = (
        as_("chief"),
        f"/api/aircraft/{school.aircraft.pk}",
        f"/api/places/{school.place.pk}",
    )
    other = {"registration": " qx-tst ", "card": LIGHT}
    assert post(chief, "/api/places", {"place": {**BLOCK, "name": "Other"}}).status_code == 201
    held(
        "server/keeping",
        {
            "twice in the fleet": words(post(chief, "/api/aircraft", other)),
            "packed tomorrow": words(
                put(chief, plane, {"version": 1, **other, "parachutes_packed_on": "2099-02-03"})
            ),
            "an older aircraft": words(put(chief, plane, {"version": 0, **other})),
            "an older place": words(put(chief, place, {"version": 7, "place": BLOCK})),
            "a place twice": words(put(chief, place, {"version": 1, "place": {**BLOCK, "name": "Other"}})),
            "older standards": words(put(chief, "/api/standards", {"version": 3, "standards": {}})),
            "no such figure": words(put(chief, "/api/figures/x/standard", {"version": 1, "standard": {}})),
            "an instructor": words(post(as_("bo"), "/api/aircraft", other)),
        },
    )


def test_who_may_not_and_when_it_is_too_late(school, as_, stages):
    bo, ana, planned = as_("bo"), as_("ana"), stages["planned"]
    flown, done = stages["flown"], stages["debriefed"]
    moved = {**flown.plan, "own_floor_ft": 3300}

    def save(sortie, **sheets):
        return words(put(bo, url(sortie), {"version": sortie.version, **sheets}))

    def note(client, sortie, *entries):
        return words(post(client, url(sortie, "/entries"), {"entries": entries}))

    def to(sortie, stage):
        return words(post(bo, url(sortie, "/stage"), {"version": sortie.version, "to": stage}))

    held(
        "server/sorties",
        {
            "read by another": words(post(bo, url(planned, "/read"), {})),
            "read too late": words(post(ana, url(flown, "/read"), {})),
            "asked by another": words(post(bo, url(planned, "/questions"), {"text": "why?"})),
            "about no figure": words(post(ana, url(planned, "/questions"), {"text": "why?", "figure": "zz"})),
            "no such question": words(post(bo, url(planned, "/questions/9"), {"text": "so"})),
            "planned after the flight": save(flown, plan=moved),
            "noted too early": note(bo, planned, entry("f1", "feel", 7)),
            "not a number": note(bo, flown, entry("f1", "feel", "well")),
            "too high": note(bo, flown, entry("f1", "start_ft", 40000)),
            "no such outcome": note(bo, flown, entry("f1", "outcome", "fine")),
            "no such stop": note(bo, flown, entry("f1", "stop", 3000, "ceiling")),
            "a fault of nothing": note(bo, flown, entry("f1", "fault", True)),
            "signed without looking": words(post(bo, url(done, "/sign"), {**to_sign(done), "noted": 1})),
            "signed with a stage": to(done, "signed"),
            "a stage too far": to(planned, "flown"),
            "planned again": to(flown, "planned"),
            "not ready": to(planned, "briefed"),
            "thrown away": words(bo.delete(f"{url(flown)}?version={flown.version}")),
            "not the password": words(post(bo, url(done, "/sign"), to_sign(done, "wrong-wrong"))),
            "signed too early": words(post(bo, url(flown, "/sign"), to_sign(flown))),
            "corrected too early": words(
                post(bo, url(flown, "/corrections"), {"reason": "I misread it", "text": "It was lower"})
            ),
            "taken over after the flight": words(
                post(bo, url(flown, "/take-over"), {"version": flown.version, "what": "place"})
            ),
            "by the student": words(put(ana, url(planned), {"version": 1, "debrief": {"note": "x"}})),
            "by another instructor": words(
                put(as_("chief"), url(planned), {"version": 1, "debrief": {"note": "x"}})
            ),
        },
    )


def test_what_cannot_be_planned(school, as_, stages):
    bo, planned = as_("bo"), stages["planned"]
    new = {
        "student_id": school.student("ana").pk,
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
        "planned_for": FAR,
    }
    day = {"day": {}, "place_id": school.place.pk}
    draft = {"plan": planned.plan, "aircraft_id": school.aircraft.pk, "place_id": school.place.pk}
    held(
        "server/planning",
        {
            "no such lesson": words(post(bo, "/api/sorties", {**new, "lesson": "tea"})),
            "no such lesson in a plan": words(
                post(bo, "/api/sorties", {**new, "plan": {**planned.plan, "lesson": "tea"}})
            ),
            "no such lesson proposed": words(post(bo, "/api/sorties/proposal", {**new, "lesson": "tea"})),
            "by a student": words(post(as_("ana"), "/api/sorties", new)),
            "no such figure": words(post(bo, url(planned, "/closer"), {**draft, "figure": "zz"})),
            "a report that cannot be": words(
                post(
                    bo,
                    url(planned, "/weather"),
                    {**day, "report": TOO_HOT},
                )
            ),
            "no report": words(post(bo, url(planned, "/weather"), {**day, "report": "hello"})),
            "no station": words(post(bo, url(planned, "/weather"), day)),
            "no plan in the file": words(post(bo, url(planned, "/plan-from-file"), {"document": [1]})),
        },
    )


def test_every_change_stays_with_what_was_before(school, as_):
    chief = as_("chief")
    plane, place = f"/api/aircraft/{school.aircraft.pk}", f"/api/places/{school.place.pk}"
    other = {**BLOCK, "block_top_ft": 7000}
    assert put(chief, place, {"version": 1, "place": other}).status_code == 200
    assert put(chief, place, {"version": 2, "place": other}).status_code == 200
    card = {**LIGHT, "name": "Renamed"}
    changed = {"version": 1, "registration": "QX-TST", "card": card, "parachutes_packed_on": "2026-01-02"}
    assert put(chief, plane, changed).status_code == 200
    (of_place,) = chief.get("/api/changes", {"subject": f"place {school.place.pk}"}).json()
    assert of_place["before"]["block_top_ft"] == 6500
    assert (of_place["after"]["block_top_ft"], of_place["by"]) == (7000, "Chief")
    (of_plane,) = chief.get("/api/changes", {"subject": f"aircraft {school.aircraft.pk}"}).json()
    assert (of_plane["before"]["card"]["name"], of_plane["after"]["card"]["name"]) == (
        LIGHT["name"],
        "Renamed",
    )
    packed = school.aircraft.parachutes_packed_on
    assert of_plane["before"]["parachutes_packed_on"] == str(packed)
    assert of_plane["after"]["parachutes_packed_on"] == "2026-01-02"
    calmer = {"version": 1, "standards": {"wind_most_kt": {"value": 20}}}
    assert put(chief, "/api/standards", calmer).status_code == 200
    (of_all,) = chief.get("/api/changes", {"subject": "standards"}).json()
    assert (
        of_all["after"]["wind_most_kt"]["value"]
        == 20
        != of_all["before"].get("wind_most_kt", {}).get("value")
    )
