"""A sortie handed from one instructor to another, moved, cancelled and put back, by the people who do it."""

import pytest
from selenium.webdriver.common.keys import Keys

PETRA = "Petra Lindqvale"


def to_petras(person) -> None:
    person.one(
        f"//main//p[contains(., '{PETRA}')]/ancestor::*[.//a][1]//a[contains(@href, '/sorties/')]"
    ).click()
    person.sees("Height to spend")


def booking(person) -> None:
    person.press("More")
    person.press("Move, hand over")
    person.sees("Booking of")


@pytest.mark.long
def test_taken_over_cancelled_and_put_back_with_who_did_it(person):
    person.log_in("ilse")
    to_petras(person)
    person.sees("Tam Ferrand instructs this one")
    assert not person.field("Start").is_enabled()
    person.press("Take it over")
    person.press("Take it over")
    person.does_not_see("instructs this one")
    person.until(lambda: person.field("Start").is_enabled())
    person.type("Start", "4000")
    person.stored()
    booking(person)
    person.sees("instructor Tam Ferrand → Ilse Quorn")
    person.type("Reason to cancel", "wind over the school's limit")
    person.press("Cancel the sortie")
    person.sees("Cancelled: wind over the school's limit")
    assert not person.field("Start").is_enabled()
    person.log_out()

    person.log_in("petra")
    person.sees("Cancelled: wind over the school's limit")
    person.log_out()

    person.log_in("tam")
    to_petras(person)
    person.press("Booking")
    person.sees("Ilse Quorn: cancelled. wind over the school's limit")
    person.press("Put it back")
    person.does_not_see("Cancelled:")
    person.sees("Ilse Quorn instructs this one")


@pytest.mark.long
def test_another_day_has_its_own_weather_and_is_briefed_again(person):
    person.log_in("tam")
    to_petras(person)
    person.press("Day")
    person.type("QNH", "1002")
    person.stored()
    booking(person)
    person.one("//*[@role='dialog']//*[@role='spinbutton'][@aria-label='Day']").send_keys(Keys.ARROW_UP)
    person.press("Store the booking")
    person.until(lambda: person.field("QNH").get_attribute("value") == "")
    person.sees("not given")
    person.stored()
