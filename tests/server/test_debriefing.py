"""The second look through the door: who sees it when, what of it is signed, the student's own view, the sheet
and the data in open forms."""

import csv
import io
import json

import pypdfium2
import pytest

from keelturn.figures.planned import FlownBy
from keelturn.noting.earned import EARNED
from server import recalled
from server.api import debriefing
from server.school.models import Recorded, Signature, Sortie
from tests.server.conftest import post, put
from tests.server.sheets import correction, entry, noted, stored, to_sign, url
from tests.server.test_recordings import file_of, sent

FIRST = "a0"


def look(client, sortie, attempt=FIRST):
    response = client.get(url(sortie, f"/looks/{attempt}"))
    assert response.status_code == 200, response.content
    return response.json()


def signed(school, as_):
    sortie = school.brought_to("debriefed")
    assert post(as_("bo"), url(sortie, "/sign"), to_sign(sortie)).status_code == 200
    return Sortie.objects.get(pk=sortie.pk)


def spin_in(sortie):
    return next(f"a{n}" for n, f in enumerate(sortie.plan["figures"]) if f["key"] == "spin")


def test_an_attempt_has_one_thing_to_say_and_a_grade_with_its_reasons(school, as_):
    sortie = school.brought_to("flown")
    spin = spin_in(sortie)
    noted(
        as_("bo"),
        sortie,
        correction(sortie, spin, "lowest_ft", 3200),
        entry(spin, "fault", True, "power_late"),
    )
    found = look(as_("bo"), sortie, spin)
    assert found["advice"]["fault"] == "power_late"
    assert found["advice"]["says"].startswith("Throttle closed first.")
    assert found["proposal"]["grade"] == "Not yet"
    assert "Guided: at most 400 ft" in found["proposal"]["says"]
    assert not found["counted_now"]
    assert look(as_("cy"), sortie, "none") == {
        "technique": None,
        "advice": None,
        "proposal": None,
        "counted_now": False,
    }


def test_the_student_sees_neither_grades_nor_what_will_be_said_before_the_debrief_is_done(school, as_):
    sortie = school.brought_to("flown")
    words = entry(FIRST, "said", "Feet first."), entry(FIRST, "grade_reason", "late in the day")
    noted(as_("bo"), sortie, *words)
    stored(as_("bo"), sortie, debrief={"one_thing": "Feet first."})
    # A second grade from a device that had not seen the first stands beside it.
    noted(as_("bo"), sortie, entry(FIRST, "grade", "Not yet", device="other"))
    assert as_("bo").get(url(sortie)).json()["attempts"][0]["otherwise"]
    assert as_("ana").get(url(sortie)).json()["attempts"][0]["otherwise"] == []
    found = look(as_("ana"), sortie)
    assert (found["advice"], found["proposal"]) == (None, None)
    shown = as_("ana").get(url(sortie)).json()
    hers = next(a for a in shown["attempts"] if a["id"] == FIRST)
    assert (hers["grade"], hers["said"], hers["grade_reason"]) == (None, "", "")
    assert not {"grade", "said", "grade_reason"} & {e["what"] for e in shown["entries"]}
    assert shown["debrief"]["one_thing"] == ""
    # Nor in the student's record, where the instructor has them.
    record = f"/api/students/{sortie.student_id}"
    assert as_("ana").get(record).json()["attempts"] == []
    assert as_("bo").get(record).json()["attempts"][0]["grade"] == "Not yet"
    for path in ("/sortie.json", "/attempts.csv"):
        assert b"Feet first." not in as_("ana").get(url(sortie, path)).content
    assert look(as_("bo"), sortie)["proposal"]["grade"]
    moved = post(as_("bo"), url(sortie, "/stage"), {"version": sortie.version, "to": "debriefed"})
    assert moved.status_code == 200, moved.content
    assert look(as_("ana"), sortie)["proposal"]["grade"]
    shown = as_("ana").get(url(sortie)).json()
    assert next(a for a in shown["attempts"] if a["id"] == FIRST)["said"] == "Feet first."
    assert shown["debrief"]["one_thing"] == "Feet first."


