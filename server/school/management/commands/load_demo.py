"""`manage.py load_demo`: the demo school, into an empty database only."""

from datetime import datetime
from functools import partial
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.http import HttpRequest
from django.utils import timezone

from server import clock
from server.api.debriefing import looks_of
from server.backups import mark_the_demo
from server.school.demo import behind
from server.school.demo.loading import load_demo
from server.school.models import Person


class Command(BaseCommand):
    help = "Load the demo school into an empty database."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--on", help="the day to count from, YYYY-MM-DD; today if not given")
        parser.add_argument(
            "--if-empty", action="store_true", help="do nothing, quietly, when somebody is already there"
        )
        parser.add_argument(
            "--first", action="store_true", help="what Today shows; the server loads the rest when it runs"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        if Person.objects.exists():
            if options["if_empty"]:
                return
            raise CommandError(
                "The database is not empty. Use 'make demo-fresh' to start over; it sets aside what is there."
            )
        now = clock.now()
        if options["on"]:
            try:
                now = timezone.make_aware(datetime.strptime(options["on"], "%Y-%m-%d")).replace(hour=8)
            except ValueError as error:
                raise CommandError(
                    f"--on: '{options['on']}' is not a day; write it as 2026-05-14."
                ) from error

        def say(words: str) -> None:
            self.stdout.write(f"    {words}")

        if options["first"]:
            behind.begin(settings.DATA, clock.day_of(now), say)
            return
        # Nobody asks: there is no request.
        load_demo(now, partial(looks_of, HttpRequest()), say)
        mark_the_demo(settings.DATA)
