"""The week: bookings dragged, made longer, put back, and what that would mean said on the way; who is not to
be had, from a calendar's file; dates of people and aircraft."""

from datetime import UTC, datetime, timedelta

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

PETRA, JONAH = "Petra Lindqvale", "Jonah Achterby"


def bar(person, student):
    return person.one(f"//button[@data-booking][contains(@aria-label, '{student}')]")


def hour_px(person) -> float:
    """How wide an hour is drawn."""
    one = bar(person, PETRA)
    return one.size["width"] / 1.5


@pytest.fixture
def week(person):
    person.log_in("tam")
    person.press("The week")
    bar(person, PETRA)
    return person


def held_by(person, element, right_px: float, down_px: float = 0.0):
    """Taken and moved, and not let go of."""
    chain = webdriver.ActionChains(person.browser, duration=30).click_and_hold(element)
    chain.move_by_offset(int(right_px / 2), int(down_px / 2))
    chain.move_by_offset(round(right_px) - int(right_px / 2), round(down_px) - int(down_px / 2)).perform()


def let_go(person) -> None:
    webdriver.ActionChains(person.browser).release().perform()


def test_dragged_it_says_what_it_means_and_can_be_put_back(week):
    hour = hour_px(week)
    held_by(week, bar(week, PETRA), 3 * hour)
    week.sees("13:30 to 15:00")
    week.sees("QX-ROE and Tam Ferrand booked 14:00 to 15:30")
    webdriver.ActionChains(week.browser, duration=30).move_by_offset(round(-2 * hour), 0).perform()
    week.sees("11:30 to 13:00")
    week.sees("nobody else wants it")
    let_go(week)
    week.press("Undo the move")
    week.sees("10:30 to 12:00")


@pytest.mark.long
def test_its_end_makes_it_longer_and_the_arrow_keys_do_the_same(week):
    one = bar(week, PETRA)
    held_by(week, one.find_element(By.XPATH, ".//*[@data-end]"), 0.5 * hour_px(week))
    week.sees("10:30 to 12:30")
    let_go(week)
    week.until(lambda: "10:30 to 12:30" in bar(week, PETRA).get_attribute("aria-label"))
    bar(week, PETRA).send_keys(Keys.SHIFT + Keys.ARROW_LEFT)
    bar(week, PETRA).send_keys(Keys.ARROW_RIGHT)
    week.sees("10:45 to 12:30")
    bar(week, PETRA).send_keys(Keys.ESCAPE)
    week.sees("10:30 to 12:30")
    bar(week, PETRA).send_keys(Keys.ARROW_RIGHT)
    bar(week, PETRA).send_keys(Keys.ENTER)
    week.until(lambda: "10:45 to 12:45" in bar(week, PETRA).get_attribute("aria-label"))


def test_what_was_briefed_is_asked_about_and_another_instructors_lane_hands_it_over(week):
    held_by(week, bar(week, JONAH), hour_px(week))
    let_go(week)
    week.sees("It is briefed again.")
    week.press("Leave it")
    week.sees("14:00 to 15:30")
    week.press("By instructor")
    week.until(lambda: bar(week, PETRA))
    lanes = week.all("//*[@data-track][@data-day][.//button[contains(@aria-label, 'Petra Lindqvale')]]")
    day = lanes[0].get_attribute("data-day")
    rows = week.all(f"//*[@data-track][@data-day='{day}']")
    up = [row.rect["y"] for row in rows]
    # Bryn, Ilse, Morag, Tam: two lanes up is Ilse's.
    held_by(week, bar(week, PETRA), 0, up[1] - up[3])
    week.sees("That instructor has their own weight")
    let_go(week)
    week.press("Move it")
    week.until(lambda: "Ilse Quorn" in bar(week, PETRA).get_attribute("aria-label"))


def test_a_free_place_is_planned_in(week):
    track = bar(week, PETRA).find_element(By.XPATH, "./ancestor::*[@data-track]")
    webdriver.ActionChains(week.browser).move_to_element_with_offset(
        track, round(-track.size["width"] / 2 + 5.2 * hour_px(week)), 0
    ).click().perform()
    week.sees("12:00 to 13:30")
    week.press("Plan a sortie here")
    week.choose("Student", "Davin Ostrel")
    week.sees("Plan this")
    week.until(
        lambda: (
            "12:00" in week.one("//*[@role='dialog']").text.replace("\u2009", "").replace(" ", "")
            or week.all("//*[@role='spinbutton'][@aria-label='Hours'][.='12']")
        )
    )
    assert week.one("//*[@role='combobox'][contains(., 'QX-ROE')]")


def calendar(*events: tuple[datetime, int, str]) -> str:
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//tests//EN"]
    for n, (begins, hours, words) in enumerate(events):
        ends = begins + timedelta(hours=hours)
        lines += [
            "BEGIN:VEVENT",
            f"UID:{n}@tests",
            "DTSTAMP:20300101T000000Z",
            f"DTSTART:{begins:%Y%m%dT%H%M%SZ}",
            f"DTEND:{ends:%Y%m%dT%H%M%SZ}",
            f"SUMMARY:{words}",
            "END:VEVENT",
        ]
    return "\r\n".join([*lines, "END:VCALENDAR", ""])


@pytest.mark.long
def test_a_calendars_file_says_when_the_aircraft_is_not_to_be_had(week, served, tmp_path):
    now = datetime.fromisoformat(served.caller("tam").call("GET", "/api/week")["now"]).astimezone(UTC)
    file = tmp_path / "workshop.ics"
    file.write_text(calendar((now.replace(hour=9, minute=0, second=0), 6, "New tyre")))
    week.press("Not to be had")
    week.choose("Who or what", "QX-ROE")
    week.browser.find_element(By.CSS_SELECTOR, "[role=dialog] input[type=file]").send_keys(str(file))
    week.sees("For QX-ROE: one time ahead")
    week.press("Take one time over")
    week.sees("one time stored")
    week.press("Close")
    week.sees("New tyre")
    bar(week, PETRA).click()
    week.sees("QX-ROE not to be had: New tyre")


@pytest.mark.long
def test_a_date_that_has_ended_stops_the_plan(person):
    person.log_in("morag", "/dates")
    person.press("Change Inspection of QX-ROE")
    person.one("//*[@role='dialog']//*[@role='spinbutton'][@aria-label='Year']").send_keys(Keys.ARROW_DOWN)
    person.press("Store the date")
    person.sees("ago")
    person.log_out()
    person.log_in("tam")
    person.one(
        f"//main//p[contains(., '{PETRA}')]/ancestor::*[.//a][1]//a[contains(@href, '/sorties/')]"
    ).click()
    person.sees("Inspection of QX-ROE")
    person.sees("Ended on")
