"""Answers with their working, and numbers as pilots read them."""

import pytest

from keelturn.working import Source, given, in_words, read_off, worked


@pytest.mark.parametrize(
    ("value", "unit", "rounding", "words"),
    [
        (6021.0, "ft", "up", "6,030 ft"),
        (6020.0000001, "ft", "up", "6,020 ft"),
        (6029.0, "ft", "down", "6,020 ft"),
        (1104.9, "ft", "near", "1,100 ft"),
        (1105.0, "ft", "near", "1,110 ft"),
        (117.6, "kt", "near", "118 kt"),
        (2.549, "g", "near", "2.5 g"),
        (-55.0, "ft", "up", "-50 ft"),
        (4.9, "turns", "down", "4.5 turns"),
        (5.0, "turns", "down", "5 turns"),
        (116.4, "days", "near", "116 days"),
        (8.0, "SM", "near", "8.0 SM"),
    ],
)
def test_numbers_are_read_as_pilots_read_them(value, unit, rounding, words):
    assert in_words(value, unit, rounding) == words


@pytest.mark.parametrize("value", [0.0, 3.2, 4999.9, 5000.0, 5000.1])
def test_up_is_never_below_and_down_never_above(value):
    assert read_off(value, "ft", "up") >= value - 1e-4
    assert read_off(value, "ft", "down") <= value + 1e-4


def test_a_worked_answer_keeps_its_inputs_and_their_sources():
    floor = given("School floor", 3000, "ft", Source("school", "standards"))
    loss = given("Loss", 1104.2, "ft", Source("model", "m"))
    start = worked("Lowest start", floor.value + loss.value, "ft", "floor + loss", floor, loss, rounding="up")
    assert start.shown == "4,110 ft"
    assert [i.source.kind for i in start.inputs] == ["school", "model"]
