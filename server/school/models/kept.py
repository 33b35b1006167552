"""What was counted from many rows, kept until one of them changes."""

from django.db import models


class Of(models.TextChoices):
    """Whose it is."""

    STUDENT = "student", "Student"
    PERSON = "person", "Person"
    SORTIE = "sortie", "Sortie"
    SCHOOL = "school", "School"
    PROGRAM = "program", "Program"


class Kept(models.Model):
    """An answer that was counted from rows of other tables. The database itself empties it when one of these
    rows changes and raises `times` (migration 0018), so that what was counted meanwhile is not stored over
    it. day: on which it holds, null for one that holds on every day. said: JSON, null where it has to be
    counted anew. Of the program: by which one the others were counted."""

    of = models.CharField(max_length=8, choices=Of.choices)
    number = models.PositiveBigIntegerField()
    what = models.CharField(max_length=24)
    times = models.PositiveBigIntegerField(default=0)
    day = models.DateField(null=True)
    said = models.TextField(null=True)  # noqa: DJ001

    class Meta:
        constraints = (models.UniqueConstraint(fields=("of", "number", "what"), name="kept_once"),)
