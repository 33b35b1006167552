"""What the entries of a sortie add up to, kept beside them for lists and history, and what of its brief that
is held against."""

from keelturn.assess.briefed import briefed_of, counted_deviation
from keelturn.assess.loss import loss_account
from keelturn.flying.conditions import Conditions
from keelturn.formats.signed import Record
from keelturn.noting.adding_up import attempts_of
from keelturn.noting.attempt import Attempt
from keelturn.noting.correcting import FieldCorrection, corrected, in_words
from keelturn.noting.entry import What
from server.school.models import AttemptRow, Sortie
from server.school.operations.computing import conditions_for, conditions_of_record, entries_kept, plan_of
from server.school.operations.own import BRIEFED, OWN, briefed_kept


def keep_of_the_brief(sortie: Sortie, record: Record) -> None:
    """What is looked back on once it is flown. The caller stores it."""
    drawn = record.answer.drawn.set_ups if record.answer.drawn else ()
    planned = {one.planned.id: one.planned for one in drawn} | {f.id: f for f in record.plan.figures}
    answers = [*(one.answer for one in drawn), *record.answer.figures]
    kept = briefed_of(((planned[a.id], a) for a in answers), conditions_of_record(record))
    sortie.briefed_kept = BRIEFED.dump_python(kept, mode="json")
    sortie.own_kept = OWN.dump_python(record.own, mode="json")


def add_up(sortie: Sortie, changed: set[str]) -> None:
    """The rows of the attempts, as the entries add up to them now; accounts only of those that changed."""
    attempts = attempts_of(entries_kept(sortie))
    before = {row.attempt.get("id"): row for row in sortie.attempts.all()}
    if not attempts and not before:
        return
    conditions = conditions_for(sortie, plan_of(sortie))
    rows = [
        row_of(sortie, order, attempt, conditions)
        if attempt.id in changed or attempt.id not in before
        else _moved(before[attempt.id], order)
        for order, attempt in enumerate(attempts)
    ]
    sortie.attempts.all().delete()
    AttemptRow.objects.bulk_create(rows)


def add_up_again(sortie: Sortie) -> None:
    """When what was briefed is no longer what it was as things were noted."""
    add_up(sortie, {str(row.attempt.get("id")) for row in sortie.attempts.all()})


def _moved(row: AttemptRow, order: int) -> AttemptRow:
    row.pk, row.order = None, order
    return row


def row_of(sortie: Sortie, order: int, attempt: Attempt, conditions: Conditions) -> AttemptRow:
    account = loss_account(attempt, conditions)
    briefed = briefed_kept(sortie).get(attempt.planned.id)
    return AttemptRow(
        sortie=sortie,
        order=order,
        attempt=attempt.model_dump(mode="json"),
        figure=attempt.planned.key,
        lost_ft=attempt.lost_ft,
        briefed_ft=account.planned.value if account else None,
        deviation=counted_deviation(attempt, account, briefed.lies if briefed else None),
    )


def counts_since(sortie: Sortie, signed: Attempt) -> tuple[Attempt, list[str]]:
    """A signed attempt with what was corrected of it since, and that in words; as it was signed, and no
    words, where that is nothing."""
    now, words = signed, []
    for row in sortie.corrections.all():
        one = None if row.what is None else FieldCorrection.model_validate(row.what)
        if one is None or one.attempt != signed.id:
            continue
        words.append(f"{in_words(now, one)} (corrected on {row.at:%-d %b %Y})")
        now = corrected(now, [one])
        if one.what == What.GRADE:
            # Whoever corrects it says why, and theirs counts.
            now = now.model_copy(update={"grade_reason": row.reason})
    return now, words


def count_corrected(sortie: Sortie, row: AttemptRow, record: Record) -> None:
    """The row counts as its corrections have it from now on. record: as it was signed."""
    signed = next(attempt for attempt in record.attempts if attempt.id == row.attempt.get("id"))
    attempt, words = counts_since(sortie, signed)
    now = row_of(sortie, row.order, attempt, conditions_of_record(record))
    AttemptRow.objects.filter(pk=row.pk).update(
        corrected={"attempt": now.attempt, "words": words},
        lost_ft=now.lost_ft,
        briefed_ft=now.briefed_ft,
        deviation=now.deviation,
    )
