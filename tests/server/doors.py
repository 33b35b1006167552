"""The doors of the API: what each role gets at each of them, and what is sent there."""

import json
from datetime import date
from functools import cache
from typing import Any

from keelturn.progress.courses import SPIN_AWARENESS
from server.api import api
from server.school.models import DueDate, Statement, Taken
from tests.courses import SMALL
from tests.server.conftest import PASSWORD


@cache
def description() -> dict[str, Any]:
    """The API's own; it takes seconds to make."""
    found: dict[str, Any] = json.loads(json.dumps(api.get_openapi_schema(), default=str))
    return found


PERSON = {"username": "eve", "name": "Eve Marlow", "weight_lb": 150}
AWAY = {"begins": "2030-01-01T10:00:00Z", "ends": "2030-01-01T12:00:00Z", "words": "Tyre"}
DATE = {"version": 1, "what": "Inspection", "until": "2030-01-01"}
WORD = {
    "requirement": "spin_endorsement",
    "what": "signature",
    "on": "2026-01-01",
    "signed_by": "A. Examiner",
}
AWARE = SPIN_AWARENESS.model_dump(mode="json")

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
    ("GET", "/api/aircraft/{aircraft_id}/blanks"): ALL,
    ("GET", "/api/aircraft/{aircraft_id}/spins"): CHIEF_ONLY,
    ("GET", "/api/places"): ALL,
    ("GET", "/api/standards"): ALL,
    ("GET", "/api/students"): ALL,
    ("GET", "/api/instructors"): {**ALL, "ana": 403, "dee": 403},
    ("GET", "/api/week"): ALL,
    ("POST", "/api/taken"): {**TEACH, "chief": 201, "bo": 201, "cy": 201},
    ("DELETE", "/api/taken/{taken_id}"): {
        **TEACH,
        "chief": 204,
        "bo": 204,
        "cy": 204,
        "ana": 404,
        "dee": 404,
    },
    # An empty body is no calendar.
    ("POST", "/api/taken-file"): {**TEACH, "chief": 422, "bo": 422, "cy": 422},
    ("GET", "/api/dates"): TEACH,
    ("POST", "/api/dates"): {**CHIEF_ONLY, "chief": 201},
    ("PUT", "/api/dates/{date_id}"): CHIEF_ONLY,
    ("DELETE", "/api/dates/{date_id}"): CHIEF_ONLY,
    ("GET", "/api/requirements/{person_id}"): SEEN,
    ("POST", "/api/requirements/{person_id}"): {**SEEN, "chief": 201, "bo": 201, "cy": 201, "ana": 403},
    ("POST", "/api/statements/{statement_id}/take-back"): {**SEEN, "ana": 403},
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
        ("POST", "/api/taken"): {**AWAY, "aircraft_id": school.aircraft.pk},
        ("POST", "/api/dates"): {**DATE, "aircraft_id": school.aircraft.pk},
        ("PUT", "/api/dates/{date_id}"): DATE,
        ("POST", "/api/requirements/{person_id}"): WORD,
        ("POST", "/api/statements/{statement_id}/take-back"): {"reason": "It was another one"},
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


def rows_for(school):
    """One of each that some doors ask for: of the aircraft, and of Ana."""
    bo, ana = school.people["bo"], school.people["ana"]
    begins_ends = {"begins": AWAY["begins"], "ends": AWAY["ends"]}
    return {
        "taken_id": Taken.objects.create(aircraft=school.aircraft, words="Tyre", by=bo, **begins_ends).pk,
        "date_id": DueDate.objects.create(aircraft=school.aircraft, what="Tyre", until=date(2030, 1, 1)).pk,
        "statement_id": Statement.objects.create(
            person=ana,
            requirement="upset_course",
            what="signature",
            on=date(2026, 1, 1),
            signed_by="X",
            by=bo,
        ).pk,
    }
