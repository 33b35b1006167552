"""Courses as the chief keeps them, students in them: a whole course from the first flight to the last, with a
lapse and a later version; two chiefs at once; standings and what was done on the ground."""

from copy import deepcopy
from datetime import timedelta

import pytest

from keelturn.noting.attempt import Attempt
from keelturn.noting.earned import EARNED, lesser
from keelturn.plan.briefing import BEFORE_FLIGHT, Brief
from keelturn.progress.courses import COURSES
from server import clock
from server.school.models import Change, CourseVersion, Enrolment, Sortie, Student
from server.school.operations.computing import plan_of
from server.school.operations.noting import note_attempts
from server.school.operations.saving import Sheets, save_sortie
from server.school.operations.sorties import move_stage, plan_sortie
from tests.courses import SMALL
from tests.server.conftest import post, put, with_weather

CHECKED = Brief(checked=tuple(item.key for item in BEFORE_FLIGHT))


def added(as_, course=SMALL):
    """The small course, in the school."""
    made = post(as_("chief"), "/api/courses", {"course": course})
    assert made.status_code == 201, made.content
    return made.json()


def ana(school):
    return school.student("ana")


def page(as_, school, who="bo", path="", body=None, how=put):
    """Ana's page as somebody sees it, after something was done there."""
    url = f"/api/students/{ana(school).pk}{path}"
    found = as_(who).get(url) if body is None else how(as_(who), url, body)
    assert found.status_code == 200, found.content
    return found.json()


def enrolled(as_, school, key="small", **more):
    return page(as_, school, path="/course", body={"course": key, **more})


def problem(answer, status=422):
    assert answer.status_code == status, answer.content
    return answer.json()["problems"][0]


def fly(school, lesson, ago=0, grade="Sound", **noted):
    """A lesson flown so many days ago, every figure as well as who flew it can earn, and debriefed."""
    bo, at = school.people["bo"], clock.now() - timedelta(days=ago)
    sortie = with_weather(plan_sortie(bo, ana(school), school.aircraft, school.place, lesson, at))
    sortie = save_sortie(bo, sortie.pk, sortie.version, Sheets(brief=CHECKED))
    sortie = move_stage(bo, sortie.pk, sortie.version, "briefed")
    attempts = [
        Attempt.model_validate(
            {
                "id": f"{sortie.pk} {f.id}",
                "planned": f.model_dump(),
                "start_ft": f.start_ft,
                "lowest_ft": f.start_ft - 200,
                "flown_by": f.flown_by,
                "grade": lesser(grade, EARNED[noted.get("flown_by", f.flown_by)][-1]),
                "grade_reason": "What this test is about.",
                **noted,
            }
        )
        for f in plan_of(sortie).figures
    ]
    note_attempts(bo, sortie, attempts, "tests")
    for to in ("flown", "debriefed"):
        sortie = move_stage(bo, sortie.pk, sortie.version, to)
    return sortie


def states(found):
    return {t["task"]: t["state"] for t in found["way"]["tasks"]}


def test_a_school_begins_with_the_courses_that_ship(school, as_):
    found = as_("ana").get("/api/courses").json()
    assert [c["course"]["name"] for c in found] == [c.name for c in COURSES]
    assert {(c["version"], c["by"], c["students"]) for c in found} == {(1, None, 0)}
    # Asked again, nothing is made again.
    as_("ana").get("/api/courses")
    assert CourseVersion.objects.count() == len(COURSES)


