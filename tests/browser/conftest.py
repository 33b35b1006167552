"""The real application, with the demo school, behind its real server, in Debian's headless Chromium."""

import json
import re
import shutil
import sqlite3
import subprocess
import sys
import urllib.request
from collections.abc import Generator, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import pytest
from selenium import webdriver

from tests.browser.person import CLOCK, Person
from tests.browser.school import BASE, BEFOREHAND, SESSIONS, copied, is_made, make, surroundings
from tests.conftest import made_once
from tests.servers import PATIENCE_S, Port, end_with_parent, wait_for
from tools.bench_browser import Caller
from tools.chromium import open_chromium

SERVER_LOG = "server.log"
# The pictures of what failed, of the last run that failed.
FAILED = BASE / ".cache" / "failed"


@dataclass
class Served:
    """The application running, its database, that database as the demo left it, and a session of each of its
    people by their log-in."""

    port: Port
    data: Path
    server: subprocess.Popen[bytes]
    sessions: dict[str, str]
    callers: dict[str, Caller] = field(default_factory=dict)

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def database(self) -> Path:
        return self.data / "keelturn.sqlite3"

    @property
    def fresh(self) -> Path:
        return self.data / "fresh.sqlite3"

    def caller(self, name: str) -> Caller:
        """Somebody who calls the API, logged in anew only when the session has ended: a password costs a
        second."""
        known = self.callers.get(name)
        if known is None or not known.call("GET", "/api/session")["person"]:
            session = None if known else self.sessions[name]
            known = self.callers[name] = Caller(self.url, name, session)
        return known

    def stop(self) -> None:
        self.server.terminate()
        self.server.wait()

    def start(self) -> None:
        self.server = begun(self.data, self.port, "--demo")


def begun(data: Path, port: Port, *more: str) -> subprocess.Popen[bytes]:
    """The server, once it listens. One process answers: a person is alone with it. It ends with these
    tests, however they end."""
    log = (data / SERVER_LOG).open("a")
    command = [sys.executable, "-m", "server.serve", *more, "--port", str(port), "--processes", "1"]
    server = subprocess.Popen(
        command, cwd=BASE, env=surroundings(data), stdout=log, stderr=log, preexec_fn=end_with_parent
    )
    wait_for(lambda: port.is_listened_to() or server.poll() is not None, "the server listens")
    assert server.poll() is None, (data / SERVER_LOG).read_text()
    return server


@pytest.fixture(scope="session")
def served(of_the_run: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    school = BEFOREHAND if is_made() else made_once(of_the_run / "school", make)
    data = Path(shutil.copytree(school, tmp_path_factory.getbasetemp() / "data"))
    port = Port()
    made = Served(port, data, begun(data, port, "--demo"), json.loads((data / SESSIONS).read_text()))
    warmed(made)
    copied(made.database, made.fresh)
    yield made
    made.stop()


def warmed(served: Served) -> None:
    """Every process of the server has answered, and the workers of each have begun: they start behind
    everything else, and a browser leaves them little time."""
    for _ in range(20):
        urllib.request.urlopen(f"{served.url}/api/session", timeout=PATIENCE_S).read()
    caller = served.caller("tam")
    student, aircraft = (caller.call("GET", f"/api/{kind}")[0]["id"] for kind in ("students", "aircraft"))
    # What is counted ahead is in the school that every test begins with.
    for path in ("/api/students", "/api/school"):
        served.caller("morag").call("GET", path)
    for _ in range(4):
        caller.call("POST", "/api/sorties/proposal", {"student_id": student, "aircraft_id": aircraft})


def renumbered(fresh: Path) -> None:
    """Sorties that a save of the test before, still under way, cannot be meant for."""
    with closing(sqlite3.connect(fresh)) as database, database:
        database.execute("UPDATE school_sortie SET version = version + 100 WHERE stage <> 'signed'")


@pytest.fixture(scope="session")
def chromium() -> Iterator[webdriver.Chrome]:
    # Without a graphics card three dimensions take the time of everything else; test_outside.py has them.
    with a_browser(deep=False) as browser:
        yield browser


@contextmanager
def a_browser(deep: bool) -> Iterator[webdriver.Chrome]:
    """Whose pages have a clock that a test may set ahead."""
    browser = open_chromium(deep=deep)
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": CLOCK})
    yield browser
    browser.quit()
    shutil.rmtree(browser.capabilities["chrome"]["userDataDir"], ignore_errors=True)


@pytest.fixture
def person(chromium: webdriver.Chrome, served: Served) -> Iterator[Person]:
    """Somebody at the browser, logged out, with nothing kept from before, and the school as the demo loads
    it: whatever order the tests run in. No test may leave an error in the console."""
    chromium.get("about:blank")
    renumbered(served.fresh)
    copied(served.fresh, served.database)
    # By the browser itself, which closes what is open: asked from a page, a database that something still has
    # open is never deleted, and every later one waits behind it.
    kept = {"origin": served.url, "storageTypes": "local_storage,indexeddb"}
    chromium.execute_cdp_cmd("Storage.clearDataForOrigin", kept)
    chromium.execute_cdp_cmd("Network.clearBrowserCookies", {})
    chromium.get_log("browser")
    someone = Person(chromium, served.url, served.data, served.sessions)
    someone.viewport(1280, 800)
    someone.scheme("light")
    yield someone
    # A refused request is logged by the browser itself; anything else is a fault of ours.
    errors = [
        e
        for e in chromium.get_log("browser")
        if e["level"] == "SEVERE" and "Failed to load resource" not in e["message"]
    ]
    assert errors == []


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """A test that failed shows what was on the screen, in the console and in the server's log."""
    report = yield
    given: dict[str, Any] = getattr(item, "funcargs", {})
    # Who was asked for last: a test may have a browser of its own.
    person = next((one for one in reversed(given.values()) if isinstance(one, Person)), None)
    if report.when == "call" and report.failed and person:
        picture = FAILED / f"{re.sub(r'[^a-z0-9]+', '-', item.nodeid.lower()).strip('-')[-120:]}.png"
        picture.parent.mkdir(parents=True, exist_ok=True)
        person.browser.save_screenshot(str(picture))
        said = [f"{e['level']} {e['message']}" for e in person.browser.get_log("browser")]
        log = (person.data / SERVER_LOG).read_text().splitlines()
        report.sections += [
            ("screen", str(picture)),
            ("console", "\n".join(said) or "nothing"),
            ("server's log, its end", "\n".join(log[-40:]) or "nothing"),
        ]
    return report
