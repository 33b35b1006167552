"""What each student loses against the population: kept with attempts and flights, and of the school."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("school", "0012_courses")]

    operations = [
        migrations.CreateModel(
            name="SchoolNumbers",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("population", models.JSONField()),
                ("at", models.DateTimeField()),
            ],
        ),
        migrations.AddField("attemptrow", "deviation", models.FloatField(null=True)),
        migrations.AddField("sortie", "briefed_kept", models.JSONField(null=True)),
        migrations.AddField("sortie", "own_kept", models.JSONField(null=True)),
    ]