@pytest.mark.long
def test_a_student_goes_through_a_whole_course_with_a_lapse_and_a_later_version(school, as_):
    Student.objects.update(stage="")
    added(as_)
    found = enrolled(as_, school)
    assert (found["standing"]["standing"], found["next"]["name"]) == ("first flights", "Easy")
    assert [n["lesson"] for n in found["next"]["not_yet"]] == ["spins", "teach"]
    fly(school, "easy", ago=170)
    assert states(page(as_, school)) == {
        "stall": "sound",
        "turning": "sound",
        "one": "not begun",
        "taught": "not begun",
    }
    # Spins wait for what is done on the ground.
    assert "spins" in [n["lesson"] for n in page(as_, school)["next"]["not_yet"]]
    found = page(as_, school, path="/ground/manual", body={"done": True})
    assert [n["lesson"] for n in found["next"]["not_yet"]] == ["teach"]
    assert found["way"]["ground"][0]["done_by"] == "Bo"
    fly(school, "spins", ago=160)
    assert page(as_, school)["standing"]["standing"] == "practised"
    assert page(as_, school)["next"]["not_yet"] == []
    # The chief asks more of the spin: Ana stays on her version until she is moved.
    tasks = deepcopy(SMALL["tasks"])
    tasks[2] |= {"needed": "ready"}
    saved = put(as_("chief"), "/api/courses/small", {"version": 1, "course": {**SMALL, "tasks": tasks}})
    assert (saved.json()["version"], saved.json()["students"], saved.json()["earlier"]) == (2, 1, 1)
    found = page(as_, school)
    assert (found["way"]["version"], found["way"]["newest"]) == (1, 2)
    assert next(t for t in found["way"]["tasks"] if t["task"] == "one")["met"]
    shown = page(as_, school, path="/course/move")
    assert [d["what"] for d in shown["differs"]] == ["Task: One-turn spin, needed"]
    assert [(t["title"], t["after"], t["needed"]) for t in shown["tasks"]] == [
        ("One-turn spin", "sound", "ready")
    ]
    assert page(as_, school, path="/course/move", body={"version": 2}, how=post)["way"]["version"] == 2
    # Weeks without a flight: nothing new. Then what has lapsed.
    assert (
        page(as_, school)["next"]["why"][0] == "Spins again before anything new: 160 days without a flight."
    )
    fly(school, "spins", ago=20, grade="Solo-ready", flown_by="student alone")
    fly(school, "spins", ago=10, grade="Solo-ready", flown_by="student alone")
    found = page(as_, school)
    assert states(found) == {"stall": "ready", "turning": "sound", "one": "ready", "taught": "not begun"}
    lapses = next(t for t in found["way"]["tasks"] if t["task"] == "turning")["lapses_on"]
    assert lapses == (clock.day_of(clock.now()) + timedelta(days=10)).isoformat()
    fly(school, "teach", ago=2, grade="Solo-ready")
    found = page(as_, school)
    assert found["standing"]["standing"] == "ready to fly it alone"
    assert found["next"]["why"][0] == "Small is complete: Teach to stay in practice."
    # And what each flight was stays to be seen, in the student's own eyes as well.
    marks = next(t for t in page(as_, school, who="ana")["way"]["tasks"] if t["task"] == "stall")["marks"]
    assert [(m["how"], m["shown"]) for m in marks] == [
        ("with talk", "Sound"),
        ("with talk", "Sound"),
        ("alone", "Solo-ready"),
        ("alone", "Solo-ready"),
    ]
    # Later, with nothing flown, tasks lapse and the standing falls.
    ahead = [standing for _, standing, _ in ana(school).follows]
    assert ahead == ["ready to fly it alone", "practised", "first flights"]


def test_the_standing_in_force_is_that_of_the_day(school, settings):
    student, today = ana(school), clock.day_of(clock.now())
    student.stage = ""
    later = (today + timedelta(days=30)).isoformat()
    student.follows = [[today.isoformat(), "practised", "a"], [later, "first flights", "b"]]
    assert (student.stage_reached, student.standing_that_follows) == ("practised", ("practised", "a"))
    settings.CLOCK_AHEAD += timedelta(days=30)
    assert student.stage_reached == "first flights"
    student.stage = "ready to fly it alone"
    assert student.stage_reached == "ready to fly it alone"


def test_only_what_is_debriefed_counts_and_what_is_taken_back_does_not(school, as_):
    Student.objects.update(stage="")
    added(as_)
    enrolled(as_, school)
    sortie = fly(school, "easy")
    assert states(page(as_, school))["stall"] == "sound"
    kept = ana(school).follows
    sortie = move_stage(school.people["bo"], sortie.pk, sortie.version, "flown")
    assert states(page(as_, school))["stall"] == "not begun"
    assert ana(school).follows != kept


def test_two_chiefs_store_one_course_and_neither_is_lost(school, as_):
    added(as_)
    body = {"version": 1, "course": {**SMALL, "name": "First"}}
    assert put(as_("chief"), "/api/courses/small", body).json()["version"] == 2
    other = {"version": 1, "course": {**SMALL, "purpose": "Second"}}
    refused = problem(put(as_("chief"), "/api/courses/small", other))
    assert (refused["where"], "now version 2, yours 1" in refused["what"]) == ("version", True)
    # Looked at, and stored on top of it knowingly.
    assert put(as_("chief"), "/api/courses/small", {**other, "version": 2}).json()["version"] == 3
    versions = as_("cy").get("/api/courses/small/versions").json()
    assert [(v["version"], v["by"]) for v in versions] == [(3, "Chief"), (2, "Chief"), (1, "Chief")]
    assert [(d["what"], d["before"], d["after"]) for d in versions[1]["differs"]] == [
        ("Course, name", "Small", "First")
    ]
    # What is as it was makes no version.
    assert put(as_("chief"), "/api/courses/small", {**other, "version": 3}).json()["version"] == 3


