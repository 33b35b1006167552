"""Corrections of one thing noted of an attempt: what counts after them, and what cannot be corrected."""

import pytest

from keelturn.document import Wrong
from keelturn.noting.attempt import Attempt
from keelturn.noting.correcting import FieldCorrection, corrected, in_words, require_it_holds
from keelturn.progress.next_lesson import next_lesson
from keelturn.progress.states import State
from keelturn.progress.way import way_through
from tests.courses import ASKED, TODAY, course, flown
from tests.flights import figure

SIGNED = Attempt.model_validate(
    {
        "id": "a1",
        "planned": figure("spin", start_ft=5000).model_dump(),
        "start_ft": 5000,
        "lowest_ft": 4200,
        "grade": "Sound",
        "faults": ["rudder_half"],
        "offered": ["start_ft", "lowest_ft"],
    }
)


def one(what, before, after, about="", attempt="a1"):
    return FieldCorrection(attempt=attempt, what=what, about=about, before=before, after=after)


@pytest.mark.parametrize(
    ("correction", "field", "value", "words"),
    [
        (one("grade", "Sound", "Guided"), "grade", "Guided", "Grade Guided, not Sound"),
        (one("lowest_ft", 4200, 3900), "lowest_ft", 3900, "Lowest 3,900 ft, not 4,200 ft"),
        (one("turns", None, 2), "turns", 2, "Turns 2, which was not noted"),
        (one("grade", "Sound", None), "grade", None, "Grade not known, not Sound"),
        (one("fault", True, False, "rudder_half"), "faults", (), "Fault 'Rudder stamped or half' taken out"),
        (
            one("fault", False, True, "power_late"),
            "faults",
            ("rudder_half", "power_late"),
            "Fault 'Power closed late' added",
        ),
        (one("grade", "Sound", "Guided", attempt="a2"), "grade", "Sound", None),
    ],
)
def test_the_corrected_counts_and_is_said(correction, field, value, words):
    assert getattr(corrected(SIGNED, [correction]), field) == value
    assert words is None or in_words(SIGNED, correction) == words


def test_a_corrected_height_is_no_offered_one():
    now = corrected(SIGNED, [one("lowest_ft", 4200, 3900)])
    assert (now.offered, now.lost_ft) == (("start_ft",), 1100)


def test_who_flew_and_the_grade_are_corrected_one_after_the_other():
    attempt = SIGNED
    for step in (
        one("grade", "Sound", None),
        one("flown_by", "student with talk", "instructor shows"),
        one("grade", None, "Shown"),
    ):
        require_it_holds(attempt, step)
        attempt = corrected(attempt, [step])
    assert (attempt.flown_by, attempt.grade) == ("instructor shows", "Shown")


def test_the_last_of_several_counts():
    there_and_back = [one("grade", "Sound", "Guided"), one("grade", "Guided", "Not yet")]
    assert corrected(SIGNED, there_and_back).grade == "Not yet"


@pytest.mark.parametrize(
    ("correction", "what"),
    [
        (one("grade", "Guided", "Not yet"), "something else stands there by now"),
        (one("grade", "Sound", "Solo-ready"), "'Solo-ready' is not earned by 'student with talk'"),
        (one("lowest_ft", 4200, 5200), "5,200"),
        (one("fault", False, True, "no_such"), "this figure has no fault"),
        (one("flown_by", "student with talk", "instructor shows"), "Correct the grade to not known first"),
    ],
)
def test_what_cannot_be_is_refused(correction, what):
    with pytest.raises(Wrong, match=what):
        require_it_holds(SIGNED, correction)
    require_it_holds(SIGNED, one("grade", "Sound", "Guided"))


@pytest.mark.parametrize(
    "fields",
    [
        {"what": "surprise", "before": None, "after": "The noise"},
        {"what": "fault", "before": True, "after": False},
        {"what": "grade", "about": "rudder_half", "before": "Sound", "after": "Guided"},
        {"what": "grade", "before": "Sound", "after": "Sound"},
        {"what": "grade", "before": "Sound", "after": "Excellent"},
        {"what": "lowest_ft", "before": 4200, "after": -3},
        {"what": "lowest_ft", "before": 4200, "after": "low"},
        {"what": "fault", "about": "rudder_half", "before": True, "after": None},
        {"what": "fault", "about": "rudder_half", "before": True, "after": "no"},
        {"what": "flown_by", "before": "student with talk", "after": None},
    ],
)
def test_what_is_no_correction_is_refused(fields):
    with pytest.raises(ValueError):
        FieldCorrection(attempt="a1", **fields)


def test_the_next_lesson_says_what_of_the_last_flight_was_corrected():
    words = ("Grade Not yet, not Sound (corrected on 3 Dec 2026)",)
    made = flown("stall_power_off", "Not yet", 1, 5)
    made = type(made)(made.attempt, made.day, made.flight, "easy", 0, True, words)
    way = way_through(course(), [made], ["manual"], TODAY, ASKED)
    assert way.state("stall").state == State.BEGUN
    why = next_lesson(way, "first flights", [made], TODAY).why
    assert why[-1].startswith("Of the last flight counts as corrected: Power-off stall: Grade Not yet")
    later = flown("stall_power_off", "Sound", 2, 2)
    assert not any("corrected" in w for w in next_lesson(way, "first flights", [made, later], TODAY).why)
