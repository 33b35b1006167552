"""Triggers by which the database itself keeps what is signed, whatever code asks."""

from django.db import migrations

Guards = tuple[tuple[str, str], ...]
REFUSAL = "SELECT RAISE(ABORT, 'a signed record does not change')"


def put_up(guards: Guards) -> list[migrations.RunSQL]:
    return [
        migrations.RunSQL(f"CREATE TRIGGER {name} {when} BEGIN {REFUSAL}; END", f"DROP TRIGGER {name}")
        for name, when in guards
    ]


def taken_down(guards: Guards) -> list[migrations.RunSQL]:
    return [
        migrations.RunSQL(f"DROP TRIGGER {name}", f"CREATE TRIGGER {name} {when} BEGIN {REFUSAL}; END")
        for name, when in guards
    ]


def _signed(sortie: str) -> str:
    return f"(SELECT stage FROM school_sortie WHERE id = {sortie}) = 'signed'"


_ATTEMPT = "ON school_attemptrow WHEN (SELECT stage FROM school_sortie WHERE id = {}.sortie_id) = 'signed'"
# Those of migration 0002.
FIRST_GUARDS: Guards = (
    ("signed_sortie_update", "BEFORE UPDATE ON school_sortie WHEN OLD.stage = 'signed'"),
    ("signed_sortie_delete", "BEFORE DELETE ON school_sortie WHEN OLD.stage = 'signed'"),
    ("signature_update", "BEFORE UPDATE ON school_signature"),
    ("signature_delete", "BEFORE DELETE ON school_signature"),
    ("correction_update", "BEFORE UPDATE ON school_correction"),
    ("correction_delete", "BEFORE DELETE ON school_correction"),
    ("signed_attempt_update", "BEFORE UPDATE " + _ATTEMPT.format("OLD")),
    ("signed_attempt_delete", "BEFORE DELETE " + _ATTEMPT.format("OLD")),
    ("signed_attempt_insert", "BEFORE INSERT " + _ATTEMPT.format("NEW")),
)


def _of_signed_sorties(table: str) -> Guards:
    """Rows that belong to a sortie: none of a signed one is changed, removed, added, moved in or out, or put
    in the place of another (an INSERT OR REPLACE removes the other one without a DELETE)."""
    there = f"SELECT 1 FROM {table} WHERE id = NEW.id AND {_signed('sortie_id')}"
    name = f"signed_{table.removeprefix('school_')}"
    return (
        (
            f"{name}_update",
            f"BEFORE UPDATE ON {table} WHEN {_signed('OLD.sortie_id')} OR {_signed('NEW.sortie_id')}",
        ),
        (f"{name}_put_over", f"BEFORE UPDATE OF id ON {table} WHEN NEW.id <> OLD.id AND EXISTS ({there})"),
        (f"{name}_delete", f"BEFORE DELETE ON {table} WHEN {_signed('OLD.sortie_id')}"),
        (f"{name}_insert", f"BEFORE INSERT ON {table} WHEN {_signed('NEW.sortie_id')} OR EXISTS ({there})"),
    )


def _never_changed(table: str, others: str = "") -> Guards:
    """Rows that are only ever added. others: what else tells that a row would take another's place."""
    name = table.removeprefix("school_")
    return (
        (f"{name}_update", f"BEFORE UPDATE ON {table}"),
        (f"{name}_delete", f"BEFORE DELETE ON {table}"),
        (
            f"{name}_replace",
            f"BEFORE INSERT ON {table} WHEN EXISTS (SELECT 1 FROM {table} WHERE id = NEW.id{others})",
        ),
    )


