"""What is noted in flight reaches the server once, whatever happened on the way, and stays."""

import pytest
from django.core.management import call_command
from django.db import DatabaseError, connection, transaction

from keelturn.noting.adding_up import attempts_of
from keelturn.noting.entry import Entry
from server.school.models import AttemptRow, EntryRow, StageChange
from tests.server.conftest import post, put
from tests.server.sheets import correction, entry, figure_entry, noted, stored, to_sign, url


def spin_noted(sortie, at=3):
    """Figure, start and lowest height, and the student's number."""
    attempt = sortie.plan["figures"][at]["id"]
    return [
        figure_entry(sortie, at),
        entry(attempt, "start_ft", 5000),
        entry(attempt, "lowest_ft", 3600),
        entry(attempt, "feel", 7),
    ]


def test_entries_make_an_attempt_with_its_account_and_raise_no_version(school, as_):
    sortie = school.brought_to("briefed")
    before, sent = sortie.version, spin_noted(sortie)
    answer = noted(as_("bo"), sortie, *sent)
    assert (answer["noted"], answer["refused"]) == (4, [])
    assert set(answer["known"]) == {e["id"] for e in sent}
    assert sortie.version == before
    (row,) = AttemptRow.objects.filter(sortie=sortie)
    assert (row.lost_ft, row.figure, row.attempt["feel"]) == (1400, sortie.plan["figures"][3]["key"], 7)
    assert row.briefed_ft > 0
    shown = as_("bo").get(url(sortie)).json()
    assert [e["by"] for e in shown["entries"]] == ["Bo"] * 4
    assert shown["attempts"][0]["lowest_ft"] == 3600


def test_sent_twice_and_in_any_order_they_are_there_once(school, as_):
    sortie = school.brought_to("briefed")
    sent = spin_noted(sortie)
    noted(as_("bo"), sortie, *sent[2:])
    answer = noted(as_("bo"), sortie, *reversed(sent))
    assert (answer["noted"], len(answer["known"])) == (4, 4)
    assert noted(as_("bo"), sortie, *sent)["noted"] == 4
    assert AttemptRow.objects.get(sortie=sortie).attempt["start_ft"] == 5000


def test_another_value_under_the_same_identity_changes_nothing(school, as_):
    sortie = school.brought_to("briefed")
    sent = spin_noted(sortie)
    noted(as_("bo"), sortie, *sent)
    noted(as_("bo"), sortie, {**sent[1], "value": 5200})
    assert AttemptRow.objects.get(sortie=sortie).attempt["start_ft"] == 5000


def test_who_noted_it_is_what_the_server_knows(school, as_):
    sortie = school.brought_to("briefed")
    noted(as_("bo"), sortie, *[{**e, "by": "Chief"} for e in spin_noted(sortie)])
    assert {row.entry["by"] for row in sortie.entries.all()} == {"Bo"}


def test_a_save_of_the_sheets_is_not_overtaken_by_what_is_noted(school, as_):
    sortie = school.brought_to("flown")
    version = sortie.version
    noted(as_("bo"), sortie, *spin_noted(sortie))
    body = {"version": version, "debrief": {"note": "calm"}}
    assert put(as_("bo"), url(sortie), body).status_code == 200


def test_a_stored_row_is_what_the_entries_add_up_to_after_every_batch(school, as_):
    sortie = school.brought_to("briefed")
    whole = [e for at in range(4) for e in spin_noted(sortie, at)]
    for at in range(0, len(whole), 3):
        noted(as_("bo"), sortie, *whole[at : at + 3])
        entries = [Entry.model_validate(row.entry) for row in sortie.entries.all()]
        stored = [row.attempt for row in sortie.attempts.all()]
        assert stored == [a.model_dump(mode="json") for a in attempts_of(entries)]
    assert [row.order for row in sortie.attempts.all()] == [0, 1, 2, 3]


def test_one_that_another_sortie_has_is_refused_by_itself(school, as_):
    first, second = school.brought_to("briefed"), school.brought_to("briefed", "dee")
    sent = spin_noted(first)
    noted(as_("bo"), first, *sent)
    answer = noted(as_("bo"), second, sent[0], entry("f1", "feel", 4))
    assert [r["id"] for r in answer["refused"]] == [sent[0]["id"]]
    assert "another sortie" in answer["refused"][0]["problem"]["what"]
    assert answer["noted"] == 1


def test_entries_that_cannot_be_are_told_by_their_place_and_nothing_of_them_is_kept(school, as_):
    sortie = school.brought_to("briefed")
    wrong = [*spin_noted(sortie), entry("f1", "feel", 12)]
    refused = post(as_("bo"), url(sortie, "/entries"), {"entries": wrong})
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["where"] == "entries[4].feel"
    assert not EntryRow.objects.exists()


@pytest.mark.parametrize(
    ("who", "status"), [("cy", 403), ("chief", 403), ("ana", 403), ("dee", 404), (None, 401)]
)
def test_only_who_instructs_it_notes(school, as_, who, status):
    sortie = school.brought_to("briefed")
    sent = {"entries": spin_noted(sortie)}
    assert post(as_(who), url(sortie, "/entries"), sent).status_code == status
    assert not EntryRow.objects.exists()


