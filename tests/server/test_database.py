"""SQLite as it is really used: its settings, many writers at once, and a server killed in the middle of
saving."""

import json
import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.request
from contextlib import closing
from pathlib import Path

import pytest
from django.db import connection

from keelturn.noting.adding_up import attempts_of
from keelturn.noting.entry import Entry
from tests.server.sheets import entry
from tests.servers import PATIENCE_S, Port, end_with_parent, wait_for

BASE = Path(__file__).resolve().parents[2]


@pytest.mark.django_db
def test_settings_of_the_connection():
    names = ("journal_mode", "foreign_keys", "busy_timeout", "synchronous")
    with connection.cursor() as cursor:
        found = {name: cursor.execute(f"PRAGMA {name}").fetchone()[0] for name in names}
    assert found == {"journal_mode": "wal", "foreign_keys": 1, "busy_timeout": 20000, "synchronous": 1}


class Browser:
    """Just enough of one to log in and save, against a server in another process."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor())

    def send(self, method: str, path: str, body: dict | None = None, timeout: float = PATIENCE_S) -> dict:
        cookies = next(
            h for h in self.opener.handlers if isinstance(h, urllib.request.HTTPCookieProcessor)
        ).cookiejar
        token = next((c.value for c in cookies if c.name == "csrftoken"), "")
        request = urllib.request.Request(
            self.url + path,
            method=method,
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json", "X-CSRFToken": token},
        )
        return json.loads(self.opener.open(request, timeout=timeout).read())


def start(data: Path, port: Port) -> subprocess.Popen:
    env = {**os.environ, "KEELTURN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"}
    server = subprocess.Popen(
        [sys.executable, "-m", "server.serve", "--port", str(port), "--processes", "2"],
        cwd=BASE,
        env=env,
        stdout=subprocess.DEVNULL,
        preexec_fn=end_with_parent,
    )
    wait_for(port.is_listened_to, "the server listens")
    return server


MAKE = """
import django; django.setup()
from keelturn.aircraft.loading import Load
from keelturn.plan.briefing import BEFORE_FLIGHT
from keelturn.plan.document import PlanDocument, PlannedFigure
from server import clock
from server.school.models import *
from server.school.operations.sorties import plan_sortie
from tests.cards import LIGHT
roles = {"bo": "instructor", "ana": "student"}
people = [
    Person.objects.create_user(username=n, password="a-long-enough-one", name=n, role=r)
    for n, r in roles.items()
]
student = Student.objects.create(person=people[1])
aircraft = Aircraft.objects.create(registration="QX-TST", card=LIGHT)
place = Place.objects.create(name="P", place={"name": "P", "elevation_ft": 10, "block_top_ft": 6500})
turn = PlannedFigure(id="f1", key="steep_turn", start_ft=5000)
plan = PlanDocument(load=Load(front_lb=150, rear_lb=150), figures=(turn,))
sortie = plan_sortie(people[0], student, aircraft, place, "free", clock.now(), plan)
Sortie.objects.update(stage="briefed", brief={"checked": [item.key for item in BEFORE_FLIGHT]})
"""


@pytest.fixture(scope="module")
def prepared(tmp_path_factory) -> Path:
    """A data folder with two people and a sortie of one figure, made once: what is tested is the storing."""
    data = tmp_path_factory.mktemp("prepared")
    env = {**os.environ, "KEELTURN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"}
    subprocess.run([sys.executable, "manage.py", "migrate", "-v0"], cwd=BASE, env=env, check=True)
    subprocess.run([sys.executable, "-c", MAKE], cwd=BASE, env=env, check=True)
    return data


@pytest.fixture
def data(prepared, tmp_path) -> Path:
    return Path(shutil.copytree(prepared, tmp_path / "data"))


def logged_in(port: Port) -> Browser:
    browser = Browser(f"http://127.0.0.1:{port}")
    browser.send("GET", "/api/session")
    browser.send("POST", "/api/session/login", {"username": "bo", "password": "a-long-enough-one"})
    return browser


def saves(browser: Browser, first_mark: int, saved: threading.Event) -> None:
    """A stream of saves of debrief and brief together, and of entries together, all of one save with one
    mark, until cut off."""
    found = browser.send("GET", "/api/sorties/1")
    version = found["version"]
    for n in range(1, 1000):
        mark = str(first_mark + n % 7)
        checked = [item["key"] for item in found["brief_items"]]
        body = {"version": version, "debrief": {"note": mark}, "brief": {"checked": checked, "note": mark}}
        figure = found["plan"]["figures"][0]
        noted = [
            entry(f"a{i}", what, value, id=f"{first_mark}-{n}-{i}-{what}")
            for i in range(12)
            for what, value in (("figure", figure), ("note", mark))
        ]
        try:
            version = browser.send("PUT", "/api/sorties/1", body)["version"]
            browser.send("POST", "/api/sorties/1/entries", {"entries": noted})
        except (OSError, ValueError):
            return
        saved.set()


def killed(server: subprocess.Popen, port: Port) -> None:
    """With the processes that it had begun: they end as it does. One that has ended for those who look at it
    may still have a thread that ends, and with it the socket: the port says when all are gone."""
    server.send_signal(signal.SIGKILL)
    server.wait()
    wait_for(lambda: not port.is_listened_to(), "all of its processes are gone")


@pytest.mark.long
def test_killed_while_saving_the_database_holds_the_old_state_or_the_new_one(data):
    """SIGKILL at two moments during a stream of saves; after each restart the sheets agree, and the attempts
    are those of the entries."""
    port = Port()
    server = start(data, port)
    for round_, moment in enumerate((0.02, 0.17), start=1):
        saved = threading.Event()
        writer = threading.Thread(target=saves, args=(logged_in(port), 1000 * round_, saved), daemon=True)
        writer.start()
        assert saved.wait(PATIENCE_S)
        time.sleep(moment)
        killed(server, port)
        writer.join(PATIENCE_S)
        with closing(sqlite3.connect(data / "keelturn.sqlite3")) as database:
            assert database.execute("PRAGMA integrity_check").fetchone() == ("ok",)
            assert database.execute("PRAGMA foreign_key_check").fetchall() == []
        server = start(data, port)
        try:
            kept = logged_in(port).send("GET", "/api/sorties/1")
            assert kept["brief"]["note"] == kept["debrief"]["note"]
            added_up = attempts_of(Entry.model_validate(e) for e in kept["entries"])
            assert [a["id"] for a in kept["attempts"]] == [a.id for a in added_up]
            assert len(kept["entries"]) % 24 == 0 and len(kept["attempts"]) == 12
        except AssertionError:
            killed(server, port)
            raise
    killed(server, port)


@pytest.mark.long
def test_many_writers_at_once_are_all_served(data):
    """Eight browsers save sorties of their own at the same time: none is told that the database is locked."""
    port = Port()
    server = start(data, port)
    failed: list[Exception] = []
    try:

        def work() -> None:
            try:
                browser = logged_in(port)
                plan = browser.send("GET", "/api/sorties/1")["plan"]
                body = {
                    "student_id": 1,
                    "aircraft_id": 1,
                    "place_id": 1,
                    "planned_for": "2030-01-01T10:00:00Z",
                    "plan": plan,
                }
                made = browser.send("POST", "/api/sorties", body)
                for n in range(5):
                    made = browser.send(
                        "PUT",
                        f"/api/sorties/{made['id']}",
                        {"version": made["version"], "debrief": {"note": str(n)}},
                    )
            except Exception as error:
                failed.append(error)

        threads = [threading.Thread(target=work) for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    finally:
        killed(server, port)
    assert failed == []
