"""Recorders' files that were read into sorties."""

from django.db import models

from server import clock
from server.school.models.people import Person
from server.school.models.sorties import Sortie


class Recorded(models.Model):
    """A file as it was read: the bytes lie under their digest (server/recordings.py). layout: what tells
    tables with the same names of columns, empty for tracks. said: the core's FlightRead; traces: by the
    attempt's id. set_aside: its numbers have been taken back. read_for: digest of the plan and the
    conditions that it was read with, null where an older program kept none. None of a signed sortie changes
    (migration 0009)."""

    sortie = models.ForeignKey(Sortie, on_delete=models.PROTECT, related_name="recordings")
    name = models.CharField(max_length=120)
    digest = models.CharField(max_length=64)
    layout = models.CharField(max_length=64, db_index=True)
    size = models.PositiveIntegerField()
    said = models.JSONField()
    traces = models.JSONField()
    set_aside = models.BooleanField(default=False)
    # Null, so that the column is added to the table as it stands, with what guards it.
    read_for = models.CharField(max_length=64, null=True)  # noqa: DJ001
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("sortie", "digest"), name="a_recording_once"),)
        indexes = (models.Index(fields=("at",), name="recording_by_time"),)


class Waiting(models.Model):
    """A recorder's file that is in no sortie yet: the bytes lie under their digest. began: when its first row
    was, where it says so; aircraft: as it calls it. Taken into a sortie, or thrown away, it is not here."""

    name = models.CharField(max_length=120)
    digest = models.CharField(max_length=64, unique=True)
    size = models.PositiveIntegerField()
    began = models.DateTimeField(null=True)
    aircraft = models.CharField(max_length=120, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("pk",)
