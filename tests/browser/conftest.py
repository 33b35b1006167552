"""The real application, with the demo school, behind its real server, in Debian's headless Chromium."""

import os
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path

import pytest
from selenium import webdriver

from server.school.demo.people import PEOPLE
from tests.browser.person import Person
from tools.bench_browser import Caller
from tools.chromium import open_chromium

BASE = Path(__file__).resolve().parents[2]


@dataclass
class Served:
    """The application running, its database, that database as the demo left it, and a session of each of its
    people by their log-in."""

    port: int
    data: Path
    server: subprocess.Popen[bytes]
    sessions: dict[str, str] = field(default_factory=dict)

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def database(self) -> Path:
        return self.data / "keelturn.sqlite3"

    @property
    def fresh(self) -> Path:
        return self.data / "fresh.sqlite3"

    def stop(self) -> None:
        self.server.terminate()
        self.server.wait()

    def start(self) -> None:
        self.server = begun(self.data, self.port)


def begun(data: Path, port: int) -> subprocess.Popen[bytes]:
    """The server, once it listens."""
    env = {**os.environ, "KEELTURN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"}
    log = (data / "server.log").open("a")
    command = [sys.executable, "-m", "server.serve", "--demo", "--port", str(port)]
    server = subprocess.Popen(command, cwd=BASE, env=env, stdout=log, stderr=log)
    for _ in range(1200):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return server
        assert server.poll() is None, (data / "server.log").read_text()
        time.sleep(0.1)
    raise AssertionError("the server did not listen within two minutes")


@pytest.fixture(scope="session")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    data = tmp_path_factory.mktemp("data")
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    made = Served(port, data, begun(data, port))
    warmed(made.url)
    made.sessions = {name: session_of(made.url, name) for name, *_ in PEOPLE}
    copied(made.database, made.fresh)
    yield made
    made.stop()


def warmed(url: str) -> None:
    """Every process of the server has answered, and the workers of each have begun: they start behind
    everything else, and a browser leaves them little time."""
    for _ in range(20):
        urllib.request.urlopen(f"{url}/api/session", timeout=60).read()
    caller = Caller(url, "tam")
    student, aircraft = (caller.call("GET", f"/api/{kind}")[0]["id"] for kind in ("students", "aircraft"))
    for _ in range(4):
        caller.call("POST", "/api/sorties/proposal", {"student_id": student, "aircraft_id": aircraft})


def session_of(url: str, name: str) -> str:
    return next(str(c.value) for c in Caller(url, name).jar if c.name == "sessionid")


def copied(source: Path, target: Path) -> None:
    """All of one database into another, in one transaction of the other: who reads it then reads this."""
    with closing(sqlite3.connect(source)) as have, closing(sqlite3.connect(target, timeout=20)) as get:
        have.backup(get)


def renumbered(fresh: Path) -> None:
    """Sorties that a save of the test before, still under way, cannot be meant for."""
    with closing(sqlite3.connect(fresh)) as database, database:
        database.execute("UPDATE school_sortie SET version = version + 100 WHERE stage <> 'signed'")


# Nothing of an earlier test on the device but the application itself.
NOTHING_KEPT = """
const done = arguments[0];
localStorage.clear();
indexedDB.databases()
  .then((all) => Promise.all(all.map(({name}) => new Promise((gone) => {
    const asked = indexedDB.deleteDatabase(name);
    asked.onsuccess = asked.onerror = asked.onblocked = gone;
  }))))
  .then(done);
"""


@pytest.fixture(scope="session")
def chromium() -> Iterator[webdriver.Chrome]:
    browser = open_chromium()
    yield browser
    browser.quit()


@pytest.fixture
def person(chromium: webdriver.Chrome, served: Served) -> Iterator[Person]:
    """Somebody at the browser, logged out, with nothing kept from before, and the school as the demo loads
    it: whatever order the tests run in. No test may leave an error in the console."""
    chromium.get("about:blank")
    renumbered(served.fresh)
    copied(served.fresh, served.database)
    chromium.get(served.url)
    chromium.delete_all_cookies()
    chromium.execute_async_script(NOTHING_KEPT)
    chromium.get_log("browser")
    someone = Person(chromium, served.url, served.sessions)
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
