"""`manage.py load_many`: the demo school grown to the size of a large one, to measure it."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.school.demo.many import load_many
from server.school.models import Student


class Command(BaseCommand):
    help = "Grow a freshly loaded demo school to so many students and sorties. For measuring only."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--students", type=int, default=300)
        parser.add_argument("--sorties", type=int, default=20_000)

    def handle(self, *args: Any, **options: Any) -> None:
        if not Student.objects.exists():
            raise CommandError("There is no school yet: 'manage.py load_demo' first.")
        load_many(options["students"], options["sorties"], lambda words: self.stdout.write(f"    {words}"))
