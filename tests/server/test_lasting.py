"""Records that last: a chain that names its first broken place, exports that come back the same, and erasing
that keeps what must be kept."""

import hashlib
import io
import zipfile
from datetime import timedelta

import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import Client

from keelturn.formats.reading import Refused
from server import clock, recordings
from server.school.lasting.erasing import erase
from server.school.lasting.exporting import archive_of
from server.school.lasting.following import look_at_all
from server.school.lasting.importing import take_export
from server.school.lasting.scope import TABLES, Scope
from server.school.models import (
    ChainLink,
    Change,
    Correction,
    Deed,
    Erasure,
    KeptMail,
    Person,
    Recorded,
    Signature,
    Sortie,
    StageChange,
    Student,
)
from server.school.permissions import Denied
from tests.server.conftest import PASSWORD, post, put
from tests.server.lasting import signed_sortie, wiped, without_guards
from tests.server.sheets import url
from tests.server.test_recordings import file_of, sent


@pytest.fixture
def two(school, as_):
    """Two students, each with a signed sortie and a correction: four links."""
    return signed_sortie(school, as_, "ana"), signed_sortie(school, as_, "dee")


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


def test_a_long_chain_is_looked_at_in_stretches(two, as_, monkeypatch):
    monkeypatch.setattr("server.school.lasting.following.AT_ONCE", 3)
    first = post(as_("chief"), "/api/records/check", {}).json()
    assert (first["to"], first["of"], first["faults"]) == (3, 4, [])
    assert as_("chief").get("/api/records").json()["checked_at"] is None
    second = post(as_("chief"), "/api/records/check", {"after": 3}).json()
    assert (second["to"], second["faults"]) == (4, [])
    told = as_("chief").get("/api/records").json()
    assert (told["links"], told["signed"], told["corrections"]) == (4, 2, 2)
    assert told["checked_by"] == "Chief"
    without_guards("UPDATE school_chainlink SET at = 'x' WHERE number = 4")
    assert len(look_at_all().faults) == 1


PAGES = (
    "",
    "/plan.json",
    "/sortie.json",
    "/attempts.csv",
    "/booking.ics",
    "/recordings",
    "/lessons",
)


def pages_of(client, sorties, students):
    found = {}
    addresses = [
        "/api/today",
        "/api/students",
        "/api/aircraft",
        "/api/places",
        "/api/standards",
        "/api/courses",
        "/api/changes?subject=standards",
        *(f"/api/students/{student}" for student in students),
        *(f"/api/sorties/{sortie}{page}" for sortie in sorties for page in PAGES if page != "/lessons"),
    ]
    for address in addresses:
        answer = client.get(address)
        assert answer.status_code == 200, (address, answer.content)
        found[address] = answer.json() if "json" in answer["Content-Type"] else answer.content
    return found


def but_the_hour(pages):
    """What says when it was asked."""
    return {
        address: {k: v for k, v in page.items() if k != "now"} if isinstance(page, dict) else page
        for address, page in pages.items()
    }


def exported(scope, into):
    into.write_bytes(b"".join(archive_of(scope)))
    return into


@pytest.fixture
def full(school, as_, files, two):
    school.enrolled("ana")
    open_one = school.brought_to("briefed")
    sent(as_("bo"), open_one, file_of(open_one))
    return [*two, open_one]


def test_the_school_comes_back_the_same_from_its_export(school, as_, files, full, tmp_path):
    students = list(Student.objects.values_list("pk", flat=True))
    before = but_the_hour(pages_of(as_("chief"), [s.pk for s in full], students))
    links = list(ChainLink.objects.values_list("digest", flat=True))
    recorded = Recorded.objects.get().digest
    archive = exported(Scope(), tmp_path / "school.zip")
    wiped()
    recordings.drop(recorded)
    taken = take_export(archive)
    assert (taken.signed, [p.name for p in taken.chiefs]) == (2, ["Chief"])
    school.people = {p.username: p for p in Person.objects.all()}
    after = but_the_hour(pages_of(as_("chief"), [s.pk for s in full], students))
    assert [a for a in before if before[a] != after[a]] == []
    assert list(ChainLink.objects.values_list("digest", flat=True)) == links
    assert recordings.content_of(recorded) is not None
    assert not Person.objects.get(username="bo").has_usable_password()
    # The guards stand: what was taken is as locked as before.
    with pytest.raises(Exception, match="does not change"), connection.cursor() as cursor:
        cursor.execute("UPDATE school_sortie SET plan = '{}' WHERE stage = 'signed'")


