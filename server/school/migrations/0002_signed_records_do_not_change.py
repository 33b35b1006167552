"""Signed records do not change: the database itself refuses, whatever code asks."""

from django.db import migrations

GUARDED = (
    ("signed_sortie_update", "BEFORE UPDATE ON school_sortie WHEN OLD.stage = 'signed'"),
    ("signed_sortie_delete", "BEFORE DELETE ON school_sortie WHEN OLD.stage = 'signed'"),
    ("signature_update", "BEFORE UPDATE ON school_signature"),
    ("signature_delete", "BEFORE DELETE ON school_signature"),
    ("correction_update", "BEFORE UPDATE ON school_correction"),
    ("correction_delete", "BEFORE DELETE ON school_correction"),
    ("signed_attempt_update", "BEFORE UPDATE ON school_attemptrow WHEN (SELECT stage FROM school_sortie WHERE id = OLD.sortie_id) = 'signed'"),
    ("signed_attempt_delete", "BEFORE DELETE ON school_attemptrow WHEN (SELECT stage FROM school_sortie WHERE id = OLD.sortie_id) = 'signed'"),
    ("signed_attempt_insert", "BEFORE INSERT ON school_attemptrow WHEN (SELECT stage FROM school_sortie WHERE id = NEW.sortie_id) = 'signed'"),
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
