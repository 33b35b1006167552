"""The real application, with the demo school, behind its real server, in Debian's headless Chromium."""

import fcntl
import json
import os
import shutil
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

from tests.browser.person import Person
from tests.browser.school import BASE, SESSIONS, copied, made_beforehand, make, surroundings
from tools.bench_browser import Caller
from tools.chromium import open_chromium


@dataclass
class Served:
    """The application running, its database, that database as the demo left it, and a session of each of its
    people by their log-in."""

    port: int
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


def begun(data: Path, port: int, *more: str) -> subprocess.Popen[bytes]:
    """The server, once it listens. One process answers: a person is alone with it."""
    log = (data / "server.log").open("a")
    command = [sys.executable, "-m", "server.serve", *more, "--port", str(port), "--processes", "1"]
    server = subprocess.Popen(command, cwd=BASE, env=surroundings(data), stdout=log, stderr=log)
    for _ in range(1200):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return server
        assert server.poll() is None, (data / "server.log").read_text()
        time.sleep(0.1)
    raise AssertionError("the server did not listen within two minutes")


@pytest.fixture(scope="session")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    mine = tmp_path_factory.getbasetemp()
    school = the_school(mine.parent if "PYTEST_XDIST_WORKER" in os.environ else mine)
    data = Path(shutil.copytree(school, mine / "data"))
    port = free_port()
    made = Served(port, data, begun(data, port, "--demo"), json.loads((data / SESSIONS).read_text()))
    warmed(made)
    copied(made.database, made.fresh)
    yield made
    made.stop()


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def the_school(of_all: Path) -> Path:
    """The school as it is loaded: made once for all who run these tests at the same time."""
    if (there := made_beforehand()) is not None:
        return there
    made = of_all / "school"
    with (of_all / "school.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not made.exists():
            make(made)
    return made


def warmed(served: Served) -> None:
    """Every process of the server has answered, and the workers of each have begun: they start behind
    everything else, and a browser leaves them little time."""
    for _ in range(20):
        urllib.request.urlopen(f"{served.url}/api/session", timeout=60).read()
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
    browser = open_chromium(deep=False)
    yield browser
    browser.quit()


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
