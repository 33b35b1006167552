"""What a person does at the screen: finds things by role and label, and waits until they are there."""

import json
import time
import urllib.request
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import ElementClickInterceptedException, StaleElementReferenceException
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tools.chromium import set_viewport

AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
PASSWORD = "height-is-the-budget"
PATIENCE_S = 30
# Of one page, for Tab.
MOST_STOPS = 200
FOCUSED = """
const e = document.activeElement;
return (e?.getAttribute('aria-label') || e?.labels?.[0]?.innerText || e?.innerText || '').trim();
"""
# The page has been drawn anew, and what moves has arrived.
AT_REST = """
const drawn = () => new Promise((then) => requestAnimationFrame(() => requestAnimationFrame(then)));
const ends = (animation) => animation.effect.getComputedTiming().endTime < 10000;
window.atRest = () =>
  drawn().then(() => Promise.allSettled(document.getAnimations().filter(ends).map((a) => a.finished)));
window.atRest().then(arguments[0]);
"""
SAID = r"return document.body.textContent.replace(/\s+/g, ' ').includes(arguments[0])"
BUSY = (
    "//*[@role='status'][starts-with(., 'Reading ') or contains(., 'computing') or contains(., 'Flying it')]"
)


def quoted(words: str) -> str:
    return f'"{words}"' if '"' not in words else f"'{words}'"


def _innermost(words: str) -> str:
    q = quoted(words)
    return f"//body//*[contains(normalize-space(), {q})][not(*[contains(normalize-space(), {q})])]"