def test_a_student_comes_back_the_same_in_another_school(school, as_, full, tmp_path):
    ana, mine = school.student("ana").pk, [full[0].pk, full[2].pk]
    before = but_the_hour(pages_of(as_("bo"), mine, [ana]))
    archive = exported(Scope(school.student("ana")), tmp_path / "ana.zip")
    names = zipfile.ZipFile(archive).namelist()
    assert f"pdf/sortie-{full[0].pk}.pdf" in names
    assert f"signed/sortie-{full[1].pk}.json" not in names
    wiped()
    taken = take_export(archive)
    assert (taken.signed, taken.chiefs) == (1, ())
    school.people["bo"] = Person.objects.get(name="Bo")
    Person.objects.filter(name="Bo").update(is_active=True)
    assert not Person.objects.filter(name="Dee").exists()
    after = but_the_hour(pages_of(as_("bo"), mine, [ana]))
    # The school around the student stays behind.
    for address in ("/api/today", "/api/students", "/api/aircraft"):
        before.pop(address), after.pop(address)
    for a in before:
        assert before[a] == after[a], a
    assert look_at_all().faults == ()
    assert list(ChainLink.objects.values_list("what", flat=True)) == ["imported", "signed", "corrected"]


# What lets somebody in, what is on its way, and what follows from the rest.
LEFT_OUT = {"KeptMail", "OpenSession", "CalendarKey"}


def test_every_table_is_in_an_export_or_left_out_knowingly():
    from django.apps import apps

    named = {model.__name__ for model in apps.get_app_config("school").get_models()}
    assert named == {table.__name__ for table in TABLES} | LEFT_OUT


def test_what_lets_somebody_in_leaves_with_nobody(school, as_, two, tmp_path):
    bo = school.people["bo"]
    with zipfile.ZipFile(exported(Scope(), tmp_path / "all.zip")) as archive:
        everything = b"".join(archive.read(name) for name in archive.namelist())
    assert bo.password not in everything.decode(errors="ignore")
    with zipfile.ZipFile(exported(Scope(school.student("ana")), tmp_path / "ana.zip")) as archive:
        people = archive.read("tables/person.jsonl").decode()
    assert '"username": "ana"' in people
    assert '"username": "bo"' not in people
    assert '"name": "Bo"' in people


def test_checksums_cover_every_file_and_a_signed_one_is_its_document(school, two, tmp_path):
    with zipfile.ZipFile(exported(Scope(), tmp_path / "all.zip")) as archive:
        sums = dict(reversed(line.split("  ")) for line in archive.read("SHA256SUMS").decode().splitlines())
        assert set(archive.namelist()) == {*sums, "SHA256SUMS"}
        for name, digest in sums.items():
            assert hashlib.sha256(archive.read(name)).hexdigest() == digest, name
        assert sums[f"signed/sortie-{two[0].pk}.json"] == two[0].signature.digest
        assert archive.read(f"pdf/sortie-{two[0].pk}.pdf").startswith(b"%PDF")
        rows = archive.read("csv/sorties.csv").decode().splitlines()
    assert rows[1].startswith(f"{two[0].pk},")
    assert rows[1].endswith(two[0].signature.digest)


def altered(archive, change):
    """The archive with its files as `change` has them: a name to content, None to leave one out."""
    made = io.BytesIO()
    with zipfile.ZipFile(archive) as before, zipfile.ZipFile(made, "w") as after:
        for name in before.namelist():
            content = change(name, before.read(name))
            if content is not None:
                after.writestr(name, content)
    archive.write_bytes(made.getvalue())
    return archive


