"""The chain through everything signed, with each record: what names its first broken place."""

import pytest
from django.core.management import CommandError, call_command
from django.db import connection

from server.school.lasting.following import look_at_all
from server.school.models import ChainLink, Signature
from tests.server.conftest import post
from tests.server.lasting import without_guards


def test_each_signature_and_each_correction_is_a_link(two):
    first, second = two
    found = list(ChainLink.objects.values_list("number", "what", "sortie"))
    assert found == [
        (1, "signed", first.pk),
        (2, "corrected", first.pk),
        (3, "signed", second.pk),
        (4, "corrected", second.pk),
    ]
    assert look_at_all().faults == ()


def test_one_byte_changed_with_sql_is_found_and_named(two):
    signature = two[0].signature
    document = signature.document.replace('"Ana"', '"Anb"', 1)
    assert len(document) == len(signature.document)
    without_guards("UPDATE school_signature SET document = %s WHERE id = %s", document, signature.pk)
    day = f"{signature.at:%Y-%m-%d}"
    words = f"link 1, sortie {two[0].pk} signed on {day}: the document is not the one that was signed"
    with pytest.raises(CommandError, match=f"The first is {words}"):
        call_command("verify")


@pytest.mark.parametrize("at", [0, 60, -1])
def test_one_byte_changed_of_what_is_stored_is_found_and_named(two, at):
    with connection.cursor() as cursor:
        of_it = "SELECT document FROM school_signature WHERE id = %s"
        kept = bytearray(cursor.execute(of_it, [two[0].signature.pk]).fetchone()[0])
    kept[at] ^= 1
    without_guards(
        "UPDATE school_signature SET document = %s WHERE id = %s", bytes(kept), two[0].signature.pk
    )
    (fault,) = look_at_all().faults
    assert fault.startswith(f"link 1, sortie {two[0].pk} signed on")
    assert fault.endswith("the document is not the one that was signed: its digest differs")


def test_a_document_from_before_there_was_packing_is_read_as_it_stands(two):
    signature = two[0].signature
    written = signature.document
    without_guards("UPDATE school_signature SET document = %s WHERE id = %s", written, signature.pk)
    assert Signature.objects.get(pk=signature.pk).document == written
    assert look_at_all().faults == ()


CHANGES = {
    "UPDATE school_chainlink SET covers = digest WHERE number = 2": "link 2, a correction",
    "DELETE FROM school_chainlink WHERE number = 2": "link 2 before it is missing",
    "DELETE FROM school_chainlink WHERE number = 4": "a correction of sortie {second} is there and stands",
    "DELETE FROM school_chainlink WHERE number >= 3": "sortie {second} is signed and stands in no link",
    "DELETE FROM school_correction WHERE sortie_id = {first}": "the correction is not there any more",
    "UPDATE school_correction SET text = 'It was all right' WHERE sortie_id = {first}": "the correction of",
    "UPDATE school_signature SET digest = 'x' WHERE sortie_id = {second}": "the signature beside it",
    "UPDATE school_sortie SET stage = 'debriefed' WHERE id = {second}": "is marked as debriefed",
}


@pytest.mark.parametrize("statement", CHANGES)
def test_what_was_changed_behind_the_guards_has_a_first_broken_place(two, statement):
    named = {"first": two[0].pk, "second": two[1].pk}
    without_guards(statement.format(**named))
    faults = look_at_all().faults
    assert faults
    assert CHANGES[statement].format(**named) in faults[0]


def test_a_whole_record_taken_away_is_missed_by_the_chain(two):
    first = two[0].pk
    for table in ("signature", "correction"):
        without_guards(f"DELETE FROM school_{table} WHERE sortie_id = {first}")
    without_guards(f"UPDATE school_sortie SET stage = 'debriefed' WHERE id = {first}")
    assert "its record is not there any more" in look_at_all().faults[0]


def looked_at(client, after=0):
    return post(client, "/api/records/check", {"after": after}).json()


def test_a_long_chain_is_looked_at_in_stretches(two, as_, monkeypatch):
    monkeypatch.setattr("server.school.lasting.following.AT_ONCE", 3)
    client = as_("chief")
    first = looked_at(client)
    assert (first["to"], first["of"], first["faults"]) == (3, 4, [])
    assert client.get("/api/records").json()["checked_at"] is None
    second = looked_at(client, 3)
    assert (second["to"], second["faults"]) == (4, [])
    told = client.get("/api/records").json()
    assert (told["links"], told["signed"], told["corrections"]) == (4, 2, 2)
    assert told["checked_by"] == "Chief"


def test_that_all_of_it_held_is_kept_only_where_all_of_it_was_looked_at(two, as_, monkeypatch):
    monkeypatch.setattr("server.school.lasting.following.AT_ONCE", 2)
    client = as_("chief")
    looked_at(client, 2)
    assert client.get("/api/records").json()["checked_at"] is None, "only the end of it"
    without_guards("UPDATE school_chainlink SET at = 'x' WHERE number = 1")
    assert looked_at(client)["faults"]
    assert looked_at(client, 2)["faults"] == []
    assert client.get("/api/records").json()["checked_at"] is None, "its beginning does not hold"
    assert len(look_at_all().faults) == 1
