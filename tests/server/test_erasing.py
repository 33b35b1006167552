"""Somebody erased: nothing is left of them but what must be kept, and the chain still holds."""

from datetime import timedelta

import pytest
from django.db import connection, transaction
from django.test import Client

from keelturn.formats.reading import Refused
from server import clock
from server.school.lasting.erasing import _written, erase
from server.school.lasting.following import look_at_all
from server.school.lasting.scope import TABLES
from server.school.models import (
    Change,
    Correction,
    Erasure,
    KeptMail,
    Person,
    Recorded,
    Signature,
    Sortie,
    Statement,
)
from server.school.permissions import Denied
from tests.server.conftest import PASSWORD, post, put
from tests.server.doors import AWAY, DATE, WORD
from tests.server.sheets import to_sign, url

REASON = "asked for it by letter"


def dated_and_away(school, as_, ana):
    """A date of theirs, a time at which they are away, and somebody's word taken back."""
    whose, chief = {"person_id": ana}, as_("chief")
    assert post(chief, "/api/dates", {**DATE, **whose}).status_code == 201
    assert post(chief, "/api/taken", {**AWAY, **whose}).status_code == 201
    assert post(chief, f"/api/requirements/{ana}", WORD).status_code == 201
    back = f"/api/statements/{Statement.objects.latest('pk').pk}/take-back"
    assert post(chief, back, {"reason": "not Ana's signature"}).status_code == 200


def test_somebody_is_erased_and_the_chain_still_holds(school, as_, files, full):
    first, second, open_one = (s.pk for s in full)
    ana, digest = school.student("ana"), Recorded.objects.get().digest
    chief = school.people["chief"]
    dated_and_away(school, as_, ana.person_id)
    assert Change.objects.filter(subject=f"student {ana.pk}").exists()
    made = erase(chief, ana.person, REASON, None, PASSWORD)
    assert made.sorties == [first, open_one]
    assert list(Sortie.objects.values_list("pk", flat=True)) == [second]
    assert list(Signature.objects.values_list("sortie", flat=True)) == [second]
    assert list(Correction.objects.values_list("sortie", flat=True)) == [second]
    assert not Change.objects.filter(subject=f"student {ana.pk}").exists()
    assert look_at_all().faults == ()
    person = Person.objects.get(pk=ana.person_id)
    assert (person.name, person.is_active, person.weight_lb) == (f"Erased {person.pk}", False, 180)
    assert not person.has_usable_password()
    with connection.cursor() as cursor:
        tables = [t._meta.db_table for t in TABLES]
        left = [t for t in tables for row in cursor.execute(f"SELECT * FROM {t}") if "Ana" in str(row)]
    assert left == []
    assert Recorded.objects.filter(digest=digest).exists() is False
    assert as_("chief").get(f"/api/sorties/{second}").json()["signature"]["holds"]


def test_nothing_is_left_of_somebody_in_any_table(school, as_):
    """Of one who was asked in, changed, had letters, a second factor, a session, a wrong password, an address
    for a calendar, and left."""
    chief = as_("chief")
    body = {"username": "marlow", "name": "Eve Marlow", "email": "marlow@school.example", "weight_lb": 150}
    made = post(chief, "/api/people", body).json()["person"]
    put(chief, f"/api/people/{made['id']}", {**body, "name": "Eve Marlowe"})
    eve = Person.objects.get(pk=made["id"])
    KeptMail.objects.create(to=eve.email, subject="s", text="Eve Marlow, this link")
    eve.set_password(PASSWORD)
    eve.save()
    client = Client(HTTP_USER_AGENT="marlow's tablet")
    post(client, "/api/session/login", {"username": "marlow", "password": "wrong"})
    post(client, "/api/session/login", {"username": "marlow", "password": PASSWORD})
    post(client, "/api/account/second-factor", {"password": PASSWORD})
    post(client, "/api/account/calendar", {})
    post(chief, f"/api/people/{eve.pk}/leave", {"reason": "Marlow moves north"})
    assert "arlow" in everything_stored()
    erase(school.people["chief"], Person.objects.get(pk=eve.pk), REASON, None, PASSWORD)
    assert [line for line in everything_stored().splitlines() if "arlow" in line] == []
    for way in ("back", "link"):
        assert post(chief, f"/api/people/{eve.pk}/{way}", {}).status_code == 422
    assert put(chief, f"/api/people/{eve.pk}", body).status_code == 422


