"""What becomes of a plan on another day or with another instructor. Common practice, no published source."""

import pytest

from keelturn.plan.briefing import Brief
from keelturn.plan.document import Override
from keelturn.plan.rebooked import in_another_aircraft, on_another_day, with_another_instructor, with_weight
from keelturn.weather.day import Day
from tests.flights import figure, plan

TICKED = Brief(checked=("weather",), note="mind the gulls")
PLANNED = plan(
    figure("spin"),
    day=Day(qnh_hpa=1002),
    feeling=7,
    overrides=[Override(check="floor_f1", reason="The tower reports clear skies")],
)


def test_another_day_has_its_own_weather_number_and_ticks():
    found, brief = on_another_day(PLANNED, TICKED)
    assert (found.day, found.feeling, brief.checked) == (Day(), None, ())
    assert (found.overrides, found.load, brief.note) == (PLANNED.overrides, PLANNED.load, TICKED.note)


def test_another_instructor_has_their_own_weight_overrides_and_ticks():
    found, brief = with_another_instructor(PLANNED, TICKED, 155, 201)
    assert (found.load.rear_lb, found.overrides, brief.checked) == (201, (), ())
    assert (found.day, found.feeling) == (PLANNED.day, 7)


def test_in_another_aircraft_nothing_of_the_one_before_is_kept():
    faster = PLANNED.model_copy(
        update={"figures": (PLANNED.figures[0].model_copy(update={"entry_ias": 71.0}),)}
    )
    load = PLANNED.load.model_copy(update={"front_lb": 201.0})
    found, brief = in_another_aircraft(faster, TICKED, load)
    assert (found.load, found.figures[0].entry_ias, found.overrides) == (load, None, ())
    assert (found.day, found.feeling, brief.checked) == (PLANNED.day, 7, ())


@pytest.mark.parametrize(
    ("front", "rear", "seats"),
    [(150, 170, (150, 201)), (170, 140, (201, 140)), (170, 170, (170, 201)), (165, 175, (165, 201))],
)
def test_the_instructors_seat_is_the_one_nearer_to_the_weight_before(front, rear, seats):
    load = PLANNED.load.model_copy(update={"front_lb": front, "rear_lb": rear})
    changed = with_weight(load, 170, 201)
    assert (changed.front_lb, changed.rear_lb) == seats
