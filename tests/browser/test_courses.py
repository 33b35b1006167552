"""Courses drawn up by the chief, a student on a version, and the way that follows from what was flown."""

import pytest
from selenium.webdriver.common.keys import Keys

DIALOG = "//*[@role='dialog']"


def at(person, path: str) -> None:
    person.go(path)
    person.one("//h1")


@pytest.mark.long
def test_a_student_is_moved_on_to_what_the_chief_asks_now(served, person):
    """The chief asks for more and stores it as version 2; Tavish is moved with what differs in sight."""
    person.log_in("morag")
    at(person, "/courses?course=upset_recovery")
    person.press("Edit")
    person.press("Tasks")
    person.press("1. Steep turn")
    person.choose("Needed", "ready")
    person.press("Store as the next version")
    person.sees("version 2 · 3 students, 3 on an earlier version")
    person.press("Versions")
    person.sees("Task: Steep turn")
    person.sees("needed: guided → ready")
    person.browser.switch_to.active_element.send_keys(Keys.ESCAPE)
    student = next(
        s for s in served.caller("morag").call("GET", "/api/students") if s["name"].startswith("Tavish")
    )
    at(person, f"/students/{student['id']}")
    person.sees("Upset recovery foundation, version 1")
    person.press("Course")
    person.sees("Version 2 is in force")
    person.sees("needed: guided → ready")
    person.press("Move on to version 2")
    person.sees("Upset recovery foundation, version 2")
    # The task that is asked for more stands first among what is open, with what it needs now.
    person.sees("Needed: ready. Missing for the next state:")


def test_what_the_chief_drew_up_wrongly_is_said_where_it_stands_and_kept(person):
    person.log_in("morag")
    at(person, "/courses?course=aerobatic_core")
    person.press("Edit")
    person.press("Lessons")
    person.press("4. A mixed sequence")
    person.click("//button[@aria-label='Take out A mixed sequence']")
    person.press("Store as the next version")
    person.sees("no lesson has Turning stall flown by the student, to each side that is asked for")
    assert not person.all(f"{DIALOG}//*[text()='4. A mixed sequence']")


def test_a_student_sees_their_own_way_and_changes_nothing(served, person):
    person.log_in("petra")
    person.press("My record")
    person.sees("thread: height beyond the brief")
    person.click("//button[.='Heights']")
    person.sees("pale up to the brief")
    person.click("//button[.='Flights']")
    person.sees("Instructor")
    assert not person.all("//main//button[contains(., 'Plan a sortie') or .='Course']")
    assert all(box.get_attribute("disabled") for box in person.all("//main//input[@type='checkbox']"))
    person.click("//button[.='The way']")
    person.click("//button[.='Slow flight']")
    person.sees("As the course needs it")


def test_the_way_is_walked_from_the_ground_on(person):
    """What was done on the ground is ticked, and a lesson more may be flown."""
    person.log_in("ilse")
    at(person, "/students")
    person.click("//a[.='Mirela Quade']")
    person.sees("Not yet: The stall that was not meant, Spins, both ways, Spiral or spin")
    person.click("//label//p[.='How turns to final become spins']")
    person.sees("Not yet: Spins, both ways, Spiral or spin")
