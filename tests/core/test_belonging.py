"""To which flight a recording belongs."""

from datetime import UTC, datetime, timedelta

import pytest

from keelturn.recording.belonging import OfFlight, doubts, fitting

AT = datetime(2026, 5, 12, 14, 0, tzinfo=UTC)
FLIGHT = OfFlight(7, AT, "QX-ROE")


@pytest.mark.parametrize(
    ("hours", "fits"), [(0, True), (-3, True), (-3.01, False), (8, True), (8.01, False), (-24, False)]
)
def test_a_recording_is_of_its_own_day(hours, fits):
    assert (doubts(AT + timedelta(hours=hours), "", FLIGHT) == ()) is fits


@pytest.mark.parametrize(
    ("called", "fits"), [("", True), ("QX-ROE", True), ("qxroe", True), ("QX ROE", True), ("QX-BRO", False)]
)
def test_a_recording_is_of_its_own_aircraft_however_it_is_written(called, fits):
    assert (doubts(AT, called, FLIGHT) == ()) is fits


def test_both_are_said_with_what_was_expected():
    assert doubts(AT - timedelta(days=8), "QX-BRO", FLIGHT) == (
        "It was recorded on 4 May 2026 at 14:00 UTC; this sortie is on 12 May 2026 at 14:00 UTC.",
        "The file calls its aircraft QX-BRO; this sortie is in QX-ROE.",
    )


def test_what_the_file_does_not_say_speaks_against_nothing():
    assert doubts(None, "", FLIGHT) == ()


def test_it_is_offered_to_those_it_fits_the_nearest_first():
    later, other, old = (
        OfFlight(8, AT + timedelta(hours=2), "QX-ROE"),
        OfFlight(9, AT, "QX-BRO"),
        OfFlight(10, AT - timedelta(days=1), "QX-ROE"),
    )
    began = AT + timedelta(minutes=90)
    assert [flight.key for flight in fitting(began, "QXROE", [FLIGHT, later, other, old])] == [8, 7]
    assert [flight.key for flight in fitting(None, "", [FLIGHT, old, later])] == [8, 7, 10]
