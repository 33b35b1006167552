"""What a person does at the screen: finds things by role and label, and waits until they are there."""

import json
import urllib.request
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import ElementClickInterceptedException, StaleElementReferenceException
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tests.servers import PATIENCE_S
from tools.chromium import set_viewport

AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
PASSWORD = "height-is-the-budget"
# How far the page's clock is ahead, by which it knows a bounce: a test sets it. What would move is there at
# once: drawing it on its way takes a tenth of the time of these tests.
CLOCK = """
const now = performance.now.bind(performance);
let ahead = 0;
performance.now = () => now() + ahead;
window.setAhead = (ms) => { ahead += ms; };
const still = new CSSStyleSheet();
still.replaceSync(`
  *, *::before, *::after { transition: none !important; animation: none !important; }
  @media (pointer: coarse) { :root { --touched: true; } }
`);
addEventListener('DOMContentLoaded', () => document.adoptedStyleSheets.push(still));
"""
A_BREATH_MS = 1000
# Of one page, for Tab.
MOST_STOPS = 200
FOCUSED = """
const e = document.activeElement;
return (e?.getAttribute('aria-label') || e?.labels?.[0]?.innerText || e?.innerText || '').trim();
"""
# Of our pages the style sheets are asked, which are told after the script. A page that is not ours asks for
# no size of its own: on a phone it is drawn as wide as a desk.
TOLD = """
const [width, height, touch] = arguments, sized = `(width: ${width}px) and (height: ${height}px)`;
if (!document.querySelector('meta[name=viewport]')) return touch || matchMedia(sized).matches;
const touched = getComputedStyle(document.documentElement).getPropertyValue('--touched') === 'true';
return touched === touch && matchMedia('(pointer: coarse)').matches === touch && matchMedia(sized).matches;
"""
# The page has been drawn anew, and what moves has arrived.
AT_REST = """
const drawn = () => new Promise((then) => requestAnimationFrame(() => requestAnimationFrame(then)));
const ends = (animation) => animation.effect.getComputedTiming().endTime < 10000;
window.atRest = () =>
  drawn().then(() => Promise.allSettled(document.getAnimations().filter(ends).map((a) => a.finished)));
window.atRest().then(arguments[0]);
"""
# What the first of several XPaths finds that finds anything to be seen. Asked in one call: every one takes
# four processes ten milliseconds, whether it asks for much or little, and most are asked again and again.
SEEN = r"""
const [ways, words, inDialog] = arguments;
const sized = (e) => {
  const box = e.getBoundingClientRect();
  if (e instanceof SVGElement ? box.width || box.height : box.width && box.height) return true;
  if (getComputedStyle(e).overflow === 'hidden') return false;
  return [...e.childNodes].some((n) => (n.nodeType === 3 ? n.data.trim() : n.nodeType === 1 && sized(n)));
};
const seen = (e) => e.checkVisibility({ opacityProperty: true, visibilityProperty: true }) && sized(e);
const found = (way) => {
  const all = document.evaluate(way, document, null, XPathResult.ORDERED_NODE_SNAPSHOT_TYPE);
  return [...Array(all.snapshotLength)].map((_, i) => all.snapshotItem(i)).filter(seen);
};
if (!document.body) return [];
// Looking for where takes the browser much longer than looking whether.
if (words && !document.body.textContent.replace(/\s+/g, ' ').includes(words)) return [];
const dialog = "//*[@role='dialog']";
const inside = inDialog && found(dialog).length ? dialog : '';
for (const way of ways) {
  const these = found(inside + way);
  if (these.length) return these;
}
return [];
"""
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
        self, browser: webdriver.Chrome, url: str, data: Path, sessions: Mapping[str, str] | None = None
    ) -> None:
        """data: the folder of the server. sessions: of those who can be logged in without typing, by their
        log-in."""
        self.browser, self.url, self.data, self.sessions = browser, url, data, sessions or {}
        self.session = ""

    def until(self, what: Callable[[], Any], patience_s: float = PATIENCE_S) -> Any:
        """Wait until something is true, looking again when the page changes under our eyes."""
        wait = WebDriverWait(
            self.browser, patience_s, poll_frequency=0.1, ignored_exceptions=(StaleElementReferenceException,)
        )
        return wait.until(lambda _: what())

    def viewport(self, width: int, height: int, mobile: bool = False) -> None:
        """The page is told a moment later of its size and whether a finger points: that is waited for."""
        set_viewport(self.browser, width, height, mobile)
        self.until(lambda: self.browser.execute_script(TOLD, width, height, mobile))

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

    def all(self, *ways: str, words: str = "", in_dialog: bool = False) -> list[WebElement]:
        """What the first of these XPaths finds that finds anything to be seen; nothing where the page lacks
        these words. in_dialog: in it, when one is open."""
        return list(self.browser.execute_script(SEEN, ways, words, in_dialog))

    def one(self, xpath: str) -> WebElement:
        found: list[WebElement] = self.until(lambda: self.all(xpath))
        return found[0]

    def button(self, words: str) -> WebElement:
        """By its whole label or aria-label, else by the beginning of its label (shortcut keys are shown after
        it). In the dialog, when one is open."""
        q = quoted(words)
        kind = "*[self::button or self::a or @role='button' or @role='tab' or @role='menuitem']"
        exact = f"//{kind}[normalize-space()={q} or @aria-label={q}]"
        begins = f"//{kind}[starts-with(normalize-space(), {q})]"
        found: list[WebElement] = self.until(lambda: self.all(exact, begins, in_dialog=True))
        return found[0]

    def do(self, act: Callable[[], Any]) -> None:
        """Again, when the page changes between finding and doing, or something still lies before it."""

        def done() -> bool:
            try:
                act()
            except ElementClickInterceptedException:
                return False
            return True

        self.until(done)

    def click(self, xpath: str) -> None:
        self.do(lambda: self.one(xpath).click())

    def press(self, words: str) -> None:
        self.do(lambda: self.button(words).click())

    def take(self, words: str, *keys: str) -> None:
        """The big key of Fly, after these keys on it; a breath after the one before."""
        key = self.button(words)
        key.send_keys(*keys) if keys else None
        self.browser.execute_script("setAhead(arguments[0])", A_BREATH_MS)
        key.send_keys(Keys.ENTER)

    def field(self, label: str) -> WebElement:
        """The field that this label belongs to."""
        made = f"//label[starts-with(normalize-space(), {quoted(label)})]"
        return self.one(f"//*[@id={made}/@for] | {made}[not(@for)]//input")

    def type(self, label: str, words: str) -> None:
        """A number is taken when its field is left."""

        def typed() -> None:
            field = self.field(label)
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys(words if words else Keys.DELETE)
            if field.get_dom_attribute("inputmode") == "decimal":
                field.send_keys(Keys.TAB)

        self.do(typed)

    def choose(self, label: str, option: str) -> None:
        named = f"//*[@id and starts-with(normalize-space(), {quoted(label)})][../*//*[@role='combobox']]"
        ids = f"concat(' ', {named}/@id, ' ')"
        self.click(f"//*[@role='combobox'][contains(concat(' ', @aria-labelledby, ' '), {ids})]")
        self.click(f"//*[@role='option'][contains(normalize-space(), {quoted(option)})]")
        self.until(lambda: not self.all("//*[@role='option']"))

    def tick(self, label: str) -> None:
        self.click(f"//label[contains(., {quoted(label)})]//input[@type='checkbox']/ancestor::label")

    def saying(self, words: str) -> list[WebElement]:
        """The innermost elements that say this and are seen."""
        return self.all(_innermost(words), words=words)

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
        self.until(lambda: self.all("//*[@role='status'][normalize-space()='Stored']"))

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
