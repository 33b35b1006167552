"""Figures of a recording as somebody marks them, in the place of those that were found."""

from datetime import UTC, datetime

import pytest

from keelturn.assess.flight import judge
from keelturn.document import Wrong
from keelturn.formats.answers import as_csv
from keelturn.formats.documents import PlanRequest
from keelturn.formats.recorded import HowToRead, ReadRequest, debriefed, read_for
from keelturn.recording.marking import MOST, Mark, marked
from keelturn.recording.reading import read_recording
from keelturn.recording.recorder import Sensors, record
from keelturn.recording.ways import InPlan
from tests.flights import conditions, figure

C = conditions()
PLAN = (
    figure("spin", id="f1", start_ft=6000),
    figure("nose_low", id="f2", start_ft=6000),
)
NOW = datetime(2026, 5, 14, tzinfo=UTC)


@pytest.fixture(scope="module")
def content():
    table = record(PLAN, C, Sensors(rate_hz=8, seed=5, g_bias=0.2))
    return as_csv(table.columns, table.rows.round(3).tolist())


@pytest.fixture(scope="module")
def found(content):
    return judge(read_recording(content, None).flights[0], PLAN, C)


def marks(judged):
    return [
        Mark(
            begins_s=one.measured.begins_s,
            ends_s=one.measured.ends_s,
            key=one.found.figure.key,
            side=one.found.figure.side,
            planned=one.found.planned_id,
        )
        for one in judged
    ]


def with_(mark, **change):
    return mark.model_copy(update=change)


def test_marked_as_it_was_found_it_is_measured_the_same(found, content):
    cleaned, judged = found
    again = judge(read_recording(content, None).flights[0], PLAN, C, marks=marks(judged))[1]
    assert [one.measured for one in again] == [one.measured for one in judged]
    assert [(one.found.planned_id, one.found.place, one.found.sure) for one in again] == [
        ("f1", InPlan.PLANNED, 1.0),
        ("f2", InPlan.PLANNED, 1.0),
    ]


def test_a_shifted_edge_is_where_it_is_measured_from(found):
    cleaned, judged = found
    spin, low = marks(judged)
    later = marked(cleaned, PLAN, (with_(spin, begins_s=spin.begins_s + 2.0), low))
    time = cleaned.flown.time
    assert time[later[0].first] == pytest.approx(spin.begins_s + 2.0, abs=0.13)
    assert later[1].first == marked(cleaned, PLAN, (spin, low))[1].first


def test_one_renamed_one_flown_again_and_one_that_was_not_planned(found):
    cleaned, judged = found
    spin, low = marks(judged)
    other = "right" if spin.side == "left" else "left"
    made = marked(cleaned, PLAN, (spin, with_(low, key="spin", side=other, planned="f1")))
    assert [(f.planned_id, f.place, f.figure.side) for f in made] == [
        ("f1", InPlan.PLANNED, spin.side),
        ("f1", InPlan.AGAIN, other),
    ]
    spiral = marked(cleaned, PLAN, (with_(spin, key="spiral_dive", planned=None), low))
    assert (spiral[0].figure.key, spiral[0].place, spiral[0].planned_id) == (
        "spiral_dive",
        InPlan.UNPLANNED,
        None,
    )
    assert spiral[0].figure.start_ft == pytest.approx(cleaned.flown.height[spiral[0].first])


def test_two_of_one_and_one_of_two_stand_in_the_order_flown(found):
    cleaned, judged = found
    spin, low = marks(judged)
    cut = (spin.begins_s + spin.ends_s) / 2.0
    two = marked(cleaned, PLAN, (low, with_(spin, begins_s=cut), with_(spin, ends_s=cut)))
    assert [f.planned_id for f in two] == ["f1", "f1", "f2"]
    assert two[0].last == two[1].first
    whole = marked(cleaned, PLAN, (with_(spin, ends_s=low.ends_s),))
    assert cleaned.flown.time[whole[0].last] == pytest.approx(low.ends_s, abs=0.13)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"ends_s": 0.9}, "it lasts 0.9 s"),
        ({"begins_s": -60.0}, "beyond the recording"),
        ({"ends_s": 90000.0}, "beyond the recording"),
        ({"planned": "f9"}, "not in the plan"),
    ],
)
def test_a_mark_that_cannot_be_says_which_and_why(found, change, says):
    cleaned, judged = found
    spin, low = marks(judged)
    moved = {name: spin.begins_s + value if name == "ends_s" else value for name, value in change.items()}
    with pytest.raises(Wrong) as refused:
        marked(cleaned, PLAN, (with_(spin, **moved),))
    assert refused.value.problems[0][0] == "figures[0]"
    assert says in refused.value.problems[0][1]


def test_marks_lie_beside_each_other_and_a_second_is_enough(found):
    cleaned, judged = found
    spin, low = marks(judged)
    with pytest.raises(Wrong, match="before the one before it has ended"):
        marked(cleaned, PLAN, (spin, with_(low, begins_s=spin.ends_s - 0.1)))
    assert marked(cleaned, PLAN, (with_(spin, ends_s=spin.begins_s + 1.0), low))


def test_what_is_no_figure_and_too_many_are_refused():
    with pytest.raises(ValueError, match="there is no figure 'sideways'"):
        Mark(begins_s=0, ends_s=5, key="sideways")
    one = {"begins_s": 0, "ends_s": 5, "key": "spin"}
    with pytest.raises(ValueError, match="200"):
        ReadRequest.model_validate(
            {**PlanRequest.model_construct().model_dump(), "figures": [one] * (MOST + 1)}
        )


def test_how_it_was_asked_to_be_read_is_answered_and_read_again_is_the_same(content, found):
    _, judged = found
    asked = HowToRead(marks=tuple(marks(judged)[:1]), without=frozenset({"g bias"}))
    made = debriefed(content, asked, PLAN, C, "recorder", NOW)
    assert (made.flight.flight, made.flight.without, made.flight.marks) == (1, ("g bias",), asked.marks)
    assert not next(step for step in made.flight.cleaned if step.key == "g bias").done
    assert [f.attempt for f in made.flight.figures] == ["f1"]
    assert set(read_for(content, asked, PLAN, C, "recorder")[1]) == {"f1"}
