"""A card's spin beside recorded spins whose truth is known: flown in an aircraft that spins otherwise than
the card says, by students who hold rudder and stick each in their own way."""

from dataclasses import replace
from datetime import date, timedelta
from functools import cache

import numpy as np
import pytest

from keelturn.document import Wrong
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.progress.alike import mean_and_doubt
from keelturn.progress.spin_beside import FEWEST_FLIGHTS, FEWEST_SPINS, spin_beside
from keelturn.progress.spins_flown import SpinFlown, tells_the_aircraft, turns_flown
from keelturn.recording.flown import Flown
from keelturn.recording.recorder import Sensors, record_goes
from keelturn.recording.truth import Go
from tests.cards import LIGHT, changed
from tests.flights import NO_SPINS, TRAINER, Card, conditions, figure, plan

FIRST = date(2026, 5, 1)


def card(**spin):
    """The trainer's with these numbers of its spin, from its manual."""
    stated = {name: {"value": value} for name, value in spin.items()}
    return Card.model_validate(changed(LIGHT, spin=stated))


def measured_here(made):
    numbers = {
        name: getattr(made.spin, name).model_copy(update={"source": "measured here"})
        for name in ("further_turn_ft", "turn_s", "left_factor")
    }
    return made.model_copy(update={"spin": made.spin.model_copy(update=numbers)})


def flights_in(aircraft, flights, turns=(2.0, 3.0), seed=1, **sensors):
    """Spins to both sides of so many flights in this aircraft, planned with the trainer's card."""
    chance = np.random.default_rng(seed)
    found = []
    for number in range(flights):
        spins = [
            figure("spin", float(chance.integers(50, 80) * 100), side=side, turns=t)
            for side in ("left", "right")
            for t in turns
        ]
        day = {"temperature_c": float(chance.integers(5, 30))}
        document = plan(*spins, day=day)
        flown_in = conditions(document)
        goes = [
            Go(f, habits={"call_s": chance.normal(0, 0.2), "rudder_share": -abs(chance.normal(0, 0.1))})
            for f in document.figures
        ]
        box = Sensors(**{"rate_hz": 10.0, "seed": number + 100 * seed, **sensors})
        table = record_goes(goes, replace(flown_in, card=aircraft), box)
        for true, planned in zip(table.figures, document.figures, strict=True):
            rows = table.rows[(table.rows[:, 0] >= true.begins_s) & (table.rows[:, 0] <= true.ends_s)]
            lost = true.start_ft - true.lowest_ft
            flown = Flown.of(*rows[:, :7].T)
            found.append(SpinFlown(number, FIRST + timedelta(number), planned, flown, None, lost, flown_in))
    return found


@cache
def as_its_card_says():
    return flights_in(TRAINER, 4)


@cache
def falling_further():
    return flights_in(card(further_turn_ft=260.0, turn_s=2.1), 4)


@cache
def of_one_that_falls_further():
    return spin_beside(TRAINER, falling_further())


def numbers(found):
    return {one.key: one for one in found.numbers}


@pytest.mark.long
def test_an_aircraft_that_spins_as_its_card_says_stays_as_it_is():
    found = spin_beside(TRAINER, flights_in(TRAINER, 4, seed=2))
    assert (found.spins, found.flights, found.card) == (16, 4, None)
    for one in found.numbers:
        assert one.least < one.card < one.most
        assert (one.becomes, one.words) == (None, "As the card says, as far as can be told.")
    assert found.words == "Nothing to change: it spins as its card says, as far as can be told."
    assert found.losses == ()
    assert found.beyond_after_ft is None


@pytest.mark.long
def test_one_that_falls_further_and_turns_slower_is_found_and_costs_what_it_costs():
    found = of_one_that_falls_further()
    by = numbers(found)
    assert by["further_turn_ft"].becomes == pytest.approx(260.0, abs=10.0)
    assert by["turn_s"].becomes == pytest.approx(2.1, abs=0.1)
    assert by["further_turn_ft"].least < 260.0 < by["further_turn_ft"].most
    assert by["left_factor"].becomes is None
    assert found.words == "It spins otherwise than its card says."
    assert by["further_turn_ft"].words == "More than the card says."
    assert [loss.turns for loss in found.losses] == [1.0, 2.0, 3.0, 6.0]
    assert all(loss.after_ft > loss.before_ft for loss in found.losses)
    assert abs(found.beyond_after_ft) < found.beyond_before_ft


@pytest.mark.long
def test_the_card_that_comes_of_it_differs_in_those_numbers_alone_and_says_from_where():
    found = of_one_that_falls_further()
    new = found.card.spin
    assert (new.further_turn_ft.source, new.turn_s.source) == ("measured here", "measured here")
    assert new.turn_s.ref == f"{found.spins} recorded spins, 1 May 2026 to 4 May 2026"
    back = new.model_copy(
        update={"further_turn_ft": TRAINER.spin.further_turn_ft, "turn_s": TRAINER.spin.turn_s}
    )
    assert found.card.model_copy(update={"spin": back}) == TRAINER
    for value, step in ((new.further_turn_ft.value, 5.0), (new.turn_s.value, 0.05)):
        assert value / step == pytest.approx(round(value / step))
    # Asked again, the new card is what was flown.
    assert spin_beside(found.card, falling_further()).card is None


