"""`make shots`: the pictures in docs/screenshots, from fresh demo data of one fixed day."""

import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from tools.chromium import open_chromium, set_viewport

BASE = Path(__file__).resolve().parent.parent
PICTURES = Path(os.environ.get("SHOTS_TO", BASE / "docs" / "screenshots"))
PASSWORD = "height-is-the-budget"
THE_DAY = "2026-05-14T08:00"


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


def serve(data: str) -> tuple[subprocess.Popen[bytes], str]:
    settings = {
        "KEELTURN_DEMO": "1",
        "KEELTURN_DATA": data,
        "KEELTURN_NOW": THE_DAY,
        "DJANGO_SETTINGS_MODULE": "server.settings",
    }
    env = {**os.environ, **settings}
    python = sys.executable
    if not (Path(data) / "keelturn.sqlite3").exists():
        subprocess.run([python, "manage.py", "migrate", "-v0"], cwd=BASE, env=env, check=True)
        subprocess.run([python, "manage.py", "load_demo"], cwd=BASE, env=env, check=True)
    port = free_port()
    server = subprocess.Popen(
        [python, "-m", "server.serve", "--port", str(port)], cwd=BASE, env=env, stdout=subprocess.DEVNULL
    )
    url = f"http://127.0.0.1:{port}"
    for _ in range(300):
        try:
            urllib.request.urlopen(f"{url}/api/session").read()
            return server, url
        except OSError:
            time.sleep(0.1)
    server.terminate()
    raise SystemExit("The server did not start.")


def seen(browser: webdriver.Chrome, xpath: str) -> None:
    WebDriverWait(browser, 20).until(lambda b: b.find_elements(By.XPATH, xpath))


def log_in(browser: webdriver.Chrome, url: str, name: str) -> None:
    browser.get(url)
    seen(browser, "//button[contains(.,'Log in')]")
    fields = browser.find_elements(By.TAG_NAME, "input")
    fields[0].send_keys(name)
    fields[1].send_keys(PASSWORD)
    browser.find_element(By.XPATH, "//button[contains(.,'Log in')]").click()
    seen(browser, "//*[text()='Log out']")


def log_out(browser: webdriver.Chrome, url: str) -> None:
    browser.get(url)
    seen(browser, "//*[text()='Log out']")
    browser.find_element(By.XPATH, "//*[text()='Log out']").click()
    seen(browser, "//button[contains(.,'Log in')]")


def take(browser: webdriver.Chrome, name: str) -> None:
    drawn = "requestAnimationFrame(() => requestAnimationFrame(arguments[0]))"
    browser.execute_async_script(drawn)
    time.sleep(0.4)
    browser.save_screenshot(str(PICTURES / f"{name}.png"))
    print(f"    {name}.png")


def sortie(browser: webdriver.Chrome, url: str, student: str) -> str:
    browser.get(url)
    seen(browser, f"//p[contains(.,'{student}')]")
    link = browser.find_element(By.XPATH, f"//p[contains(.,'{student}')]/ancestor::*[.//a][1]//a")
    return str(link.get_attribute("href"))


def press(browser: webdriver.Chrome, words: str) -> None:
    button = (
        f"//*[self::button or @role='tab'][starts-with(normalize-space(), '{words}') or"
        f" .//*[starts-with(normalize-space(), '{words}')]]"
    )
    seen(browser, button)
    browser.find_element(By.XPATH, button).click()


def in_the_air(browser: webdriver.Chrome, fly: str) -> None:
    """The fifth figure under way, at a desk and on a phone; and a stop."""
    browser.get(fly)
    for _ in range(4):
        press(browser, "Next")
    press(browser, "At the gate")
    seen(browser, "//button[starts-with(., 'Recover')]")
    take(browser, "fly")
    set_viewport(browser, 390, 844, mobile=True)
    browser.execute_script("localStorage['keelturn.light'] = 'day'")
    browser.get(fly)
    seen(browser, "//button[starts-with(., 'Recover')]")
    take(browser, "fly-phone")
    press(browser, "feel")
    browser.find_element(By.XPATH, "//button[@aria-label='Feel 4']").click()
    seen(browser, "//*[@role='alertdialog']")
    take(browser, "fly-stop")
    press(browser, "Wrong number")
    browser.find_element(By.XPATH, "//button[@aria-label='Feel 4']").click()
    browser.execute_script("localStorage.removeItem('keelturn.light')")
    set_viewport(browser, 1280, 800)


