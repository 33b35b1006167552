"""What is noted is kept entry by entry, and entries do not change. What was noted of sorties that are not
signed becomes entries: one for each thing that an attempt says, by whoever stored the sortie last."""

from datetime import timedelta

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock
from keelturn.formats.signed_before import in_todays_words
from keelturn.noting.attempt import Attempt
from keelturn.noting.entry import entries_of
from server.school.migrations._guards import ENTRY_GUARDS, put_up


def entries_of_what_was_noted(apps, schema_editor):
    rows = apps.get_model("school", "AttemptRow").objects.exclude(sortie__stage="signed")
    entry_row = apps.get_model("school", "EntryRow")
    for row in rows.select_related("sortie__changed_by"):
        sortie = row.sortie
        attempt = Attempt.model_validate(in_todays_words(row.attempt))
        at = sortie.changed_at + timedelta(milliseconds=row.order)
        for entry in entries_of(attempt, f"sortie {sortie.pk}", at, sortie.changed_by.name):
            entry_row.objects.create(
                sortie=sortie, ident=entry.id, entry=entry.model_dump(mode="json"), by=sortie.changed_by
            )


class Migration(migrations.Migration):
    dependencies = [("school", "0007_booking_changes")]
    operations = [
        migrations.CreateModel(
            name="EntryRow",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("ident", models.CharField(max_length=40, unique=True)),
                ("entry", models.JSONField()),
                ("received_at", models.DateTimeField(default=server.clock.now)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "sortie",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="entries",
                        to="school.sortie",
                    ),
                ),
            ],
            options={"ordering": ("pk",)},
        ),
        migrations.RunPython(entries_of_what_was_noted, migrations.RunPython.noop),
        *put_up(ENTRY_GUARDS),
    ]
