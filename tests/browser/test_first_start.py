"""From an empty installation to a first sortie, as its first chief does it, without demo data."""

import json

import pytest
from selenium.webdriver.common.by import By

from tests.browser.conftest import begun
from tests.browser.person import PASSWORD, Person
from tests.cards import LIGHT
from tests.servers import Port


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


@pytest.mark.long
def test_a_school_is_begun_and_flies(empty, tmp_path):
    person = empty
    person.sees("Nobody is here yet")
    person.type("The school's name", "Loch Aran Flying")
    person.type("Your name", "Effie Strand")
    person.type("Name to log in", "effie")
    person.type("A password of your own", PASSWORD)
    person.type("The same again", PASSWORD)
    person.type("Your weight with clothes, lb", "165")
    person.press("Begin")
    person.sees("Loch Aran Flying: 6 steps to the first flight")
    person.press("Go to: Floors and limits of the school")
    person.press("Store the standards")
    person.press("Store them")
    closed(person)
    person.go("/")
    person.sees("5 steps to the first flight")

    # A card entered from nothing says at each number that it is missing; one from a file is taken.
    person.press("Go to: The first aircraft")
    person.type("Registration", "QX-ARA")
    person.press("Store the card")
    person.sees("Not stored:")
    person.press("Leave it as it was")
    person.press("Drop the changes")
    card = tmp_path / "card.json"
    card.write_text(json.dumps({"registration": "QX-ARA", "card": LIGHT}))
    person.browser.find_element(By.CSS_SELECTOR, "input[aria-label='Import an aircraft']").send_keys(
        str(card)
    )
    person.press("Store the card")
    closed(person)
    person.one("//button[contains(., 'QX-ARA')]")
    person.go("/")
    person.sees("4 steps to the first flight")

    person.press("Go to: The first place")
    person.type("Name", "Aran block")
    person.type("Ground", "20")
    person.type("Block top", "7000")
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
    person.click("//*[@role='dialog']//button[starts-with(., 'Plan ')][not(@disabled)]")
    person.sees("Height to spend")
    person.go("/")
    person.sees("Finn Oake")
    person.does_not_see("to the first flight")
    errors = [e for e in person.browser.get_log("browser") if e["level"] == "SEVERE"]
    assert [e for e in errors if "Failed to load resource" not in e["message"]] == []