@pytest.mark.parametrize(
    ("course", "where"),
    [
        ({**SMALL, "lessons": []}, "course.lessons"),
        ({**SMALL, "key": "spin_awareness"}, "course.key"),
        ({**SMALL, "key": "other", "lessons": [{**SMALL["lessons"][0], "key": "stalls"}]}, "course.tasks[2]"),
    ],
)
def test_a_course_that_cannot_be_taught_is_not_stored(school, as_, course, where):
    as_("chief").get("/api/courses")
    assert problem(post(as_("chief"), "/api/courses", {"course": course}))["where"] == where
    assert CourseVersion.objects.count() == len(COURSES)


def test_a_lesson_belongs_to_one_course_of_the_school(school, as_):
    lessons = [{**SMALL["lessons"][0], "key": "stalls"}, *SMALL["lessons"][1:]]
    refused = problem(post(as_("chief"), "/api/courses", {"course": {**SMALL, "lessons": lessons}}))
    assert refused["where"] == "course.lessons[0].key"
    assert refused["what"] == "Spin awareness has a lesson 'stalls' already"
    assert refused["place"] == "Lessons 1: Name in files"


def test_a_course_goes_out_as_a_file_and_comes_in_as_the_next_version(school, as_):
    made = added(as_)
    read = post(as_("chief"), "/api/course-files", {"course": made["course"]}).json()
    assert (read["version"], read["differs"]) == (1, [])
    changed = {**made["course"], "flight_h": 7}
    read = post(as_("chief"), "/api/course-files", {"course": changed}).json()
    assert [(d["what"], d["before"], d["after"]) for d in read["differs"]] == [
        ("Course, flight, at least", "0", "7")
    ]
    assert CourseVersion.objects.filter(key="small").count() == 1
    new = post(as_("chief"), "/api/course-files", {"course": {**changed, "key": "elsewhere"}})
    assert problem(new)["where"] == "course.lessons[0].key"
    assert problem(put(as_("chief"), "/api/courses/nothing", {"course": changed}))["where"] == "course"
    wrong = put(as_("chief"), "/api/courses/small", {"course": {**changed, "key": "elsewhere"}})
    assert problem(wrong)["what"] == "this is the course 'small'"


def test_a_student_is_in_one_course_at_a_time_and_who_changed_it_stays(school, as_):
    added(as_)
    enrolled(as_, school)
    again = put(as_("bo"), f"/api/students/{ana(school).pk}/course", {"course": "small"})
    assert "is in this course already, on version 1" in problem(again)["what"]
    found = enrolled(as_, school, "aerobatic_core", why="Wants to roll")
    assert found["way"]["name"] == "Aerobatic core"
    gone = enrolled(as_, school, None, why="A year abroad")
    assert (gone["way"], gone["next"], gone["course"]) == (None, None, "")
    kept = [(e.course.key, e.ended_why) for e in Enrolment.objects.select_related("course")]
    assert kept == [("small", "Wants to roll"), ("aerobatic_core", "A year abroad")]
    said = [c.after["course"] for c in Change.objects.filter(subject=f"student {ana(school).pk}")]
    assert said == ["none", "Aerobatic core, version 1", "Small, version 1"]
    move = as_("bo").get(f"/api/students/{ana(school).pk}/course/move")
    assert problem(move)["what"] == "Ana is in no course"


def test_there_is_nothing_to_move_to_on_the_version_in_force(school, as_):
    added(as_)
    enrolled(as_, school)
    url = f"/api/students/{ana(school).pk}/course/move"
    assert "is on the version in force" in problem(as_("bo").get(url))["what"]
    put(as_("chief"), "/api/courses/small", {"version": 1, "course": {**SMALL, "name": "Smaller"}})
    # Moved to the one that was looked at, or not at all.
    assert problem(post(as_("bo"), url, {"version": 1}))["where"] == "version"


def test_the_chief_sets_a_standing_otherwise_with_a_reason(school, as_):
    added(as_)
    enrolled(as_, school)
    url = f"/api/students/{ana(school).pk}/standing"
    asked = {"standing": "ready to fly it alone", "reason": "Flew with me last week."}
    assert problem(put(as_("bo"), url, asked), 403)["what"] == (
        "only the chief instructor may change a student's standing"
    )
    assert problem(put(as_("chief"), url, {**asked, "reason": "ok"}))["where"] == "reason"
    found = page(as_, school, who="chief", path="/standing", body=asked)["standing"]
    assert (found["standing"], found["follows"], found["set_by"]) == (
        "ready to fly it alone",
        "first flights",
        "Chief",
    )
    back = {"standing": None, "reason": "It was too soon."}
    found = page(as_, school, who="chief", path="/standing", body=back)["standing"]
    assert (found["standing"], found["set_by"], found["reason"]) == ("first flights", None, "")
    change = Change.objects.filter(subject=f"student {ana(school).pk}").first()
    assert change.after == {"standing": "as it follows", "reason": "It was too soon."}


