"""`manage.py verify`: whether every signed record is as it was signed."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.school.models import Signature
from server.school.operations.verifying import faults_of_the_school


class Command(BaseCommand):
    help = "Recompute the digest of every signed record and compare it with what is stored beside it."

    def handle(self, *args: Any, **options: Any) -> None:
        found = list(faults_of_the_school())
        for sortie, words in found:
            self.stderr.write(f"Sortie {sortie}: {words}.")
        if found:
            sortie, words = found[0]
            raise CommandError(
                f"{len(found)} signed records do not hold. The first is sortie {sortie}: {words}."
            )
        self.stdout.write(f"{Signature.objects.count()} signed records: each is as it was signed.")
