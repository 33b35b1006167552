"""What was signed is read for ever: a record of each version of the document, with its numbers untouched."""

import json
from pathlib import Path

import pytest

from keelturn.assess.attempts import Cause
from keelturn.formats.signed import PLAN_ANSWER, VERSION, read_signed
from keelturn.margins.checks import Change, Kind
from keelturn.plan.sequence import compute_plan
from tests.flights import conditions, figure, plan

# Signed by the demo before version 2, cut to two figures and a few checks.
VERSION_1 = json.loads((Path(__file__).parents[1] / "records" / "signed_version_1.json").read_text())


def test_a_record_of_version_1_keeps_every_number_and_word():
    answer, accounts = read_signed(VERSION_1)
    for now, then in zip(answer.figures, VERSION_1["answer"]["figures"], strict=True):
        for name in ("likely", "worst", "start", "floor", "lowest_start", "entry"):
            assert getattr(now, name).shown == then[name]["shown"]
            assert getattr(now, name).value == then[name]["value"]
    for now, then in zip(answer.checks, VERSION_1["answer"]["checks"], strict=True):
        kept = (now.id, now.verdict, now.title, now.sentence, now.spare, now.room, now.change)
        names = ("key", "verdict", "title", "sentence", "spare", "room", "change")
        assert kept == tuple(then[name] for name in names)
    flown = {
        key: [line["shown"] for line in account["lines"]] for key, account in VERSION_1["accounts"].items()
    }
    assert {key: [line.shown for line in account.lines] for key, account in accounts.items()} == flown


def test_what_version_1_did_not_keep_as_a_field_is_taken_from_what_it_kept():
    answer, accounts = read_signed(VERSION_1)
    turn, spin = answer.figures
    assert (turn.likely.number, turn.likely.unit) == ("50", "ft")
    assert (spin.school_key, spin.of_the_manual, spin.school_from.kind) == (
        "flight_manual",
        True,
        "flight manual",
    )
    assert (turn.spends, spin.spends) == ("−50", f"−{spin.likely.number}")
    assert spin.least_g.value == min(g for _, g in spin.track)
    assert answer.floor_from == "school floor"
    assert [seat.shown for seat in answer.load_points[0].loading.seats] == ["154 lb", "157 lb"]
    kinds = {check.kind: check for check in answer.checks}
    assert set(kinds) == {Kind.WEIGHT, Kind.SPIN_WEIGHT, Kind.SEAT, Kind.G, Kind.PARACHUTE}
    assert (kinds[Kind.SEAT].subject, kinds[Kind.SEAT].change) == ("left", Change.LOAD)
    assert kinds[Kind.PARACHUTE].deciding.shown == "—"
    assert [line.cause for line in accounts["f1"].lines] == [Cause.NOT_SPLIT]
    causes = [line.cause for line in accounts["f5"].lines]
    assert causes == [Cause.TURNS, Cause.LATE, Cause.PULL, Cause.RECOVERY]


def test_what_is_signed_today_is_read_as_it_was_computed():
    answer = compute_plan(plan(figure("loop")), conditions())
    document = {"version": VERSION, "answer": PLAN_ANSWER.dump_python(answer, mode="json"), "accounts": {}}
    assert read_signed(document)[0] == PLAN_ANSWER.validate_python(PLAN_ANSWER.dump_python(answer))


def test_a_version_from_the_future_is_not_guessed_at():
    with pytest.raises(ValueError, match="version 9"):
        read_signed({**VERSION_1, "version": 9})