_NO_SIGNATURE = "NOT EXISTS (SELECT 1 FROM school_signature WHERE sortie_id = NEW.id)"
_ANOTHER_SIGNED = "EXISTS (SELECT 1 FROM school_sortie WHERE id = NEW.id AND stage = 'signed')"
GUARDS: Guards = (
    ("signed_sortie_update", "BEFORE UPDATE ON school_sortie WHEN OLD.stage = 'signed'"),
    ("signed_sortie_delete", "BEFORE DELETE ON school_sortie WHEN OLD.stage = 'signed'"),
    (
        "signed_sortie_replace",
        f"BEFORE INSERT ON school_sortie WHEN NEW.stage = 'signed' OR {_ANOTHER_SIGNED}",
    ),
    (
        "signed_sortie_unsigned",
        f"BEFORE UPDATE ON school_sortie WHEN NEW.stage = 'signed' AND {_NO_SIGNATURE}",
    ),
    (
        "signed_sortie_put_over",
        f"BEFORE UPDATE OF id ON school_sortie WHEN NEW.id <> OLD.id AND {_ANOTHER_SIGNED}",
    ),
    *_never_changed("school_signature", " OR sortie_id = NEW.sortie_id"),
    *_never_changed("school_correction"),
    *_never_changed("school_change"),
    *_of_signed_sorties("school_attemptrow"),
    *_of_signed_sorties("school_stagechange"),
    *_of_signed_sorties("school_question"),
    *_of_signed_sorties("school_briefread"),
)
# Those of migration 0008.
ENTRY_GUARDS: Guards = (
    *_never_changed("school_entryrow", " OR ident = NEW.ident"),
    ("signed_entryrow_insert", f"BEFORE INSERT ON school_entryrow WHEN {_signed('NEW.sortie_id')}"),
)
# Those of migration 0009.
RECORDED_GUARDS: Guards = _of_signed_sorties("school_recorded")
# That of migration 0007.
BOOKING_GUARDS: Guards = _of_signed_sorties("school_bookingchange")


def _erased(subject: str) -> str:
    return f"EXISTS (SELECT 1 FROM school_erased WHERE subject = {subject})"


_OF_SORTIES = (
    "attemptrow",
    "stagechange",
    "question",
    "briefread",
    "bookingchange",
    "recorded",
)
_SIGNED_GONE = "NOT " + _erased("'sortie ' || OLD.sortie_id")
# Those of migration 0014, in the place of those of the same name: what was erased goes.
ERASING_GUARDS: Guards = (
    (
        "signed_sortie_delete",
        "BEFORE DELETE ON school_sortie WHEN OLD.stage = 'signed' AND NOT " + _erased("'sortie ' || OLD.id"),
    ),
    *(
        (
            f"signed_{table}_delete",
            f"BEFORE DELETE ON school_{table} WHEN {_signed('OLD.sortie_id')} AND {_SIGNED_GONE}",
        )
        for table in _OF_SORTIES
    ),
    *(
        (f"{table}_delete", f"BEFORE DELETE ON school_{table} WHEN {_SIGNED_GONE}")
        for table in ("signature", "correction", "entryrow")
    ),
    ("change_delete", f"BEFORE DELETE ON school_change WHEN NOT {_erased('OLD.subject')}"),
)
_BEFORE_ERASING: Guards = (*GUARDS, *ENTRY_GUARDS, *RECORDED_GUARDS, *BOOKING_GUARDS)
REPLACED_GUARDS: Guards = tuple(
    (name, when) for name, when in _BEFORE_ERASING if name in dict(ERASING_GUARDS)
)
# Of the tables that are new with migration 0014.
LASTING_GUARDS: Guards = (
    *_never_changed("school_chainlink", " OR number = NEW.number"),
    *_never_changed("school_erasure"),
    *_never_changed("school_erased"),
    *_never_changed("school_deed"),
)
# Those of migration 0016.
STATEMENT_GUARDS: Guards = (
    *(guard for guard in _never_changed("school_statement") if guard[0] != "statement_delete"),
    (
        "statement_delete",
        "BEFORE DELETE ON school_statement WHEN NOT " + _erased("'person ' || OLD.person_id"),
    ),
)

_CORRECTED = (
    "EXISTS (SELECT 1 FROM school_correction WHERE sortie_id = OLD.sortie_id"
    " AND json_extract(what, '$.attempt') = json_extract(OLD.attempt, '$.id'))"
)
_AS_IT_WAS = " AND ".join(
    f'OLD."{c}" IS NEW."{c}"' for c in ("id", "sortie_id", "order", "attempt", "figure")
)
_SIGNED_ATTEMPT_UPDATE = next(guard for guard in GUARDS if guard[0] == "signed_attemptrow_update")
# That of migration 0022, in the place of the one of the same name: of an attempt that was corrected beside
# the record, what counts now may be written; what was signed stays.
CORRECTING_GUARDS: Guards = (
    (
        "signed_attemptrow_update",
        f"BEFORE UPDATE ON school_attemptrow WHEN ({_signed('OLD.sortie_id')} OR {_signed('NEW.sortie_id')})"
        f" AND NOT ({_CORRECTED} AND {_AS_IT_WAS})",
    ),
)
BEFORE_CORRECTING: Guards = (_SIGNED_ATTEMPT_UPDATE,)
