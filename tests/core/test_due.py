"""Who is due to fly. Common practice, no published source."""

from datetime import date, timedelta

import pytest

from keelturn.progress.due import due, last_feel
from tests.core.test_after_the_flight import attempt

TODAY = date(2026, 11, 26)


@pytest.mark.parametrize(
    ("days", "booked", "is_due", "why"),
    [
        (("joined", 0), False, False, "Joined today, not flown yet, nothing booked"),
        (("joined", 1), True, False, "Not flown in the 1 day since joining"),
        (("joined", 14), False, False, "Not flown in the 14 days since joining, nothing booked"),
        (("joined", 15), False, True, "Not flown in the 15 days since joining, nothing booked"),
        (0, False, False, "Flew today, nothing booked"),
        (1, True, False, "Flew yesterday"),
        (14, False, False, "14 days without a flight, nothing booked"),
        (15, False, True, "15 days without a flight, nothing booked"),
        (15, True, False, "15 days without a flight"),
    ],
)
def test_who_is_due_and_why(days, booked, is_due, why):
    joined, last = TODAY - timedelta(days=900), None
    if isinstance(days, tuple):
        joined = TODAY - timedelta(days=days[1])
    else:
        last = TODAY - timedelta(days=days)
    found = due(TODAY, joined, last, TODAY if booked else None)
    assert (found.is_due, found.why) == (is_due, why)


def test_the_last_number_that_was_given_stands_for_how_it_felt():
    given, none = attempt(start_ft=5000, feel=8), attempt(start_ft=5000)
    low = attempt(start_ft=4000, feel=3)
    assert last_feel([[given], [given, low, none], [none]]) == 3
    assert last_feel([[low], [given]]) == 8
    assert last_feel([[none]]) is None
    assert last_feel([]) is None
