"""The part of `make bench` about the flight: from the tap to the device and to the eye, an outbox of ten
thousand, three hours with the recorder, in one run on this machine."""

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from selenium import webdriver

from tools.bench_browser import Caller, line, share
from tools.chromium import open_chromium, set_viewport
from tools.shots import log_in, seen, serve

BASE = Path(__file__).resolve().parents[1]
STORED_MS, VISIBLE_MS, SENT_S, PAGE_MB = 50.0, 100.0, 30.0, 300.0
HOURS, PACE, RATE_HZ = 3.0, 120.0, 16.0
OUTBOX = 10_000

# Every key of the next goes at the figure, each timed to the frame in which the next key stands there, and to
# the end of the transaction that stored it.
TAPS = """
const done = arguments[arguments.length - 1], [goes, keys, person] = arguments;
const buttons = () => [...document.querySelectorAll('button')];
const button = (words) => buttons().find((b) => b.textContent.startsWith(words));
const stored = [], visible = [];
const rest = (ms) => new Promise((later) => setTimeout(later, ms));
const frame = () => new Promise(requestAnimationFrame);
const opened = new Promise((open) => {
  const asked = indexedDB.open(`keelturn-${person}`);
  asked.onsuccess = () => open(asked.result);
});
const count = async () => {
  const store = (await opened).transaction('entries').objectStore('entries').count();
  return new Promise((counted) => { store.onsuccess = () => counted(store.result); });
};
const told = async () => {
  const seen = () => document.querySelector('[role=alertdialog] button:last-of-type');
  for (let key; (key = seen()); await rest(50)) key.click();
};
const tap = async (words) => {
  await told();
  const key = button(words), was = key.textContent;
  const before = await count();
  const began = performance.now();
  key.click();
  const kept = (async () => {
    while ((await count()) === before);
    return performance.now();
  })();
  while (button(words)?.textContent === was) await frame();
  await frame();
  visible.push(performance.now() - began);
  stored.push((await kept) - began);
  await rest(330);
};
const all = async () => {
  for (let go = 0; go < goes; go += 1) {
    await told();
    button('Again').click();
    await rest(350);
    for (const words of keys) await tap(words);
  }
  return {stored, visible};
};
all().finally(async () => (await opened).close()).then(done, (error) => done({error: String(error)}));
"""
KEYS = ("At the gate", "Recover", "Lowest", "Level")
FILL = """
const done = arguments[arguments.length - 1], rows = arguments[0], person = arguments[1];
const asked = indexedDB.open(`keelturn-${person}`);
asked.onsuccess = () => {
  const all = asked.result.transaction('entries', 'readwrite');
  rows.forEach((row) => all.objectStore('entries').put(row));
  all.oncomplete = () => { asked.result.close(); done(true); };
};
"""
WAITING = """
const done = arguments[arguments.length - 1], asked = indexedDB.open(`keelturn-${arguments[0]}`);
asked.onsuccess = () => {
  const count = asked.result.transaction('entries').objectStore('entries').index('state').count('waiting');
  count.onsuccess = () => { asked.result.close(); done(count.result); };
};
"""


def outbox(sortie: dict[str, Any]) -> list[dict[str, Any]]:
    """What ten thousand taps leave: five hundred goes, each height of them corrected again and again."""
    rows: list[dict[str, Any]] = []

    def add(attempt: str, what: str, value: Any, replaces: list[str]) -> str:
        name = f"bench-{len(rows):06d}"
        entry = {"id": name, "attempt": attempt, "what": what, "about": "", "value": value}
        device = {"device": "bench", "at": "2026-05-14T10:00:00Z", "offset_s": 0, "source": "hand", "by": ""}
        kept = {"id": name, "sortie": sortie["id"], "n": len(rows), "state": "waiting"}
        rows.append({**kept, "entry": {**entry, **device, "replaces": replaces}})
        return name

    go = 0
    while len(rows) < OUTBOX:
        planned = sortie["plan"]["figures"][go % len(sortie["plan"]["figures"])]
        go += 1
        attempt = f"{planned['id']}.{1000 + go}"
        add(attempt, "figure", planned, [])
        add(attempt, "start_ft", planned["start_ft"], [])
        last: list[str] = []
        for correction in range(16):
            last = [add(attempt, "lowest_ft", planned["start_ft"] - 600 - 20 * correction, last)]
        add(attempt, "feel", 7, [])
        add(attempt, "flown_by", "student alone", [])
    return rows[:OUTBOX]