def test_a_student_says_how_it_was_and_nothing_else(school, as_):
    sortie = school.brought_to("flown")
    own = entry(FIRST, "own_grade", "Guided"), entry(FIRST, "surprise", "how fast it went round")
    noted(as_("ana"), sortie, *own)
    attempt = as_("bo").get(url(sortie)).json()["attempts"][0]
    assert (attempt["own_grade"], attempt["surprise"]) == ("Guided", "how fast it went round")
    assert {e["by"] for e in as_("bo").get(url(sortie)).json()["entries"] if e["what"] == "own_grade"} == {
        "Ana"
    }
    for what, value in (("grade", "Solo-ready"), ("start_ft", 5000), ("note", "well done")):
        mixed = {"entries": [entry(FIRST, "own_grade", "Sound"), entry(FIRST, what, value)]}
        response = post(as_("ana"), url(sortie, "/entries"), mixed)
        assert response.status_code == 403
        assert "their own view" in response.json()["problems"][0]["what"]
    # Nothing of what was refused was kept.
    assert as_("bo").get(url(sortie)).json()["attempts"][0]["own_grade"] == "Guided"
    assert (
        post(
            as_("dee"), url(sortie, "/entries"), {"entries": [entry(FIRST, "own_grade", "Sound")]}
        ).status_code
        == 404
    )


@pytest.mark.parametrize("stage", ["planned", "signed"])
def test_before_the_brief_and_after_the_signature_there_is_no_own_view(school, as_, stage):
    sortie = signed(school, as_) if stage == "signed" else school.sortie()
    response = post(as_("ana"), url(sortie, "/entries"), {"entries": [entry(FIRST, "own_grade", "Sound")]})
    assert response.status_code == 403


def test_today_asks_the_student_how_it_was_and_then_for_the_sheet(school, as_):
    def asked(who, sortie):
        lines = {line["id"]: line for line in as_(who).get("/api/today").json()["sorties"]}
        return lines[sortie.pk]["may_say"]

    briefed, flown = school.brought_to("briefed"), school.brought_to("flown")
    assert (asked("ana", briefed), asked("ana", flown), asked("bo", flown)) == (False, True, False)
    sortie = signed(school, as_)

    def read():
        return [line["sheet_read"] for line in as_("ana").get("/api/today").json()["recent"]]

    assert read() == [False]
    post(as_("ana"), url(sortie, "/sheet"), {"comment": ""})
    assert read() == [True]


def test_a_take_over_above_guided_keeps_the_debrief_open_until_somebody_says_why(school, as_):
    sortie = school.brought_to("flown")
    noted(as_("bo"), sortie, entry(FIRST, "taken_over_ft", 4000))
    moving = {"version": sortie.version, "to": "debriefed"}
    response = post(as_("bo"), url(sortie, "/stage"), moving)
    assert response.status_code == 422
    assert "taken over and graded Sound" in response.json()["problems"][0]["what"]
    noted(as_("bo"), sortie, entry(FIRST, "grade_reason", "taken over for another aircraft"))
    assert post(as_("bo"), url(sortie, "/stage"), moving).status_code == 200


def test_what_was_said_and_proposed_is_signed_and_stays_whatever_the_chief_asks_later(school, as_):
    sortie = school.brought_to("debriefed")
    before = look(as_("bo"), sortie)
    assert post(as_("bo"), url(sortie, "/sign"), to_sign(sortie)).status_code == 200
    kept = json.loads(Signature.objects.get(sortie=sortie).document)["looks"]
    assert set(kept) == {f"a{n}" for n in range(7)}
    stricter = {"grading": {"most": {"beyond_ft": {"guided": 2, "sound": 1, "solo_ready": 0}}}}
    stricter["before"] = {"ground": "caution"}
    assert put(as_("chief"), "/api/standards", {"version": 1, "standards": stricter}).status_code == 200
    assert look(as_("ana"), sortie) == before
    assert school.brought_to("flown")
    other = look(as_("bo"), Sortie.objects.latest("pk"))
    assert other["proposal"] != before["proposal"]


