"""Ways in: by a link, with a second factor; who leaves; and records that are followed and found broken."""

import re
import sqlite3
from contextlib import closing

import pytest
from selenium.webdriver.common.by import By

from server.packing import pack, unpack
from tests.browser.person import PASSWORD
from tests.server.test_accounts import code_of
from tests.servers import PATIENCE_S

OWN = "seven-grey-gulls-over-water"
DIALOG = "//*[@role='dialog']"
LONG_S = 600


def test_somebody_new_is_asked_in_and_comes_by_the_link(person):
    person.log_in("morag", "/people")
    person.press("Ask somebody in")
    person.type("Name", "Wren Halloway")
    person.type("Name to log in", "wren")
    person.type("E-mail", "wren@school.example")
    person.type("Weight with clothes", "150")
    person.press("Make the link in")
    link = person.field("Link").get_attribute("value")
    person.sees("A letter with the link is on its way to wren@school.example")
    person.press("Close")
    person.sees("no password yet")
    person.press("Letters of the demo")
    assert link in person.sees("this link opens your account").text
    person.press("Close")
    person.browser.delete_all_cookies()
    person.browser.get(link)
    person.sees("Welcome, Wren Halloway. Your name to log in is wren.")
    person.type("A password of your own", "1234567890")
    person.type("The same again", "1234567890")
    person.press("Set it and come in")
    person.sees("This password is entirely numeric")
    person.type("A password of your own", OWN)
    person.type("The same again", OWN + "x")
    person.sees("The two differ.")
    person.type("The same again", OWN)
    person.press("Set it and come in")
    person.sees("Log out")
    person.log_out()
    person.type("Name to log in", "wren")
    person.type("Password", OWN)
    person.press("Log in")
    person.sees("Log out")
    person.browser.delete_all_cookies()
    person.browser.get(link)
    person.sees("this link does not open any more")


@pytest.mark.long
def test_a_second_factor_is_set_up_and_asked_for(served, person):
    """And the log-in of before is seen and ended."""
    person.log_in("bryn")
    person.log_in_by_form("bryn") if person.all("//button[.='Log in']") else None
    person.go("/account")
    form = person.one("//form[@aria-label='Second factor']")
    form.find_element(By.CSS_SELECTOR, "input[type=password]").send_keys(PASSWORD)
    person.press("Set it up")
    person.one("//img[contains(@alt, 'square to scan')]")
    secret = form.text.split("or type this in there:")[1].strip().splitlines()[0]
    person.type("The code that the app shows now", "000000")
    person.press("Turn it on")
    person.sees("this is not the code of now")
    with closing(sqlite3.connect(served.database, timeout=PATIENCE_S)) as database, database:
        # After a wrong code the next is looked at a second later: that second has passed.
        database.execute("UPDATE otp_totp_totpdevice SET throttling_failure_timestamp = '2020-01-01'")
    # The next code, which is taken already: it still is, however long the typing takes.
    person.type("The code that the app shows now", code_of(secret, ahead=1))
    person.press("Turn it on")
    codes = person.one("//ol[@aria-label='Recovery codes']").text.split()
    person.sees("a code is asked for at every log-in. 10 recovery codes left")
    person.log_out()
    person.type("Name to log in", "bryn")
    person.type("Password", PASSWORD)
    person.press("Log in")
    person.sees("Name and password are right.")
    person.type("Code", codes[-1])
    person.press("Log in")
    person.sees("Log out")
    person.go("/account")
    person.sees("9 recovery codes left")


@pytest.mark.long
def test_an_instructor_leaves_and_another_takes_over(served, person):
    person.log_in("morag", "/people")
    person.press("More about Tam Ferrand")
    person.press("Leaves the school")
    person.type("Why", "To fly in the north")
    person.choose("Who takes over as instructor", "Bryn Castellow")
    person.press("Tam Ferrand leaves")
    person.sees("To fly in the north")
    assert not person.all(DIALOG)
    taught = served.caller("bryn").call("GET", "/api/today")["sorties"]
    assert "Tam Ferrand" not in {s["instructor"] for s in taught}
    assert "Petra Lindqvale" in {s["student"] for s in taught if s["instructor"] == "Bryn Castellow"}


@pytest.mark.long
def test_the_chain_is_followed_and_one_byte_changed_in_it_is_found(served, person):
    person.log_in("morag", "/records")
    person.sees("Nobody has followed it from end to end yet")
    person.press("Follow it now")
    # Each record is read whole: the page says how far it is.
    person.until(lambda: person.saying("links hold, and every record is as it was signed"), LONG_S)
    person.choose("What", "Corrections")
    person.sees("Nothing of that kind is kept")
    person.choose("What", "Sorties moved on and signed")
    person.press("Earlier lines")
    lines = "//main//tbody/tr"
    many = len(person.until(lambda: (found := person.all(lines)) and len(found) > 50 and found))
    person.choose("By", "Ilse Quorn")
    rows = person.until(lambda: (found := person.all(lines)) and len(found) < many and found)
    assert {row.find_elements(By.TAG_NAME, "td")[1].text for row in rows} == {"Ilse Quorn"}
    with closing(sqlite3.connect(served.database, timeout=PATIENCE_S)) as database, database:
        guards = database.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
        for name, _ in guards:
            database.execute(f"DROP TRIGGER {name}")
        key, sortie, document = database.execute(
            "SELECT id, sortie_id, document FROM school_signature ORDER BY id LIMIT 1 OFFSET 11"
        ).fetchone()
        changed = re.sub(r'"lowest_ft":\d', '"lowest_ft":9', unpack(document), count=1)
        assert changed != unpack(document)
        database.execute("UPDATE school_signature SET document = ? WHERE id = ?", (pack(changed), key))
        for _, sql in guards:
            database.execute(sql)
    person.press("Follow it now")
    person.until(lambda: person.saying(f"First broken place: link 12, sortie {sortie} signed on"), LONG_S)
