"""What is required before something is given or gone on with. The rules (FCL.745.A, FCL.800, 14 CFR
61.183(i)) are from memory, to be confirmed; what is counted is ours."""

from dataclasses import replace
from datetime import date

import pytest

from keelturn.figures.figure import Family
from keelturn.progress.requirements import (
    BY_KEY,
    REQUIREMENTS,
    AskKind,
    CountsToward,
    FlightKept,
    WordGiven,
    recent_until,
    standing_to,
)
from keelturn.school.standards import Standards

TODAY = date(2026, 11, 28)
SPINS, STALLS = frozenset({Family.SPINS}), frozenset({Family.STALLS})


def flown(sortie=1, on=date(2026, 9, 1), minutes=30.0, families=SPINS, course="", signed=True):
    return FlightKept(sortie, on, minutes, families, course, "A lesson", signed)


def word(requirement, what, amount=0.0, on=date(2026, 6, 1)):
    return WordGiven(1, requirement, what, amount, on, "A. Examiner", "book 3", "Morag")


def standing(key, flights=(), ground=(), stated=()):
    return standing_to(BY_KEY[key], Standards(), flights, ground, stated, TODAY)


def line(found, what):
    return next(one for one in found.lines if one.what == what)


def test_every_rule_from_a_regulation_says_that_it_is_to_be_confirmed_and_has_its_number_in_the_standards():
    for one in REQUIREMENTS:
        assert "confirm" in one.source or "common practice" in one.source
        for asks in one.asks:
            assert bool(asks.standard) == (asks.what != AskKind.SIGNATURE)
            assert not asks.standard or getattr(Standards(), asks.standard).value > 0


def test_hours_add_up_to_what_is_asked_and_not_a_minute_before():
    """3 h of flight: six of thirty minutes are enough, one minute less is not."""
    six = [flown(n, course="upset_recovery") for n in range(6)]
    found = line(standing("upset_course", six), AskKind.FLIGHT)
    assert (found.has, found.asked, found.missing, len(found.counted)) == (3.0, 3.0, "", 6)
    short = [*six[:5], replace(six[5], minutes=29.0)]
    assert line(standing("upset_course", short), AskKind.FLIGHT).missing == "0 h 01"


def test_twenty_minutes_nine_times_are_three_hours_whatever_the_last_place_of_a_third_is():
    nine = [flown(n, minutes=20.0, course="upset_recovery") for n in range(9)]
    assert line(standing("upset_course", nine), AskKind.FLIGHT).missing == ""


@pytest.mark.parametrize(
    ("flight", "counts"),
    [
        (flown(course="upset_recovery", families=STALLS), True),
        (flown(course="spin_awareness"), False),
        (flown(course="upset_recovery", signed=False), False),
        (flown(course="upset_recovery", minutes=None), False),
    ],
)
def test_only_signed_flights_of_the_course_with_their_minutes_count(flight, counts):
    found = standing("upset_course", [flight])
    assert len(line(found, AskKind.FLIGHT).counted) == counts
    left_out = flight.course == "upset_recovery" and not counts
    assert bool(found.not_counted) == left_out


def test_what_was_left_out_is_said_with_the_reason():
    flights = [
        flown(1, course="upset_recovery", signed=False),
        flown(2, course="upset_recovery", minutes=None),
        flown(3, course="upset_recovery", minutes=None),
    ]
    assert standing("upset_course", flights).not_counted == (
        "1 flight debriefed and not signed",
        "2 flights without minutes in the debrief",
    )


def test_all_that_is_asked_has_to_be_there_for_a_course():
    hours = [flown(n, minutes=60.0, course="upset_recovery") for n in range(3)]
    theory = [CountsToward("Energy", date(2026, 5, 1), 5.0)]
    signed = [word("upset_course", AskKind.SIGNATURE)]
    assert standing("upset_course", hours, theory, signed).met
    assert not standing("upset_course", hours, theory).met
    assert not standing("upset_course", hours, [], signed).met
    assert not standing("upset_course", hours[:2], theory, signed).met


def test_of_a_rating_hours_or_flights_are_enough():
    """FCL.800, from memory: 5 h or 20 flights."""
    by_hours = [flown(n, minutes=100.0) for n in range(3)]
    by_flights = [flown(n, minutes=5.0) for n in range(20)]
    assert standing("aerobatic_rating", by_hours).met
    assert standing("aerobatic_rating", by_flights).met
    assert not standing("aerobatic_rating", by_flights[:19]).met
    assert not standing("aerobatic_rating", [flown(n, minutes=100.0, families=STALLS) for n in range(3)]).met


def test_hours_of_elsewhere_count_by_somebodys_word_and_for_that_requirement_alone():
    said = [word("aerobatic_rating", AskKind.FLIGHT, 4.5)]
    found = line(standing("aerobatic_rating", [flown()], stated=said), AskKind.FLIGHT)
    assert (found.has, [c.words for c in found.counted]) == (5.0, ["A. Examiner: book 3", "A lesson"])
    assert line(standing("upset_course", stated=said), AskKind.FLIGHT).has == 0.0


def test_a_signature_is_recorded_and_never_counted_from_flights():
    many = [flown(n, course="instructors_spins") for n in range(50)]
    assert not standing("spin_endorsement", many).met
    assert standing("spin_endorsement", stated=[word("spin_endorsement", AskKind.SIGNATURE)]).met


@pytest.mark.parametrize(("on", "met"), [(date(2026, 8, 30), True), (date(2026, 8, 29), False)])
def test_the_last_spin_may_be_ninety_days_ago_and_no_day_more(on, met):
    """The school's own 90 days; 30 Aug to 28 Nov are 90."""
    found = standing("spins_lately", [flown(1, date(2026, 1, 1)), flown(2, on)])
    assert found.met == met
    assert found.lines[0].has == (TODAY - on).days
    assert recent_until(found.lines[0]) == (date(2026, 11, 28) if met else date(2026, 11, 27))


def test_nobody_who_never_flew_one_is_current():
    found = standing("spins_lately", [flown(families=STALLS)])
    assert (found.met, found.lines[0].missing) == (False, "none on record")
    assert recent_until(found.lines[0]) is None
