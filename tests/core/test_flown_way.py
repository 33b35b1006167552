"""Where a recorded figure went through the air."""

import numpy as np
import pytest

from keelturn.recording.flown import Flown, through_the_air

TIME = np.arange(0.0, 60.0, 0.5)
KT_FPS = 6076.12 / 3600.0


def flown(heading, ias=100.0, sink_fps=0.0):
    still = np.zeros(len(TIME))
    return Flown.of(TIME, 5000.0 - sink_fps * TIME, still + ias, still + 1.0, still, still, still + heading)


@pytest.mark.parametrize(("heading", "east", "north"), [(0, 0, 1), (90, 1, 0), (180, 0, -1), (270, -1, 0)])
def test_it_goes_where_the_nose_points_as_fast_as_it_is(heading, east, north):
    found = through_the_air(flown(heading), 1.0)
    way = 100.0 * KT_FPS * TIME[-1]
    assert [ways[-1] for ways in found] == pytest.approx([east * way, north * way], abs=1.0)
    assert [ways[0] for ways in found] == [0.0, 0.0]


def test_in_thin_air_it_goes_further_by_the_root_of_the_density():
    low, high = (through_the_air(flown(0), ratio)[1][-1] for ratio in (1.0, 0.81))
    assert high / low == pytest.approx(1.0 / 0.9)


def test_what_goes_down_does_not_go_along():
    # 3, 4, 5: of 5 down and along, 4 are left when 3 go down.
    five = 5.0 * 30.0
    found = through_the_air(flown(0, ias=five / KT_FPS, sink_fps=3.0 * 30.0), 1.0)[1][-1]
    assert found == pytest.approx(4.0 * 30.0 * TIME[-1], rel=1e-3)
    straight_down = through_the_air(flown(0, ias=five / KT_FPS, sink_fps=five + 1.0), 1.0)[1][-1]
    assert straight_down == pytest.approx(0.0, abs=1e-6)


def test_without_a_heading_nothing_is_known():
    assert np.isnan(through_the_air(flown(np.nan), 1.0)[0][1:]).all()
