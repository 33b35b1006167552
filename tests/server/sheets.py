"""A sortie saved as a client does, and its plan with a stop in it."""

import copy

from tests.server.conftest import put

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


def the_check(shown, check):
    return next(c for c in shown["answer"]["checks"] if c["id"] == check)
