"""What an editor is made from: every field of a document, as its model says it."""

import pytest
from pydantic import BaseModel

from keelturn.aircraft.card import Card
from keelturn.document import SPEED
from keelturn.formats.fields import DOCUMENTS, FieldSpec, fields_of
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from tests.cards import HEAVY, LIGHT

CARD = {field.path: field for field in fields_of(Card)}
PLACE = {field.path: field for field in fields_of(Place)}
STANDARDS = {field.path: field for field in fields_of(Standards)}


def stated_in(document: object, path: str = "") -> list[str]:
    """Paths of the numbers with a source in a document as it is stored."""
    if not isinstance(document, dict):
        return []
    if "value" in document:
        return [path]
    return [
        found for name, part in document.items() for found in stated_in(part, f"{path}.{name}".lstrip("."))
    ]


@pytest.mark.parametrize("document", [LIGHT, HEAVY], ids=["light", "heavy"])
def test_every_number_that_a_card_holds_can_be_entered(document):
    held = [path for path in stated_in(document) if not path.startswith("approved")]
    assert held
    for path in held:
        assert CARD[path].enter == "stated", path
    assert CARD["approved"].enter == "by figure"


@pytest.mark.parametrize("model", DOCUMENTS.values(), ids=list(DOCUMENTS))
def test_a_field_stands_once_and_says_what_it_is(model: type[BaseModel]):
    found = list(fields_of(model))
    assert len({field.path for field in found}) == len(found)
    for field in found:
        assert field.label and "{" not in field.label
        assert field.enter != "list" or field.of
        assert field.enter not in ("stated", "choice") or len(field.choices) > 1


def test_a_number_has_its_unit_its_heading_and_its_usual_source_first():
    stall = CARD["speeds.stall_ias"]
    assert (stall.label, stall.unit, stall.under, stall.optional) == (
        "Stall, clean",
        SPEED,
        "Speeds, IAS",
        False,
    )
    assert stall.choices[0] == "not given"
    floor = STANDARDS["school_floor_ft"]
    assert (floor.unit, floor.choices[0]) == ("ft", "school")
    assert set(stall.choices) != set(floor.choices)


def test_what_may_be_left_out_says_so():
    assert CARD["speeds.stall_inverted_ias"].optional
    assert CARD["limits.inverted_s"].optional
    assert not CARD["limits.most_g"].optional
    assert PLACE["latitude_deg"].optional and not PLACE["elevation_ft"].optional


def test_an_optional_part_is_switched_as_a_whole():
    switch, inside = CARD["spin"], CARD["spin.one_turn_ft"]
    assert (switch.enter, switch.within) == ("section", "")
    assert inside.within == "spin"
    assert not inside.optional
    assert CARD["speeds.stall_ias"].within == ""


def test_rows_are_as_many_as_the_document_takes():
    seats, tanks = CARD["balance.seats"], CARD["balance.tanks"]
    assert (seats.enter, seats.least_rows, seats.most_rows) == ("list", 2, 2)
    assert (tanks.least_rows, tanks.most_rows) == (1, None)
    assert [row.path for row in tanks.of][:1] == ["name"]
    assert {row.path: row.enter for row in tanks.of}["feeds_aerobatics"] == "switch"
    winds = CARD["position_error"]
    assert [(row.path, row.unit) for row in winds.of] == [("ias", SPEED), ("cas", SPEED)]


def test_tables_by_name_have_a_field_for_each_name():
    added = [path for path in STANDARDS if path.startswith("stage_extra_ft.")]
    assert len(added) == 3
    assert STANDARDS["stage_extra_ft.first flights"].label == "Added for 'first flights'"
    variants = [path for path in CARD if path.startswith("spin.variants.")]
    assert "spin.variants.flat.turn_s" in variants
    assert CARD["spin.variants.flat.turn_s"].within == "spin"


def test_words_choices_and_lines_are_entered_as_such():
    kinds = {path: CARD[path].enter for path in ("name", "category", "spin.recovery", "spin.approved")}
    assert kinds == {
        "name": "text",
        "category": "choice",
        "spin.recovery": "lines",
        "spin.approved": "switch",
    }
    assert CARD["name"].most_letters == 60
    assert CARD["category"].choices == ("normal", "utility", "aerobatic")


def test_what_is_hidden_is_not_entered_with_the_others():
    assert "figures" not in STANDARDS
    assert isinstance(next(fields_of(Card)), FieldSpec)
