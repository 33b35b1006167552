"""Instructors grade the same flight differently: progress and what comes next follow what was measured."""

import pytest

from keelturn.school.grading import Grading, Most
from keelturn.school.standards import FigureStandard
from server.school.models import Sortie
from server.school.operations.keeping import save_figure_standard
from tests.server.conftest import post
from tests.server.sheets import correction, noted, url

STALL, LOST_FT = "a1", 420


@pytest.fixture
def flown(school, as_):
    """Its stall lost far more than was briefed."""
    school.enrolled("ana")
    sortie = school.brought_to("flown")
    assert sortie.plan["figures"][int(STALL[1:])]["key"] == "stall_power_off"
    low = sortie.plan["figures"][1]["start_ft"] - LOST_FT
    noted(as_("bo"), sortie, correction(sortie, STALL, "lowest_ft", low))
    return sortie


def after(school, as_, sortie, grade, reason=None):
    """The state of its task and the next lesson, when it was graded so and debriefed."""
    notes = [correction(sortie, STALL, "grade", grade)]
    notes += [correction(sortie, STALL, "grade_reason", reason)] if reason else []
    noted(as_("bo"), sortie, *notes)
    move = {"to": "debriefed", "version": Sortie.objects.get(pk=sortie.pk).version}
    assert post(as_("bo"), url(sortie, "/stage"), move).status_code == 200
    return progress(school, as_)


def progress(school, as_):
    page = as_("bo").get(f"/api/students/{school.student('ana').pk}").json()
    (task,) = [t for t in page["way"]["tasks"] if t["task"] == "power_off"]
    return task["reached"], page["next"]["name"], task["reasons"]


@pytest.mark.parametrize("grade", ["Not yet", "Guided", "Sound"])
def test_whoever_graded_it_the_same_flight_comes_to_the_same(school, as_, flown, grade):
    state, coming, reasons = after(school, as_, flown, grade)
    assert (state, coming) == ("guided", "Slow flight and stalls")
    assert (f"(graded {grade}, without a reason)" in reasons[0]) == (grade != "Guided")


def test_with_a_reason_the_instructor_s_grade_counts(school, as_, flown):
    assert after(school, as_, flown, "Not yet", "Looked inside all the time")[0] == "begun"


def test_what_the_chief_asks_of_a_grade_counts_anew(school, as_, flown):
    assert after(school, as_, flown, "Sound")[0] == "guided"
    strict = FigureStandard(grading=Grading(most={"beyond_ft": Most(guided=30, sound=20, solo_ready=10)}))
    save_figure_standard(school.people["chief"], 1, "stall_power_off", strict)
    assert progress(school, as_)[0] == "begun"
