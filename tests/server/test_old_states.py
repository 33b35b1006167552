"""Schools as landed states of the program left them are brought up to date, and every sortie of theirs
opens."""

import gzip
import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest

from tests.core.test_signed_records import STATES

pytestmark = pytest.mark.long

BASE = Path(__file__).resolve().parents[2]
# All of them in one process that has read the whole program once: each is opened in a copy of it.
OPEN_ALL = """
import os, sys
import django; django.setup()
from django.conf import settings
from django.core.management import call_command
from django.test import Client
from keelturn.noting.adding_up import attempts_of
from keelturn.noting.entry import Entry
from server.school.models import Person, Sortie
import server.urls
from keelturn.spinning.warm import warm
warm()

def opened():
    call_command("migrate", verbosity=0)
    who = Client()
    who.force_login(Person.objects.get(role="chief"))
    pages = ("", "/card.pdf", "/plan.json", "/booking.ics")
    for sortie in Sortie.objects.order_by("pk"):
        found = {page: who.get(f"/api/sorties/{sortie.pk}{page}") for page in pages}
        for page, answer in found.items():
            assert answer.status_code == 200, (sortie.pk, sortie.stage, page, answer.content[:400])
        shown = found[""].json()
        added_up = attempts_of(Entry.model_validate(entry) for entry in shown["entries"])
        if sortie.stage != "signed":
            assert [a.model_dump(mode="json") for a in added_up] == shown["attempts"]
        if sortie.stage == "signed":
            assert shown["signature"]["holds"], shown["signature"]
            said = {"reason": "misread it", "text": "it was so"}
            made = who.post(f"/api/sorties/{sortie.pk}/corrections", said, content_type="application/json")
            assert made.status_code == 201
        assert who.get(f"/api/students/{sortie.student_id}").status_code == 200
    today = who.get("/api/today").json()
    assert [line["trouble"] for line in today["sorties"] + today["recent"]] == [None] * 4
    assert all(line["aircraft_name"] for line in today["recent"])
    call_command("verify")

for folder in sys.argv[1:]:
    child = os.fork()
    if child == 0:
        out = os.open(f"{folder}/said", os.O_WRONLY | os.O_CREAT)
        os.dup2(out, 1), os.dup2(out, 2)
        settings.DATABASES["default"]["NAME"] = f"{folder}/keelturn.sqlite3"
        django.db.connections.settings["default"]["NAME"] = f"{folder}/keelturn.sqlite3"
        opened()
        sys.stdout.flush()
        os._exit(0)
    os.waitpid(child, 0)
"""


@pytest.fixture(scope="module")
def said(tmp_path_factory):
    """What became of each state, by its name."""
    folders = {}
    for state in STATES:
        folders[state.name] = tmp_path_factory.mktemp("state")
        with closing(sqlite3.connect(folders[state.name] / "keelturn.sqlite3")) as database:
            database.executescript(gzip.decompress(state.read_bytes()).decode())
    env = {
        **os.environ,
        "KEELTURN_DATA": str(tmp_path_factory.mktemp("none")),
        "DJANGO_SETTINGS_MODULE": "server.settings",
        "KEELTURN_HOSTS": "testserver",
        "KEELTURN_NOW": "2026-11-20T09:00",
    }
    command = [sys.executable, "-c", OPEN_ALL, *map(str, folders.values())]
    done = subprocess.run(command, cwd=BASE, env=env, capture_output=True, text=True, timeout=300)
    assert done.returncode == 0, done.stderr[-3000:]
    return {name: (folder / "said").read_text() for name, folder in folders.items()}


@pytest.mark.parametrize("state", STATES, ids=lambda state: state.name[6:17])
def test_an_old_school_opens(state, said):
    assert said[state.name].count("2 signed records: each is as it was signed.") == 1, said[state.name][
        -3000:
    ]
