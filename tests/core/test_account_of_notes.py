"""Where the height went by notes alone: over the pilots who could have flown what was noted."""

import pytest

from keelturn.assess.account import account_of_fit, account_of_notes
from keelturn.assess.fit import fit
from keelturn.assess.technique import technique_noted
from keelturn.flying.costs import fly_usual
from keelturn.noting.attempt import Attempt
from tests.core.test_fit import C, flown
from tests.flights import figure


def noted(key="nose_low", **numbers):
    return Attempt(id="a", planned=figure(key, start_ft=6000), **numbers)


def test_notes_alone_are_split_with_wider_doubt():
    judged, cleaned = flown("nose_low", {"delay_s": 0.8})
    recorded = account_of_fit(fit(judged.found, judged.measured, cleaned, C), judged.measured.lost_ft)
    lowest = 10.0 * round(judged.measured.lowest_ft / 10.0)
    told = account_of_notes(noted(start_ft=6000, lowest_ft=lowest, most_g=2.5), C)
    assert told.best_ft + sum(line.height_ft for line in told.lines) == pytest.approx(6000 - lowest)
    assert not told.from_recording
    seeing = next(line for line in told.lines if "Seeing it" in line.names)
    sure = next(line for line in recorded.lines if "Seeing it" in line.names)
    # Of a recording too, for nobody sees when it was handed over.
    assert seeing.doubt_ft > 1.2 * sure.doubt_ft
    assert abs(seeing.height_ft - sure.height_ft) < seeing.doubt_ft + sure.doubt_ft


def test_a_noted_pull_sharpens_the_split():
    lost = {"start_ft": 6000, "lowest_ft": 5300}
    soft = account_of_notes(noted(**lost, most_g=1.9), C)
    hard = account_of_notes(noted(**lost, most_g=2.6), C)
    pull = [sum(line.height_ft for line in told.lines if "Pull" in line.names) for told in (soft, hard)]
    assert pull[0] > pull[1] + 20


def test_a_fault_that_was_seen_is_where_more_of_the_height_went():
    lost = {"start_ft": 6000, "lowest_ft": 4900}

    def share(step, *faults):
        account = account_of_notes(noted("spin", **lost, faults=faults), C)
        return sum(line.height_ft for line in account.lines if step in line.names)

    assert share("Seeing it", "rudder_late") > share("Seeing it") + 50
    assert share("Entry", "stick_not_back") > share("Entry") + 50


def test_notes_that_tell_nothing_are_not_split():
    assert account_of_notes(noted(), C) is None
    assert account_of_notes(noted(start_ft=6000, lowest_ft=5990), C) is None  # nobody recovers in ten feet
    assert account_of_notes(noted("loop", start_ft=6000, lowest_ft=5800), C) is None
    assert technique_noted(noted(start_ft=6000), C) is None


@pytest.mark.parametrize(
    ("key", "number", "late"),
    [
        ("stall_power_off", {"delay_s": 1.0}, False),
        ("spiral_dive", {"delay_s": 1.0}, False),
        ("spin", {"call_s": 1.0}, True),
    ],
)
def test_only_causes_that_a_figure_has_are_in_its_account(key, number, late):
    """Turns that were done too long are none of a stall's or a spiral dive's."""
    lost = fly_usual(figure(key, start_ft=6000), C, **number).deepest_ft
    found = account_of_notes(noted(key, start_ft=6000, lowest_ft=6000 - lost), C)
    names = {name for line in found.lines for name in line.names}
    assert ("Called late" in names) == late
