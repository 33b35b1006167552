"""What people do with the screens: keyboard, drag, undo, print."""

import base64

import pytest
from selenium.webdriver.common.keys import Keys


def first_sortie(person) -> str:
    return f"/sorties/{person.coming('Petra')}"


def test_plan_by_keyboard(person):
    person.log_in("tam", at="")
    sortie = first_sortie(person)
    person.go(sortie)
    person.sees("Height to spend")
    count = len(person.all("//ol/li"))
    person.keys("3")
    person.sees("At the gate")
    person.keys("1")
    person.sees("Height to spend")
    person.keys("j", "j")
    assert person.one("//ol/li//*[@aria-current]").text.startswith("3")
    person.keys("a")
    person.sees("Add a figure")
    person.one("//*[@role='dialog']//input").send_keys("nose", Keys.ENTER)
    person.until(lambda: len(person.all("//ol/li")) == count + 1)
    # While typing, letters are letters.
    before = person.field("Start, ft").get_attribute("value")
    person.type("Start, ft", "5j")
    person.sees("'5j' is not a number")
    person.field("Start, ft").send_keys(Keys.ESCAPE)
    assert person.field("Start, ft").get_attribute("value") == before
    person.undo()  # the figure
    person.until(lambda: len(person.all("//ol/li")) == count)
    person.stored()
    person.keys("?")
    person.sees("the working behind the focused number")
    person.one("//*[@role='dialog']").send_keys(Keys.ESCAPE)
    person.does_not_see("the working behind the focused number")
    person.keys("/")
    person.one("//*[@role='dialog']//input").send_keys("Jonah")
    person.one("//*[@role='option'][.='Jonah Achterby']")
    person.one("//*[@role='dialog']//input").send_keys(Keys.ENTER)
    person.sees("Spins before the autumn crossings")


@pytest.mark.long
def test_dragging_a_notch_recomputes_and_is_one_step_to_undo(person):
    from selenium.webdriver import ActionChains

    person.log_in("tam", at="")
    person.go(first_sortie(person))
    person.sees("Height to spend")

    def start() -> int:
        return int(
            person.one("//*[@role='slider'][starts-with(@aria-label, '5 ')]").get_attribute("aria-valuenow")
        )

    def turns() -> str:
        return person.one("//button[starts-with(@aria-label, 'Turns allowed')]").text

    person.keys("j", "j", "j", "j")
    before, words = start(), turns()
    notch = person.one("//*[@role='slider'][starts-with(@aria-label, '5 ')]//*[name()='circle']")
    ActionChains(person.browser).click_and_hold(notch).move_by_offset(0, -20).move_by_offset(
        0, -20
    ).release().perform()
    person.until(lambda: start() > before + 100)
    assert start() % 50 == 0
    person.until(lambda: turns() != words)
    person.undo()
    person.until(lambda: start() == before)
    person.stored()


def test_the_card_prints_on_one_page_with_nothing_else(person):
    person.log_in("tam", at="")
    person.go(f"{first_sortie(person)}/brief")
    person.sees("Before the flight")
    made = person.browser.execute_cdp_cmd(
        "Page.printToPDF",
        {
            "paperWidth": 5.83,
            "paperHeight": 8.27,
            "marginTop": 0.3,
            "marginBottom": 0.3,
            "marginLeft": 0.3,
            "marginRight": 0.3,
        },
    )
    pdf = base64.b64decode(made["data"])
    assert pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page/") + pdf.count(b"/Type /Page ") == 1
    person.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    try:
        shown = person.browser.execute_script("return document.body.innerText")
    finally:
        person.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})
    assert "One-turn spin, left" in shown
    assert "Floor 3,010 ft" in shown
    assert "Before the flight" not in shown
    assert "Log out" not in shown


def test_a_student_sees_own_flights_only_and_no_way_to_plan(person):
    person.log_in("jonah")
    person.sees("Jonah Achterby")
    assert not person.all("//button[contains(., 'Plan a sortie')]")
    assert not person.all("//*[contains(text(), 'Petra')]")
    person.go("/students/1")
    person.sees("there is no such student, or it is not yours to see")


def test_server_gone_and_back_loses_nothing(person):
    """The network is cut while something is noted: it is kept here, said so, and sent when it is back."""
    person.log_in("tam", at="")
    person.go(f"/sorties/{person.coming('Jonah')}/fly")
    person.sees("At the gate")
    line = {"latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    person.browser.execute_cdp_cmd("Network.enable", {})
    person.browser.execute_cdp_cmd("Network.emulateNetworkConditions", {"offline": True, **line})
    person.take("At the gate")
    person.press("feel")
    person.press("Feel 7")
    person.sees("Offline: 3 entries kept here")
    person.browser.execute_cdp_cmd("Network.emulateNetworkConditions", {"offline": False, **line})
    person.stored()
    person.browser.refresh()
    # It comes back where it was: not all of the first figure is noted.
    person.sees("1 of 7")
    person.press("feel")
    person.until(lambda: person.button("Feel 7").get_attribute("aria-pressed") == "true")


@pytest.mark.parametrize(
    ("at", "shown"),
    [
        ("{sortie}/plan", "One-turn spin, left"),
        ("{sortie}/sign", "Petra Lindqvale"),
        ("/students/1", "thread: height beyond the brief"),
        ("/figures", "approved in"),
    ],
)
def test_a_screen_prints_as_a_sheet_without_what_is_pressed(person, at, shown):
    person.log_in("tam", at="")
    person.go(at.replace("{sortie}", first_sortie(person)))
    person.sees(shown)
    person.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    try:
        person.sees(shown)
        assert [b.text for b in person.all("//button[not(@data-why) and not(@data-print)] | //nav")] == []
        cut = """return [...document.querySelectorAll('main *')].filter((e) =>
            /auto|scroll|hidden/.test(getComputedStyle(e).overflowY)).length"""
        assert person.browser.execute_script(cut) == 0
    finally:
        person.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})