def weight_mb(browser: webdriver.Chrome) -> float:
    """Of the heaviest page: its share of memory, as the kernel counts it."""
    heaviest = 0.0
    for process in Path("/proc").glob("[0-9]*"):
        try:
            if b"--type=renderer" not in (process / "cmdline").read_bytes():
                continue
            said = (process / "smaps_rollup").read_text()
        except OSError:
            continue
        share_kb = next(int(row.split()[1]) for row in said.splitlines() if row.startswith("Pss:"))
        heaviest = max(heaviest, share_kb / 1000.0)
    return heaviest


def recorder(document: Path, port: int, pace: float, flights: int) -> subprocess.Popen[str]:
    manner = ["--port", str(port), "--pace", str(pace), "--flights", str(flights)]
    return subprocess.Popen(
        [sys.executable, "-m", "keelturn", "live", *manner, str(document)],
        cwd=BASE,
        stdout=subprocess.PIPE,
        text=True,
    )


def measure(browser: webdriver.Chrome, url: str, folder: Path) -> None:
    tam, chief = Caller(url, "tam"), Caller(url, "morag")
    sortie = next(s for s in tam.call("GET", "/api/today")["sorties"] if s["student"].startswith("Jonah"))
    whole = tam.call("GET", f"/api/sorties/{sortie['id']}")
    person = tam.call("GET", "/api/session")["person"]["id"]
    document = folder / "plan.json"
    request = tam.call("GET", f"/api/sorties/{sortie['id']}/plan.json")
    document.write_text(json.dumps({**request, "sensors": {"rate_hz": RATE_HZ, "dropouts_share": 0.01}}))
    # The figures of one flight take so long; the stream goes on for three hours.
    flights = max(1, round(HOURS * 60.0 / 17.0))
    box = recorder(document, 0, PACE, flights)
    address = (box.stdout.readline() if box.stdout else "").split()[2]
    held = chief.call("GET", "/api/standards")
    held["standards"]["recorder"] = address
    chief.call("PUT", "/api/standards", held)

    set_viewport(browser, 390, 844, mobile=True)
    log_in(browser, url, "tam")
    browser.set_script_timeout(90)
    fly = f"{url}/sorties/{sortie['id']}/fly"
    browser.get(fly)
    seen(browser, "//*[@aria-label='Recorder']")
    time.sleep(HOURS * 3600.0 / PACE)
    line("the page after three hours of sixteen samples a second", weight_mb(browser), "MB", PAGE_MB)
    box.kill()
    box.wait()
    again = recorder(document, int(address.rsplit(":", 1)[1]), 1.0, 1)
    seen(browser, "//*[@aria-label='Recorder'][starts-with(., 'Recorder ')]")
    taps(browser, person, "while it streams")
    again.kill()
    again.wait()

    browser.get("about:blank")
    browser.get(f"{url}/students")
    seen(browser, "//h1")
    browser.execute_async_script(FILL, outbox(whole), person)
    began = time.monotonic()
    browser.get(fly)
    while browser.execute_async_script(WAITING, person):
        time.sleep(0.2)
    line("an outbox of ten thousand sent", time.monotonic() - began, "s", SENT_S)
    there = [e["id"] for e in tam.call("GET", f"/api/sorties/{sortie['id']}")["entries"]]
    kept = sum(name.startswith("bench-") for name in there)
    print(f"of them on the server: {kept} of {OUTBOX}, each once: {len(there) == len(set(there))}")


def taps(browser: webdriver.Chrome, person: int, when: str) -> None:
    found = browser.execute_async_script(TAPS, 8, list(KEYS), person)
    if "error" in found:
        raise SystemExit(f"The taps could not be made: {found['error']}")
    line(f"tap to stored on the device {when}, 95 of 100 within", share(found["stored"], 95), "ms", STORED_MS)
    line(f"tap to seen {when}, 95 of 100 within", share(found["visible"], 95), "ms", VISIBLE_MS)


def main() -> None:
    print("\nin flight, with the demo school:")
    server, url = serve(tempfile.mkdtemp())
    browser = open_chromium()
    try:
        measure(browser, url, Path(tempfile.mkdtemp()))
    finally:
        browser.quit()
        server.terminate()


if __name__ == "__main__":
    main()
