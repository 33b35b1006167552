"""Who did what: one list from every table that keeps it."""

from datetime import timedelta

from server import clock
from server.school.models import (
    Deed,
    StageChange,
)
from tests.server.conftest import PASSWORD, post


def audited(client, **asked):
    answer = client.get("/api/audit", asked)
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_who_did_what_is_one_list_the_latest_first(school, as_, two):
    lines = audited(as_("chief"))["lines"]
    assert [line["at"] for line in lines] == sorted((line["at"] for line in lines), reverse=True)
    said = {(line["by"], line["what"]) for line in lines}
    assert {
        ("Ana", "asked"),
        ("Bo", "corrected"),
        ("Bo", "moved on"),
        ("Bo", "booking"),
        ("Bo", "saved"),
    } <= said
    signed = next(line for line in lines if line["words"] == "to signed")
    assert signed["to"] == f"/sorties/{two[1].pk}"
    assert signed["name"].startswith("Dee, ")


def test_the_list_can_be_narrowed(school, as_, two):
    client, people = as_("chief"), school.people
    assert {line["by"] for line in audited(client, by=people["ana"].pk)["lines"]} == {"Ana"}
    assert {line["what"] for line in audited(client, source="correction")["lines"]} == {"corrected"}
    ana = audited(client, student=school.student("ana").pk)["lines"]
    assert ana
    assert all(line["to"] == f"/sorties/{two[0].pk}" for line in ana)
    today = clock.day_of(clock.now())
    assert audited(client, since=today.isoformat())["lines"]
    assert audited(client, until=(today - timedelta(days=1)).isoformat())["lines"] == []
    assert audited(client, since=(today + timedelta(days=1)).isoformat())["lines"] == []
    for wrong in ({"source": "secrets"}, {"after": "nonsense"}):
        assert client.get("/api/audit", wrong).status_code == 422


def test_page_by_page_every_line_comes_once(school, as_, two, monkeypatch):
    now = clock.now()
    for _ in range(7):
        # At the same moment: order and place must still be one.
        StageChange.objects.create(
            sortie=school.sortie("dee", "cy"), stage="planned", by=school.people["cy"], at=now
        )
        Deed.objects.create(by=school.people["cy"], what="logged in", at=now)
    whole = audited(as_("chief"))["lines"]
    monkeypatch.setattr("server.school.lasting.audit.PAGE", 4)
    client, found, after = as_("chief"), [], ""
    while True:
        page = client.get("/api/audit", {"after": after}).json()
        found += page["lines"]
        if not page["next"]:
            break
        after = page["next"]
    assert [(d["at"], d["words"]) for d in found] == [(d["at"], d["words"]) for d in whole]
    table = b"".join(client.get("/api/audit.csv").streaming_content).decode().splitlines()
    assert len(table) == 1 + len(whole)


def test_what_comes_in_is_kept_of_log_ins(school, as_):
    client = as_(None)
    post(client, "/api/session/login", {"username": "bo", "password": "wrong"})
    post(client, "/api/session/login", {"username": "nobody-here", "password": "wrong"})
    post(client, "/api/session/login", {"username": "bo", "password": PASSWORD})
    post(client, "/api/session/logout", {})
    found = list(Deed.objects.order_by("pk").values_list("what", "by__username", "words"))
    assert [(what, by) for what, by, _ in found] == [
        ("not let in", "bo"),
        ("not let in", None),
        ("logged in", "bo"),
        ("logged out", "bo"),
    ]
    # A name that is none may be a password typed into the wrong field.
    assert all("nobody-here" not in words for _, _, words in found)
