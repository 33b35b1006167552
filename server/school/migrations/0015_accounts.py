"""Sessions know whose they are; people are invited, leave and come back; what the school is called; letters
that a stand-in keeps, and bookings at an address that nobody can guess."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0014_records_that_last"),
    ]

    operations = [
        migrations.CreateModel(
            name="KeptMail",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("to", models.CharField(max_length=254)),
                ("subject", models.CharField(max_length=200)),
                ("text", models.TextField()),
                ("at", models.DateTimeField(default=server.clock.now)),
            ],
            options={
                "ordering": ("-pk",),
            },
        ),
        migrations.CreateModel(
            name="OpenSession",
            fields=[
                (
                    "session_key",
                    models.CharField(
                        max_length=40, primary_key=True, serialize=False, verbose_name="session key"
                    ),
                ),
                ("session_data", models.TextField(verbose_name="session data")),
                ("expire_date", models.DateTimeField(db_index=True, verbose_name="expire date")),
                ("person", models.BigIntegerField(db_index=True, null=True)),
                ("agent", models.CharField(blank=True, max_length=200)),
                ("address", models.CharField(blank=True, max_length=45)),
                ("began", models.DateTimeField(null=True)),
                ("seen", models.DateTimeField(null=True)),
            ],
            options={
                "verbose_name": "session",
                "verbose_name_plural": "sessions",
                "abstract": False,
            },
        ),
        migrations.AddField(
            model_name="person",
            name="invited_at",
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name="person",
            name="left_at",
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name="person",
            name="left_why",
            field=models.CharField(max_length=300, null=True),
        ),
        migrations.CreateModel(
            name="CalendarKey",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("key", models.CharField(max_length=64, unique=True)),
                ("at", models.DateTimeField(default=server.clock.now)),
                (
                    "person",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="calendar_key",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="School",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=80)),
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
        ),
    ]
