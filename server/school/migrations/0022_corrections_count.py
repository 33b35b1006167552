"""A correction may be of one field of an attempt; from then on the attempt counts as corrected."""

from django.db import migrations, models

from server.school.migrations._guards import BEFORE_CORRECTING, CORRECTING_GUARDS, put_up, taken_down


class Migration(migrations.Migration):
    dependencies = [("school", "0021_what_comes_before")]
    operations = [
        migrations.AddField("correction", "what", models.JSONField(null=True)),
        migrations.AddField("attemptrow", "corrected", models.JSONField(null=True)),
        *taken_down(BEFORE_CORRECTING),
        *put_up(CORRECTING_GUARDS),
    ]
