"""From a recorder's file to a signed record and a sheet, by keyboard alone: an edge corrected, the proposal
taken, and the same numbers wherever they stand."""

import csv
import io
import json

import pypdfium2
import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.test_offline import on_the_server
from tests.browser.test_recordings import chosen, recorded


def of_kind(client, path):
    with client.opener.open(client.url + path) as answer:
        return answer.read()


def recordings_of(client, number):
    return client.call("GET", f"/api/sorties/{number}/recordings")


def graded(served, number, at):
    return on_the_server(served, number)["attempts"][at]["grade"]


@pytest.mark.long
def test_a_file_becomes_a_signed_record_and_a_sheet_with_the_same_numbers(person, served, tmp_path):
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    person.go(f"/sorties/{number}/debrief")
    person.button("Read a recorder’s file")
    chosen(person, recorded(served, number, tmp_path))
    person.sees("7 figures found")
    version = on_the_server(served, number)["version"]
    landed = {"version": version, "to": "flown"}
    served.caller("tam").call("POST", f"/api/sorties/{number}/stage", landed)
    # Somebody who does not log out meanwhile.
    morag = served.caller("morag")
    # The student says first how it was.
    first = on_the_server(served, number)["attempts"][0]
    person.log_out()
    person.log_in("jonah", f"/sorties/{number}/debrief")
    person.sees("Your own view, before we talk")
    assert not person.all("//*[starts-with(., 'Proposed:')]")
    person.tab_to("What surprised most")
    person.type_here("How little it took.")
    person.tab_to("Not yet")
    person.type_here(Keys.ARROW_RIGHT, Keys.ENTER)
    person.until(lambda: on_the_server(served, number)["attempts"][0]["own_grade"] == "Guided")
    assert person.serious_faults_of_access() == []
    person.log_out()
    person.log_in("tam", f"/sorties/{number}/debrief")
    person.sees("has said how it was. It is shown when you have graded.")
    # An edge is shifted by the keys, and measured again.
    person.one("//*[@role='slider'][@aria-label='Ends']")
    person.tab_to("Ends")
    person.type_here(Keys.SHIFT, Keys.ARROW_LEFT)
    webdriver.ActionChains(person.browser).key_up(Keys.SHIFT).perform()
    person.until(lambda: recordings_of(morag, number)[0]["flight"]["marks"])
    person.sees("Say one thing")
    assert person.serious_faults_of_access() == []
    # It is flown again, and stepped through.
    person.keys(".", ".")
    person.until(lambda: person.one("//output").text.startswith("0.2 s"))
    person.keys("p")
    person.until(lambda: not person.one("//output").text.startswith("0.2 s"))
    person.keys("p")
    # Each is graded as proposed, by its key; the view of the student's appears.
    keys = {"Shown": "s", "Not yet": "y", "Guided": "g", "Sound": "o", "Solo-ready": "r"}
    attempts = on_the_server(served, number)["attempts"]
    for at, attempt in enumerate(attempts):
        # The page asks first: what it was told is kept, and the same for everybody.
        person.sees("Proposed: ")
        look = morag.call("GET", f"/api/sorties/{number}/looks/{attempt['id']}")
        proposed = look["proposal"]["grade"]
        person.sees(f"Proposed: {proposed}")
        person.keys(keys[proposed])
        person.until(lambda at=at, grade=proposed: graded(served, number, at) == grade)
        if at == 0:
            person.sees("“How little it took.”")
            person.tab_to("To the student’s sheet")
            person.type_here(Keys.ENTER)
        person.keys("j")
    person.stored()
    person.tab_to("Debrief done: sign")
    person.type_here(Keys.ENTER)
    person.sees("Sign and lock")
    person.tab_to("Your password")
    person.type_here("height-is-the-budget")
    person.tab_to("Sign and lock")
    person.type_here(Keys.ENTER)
    person.sees("The record is as it was signed.")
    # The page, the data and the sheet say the same.
    page = on_the_server(served, number)
    record = json.loads(of_kind(morag, f"/api/sorties/{number}/sortie.json"))
    rows = list(csv.DictReader(io.StringIO(of_kind(morag, f"/api/sorties/{number}/attempts.csv").decode())))
    with pypdfium2.PdfDocument(of_kind(morag, f"/api/sorties/{number}/sheet.pdf")) as document:
        assert len(document) == 1
        sheet = document[0].get_textpage().get_text_range()
    assert record["attempts"] == page["attempts"]
    assert record["recordings"][0]["digest"] == recordings_of(morag, number)[0]["digest"]
    shown = person.one("//table").text
    for attempt, row in zip(page["attempts"], rows, strict=True):
        account = page["accounts"][attempt["id"]]
        assert float(row["lost_ft"]) == account["flown"]["value"]
        assert row["grade"] == attempt["grade"] == record["looks"][attempt["id"]]["proposal"]["grade"]
        for text in (account["flown"]["shown"], account["planned"]["shown"], attempt["grade"]):
            assert text in sheet
            assert text in shown
    assert page["debrief"]["one_thing"] in sheet.replace("\r\n", " ")
    assert "How little it took" in sheet
    # The student reads it, and says something.
    person.log_out()
    person.log_in("jonah", f"/sorties/{number}/sign")
    person.tab_to("What do you say to it?")
    person.type_here("I see it now.")
    person.tab_to("I have read it")
    person.type_here(Keys.ENTER)
    person.sees("Change what I said")
    assert on_the_server(served, number)["sheet_read"]["comment"] == "I see it now."
    assert person.serious_faults_of_access() == []
    assert first["id"] == page["attempts"][0]["id"]
