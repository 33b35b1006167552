"""A correction of one thing noted counts from then on: in progress, in the numbers of student and school, in
what comes next; the signed record stays."""

import pytest
from django.db import DatabaseError, connection, transaction

from keelturn.formats.chain import digest_of_correction
from server import clock
from server.school.models import AttemptRow, Signature, Sortie
from server.school.operations.enrolling import ways_of
from server.school.operations.school import attempts_seen
from server.school.operations.verifying import _faults, first_that_does_not_hold
from tests.server.conftest import post
from tests.server.lasting import without_guards
from tests.server.sheets import to_sign, url


@pytest.fixture
def sortie(school, as_):
    made = school.brought_to("debriefed")
    assert post(as_("bo"), url(made, "/sign"), to_sign(made)).status_code == 200
    return Sortie.objects.get(pk=made.pk)


def correct(client, sortie, attempt, what, before, after, about="", reason="Typo"):
    field = {"attempt": attempt, "what": what, "about": about, "before": before, "after": after}
    return post(client, url(sortie, "/corrections"), {"reason": reason, "what": field})


def stall_of(sortie):
    return next(f"a{n}" for n, f in enumerate(sortie.plan["figures"]) if f["key"] == "stall_power_off")


def test_a_corrected_grade_counts_in_progress_statistics_and_what_comes_next(school, as_, sortie):
    school.enrolled("ana")
    ana, stall = school.student("ana"), stall_of(sortie)

    def state():
        return ways_of([ana], clock.day_of(clock.now()))[ana.pk].way.state("power_off").state

    def steps():
        at = int(stall.removeprefix("a"))
        return attempts_seen([sortie.pk])[sortie.pk][at].steps

    before, above = state(), steps()
    answer = correct(as_("bo"), sortie, stall, "grade", "Sound", "Not yet")
    assert answer.status_code == 201, answer.content
    assert (before, state()) == ("guided", "begun")
    # The school's statistics: two grades lower against what its standard comes to.
    assert steps() == above - 2
    page = as_("bo").get(f"/api/students/{ana.pk}").json()
    (past,) = [a for a in page["attempts"] if a["corrected"]]
    words = "Grade Not yet, not Sound (corrected on"
    assert past["grade"] == "Not yet" and past["corrected"][0].startswith(words)
    assert any(words in why for why in page["next"]["why"])
    (told,) = answer.json()["corrections"]
    assert (told["what"]["attempt"], told["text"], told["reason"]) == (
        stall,
        "Power-off stall: Grade Not yet, not Sound",
        "Typo",
    )
    assert answer.json()["signature"]["holds"]
    # The record is shown as it was signed.
    assert {a["grade"] for a in answer.json()["attempts"]} == {"Sound"}


def test_a_corrected_height_is_the_loss_that_counts(school, as_, sortie):
    stall = stall_of(sortie)
    row = AttemptRow.objects.get(sortie=sortie, attempt__id=stall)
    was = row.attempt
    correct(as_("chief"), sortie, stall, "lowest_ft", was["lowest_ft"], was["lowest_ft"] - 200)
    now = AttemptRow.objects.get(pk=row.pk)
    assert (row.lost_ft, now.lost_ft, now.attempt) == (300, 500, was)
    assert now.deviation != row.deviation
    assert first_that_does_not_hold(Signature.objects.get(sortie=sortie)) is None
    # Back again: it counts as it was signed.
    correct(as_("chief"), sortie, stall, "lowest_ft", was["lowest_ft"] - 200, was["lowest_ft"])
    again = AttemptRow.objects.get(pk=row.pk)
    assert (again.lost_ft, again.deviation, len(again.corrections)) == (300, row.deviation, 2)
    assert first_that_does_not_hold(Signature.objects.get(sortie=sortie)) is None


@pytest.mark.parametrize(
    ("who", "change", "status"),
    [
        ("cy", {}, 403),
        ("ana", {}, 403),
        ("bo", {"before": "Guided"}, 422),
        ("bo", {"after": "Solo-ready"}, 422),
        ("bo", {"attempt": "a99"}, 422),
        ("bo", {"what": "note", "before": None}, 422),
        ("bo", {"reason": "?!"}, 422),
        ("bo", {"what": "fault", "about": "no_such", "before": False, "after": True}, 422),
        ("bo", {"what": "flown_by", "before": "student alone", "after": None}, 422),
        ("bo", {}, 201),
    ],
)
def test_who_may_correct_what(school, as_, sortie, who, change, status):
    said = {"attempt": stall_of(sortie), "what": "grade", "before": "Sound", "after": "Guided", **change}
    assert correct(as_(who), sortie, **said).status_code == status
    assert AttemptRow.objects.exclude(corrected=None).count() == (status == 201)


def test_one_thing_is_corrected_at_a_time(as_, sortie):
    both = {"reason": "Typo", "text": "It was lower", "what": None}
    assert post(as_("bo"), url(sortie, "/corrections"), both).status_code == 201
    neither = post(as_("bo"), url(sortie, "/corrections"), {"reason": "Typo"})
    assert neither.status_code == 422


def test_what_counts_is_found_out_when_it_is_not_what_was_corrected(as_, sortie):
    stall = stall_of(sortie)
    correct(as_("bo"), sortie, stall, "grade", "Sound", "Guided")
    signature = Signature.objects.get(sortie=sortie)
    row = AttemptRow.objects.get(sortie=sortie, attempt__id=stall)
    AttemptRow.objects.filter(pk=row.pk).update(lost_ft=20)
    assert "what counts of attempt" in first_that_does_not_hold(signature)
    AttemptRow.objects.filter(pk=row.pk).update(lost_ft=row.lost_ft, corrected=None)
    assert "what counts of attempt" in first_that_does_not_hold(Signature.objects.get(sortie=sortie))
    AttemptRow.objects.filter(pk=row.pk).update(corrected=row.corrected)
    assert first_that_does_not_hold(Signature.objects.get(sortie=sortie)) is None
    without_guards("UPDATE school_correction SET what = json_set(what, '$.after', 'Not yet')")
    found = list(_faults(Signature.objects.get(sortie=sortie)))
    assert found[-1].endswith("is not as it was written")


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE school_attemptrow SET lost_ft = 1 WHERE json_extract(attempt, '$.id') <> '{}'",
        "UPDATE school_attemptrow SET attempt = '{{}}' WHERE json_extract(attempt, '$.id') = '{}'",
        "UPDATE school_attemptrow SET figure = 'loop' WHERE json_extract(attempt, '$.id') = '{}'",
        "UPDATE school_correction SET what = NULL",
    ],
)
def test_the_database_lets_only_what_counts_of_a_corrected_attempt_be_written(as_, sortie, statement):
    stall = stall_of(sortie)
    correct(as_("bo"), sortie, stall, "grade", "Sound", "Guided")
    with (
        pytest.raises(DatabaseError, match="does not change"),
        transaction.atomic(),
        connection.cursor() as cursor,
    ):
        cursor.execute(statement.format(stall))


def test_a_digest_of_a_correction_in_words_is_as_it_was():
    said = ("0" * 64, "Bo", "2026-05-14T10:00:00+00:00", "Typo", "Lowest was 3,480 ft")
    assert digest_of_correction(*said, None) == digest_of_correction(*said)
    assert digest_of_correction(*said, {"a": 1, "b": 2}) == digest_of_correction(*said, {"b": 2, "a": 1})
    assert digest_of_correction(*said, {"a": 1}) != digest_of_correction(*said)
