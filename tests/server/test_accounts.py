"""Accounts: a way in by a link, passwords by the rules, a second factor, sessions listed and ended; people
who are two things at once, who leave, and the chief who is the last."""

import base64
import hashlib
import hmac
import struct
import time
from datetime import timedelta

import pytest
from django.test import Client
from django_otp.plugins.otp_totp.models import TOTPDevice

from server import clock, mail
from server.school.models import BookingChange, Change, Deed, KeptMail, OpenSession, Person, Sortie, Student
from server.school.operations.sorties import plan_sortie
from tests.server.conftest import PASSWORD, post, put
from tests.server.sheets import to_sign, url

NEW = {
    "username": "eve",
    "name": "Eve Marlow",
    "email": "eve@school.example",
    "role": "student",
    "student": True,
}
OWN = "seven-grey-gulls-over-water"


def invited(client, **other):
    answer = post(client, "/api/people", {**NEW, **other})
    assert answer.status_code == 201, answer.content
    return answer.json()


def path_of(link):
    return "/api/session" + link.removeprefix("http://testserver")


def logged_in(username, password=OWN, **more):
    client = Client()
    answer = post(client, "/api/session/login", {"username": username, "password": password, **more})
    return client, answer


def test_somebody_new_comes_in_by_a_link_and_sets_a_password(school, as_):
    made = invited(as_("chief"))
    assert (made["person"]["state"], made["person"]["role"]) == ("asked in", "student")
    assert Student.objects.filter(person__username="eve").exists()
    assert logged_in("eve", "")[1].status_code == 422
    client, way = Client(), path_of(made["link"])
    told = client.get(way).json()
    assert (told["name"], told["username"]) == ("Eve Marlow", "eve")
    assert len(told["rules"]) >= 3
    entered = post(client, way, {"password": OWN})
    assert entered.json()["person"]["name"] == "Eve Marlow"
    assert client.get("/api/today").status_code == 200
    assert logged_in("eve")[1].status_code == 200


def test_a_link_opens_once_and_not_after_another_was_made(school, as_):
    made = invited(as_("chief"))
    again = post(as_("chief"), f"/api/people/{made['person']['id']}/link", {}).json()
    assert Client().get(path_of(made["link"])).status_code == 422
    way = path_of(again["link"])
    assert post(Client(), way, {"password": OWN}).status_code == 200
    assert post(Client(), way, {"password": "another-one-of-mine"}).status_code == 422
    assert logged_in("eve")[1].status_code == 200


def test_a_link_is_open_for_three_days(school, as_, monkeypatch):
    way = path_of(invited(as_("chief"))["link"])
    now = clock.now().replace(tzinfo=None)
    for hours, expected in ((71, 200), (73, 422)):
        later = now + timedelta(hours=hours)
        monkeypatch.setattr("server.school.operations.people.TOKENS._now", lambda at=later: at)
        assert Client().get(way).status_code == expected, hours


@pytest.mark.parametrize(
    "way", ["/welcome/eA/x", "/welcome/MQ/x-y", "/welcome/!!!/x", "/welcome/OTk5OTk5OTk5OTk5/x"]
)
def test_a_made_up_link_opens_nothing(school, way):
    answer = Client().get(f"/api/session{way}")
    assert answer.status_code == 422
    assert "does not open" in answer.json()["problems"][0]["what"]


BAD_PASSWORDS = {
    "short-one": "too short",
    "4719203847561": "entirely numeric",
    "1qaz2wsx3edc": "too common",
    "eve-marlow-1": "too similar",
}


@pytest.mark.parametrize("password", BAD_PASSWORDS)
def test_a_password_follows_the_rules(school, as_, password):
    way = path_of(invited(as_("chief"))["link"])
    answer = post(Client(), way, {"password": password})
    assert answer.status_code == 422
    said = " ".join(p["what"] for p in answer.json()["problems"])
    assert BAD_PASSWORDS[password] in said
    assert post(Client(), way, {"password": OWN}).status_code == 200


