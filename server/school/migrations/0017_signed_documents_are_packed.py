"""Documents that are signed from now on are packed; those from before stay as they were written. The column
is the same: nothing of the table is made anew, with what guards it."""

from django.db import migrations

import server.school.models.packed


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0016_dates_and_week"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    model_name="signature",
                    name="document",
                    field=server.school.models.packed.PackedText(),
                ),
            ],
        ),
    ]
