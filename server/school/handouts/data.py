"""All that is kept of a sortie, in open forms: the record as JSON, its attempts as a table."""

import csv
from collections.abc import Mapping, Sequence
from io import StringIO
from typing import Any

from keelturn.formats.signed import RECORD, Record
from keelturn.noting.attempt import Attempt

# Columns of the table: a name with its unit, and what stands in it.
NOTED = (
    "start_ft",
    "recover_ft",
    "lowest_ft",
    "level_ft",
    "turns",
    "most_g",
    "rolling_g",
    "fastest_ias",
    "feel",
    "taken_over_ft",
)
SAID = ("flown_by", "outcome", "abandoned", "grade", "grade_reason", "own_grade", "surprise", "said", "note")
# What a program for tables would take for a formula.
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def sortie_json(record: Record) -> bytes:
    return RECORD.dump_json(record, indent=1)


def sortie_csv(record: Record, corrections: Mapping[str, Sequence[str]]) -> bytes:
    """One row for each attempt as it was signed, in the order flown. corrections: what was corrected of it
    since, in words, by its id."""
    out = StringIO()
    table = csv.writer(out)
    table.writerow(
        ["number", "figure", "side", *NOTED, "lost_ft", "briefed_ft", "faults", "skipped", *SAID, "corrected"]
    )
    for number, attempt in enumerate(record.attempts, start=1):
        table.writerow([*_row(number, attempt, record), text_of("; ".join(corrections.get(attempt.id, ())))])
    return out.getvalue().encode()


def _row(number: int, attempt: Attempt, record: Record) -> list[Any]:
    account = record.accounts.get(attempt.id)
    return [
        number,
        attempt.planned.key,
        attempt.planned.side,
        *(_number(getattr(attempt, name)) for name in NOTED),
        "" if account is None else f"{account.flown.value:g}",
        "" if account is None else f"{account.planned.value:.1f}",
        " ".join(attempt.faults),
        "yes" if attempt.skipped else "",
        *(text_of(getattr(attempt, name)) for name in SAID),
    ]


def _number(value: float | None) -> str:
    return "" if value is None else f"{value:g}"


def text_of(value: object) -> str:
    """As it stands in a table: nothing in it is taken for a formula."""
    text = "" if value is None else str(value)
    return f"'{text}" if text.startswith(FORMULA) else text