def summed_anew(change):
    """The same with checksums that fit."""

    def changed(name, content):
        return content

    def whole(archive):
        altered(archive, change)
        with zipfile.ZipFile(archive) as found:
            names = [n for n in found.namelist() if n != "SHA256SUMS"]
            sums = "".join(f"{hashlib.sha256(found.read(n)).hexdigest()}  {n}\n" for n in names)
        return altered(archive, lambda n, c: sums.encode() if n == "SHA256SUMS" else changed(n, c))

    return whole


def edit(name, old, new):
    return lambda n, c: c.replace(old, new) if n == name else c


WRONG = {
    "a changed file": (lambda a: altered(a, edit("csv/sorties.csv", b"Ana", b"Eve")), "its checksum differs"),
    "a missing file": (
        lambda a: altered(a, lambda n, c: None if n == "csv/sorties.csv" else c),
        "is missing",
    ),
    "another file": (
        lambda a: altered(a, lambda n, c: c),
        "there is a school here already",
    ),
    "no archive": (lambda a: (a.write_bytes(b"PK not"), a)[1], "it is no archive"),
    "another format": (
        summed_anew(edit("keelturn.json", b"keelturn-school", b"something-else")),
        "the format is not",
    ),
    "a later version": (
        summed_anew(edit("keelturn.json", b'"version": 1', b'"version": 9')),
        "version 9 of the format",
    ),
    "a signed record changed": (
        summed_anew(edit("tables/signature.jsonl", b"Ana", b"Eve")),
        "they do not hold",
    ),
    "a broken line": (summed_anew(edit("tables/sortie.jsonl", b'"pk"', b'"pk')), "it is no row of it"),
    "a row of another table": (
        summed_anew(edit("tables/place.jsonl", b"school.place", b"school.deed")),
        "it is no row of it",
    ),
    "a link taken out": (
        summed_anew(lambda n, c: b"".join(c.splitlines(True)[1:]) if n == "tables/chainlink.jsonl" else c),
        "link 1 before it is missing",
    ),
}


@pytest.mark.parametrize("wrong", WRONG)
def test_an_archive_that_is_not_right_is_refused_and_nothing_is_taken(school, as_, two, tmp_path, wrong):
    change, words = WRONG[wrong]
    archive = change(exported(Scope(), tmp_path / "all.zip"))
    if wrong != "another file":
        wiped()
    with pytest.raises(Refused) as said:
        take_export(archive)
    problem = said.value.problems[0]
    assert words in problem.what
    assert problem.do
    assert Person.objects.exists() is (wrong == "another file")
    assert Signature.objects.count() == (2 if wrong == "another file" else 0)


def test_a_student_takes_their_own_data_and_nobody_elses(school, as_, two):
    mine = as_("ana").get(f"/api/students/{school.student('ana').pk}/export.zip")
    archive = zipfile.ZipFile(io.BytesIO(b"".join(mine.streaming_content)))
    assert f"signed/sortie-{two[0].pk}.json" in archive.namelist()
    for who, expected in (("dee", 404), ("bo", 403), ("chief", 200)):
        assert as_(who).get(f"/api/students/{school.student('ana').pk}/export.zip").status_code == expected
    assert as_("bo").get("/api/export.zip").status_code == 403


def test_what_a_student_is_not_told_yet_is_not_in_their_own_export(school, as_, two):
    open_one = school.brought_to("flown")
    student = school.student("ana")
    own = zipfile.ZipFile(io.BytesIO(b"".join(archive_of(Scope(student, open_too=False)))))
    rows = own.read("tables/sortie.jsonl").decode().splitlines()
    assert len(rows) == 1
    assert f'"sortie": {open_one.pk},' not in own.read("tables/attemptrow.jsonl").decode()
    whole = zipfile.ZipFile(io.BytesIO(b"".join(archive_of(Scope(student)))))
    assert len(whole.read("tables/sortie.jsonl").decode().splitlines()) == 2


REASON = "asked for it by letter"


def test_somebody_is_erased_and_the_chain_still_holds(school, as_, files, full):
    first, second, open_one = (s.pk for s in full)
    ana, digest = school.student("ana"), Recorded.objects.get().digest
    chief = school.people["chief"]
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
    body = {"username": "marlow", "name": "Eve Marlow", "email": "marlow@school.example"}
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
