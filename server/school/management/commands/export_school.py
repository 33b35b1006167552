"""`manage.py export_school FILE [--student N]`: everything of the school, or of one student, as a file."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.school.lasting.exporting import archive_of
from server.school.lasting.scope import Scope
from server.school.models import Deed, DeedKind, Student


class Command(BaseCommand):
    help = "Write everything of the school, or of one student, into an archive that another can take."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--student", type=int)

    def handle(self, *args: Any, **options: Any) -> None:
        student = None
        if options["student"] is not None:
            student = Student.objects.filter(pk=options["student"]).first()
            if student is None:
                raise CommandError(f"There is no student {options['student']}.")
        scope, into = Scope(student), options["file"]
        half = into.with_name(f"{into.name}.half")
        with half.open("wb") as file:
            for part in archive_of(scope):
                file.write(part)
        half.replace(into)
        Deed.note(
            None, DeedKind.EXPORTED, "school" if student is None else f"student {student.pk}", scope.words
        )
        self.stdout.write(f"{into}: {scope.words}, {into.stat().st_size / 1e6:.1f} MB.")
