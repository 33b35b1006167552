"""`manage.py verify`: whether every signed record is as it was signed, and the chain through them whole."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.school.lasting.following import look_at_all
from server.school.models import Signature


class Command(BaseCommand):
    help = "Follow the chain through everything signed and compare each record with what is stored beside it."

    def handle(self, *args: Any, **options: Any) -> None:
        found = look_at_all()
        for words in found.faults:
            self.stderr.write(f"{words[0].upper()}{words[1:]}.")
        if found.faults:
            raise CommandError(
                f"{len(found.faults)} places in the records do not hold. The first is {found.faults[0]}."
            )
        self.stdout.write(f"{Signature.objects.count()} signed records: each is as it was signed.")
        self.stdout.write(f"The chain has {found.of.links} links and ends in {found.of.digest or 'nothing'}.")
