"""Entries add up to the same attempts whatever became of them on the way."""

import json
import os
import random
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keelturn.figures.planned import FlownBy, PlannedFigure
from keelturn.formats.reading import Refused, read_document
from keelturn.noting.adding_up import attempts_of
from keelturn.noting.attempt import Attempt, Outcome, StopKind
from keelturn.noting.entry import Entry, What, entries_of
from tests.flights import figure

NOW = datetime(2030, 1, 1, 10, tzinfo=UTC)
SPIN = figure("spin")
VALUES = {
    What.FIGURE: [SPIN.model_dump(), SPIN.model_copy(update={"side": "right"}).model_dump()],
    What.START: [5000.0, 5020.0],
    What.LOWEST: [3600.0, 3400.0, 5100.0],
    What.TURNS: [1.0, 1.5],
    What.FEEL: [7.0, 3.0],
    What.FLOWN_BY: [FlownBy.SHOWN, FlownBy.TALKS],
    What.FAULT: [True, False],
    What.OUTCOME: [Outcome.SPIRAL, Outcome.AS_INTENDED],
    What.TAKEN_OVER: [3780.0],
    What.ABANDONED: ["the stick was not back"],
    What.NOTE: ["good", "better"],
    What.SKIPPED: [True, False],
    What.STOP: [2900.0],
}
ABOUT = {What.FAULT: ["stick_late", "soft_pull"], What.STOP: [StopKind.FLOOR, StopKind.FEEL]}


def entry(what: What = What.FEEL, value: object = 7.0, name: str = "entry-01", **fields) -> Entry:
    made = {"id": name, "attempt": "f1", "what": what, "value": value, "device": "tablet", "at": NOW}
    return Entry.model_validate({**made, **fields})


FIGURE = entry(What.FIGURE, SPIN.model_dump(), "figure-1")


def one(*entries: Entry) -> Attempt:
    (attempt,) = attempts_of((FIGURE, *entries))
    return attempt


def at(seconds: float) -> dict[str, object]:
    return {"at": NOW + timedelta(seconds=seconds)}


def some_entries(chance: random.Random, most: int = 30) -> list[Entry]:
    """What several devices could have noted of three attempts, some of it over what stood there."""
    made: list[Entry] = []
    for n in range(chance.randint(1, most)):
        what = chance.choice(list(VALUES))
        about = chance.choice(ABOUT.get(what, [""]))
        attempt = chance.choice(["f1", "f2", "f2.2"])
        there = [e.id for e in made if e.place == (attempt, what, about)]
        made.append(
            Entry.model_validate(
                {
                    "id": f"entry-{n:02d}",
                    "attempt": attempt,
                    "what": what,
                    "about": about,
                    "value": chance.choice([*VALUES[what], None]),
                    "replaces": tuple(chance.sample(there, chance.randint(0, len(there)))),
                    "device": chance.choice(["tablet", "phone"]),
                    "at": NOW + timedelta(seconds=chance.randint(0, 9)),
                    "offset_s": chance.choice([0.0, 3600.0, -3600.0]),
                    "source": chance.choice(["hand", "hand", "recorder", "offered"]),
                    "by": chance.choice(["Bo", "Cy"]),
                }
            )
        )
    return made


@settings(max_examples=120, deadline=None)
@given(st.integers(0, 10**6))
def test_any_order_any_repetition_any_split_gives_the_same_attempts(seed):
    chance = random.Random(seed)
    entries = some_entries(chance)
    found = attempts_of(entries)
    shuffled = [*entries, *chance.choices(entries, k=len(entries))]
    chance.shuffle(shuffled)
    assert attempts_of(shuffled) == found
    cut = chance.randint(0, len(entries))
    here, there = entries[:cut], entries[cut:]
    assert attempts_of([*there, *here, *there]) == found
    assert attempts_of(tuple(reversed(entries))) == found


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6))
def test_what_they_add_up_to_is_a_document_that_can_be_stored_and_read(seed):
    for attempt in attempts_of(some_entries(random.Random(seed))):
        assert read_document(Attempt, json.loads(attempt.model_dump_json())) == attempt


KEPT = Path(__file__).parents[1] / "said" / "core" / "adding_up.json"


