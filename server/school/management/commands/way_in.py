"""`manage.py way_in NAME`: a link into somebody's account, where no chief can make one."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from keelturn.formats.reading import Refused
from server.school.models import Deed, DeedKind, Person
from server.school.operations.people import make_link


class Command(BaseCommand):
    help = "Make a link by which somebody sets a password: the path behind the address of the school."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="the name to log in")

    def handle(self, *args: Any, **options: Any) -> None:
        person = Person.objects.filter(username=options["name"]).first()
        if person is None:
            raise CommandError(f"Nobody logs in as {options['name']}.")
        try:
            link = make_link(person)
        except Refused as error:
            raise CommandError(error.problems[0].what) from error
        Deed.note(None, DeedKind.INVITED, f"person {person.pk}", "on the machine itself")
        self.stdout.write(f"{link} (opens once, for three days, as {person.name})")
