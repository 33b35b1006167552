"""Until when people and aircraft may fly, and when they are not to be had."""

from django.db import models

from keelturn.school.dates import Dated, Of
from server import clock
from server.school.models.fleet import Aircraft
from server.school.models.people import Person


class OfSomebody(models.Model):
    """Of one person, or of one aircraft."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+", null=True)
    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+", null=True)

    class Meta:
        abstract = True

    @property
    def of(self) -> str:
        """Whose, in words."""
        return self.person.name if self.person else self.aircraft.registration if self.aircraft else ""


class DueDate(OfSomebody):
    """The last day on which something of theirs is valid: the core's Dated. What it was before stands in
    Change."""

    what = models.CharField(max_length=60)
    until = models.DateField()
    warn_days = models.PositiveSmallIntegerField(default=30)
    stops = models.BooleanField(default=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("until", "pk")

    def document(self) -> Dated:
        kind: Of = "person" if self.person_id else "aircraft"
        return Dated(kind, self.of, self.what, self.until, self.warn_days, self.stops)

    @classmethod
    def in_force(cls, people: list[int], aircraft: list[int]) -> "models.QuerySet[DueDate]":
        """Of these. One query."""
        theirs = models.Q(person__in=people) | models.Q(aircraft__in=aircraft)
        return cls.objects.filter(theirs).select_related("person", "aircraft")


class Taken(OfSomebody):
    """A time in which somebody or an aircraft is not to be had for a sortie. uid: of the event in the
    calendar that it was read from, with its file; empty for one that was entered."""

    begins = models.DateTimeField()
    ends = models.DateTimeField()
    words = models.CharField(max_length=120)
    uid = models.CharField(max_length=250, blank=True)
    file = models.CharField(max_length=120, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("begins", "pk")
        indexes = (models.Index(fields=("ends",), name="taken_by_end"),)


class Statement(models.Model):
    """Somebody's word toward a requirement, that is on record: hours or flights of elsewhere, or a signature;
    the core's Stated. signed_by: who gave it, as they are known where they did; by: who entered it. One that
    was wrong is taken back by another row, with the reason in `words`. Rows are only ever added (migration
    0016)."""

    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    requirement = models.CharField(max_length=40)
    what = models.CharField(max_length=12)
    amount = models.FloatField(default=0)
    on = models.DateField()
    signed_by = models.CharField(max_length=120)
    words = models.CharField(max_length=300, blank=True)
    takes_back = models.OneToOneField("self", on_delete=models.PROTECT, related_name="taken_back", null=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("on", "pk")
