"""What was counted from many rows is kept, and emptied by the database when one of them changes."""

from django.db import migrations, models

from server.school.migrations._emptied import TRIGGERS


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0017_signed_documents_are_packed"),
    ]

    operations = [
        migrations.CreateModel(
            name="Kept",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "of",
                    models.CharField(
                        choices=[
                            ("student", "Student"),
                            ("person", "Person"),
                            ("sortie", "Sortie"),
                            ("school", "School"),
                            ("program", "Program"),
                        ],
                        max_length=8,
                    ),
                ),
                ("number", models.PositiveBigIntegerField()),
                ("what", models.CharField(max_length=24)),
                ("times", models.PositiveBigIntegerField(default=0)),
                ("day", models.DateField(null=True)),
                ("said", models.TextField(null=True)),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("of", "number", "what"), name="kept_once"),
                ],
            },
        ),
        *(migrations.RunSQL(up, down) for up, down in TRIGGERS),
    ]
