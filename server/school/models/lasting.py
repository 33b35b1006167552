"""What makes records last: the chain through everything signed, what was erased, and who did what."""

import hashlib
import json
from datetime import timedelta
from enum import StrEnum

from django.db import models

from keelturn.formats.chain import Link, What
from server import clock
from server.school.models.people import Person

# What is done again within this time is one deed.
AGAIN = timedelta(hours=1)


class ChainLink(models.Model):
    """A link as the core has it. Rows are only ever added (migration 0014)."""

    number = models.PositiveIntegerField(unique=True)
    what = models.CharField(max_length=12)
    subject = models.PositiveIntegerField()
    sortie = models.PositiveIntegerField()
    covers = models.CharField(max_length=64)
    at = models.CharField(max_length=40)
    before = models.CharField(max_length=64)
    digest = models.CharField(max_length=64)

    class Meta:
        ordering = ("number",)
        indexes = (models.Index(fields=("what", "subject"), name="chain_by_subject"),)

    def link(self) -> Link:
        return Link(
            self.number,
            What(self.what),
            self.subject,
            self.sortie,
            self.covers,
            self.at,
            self.before,
            self.digest,
        )


class Erasure(models.Model):
    """Somebody was erased at their request: who decided it, why, and what had to be kept until when. person:
    the number that is left of them. document: what was removed, as JSON. Rows are only ever added."""

    person = models.PositiveIntegerField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)
    kept_until = models.DateField(null=True)
    reason = models.CharField(max_length=300)
    document = models.TextField()
    digest = models.CharField(max_length=64)

    class Meta:
        ordering = ("pk",)

    @property
    def holds(self) -> bool:
        """Whether the document is the one that was written, and the row says the same."""
        if hashlib.sha256(self.document.encode()).hexdigest() != self.digest:
            return False
        said = json.loads(self.document)
        until = self.kept_until.isoformat() if self.kept_until else None
        row = (self.person, self.reason, until, self.at.isoformat())
        return row == (said["person"], said["reason"], said["kept_until"], said["at"])

    @property
    def sorties(self) -> list[int]:
        """Those that were taken out, by their numbers."""
        return list(json.loads(self.document)["sorties"])


class Erased(models.Model):
    """What an erasure takes away: of this the guards of the database let go. subject: "sortie 12" or
    "student 3". Rows are only ever added."""

    erasure = models.ForeignKey(Erasure, on_delete=models.PROTECT, related_name="parts")
    subject = models.CharField(max_length=40, db_index=True)

    class Meta:
        ordering = ("pk",)


class DeedKind(StrEnum):
    """What is kept of what people did, besides what stands in rows of its own."""

    LOGGED_IN = "logged in"
    NOT_LET_IN = "not let in"
    LOGGED_OUT = "logged out"
    SAVED = "saved"
    EXPORTED = "exported"
    IMPORTED = "imported"
    ERASED = "erased"
    BACKED_UP = "backed up"
    CHECKED = "checked the records"
    INVITED = "made a link in"
    FORGOT = "asked for a link in"
    PASSWORD = "set a password"
    SECOND_FACTOR = "second factor"
    SESSIONS = "sessions"
    CALENDAR = "calendar"
    AWAY = "not to be had"


class Deed(models.Model):
    """Somebody did something. by: nobody where it was not known who. subject: "sortie 12", "student 3",
    "school" or empty; words: what more is to be said. Rows are only ever added."""

    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+", null=True)
    at = models.DateTimeField(default=clock.now)
    what = models.CharField(max_length=24)
    subject = models.CharField(max_length=40, blank=True)
    words = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ("-pk",)
        indexes = (
            models.Index(fields=("at",), name="deed_by_time"),
            models.Index(fields=("subject",), name="deed_by_subject"),
        )

    @classmethod
    def note(cls, by: Person | None, what: DeedKind, subject: str = "", words: str = "") -> None:
        cls.objects.create(by=by, what=what, subject=subject, words=words[:300])

    @classmethod
    def note_once(cls, by: Person, what: DeedKind, subject: str, words: str) -> None:
        """For what is done again and again while somebody works: a line an hour."""
        same = cls.objects.filter(by=by, what=what, subject=subject, words=words[:300])
        if not same.filter(at__gt=clock.now() - AGAIN).exists():
            cls.note(by, what, subject, words)
