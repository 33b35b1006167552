"""Recorders' files that are in no sortie yet; what a recording was read with."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0010_sheets_read"),
    ]

    operations = [
        migrations.AddField(
            model_name="recorded",
            name="read_for",
            field=models.CharField(max_length=64, null=True),
        ),
        migrations.CreateModel(
            name="Waiting",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=120)),
                ("digest", models.CharField(max_length=64, unique=True)),
                ("size", models.PositiveIntegerField()),
                ("began", models.DateTimeField(null=True)),
                ("aircraft", models.CharField(blank=True, max_length=120)),
                ("at", models.DateTimeField(default=server.clock.now)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ("pk",),
            },
        ),
    ]