def code_of(secret, at=None, step=30):
    """RFC 6238 (TOTP) on RFC 4226 (HOTP): HMAC-SHA-1 of the count of half minutes, six figures."""
    key = base64.b32decode(secret.replace(" ", "") + "=" * (-len(secret.replace(" ", "")) % 8))
    count = int((time.time() if at is None else at) // step)
    digest = hmac.new(key, struct.pack(">Q", count), hashlib.sha1).digest()
    start = digest[-1] & 15
    number = struct.unpack(">I", digest[start : start + 4])[0] & 0x7FFFFFFF
    return f"{number % 10**6:06d}"


def test_codes_are_those_of_the_standard():
    """RFC 6238, appendix B: SHA-1, the secret 12345678901234567890; the last six of eight figures."""
    secret = base64.b32encode(b"12345678901234567890").decode()
    for at, eight in ((59, "94287082"), (1111111109, "07081804"), (2000000000, "69279037")):
        assert code_of(secret, at) == eight[2:]


def with_second_factor(client):
    """In use: the secret and the recovery codes."""
    made = post(client, "/api/account/second-factor", {"password": PASSWORD}).json()
    assert made["picture"].startswith("data:image/svg+xml")
    # The code of the half minute before: the one of now is still to be used.
    on = post(client, "/api/account/second-factor/on", {"code": code_of(made["secret"], time.time() - 30)})
    assert on.status_code == 200, on.content
    return made["secret"], on.json()["codes"]


def test_with_a_second_factor_name_and_password_are_not_enough(school, as_):
    secret, _ = with_second_factor(as_("bo"))
    client, answer = logged_in("bo", PASSWORD)
    assert (answer.json()["person"], answer.json()["asks_code"]) == (None, True)
    assert client.get("/api/today").status_code == 401
    assert logged_in("bo", PASSWORD, code="000000")[1].status_code == 422
    # A wrong one closes for a moment, also for the right one.
    assert logged_in("bo", PASSWORD, code=code_of(secret))[1].status_code == 422
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    client, answer = logged_in("bo", PASSWORD, code=code_of(secret))
    assert answer.json()["person"]["name"] == "Bo"
    assert client.get("/api/today").status_code == 200
    # And the same code does not open twice.
    assert logged_in("bo", PASSWORD, code=code_of(secret))[1].status_code == 422


def test_a_recovery_code_opens_once(school, as_):
    _, codes = with_second_factor(as_("bo"))
    assert len(set(codes)) == 10
    assert logged_in("bo", PASSWORD, code=codes[0])[1].json()["person"]
    assert as_("bo").get("/api/account").json()["codes_left"] == 9
    assert logged_in("bo", PASSWORD, code=codes[0])[1].status_code == 422
    fresh = post(as_("bo"), "/api/account/second-factor/codes", {"password": PASSWORD}).json()["codes"]
    assert logged_in("bo", PASSWORD, code=codes[1])[1].status_code == 422
    from django_otp.plugins.otp_static.models import StaticDevice

    StaticDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    assert logged_in("bo", PASSWORD, code=fresh[0])[1].json()["person"]


def test_a_second_factor_is_in_use_only_after_its_first_code(school, as_):
    client = as_("bo")
    assert post(client, "/api/account/second-factor", {"password": "wrong-one-indeed"}).status_code == 422
    post(client, "/api/account/second-factor", {"password": PASSWORD})
    assert post(client, "/api/account/second-factor/on", {"code": "123"}).status_code == 422
    assert client.get("/api/account").json()["second_factor"] is False
    assert logged_in("bo", PASSWORD)[1].json()["person"]


def test_it_is_taken_off_with_the_password_or_by_the_chief(school, as_):
    with_second_factor(as_("bo"))
    assert (
        post(as_("bo"), "/api/account/second-factor/off", {"password": "wrong-one-indeed"}).status_code == 422
    )
    assert as_("bo").get("/api/account").json()["second_factor"] is True
    bo = school.people["bo"].pk
    assert post(as_("cy"), f"/api/people/{bo}/second-factor/off", {}).status_code == 403
    assert post(as_("chief"), f"/api/people/{bo}/second-factor/off", {}).json()["second_factor"] is False
    with_second_factor(as_("bo"))
    off = post(as_("bo"), "/api/account/second-factor/off", {"password": PASSWORD}).json()
    assert (off["second_factor"], off["codes_left"]) == (False, 0)


def test_sessions_are_listed_and_ended(school):
    one, _ = logged_in("bo", PASSWORD)
    two = Client(HTTP_USER_AGENT="A tablet")
    post(two, "/api/session/login", {"username": "bo", "password": PASSWORD})
    other, _ = logged_in("cy", PASSWORD)
    told = one.get("/api/account").json()["sessions"]
    assert [s["this"] for s in told].count(True) == 1
    there = next(s for s in told if not s["this"])
    assert (there["agent"], there["address"], len(told)) == ("A tablet", "127.0.0.1", 2)
    keys = set(OpenSession.objects.values_list("session_key", flat=True))
    assert not keys & {s["id"] for s in told}, "what opens a session is told to nobody"
    post(one, "/api/account/sessions/end", {"id": there["id"]})
    assert [client.get("/api/today").status_code for client in (one, two, other)] == [200, 401, 200]
    # Of somebody else's, and of one's own, nothing is ended.
    theirs = other.get("/api/account").json()["sessions"][0]["id"]
    post(one, "/api/account/sessions/end", {"id": theirs})
    post(one, "/api/account/sessions/end", {})
    assert [client.get("/api/today").status_code for client in (one, other)] == [200, 200]


def test_when_a_session_was_used_is_kept_to_the_hour(school, settings):
    client, _ = logged_in("bo", PASSWORD)
    first = OpenSession.objects.get().seen
    client.get("/api/today")
    assert OpenSession.objects.get().seen == first
    settings.CLOCK_AHEAD += timedelta(minutes=61)
    client.get("/api/today")
    assert OpenSession.objects.get().seen - first >= timedelta(minutes=60)


def test_another_password_logs_out_everywhere_else(school):
    one, _ = logged_in("bo", PASSWORD)
    two, _ = logged_in("bo", PASSWORD)
    wrong = post(one, "/api/account/password", {"old": "wrong-one-indeed", "new": OWN})
    assert wrong.status_code == 422
    assert post(one, "/api/account/password", {"old": PASSWORD, "new": "short"}).status_code == 422
    assert post(one, "/api/account/password", {"old": PASSWORD, "new": OWN}).status_code == 200
    assert [client.get("/api/today").status_code for client in (one, two)] == [200, 401]
    assert logged_in("bo", PASSWORD)[1].status_code == 422
    assert logged_in("bo", OWN)[1].status_code == 200


def test_a_forgotten_password_and_the_letter_that_is_kept(school, as_, settings):
    Person.objects.filter(username="bo").update(email="bo@school.example")
    asked, settings.EMAIL_BACKEND = {"username": "bo"}, mail.NONE
    assert post(Client(), "/api/session/forgot", asked).status_code == 422, "no letters are sent here"
    settings.EMAIL_BACKEND = mail.STAND_IN
    answers = {post(Client(), "/api/session/forgot", {"username": n}).content for n in ("bo", "cy", "nobody")}
    assert len(answers) == 1, "the same answer to every name"
    letter = KeptMail.objects.get()
    assert letter.to == "bo@school.example"
    link = next(line for line in letter.text.splitlines() if line.startswith("http"))
    assert post(Client(), path_of(link), {"password": OWN}).json()["person"]["name"] == "Bo"
    told = as_("chief").get("/api/letters").json()["letters"]
    assert [one["to"] for one in told] == ["bo@school.example"]
    assert as_("cy").get("/api/letters").status_code == 403


def test_letters_are_shown_only_where_a_stand_in_keeps_them(school, as_, settings):
    KeptMail.objects.create(to="x@school.example", subject="s", text="t")
    settings.EMAIL_BACKEND = mail.NONE
    assert as_("chief").get("/api/letters").status_code == 422
    settings.EMAIL_BACKEND = mail.STAND_IN
    assert as_("chief").get("/api/letters").status_code == 200


def test_a_link_does_not_go_round_the_second_factor(school, as_):
    with_second_factor(as_("bo"))
    link = post(as_("chief"), f"/api/people/{school.people['bo'].pk}/link", {}).json()["link"]
    client = Client()
    assert post(client, path_of(link), {"password": OWN}).json()["person"] is None
    assert client.get("/api/today").status_code == 401
    assert logged_in("bo", OWN)[1].json()["asks_code"] is True


def changed(client, person, **other):
    body = {
        "username": person.username,
        "name": person.name,
        "email": person.email,
        "role": person.role,
        "student": hasattr(person, "student"),
        "weight_lb": person.weight_lb,
    }
    return put(client, f"/api/people/{person.pk}", {**body, **other})


def test_the_last_chief_cannot_leave_or_stop_being_chief(school, as_):
    chief, bo = school.people["chief"], school.people["bo"]
    assert post(as_("chief"), f"/api/people/{chief.pk}/leave", {"reason": "moving away"}).status_code == 422
    assert changed(as_("chief"), chief, role="instructor").status_code == 422
    assert changed(as_("chief"), bo, role="chief").status_code == 200
    assert post(as_("chief"), f"/api/people/{chief.pk}/leave", {"reason": "moving away"}).status_code == 200
    assert Person.objects.get(pk=chief.pk).is_active is False
    assert post(as_("bo"), f"/api/people/{bo.pk}/leave", {"reason": "moving away"}).status_code == 422


def test_several_roles_in_one_person(school, as_):
    cy = school.people["cy"]
    answer = changed(as_("chief"), cy, student=True)
    assert (answer.json()["role"], answer.json()["student_id"] is not None) == ("instructor", True)
    assert as_("cy").get("/api/session").json()["person"]["student_id"] == answer.json()["student_id"]
    student = Student.objects.get(person=cy)
    at = clock.now() + timedelta(hours=2)
    sortie = plan_sortie(school.people["bo"], student, school.aircraft, school.place, "spins_both_ways", at)
    may = as_("cy").get(url(sortie)).json()["may"]
    assert (may["read"], may["plan"]) == (True, False)
    # In their own sortie they are told what a student is told.
    put(
        as_("bo"), url(sortie), {"version": 1, "plan": {**sortie.plan, "surprises": {"count": 2, "seed": 77}}}
    )
    assert as_("cy").get(url(sortie)).json()["plan"]["surprises"]["seed"] == 0
    assert as_("chief").get(url(sortie)).json()["plan"]["surprises"]["seed"] == 77
    # Nobody instructs themselves.
    body = {
        "student_id": student.pk,
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
        "planned_for": "2030-01-01T10:00:00Z",
    }
    refused = post(as_("cy"), "/api/sorties", body)
    assert refused.status_code == 422
    assert "is the student of it" in refused.json()["problems"][0]["what"]
    move = {"version": Sortie.objects.get(pk=sortie.pk).version, "instructor_id": cy.pk}
    assert post(as_("chief"), url(sortie, "/booking"), move).status_code == 422
    # A mark that sorties hang on stays.
    assert changed(as_("chief"), cy, student=False).status_code == 422


def test_who_leaves_is_locked_out_and_what_is_theirs_is_handed_on(school, as_):
    client, _ = logged_in("bo", PASSWORD)
    flown, planned = school.brought_to("debriefed"), school.sortie("dee")
    bo, cy = school.people["bo"], school.people["cy"]
    way = f"/api/people/{bo.pk}/leave"
    assert next(p for p in as_("chief").get("/api/people").json() if p["id"] == bo.pk)["ahead"] == 2
    without = post(as_("chief"), way, {"reason": "moving away"})
    assert without.status_code == 422
    assert "2 sorties" in without.json()["problems"][0]["what"]
    assert post(as_("chief"), way, {"reason": "moving away", "instead": bo.pk}).status_code == 422
    assert post(as_("chief"), way, {"reason": "x", "instead": cy.pk}).status_code == 422
    left = post(as_("chief"), way, {"reason": "moving away", "instead": cy.pk}).json()
    assert (left["state"], left["left_why"], left["ahead"]) == ("left", "moving away", 0)
    assert client.get("/api/today").status_code == 401
    assert logged_in("bo", PASSWORD)[1].status_code == 422
    assert {s.instructor.name for s in Sortie.objects.all()} == {"Cy"}
    assert Sortie.objects.get(pk=flown.pk).stage == "debriefed"
    assert Sortie.objects.get(pk=planned.pk).stage == "planned"
    assert BookingChange.objects.filter(sortie=flown, before="Bo", after="Cy").exists()
    flown.refresh_from_db()
    assert post(as_("cy"), url(flown, "/sign"), to_sign(flown)).status_code == 200
    assert "Bo" not in [one["name"] for one in as_("cy").get("/api/instructors").json()]
    back = post(as_("chief"), f"/api/people/{bo.pk}/back", {}).json()
    assert back["state"] == "in"
    assert logged_in("bo", PASSWORD)[1].status_code == 200


def test_a_student_who_leaves_is_flown_no_more(school, as_):
    sortie = school.sortie("ana")
    post(as_("chief"), f"/api/people/{school.people['ana'].pk}/leave", {"reason": "gave it up"})
    sortie.refresh_from_db()
    assert sortie.cancelled == "Ana has left the school"
    assert [s["name"] for s in as_("bo").get("/api/students").json()] == ["Dee"]
    # What was flown is still found.
    assert as_("bo").get(f"/api/students/{school.student('ana').pk}").status_code == 200


def test_what_was_flown_is_handed_over_by_the_chief_alone_and_on_the_record(school, as_):
    sortie, cy = school.brought_to("flown"), school.people["cy"]
    body = {"version": sortie.version, "instructor_id": cy.pk}
    for who in ("bo", "cy"):
        assert post(as_(who), url(sortie, "/booking"), body).status_code == 403
    kept = sortie.plan
    assert post(as_("chief"), url(sortie, "/booking"), body).status_code == 200
    sortie.refresh_from_db()
    assert (sortie.instructor, sortie.stage, sortie.plan) == (cy, "flown", kept)
    assert BookingChange.objects.get(sortie=sortie).by == school.people["chief"]


def test_what_the_chief_writes_down_of_somebody_is_on_the_record(school, as_):
    made = invited(as_("chief"))
    person = Person.objects.get(pk=made["person"]["id"])
    assert changed(as_("chief"), person, name="Eve Marlowe").status_code == 200
    first, second = Change.objects.filter(subject=f"person {person.pk}").order_by("pk")
    assert (first.before, second.before["name"], second.after["name"]) == (None, "Eve Marlow", "Eve Marlowe")
    assert Deed.objects.filter(what="made a link in", subject=f"person {person.pk}").exists()


@pytest.mark.parametrize(
    ("wrong", "where"),
    [
        ({"username": "bo"}, "username"),
        ({"username": "BO"}, "username"),
        ({"username": "a b"}, "username"),
        ({"name": " "}, "name"),
        ({"email": "no address"}, "email"),
        ({"student": False}, "role"),
        ({"weight_lb": 20}, "weight_lb"),
    ],
)
def test_somebody_is_not_taken_with_what_cannot_be(school, as_, wrong, where):
    before = Person.objects.count()
    answer = post(as_("chief"), "/api/people", {**NEW, **wrong})
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["where"] == where
    assert Person.objects.count() == before


def events(client, address):
    """What a calendar makes of it."""
    from icalendar import Calendar

    answer = client.get(address.removeprefix("http://testserver"))
    assert answer.status_code == 200, answer.content
    return list(Calendar.from_ical(answer.content).walk("VEVENT"))


def test_ones_bookings_are_read_by_a_calendar_at_a_secret_address(school, as_):
    coming, cancelled = school.sortie("ana", "bo"), school.sortie("dee", "bo")
    post(as_("bo"), url(cancelled, "/cancel"), {"version": 1, "reason": "Wind beyond limits"})
    school.sortie("dee", "cy")
    assert as_("bo").get("/api/account").json()["calendar"] == ""
    address = post(as_("bo"), "/api/account/calendar", {}).json()["calendar"]
    assert len(address.split("/")[-1]) > 40
    nobody = Client()
    found = events(nobody, address)
    assert {(str(e["summary"]), str(e["status"])) for e in found} == {
        ("Spins, both ways: Ana with Bo", "CONFIRMED"),
        ("Spins, both ways: Dee with Bo", "CANCELLED"),
    }
    begins = {str(e["uid"]): e["dtstart"].dt for e in found}
    assert begins[f"sortie-{coming.pk}@keelturn.invalid"] == coming.planned_for.replace(microsecond=0)
    mine = post(as_("dee"), "/api/account/calendar", {}).json()["calendar"]
    assert {str(e["summary"]).split(" with ")[1] for e in events(nobody, mine)} == {"Bo", "Cy"}
    Sortie.objects.filter(pk=coming.pk).update(planned_for=clock.now() - timedelta(days=61))
    assert len(events(nobody, address)) == 1


def test_an_address_that_was_renewed_or_taken_away_leads_nowhere(school, as_):
    first = post(as_("bo"), "/api/account/calendar", {}).json()["calendar"]
    second = post(as_("bo"), "/api/account/calendar", {}).json()["calendar"]
    nobody = Client()
    path = [address.removeprefix("http://testserver") for address in (first, second)]
    assert [nobody.get(p).status_code for p in path] == [404, 200]
    Person.objects.filter(username="bo").update(is_active=False)
    assert nobody.get(path[1]).status_code == 404
    Person.objects.filter(username="bo").update(is_active=True)
    assert as_("bo").delete("/api/account/calendar").json()["calendar"] == ""
    assert nobody.get(path[1]).status_code == 404
