"""`make load`: a crowd at the server, on this machine, now. What a school does on a busy morning, and what
somebody does who guesses passwords, leaves connections open and asks for everything at once.

The clients run on the same cores: the numbers are the worst that such a machine gives."""

import http.client
import json
import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

BASE = Path(__file__).resolve().parent.parent
# Seconds that a server and its workers take to begin.
BEGINS_S = 20.0
PEOPLE, SECONDS, PAUSE_S = 20, 20.0, 1.0
FITTERS, IDLE, GUESSERS, FIT_FIGURES = 16, 300, 16, 40
PASSWORD = "height-is-the-budget"
# Of a sortie, found without reading the whole answer: the clients take cores from the server.
VERSION = re.compile(rb'"version":(\d+),"instructor_id"')
TARGETS = {"today": 300, "preview": 400, "save": 400, "light page in the crowd": 300}
MORE_TEACHERS = """
import django; django.setup()
from server.school.models import Person
like = Person.objects.get(username="tam").password
Person.objects.bulk_create([Person(username=f"t{i}", name=f"Teacher {i}", role="instructor", password=like)
                            for i in range(%d)])
"""


class Browser:
    """One person's connection, kept open."""

    def __init__(self, port: int) -> None:
        self.port, self.cookies = port, dict[str, str]()
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=120)

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, bytes, float]:
        """Status, answer, seconds."""
        headers = {
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
            "X-CSRFToken": self.cookies.get("csrftoken", ""),
            "Content-Type": "application/json",
        }
        sent = None if body is None else json.dumps(body)
        began = time.perf_counter()
        self.connection.request(method, path, sent, headers)
        response = self.connection.getresponse()
        text = response.read()
        took = time.perf_counter() - began
        for header in response.headers.get_all("Set-Cookie") or []:
            name, _, value = header.split(";")[0].partition("=")
            self.cookies[name] = value
        return response.status, text, took

    def log_in(self, username: str, password: str = PASSWORD) -> int:
        self.ask("GET", "/api/session")
        return self.ask("POST", "/api/session/login", {"username": username, "password": password})[0]


