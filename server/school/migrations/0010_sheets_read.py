"""Students read their sheets, and say something."""

import django.db.models.deletion
from django.db import migrations, models

import server.clock


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0009_recordings"),
    ]

    operations = [
        migrations.CreateModel(
            name="SheetRead",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("at", models.DateTimeField(default=server.clock.now)),
                ("comment", models.TextField(blank=True, max_length=1000)),
                (
                    "sortie",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="sheet_read",
                        to="school.sortie",
                    ),
                ),
            ],
        ),
    ]
