"""The time of a row is asked of our own clock. Only what Django knows of the fields changes: on the tables
nothing does, and remaking them would drop the triggers of migration 0002."""

from django.db import migrations, models

import server.clock

FIELDS = (
    ("change", "at"),
    ("correction", "at"),
    ("question", "at"),
    ("sortie", "changed_at"),
    ("stagechange", "at"),
)


class Migration(migrations.Migration):
    dependencies = [("school", "0003_briefs_read_questions_changes")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(model, field, models.DateTimeField(default=server.clock.now))
                for model, field in FIELDS
            ]
        )
    ]
