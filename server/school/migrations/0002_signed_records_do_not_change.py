"""Signed records do not change: the database itself refuses, whatever code asks. (0006 does it for good.)"""

from django.db import migrations

from server.school.migrations._guards import FIRST_GUARDS, put_up


class Migration(migrations.Migration):
    dependencies = [("school", "0001_initial")]
    operations = put_up(FIRST_GUARDS)