def test_nothing_is_noted_of_a_plan_that_is_not_briefed_nor_of_a_signed_record(school, as_):
    planned = school.sortie()
    refused = post(as_("bo"), url(planned, "/entries"), {"entries": [entry("f1", "feel", 4)]})
    assert "not briefed" in refused.json()["problems"][0]["what"]
    done = school.brought_to("debriefed")
    assert post(as_("bo"), url(done, "/sign"), to_sign(done)).status_code == 200
    late = post(as_("bo"), url(done, "/entries"), {"entries": [entry("f1", "feel", 4)]})
    assert late.status_code == 403
    with pytest.raises(DatabaseError), transaction.atomic():
        EntryRow.objects.create(sortie=done, ident="late-entry", entry={}, by=school.people["bo"])


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE school_entryrow SET entry = '{}'",
        "DELETE FROM school_entryrow",
        "INSERT OR REPLACE INTO school_entryrow SELECT * FROM school_entryrow",
        "INSERT OR REPLACE INTO school_entryrow (ident, entry, received_at, by_id, sortie_id)"
        " SELECT ident, '{}', received_at, by_id, sortie_id FROM school_entryrow",
    ],
)
def test_the_database_itself_keeps_entries_as_they_came(school, as_, statement):
    sortie = school.brought_to("briefed")
    noted(as_("bo"), sortie, *spin_noted(sortie))
    with pytest.raises(DatabaseError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(statement)


def test_what_is_signed_is_what_was_looked_at(school, as_):
    """An entry that came in from another device meanwhile is looked at first."""
    sortie = school.brought_to("debriefed")
    looked_at = to_sign(sortie)
    attempt = sortie.attempts.all()[0].attempt["id"]
    noted(as_("bo"), sortie, entry(attempt, "note", "over the sea"))
    refused = post(as_("bo"), url(sortie, "/sign"), looked_at)
    assert refused.status_code == 422
    assert "entries are on the record now" in refused.json()["problems"][0]["what"]
    assert post(as_("bo"), url(sortie, "/sign"), to_sign(sortie)).status_code == 200
    shown = as_("bo").get(url(sortie)).json()
    assert len(shown["entries"]) == sortie.entries.count()
    assert shown["signature"]["holds"]


def test_heights_that_do_not_agree_are_kept_said_and_in_the_way_of_the_debrief(school, as_):
    sortie = school.brought_to("flown")
    first = sortie.attempts.all()[0].attempt
    higher = first["start_ft"] + 500
    noted(as_("bo"), sortie, correction(sortie, first["id"], "lowest_ft", higher))
    shown = as_("bo").get(url(sortie)).json()
    (doubt,) = shown["doubts"][first["id"]]
    assert (doubt["where"], doubt["place"]) == ("lowest_ft", "Lowest")
    assert "is above start" in doubt["what"]
    assert any("is above start" in words for words in shown["missing"]["debriefed"])
    assert first["id"] not in shown["accounts"]


def test_two_who_noted_different_numbers_are_both_shown(school, as_):
    sortie = school.brought_to("briefed")
    noted(as_("bo"), sortie, *spin_noted(sortie))
    sortie.instructor = school.people["cy"]
    sortie.save()
    attempt = sortie.plan["figures"][3]["id"]
    noted(as_("cy"), sortie, entry(attempt, "lowest_ft", 3560, device="phone", at="2030-01-01T10:05:00Z"))
    (shown,) = as_("cy").get(url(sortie)).json()["attempts"]
    assert shown["lowest_ft"] == 3560
    assert [(o["what"], o["value"], o["by"]) for o in shown["otherwise"]] == [("lowest_ft", 3600, "Bo")]


def test_what_was_flown_stays_flown_though_all_of_it_is_taken_back(school, as_):
    sortie = school.brought_to("debriefed")
    there = [row.entry for row in sortie.entries.all() if row.entry["what"] != "figure"]
    noted(as_("bo"), sortie, *[correction(sortie, e["attempt"], e["what"], None) for e in there])
    assert (sortie.stage, sortie.attempts.count()) == ("flown", 0)
    assert StageChange.objects.filter(sortie=sortie).last().stage == "flown"


def test_what_was_briefed_is_kept_anew_when_the_plan_changes_and_when_it_is_signed(school, as_):
    sortie = school.brought_to("briefed")
    noted(as_("bo"), sortie, *spin_noted(sortie))
    before = AttemptRow.objects.get(sortie=sortie).briefed_ft
    hot = {**sortie.plan, "day": {**sortie.plan["day"], "temperature_c": 38.0}}
    shown = stored(as_("bo"), sortie, plan=hot)
    after = AttemptRow.objects.get(sortie=sortie).briefed_ft
    assert after == shown["accounts"][sortie.plan["figures"][3]["id"]]["planned"]["value"] != before
    done = school.brought_to("debriefed", student="dee")
    AttemptRow.objects.filter(sortie=done).update(briefed_ft=1.0)
    assert post(as_("bo"), url(done, "/sign"), to_sign(done)).status_code == 200
    call_command("verify")
