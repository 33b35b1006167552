"""Every screen at five sizes, as each person meets it: nothing cut, nothing on anything else, nothing that
scrolls to nothing, every stop seen, the main button in sight, no finding of axe, and every dialog closes on
Esc. What is looked at stands in screens.py, how in sweep.js. The main ones in each run; all, at all sizes, in
`make test-long`."""

from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from tests.browser.person import AT_REST, AXE, BUSY, Person
from tests.browser.screens import (
    AT_DUSK,
    FIVE,
    IN_THE_SUN,
    MAIN,
    OTHER_COLOURS,
    PETRA,
    SCREENS,
    SIZES,
    Screen,
)

LOOK = (Path(__file__).parent / "sweep.js").read_text()
LIGHT = """
const chosen = arguments[0], page = document.documentElement;
if (chosen) page.dataset.light = chosen; else delete page.dataset.light;
"""
MODAL = ".MuiDialog-root, .MuiMenu-root"


def reach(person: Person, screen: Screen) -> None:
    if screen.who:
        person.log_in(screen.who, at="")
    at = screen.at
    if "{sortie}" in at:
        at = at.replace("{sortie}", f"/sorties/{person.coming(PETRA)}")
    person.go(at)
    person.one("//h1")
    person.until(lambda: not person.all(BUSY))
    if screen.keys:
        person.keys(*screen.keys)
    for words in screen.presses:
        person.press(words)
    person.sees(screen.waits_for)
    person.until(lambda: not person.all(BUSY))
    # A menu that was pressed on the way stands for a moment yet behind the dialog it opened.
    person.until(lambda: len(person.browser.find_elements("css selector", MODAL)) <= screen.dialog)


def looked_at(person: Person, screen: Screen, size: str) -> list[str]:
    width, height, touch, dark, sun = SIZES[size]
    person.viewport(width, height, touch)
    person.scheme("dark" if dark else "light")
    person.browser.execute_script(LIGHT, "sun" if sun else "")
    webdriver.ActionChains(person.browser).send_keys(Keys.F8).perform()
    person.browser.execute_async_script(AT_REST)
    found: list[str] = person.browser.execute_async_script(
        LOOK, {"touch": touch, "button": screen.button, "axe": axe_at(size, screen)}
    )
    return found


def axe_at(size: str, screen: Screen) -> list[str]:
    """Which of its rules: all at the desk, or at the only size; of colours alone where only they differ."""
    if size in OTHER_COLOURS:
        return ["color-contrast"]
    return ["all"] if size == "desk" or screen.sizes == (size,) else []


def found_at(person: Person, screen: Screen, sizes: tuple[str, ...]) -> dict[str, list[str]]:
    reach(person, screen)
    person.browser.execute_script(AXE.read_text())
    return {size: faults for size in sizes if (faults := looked_at(person, screen, size))}


@pytest.mark.parametrize("screen", [s for s in SCREENS if s.name in MAIN], ids=lambda screen: screen.name)
def test_a_main_screen_at_the_desk_and_on_a_phone(person, screen):
    assert found_at(person, screen, ("desk", "phone")) == {}


@pytest.mark.long
@pytest.mark.parametrize("screen", SCREENS, ids=lambda screen: screen.name)
def test_a_screen_at_every_size(person, screen):
    sizes = (screen.sizes or FIVE) + (("dusk",) if screen.name in AT_DUSK else ())
    sizes += ("sun",) if screen.name in IN_THE_SUN else ()
    assert found_at(person, screen, sizes) == {}
    if screen.dialog:
        webdriver.ActionChains(person.browser).send_keys(Keys.ESCAPE).perform()
        person.until(lambda: not person.all("//*[@role='dialog' or @role='menu']"))
