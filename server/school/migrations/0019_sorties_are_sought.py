"""Lists are of a time, a stage, somebody: what a school of many years has is not looked through for them."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0018_kept"),
    ]

    operations = [
        migrations.AddIndex(
            model_name="stagechange",
            index=models.Index(fields=["at"], name="stage_by_time"),
        ),
        migrations.AddIndex(
            model_name="recorded",
            index=models.Index(fields=["at"], name="recording_by_time"),
        ),
        migrations.AddIndex(
            model_name="sortie",
            index=models.Index(fields=["planned_for"], name="sortie_by_time"),
        ),
        migrations.AddIndex(
            model_name="sortie",
            index=models.Index(fields=["stage", "planned_for"], name="sortie_by_stage"),
        ),
        migrations.AddIndex(
            model_name="sortie",
            index=models.Index(fields=["student", "planned_for"], name="sortie_by_student"),
        ),
        migrations.AddIndex(
            model_name="sortie",
            index=models.Index(fields=["instructor", "planned_for"], name="sortie_by_instructor"),
        ),
    ]
