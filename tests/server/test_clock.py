"""One clock for everything that asks for the time, and the time that a new sortie is offered."""

import re
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from django.utils import timezone

from keelturn.progress.booking import next_slot, slot
from server import clock
from server.school.models import StageChange
from tests.server.conftest import post

BASE = Path(__file__).resolve().parents[2]


def set_to(settings, hour: int, minute: int) -> datetime:
    """Tomorrow at this time."""
    wanted = (clock.now() + timedelta(days=1)).replace(hour=hour, minute=minute, second=0, microsecond=0)
    settings.CLOCK_AHEAD = clock.ahead_of_the_machine(wanted.isoformat(), timezone.now())
    return wanted


def test_a_set_clock_begins_there_and_runs_on():
    machine = datetime(2026, 11, 26, 9, tzinfo=UTC)
    assert clock.ahead_of_the_machine("2026-11-26T02:00", machine) == timedelta(hours=-7)
    assert clock.ahead_of_the_machine("2026-11-26T02:00+01:00", machine) == timedelta(hours=-8)
    assert clock.ahead_of_the_machine(None, machine) == timedelta()
    with pytest.raises(ValueError, match="nonsense"):
        clock.ahead_of_the_machine("nonsense", machine)


def test_nothing_in_server_or_tests_asks_another_clock():
    asks = re.compile(r"timezone\.now\(|datetime\.now\(|date\.today\(|auto_now")
    found = [
        f"{path.relative_to(BASE)}: {line.strip()}"
        for path in (*BASE.glob("server/**/*.py"), *BASE.glob("tests/**/*.py"))
        if path != Path(__file__) and "migrations" not in path.parts and path.name != "clock.py"
        for line in path.read_text().splitlines()
        if asks.search(line) and "ahead_of_the_machine" not in line
    ]
    assert found == []


@pytest.mark.parametrize(
    ("now", "slot"),
    [((2, 40), (5, 10)), ((6, 59), (5, 10)), ((7, 0), (5, 10)), ((9, 15), (5, 10)), ((13, 59), (5, 14)),
     ((14, 0), (6, 10)), ((23, 30), (6, 10))],
)  # fmt: skip
def test_a_new_sortie_is_offered_the_next_hour_that_suits(now, slot):
    found = next_slot(datetime(2031, 3, 5, *now, tzinfo=UTC))
    assert (found.day, found.hour, found.minute) == (*slot, 0)


def test_bookings_overlap_until_the_first_has_ended():
    at, long, short = datetime(2031, 3, 5, 10, tzinfo=UTC), 90, 30
    first, last = slot(at, long), slot(at + timedelta(minutes=89), short)
    assert first.shares(last) and last.shares(first)
    assert slot(at, long).shares(slot(at + timedelta(minutes=15), short))
    after = slot(at + timedelta(minutes=90), short)
    assert not first.shares(after) and not after.shares(first)


def test_the_offered_time_and_what_is_written_down_follow_the_clock(school, as_, settings):
    now = set_to(settings, 23, 30)
    asked = {"student_id": school.student("ana").pk, "aircraft_id": school.aircraft.pk}
    found = post(as_("bo"), "/api/sorties/proposal", {**asked, "lesson": "free"}).json()
    assert datetime.fromisoformat(found["planned_for"]) == now + timedelta(hours=10.5)
    sortie = school.brought_to("briefed")
    for at in (sortie.changed_at, StageChange.objects.get(sortie=sortie).at):
        assert timedelta() <= at - now < timedelta(minutes=1)


def test_a_day_is_the_schools_day_wherever_it_is(school, as_, settings):
    """At 20 h in Greenwich it is the morning of the day after in Auckland, which began at 11 h."""
    settings.TIME_ZONE = "Pacific/Auckland"
    now = set_to(settings, 20, 0).replace(month=1, day=15, second=0)
    settings.CLOCK_AHEAD = clock.ahead_of_the_machine(now.isoformat(), timezone.now())
    assert clock.day_of(now).day == 16
    assert clock.morning_of(now) == now.replace(hour=11)
    early, late = (school.sortie(at=now.replace(hour=10, minute=m)) for m in (30, 59))
    today = school.sortie(at=now.replace(hour=11))
    found = {s["id"]: s["left_over"] for s in as_("bo").get("/api/today").json()["sorties"]}
    assert found == {early.pk: True, late.pk: True, today.pk: False}
    ana = as_("bo").get(f"/api/students/{today.student_id}").json()
    assert ana["booked"] == today.planned_for.strftime("%Y-%m-%dT%H:%M:%SZ")
