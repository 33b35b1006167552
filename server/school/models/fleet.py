"""Aircraft, places and the school's standards: documents of the core, edited by the chief only."""

from datetime import date

from django.db import models

from keelturn.aircraft.card import Card
from keelturn.school.place import Place as PlaceDocument
from keelturn.school.standards import Standards
from server import clock
from server.school.models.people import Person


class Aircraft(models.Model):
    registration = models.CharField(max_length=12, unique=True)
    card = models.JSONField()
    parachutes_packed_on = models.DateField(null=True, blank=True)
    version = models.PositiveIntegerField(default=1)

    def document(self) -> Card:
        return Card.model_validate(self.card)

    def parachute_days(self, on: date) -> float | None:
        packed = self.parachutes_packed_on
        return None if packed is None else max(0.0, float((on - packed).days))


class Place(models.Model):
    name = models.CharField(max_length=80, unique=True)
    place = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    def document(self) -> PlaceDocument:
        return PlaceDocument.model_validate(self.place)


class Change(models.Model):
    """What the chief changed, when: the document before and after. `subject` is "aircraft 1", "place 3" (by
    id), "standards" or "figure loop"."""

    subject = models.CharField(max_length=100, db_index=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)

    class Meta:
        ordering = ("-pk",)


class SchoolStandards(models.Model):
    """One row: the school's standards in force."""

    standards = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    @classmethod
    def in_force(cls) -> "SchoolStandards":
        found = cls.objects.order_by("pk").first()
        return found or cls.objects.create(standards=Standards().model_dump(mode="json"))

    def document(self) -> Standards:
        return Standards.model_validate(self.standards)


class School(models.Model):
    """One row: what the school is called. A school without it has been begun by nobody yet."""

    name = models.CharField(max_length=80)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    @classmethod
    def called(cls) -> str:
        """Empty where nobody has said. One query."""
        return cls.objects.order_by("pk").values_list("name", flat=True).first() or ""


class SchoolNumbers(models.Model):
    """One row: what the school's students lose against the population, the core's Population, as it was
    counted when a debrief was last finished."""

    population = models.JSONField()
    at = models.DateTimeField()
