"""Weather that the program read itself: what a plan may say came from a report."""

from django.db import models

from server import clock
from server.school.models.people import Person


class WeatherRead(models.Model):
    """A report as it was read. `values` are the fields of a day that it gave, `sources` where each came
    from."""

    report = models.CharField(max_length=400, db_index=True)
    observed = models.DateTimeField(null=True)
    values = models.JSONField()
    sources = models.JSONField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("-pk",)
