"""The stand-in recorder: the truth of the plan, spoiled as asked, the same for the same seed."""

import numpy as np
import pytest

from keelturn.flying.costs import fly_usual
from keelturn.recording.flown import Flown
from keelturn.recording.recorder import COLUMNS, Sensors, record
from keelturn.recording.table import CONTROLS
from keelturn.weather.day import Day
from tests.flights import conditions, exact_sensors, figure, plan

DOCUMENT = plan(
    figure("spin", side="left"), figure("loop"), figure("nose_low"), day=Day(qnh_hpa=1003.25).model_dump()
)
C = conditions(DOCUMENT)
CLEAN = exact_sensors(20)


def of(table, at):
    flown = table.figures[at]
    return table.rows[(table.rows[:, 0] >= flown.begins_s) & (table.rows[:, 0] <= flown.ends_s)]


def test_without_noise_it_is_the_flight_of_the_plan():
    table = record(DOCUMENT.figures, C, CLEAN)
    assert table.columns == COLUMNS
    for at, planned in enumerate(DOCUMENT.figures):
        rows, flown = of(table, at), fly_usual(planned, C)
        assert rows[0, 1] - rows[-1, 1] == pytest.approx(flown.lost_ft, abs=25)
        assert rows[:, 3].max() == pytest.approx(flown.most_g, abs=0.06)
        assert rows[:, 2].max() == pytest.approx(flown.fastest_ias, abs=3)


def test_it_writes_pressure_height():
    """10 hPa below standard: the recorder reads about 277 ft higher than the altimeter on QNH."""
    assert of(record(DOCUMENT.figures, C, CLEAN), 0)[0, 1] == pytest.approx(5000 + 277, abs=25)


def test_a_spin_to_the_left_turns_left_and_a_loop_goes_over_the_top():
    table = record(DOCUMENT.figures, C, CLEAN)
    spun = Flown.of(*of(table, 0).T)
    turned = float((spun.turning[1:] * np.diff(spun.time)).sum())
    assert -turned == pytest.approx(360 * table.figures[0].turns, abs=20)
    assert table.figures[0].turns > 0.95
    assert np.abs(of(table, 1)[:, 5]).max() > 170
    assert of(table, 1)[:, 4].max() > 60


def test_the_same_seed_gives_the_same_table_and_another_another():
    one, two, other = (record(DOCUMENT.figures, C, Sensors(seed=seed)).rows for seed in (1, 1, 2))
    assert np.array_equal(one, two)
    assert not np.array_equal(one[:, 1], other[:, 1])


def test_noise_steps_dropouts_and_the_clock_are_as_asked():
    quiet = record(DOCUMENT.figures, C, CLEAN).rows
    noisy = record(
        DOCUMENT.figures,
        C,
        CLEAN.model_copy(update={"height_noise_ft": 10.0, "height_step_ft": 5.0, "clock_offset_s": 100.0}),
    ).rows
    assert np.std(noisy[:, 1] - quiet[:, 1]) == pytest.approx(10, rel=0.1)
    assert np.allclose(noisy[:, 1] % 5, 0)
    assert noisy[0, 0] - quiet[0, 0] == pytest.approx(100)
    gaps = record(DOCUMENT.figures, C, CLEAN.model_copy(update={"dropouts_share": 0.1})).rows
    assert 0.85 < len(gaps) / len(quiet) < 0.905
    assert np.diff(gaps[:, 0]).max() > 0.1


def test_controls_where_asked_and_full_rudder_into_a_left_spin():
    table = record(DOCUMENT.figures, C, CLEAN.model_copy(update={"controls": True}))
    assert table.columns == (*COLUMNS, *CONTROLS)
    spin = of(table, 0)
    assert spin[: len(spin) // 3, 9].min() == pytest.approx(-0.97, abs=0.01)
    assert spin[:, 9].max() > 0.85, "and against it in the recovery"
    assert np.abs(table.rows[:, 7:]).max() <= 1.0


def test_habits_show():
    late = record(DOCUMENT.figures, C, CLEAN, habits={"delay_s": 1.0})
    assert of(late, 2)[:, 1].min() < of(record(DOCUMENT.figures, C, CLEAN), 2)[:, 1].min() - 100
    with pytest.raises(KeyError):
        record(DOCUMENT.figures, C, CLEAN, habits={"courage": 1.0})


def test_nothing_planned_writes_nothing():
    assert record((), C, CLEAN).rows.shape == (0, len(COLUMNS))


def test_the_speed_goes_from_figure_to_climb_to_figure_without_a_jump():
    rows = record(DOCUMENT.figures, C, CLEAN).rows
    assert np.abs(np.diff(rows[:, 2])).max() < 4.0, "kt from one twentieth of a second to the next"
