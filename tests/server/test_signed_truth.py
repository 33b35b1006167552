"""A signed record is drawn from itself, and every way to change it is refused or found."""

import json
from datetime import timedelta

import pytest
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, transaction

from keelturn.school.standards import Standards
from server import clock
from server.school.models import BookingChange, Place, SchoolStandards, Signature, Sortie
from server.school.operations.signing import digest_of
from server.school.operations.verifying import first_that_does_not_hold
from tests.server.conftest import post, put
from tests.server.sheets import to_sign, url


@pytest.fixture
def signed(school, as_):
    """A signed sortie with a question and a correction, beside an open one with a question of its own."""
    sortie = school.sortie()
    post(as_("ana"), url(sortie, "/questions"), {"text": "Why so high?", "figure": "f1"})
    sortie = school.brought_to("debriefed")
    BookingChange.objects.create(
        sortie=sortie, what="instructor", before="Cy", after="Bo", by=school.people["bo"]
    )
    post(as_("ana"), url(sortie, "/questions"), {"text": "What was the third?"})
    signing = post(as_("bo"), url(sortie, "/sign"), to_sign(sortie))
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
WHO = ("student", "instructor", "aircraft", "lesson_name", "student_stage", "stage_changes")


def without_working(part):
    """As it is sent to a screen."""
    if isinstance(part, list):
        return [without_working(item) for item in part]
    if not isinstance(part, dict):
        return part
    number = "shown" in part and "formula" in part
    return {
        name: without_working(inner)
        for name, inner in part.items()
        if not (number and name in ("formula", "inputs", "source", "levers", "hill", "pilot"))
    }


def to_the_second(part):
    """The interface is sent times to the millisecond."""
    if isinstance(part, dict):
        return {key: item[:19] if key == "at" else to_the_second(item) for key, item in part.items()}
    return [to_the_second(item) for item in part] if isinstance(part, list) else part


def test_the_digest_covers_what_is_shown(school, as_, signed):
    document = to_the_second(json.loads(signed.signature.document))
    shown = to_the_second(as_("bo").get(url(signed)).json())
    # A number is shown without its working, which is in the document and answers why.
    document["answer"], whole = without_working(document["answer"]), document["answer"]
    document["accounts"] = without_working(document["accounts"])
    asked = post(as_("bo"), url(signed, "/why"), {"at": "answer.figures.0.lowest_start"})
    assert asked.json() == whole["figures"][0]["lowest_start"]
    assert asked.json()["inputs"]
    for name in (*SHEETS, *WHO, "rebooked", "card"):
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
    "UPDATE school_signature SET document = CAST(substr(document, 1, 99) AS BLOB)": "its digest differs",
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
    "UPDATE school_bookingchange SET after = 'Somebody else'": "how it was booked",
    "DELETE FROM school_bookingchange": "how it was booked",
    "INSERT INTO school_bookingchange (sortie_id, what, before, after, by_id, at)"
    " SELECT sortie_id, what, after, before, by_id, at FROM school_bookingchange": "how it was booked",
    "INSERT OR REPLACE INTO school_bookingchange SELECT * FROM school_bookingchange": None,
    "UPDATE school_question SET text = 'Something else?'": "the questions",
    "DELETE FROM school_question": "the questions",
    "UPDATE school_correction SET text = 'x y'": "the correction",
    "DELETE FROM school_correction": None,
}


def without_guards(cursor):
    for (name,) in cursor.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'").fetchall():
        cursor.execute(f"DROP TRIGGER {name}")


class Undone(Exception):
    """So that the next statement meets the same record."""


def what_comes_of(statement, guarded=True):
    """Of a statement on the signed record, before all of it is taken back: what the database says to it, else
    the fault that is found."""
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            if not guarded:
                without_guards(cursor)
            cursor.execute(f"{statement}{of_the_signed(statement)}")
            raise Undone(first_that_does_not_hold(Signature.objects.get()))
    except (DatabaseError, Undone) as said:
        return str(said)


def test_the_database_refuses_every_way_to_change_a_signed_record(school, signed):
    taken = [statement for statement in TAMPERING if "does not change" not in what_comes_of(statement)]
    assert taken == []
    assert first_that_does_not_hold(signed.signature) is None


def of_the_signed(statement):
    """An open sortie lies beside it, with rows of its own: only the signed one's are meant."""
    table = statement.split()[1] if statement.startswith("UPDATE") else statement.split()[2]
    if not statement.startswith(("UPDATE", "DELETE")) or table in ("school_signature", "school_correction"):
        return ""
    key = "id" if table == "school_sortie" else "sortie_id"
    link = " AND" if " WHERE " in statement.split("(SELECT")[0] else " WHERE"
    return f"{link} {key} = (SELECT sortie_id FROM school_signature)"


def test_what_was_changed_behind_the_guards_is_found_and_said(school, signed):
    """By somebody who has the file and takes the triggers away."""
    found = {
        statement: what_comes_of(statement, guarded=False) for statement, fault in TAMPERING.items() if fault
    }
    assert {statement: said for statement, said in found.items() if TAMPERING[statement] not in said} == {}


def test_the_page_says_what_does_not_hold(school, as_, signed):
    with connection.cursor() as cursor:
        without_guards(cursor)
        cursor.execute("UPDATE school_attemptrow SET lost_ft = 1")
    with pytest.raises(CommandError, match="places in the records do not hold"):
        call_command("verify")
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
    assert capsys.readouterr().out.startswith(
        "1 signed records: each is as it was signed.\nThe chain has 2 links and ends in "
    )


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
    signing = post(as_("bo"), url(sortie, "/sign"), to_sign(sortie))
    assert signing.status_code == 200
    assert signing.json()["answer"]["stops"] > 0
