"""A school with everything in it that records are made of, and how it is taken apart behind the guards."""

from django.db import connection

from server.school.lasting.scope import TABLES
from server.school.models import BookingChange, Person, Sortie
from server.school.operations.sorties import move_stage
from tests.server import once
from tests.server.conftest import post
from tests.server.sheets import to_sign, url


def signed_sortie(school, as_, student="ana"):
    """With a question, a booking moved, a comment and a correction."""
    sortie = school.brought_to("flown", student)
    post(as_(student), url(sortie, "/questions"), {"text": "Why so high?", "figure": "f1"})
    sortie = move_stage(school.people["bo"], sortie.pk, sortie.version, "debriefed")
    BookingChange.objects.create(
        sortie=sortie, what="instructor", before="Cy", after="Bo", by=school.people["bo"]
    )
    signing = post(as_("bo"), url(sortie, "/sign"), to_sign(sortie))
    assert signing.status_code == 200, signing.content
    said = {"reason": "misread the altimeter", "text": "Lowest was 3,480 ft"}
    assert post(as_("bo"), url(sortie, "/corrections"), said).status_code == 201
    assert post(as_(student), url(sortie, "/sheet"), {"comment": "Good to know"}).status_code == 200
    return Sortie.objects.get(pk=sortie.pk)


def without_guards(statement, *given):
    """Done by somebody who has the file and takes the triggers away; they are put back."""
    with connection.cursor() as cursor:
        guards = cursor.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
        for name, _ in guards:
            cursor.execute(f"DROP TRIGGER {name}")
        cursor.execute(statement, given)
        for _, sql in guards:
            cursor.execute(sql)


def wiped():
    """As an installation is before anybody has used it."""
    once.put({table._meta.db_table: [] for table in TABLES})
    assert not Person.objects.exists()
