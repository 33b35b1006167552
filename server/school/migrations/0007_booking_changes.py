"""A sortie can be moved, handed over and cancelled, and who did it is kept; of a signed one it does not
change."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock
from server.school.migrations._guards import BOOKING_GUARDS, put_up


class Migration(migrations.Migration):
    dependencies = [("school", "0006_signed_records_do_not_change")]
    operations = [
        # A column that may be null is added where the table stands: its guards stay up.
        migrations.AddField("sortie", "cancelled", models.CharField(max_length=300, null=True)),
        migrations.CreateModel(
            name="BookingChange",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("what", models.CharField(max_length=12)),
                ("before", models.CharField(max_length=300)),
                ("after", models.CharField(max_length=300)),
                ("at", models.DateTimeField(default=server.clock.now)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "sortie",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="booking_changes",
                        to="school.sortie",
                    ),
                ),
            ],
            options={"ordering": ("pk",)},
        ),
        *put_up(BOOKING_GUARDS),
    ]
