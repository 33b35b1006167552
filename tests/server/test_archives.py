"""Exports that come back the same, whatever is wrong with them refused whole."""

import hashlib
import io
import zipfile

import pytest
from django.db import connection

from keelturn.formats.reading import Refused
from server import recordings
from server.school.lasting.exporting import archive_of
from server.school.lasting.following import look_at_all
from server.school.lasting.importing import take_export
from server.school.lasting.scope import TABLES, Scope
from server.school.models import (
    ChainLink,
    Person,
    Recorded,
    Signature,
    Student,
)
from tests.server.lasting import wiped

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


@pytest.mark.long
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


@pytest.mark.long
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
LEFT_OUT = {"Kept", "KeptMail", "OpenSession", "CalendarKey"}


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
