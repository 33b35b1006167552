"""The screens' part of `make bench`: what a person waits for in the browser, as ratios to the targets, in one
run on this machine."""

import json
import tempfile
import time
import urllib.request
from collections.abc import Callable
from http.cookiejar import Cookie, CookieJar
from typing import Any

from selenium import webdriver

from tests.flights import figure
from tools.bench import SIX_SPINS
from tools.chromium import open_chromium
from tools.shots import PASSWORD, log_in, seen, serve

TARGETS = {
    "handling_ms": 100.0,
    "answer_ms": 40.0,
    "cold_ms": 1500.0,
    "script_kb": 300.0,
    "thin_line_ms": 2000.0,
}
# A thin line: bytes a second each way, and milliseconds there and back.
THIN_LINE = {"offline": False, "latency": 400, "downloadThroughput": 50_000, "uploadThroughput": 50_000}
# When the first notch of the strip stands on the page: the plan can be worked on.
WATCH = """
window.__usable = null;
new MutationObserver(() => {
  if (window.__usable !== null || !document.querySelector('[data-notch][role=slider]')) return;
  window.__usable = performance.now();
}).observe(document, {subtree: true, childList: true});
"""
# A notch is taken and moved up and down; each move is timed from the event to the frame after the one that
# drew it.
HANDLE = """
const done = arguments[0], notch = document.querySelectorAll('[data-notch][role=slider]')[5];
const box = notch.getBoundingClientRect();
const x = box.left + box.width / 2, y = box.top + box.height - 8, times = [];
const pointer = {bubbles: true, pointerId: 1, clientX: x, buttons: 1};
const send = (kind, dy) => notch.dispatchEvent(new PointerEvent(kind, {...pointer, clientY: y + dy}));
notch.setPointerCapture = () => {}; notch.hasPointerCapture = () => true;
performance.clearResourceTimings();
send('pointerdown', 0);
let i = 0;
const step = () => {
  const before = notch.getAttribute('aria-valuenow'), began = performance.now();
  send('pointermove', -30 * Math.sin(i / 6) - (i % 2));
  requestAnimationFrame(() => requestAnimationFrame(() => {
    times.push([performance.now() - began, notch.getAttribute('aria-valuenow') !== before]);
    if (++i < 90) setTimeout(step, 40);
    else {
      send('pointerup', 0);
      setTimeout(() => {
        const asked = performance.getEntriesByType('resource').filter((r) => r.name.endsWith('/preview'));
        done({times, answers: asked.map((r) => r.responseEnd - r.requestStart)});
      }, 600);
    }
  }));
};
step();
"""
# A notch is moved by a key; until every number on the screen is of that draft again.
FOLLOW = """
const done = arguments[0], notch = document.querySelectorAll('[data-notch][role=slider]')[5], times = [];
const move = () => {
  const began = performance.now();
  notch.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowUp', bubbles: true, cancelable: true}));
  const look = () => {
    const stale = document.querySelector('[data-stale]') || performance.now() - began < 100;
    if (stale) return setTimeout(look, 10);
    times.push(performance.now() - began);
    if (times.length < 10) setTimeout(move, 1500); else done(times);
  };
  look();
};
move();
"""
SCRIPTS = (
    "return performance.getEntriesByType('resource').filter((r) => r.name.endsWith('.js')).reduce((all, r) =>"
    " all + r.encodedBodySize, 0)"
)


def cookie(name: str, value: str) -> Cookie:
    """For this machine."""
    here = {"domain": "127.0.0.1", "domain_specified": False, "domain_initial_dot": False}
    lasting = {"expires": None, "discard": True, "secure": False}
    path = {"port": None, "port_specified": False, "path": "/", "path_specified": True}
    said: dict[str, Any] = {"comment": None, "comment_url": None, "rest": {}}
    return Cookie(0, name, value, **here, **lasting, **path, **said)  # type: ignore[arg-type]


class Caller:
    """Calls of the API as somebody logged in, or with a session that was begun before."""

    def __init__(self, url: str, username: str, session: str | None = None) -> None:
        self.url, self.jar = url, CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        if session is not None:
            self.jar.set_cookie(cookie("sessionid", session))
        self.call("GET", "/api/session")
        if session is None:
            self.call("POST", "/api/session/login", {"username": username, "password": PASSWORD})

    def call(self, method: str, path: str, body: Any = None) -> Any:
        token = next((c.value for c in self.jar if c.name == "csrftoken"), "") or ""
        request = urllib.request.Request(
            self.url + path,
            None if body is None else json.dumps(body).encode(),
            method=method,
            headers={"Content-Type": "application/json", "X-CSRFToken": token},
        )
        return json.loads(self.opener.open(request).read() or b"null")


