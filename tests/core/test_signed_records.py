"""What was signed is read for ever: every version of the document, its numbers and words untouched."""

import gzip
import json
import sqlite3
import warnings
from functools import lru_cache
from pathlib import Path

import pytest
from pydantic import TypeAdapter

from keelturn.assess.loss import Cause
from keelturn.formats import signed
from keelturn.formats.kept import NOT_KEPT, filled
from keelturn.formats.signed import VERSION, read_signed, written
from keelturn.margins.checks import Kind
from keelturn.recording.problems import Unread
from tests.long import others_long

# Schools as landed states of the program left them, oldest first: two signed sorties in each.
STATES = sorted((Path(__file__).parents[1] / "records").glob("state_*.sql.gz"))


def signed_in(state: Path) -> list[dict]:
    with sqlite3.connect(":memory:") as database:
        database.executescript(gzip.decompress(state.read_bytes()).decode())
        return [json.loads(d) for (d,) in database.execute("SELECT document FROM school_signature")]


DOCUMENTS = {f"{state.name[6:17]} {i}": d for state in STATES for i, d in enumerate(signed_in(state))}
ANSWERED = ("likely", "worst", "start", "lowest_start", "entry", "most_g", "fastest")
SAID = ("id", "title", "school", "spoken", "purpose", "side")


def read(document, working=True):
    return read_text(json.dumps(document), working)


# One takes half a second, and all that a test asks about one document stands together.
@lru_cache(maxsize=4)
def read_text(text, working):
    return read_signed(text, working).record


# The latest of each version in every run.
LATEST = {document["version"]: place for place, document in enumerate(DOCUMENTS.values())}


@pytest.fixture(scope="module", params=others_long(tuple(DOCUMENTS), LATEST.values()))
def kept(request) -> dict:
    return DOCUMENTS[request.param]


def test_there_is_one_of_every_version_before_this():
    assert {document["version"] for document in DOCUMENTS.values()} == set(range(1, VERSION))


def test_without_working_it_is_the_same_numbers(kept):
    def shown(part):
        if isinstance(part, dict) and {"shown", "formula"} <= set(part):
            return [part[name] for name in ("label", "value", "unit", "number", "shown")]
        if isinstance(part, dict):
            return {name: shown(value) for name, value in part.items()}
        return [shown(one) for one in part] if isinstance(part, list) else part

    whole, light = (json.loads(written(read(kept, working))) for working in (True, False))
    assert shown(light) == shown(whole)
    assert len(json.dumps(light)) < len(json.dumps(whole)) / 2


def test_every_number_and_word_of_the_plan_is_as_it_was_signed(kept):
    answer = read(kept).answer
    for now, then in zip(answer.figures, kept["answer"]["figures"], strict=True):
        for name in ANSWERED:
            assert (getattr(now, name).shown, getattr(now, name).value) == (
                then[name]["shown"],
                then[name]["value"],
            )
        assert [getattr(now, name) for name in SAID] == [then[name] for name in SAID]
        assert [fault.key for fault in now.faults] == [fault["key"] for fault in then["faults"]]
    for now, then in zip(answer.checks, kept["answer"]["checks"], strict=True):
        names = ("verdict", "title", "sentence", "spare", "room", "overridden", "figure")
        assert [getattr(now, name) for name in names] == [then[name] for name in names]
        assert now.id == then.get("id", then.get("key"))
    for name in ("weight", "stall", "manoeuvring", "floor", "minutes"):
        assert getattr(answer, name).shown == kept["answer"][name]["shown"]


