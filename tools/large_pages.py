"""What people of a large school look at, for locust: every page and list, each person's own. Run by
tools/load_large.py, which says in KEELTURN_SESSIONS who they are."""

import json
import os
import random
from collections import Counter
from pathlib import Path
from typing import Any

from locust import FastHttpUser, between, task

# By role, the sessions of those who can be logged in.
SESSIONS: dict[str, list[str]] = json.loads(Path(os.environ["KEELTURN_SESSIONS"]).read_text())
# Each looks at each of their pages once, in their order, and not by chance for a time; how many answers of
# each page failed is then in this file.
ONCE = os.environ.get("KEELTURN_ONCE")
GONE = Counter[str]()
if ONCE:
    random.seed(1)
EVERYBODY: tuple[str, ...] = (
    "/api/session",
    "/api/today",
    "/api/students",
    "/api/students/{student}",
    "/api/week",
    "/api/sorties/{signed}",
    "/api/requirements/{person}",
    "/api/account",
)
TEACHES: tuple[str, ...] = (
    *EVERYBODY,
    "/api/aircraft",
    "/api/places",
    "/api/standards",
    "/api/courses",
    "/api/catalogue",
    "/api/dates",
    "/api/instructors",
    "/api/lessons?student_id={student}",
    "/api/grades",
    "/api/inbox",
    "/api/sorties/{signed}/recordings",
    "/api/sorties/{open}",
)
CHIEF: tuple[str, ...] = (
    *TEACHES,
    "/api/school",
    "/api/people",
    "/api/audit",
    "/api/records",
    "/api/safe-keeping",
    "/api/forms",
)


class Somebody(FastHttpUser):
    """Looks at something, and thinks for a second."""

    abstract = True
    wait_time = between(0.5, 1.5)
    role, pages, has_looked = "", tuple[str, ...](), False

    def on_start(self) -> None:
        self.headers = {"Cookie": f"sessionid={SESSIONS[self.role].pop()}"}
        self.students = [line["id"] for line in self.ask("/api/students", "(first) students")]
        self.meet()

    def ask(self, path: str, name: str) -> Any:
        with self.rest("GET", path, name=name, headers=self.headers) as answer:
            return answer.js

    def meet(self, student: int | None = None) -> None:
        """Another student, and what was flown with them."""
        student = student or random.choice(self.students)
        page = self.ask(f"/api/students/{student}", "/api/students/{student}")
        signed = [line["id"] for line in page["record"] if line["stage"] == "signed"]
        today = self.ask("/api/today", "/api/today")
        still = [line["id"] for line in today["sorties"]]
        if signed and (still or "/api/sorties/{open}" not in self.pages):
            self.at = {
                "student": student,
                "person": page["person_id"],
                "signed": random.choice(signed),
                "open": random.choice(still) if still else 0,
            }

    @task(8)
    def look(self) -> None:
        if ONCE:
            if not self.has_looked:
                self.look_at_each_and_go()
            return
        name = random.choice(self.pages)
        self.ask(name.format(**self.at), name)

    def look_at_each_and_go(self) -> None:
        """The last one ends it. Who never flew has no record to look at."""
        for student in self.students:
            if not hasattr(self, "at"):
                self.meet(student)
        for name in self.pages:
            if hasattr(self, "at") or "{" not in name:
                self.ask(name.format(**getattr(self, "at", {})), name)
        self.has_looked = True
        GONE[self.role] += 1
        if all(GONE[kind.role] >= kind.fixed_count for kind in (Chief, Instructor, Student)):
            found = {row.name: row.num_failures for row in self.environment.stats.entries.values()}
            Path(str(ONCE)).write_text(json.dumps(found))
            self.environment.runner.quit()
        self.stop()

    @task(1)
    def another(self) -> None:
        if not ONCE:
            self.meet()


class Chief(Somebody):
    role, fixed_count, pages = "chief", 1, CHIEF


class Instructor(Somebody):
    role, fixed_count, pages = "instructor", 9, TEACHES


class Student(Somebody):
    role, fixed_count, pages = "student", 10, EVERYBODY
