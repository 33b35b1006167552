"""Triggers by which the database empties what was counted (`school_kept`) when a row that it was counted from
changes, whatever code changes it."""

from collections.abc import Iterator

_FLOWN, _COUNTED = "('flown', 'debriefed', 'signed')", "('debriefed', 'signed')"
_EMPTY = "UPDATE school_kept SET said = NULL, times = times + 1"
_EVERYTHING = f"{_EMPTY} WHERE of <> 'program';"
# A save of a plan that is not flown yet changes nothing that is counted.
_SORTIE_CHANGED = (
    f"NEW.stage IN {_FLOWN} OR OLD.stage IN {_FLOWN} OR OLD.stage <> NEW.stage"
    " OR OLD.planned_for <> NEW.planned_for OR OLD.cancelled IS NOT NEW.cancelled"
    " OR OLD.student_id <> NEW.student_id"
)
_DONE = (("INSERT", ("NEW",)), ("UPDATE", ("OLD", "NEW")), ("DELETE", ("OLD",)))


def _empty(of: str, number: str, when: str = "1") -> str:
    return f"{_EMPTY} WHERE of = '{of}' AND number = {number} AND {when};"


def _of_student(student: str) -> str:
    person = f"(SELECT person_id FROM school_student WHERE id = {student})"
    return _empty("student", student) + _empty("person", person)


def _sortie(student: str, instructor: str, sortie: str, stage: str) -> str:
    counted = f"{stage} IN {_COUNTED}"
    its = _of_student(student) + _empty("person", instructor, counted) + _empty("sortie", sortie)
    return its + _empty("school", "0", counted)


def _attempt(row: str) -> str:
    its = f"(SELECT {{}} FROM school_sortie WHERE id = {row}.sortie_id)"
    people = its.format("student_id"), its.format("instructor_id")
    return _sortie(*people, f"{row}.sortie_id", its.format("stage"))


def _triggers() -> Iterator[tuple[str, str, str]]:
    """Name, when, what is done."""
    for done, rows in _DONE:
        name = done.lower()
        attempts = "".join(map(_attempt, rows))
        yield f"kept_attempt_{name}", f"AFTER {done} ON school_attemptrow", attempts
        columns = ("student_id", "instructor_id", "id", "stage")
        sorties = "".join(_sortie(*(f"{row}.{column}" for column in columns)) for row in rows)
        when = f" WHEN {_SORTIE_CHANGED}" if done == "UPDATE" else ""
        yield f"kept_sortie_{name}", f"AFTER {done} ON school_sortie{when}", sorties
        for table in ("enrolment", "grounddone"):
            students = "".join(_of_student(f"{row}.student_id") for row in rows)
            yield f"kept_{table}_{name}", f"AFTER {done} ON school_{table}", students + _empty("school", "0")
        stated = "".join(_empty("person", f"{row}.person_id") for row in rows)
        yield f"kept_statement_{name}", f"AFTER {done} ON school_statement", stated
    # There is one row of these, and versions are only ever added.
    yield "kept_standards_update", "AFTER UPDATE ON school_schoolstandards", _EVERYTHING
    yield "kept_course_insert", "AFTER INSERT ON school_courseversion", _EVERYTHING
    yield "kept_student_update", "AFTER UPDATE ON school_student", _empty("student", "NEW.id")
    yield "kept_student_insert", "AFTER INSERT ON school_student", _empty("person", "NEW.person_id")
    # Names stand in what was counted; by the role it is told what is required of somebody.
    for table, column in (("person", "name"), ("person", "role"), ("aircraft", "registration")):
        other = f"AFTER UPDATE OF {column} ON school_{table} WHEN OLD.{column} <> NEW.{column}"
        emptied = f"{_EMPTY} WHERE of IN ('student', 'person', 'school');"
        yield f"kept_{table}_{column}", other, emptied


TRIGGERS = tuple(
    (f"CREATE TRIGGER {name} {when} BEGIN {does} END", f"DROP TRIGGER {name}")
    for name, when, does in _triggers()
)
