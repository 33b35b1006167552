"""Everything signed hangs in a chain; who was erased, and who did what, is kept. What was signed before is
chained in the order in which it was."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock
from keelturn.formats.chain import What, digest_of_correction, next_link
from server.school.migrations._guards import (
    ERASING_GUARDS,
    LASTING_GUARDS,
    REPLACED_GUARDS,
    put_up,
    taken_down,
)


def what_was_signed(apps, schema_editor):
    found = [
        (row.at, 0, What.SIGNED, row.pk, row.sortie_id, row.digest)
        for row in apps.get_model("school", "Signature").objects.defer("document", "line")
    ]
    for row in apps.get_model("school", "Correction").objects.all():
        at = row.at.isoformat()
        covers = row.digest or digest_of_correction("", row.by_name, at, row.reason, row.text)
        found.append((row.at, 1, What.CORRECTED, row.pk, row.sortie_id, covers))
    link, made = None, []
    chain_link = apps.get_model("school", "ChainLink")
    for at, _, what, subject, sortie, covers in sorted(found):
        link = next_link(link, what, subject, sortie, covers, at.isoformat())
        made.append(
            chain_link(
                number=link.number,
                what=link.what,
                subject=link.subject,
                sortie=link.sortie,
                covers=link.covers,
                at=link.at,
                before=link.before,
                digest=link.digest,
            )
        )
    chain_link.objects.bulk_create(made, batch_size=500)


def _id():
    return (
        "id",
        models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"),
    )


def _by(**more):
    kept = django.db.models.deletion.PROTECT
    return (
        "by",
        models.ForeignKey(on_delete=kept, related_name="+", to=settings.AUTH_USER_MODEL, **more),
    )


class Migration(migrations.Migration):
    dependencies = [("school", "0013_own_numbers")]

    operations = [
        migrations.CreateModel(
            name="ChainLink",
            fields=[
                _id(),
                ("number", models.PositiveIntegerField(unique=True)),
                ("what", models.CharField(max_length=12)),
                ("subject", models.PositiveIntegerField()),
                ("sortie", models.PositiveIntegerField()),
                ("covers", models.CharField(max_length=64)),
                ("at", models.CharField(max_length=40)),
                ("before", models.CharField(max_length=64)),
                ("digest", models.CharField(max_length=64)),
            ],
            options={
                "ordering": ("number",),
                "indexes": [models.Index(fields=["what", "subject"], name="chain_by_subject")],
            },
        ),
        migrations.CreateModel(
            name="Erasure",
            fields=[
                _id(),
                ("person", models.PositiveIntegerField()),
                ("at", models.DateTimeField(default=server.clock.now)),
                ("kept_until", models.DateField(null=True)),
                ("reason", models.CharField(max_length=300)),
                ("document", models.TextField()),
                ("digest", models.CharField(max_length=64)),
                _by(),
            ],
            options={"ordering": ("pk",)},
        ),
        migrations.CreateModel(
            name="Erased",
            fields=[
                _id(),
                ("subject", models.CharField(db_index=True, max_length=40)),
                (
                    "erasure",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="parts",
                        to="school.erasure",
                    ),
                ),
            ],
            options={"ordering": ("pk",)},
        ),
        migrations.CreateModel(
            name="Deed",
            fields=[
                _id(),
                ("at", models.DateTimeField(default=server.clock.now)),
                ("what", models.CharField(max_length=24)),
                ("subject", models.CharField(blank=True, max_length=40)),
                ("words", models.CharField(blank=True, max_length=300)),
                _by(null=True),
            ],
            options={
                "ordering": ("-pk",),
                "indexes": [
                    models.Index(fields=["at"], name="deed_by_time"),
                    models.Index(fields=["subject"], name="deed_by_subject"),
                ],
            },
        ),
        migrations.RunPython(what_was_signed, migrations.RunPython.noop),
        *taken_down(REPLACED_GUARDS),
        *put_up(ERASING_GUARDS),
        *put_up(LASTING_GUARDS),
    ]
