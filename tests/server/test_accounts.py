"""Accounts: a way in by a link, passwords by the rules, a second factor, sessions listed and ended; people
who are two things at once, who leave, and the chief who is the last."""

import base64
import hashlib
import hmac
import struct
import time
from datetime import timedelta

import pytest
from django.db.models import F
from django.test import Client
from django_otp.plugins.otp_totp.models import TOTPDevice

from server import clock, mail
from server.school.models import KeptMail, OpenSession, Person, Sortie, Student
from tests.server.conftest import PASSWORD, post
from tests.server.sheets import url

NEW = {
    "username": "eve",
    "name": "Eve Marlow",
    "email": "eve@school.example",
    "weight_lb": 150,
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


def code_of(secret, at=None, step=30, ahead=0):
    """RFC 6238 (TOTP) on RFC 4226 (HOTP): HMAC-SHA-1 of the count of half minutes, six figures; of so
    many half minutes ahead."""
    key = base64.b32decode(secret.replace(" ", "") + "=" * (-len(secret.replace(" ", "")) % 8))
    count = int((time.time() if at is None else at) // step) + ahead
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
    on = post(client, "/api/account/second-factor/on", {"code": code_of(made["secret"])})
    assert on.status_code == 200, on.content
    TOTPDevice.objects.update(last_t=-1)  # As half a minute later: the code of now is still to be used.
    return made["secret"], on.json()["codes"]


def test_with_a_second_factor_name_and_password_are_not_enough(school, as_):
    secret, _ = with_second_factor(as_("bo"))
    client, answer = logged_in("bo", PASSWORD)
    assert (answer.json()["person"], answer.json()["asks_code"]) == (None, True)
    assert client.get("/api/today").status_code == 401
    assert logged_in("bo", PASSWORD, code="000000")[1].status_code == 422
    # A wrong one closes for a moment, also for the right one. The moment lasts as long as this test wants.
    TOTPDevice.objects.update(
        throttling_failure_timestamp=F("throttling_failure_timestamp") + timedelta(hours=1)
    )
    assert logged_in("bo", PASSWORD, code=code_of(secret))[1].status_code == 422
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    code = code_of(secret)
    client, answer = logged_in("bo", PASSWORD, code=code)
    assert answer.json()["person"]["name"] == "Bo"
    assert client.get("/api/today").status_code == 200
    # And the same code does not open twice.
    assert logged_in("bo", PASSWORD, code=code)[1].status_code == 422


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