def test_the_cases_that_the_page_is_held_to_as_said():
    """KEELTURN_WRITE=1 writes them anew; web/src/notes/addUp.test.ts reads them."""
    cases = [some_entries(random.Random(f"case {n}"), 40) for n in range(40)]
    found = [
        {
            "entries": [e.model_dump(mode="json") for e in entries],
            "attempts": [a.model_dump(mode="json") for a in attempts_of(entries)],
        }
        for entries in cases
    ]
    if os.environ.get("KEELTURN_WRITE") == "1":
        KEPT.write_text(json.dumps(found, indent=1) + "\n")
    assert json.loads(KEPT.read_text()) == found


# The rule, one by one


def test_a_correction_counts_whatever_the_clocks_say():
    first = entry(What.START, 5000.0, "entry-01", **at(100))
    later = entry(What.START, 5100.0, "entry-02", replaces=("entry-01",), **at(0))
    assert one(first, later).start_ft == 5100
    assert one(first, later).otherwise == ()


def test_of_two_that_did_not_see_each_other_the_later_by_the_servers_clock_counts_and_both_are_shown():
    """The phone's clock is an hour fast: by its own it noted last."""
    tablet = entry(What.LOWEST, 3600.0, "entry-01", by="Bo", **at(10))
    phone = entry(What.LOWEST, 3560.0, "entry-02", by="Cy", device="phone", offset_s=-3600.0, **at(3605))
    attempt = one(tablet, phone)
    assert attempt.lowest_ft == 3600
    assert [(o.what, o.value, o.by, o.recorder) for o in attempt.otherwise] == [
        ("lowest_ft", 3560, "Cy", False)
    ]


def test_at_the_same_moment_the_greater_identity_counts():
    assert one(entry(What.FEEL, 7.0, "entry-01"), entry(What.FEEL, 5.0, "entry-02")).feel == 5


def test_who_noted_the_same_is_no_second_opinion():
    both = entry(What.FEEL, 7.0, "entry-01", by="Bo"), entry(What.FEEL, 7.0, "entry-02", by="Cy")
    assert one(*both).otherwise == ()


def test_what_was_accepted_as_offered_is_known_and_gives_way_to_whatever_was_read_off():
    offered = entry(What.LOWEST, 4000.0, "entry-01", source="offered", **at(500))
    box = entry(What.LOWEST, 3580.0, "entry-02", source="recorder", **at(0))
    hand = entry(What.LOWEST, 3600.0, "entry-03", replaces=("entry-01",), **at(0))
    assert (one(offered).lowest_ft, one(offered).offered) == (4000, ("lowest_ft",))
    assert (one(offered, box).lowest_ft, one(offered, box).offered) == (3580, ())
    assert one(offered, box).otherwise == ()
    assert (one(offered, hand).lowest_ft, one(offered, hand).offered) == (3600, ())
    again = tuple(entries_of(one(offered), "device", NOW))
    assert [e.source for e in again if e.what == What.LOWEST] == ["offered"]


def test_a_hand_counts_before_the_recorder_however_late_that_is():
    hand = entry(What.LOWEST, 3600.0, "entry-01", by="Bo", **at(0))
    box = entry(What.LOWEST, 3580.0, "entry-02", source="recorder", **at(500))
    attempt = one(hand, box)
    assert attempt.lowest_ft == 3600
    assert [(o.value, o.recorder) for o in attempt.otherwise] == [(3580, True)]


def test_where_the_hand_took_back_the_recorder_counts_again():
    hand = entry(What.LOWEST, 3600.0, "entry-01")
    box = entry(What.LOWEST, 3580.0, "entry-02", source="recorder")
    back = entry(What.LOWEST, None, "entry-03", replaces=("entry-01",), **at(9))
    assert one(hand, box, back).lowest_ft == 3580
    assert one(entry(), hand, back).lowest_ft is None


def test_entries_that_replace_each_other_replace_nothing():
    ring = (
        entry(What.FEEL, 7.0, "entry-01", replaces=("entry-02",)),
        entry(What.FEEL, 5.0, "entry-02", replaces=("entry-01",)),
    )
    assert one(*ring).feel == 5


def test_two_entries_of_one_identity_are_one_whichever_comes_first():
    two = entry(What.FEEL, 7.0), entry(What.FEEL, 5.0)
    assert one(*two) == one(*reversed(two))


