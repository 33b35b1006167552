"""Who is logged in where, and mail that a stand-in keeps instead of sending it."""

import hashlib
from typing import Any

from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models

from server import clock
from server.school.models.people import Person


class OpenSession(AbstractBaseSession):
    """A log-in: whose, from what program and address, since when, and when it was last used (to the hour).
    The key is what opens it: it is told to nobody, `ident` is."""

    person = models.BigIntegerField(null=True, db_index=True)
    agent = models.CharField(max_length=200, blank=True)
    address = models.CharField(max_length=45, blank=True)
    began = models.DateTimeField(null=True)
    seen = models.DateTimeField(null=True)

    @classmethod
    def get_session_store_class(cls) -> Any:
        from server.sessions import SessionStore

        return SessionStore

    @property
    def ident(self) -> str:
        return hashlib.sha256(self.session_key.encode()).hexdigest()[:16]


class CalendarKey(models.Model):
    """The secret part of the address at which somebody's bookings are read by a calendar."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="calendar_key")
    key = models.CharField(max_length=64, unique=True)
    at = models.DateTimeField(default=clock.now)


class KeptMail(models.Model):
    """A letter as it would have gone out."""

    to = models.CharField(max_length=254)
    subject = models.CharField(max_length=200)
    text = models.TextField()
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("-pk",)
