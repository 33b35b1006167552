"""Letters: sent through whatever Django is set up with; a stand-in that keeps them for a page to show; or
none."""

from collections.abc import Sequence

from django.conf import settings
from django.core.mail import EmailMessage, send_mail
from django.core.mail.backends.base import BaseEmailBackend

STAND_IN, NONE = "server.mail.StandIn", "django.core.mail.backends.dummy.EmailBackend"


class StandIn(BaseEmailBackend):
    """Keeps what it is given."""

    def send_messages(self, email_messages: Sequence[EmailMessage]) -> int:
        from server.school.models import KeptMail

        for message in email_messages:
            for to in message.to:
                KeptMail.objects.create(to=to, subject=str(message.subject), text=str(message.body))
        return len(email_messages)


def can_be_sent() -> bool:
    return settings.EMAIL_BACKEND != NONE


def is_kept() -> bool:
    """Whether the stand-in has it."""
    return settings.EMAIL_BACKEND == STAND_IN


def send(to: str, subject: str, text: str) -> str:
    """In words what became of it; a mail server that does not answer stops nobody."""
    if not to or not can_be_sent():
        return ""
    try:
        send_mail(subject, text, None, [to])
    except OSError as error:
        return f"The letter to {to} could not be sent ({error})."
    return f"A letter with the link is on its way to {to}."
