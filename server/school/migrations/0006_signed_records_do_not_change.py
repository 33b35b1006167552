"""Signed records do not change, in any of the ways in which SQLite can change a row; what the chief changed
and who moved a sortie are kept as they were written."""

from django.db import migrations

from server.school.migrations._guards import GUARDS, put_up


class Migration(migrations.Migration):
    dependencies = [("school", "0005_what_a_sortie_remembers")]
    operations = put_up(GUARDS)