def served_at(env: dict[str, str], *more: str) -> tuple[subprocess.Popen[bytes], int]:
    """A server that listens, and its port."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-m", "server.serve", *more, "--port", str(port)]
    server = subprocess.Popen(command, cwd=BASE, env=env, stdout=subprocess.DEVNULL)
    while True:
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                break
        time.sleep(0.2)
    # Its workers begin behind everything else: the crowd is timed at a server that runs.
    time.sleep(BEGINS_S)
    return server, port


def served(data: str) -> tuple[subprocess.Popen[bytes], int]:
    env = {**os.environ, "KEELTURN_DATA": data, "DJANGO_SETTINGS_MODULE": "server.settings"}
    server, port = served_at(env, "--demo")
    subprocess.run([sys.executable, "-c", MORE_TEACHERS % PEOPLE], cwd=BASE, env=env, check=True)
    return server, port


def percentile(times: list[float], share: float) -> float:
    return 1000.0 * sorted(times)[min(len(times) - 1, int(share * len(times)))]


def told(what: str, times: list[float], target: int | None = None) -> bool:
    """Whether the target is kept."""
    if not times:
        print(f"  {what:42} nothing was answered")
        return target is None
    worst = percentile(times, 0.95)
    words = "" if target is None else f"   target {target}: {'kept' if worst <= target else 'MISSED'}"
    usual = percentile(times, 0.5)
    print(f"  {what:42} {len(times):5} answers, median {usual:6.0f} ms, 95 in 100 {worst:6.0f} ms{words}")
    return target is None or worst <= target


def ticks() -> tuple[int, int]:
    """Of all processors since this machine began: all, and those that its host gave to others."""
    counted = [int(n) for n in Path("/proc/stat").read_text().splitlines()[0].split()[1:9]]
    return sum(counted), counted[7]


@contextmanager
def beside_others() -> Iterator[None]:
    """What was measured on a machine that is not ours alone is worth what it had."""
    before = ticks()
    yield
    here, taken = (after - then for after, then in zip(ticks(), before, strict=True))
    print(f"  meanwhile the host gave others {100.0 * taken / here:.0f} % of the processors' time")


def new_sortie(browser: Browser) -> dict[str, Any]:
    proposed = {"student_id": 1, "aircraft_id": 1, "lesson": "spins_both_ways"}
    plan = json.loads(browser.ask("POST", "/api/sorties/proposal", proposed)[1])
    body = {**proposed, **{k: plan[k] for k in ("plan", "place_id", "planned_for")}}
    return dict(json.loads(browser.ask("POST", "/api/sorties", body)[1]))


def everybody(do: Any, count: int) -> None:
    """At once. What fails for one of them ends it all: what was measured would be of something else."""
    with ThreadPoolExecutor(count) as pool:
        list(pool.map(do, range(count)))


# Whether another round begins, after so many and with what was answered until then.
GoesOn = Callable[[int, Mapping[str, list[float]]], bool]


def for_seconds() -> GoesOn:
    end = time.perf_counter() + SECONDS
    return lambda rounds, answers: time.perf_counter() < end


def a_busy_morning(port: int, goes_on: GoesOn | None = None) -> bool:
    """Twenty instructors at once, each with a sortie: look, move a figure, store it; a breath between."""
    ready: dict[int, tuple[Browser, dict[str, Any]]] = {}
    for i in range(PEOPLE):
        browser = Browser(port)
        assert browser.log_in(f"t{i}") == 200
        ready[i] = (browser, new_sortie(browser))
    times: dict[str, list[float]] = defaultdict(list)
    goes_on = goes_on or for_seconds()

    def person(i: int) -> None:
        browser, sortie = ready[i]
        plan, version, n = sortie["plan"], sortie["version"], 0
        time.sleep(PAUSE_S * i / PEOPLE)
        while goes_on(n, times):
            n += 1
            plan["figures"][n % len(plan["figures"])]["start_ft"] += 10
            draft = {"plan": plan, "aircraft_id": 1, "place_id": sortie["place_id"]}
            asked: list[tuple[str, str, str, Any]] = [
                ("today", "GET", "/api/today", None),
                ("preview", "POST", f"/api/sorties/{sortie['id']}/preview", draft),
                ("save", "PUT", f"/api/sorties/{sortie['id']}", {"version": version, "plan": plan}),
            ]
            for what, method, path, body in asked:
                status, answer, took = browser.ask(method, path, body)
                assert status == 200, (what, status, answer)
                times[what].append(took)
                if what == "save":
                    version = int(VERSION.search(answer)[1])  # type: ignore[index]
                time.sleep(PAUSE_S)

    print(f"{PEOPLE} people at once, each something every {PAUSE_S:g} s:")
    with beside_others():
        everybody(person, PEOPLE)
    kept = [told(what, times[what], TARGETS[what]) for what in ("today", "preview", "save")]
    return all(kept)


def a_crowd(port: int, goes_on: GoesOn | None = None) -> bool:
    """Fits that take long, open connections, guessed passwords; and somebody who wants to see Today."""
    reader = Browser(port)
    assert reader.log_in("petra") == 200
    fitters = []
    for i in range(FITTERS):
        browser = Browser(port)
        browser.log_in(f"t{i}")
        sortie = new_sortie(browser)
        figures = [
            {**sortie["plan"]["figures"][n % 7], "id": f"x{n}", "start_ft": 4000 + 40 * n + i}
            for n in range(FIT_FIGURES)
        ]
        fitters.append((browser, sortie, {**sortie["plan"], "figures": figures}))
    over = threading.Event()
    answers: dict[str, list[float]] = defaultdict(list)
    idle = []
    for _ in range(IDLE):
        connection = socket.create_connection(("127.0.0.1", port))
        connection.sendall(b"GET /api/today HTTP/1.1\r\nHost: 127.0.0.1\r\n")
        idle.append(connection)

    def fit(i: int) -> None:
        browser, sortie, plan = fitters[i]
        draft = {"plan": plan, "aircraft_id": 1, "place_id": sortie["place_id"]}
        with suppress(OSError, http.client.HTTPException):
            while not over.is_set():
                status, _, took = browser.ask("POST", f"/api/sorties/{sortie['id']}/fit", draft)
                answers[f"fit of {FIT_FIGURES} figures, answered {status}"].append(took)

    def guess(i: int) -> None:
        browser = Browser(port)
        with suppress(OSError, http.client.HTTPException):
            for n in range(10_000):
                if over.is_set():
                    return
                status = browser.log_in(f"nobody{i}-{n}", "a wrong password")
                answers[f"guess, answered {status}"].append(0.0)

    for do, count in ((fit, FITTERS), (guess, GUESSERS)):
        for i in range(count):
            threading.Thread(target=do, args=(i,), daemon=True).start()
    time.sleep(2.0)
    light: list[float] = []
    goes_on, rounds = goes_on or for_seconds(), 0
    print(f"{FITTERS} fits of {FIT_FIGURES} figures, {IDLE} open connections, {GUESSERS} guess passwords:")
    with beside_others():
        while goes_on(rounds, answers):
            rounds += 1
            for path in ("/api/today", "/api/session", "/api/students", "/"):
                status, _, took = reader.ask("GET", path)
                assert status == 200, (path, status)
                light.append(took)
                time.sleep(0.1)
    over.set()
    kept = told("light page in the crowd", light, TARGETS["light page in the crowd"])
    for what, times in sorted(answers.items()):
        if what.startswith("fit"):
            told(what, times)
        else:
            print(f"  {what:42} {len(times):5}")
    for connection in idle:
        connection.close()
    return kept


def main() -> int:
    with tempfile.TemporaryDirectory() as data:
        server, port = served(data)
        try:
            kept = [a_busy_morning(port), a_crowd(port)]
        finally:
            server.send_signal(signal.SIGTERM)
            server.wait(30)
    return 0 if all(kept) else 1


if __name__ == "__main__":
    sys.exit(main())
