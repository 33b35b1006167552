"""A school of many years (300 students, 20,000 sorties) and twenty people at once who look at all its pages
for two minutes: how long 95 in 100 answers take, whether any fails, whether memory stays as it is.

The school is made once, in half an hour, and stays in .cache/large-school; remove that to have it made anew.
Locust and the server share the cores: the numbers are the worst that such a machine gives."""

import csv
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

from tools.load import BASE, BEGINS_S, beside_others, served_at

LARGE = BASE / ".cache" / "large-school"
MADE_ON = "made-on"
STUDENTS, SORTIES = 300, 20_000
PEOPLE, SECONDS, TARGET_MS = 20, 120, 150.0
# Looked at for so long before anything is measured: every thread of every process has then what it keeps.
WARM_S = 240
# How much more memory the server may hold after two minutes.
GROWS = 1.1
SESSIONS = """
import django; django.setup()
import json, sys
from django.test import Client
from server.school.models import Person
like = Person.objects.get(username="tam")
for n in range(9):
    Person.objects.get_or_create(username=f"t{n}", defaults={"name": f"Teacher {n}", "role": "instructor"})
def sessions(**who):
    for person in Person.objects.filter(is_active=True, **who).order_by("-pk")[:10]:
        client = Client(); client.force_login(person); yield client.cookies["sessionid"].value
teachers = {"username__startswith": "t", "email": ""}
roles = {"chief": {}, "instructor": teachers, "student": {"student__isnull": False}}
json.dump({role: list(sessions(role=role, **who)) for role, who in roles.items()}, open(sys.argv[1], "w"))
"""
AHEAD = """
import django; django.setup()
from server import ahead, clock
from server.school.operations.kept import empty_for_another_program
empty_for_another_program()
ahead.count(clock.now())
"""


def surroundings(data: Path) -> dict[str, str]:
    """It is always the morning of the day on which it was made."""
    made = datetime.fromisoformat((data / MADE_ON).read_text())
    return {
        **os.environ,
        "KEELTURN_DATA": str(data),
        "KEELTURN_NOW": made.replace(hour=8, minute=0).isoformat(),
        "KEELTURN_BACKUP_H": "0",
        "KEELTURN_HOSTS": "testserver",
        "DJANGO_SETTINGS_MODULE": "server.settings",
        "PYTHONPATH": str(BASE),
    }


def make() -> None:
    """All of it or nothing."""
    half = LARGE.with_name("large-school-half")
    shutil.rmtree(half, ignore_errors=True)
    half.mkdir(parents=True)
    (half / MADE_ON).write_text(datetime.now(UTC).isoformat())
    grow = ["load_many", "--students", str(STUDENTS), "--sorties", str(SORTIES)]
    for command in (["migrate", "--verbosity=0"], ["load_demo"], grow):
        subprocess.run([sys.executable, "manage.py", *command], cwd=BASE, env=surroundings(half), check=True)
    half.rename(LARGE)


def memory_mb(server: int) -> float:
    """Of the process and all that it began, what is theirs alone."""
    found, total = [server], 0.0
    while found:
        process = found.pop()
        try:
            found += map(int, Path(f"/proc/{process}/task/{process}/children").read_text().split())
            rollup = Path(f"/proc/{process}/smaps_rollup").read_text()
        except OSError:
            continue
        total += sum(float(line.split()[1]) for line in rollup.splitlines() if line.startswith("Private_"))
    return total / 1000.0


def looked_at(port: int, sessions: Path, into: Path, seconds: int, **env: str) -> list[dict[str, str]]:
    """What locust found, a row a page."""
    command = [sys.executable, "-m", "locust", "-f", "tools/large_pages.py", "--headless", "--only-summary"]
    command += ["-u", str(PEOPLE), "-r", "4", "-t", f"{seconds}s", "--csv", str(into)]
    # When all are there, for a time: what the first did meanwhile does not count.
    command += [] if env else ["--reset-stats"]
    command += ["--host", f"http://127.0.0.1:{port}"]
    env = {**os.environ, "KEELTURN_SESSIONS": str(sessions), **env}
    subprocess.run(command, cwd=BASE, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    with Path(f"{into}_stats.csv").open() as file:
        return [row for row in csv.DictReader(file) if row["Name"].startswith("/api")]


def told(rows: list[dict[str, str]]) -> bool:
    """Whether every page keeps the target, and none failed."""
    kept = True
    for row in sorted(rows, key=lambda row: -float(row["95%"])):
        took, failed = float(row["95%"]), int(row["Failure Count"])
        well = took <= TARGET_MS and failed == 0
        kept = kept and well
        said = f", {failed} failed" if failed else ""
        print(
            f"  {row['Name']:42} {row['Request Count']:>5} answers, median {float(row['50%']):5.0f} ms,"
            f" 95 in 100 {took:5.0f} ms{said}{'' if well else '   MISSED'}"
        )
    return kept


def main() -> int:
    if not LARGE.exists():
        make()
    with tempfile.TemporaryDirectory() as folder:
        sessions = Path(folder) / "sessions.json"
        env = surroundings(LARGE)
        subprocess.run(
            [sys.executable, "manage.py", "migrate", "--verbosity=0"], cwd=BASE, env=env, check=True
        )
        subprocess.run([sys.executable, "-c", SESSIONS, str(sessions)], cwd=BASE, env=env, check=True)
        began = time.monotonic()
        subprocess.run([sys.executable, "-c", AHEAD], cwd=BASE, env=env, check=True)
        print(f"What is counted ahead was counted in {time.monotonic() - began:.0f} s", flush=True)
        server, port = served_at(env)
        # As long again: its workers and this machine's cores are busy with their beginning.
        time.sleep(2 * BEGINS_S)
        try:
            looked_at(port, sessions, Path(folder) / "warm", WARM_S)
            before = memory_mb(server.pid)
            print(f"{PEOPLE} people for {SECONDS} s; every page within {TARGET_MS:g} ms, 95 times in 100:")
            with beside_others():
                rows = looked_at(port, sessions, Path(folder) / "found", SECONDS)
            kept = told(rows)
            after = memory_mb(server.pid)
        finally:
            server.send_signal(signal.SIGTERM)
            server.wait(30)
    print(f"  memory {before:.0f} MB before, {after:.0f} MB after")
    return 0 if kept and after <= GROWS * before else 1


if __name__ == "__main__":
    sys.exit(main())
