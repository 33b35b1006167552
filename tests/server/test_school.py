"""The school as its chief looks at it, from what is stored."""

import pytest

from server.school.models import Sortie
from server.school.operations.sorties import move_stage
from tests.server.conftest import post
from tests.server.test_courses import SMALL, enrolled, fly


@pytest.fixture
def seen(school, as_):
    assert post(as_("chief"), "/api/courses", {"course": SMALL}).status_code == 201
    enrolled(as_, school)
    flown = [fly(school, "spins", ago=ago, lowest_ft=3800, start_ft=4600) for ago in (60, 40, 20)]

    def asked(days=365, who="chief"):
        return as_(who).get("/api/school", {"days": days})

    return asked, flown


def test_the_flights_of_so_many_days(seen):
    asked, _ = seen
    flights = {days: asked(days).json()["flights"] for days in (10, 20, 39, 40, 365)}
    assert flights == {10: 0, 20: 1, 39: 1, 40: 2, 365: 3}
    for days in ("0", "3651", "a year"):
        assert asked(days).status_code == 422, days


def test_what_is_shown_is_what_was_flown(seen):
    asked, _ = seen
    found = asked().json()
    assert (found["flights"], found["attempts"]) == (3, 9)
    spin = next(c for c in found["costs"] if c["figure"] == "spin")
    assert (spin["attempts"], spin["words"]) == (6, "Too few to tell.")
    (grader,) = found["graders"]
    assert (grader["instructor"], grader["graded"]) == ("Bo", 9)
    (aircraft,) = found["aircraft"]
    assert (aircraft["aircraft"], aircraft["flights"], aircraft["lost_ft"]) == ("QX-TST", 3, 9 * 800)
    assert [(s["title"], s["students"]) for s in found["stuck"]] == [("Power-off stall", ["Ana"])]


def test_a_debrief_that_was_taken_back_is_not_in_it(school, seen):
    asked, flown = seen
    last = Sortie.objects.get(pk=flown[-1].pk)
    move_stage(school.people["bo"], last.pk, last.version, "flown")
    assert asked().json()["flights"] == 2


@pytest.mark.parametrize("who", ["bo", "ana"])
def test_nobody_else_sees_it(seen, who):
    answer = seen[0](who=who)
    assert answer.status_code == 403
    assert answer.json()["problems"][0]["what"] == "only the chief instructor sees the school as a whole"
