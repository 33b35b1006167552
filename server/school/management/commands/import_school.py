"""`manage.py import_school FILE`: an export into an empty installation."""

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from keelturn.formats.reading import Refused
from server.school.lasting.importing import take_export


class Command(BaseCommand):
    help = "Take an export into this installation, which has to be empty."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        try:
            taken = take_export(options["file"])
        except Refused as error:
            first = error.problems[0]
            raise CommandError(f"{first.where}: {first.what}. {first.do} Nothing was taken.") from error
        self.stdout.write(
            f"Taken: {taken.of}, {taken.rows} rows; {taken.signed} signed records, each as it was signed."
        )
        for chief in taken.chiefs:
            self.stdout.write(f"{chief.name} sets a password by: manage.py way_in {chief.username}")