def test_there_is_no_attempt_before_its_figure_is_said_and_one_thing_more():
    assert attempts_of([entry()]) == ()
    assert attempts_of([FIGURE]) == ()
    assert attempts_of([FIGURE, entry(What.FEEL, None)]) == ()


def test_attempts_stand_in_the_order_flown_not_in_that_of_the_plan():
    second = {"attempt": "f2"}
    entries = [
        FIGURE,
        entry(What.START, 5000.0, "entry-01", **at(60)),
        entry(What.FIGURE, figure("loop", id="f2").model_dump(), "figure-2", **second, **at(-30)),
        entry(What.START, 5200.0, "entry-02", **second, **at(-20)),
    ]
    assert [a.id for a in attempts_of(entries)] == ["f2", "f1"]


def test_faults_stand_in_the_figures_order_and_one_of_another_figure_is_not_shown():
    keys = ("soft_pull", "stick_late")
    on = [entry(What.FAULT, True, f"entry-{i}0", about=key) for i, key in enumerate(keys)]
    assert one(*on).faults == ("stick_late", "soft_pull")
    gone = entry(What.FAULT, False, "entry-99", about="soft_pull", replaces=("entry-00",))
    assert one(*on, gone).faults == ("stick_late",)
    other = entry(What.FAULT, True, "entry-77", about="not_held")
    assert one(*on, other).faults == ("stick_late", "soft_pull")


def test_who_flew_is_as_planned_until_it_is_noted_and_a_stop_stays():
    shown = entry(What.FIGURE, SPIN.model_copy(update={"flown_by": FlownBy.SHOWN}).model_dump(), "figure-1")
    stop = entry(What.STOP, 2900.0, about=StopKind.FLOOR)
    (attempt,) = attempts_of([shown, stop])
    assert attempt.flown_by == FlownBy.SHOWN
    assert [(s.kind, s.value) for s in attempt.stops] == [(StopKind.FLOOR, 2900.0)]


@pytest.mark.parametrize(
    ("what", "value", "words"),
    [
        (What.START, -1.0, "start_ft: -1 is below 0"),
        (What.START, 30001.0, "30,001 is above 30,000"),
        (What.FEEL, 11.0, "11 is above 10"),
        (What.FEEL, 7.5, "7.5 is not a number"),
        (What.FEEL, "7", "'7' is not a number"),
        (What.TURNS, 21.0, "21 is above 20"),
        (What.MOST_G, True, "true is not a number"),
        (What.OUTCOME, "fine", "not one of the words"),
        (What.GRADE, "Good", "not one of 'Shown'"),
        (What.FLOWN_BY, "nobody", "not one of the words"),
        (What.NOTE, "x" * 1001, "more than 1,000 letters"),
        (What.FIGURE, 5000.0, "figure: is not an object"),
        (What.FAULT, 3.0, "fault: is not true or false"),
    ],
)
def test_a_value_is_one_that_the_attempt_can_have(what, value, words):
    about = "x" if what == What.FAULT else ""
    with pytest.raises(Refused, match=words):
        read_document(Entry, {**entry().model_dump(), "what": what, "value": value, "about": about})


def test_what_it_is_about_is_said_of_faults_and_stops_only():
    for what, about in ((What.FEEL, "stick_late"), (What.FAULT, ""), (What.STOP, "ceiling")):
        with pytest.raises(Refused, match="about"):
            read_document(Entry, {**entry().model_dump(), "what": what, "value": None, "about": about})


def test_an_attempt_taken_apart_adds_up_to_itself():
    whole = Attempt.model_validate(
        {
            "id": "a3",
            "planned": SPIN.model_copy(update={"flown_by": FlownBy.SHOWN}),
            "start_ft": 5000.0,
            "lowest_ft": 3600.0,
            "feel": 6,
            "flown_by": FlownBy.WITH_TALK,
            "faults": ("stick_late", "soft_pull"),
            "outcome": Outcome.SECONDARY_STALL,
            "grade": "Guided",
            "note": "again",
            "stops": ({"kind": StopKind.FLOOR, "value": 2900.0},),
        }
    )
    apart = list(entries_of(whole, "device", NOW, "Bo"))
    assert attempts_of(apart) == (whole,)
    assert len({e.id for e in apart}) == len(apart)
    assert [e.id for e in entries_of(whole, "device", NOW, "Cy")] == [e.id for e in apart]
    assert isinstance(apart[0].value, PlannedFigure)
