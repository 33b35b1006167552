"""Recorders' files that were read into sorties."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock
from server.school.migrations._guards import RECORDED_GUARDS, put_up


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0008_entries"),
    ]

    operations = [
        migrations.CreateModel(
            name="Recorded",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=120)),
                ("digest", models.CharField(max_length=64)),
                ("layout", models.CharField(db_index=True, max_length=64)),
                ("size", models.PositiveIntegerField()),
                ("said", models.JSONField()),
                ("traces", models.JSONField()),
                ("set_aside", models.BooleanField(default=False)),
                ("at", models.DateTimeField(default=server.clock.now)),
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
                        related_name="recordings",
                        to="school.sortie",
                    ),
                ),
            ],
            options={
                "ordering": ("pk",),
                "constraints": [
                    models.UniqueConstraint(fields=("sortie", "digest"), name="a_recording_once")
                ],
            },
        ),
        *put_up(RECORDED_GUARDS),
    ]
