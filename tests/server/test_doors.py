"""Every door, for every role, signed in and out. A door that is not in the table fails the last test."""

import json

import pytest

from keelturn.progress.courses import SPIN_AWARENESS
from server.api import api
from server.school.operations.enrolling import enrol
from tests.courses import SMALL
from tests.server.conftest import PASSWORD, post, put
from tests.server.sheets import to_sign

PERSON = {"username": "eve", "name": "Eve Marlow"}
JSON = "application/json"
AWARE = SPIN_AWARENESS.model_dump(mode="json")


@pytest.fixture(autouse=True)
def no_archives(settings, tmp_path):
    """None is there, and none of these tests' stays."""
    settings.SCHEDULED = tmp_path


WHO = (None, "chief", "bo", "cy", "ana", "dee")
ALL = dict.fromkeys(WHO[1:], 200) | {None: 401}
# Method and path: what each of nobody, chief, the sortie's instructor, another instructor, its student,
# another student gets. Another student's sortie does not exist for dee (404); bodies are chosen so that only
# access decides.
CHIEF_ONLY = {None: 401, "chief": 200, "bo": 403, "cy": 403, "ana": 403, "dee": 403}
TEACH = {None: 401, "chief": 200, "bo": 200, "cy": 200, "ana": 403, "dee": 403}
SEEN = {None: 401, "chief": 200, "bo": 200, "cy": 200, "ana": 200, "dee": 404}
EDIT = {None: 401, "chief": 403, "bo": 200, "cy": 403, "ana": 403, "dee": 404}
BOOK = {None: 401, "chief": 200, "bo": 200, "cy": 200, "ana": 403, "dee": 404}
DOORS = {
    ("GET", "/api/session"): dict.fromkeys(WHO, 200),
    ("GET", "/api/today"): ALL,
    ("GET", "/api/catalogue"): ALL,
    ("GET", "/api/forms"): ALL,
    ("GET", "/api/aircraft"): ALL,
    ("GET", "/api/places"): ALL,
    ("GET", "/api/standards"): ALL,
    ("GET", "/api/students"): ALL,
    ("GET", "/api/instructors"): {**ALL, "ana": 403, "dee": 403},
    ("GET", "/api/students/{student_id}"): {
        None: 401,
        "chief": 200,
        "bo": 200,
        "cy": 200,
        "ana": 200,
        "dee": 404,
    },
    ("GET", "/api/courses"): ALL,
    ("GET", "/api/school"): CHIEF_ONLY,
    ("GET", "/api/safe-keeping"): CHIEF_ONLY,
    ("POST", "/api/safe-keeping/backup"): CHIEF_ONLY,
    ("POST", "/api/safe-keeping/trial"): {**CHIEF_ONLY, "chief": 422},  # there is none
    ("POST", "/api/courses"): {**CHIEF_ONLY, "chief": 201},
    ("PUT", "/api/courses/{key}"): CHIEF_ONLY,
    ("GET", "/api/courses/{key}/versions"): ALL,
    ("POST", "/api/course-files"): CHIEF_ONLY,
    ("GET", "/api/lessons"): SEEN,
    ("PUT", "/api/students/{student_id}/course"): BOOK,
    ("GET", "/api/students/{student_id}/course/move"): {  # there is no later version
        **SEEN,
        **dict.fromkeys(("chief", "bo", "cy", "ana"), 422),
    },
    ("POST", "/api/students/{student_id}/course/move"): {
        **BOOK,
        **dict.fromkeys(("chief", "bo", "cy"), 422),
    },
    ("PUT", "/api/students/{student_id}/standing"): {**CHIEF_ONLY, "dee": 404},
    ("PUT", "/api/students/{student_id}/ground/{item}"): BOOK,
    ("GET", "/api/sorties/{sortie_id}"): SEEN,
    ("POST", "/api/sorties"): {None: 401, "chief": 201, "bo": 201, "cy": 201, "ana": 403, "dee": 403},
    ("PUT", "/api/sorties/{sortie_id}"): EDIT,
    ("POST", "/api/sorties/{sortie_id}/preview"): EDIT,
    ("POST", "/api/sorties/{sortie_id}/fit"): EDIT,
    ("POST", "/api/sorties/{sortie_id}/weather"): EDIT,
    ("POST", "/api/sorties/{sortie_id}/plan-from-file"): EDIT,
    ("POST", "/api/sorties/{sortie_id}/closer"): SEEN,
    ("POST", "/api/sorties/{sortie_id}/why"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/card.pdf"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/plan.json"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/booking.ics"): SEEN,
    ("POST", "/api/sorties/{sortie_id}/read"): {
        None: 401,
        "chief": 403,
        "bo": 403,
        "cy": 403,
        "ana": 200,
        "dee": 404,
    },
    ("POST", "/api/sorties/{sortie_id}/questions"): {
        None: 401,
        "chief": 403,
        "bo": 403,
        "cy": 403,
        "ana": 200,
        "dee": 404,
    },
    ("POST", "/api/sorties/{sortie_id}/questions/{question_id}"): {**EDIT, "bo": 422},  # nothing was asked
    ("POST", "/api/sorties/proposal"): {
        None: 401,
        "chief": 200,
        "bo": 200,
        "cy": 200,
        "ana": 403,
        "dee": 403,
    },
    ("GET", "/api/figures/{key}/book"): ALL,
    ("PUT", "/api/figures/{key}/standard"): CHIEF_ONLY,
    ("GET", "/api/changes"): ALL,
    ("POST", "/api/aircraft"): {**CHIEF_ONLY, "chief": 201},
    ("POST", "/api/places"): {**CHIEF_ONLY, "chief": 201},
    ("POST", "/api/sorties/{sortie_id}/stage"): {**EDIT, "bo": 422},  # nothing is briefed yet
    ("POST", "/api/sorties/{sortie_id}/take-over"): EDIT,
    ("POST", "/api/sorties/{sortie_id}/booking"): BOOK,
    ("POST", "/api/sorties/{sortie_id}/cancel"): BOOK,
    ("POST", "/api/sorties/{sortie_id}/sign"): {**EDIT, "bo": 422},  # nothing is debriefed yet
    ("POST", "/api/sorties/{sortie_id}/entries"): {**EDIT, "bo": 403},  # nothing is briefed yet
    ("POST", "/api/sorties/{sortie_id}/recordings"): {**EDIT, "bo": 403},  # nothing is briefed yet
    ("POST", "/api/sorties/{sortie_id}/recordings/look"): {**EDIT, "bo": 403},
    ("GET", "/api/sorties/{sortie_id}/recordings"): SEEN,
    ("POST", "/api/sorties/{sortie_id}/recordings/{recording_id}/aside"): {**EDIT, "bo": 403},
    ("POST", "/api/sorties/{sortie_id}/recordings/{recording_id}/again"): {**EDIT, "bo": 403},
    ("GET", "/api/sorties/{sortie_id}/recordings/{recording_id}/file"): dict.fromkeys(WHO, 404) | {None: 401},
    ("POST", "/api/sorties/{sortie_id}/recordings/{recording_id}/elsewhere"): {**EDIT, "bo": 403},
    ("GET", "/api/inbox"): TEACH,
    ("POST", "/api/inbox"): {**TEACH, **dict.fromkeys(("chief", "bo", "cy"), 422)},  # that is no recording
    ("GET", "/api/inbox/{waiting_id}/file"): {**TEACH, **dict.fromkeys(("chief", "bo", "cy"), 404)},
    ("POST", "/api/inbox/{waiting_id}/throw-away"): TEACH,
    ("GET", "/api/sorties/{sortie_id}/traces/{attempt}"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/earlier/{attempt}"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/looks/{attempt}"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/sheet.pdf"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/sortie.json"): SEEN,
    ("GET", "/api/sorties/{sortie_id}/attempts.csv"): SEEN,
    ("POST", "/api/sorties/{sortie_id}/sheet"): {  # nothing is signed yet
        None: 401,
        "chief": 403,
        "bo": 403,
        "cy": 403,
        "ana": 403,
        "dee": 404,
    },
    ("GET", "/api/grades"): ALL,
    ("POST", "/api/sorties/{sortie_id}/corrections"): {
        None: 401,
        "chief": 403,
        "bo": 403,
        "cy": 403,
        "ana": 403,
        "dee": 404,
    },
    ("DELETE", "/api/sorties/{sortie_id}"): {**EDIT, "bo": 204},
    ("PUT", "/api/aircraft/{aircraft_id}"): CHIEF_ONLY,
    ("PUT", "/api/places/{place_id}"): CHIEF_ONLY,
    ("PUT", "/api/standards"): CHIEF_ONLY,
    ("GET", "/api/records"): CHIEF_ONLY,
    ("POST", "/api/records/check"): CHIEF_ONLY,
    ("GET", "/api/audit"): CHIEF_ONLY,
    ("GET", "/api/audit.csv"): CHIEF_ONLY,
    ("GET", "/api/export.zip"): CHIEF_ONLY,
    ("GET", "/api/students/{student_id}/export.zip"): {**SEEN, "bo": 403, "cy": 403},
    ("GET", "/api/people"): CHIEF_ONLY,
    ("POST", "/api/people"): {**CHIEF_ONLY, "chief": 201},
    ("PUT", "/api/people/{person_id}"): CHIEF_ONLY,
    ("POST", "/api/people/{person_id}/link"): CHIEF_ONLY,
    ("POST", "/api/people/{person_id}/leave"): CHIEF_ONLY,
    ("POST", "/api/people/{person_id}/back"): {**CHIEF_ONLY, "chief": 422},  # they have not left
    ("POST", "/api/people/{person_id}/second-factor/off"): CHIEF_ONLY,
    ("GET", "/api/people/{person_id}/erasing"): CHIEF_ONLY,
    ("POST", "/api/people/{person_id}/erase"): CHIEF_ONLY,
    ("GET", "/api/first-steps"): CHIEF_ONLY,
    ("PUT", "/api/school-name"): CHIEF_ONLY,
    ("POST", "/api/session/first"): dict.fromkeys(WHO, 422),  # somebody is there
    ("GET", "/api/letters"): {**CHIEF_ONLY, "chief": 422},  # only a stand-in keeps them
    ("GET", "/api/account"): ALL,
    ("POST", "/api/account/password"): ALL,
    ("POST", "/api/account/second-factor"): ALL,
    ("POST", "/api/account/second-factor/on"): {**dict.fromkeys(WHO, 422), None: 401},  # none is set up
    ("POST", "/api/account/second-factor/codes"): {**dict.fromkeys(WHO, 422), None: 401},
    ("POST", "/api/account/second-factor/off"): ALL,
    ("POST", "/api/account/sessions/end"): ALL,
    ("POST", "/api/account/calendar"): ALL,
    ("DELETE", "/api/account/calendar"): ALL,
    ("GET", "/api/calendar/{key}.ics"): dict.fromkeys(WHO, 404),  # an address that leads nowhere
    ("GET", "/api/session/welcome/{name}/{token}"): dict.fromkeys(WHO, 422),  # a link that is none
    ("POST", "/api/session/welcome/{name}/{token}"): dict.fromkeys(WHO, 422),
    ("POST", "/api/session/forgot"): dict.fromkeys(WHO, 200),  # whoever it is
    ("POST", "/api/session/login"): dict.fromkeys(WHO, 422),  # a wrong password, whoever asks
    ("POST", "/api/session/logout"): ALL,
}


def body_for(method, path, school, sortie):
    place = {"version": 1, "place": school.place.place}
    draft = {"plan": sortie.plan, "aircraft_id": school.aircraft.pk, "place_id": school.place.pk}
    bodies = {
        ("POST", "/api/sorties/{sortie_id}/fit"): draft,
        ("POST", "/api/sorties/{sortie_id}/closer"): {**draft, "figure": "f1"},
        ("POST", "/api/sorties/{sortie_id}/why"): {"at": "answer.floor"},
        ("POST", "/api/sorties/{sortie_id}/weather"): {
            "day": {},
            "place_id": school.place.pk,
            "report": "METAR XTST 011350Z 24014KT 9999 BKN076 11/07 Q1009",
        },
        ("POST", "/api/sorties/{sortie_id}/plan-from-file"): {"document": sortie.plan},
        ("POST", "/api/sorties/{sortie_id}/questions"): {"text": "why so high?"},
        ("POST", "/api/sorties/{sortie_id}/questions/{question_id}"): {"text": "because"},
        ("POST", "/api/sorties/proposal"): {
            "student_id": sortie.student_id,
            "aircraft_id": school.aircraft.pk,
            "lesson": "spins_both_ways",
            "planned_for": "2030-01-01T10:00:00Z",
        },
        ("POST", "/api/courses"): {"course": SMALL},
        ("POST", "/api/course-files"): {"course": SMALL},
        ("PUT", "/api/courses/{key}"): {"version": 1, "course": {**AWARE, "flight_h": 9}},
        ("PUT", "/api/students/{student_id}/course"): {"course": "aerobatic_core"},
        ("POST", "/api/students/{student_id}/course/move"): {"version": 1},
        ("PUT", "/api/students/{student_id}/standing"): {"standing": None, "reason": "As it follows."},
        ("PUT", "/api/students/{student_id}/ground/{item}"): {"done": True},
        ("PUT", "/api/figures/{key}/standard"): {"version": 1, "standard": {"words": "look first"}},
        ("POST", "/api/aircraft"): {"registration": "QX-NEW", "card": school.aircraft.card},
        ("POST", "/api/places"): {"place": {"name": "New block", "elevation_ft": 0, "block_top_ft": 5000}},
        ("POST", "/api/sorties"): {
            "student_id": sortie.student_id,
            "aircraft_id": school.aircraft.pk,
            "place_id": school.place.pk,
            "planned_for": "2030-01-01T10:00:00Z",
        },
        ("PUT", "/api/sorties/{sortie_id}"): {"version": sortie.version, "debrief": {"note": "x"}},
        ("POST", "/api/sorties/{sortie_id}/preview"): draft,
        ("POST", "/api/sorties/{sortie_id}/stage"): {"version": sortie.version, "to": "briefed"},
        ("POST", "/api/sorties/{sortie_id}/take-over"): {"version": sortie.version, "what": "place"},
        ("POST", "/api/sorties/{sortie_id}/booking"): {"version": sortie.version},
        ("POST", "/api/sorties/{sortie_id}/cancel"): {"version": sortie.version, "reason": "wind too strong"},
        ("POST", "/api/sorties/{sortie_id}/entries"): {"entries": []},
        ("POST", "/api/sorties/{sortie_id}/sign"): {
            "version": sortie.version,
            "noted": 0,
            "password": "a-long-enough-one",
        },
        ("POST", "/api/sorties/{sortie_id}/corrections"): {"reason": "misread it", "text": "it was so"},
        ("PUT", "/api/aircraft/{aircraft_id}"): {
            "version": 1,
            "registration": school.aircraft.registration,
            "card": school.aircraft.card,
        },
        ("PUT", "/api/places/{place_id}"): place,
        ("POST", "/api/session/login"): {"username": "ana", "password": "wrong"},
        ("POST", "/api/session/forgot"): {"username": "ana"},
        ("POST", "/api/session/welcome/{name}/{token}"): {"password": "three-otters-sleeping"},
        ("PUT", "/api/school-name"): {"name": "A school"},
        ("POST", "/api/session/first"): {**PERSON, "school": "A school", "password": PASSWORD},
        ("POST", "/api/people"): PERSON,
        ("PUT", "/api/people/{person_id}"): PERSON,
        ("POST", "/api/people/{person_id}/leave"): {"reason": "moving away"},
        ("POST", "/api/people/{person_id}/erase"): {"reason": "asked for it", "password": PASSWORD},
        ("POST", "/api/account/password"): {"old": PASSWORD, "new": "three-otters-sleeping"},
        ("POST", "/api/account/second-factor/on"): {"code": "123456"},
    }
    if path.startswith("/api/account/second-factor"):
        return bodies.get((method, path), {"password": PASSWORD})
    if (method, path) == ("PUT", "/api/standards"):
        from keelturn.school.standards import Standards

        return {"version": 1, "standards": Standards().model_dump(mode="json")}
    return bodies.get((method, path), {})


@pytest.mark.parametrize(("method", "path"), DOORS)
@pytest.mark.parametrize("who", WHO)
def test_who_gets_through_which_door(school, as_, who, method, path):
    sortie = school.sortie()
    if "{student_id}/" in path:
        enrol(school.people["bo"], school.student("ana"), "spin_awareness", "")
    url = path.format(
        sortie_id=sortie.pk,
        student_id=sortie.student_id,
        aircraft_id=school.aircraft.pk,
        place_id=school.place.pk,
        key="spin_awareness" if "courses" in path else "loop",
        item="manual",
        question_id=1,
        recording_id=1,
        waiting_id=1,
        person_id=school.people["ana"].pk,
        name="MQ",
        token="made-up",
        attempt="f1",
    )
    if "lessons" in path:
        url += f"?student_id={sortie.student_id}"
    if "figures" in path or "changes" in path:
        url += {
            "GET": f"?aircraft_id={school.aircraft.pk}&place_id={school.place.pk}&subject=standards",
            "PUT": "",
        }[method]
    client, body = as_(who), body_for(method, path, school, sortie)
    send = {
        "GET": lambda: client.get(url),
        "PUT": lambda: put(client, url, body),
        "POST": lambda: post(client, url, body),
        "DELETE": lambda: client.delete(url),
    }[method]
    response = send()
    assert response.status_code == DOORS[method, path][who], response.content
    if response.status_code >= 400:
        problem = response.json()["problems"][0]
        assert problem["where"]
        assert problem["what"]
        assert problem["do"]


def of_an_object(schema):
    """Every door that leads to somebody's sortie or record, from the description itself."""
    for path, methods in schema["paths"].items():
        if "{sortie_id}" in path or "{student_id}" in path:
            yield from ((method, path) for method in methods)


def test_what_is_somebody_elses_is_not_there_object_by_object(school, as_):
    """Whatever its stage, and whatever is sent."""
    schema = api.get_openapi_schema()
    sorties = [school.brought_to(stage) for stage in ("planned", "briefed", "flown", "debriefed")]
    assert post(as_("bo"), f"/api/sorties/{sorties[-1].pk}/sign", to_sign(sorties[-1])).status_code == 200
    ana, nobody, dee = school.student("ana").pk, as_(None), as_("dee")
    found = list(of_an_object(schema))
    assert len(found) > 40
    for method, path in found:
        for sortie in sorties:
            url = path.format(
                sortie_id=sortie.pk,
                student_id=ana,
                question_id=1,
                recording_id=1,
                attempt="f1",
                item="manual",
            )
            body = body_for(method.upper(), path, school, sortie)
            said = [c.generic(method.upper(), url, json.dumps(body), JSON).status_code for c in (nobody, dee)]
            assert said == [401, 404], (method, path, sortie.stage)


def test_every_door_is_in_the_table():
    schema = api.get_openapi_schema()
    doors = {(method.upper(), path) for path, methods in schema["paths"].items() for method in methods}
    assert doors == set(DOORS)


def test_lists_hold_only_what_may_be_seen(school, as_):
    school.sortie("ana", "bo")
    school.sortie("dee", "cy")
    seen = {
        who: {s["student"] for s in as_(who).get("/api/today").json()["sorties"]}
        for who in ("chief", "bo", "cy", "ana", "dee")
    }
    assert seen == {**dict.fromkeys(("chief", "bo", "cy"), {"Ana", "Dee"}), "ana": {"Ana"}, "dee": {"Dee"}}
    assert [s["name"] for s in as_("ana").get("/api/students").json()] == ["Ana"]


def test_a_flown_sortie_of_the_school_is_seen_by_other_instructors_but_not_changed(school, as_):
    sortie = school.brought_to("flown")
    assert as_("cy").get(f"/api/sorties/{sortie.pk}").status_code == 200
    assert (
        put(
            as_("cy"), f"/api/sorties/{sortie.pk}", {"version": sortie.version, "debrief": {"note": "x"}}
        ).status_code
        == 403
    )
