"""From an empty installation to a first sortie, as its first chief does it, without demo data."""

import pytest
from selenium.webdriver.common.keys import Keys

from keelturn.aircraft.blanks import NUMBERS
from keelturn.figures.catalogue import figure_of
from keelturn.formats.fields import DOCUMENTS, fields_of
from tests.browser.conftest import begun
from tests.browser.person import PASSWORD, Person
from tests.browser.test_lesson import ITEMS
from tests.browser.typing import type_document
from tests.cards import LIGHT, left_blank
from tests.servers import Port

# What handbooks do not print.
UNPRINTED = (*NUMBERS, "spin.path_down_deg")
HANDBOOK = left_blank(LIGHT, *UNPRINTED)
RECORDER = "http://192.168.4.1:8765"
PLACE = {
    "name": "Aran block",
    "radius_nm": 3,
    "elevation_ft": 20,
    "block_top_ft": 7000,
    "airspace_top_ft": 9500,
    "place_floor_ft": {"value": 1500},
    "latitude_deg": 57.5,
    "longitude_deg": -7.25,
    "line_name": "The shore",
    "line_deg": 215,
    "sea_deg": 300,
    "sea_width_nm": 4,
    "notes": "Cattle on the east field.",
    "fields": [
        {"name": "Machair", "bearing_deg": 120, "distance_nm": 2, "heading_deg": 210, "length_ft": 1900}
    ],
}


@pytest.fixture
def empty(chromium, tmp_path):
    """A server on a folder in which nothing is."""
    port = Port()
    server = begun(tmp_path, port)
    chromium.get("about:blank")
    someone = Person(chromium, f"http://127.0.0.1:{port}", tmp_path)
    someone.viewport(1280, 800)
    someone.go("/")
    yield someone
    server.terminate()
    server.wait()


def closed(person):
    """What was stored is stored."""
    person.until(lambda: not person.all("//*[@role='dialog']"))


def begin(person):
    person.sees("Nobody is here yet")
    person.type("The school's name", "Loch Aran Flying")
    person.type("Your name", "Effie Strand")
    person.type("Name to log in", "effie")
    person.type("A password of your own", PASSWORD)
    person.type("The same again", PASSWORD)
    person.type("Your weight with clothes, lb", "165")
    person.press("Begin")
    person.sees("Loch Aran Flying: 6 steps to the first flight")
    person.session = person.browser.get_cookie("sessionid")["value"]


def type_standards(person):
    """The chief lets what was done elsewhere not stop the flight."""
    person.press("Go to: Floors and limits of the school")
    person.type("Address of the live recorder", RECORDER)
    person.choose("Ground items not done", "caution")
    person.press("Store the standards")
    person.sees(RECORDER)
    person.press("Store them")
    closed(person)
    kept = person.ask("/api/standards")["standards"]
    assert (kept["recorder"], kept["before"]["ground"]) == (RECORDER, "caution")


def type_card(person):
    """The card of a typical handbook, number by number: what it does not print stays blank, and nothing is
    refused."""
    person.press("Go to: The first aircraft")
    person.type("Registration", "QX-ARA")
    type_document(person, list(fields_of(DOCUMENTS["card"])), HANDBOOK)
    for key in LIGHT["approved"]:
        name = figure_of(key).name
        person.click(f"//*[@role='dialog']//label[normalize-space()='{name}']//input/ancestor::label")
    entered = {key: stated["value"] for key, stated in LIGHT["approved"].items() if stated}
    for key, speed in entered.items():
        name = figure_of(key).name
        person.one(f"//input[@aria-label='Entry speed, {name}']").send_keys(f"{speed:g}", Keys.TAB)
    person.press("Store the card")
    closed(person)
    (aircraft,) = person.ask("/api/aircraft")
    kept = aircraft["card"]
    assert numbers(kept["speeds"]) == numbers(LIGHT["speeds"])
    assert numbers(kept["spin"]) == numbers(HANDBOOK["spin"])
    assert kept["limits"]["rolling_g"] is None
    assert set(kept["approved"]) == set(LIGHT["approved"])
    assert numbers(kept["approved"]) == entered
    # Nobody said where they are from.
    assert kept["speeds"]["stall_ias"]["source"] == "not given"
    person.sees("numbers have no source yet")
    person.sees("Left blank on the card")
    person.sees("as aircraft of the aerobatic category roll")