def test_every_sheet_is_as_it_was_signed(kept):
    record = read(kept)
    assert [figure.id for figure in record.plan.figures] == [f["id"] for f in kept["plan"]["figures"]]
    assert record.plan.day.qnh_hpa == kept["plan"]["day"]["qnh_hpa"]
    assert (record.debrief.note, record.debrief.next) == (kept["debrief"]["note"], kept["debrief"]["next"])
    for now, then in zip(record.attempts, kept["attempts"], strict=True):
        names = ("id", "start_ft", "recover_ft", "lowest_ft", "level_ft", "turns", "most_g", "grade", "note")
        assert [getattr(now, name) for name in names] == [then[name] for name in names]
    accounts = {key: [line["shown"] for line in a["lines"]] for key, a in kept["accounts"].items()}
    assert {key: [line.shown for line in a.lines] for key, a in record.accounts.items()} == accounts
    people = (record.student, record.instructor, record.signed_by, record.aircraft, record.card.name)
    names = ("student", "instructor", "signed_by", "aircraft")
    assert people == (*(kept[name] for name in names), kept["card"]["name"])


def test_what_is_read_of_an_old_record_is_a_record_of_today(kept):
    today = json.loads(written(read(kept)))
    assert today["version"] == VERSION
    assert read(today) == read(kept)


def test_one_of_today_is_read_at_once_and_to_the_same(kept, monkeypatch):
    today = written(read(kept))
    filled_in = {working: signed._filled_in(json.loads(today), working).record for working in (True, False)}
    monkeypatch.setattr(signed, "_filled_in", lambda *_: pytest.fail("it was filled in"))
    for working, as_filled in filled_in.items():
        assert read_signed(today, working).record == as_filled
    assert written(read_signed(today).record) == today


@pytest.mark.parametrize("name", ["recordings", "own", "looks", "rebooked"])
def test_what_was_not_kept_at_the_top_is_known(name):
    today = json.loads(written(read(DOCUMENTS["2026-11-26e 0"], working=False)))
    assert name in read_signed(json.dumps(today), working=False).names
    del today[name]
    found = read_signed(json.dumps(today), working=False)
    assert name not in found.names
    assert not getattr(found.record, name)


def test_what_would_not_be_taken_today_is_read_as_it_stands():
    today = json.loads(written(read(DOCUMENTS["2026-11-26e 0"], working=False)))
    today["attempts"][0]["lowest_ft"] = -50000.0
    assert read(today, working=False).attempts[0].lowest_ft == -50000.0


def test_what_version_1_did_not_keep_as_a_field_is_taken_from_what_it_kept():
    record = read(DOCUMENTS["2026-11-25b 0"])
    kinds = {check.kind: check for check in record.answer.checks}
    assert {Kind.WEIGHT, Kind.FLOOR, Kind.VNE, Kind.PARACHUTE} <= set(kinds)
    assert kinds[Kind.FLOOR].figure is not None
    assert record.answer.floor_from == "school floor"
    spin = next(f for f in record.answer.figures if f.key == "spin")
    assert (spin.school_key, spin.of_the_manual) == ("flight_manual", True)
    assert spin.least_g.value == min(g for _, g in spin.track)
    assert [seat.label for seat in record.answer.load_points[0].loading.seats] == ["Left seat", "Right seat"]
    causes = {line.cause for account in record.accounts.values() for line in account.lines}
    assert causes <= set(Cause)
    assert Cause.NOT_SPLIT in causes
    assert record.parachute_days == kinds[Kind.PARACHUTE].deciding.value


def test_what_was_kept_nowhere_is_said_to_be_not_kept():
    record = read(DOCUMENTS["2026-11-25a 0"])
    assert record.answer.density_height == NOT_KEPT
    assert NOT_KEPT.shown == "—"
    assert record.answer.load_points == ()


@pytest.mark.parametrize("version", [0, 9, "x", None])
def test_a_version_that_is_not_known_is_not_guessed_at(version):
    with pytest.raises(ValueError, match=f"of version {version} is not known"):
        read({**DOCUMENTS["2026-11-26e 0"], "version": version})


def test_keys_that_are_of_a_kind_are_of_it_again():
    kept = filled(dict[Unread, int], {"repeated": 2})
    assert kept == {Unread.REPEATED: 2}
    assert [type(key) for key in kept] == [Unread]
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        assert TypeAdapter(dict[Unread, int]).dump_json(kept) == b'{"repeated":2}'
