"""The debrief's part of `make bench`: how soon a recorded lesson is there, how many frames a second its
replay draws with the view in three dimensions and without it, and what that view costs to fetch."""

import time

from selenium import webdriver

from tools.bench_browser import Caller, line, on_the_demo, share
from tools.shots import log_in, seen

OPENS_MS, FRAME_MS, SCENE_KB = 1000.0, 1000.0 / 30.0, 250.0
SIMPLE = "delete window.WebGL2RenderingContext"
SCENE = (
    "return performance.getEntriesByType('resource').filter((r) => r.name.includes('/window-')).reduce((all,"
    " r) => all + r.encodedBodySize, 0)"
)
# From the page's beginning until the account of the third attempt, an incipient spin, stands on it.
WATCH = """
window.__there = null;
let chosen = false;
new MutationObserver(() => {
  const third = document.querySelectorAll('ol button')[2];
  if (third && !chosen) { chosen = true; third.click(); }
  if (window.__there === null && document.body?.innerText.includes('Flown, start to lowest'))
    window.__there = performance.now();
}).observe(document, {subtree: true, childList: true, characterData: true});
"""
# ms from each frame to the next while it plays.
FRAMES = """
const done = arguments[0], times = [];
[...document.querySelectorAll('button')].find((b) => b.innerText.startsWith('Play')).click();
let before = null;
const frame = (now) => {
  if (before !== null) times.push(now - before);
  before = now;
  if (times.length < 120) requestAnimationFrame(frame); else done(times);
};
requestAnimationFrame(frame);
"""


def recorded_sortie(url: str) -> int:
    """The demo's first lesson that was recorded."""
    caller = Caller(url, "ilse")
    student = next(s for s in caller.call("GET", "/api/students") if s["name"].startswith("Corin"))
    attempts = caller.call("GET", f"/api/students/{student['id']}")["attempts"]
    sorties = sorted({int(attempt["sortie_id"]) for attempt in attempts})
    return next(one for one in sorties if caller.call("GET", f"/api/sorties/{one}/recordings"))


def opened(browser: webdriver.Chrome, address: str) -> float:
    """ms until it has its account."""
    browser.get(address)
    seen(browser, "//button[starts-with(., 'Play')]")
    for _ in range(300):
        if browser.execute_script("return window.__there") is not None:
            break
        time.sleep(0.1)
    return float(browser.execute_script("return window.__there"))


def replayed(browser: webdriver.Chrome, words: str) -> None:
    browser.set_script_timeout(60)
    times = browser.execute_async_script(FRAMES)
    line(f"from frame to frame of the replay, {words}, median", share(times, 50), "ms", FRAME_MS)
    line("the same, 95 of 100 within", share(times, 95), "ms", FRAME_MS)


def measure(browser: webdriver.Chrome, url: str) -> None:
    address = f"{url}/sorties/{recorded_sortie(url)}/debrief"
    log_in(browser, url, "ilse")
    seen(browser, "//button[contains(.,'Plan a sortie')]")
    if browser.execute_script(SCENE) > 0:
        raise SystemExit("The scene is fetched with the first screen.")
    watch = {"source": WATCH}
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", watch)
    first = opened(browser, address)
    times = [opened(browser, address) for _ in range(5)]
    line("debrief of a recorded lesson, counted for the first time", first, "ms", OPENS_MS)
    line("the same when it was counted as it came in, median of five", share(times, 50), "ms", OPENS_MS)
    seen(browser, "//canvas")
    line(
        "script of the view out of the window, compressed",
        browser.execute_script(SCENE) / 1e3,
        "kB",
        SCENE_KB,
    )
    replayed(browser, "in three dimensions")
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": SIMPLE})
    opened(browser, address)
    if browser.execute_script("return document.querySelectorAll('canvas').length") > 0:
        raise SystemExit("The view in three dimensions is drawn without what draws it.")
    replayed(browser, "simple")


if __name__ == "__main__":
    on_the_demo("the debrief", measure)