def type_what_was_blank(person):
    """Measured since, number by number."""
    person.go("/fleet")
    person.press("Change QX-ARA")
    blank = [field for field in fields_of(DOCUMENTS["card"]) if field.path in UNPRINTED]
    type_document(person, blank, LIGHT)
    person.press("Store the card")
    closed(person)
    (aircraft,) = person.ask("/api/aircraft")
    assert numbers(aircraft["card"]["spin"]) == numbers(LIGHT["spin"])
    assert numbers(aircraft["card"]["roll"]) == numbers(LIGHT["roll"])
    person.does_not_see("Left blank on the card")


def numbers(part):
    return {k: v["value"] for k, v in part.items() if isinstance(v, dict) and "value" in v}


def plan_and_brief(person):
    person.press("Day")
    for label, value in (("QNH", "1015"), ("Temperature", "12"), ("Wind from", "240"), ("Wind, kt", "10")):
        person.type(label, value)
    person.type("Visibility", "8")
    person.tick("No cloud")
    # The spiral asks for parachutes, and nobody said that any are worn.
    person.sees("Parachutes not worn")
    person.press("Aircraft and load")
    person.tick("Parachute, left")
    person.tick("Parachute, right")
    person.stored()
    person.until(lambda: not person.all("//*[@data-check]//*[@aria-label='stop']"))
    person.press("Brief")
    person.sees("Missing before this lesson")
    for item in ITEMS:
        person.tick(item)
    person.press("Briefed: fly")


def fly_and_sign(person):
    """The first figure; the others are left."""
    person.sees("At the gate")
    person.take("At the gate")
    person.press("lowest")
    person.take("Lowest", Keys.PAGE_DOWN)
    for _ in range(8):
        person.keys("j")
    person.press("Landed")
    person.type("The flight in one sentence", "A first look at the wing.")
    person.press("Debrief ›")
    person.sees("Flown against planned")
    person.stored()
    person.keys("o")
    person.press("Debrief done: sign")
    person.type("Your password", PASSWORD)
    person.press("Sign and lock")
    person.sees("The record is as it was signed.")


@pytest.mark.long
def test_a_school_types_everything_and_signs_its_first_sortie(empty):
    person = empty
    begin(person)
    type_standards(person)
    person.go("/")
    type_card(person)
    person.go("/")
    person.press("Go to: The first place")
    type_document(person, list(fields_of(DOCUMENTS["place"])), PLACE)
    person.press("Store the place")
    person.sees("block top 7,000 ft QNH")
    person.go("/")
    person.press("Go to: The first student")
    person.type("Name", "Finn Oake")
    person.type("Name to log in", "finn")
    person.type("Weight with clothes, lb", "150")
    person.press("Make the link in")
    person.field("Link")
    person.press("Close")
    person.go("/")
    person.press("Go to: Into a course")
    person.click("//a[.='Finn Oake']")
    person.press("Put into a course")
    person.click("//*[@role='dialog']//*[@role='combobox']")
    person.click("//*[@role='option'][contains(., 'Spin awareness')]")
    person.press("Put into this course")
    person.sees("Spin awareness, version 1")
    person.go("/")
    person.sees("1 step to the first flight")
    person.press("Go to: The first sortie")
    person.choose("Student", "Finn Oake")
    person.choose("Aircraft", "QX-ARA")
    person.sees("On the ground before Slow flight and stalls.")
    person.click("//*[@role='dialog']//button[starts-with(., 'Plan ')][not(@disabled)]")
    person.sees("Height to spend")
    plan_and_brief(person)
    fly_and_sign(person)
    person.go("/")
    person.does_not_see("to the first flight")
    type_what_was_blank(person)
    errors = [e for e in person.browser.get_log("browser") if e["level"] == "SEVERE"]
    assert [e for e in errors if "Failed to load resource" not in e["message"]] == []