@pytest.mark.long
@pytest.mark.parametrize(
    ("key", "of_the_card", "flown"), [("further_turn_ft", 265.0, 215.0), ("turn_s", 1.6, 1.8)]
)
def test_a_manuals_number_is_never_made_to_cost_less_and_the_schools_own_is(key, of_the_card, flown):
    """More feet a turn cost more, and fewer seconds."""
    of_manual = card(**{key: of_the_card})
    stays, own = (
        numbers(spin_beside(one, as_its_card_says()))[key] for one in (of_manual, measured_here(of_manual))
    )
    assert (stays.becomes, stays.words[:28]) == (None, "It would cost less than the ")
    assert not stays.least < of_the_card < stays.most
    assert own.becomes == pytest.approx(flown, rel=0.06)
    assert own.words == f"{'Less' if flown < of_the_card else 'More'} than the card says."


@pytest.mark.long
def test_one_side_that_is_wilder_than_the_card_says():
    found = numbers(spin_beside(TRAINER, flights_in(card(left_factor=1.2), 4)))
    assert found["left_factor"].becomes == pytest.approx(1.2, abs=0.06)
    assert found["left_factor"].least > 1.06
    assert found["further_turn_ft"].becomes is None


@pytest.mark.long
def test_where_one_side_was_flown_too_seldom_nothing_is_said_of_left_against_right():
    spins = as_its_card_says()
    right = [one for one in spins if one.planned.side == "right"]
    some = right + [one for one in spins if one.planned.side == "left"][: FEWEST_SPINS - 1]
    assert set(numbers(spin_beside(TRAINER, some))) == {"further_turn_ft", "turn_s"}


def of(spins, flights):
    """So many spins in all of so many flights, one after the other."""
    told = [one for one in as_its_card_says() if turns_flown(one.flown) is not None]
    by = [[one for one in told if one.flight == f][:3] for f in range(flights)]
    return [one for together in zip(*by, strict=True) for one in together][:spins]


@pytest.mark.parametrize(
    ("spins", "flights", "told"),
    [
        (FEWEST_SPINS, FEWEST_FLIGHTS, True),
        (FEWEST_SPINS - 1, FEWEST_FLIGHTS, False),
        (6, FEWEST_FLIGHTS - 1, False),
        (0, 0, False),
    ],
)
def test_too_few_change_no_card(spins, flights, told):
    found = spin_beside(TRAINER, of(spins, flights) if flights else [])
    assert (found.spins, found.flights) == (spins, flights)
    assert bool(found.numbers) is told
    assert ("5 spins of 3 flights are asked for" in found.words) is not told
    assert (found.first is None) is (spins == 0)


def test_a_card_without_spins_is_told_so():
    with pytest.raises(Wrong, match="no spin section"):
        spin_beside(NO_SPINS, [])


def test_what_a_recording_does_not_tell_is_left_out():
    (one,) = flights_in(TRAINER, 1, turns=(2.0,))[:1]
    slow, blind = flights_in(TRAINER, 1, turns=(2.0,), rate_hz=2.0)[0], replace(one.flown)
    absent = np.full(len(blind.time), np.nan)
    told = turns_flown(one.flown)
    assert (told.feet, told.seconds) == (pytest.approx(195.0, abs=25.0), pytest.approx(2.05, abs=0.25))
    assert turns_flown(slow.flown) is None
    assert turns_flown(replace(blind, turning=absent)) is None
    assert turns_flown(one.flown.between(0, 2)) is None
    assert turns_flown(flights_in(TRAINER, 1, turns=(1.0,))[0].flown) is None


def test_nothing_after_the_recovery_was_begun_is_looked_at():
    (one,) = flights_in(TRAINER, 1, turns=(3.0,))[:1]
    whole = turns_flown(one.flown)
    at_two = float(np.interp(2.0, np.abs(np.cumsum(one.flown.turning * 0.1)) / 360.0, one.flown.height))
    cut, until = turns_flown(one.flown, recover_ft=at_two), turns_flown(one.flown, until=2.0)
    assert (cut.until, until.until) == (pytest.approx(2.0, abs=0.1), pytest.approx(2.0, abs=0.1))
    assert whole.until > 2.5


@pytest.mark.parametrize(
    ("noted", "tells"),
    [
        ({}, True),
        ({"faults": ("rudder_late",)}, True),
        ({"outcome": Outcome.AS_INTENDED}, True),
        ({"faults": ("power_late",)}, False),
        ({"faults": ("rudder_late", "aileron_in")}, False),
        ({"abandoned": "Unwell"}, False),
        ({"skipped": True}, False),
        ({"outcome": Outcome.SPIRAL}, False),
        ({"planned": figure("spin_off_turn")}, False),
    ],
)
def test_which_of_them_tell_the_aircrafts_own_spin(noted, tells):
    attempt = Attempt(id="a", planned=figure("spin", turns=2.0)).model_copy(update=noted)
    assert tells_the_aircraft(attempt) is tells


def test_what_is_alike_counts_once():
    """Two groups of two equal values know as much as two values: a standard error of half their distance."""
    middle, doubt = mean_and_doubt([("a", 1.0), ("a", 1.0), ("b", 3.0), ("b", 3.0)])
    assert (middle, doubt) == (2.0, pytest.approx(1.0))
    assert mean_and_doubt([("a", 1.0), ("a", 2.0)]) == (1.5, np.inf)