def test_of_an_older_signed_record_it_is_counted_now_and_says_so(school, as_):
    sortie = signed(school, as_)
    signature = Signature.objects.get(sortie=sortie)
    document = json.loads(signature.document)
    del document["looks"]
    # The database refuses this to everybody: here it stands for what was signed before there were looks.
    debriefing.record_of, whole = (lambda _: debriefing_record(document)), debriefing.record_of
    try:
        found = look(as_("bo"), sortie)
    finally:
        debriefing.record_of = whole
    assert found["counted_now"]
    assert found["proposal"] is not None


def debriefing_record(document):
    from keelturn.formats.signed import read_signed

    return read_signed(json.dumps(document)).record


@pytest.mark.long
def test_the_recordings_digest_is_signed_and_another_file_beside_it_is_noticed(school, as_, files):
    sortie = school.brought_to("briefed")
    digest = sent(as_("bo"), sortie, file_of(sortie)).json()["digest"]
    for number, figure in enumerate(sortie.plan["figures"]):
        earned = EARNED[FlownBy(figure["flown_by"])][-1]
        noted(as_("bo"), sortie, entry(figure["id"], "grade", earned, id=f"grade-{number:08d}"))
    for to in ("flown", "debriefed"):
        sortie.refresh_from_db()
        moved = post(as_("bo"), url(sortie, "/stage"), {"version": sortie.version, "to": to})
        assert moved.status_code == 200, moved.content
    sortie.refresh_from_db()
    assert post(as_("bo"), url(sortie, "/sign"), to_sign(sortie)).status_code == 200
    document = json.loads(Signature.objects.get(sortie=sortie).document)
    assert [r["digest"] for r in document["recordings"]] == [digest]
    assert document["looks"][sortie.plan["figures"][0]["id"]]["technique"]["recorded"]
    assert as_("bo").get(url(sortie)).json()["signature"]["holds"]


def test_what_was_counted_is_not_counted_again_until_something_of_it_changes(school, as_, monkeypatch):
    asked = []
    answer = debriefing.workers.answer
    monkeypatch.setattr(debriefing.workers, "answer", lambda *what: asked.append(what) or answer(*what))
    sortie = school.brought_to("flown")
    spin = spin_in(sortie)
    # A height that no other test has.
    noted(as_("bo"), sortie, correction(sortie, spin, "lowest_ft", 3501.25))
    recalled.caches["computed"].clear()
    first = look(as_("bo"), sortie, spin)
    assert (len(asked), look(as_("cy"), sortie, spin)) == (1, first)
    assert len(asked) == 1
    noted(as_("bo"), sortie, correction(sortie, spin, "grade", "Guided"))
    look(as_("bo"), sortie, spin)
    assert len(asked) == 1
    noted(as_("bo"), sortie, correction(sortie, spin, "lowest_ft", 3551.25))
    assert look(as_("bo"), sortie, spin)["technique"] != first["technique"]
    assert len(asked) == 2
    monkeypatch.setattr(recalled, "of_the_core", lambda: "other code")
    look(as_("bo"), sortie, spin)
    assert len(asked) == 3


def test_a_recording_that_comes_in_is_looked_at_before_anybody_asks(school, as_, files, monkeypatch):
    def at_once(asked):
        for one in asked:
            one.then(one.ask(*one.what))

    monkeypatch.setattr(debriefing.workers, "meanwhile", at_once)
    sortie = school.brought_to("briefed")
    recalled.caches["computed"].clear()
    spin = next(f["id"] for f in sortie.plan["figures"] if f["key"] == "spin")
    sent(as_("bo"), sortie, file_of(sortie, figures={spin}))
    monkeypatch.setattr(debriefing.workers, "answer", lambda *_: pytest.fail("it was not there"))
    row = Recorded.objects.get(sortie=sortie)
    (attempt,) = row.traces
    assert look(as_("bo"), sortie, attempt)["technique"]["recorded"]
    # Sent again, nothing is counted again.
    monkeypatch.setattr(debriefing.workers, "meanwhile", lambda asked: kept.extend(asked))
    kept = []
    debriefing.look_ahead(sortie, row)
    assert kept == []


# The sheet


def text_of(content):
    with pypdfium2.PdfDocument(content) as document:
        return len(document), "\n".join(page.get_textpage().get_text_range() for page in document)


