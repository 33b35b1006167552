"""A school with everything in it that records are made of."""

from server.school.models import BookingChange, Sortie
from server.school.operations.sorties import move_stage
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
