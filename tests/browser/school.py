"""`python -m tests.browser.school`, in the data folder of KEELTURN_DATA: the demo school, and beside it a
session of each of its people, by log-in: a password costs a second."""

import json
from pathlib import Path

import django

SESSIONS = "sessions.json"


def make() -> None:
    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client

    from server.school.models import Person

    def session_of(person: Person) -> str:
        client = Client()
        client.force_login(person)
        return client.cookies[settings.SESSION_COOKIE_NAME].value

    call_command("migrate", verbosity=0)
    call_command("load_demo")
    sessions = {person.username: session_of(person) for person in Person.objects.all()}
    (Path(settings.DATABASES["default"]["NAME"]).parent / SESSIONS).write_text(json.dumps(sessions))


if __name__ == "__main__":
    make()