def test_the_sheet_is_one_page_with_what_was_done_one_thing_and_what_is_next(school, as_):
    sortie = school.brought_to("flown")
    noted(as_("ana"), sortie, entry(FIRST, "own_grade", "Guided"), entry(FIRST, "surprise", "so quiet"))
    stored(as_("bo"), sortie, debrief={"one_thing": "Feet first, then the stick.", "next": "Both ways again"})
    response = as_("bo").get(url(sortie, "/sheet.pdf"))
    assert response["Content-Type"] == "application/pdf"
    pages, text = text_of(response.content)
    assert pages == 1
    for words in (
        "Feet first, then the stick.",
        "Next lesson: Both ways again",
        "so quiet",
        "300 ft",
        "Sound",
        "Guided",
    ):
        assert words in text, words
    assert "Not signed: this can still change." in text
    assert "the flight manual" in text.replace("\r\n", " ")


@pytest.mark.long
def test_the_sheet_stays_one_page_however_much_was_flown_and_said(school, as_):
    sortie = school.brought_to("flown")
    for n in range(7, 40):
        planned = {**sortie.plan["figures"][0], "id": f"b{n}"}
        noted(
            as_("bo"),
            sortie,
            entry(f"b{n}", "figure", planned),
            entry(f"b{n}", "start_ft", 6000),
            entry(f"b{n}", "surprise", "long " * 50),
        )
    stored(as_("bo"), sortie, debrief={"note": "words " * 600, "one_thing": "x" * 400, "next": "y" * 500})
    pages, text = text_of(as_("bo").get(url(sortie, "/sheet.pdf")).content)
    assert pages == 1
    assert "26 more in the record" in text.replace("\r\n", " ")


def test_only_its_student_ticks_a_signed_sheet_as_read_and_what_they_say_stands_beside_it(school, as_):
    sortie = signed(school, as_)
    digest = as_("bo").get(url(sortie)).json()["signature"]["digest"]
    assert as_("bo").get(url(sortie)).json()["sheet_read"] is None
    assert post(as_("bo"), url(sortie, "/sheet"), {"comment": "mine"}).status_code == 403
    assert post(as_("dee"), url(sortie, "/sheet"), {"comment": "mine"}).status_code == 404
    assert post(as_("ana"), url(sortie, "/sheet"), {"comment": "x" * 1001}).status_code == 422
    told = post(as_("ana"), url(sortie, "/sheet"), {"comment": "I see it now"}).json()
    assert told["sheet_read"]["comment"] == "I see it now"
    assert post(as_("ana"), url(sortie, "/sheet"), {"comment": ""}).json()["sheet_read"]["comment"] == ""
    signature = as_("bo").get(url(sortie)).json()["signature"]
    assert (signature["digest"], signature["holds"]) == (digest, True)


# Open forms


def test_json_and_table_say_the_same_as_the_page(school, as_):
    sortie = school.brought_to("flown")
    noted(as_("bo"), sortie, correction(sortie, FIRST, "note", "=1+1"), entry(FIRST, "turns", 1.5))
    page = as_("bo").get(url(sortie)).json()
    record = json.loads(as_("bo").get(url(sortie, "/sortie.json")).content)
    assert record["attempts"] == page["attempts"]
    assert record["entries"] == page["entries"]
    rows = list(csv.DictReader(io.StringIO(as_("bo").get(url(sortie, "/attempts.csv")).content.decode())))
    assert [row["number"] for row in rows] == [str(n) for n in range(1, 8)]
    for row, attempt in zip(rows, page["attempts"], strict=True):
        account = page["accounts"][attempt["id"]]
        assert float(row["start_ft"]) == attempt["start_ft"]
        assert float(row["lost_ft"]) == account["flown"]["value"]
        assert float(row["briefed_ft"]) == pytest.approx(account["planned"]["value"], abs=0.06)
        assert row["grade"] == attempt["grade"]
    assert (rows[0]["turns"], rows[1]["turns"]) == ("1.5", "")
    # A program for tables takes it for words, not for a formula.
    assert rows[0]["note"] == "'=1+1"