def test_what_is_done_on_the_ground_is_ticked_and_taken_back(school, as_):
    added(as_)
    url = f"/api/students/{ana(school).pk}/ground/manual"
    assert problem(put(as_("bo"), url, {"done": True}))["where"] == "item"
    enrolled(as_, school)
    assert page(as_, school, path="/ground/manual", body={"done": True})["way"]["ground"][0]["done_at"]
    page(as_, school, path="/ground/manual", body={"done": True})
    assert (
        page(as_, school, path="/ground/manual", body={"done": False})["way"]["ground"][0]["done_by"] is None
    )
    said = Change.objects.filter(subject=f"student {ana(school).pk}", after__has_key="What the manual says")
    assert [c.after["What the manual says"] for c in said] == ["not done", "done on the ground"]


def test_a_student_is_planned_for_from_their_own_version_first(school, as_):
    added(as_)
    enrolled(as_, school)
    renamed = [{**SMALL["lessons"][0], "name": "Easier"}, *SMALL["lessons"][1:]]
    put(as_("chief"), "/api/courses/small", {"version": 1, "course": {**SMALL, "lessons": renamed}})
    found = as_("bo").get(f"/api/lessons?student_id={ana(school).pk}").json()
    assert [(x["course"], x["name"]) for x in found[:3]] == [("Small", x["name"]) for x in SMALL["lessons"]]
    assert (found[-1]["key"], found[-1]["course"]) == ("free", "")
    dee = as_("bo").get(f"/api/lessons?student_id={school.student('dee').pk}").json()
    assert ("Small", "Easier") in [(x["course"], x["name"]) for x in dee]
    # What it was called when it was planned stays with the sortie.
    sortie = fly(school, "easy")
    assert Sortie.objects.get(pk=sortie.pk).lesson_kept["name"] == "Easy"
    assert as_("ana").get(f"/api/sorties/{sortie.pk}").json()["lesson_name"] == "Easy"


def test_nobody_is_offered_a_next_lesson_who_is_in_no_course(school, as_):
    asked = {"student_id": ana(school).pk, "aircraft_id": school.aircraft.pk}
    refused = problem(post(as_("bo"), "/api/sorties/proposal", asked))
    assert refused["what"] == "the student is in no course, so no lesson is next"
    assert "put the student into a course first" in refused["do"]


def test_another_number_of_days_counts_every_standing_again(school, as_):
    Student.objects.update(stage="")
    added(as_)
    enrolled(as_, school)
    page(as_, school, path="/ground/manual", body={"done": True})
    fly(school, "easy", ago=40)
    fly(school, "spins", ago=40)
    assert ana(school).stage_reached == "practised"
    held = as_("chief").get("/api/standards").json()
    held["standards"]["lapse_days"]["value"] = 30
    assert put(as_("chief"), "/api/standards", held).status_code == 200
    assert ana(school).stage_reached == "first flights"


def test_a_fault_that_the_chief_lets_hold_back_counts_every_standing_again(school, as_):
    Student.objects.update(stage="")
    added(as_)
    enrolled(as_, school)
    page(as_, school, path="/ground/manual", body={"done": True})
    fly(school, "easy", ago=40, faults=["no_lookout"])
    fly(school, "spins", ago=40, faults=["no_lookout"])
    assert ana(school).stage_reached == "practised"
    held = as_("chief").get("/api/standards").json()
    blocking = {"no_lookout": {"grade": "Sound", "clean_attempts": 2}}
    asked = {"version": held["version"], "standard": {"blocking": blocking}}
    assert put(as_("chief"), "/api/figures/stall_turning/standard", asked).status_code == 200
    assert ana(school).stage_reached == "first flights"


def test_the_page_and_the_proposal_know_of_the_same_last_flight(school, as_):
    """One that was flown and is not debriefed counts toward no state; that it was flown is known."""
    added(as_)
    enrolled(as_, school)
    fly(school, "easy", ago=60)
    assert "60 days without a flight" in page(as_, school)["next"]["why"][0]
    later = fly(school, "easy", ago=1, feel=2)
    move_stage(school.people["bo"], later.pk, later.version, "flown")
    why = page(as_, school)["next"]["why"][0]
    assert why == "Easy again, nothing new: the last flight ended at 2 (0 very ill, 10 fine)."
    asked = {"student_id": ana(school).pk, "aircraft_id": school.aircraft.pk}
    assert post(as_("bo"), "/api/sorties/proposal", asked).json()["why"][0] == why