def everything_stored():
    """Every row of every table, a line each."""
    with connection.cursor() as cursor:
        tables = cursor.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
        return "\n".join(
            f"{name}: {row}"
            for (name,) in tables
            for row in cursor.execute(f'SELECT * FROM "{name}"').fetchall()
        )


def test_what_must_be_kept_stays_until_its_day_and_then_goes(school, as_, two, settings):
    chief, ana, first = school.people["chief"], school.student("ana"), two[0].pk
    open_one = school.brought_to("flown").pk
    until = clock.day_of(clock.now()) + timedelta(days=400)
    erase(chief, ana.person, REASON, until, PASSWORD)
    assert not Sortie.objects.filter(pk=open_one).exists()
    shown = as_("chief").get(url(two[0])).json()
    assert (shown["student"], shown["signature"]["holds"]) == ("Ana", True)
    listed = as_("chief").get("/api/records").json()["erased"]
    assert [(e["kept_until"], e["kept"], e["reason"]) for e in listed] == [(until.isoformat(), 1, REASON)]
    with pytest.raises(Refused, match="to be kept until"):
        erase(chief, ana.person, REASON, None, PASSWORD)
    with pytest.raises(Refused, match="to be kept until"):
        erase(chief, ana.person, REASON, until - timedelta(days=1), PASSWORD)
    settings.CLOCK_AHEAD = settings.CLOCK_AHEAD + timedelta(days=401)
    erase(chief, ana.person, REASON, None, PASSWORD)
    assert not Sortie.objects.filter(pk=first).exists()
    assert look_at_all().faults == ()


def test_only_a_chief_erases_with_their_password_and_never_themselves(school, two):
    ana, chief = school.people["ana"], school.people["chief"]
    with pytest.raises(Denied):
        erase(school.people["bo"], ana, REASON, None, PASSWORD)
    with pytest.raises(Refused, match="not your password"):
        erase(chief, ana, REASON, None, "another-long-one")
    with pytest.raises(Refused, match="this is you"):
        erase(chief, chief, REASON, None, PASSWORD)
    with pytest.raises(Refused, match="has passed"):
        erase(chief, ana, REASON, clock.day_of(clock.now()), PASSWORD)
    school.sortie("dee", "cy")
    with pytest.raises(Refused, match="Let them leave first"):
        erase(chief, school.people["cy"], REASON, None, PASSWORD)
    Sortie.objects.filter(instructor=school.people["cy"]).delete()
    assert (Erasure.objects.count(), Sortie.objects.count()) == (0, 2)


def test_a_record_made_to_look_erased_is_found(school, two):
    """By somebody who writes the row that the guards ask for, and no link of the chain."""
    chief, first = school.people["chief"].pk, two[0].pk
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO school_erasure (person, by_id, at, reason, document, digest) VALUES"
            f" (1, {chief}, '2026-01-01', 'x', '{{\"sorties\": [{first}]}}', 'x')"
        )
        cursor.execute(
            f"INSERT INTO school_erased (erasure_id, subject) SELECT id, 'sortie {first}' FROM school_erasure"
        )
        for table in ("correction", "signature"):
            cursor.execute(f"DELETE FROM school_{table} WHERE sortie_id = {first}")
    assert "no link of the chain says that it was erased" in look_at_all().faults[0]


def taken_out_by_hand(erasure, sortie):
    """Behind an erasure that does not say so."""
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO school_erased (erasure_id, subject) VALUES (%s, %s)",
            (erasure.pk, f"sortie {sortie}"),
        )
        for table in ("correction", "signature"):
            cursor.execute(f"DELETE FROM school_{table} WHERE sortie_id = {sortie}")


def test_a_record_is_not_excused_by_the_erasure_of_somebody_else(school, files, two):
    made = erase(school.people["chief"], school.people["dee"], REASON, None, PASSWORD)
    taken_out_by_hand(made, two[0].pk)
    assert "no link of the chain says that it was erased" in look_at_all().faults[0]


def test_a_record_is_not_excused_by_an_erasure_from_before_it_was_signed(school, as_):
    sortie, chief = school.brought_to("debriefed"), school.people["chief"]
    with transaction.atomic():
        made = _written(chief, school.people["dee"], REASON, None, [sortie.pk])
    assert post(as_("bo"), url(sortie, "/sign"), to_sign(sortie)).status_code == 200
    taken_out_by_hand(made, sortie.pk)
    assert "no link of the chain says that it was erased" in look_at_all().faults[0]
