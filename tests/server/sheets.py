"""A sortie saved and noted as a client does, and its plan with a stop in it."""

import copy
from itertools import count

from tests.server.conftest import PASSWORD, post, put

ids = count()

REASON = "The tower reports clear skies"


def url(sortie, more=""):
    return f"/api/sorties/{sortie.pk}{more}"


def below_the_floor(sortie, start_ft=3800.0):
    """The plan with its first spin begun too low, and the id of that stop."""
    plan = copy.deepcopy(sortie.plan)
    spin = next(f for f in plan["figures"] if f["key"] == "spin")
    spin["start_ft"] = start_ft
    return plan, f"floor_{spin['id']}"


def override(check, **fields):
    return {"id": "o-1", "check": check, "reason": REASON, **fields}


def stored(client, sortie, **sheets):
    response = put(client, url(sortie), {"version": sortie.version, **sheets})
    assert response.status_code == 200, response.content
    sortie.refresh_from_db()
    return response.json()


def entry(attempt, what, value, about="", **more):
    """An entry as a device sends it."""
    made = {"id": f"entry-{next(ids):08d}", "device": "tablet", "at": "2030-01-01T10:00:00Z"}
    return {**made, "attempt": attempt, "what": what, "about": about, "value": value, **more}


def figure_entry(sortie, at=0, attempt=None, **more):
    planned = sortie.plan["figures"][at]
    return entry(attempt or planned["id"], "figure", planned, **more)


def noted(client, sortie, *entries):
    """What the door answers."""
    response = post(client, url(sortie, "/entries"), {"entries": list(entries)})
    assert response.status_code == 200, response.content
    sortie.refresh_from_db()
    return response.json()


def correction(sortie, attempt, what, value, about=""):
    """An entry in the place of all that stand there."""
    there = [row.entry for row in sortie.entries.all()]
    seen = [e["id"] for e in there if (e["attempt"], e["what"], e["about"]) == (attempt, what, about)]
    return entry(attempt, what, value, about, replaces=seen)


def to_sign(sortie, password=PASSWORD):
    return {"version": sortie.version, "noted": sortie.entries.count(), "password": password}


def the_check(shown, check):
    return next(c for c in shown["answer"]["checks"] if c["id"] == check)
