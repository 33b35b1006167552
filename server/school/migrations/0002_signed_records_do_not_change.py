"""Signed records do not change: the database itself refuses, whatever code asks."""

from django.db import migrations

OF_A_SIGNED_SORTIE = (
    "ON school_attemptrow WHEN (SELECT stage FROM school_sortie WHERE id = {}.sortie_id) = 'signed'"
)
GUARDED = (
    ("signed_sortie_update", "BEFORE UPDATE ON school_sortie WHEN OLD.stage = 'signed'"),
    ("signed_sortie_delete", "BEFORE DELETE ON school_sortie WHEN OLD.stage = 'signed'"),
    ("signature_update", "BEFORE UPDATE ON school_signature"),
    ("signature_delete", "BEFORE DELETE ON school_signature"),
    ("correction_update", "BEFORE UPDATE ON school_correction"),
    ("correction_delete", "BEFORE DELETE ON school_correction"),
    ("signed_attempt_update", "BEFORE UPDATE " + OF_A_SIGNED_SORTIE.format("OLD")),
    ("signed_attempt_delete", "BEFORE DELETE " + OF_A_SIGNED_SORTIE.format("OLD")),
    ("signed_attempt_insert", "BEFORE INSERT " + OF_A_SIGNED_SORTIE.format("NEW")),
)


class Migration(migrations.Migration):
    dependencies = [("school", "0001_initial")]
    operations = [
        migrations.RunSQL(
            f"CREATE TRIGGER {name} {when} BEGIN SELECT RAISE(ABORT, 'a signed record does not change'); END",
            f"DROP TRIGGER {name}",
        )
        for name, when in GUARDED
    ]