class Person:
    def __init__(
        self, browser: webdriver.Chrome, url: str, sessions: Mapping[str, str] | None = None
    ) -> None:
        """sessions: of those who can be logged in without typing, by their log-in."""
        self.browser, self.url, self.sessions = browser, url, sessions or {}
        self.session = ""

    def until(self, what: Callable[[], Any], patience_s: float = PATIENCE_S) -> Any:
        """Wait until something is true, looking again when the page changes under our eyes."""
        wait = WebDriverWait(
            self.browser, patience_s, poll_frequency=0.1, ignored_exceptions=(StaleElementReferenceException,)
        )
        return wait.until(lambda _: what())

    def viewport(self, width: int, height: int, mobile: bool = False) -> None:
        """The page is told a moment later whether a finger points: that is waited for, for a while."""
        set_viewport(self.browser, width, height, mobile)
        points = "return matchMedia('(pointer: coarse)').matches === arguments[0]"
        for _ in range(30):
            if self.browser.execute_script(points, mobile):
                return
            time.sleep(0.1)

    def scheme(self, name: str) -> None:
        """The colours that the system asks for: light or dark."""
        features = [{"name": "prefers-color-scheme", "value": name}]
        self.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})

    def go(self, path: str) -> None:
        self.browser.get(self.url + path)

    def log_in(self, username: str, at: str = "/") -> None:
        """With a session that was begun before, where there is one that has not ended: the form has tests of
        its own. at: where to then; nowhere when it is empty. A page that nobody looks at is not opened: every
        one takes a second."""
        self.browser.execute_cdp_cmd("Network.clearBrowserCookies", {})
        self.session = self.sessions.get(username, "")
        if not self.session or self.ask("/api/session")["person"] is None:
            self.log_in_by_form(username)
            self.session = str(self.browser.get_cookie("sessionid")["value"])
            if at == "/":
                return
        cookie = {"name": "sessionid", "value": self.session, "url": self.url}
        self.browser.execute_cdp_cmd("Network.setCookie", cookie)
        if at:
            self.go(at)

    def ask(self, path: str) -> Any:
        """What the server answers this person, besides the page."""
        asked = urllib.request.Request(self.url + path, headers={"Cookie": f"sessionid={self.session}"})
        with urllib.request.urlopen(asked, timeout=PATIENCE_S) as answer:
            return json.load(answer)

    def coming(self, student: str) -> int:
        """The number of today's sortie of a student that begins so."""
        sorties = self.ask("/api/today")["sorties"]
        return int(next(s["id"] for s in sorties if s["student"].startswith(student)))

    def log_in_by_form(self, username: str) -> None:
        self.go("/")
        self.type("Name to log in", username)
        self.type("Password", PASSWORD)
        self.press("Log in")
        self.until(lambda: self.all("//button[.='Log out']"))

    def log_out(self) -> None:
        self.go("/")
        self.press("Log out")
        self.field("Name to log in")

    def all(self, xpath: str) -> list[WebElement]:
        return [e for e in self.browser.find_elements(By.XPATH, xpath) if e.is_displayed()]

    def one(self, xpath: str) -> WebElement:
        found: list[WebElement] = self.until(lambda: self.all(xpath))
        return found[0]

    def button(self, words: str) -> WebElement:
        """By its whole label or aria-label, else by the beginning of its label (shortcut keys are shown after
        it). In the dialog, when one is open."""
        q = quoted(words)
        kind = "*[self::button or self::a or @role='button' or @role='tab' or @role='menuitem']"

        def look() -> list[WebElement]:
            inside = "//*[@role='dialog']" if self.all("//*[@role='dialog']") else ""
            exact = self.all(f"{inside}//{kind}[normalize-space()={q} or @aria-label={q}]")
            return exact or self.all(f"{inside}//{kind}[starts-with(normalize-space(), {q})]")

        found: list[WebElement] = self.until(look)
        return found[0]

    def press(self, words: str) -> None:
        def click() -> bool:
            try:
                self.button(words).click()
            except ElementClickInterceptedException:
                return False
            return True

        self.until(click)

    def take(self, words: str, *keys: str) -> None:
        """The big key of Fly, after these keys on it; a thumb does not come again at once."""
        key = self.button(words)
        key.send_keys(*keys) if keys else None
        time.sleep(0.35)
        key.send_keys(Keys.ENTER)

    def field(self, label: str) -> WebElement:
        """The field that this label belongs to."""
        made = self.one(f"//label[starts-with(normalize-space(), {quoted(label)})]")
        name = made.get_attribute("for")
        return self.one(f"//*[@id='{name}']") if name else made.find_element(By.XPATH, ".//input")

    def type(self, label: str, words: str) -> None:
        """A number is taken when its field is left."""
        field = self.field(label)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(words if words else Keys.DELETE)
        if field.get_attribute("inputmode") == "decimal":
            field.send_keys(Keys.TAB)

    def choose(self, label: str, option: str) -> None:
        named = self.one(
            f"//*[@id and starts-with(normalize-space(), {quoted(label)})][../*//*[@role='combobox']]"
        ).get_attribute("id")
        self.one(f"//*[@role='combobox'][contains(concat(' ', @aria-labelledby, ' '), ' {named} ')]").click()
        self.one(f"//*[@role='option'][contains(normalize-space(), {quoted(option)})]").click()
        self.until(lambda: not self.all("//*[@role='option']"))

    def tick(self, label: str) -> None:
        self.one(f"//label[contains(., {quoted(label)})]//input[@type='checkbox']/ancestor::label").click()

    def saying(self, words: str) -> list[WebElement]:
        """The innermost elements that say this and are seen. Whether the page has the words at all is asked
        first: looking for where takes the browser much longer, and it is asked again and again."""
        return self.all(_innermost(words)) if self.browser.execute_script(SAID, words) else []

    def sees(self, words: str) -> WebElement:
        found: list[WebElement] = self.until(lambda: self.saying(words))
        return found[0]

    def does_not_see(self, words: str) -> None:
        self.until(lambda: not self.saying(words))

    def keys(self, *keys: str) -> None:
        """Press keys with nothing focused but the page."""
        self.browser.execute_script("document.activeElement?.blur()")
        for key in keys:
            webdriver.ActionChains(self.browser).send_keys(key).perform()

    def tab_to(self, words: str) -> None:
        """By Tab alone, until what has this label, or one that begins so, is focused."""
        for _ in range(MOST_STOPS):
            webdriver.ActionChains(self.browser).send_keys(Keys.TAB).perform()
            if str(self.browser.execute_script(FOCUSED)).startswith(words):
                return
        raise AssertionError(f"no stop of Tab is called {words}")

    def type_here(self, *keys: str) -> None:
        """Into what is focused."""
        webdriver.ActionChains(self.browser).send_keys(*keys).perform()

    def undo(self) -> None:
        self.browser.execute_script("document.activeElement?.blur()")
        webdriver.ActionChains(self.browser).key_down(Keys.CONTROL).send_keys("z").key_up(
            Keys.CONTROL
        ).perform()

    def stored(self) -> None:
        """Wait until what was entered is on the server."""
        self.until(lambda: [e for e in self.all("//*[@role='status']") if e.text == "Stored"])

    def at_rest(self) -> None:
        """Wait until nothing is computed, and nothing moves any more."""
        self.until(lambda: not self.all(BUSY))
        self.browser.execute_async_script(AT_REST)

    def serious_faults_of_access(self) -> list[str]:
        """axe-core's serious and critical findings on this screen."""
        self.browser.execute_script(AXE.read_text())
        found = self.browser.execute_async_script(
            "axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']}).then(arguments[0])"
        )
        return [
            f"{v['id']}: {v['help']} {[n['target'] for n in v['nodes']][:4]}"
            for v in found["violations"]
            if v["impact"] in ("serious", "critical")
        ]
