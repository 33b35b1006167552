"""A sortie remembers the card and the place it was planned on; weather that was read is kept; a sortie has
the identity that its maker gave it. The triggers of 0002 go first: changing a table would drop some of them
without a word, and 0006 puts all of them up again."""

import json

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock
from server.school.migrations._guards import FIRST_GUARDS, taken_down


def remember(apps, schema_editor):
    """Those that are there were planned on what their aircraft and place are now; the parachutes of one that
    has been flown are those of now unless they were repacked since."""
    sortie = apps.get_model("school", "Sortie")
    for row in sortie.objects.select_related("aircraft", "place"):
        row.card_kept, row.card_version = row.aircraft.card, row.aircraft.version
        row.place_kept, row.place_version = row.place.place, row.place.version
        packed = row.aircraft.parachutes_packed_on
        flown = row.stage in ("flown", "debriefed", "signed")
        row.packed_kept = packed if flown and packed and packed <= row.planned_for.date() else None
        row.save()


# What the lessons were called when these records were signed.
LESSONS = {
    "stalls": "Slow flight and stalls",
    "spins_both_ways": "Spins, both ways",
    "upsets": "Upset recovery",
    "several_turns": "Spins of several turns",
    "first_figures": "Wing-over, roll and loop",
    "mixed": "A mixed sequence",
    "free": "Free",
}


def lines_of_the_signed(apps, schema_editor):
    """What lists show of a signed sortie, out of the document that was signed."""
    for row in apps.get_model("school", "Signature").objects.all():
        signed = json.loads(row.document)
        lesson = signed["plan"]["lesson"]
        row.line = {
            "lesson": lesson,
            "lesson_name": LESSONS.get(lesson, lesson),
            "student": signed["student"],
            "instructor": signed["instructor"],
            "aircraft": signed["aircraft"],
            "aircraft_name": signed["card"]["name"],
            "place": signed["place"]["name"],
            "figures": len(signed["plan"]["figures"]),
        }
        row.save()


class Migration(migrations.Migration):
    dependencies = [("school", "0004_one_clock")]

    operations = [
        *taken_down(FIRST_GUARDS),
        migrations.AddField("correction", "digest", models.CharField(blank=True, max_length=64, default="")),
        migrations.AddField("correction", "by_name", models.CharField(blank=True, max_length=80, default="")),
        migrations.AddField("signature", "line", models.JSONField(default=dict)),
        migrations.AddField("sortie", "made_as", models.CharField(max_length=40, null=True, unique=True)),
        migrations.AddField("sortie", "card_kept", models.JSONField(default=dict)),
        migrations.AddField("sortie", "card_version", models.PositiveIntegerField(default=1)),
        migrations.AddField("sortie", "packed_kept", models.DateField(null=True)),
        migrations.AddField("sortie", "place_kept", models.JSONField(default=dict)),
        migrations.AddField("sortie", "place_version", models.PositiveIntegerField(default=1)),
        migrations.CreateModel(
            name="WeatherRead",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        primary_key=True, serialize=False, auto_created=True, verbose_name="ID"
                    ),
                ),
                ("report", models.CharField(db_index=True, max_length=400)),
                ("observed", models.DateTimeField(null=True)),
                ("values", models.JSONField()),
                ("sources", models.JSONField()),
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
            options={"ordering": ("-pk",)},
        ),
        migrations.RunPython(remember, migrations.RunPython.noop),
        migrations.RunPython(lines_of_the_signed, migrations.RunPython.noop),
    ]
