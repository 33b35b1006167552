"""What a save accepts, every page can show: any card, place, standards, plan, brief or attempt that is taken
is followed through every page, for everybody who sees it."""

import copy
import os
from datetime import timedelta

import pytest
from django.db import transaction
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keelturn.school.standards import Standards
from server import clock
from server.school.models import Sortie
from tests.alterations import ODDITIES, altered, places_of
from tests.server.conftest import post, put
from tests.server.sheets import entry, figure_entry

pytestmark = pytest.mark.long

EXAMPLES = int(os.environ.get("KEELTURN_EXAMPLES", "40"))
SPIN = {
    "id": "s",
    "key": "spin",
    "start_ft": 5500,
    "side": "left",
    "parameters": {"turns": 1},
    "entry_ias": 60,
}
TURN = {"id": "t", "key": "steep_turn", "start_ft": 5000, "side": "right"}


class Undone(Exception):
    """Ends an example: nothing of it stays."""


def every_page(as_, school, sortie):
    """Each as (who, what, answer)."""
    plan = {"plan": sortie.plan, "aircraft_id": sortie.aircraft_id, "place_id": sortie.place_id}
    where = f"aircraft_id={sortie.aircraft_id}&place_id={sortie.place_id}"
    one = f"/api/sorties/{sortie.pk}"
    for who in ("ana", "bo", "chief"):
        client = as_(who)
        for url in ("/api/today", f"/api/students/{sortie.student_id}", "/api/students", one):
            yield who, url, client.get(url)
    client = as_("bo")
    for url in (f"{one}/card.pdf", f"{one}/plan.json", f"{one}/booking.ics", "/api/aircraft", "/api/places"):
        yield "bo", url, client.get(url)
    for key in ("spin", "loop"):
        yield "bo", f"book of {key}", client.get(f"/api/figures/{key}/book?{where}")
    yield "bo", "preview", post(client, f"{one}/preview", plan)
    for figure in sortie.plan["figures"][:1]:
        yield "bo", "closer", post(client, f"{one}/closer", {**plan, "figure": figure["id"]})
    yield "bo", "fit", post(client, f"{one}/fit", plan)
    new = {"student_id": sortie.student_id, "aircraft_id": sortie.aircraft_id, "lesson": "stalls"}
    yield "bo", "proposal", post(client, "/api/sorties/proposal", new)
    at = (clock.now() + timedelta(days=1)).isoformat()
    again = {**new, "place_id": sortie.place_id, "planned_for": at, "copy_of": sortie.pk}
    yield "bo", "copy", post(client, "/api/sorties", again)


@pytest.fixture
def sortie(school):
    made = school.sortie()
    made.plan = {**made.plan, "figures": [SPIN, TURN]}
    made.save()
    return made


def doors(school, sortie):
    """What can be stored, and by whom: the document, and how it is sent."""
    sent = [figure_entry(sortie), entry("f1", "start_ft", 5500), entry("f1", "note", "n")]
    one, mine = f"/api/sorties/{sortie.pk}", {"version": sortie.version}
    aircraft = {"version": 1, "registration": "QX-TST"}
    return {
        "card": (
            school.aircraft.card,
            lambda as_, d: put(as_("chief"), "/api/aircraft/1", {**aircraft, "card": d}),
        ),
        "place": (
            {**school.place.place, "airspace_top_ft": 9000, "station": "XTST", "line_deg": 120, "fields": []},
            lambda as_, d: put(as_("chief"), f"/api/places/{school.place.pk}", {"version": 1, "place": d}),
        ),
        "standards": (
            Standards().model_dump(mode="json"),
            lambda as_, d: put(as_("chief"), "/api/standards", {"version": 1, "standards": d}),
        ),
        "plan": (sortie.plan, lambda as_, d: put(as_("bo"), one, {**mine, "plan": d})),
        "brief": (
            {"checked": ["loose"], "note": "n"},
            lambda as_, d: put(as_("bo"), one, {**mine, "brief": d}),
        ),
        "entries": (sent, lambda as_, d: post(as_("bo"), f"{one}/entries", {"entries": d})),
        "debrief": ({"note": "n", "next": "x"}, lambda as_, d: put(as_("bo"), one, {**mine, "debrief": d})),
    }


@settings(
    max_examples=EXAMPLES,
    deadline=None,
    derandomize="KEELTURN_EXAMPLES" not in os.environ,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(st.data())
def test_what_a_save_accepts_every_page_can_show(school, as_, sortie, data):
    clients = {}
    by = lambda who: clients.setdefault(who, as_(who))  # noqa: E731
    stores = doors(school, sortie)
    what = data.draw(st.sampled_from(sorted(stores)))
    document, send = stores[what]
    place = data.draw(st.sampled_from(list(places_of(document))))
    how = data.draw(st.sampled_from((*ODDITIES, 0.9, 1.1, 10.0)))
    try:
        with transaction.atomic():
            kept = send(by, altered(copy.deepcopy(document), place, how))
            assert kept.status_code < 500, (what, place, how, kept.content)
            if kept.status_code == 200:
                current = Sortie.objects.get(pk=sortie.pk)
                if what in ("card", "place"):
                    over = {"version": current.version, "what": "aircraft" if what == "card" else "place"}
                    taken = post(by("bo"), f"/api/sorties/{sortie.pk}/take-over", over)
                    assert taken.status_code < 500, (what, place, how, "take-over", taken.content)
                    current = Sortie.objects.get(pk=sortie.pk)
                for who, page, shown in every_page(by, school, current):
                    assert shown.status_code < 500, (what, place, how, who, page, shown.content[:500])
                    if page in ("/api/today", f"/api/sorties/{sortie.pk}"):
                        assert shown.status_code == 200, (what, place, how, who, page, shown.content[:500])
            raise Undone
    except Undone:
        pass