def twelve_figures(url: str) -> int:
    """A sortie with twelve figures, made through the API; its id."""
    caller = Caller(url, "tam")
    aircraft = next(a for a in caller.call("GET", "/api/aircraft") if a["registration"] == "QX-ROE")
    place = next(p for p in caller.call("GET", "/api/places") if p["place"]["name"].startswith("Skarra"))
    student = caller.call("GET", "/api/students")[0]["id"]
    made = caller.call(
        "POST",
        "/api/sorties",
        {
            "student_id": student,
            "aircraft_id": aircraft["id"],
            "place_id": place["id"],
            "planned_for": "2030-05-14T10:00:00Z",
        },
    )
    figures = [
        figure(key, 5000, id=f"f{i}").model_dump(mode="json") for i, key in enumerate(SIX_SPINS, start=1)
    ]
    caller.call(
        "PUT",
        f"/api/sorties/{made['id']}",
        {"version": made["version"], "plan": {**made["plan"], "figures": figures}},
    )
    return int(made["id"])


def share(times: list[float], percent: float) -> float:
    return sorted(times)[min(len(times) - 1, int(percent / 100.0 * len(times)))]


def line(words: str, value: float, unit: str, target: float) -> None:
    print(f"{words:62s} {value:8.1f} {unit}   target {target:g} {unit}: {value / target:.2f} of it")


def measure(browser: webdriver.Chrome, url: str) -> None:
    browser.execute_cdp_cmd("Network.enable", {})
    browser.execute_cdp_cmd("Network.clearBrowserCache", {})
    log_in(browser, url, "tam")
    browser.execute_cdp_cmd("Network.clearBrowserCache", {})
    browser.get(url)
    seen(browser, "//button[contains(.,'Plan a sortie')]")
    line(
        "script for the first screen, compressed",
        browser.execute_script(SCRIPTS) / 1000.0,
        "kB",
        TARGETS["script_kb"],
    )
    sortie = twelve_figures(url)
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": WATCH})
    usable = []
    for _ in range(5):
        browser.execute_cdp_cmd("Network.clearBrowserCache", {})
        browser.get(f"{url}/sorties/{sortie}/plan")
        seen(browser, "//*[@data-notch][@role='slider']")
        usable.append(float(browser.execute_script("return window.__usable")))
    line("Plan usable after a cold load, median of five", share(usable, 50), "ms", TARGETS["cold_ms"])
    browser.set_script_timeout(60)
    browser.execute_async_script(HANDLE)
    found = browser.execute_async_script(HANDLE)
    handled, moved = [t for t, _ in found["times"]], sum(m for _, m in found["times"])
    if moved < len(handled) / 2:
        raise SystemExit(f"The notch moved only {moved} times of {len(handled)}: nothing was measured.")
    line(
        "notch moved to picture redrawn, 12 figures, 95 of 100 within",
        share(handled, 95),
        "ms",
        TARGETS["handling_ms"],
    )
    line(
        f"an answer while the notch is moved, median of {len(found['answers'])}",
        share(found["answers"], 50),
        "ms",
        TARGETS["answer_ms"],
    )
    browser.execute_cdp_cmd("Network.emulateNetworkConditions", THIN_LINE)
    line(
        "at 400 kbit/s and 400 ms the numbers follow a key, 95 of 100 within",
        share(browser.execute_async_script(FOLLOW), 95),
        "ms",
        TARGETS["thin_line_ms"],
    )
    browser.execute_cdp_cmd(
        "Network.emulateNetworkConditions",
        {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
    )
    browser.get("about:blank")
    alone = answers(url, sortie)
    line(
        "server's answer to that plan by itself, median of fifty",
        share(alone, 50),
        "ms",
        TARGETS["answer_ms"],
    )
    line("the same, 95 of 100 within", share(alone, 95), "ms", TARGETS["answer_ms"])


def answers(url: str, sortie: int) -> list[float]:
    """The same plan with one start changed, asked for by itself fifty times: ms that the server takes."""
    caller, times = Caller(url, "tam"), []
    found = caller.call("GET", f"/api/sorties/{sortie}")
    draft = {name: found[name] for name in ("plan", "aircraft_id", "place_id")}
    for i in range(60):
        draft["plan"]["figures"][5]["start_ft"] = 5000 + 10 * i
        began = time.perf_counter()
        caller.call("POST", f"/api/sorties/{sortie}/preview", draft)
        times.append(1000.0 * (time.perf_counter() - began))
    return times[10:]


def on_the_demo(words: str, measured: Callable[[webdriver.Chrome, str], None]) -> None:
    """measured: with a browser, and where the demo school is served."""
    print(f"\n{words}, with the demo school:")
    server, url = serve(tempfile.mkdtemp())
    browser = open_chromium()
    try:
        measured(browser, url)
    finally:
        browser.quit()
        server.terminate()


if __name__ == "__main__":
    on_the_demo("in the browser", measure)