def main() -> None:
    PICTURES.mkdir(parents=True, exist_ok=True)
    server, url = serve(os.environ.get("SHOTS_DATA") or tempfile.mkdtemp())
    browser = open_chromium()
    try:
        browser.get(url)
        seen(browser, "//button[contains(.,'Log in')]")
        log_in(browser, url, "tam")
        seen(browser, "//*[contains(., 'on this device since')]")
        seen(browser, "//*[contains(., 'Not flown lately') or contains(., 'nothing booked')]")
        take(browser, "today")
        plan = sortie(browser, url, "Petra")
        browser.get(plan + "/plan")
        seen(browser, "//*[contains(.,'Height to spend')]")
        browser.find_elements(By.XPATH, "//ol/li//button")[0].click()
        for item in browser.find_elements(By.XPATH, "//ol/li//button[contains(.,'One-turn spin, left')]"):
            item.click()
        seen(browser, "//*[contains(.,'Where the height goes')]")
        take(browser, "plan")
        browser.find_element(By.CSS_SELECTOR, "[data-why-main]").click()
        seen(browser, "//*[contains(.,'Why this number')]")
        take(browser, "why")
        browser.get(plan + "/plan")
        press(browser, "Nose-low recovery, left")
        press(browser, "Side view and what if")
        seen(browser, "//*[contains(.,'First input a second later')]")
        take(browser, "plan-side")
        press(browser, "Place")
        seen(browser, "//*[contains(@aria-label, 'from above')]")
        browser.find_element(By.XPATH, "//label[starts-with(., 'My own floor')]/..//input").send_keys(
            "5500\n"
        )
        press(browser, "Find the smallest way out")
        seen(browser, "//*[contains(.,'The smallest way out:')]")
        take(browser, "plan-fit")
        press(browser, "Leave it as it was")
        press(browser, "Undo")
        browser.get(plan + "/brief")
        seen(browser, "//*[contains(.,'Before the flight')]")
        browser.find_element(By.XPATH, "//button[@aria-label='5 One-turn spin, left']").click()
        seen(browser, "//*[contains(@aria-label, 'Out of the window')]")
        take(browser, "brief")
        browser.get(url + "/figures?figure=loop")
        seen(browser, "//*[contains(.,'Faults, and what they cost')]")
        take(browser, "figures")
        fly = sortie(browser, url, "Jonah")
        in_the_air(browser, fly + "/fly")
        browser.get(url + "/students")
        seen(browser, "//a[contains(.,'Petra')]")
        take(browser, "students")
        browser.find_element(By.XPATH, "//a[contains(.,'Petra')]").click()
        seen(browser, "//*[contains(.,'thread: height beyond the brief')]")
        take(browser, "student")
        browser.get(url + "/courses?course=spin_awareness")
        seen(browser, "//*[contains(.,'Lessons, in order')]")
        take(browser, "courses")
        browser.get(url + "/fleet")
        seen(browser, "//*[contains(.,'School standards')]")
        take(browser, "fleet")
        browser.get(url + "/week")
        seen(browser, "//button[@data-booking][contains(@aria-label, 'Jonah')]")
        browser.find_element(By.XPATH, "//button[@data-booking][contains(@aria-label, 'Jonah')]").click()
        seen(browser, "//*[contains(.,'nobody else wants it')]")
        take(browser, "week")
        log_out(browser, url)
        log_in(browser, url, "morag")
        browser.get(url + "/school")
        seen(browser, "//*[contains(.,'What the briefs got wrong')]")
        take(browser, "school")
        browser.get(url + "/records")
        press(browser, "Follow it now")
        seen(browser, "//*[contains(.,'links hold')]")
        take(browser, "records")
        log_out(browser, url)
        log_in(browser, url, "ilse")
        browser.get(sortie(browser, url, "Corin") + "/debrief")
        seen(browser, "//*[contains(.,'Where the height went')]")
        for item in browser.find_elements(By.XPATH, "//ol/li//button[contains(.,'Incipient spin, right')]"):
            item.click()
        seen(browser, "//*[contains(.,'Where the height went: Incipient spin, right')]")
        seen(browser, "//*[text()='Best by this method']")
        seen(browser, "//*[contains(.,'Order and timing')]")
        take(browser, "debrief")
        debrief = sortie(browser, url, "Rhea")
        browser.get(debrief + "/sign")
        seen(browser, "//*[contains(.,'Sign and lock')]")
        take(browser, "sign")
    finally:
        browser.quit()
        server.terminate()


if __name__ == "__main__":
    main()
