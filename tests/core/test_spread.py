"""The spread: percentiles of 256 pilots against those of many more, and what the memory costs."""

import numpy as np
import pytest
from scipy.special import ndtri
from scipy.stats.qmc import Sobol

from keelturn.flying.costs import fan_losses, fly_usual, pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.pilots import INSTRUCTOR, STUDENT, PilotNumber, drawn_of, pilot_of
from keelturn.margins.fan import _polynomial, _terms, moving_numbers
from keelturn.margins.influence import losses
from keelturn.margins.spread import (
    Spread,
    flown_by_many,
    hill_of,
    pilot_behind,
    recovery_99,
    spread_of,
    take_over_figure,
)
from keelturn.plan.sequence import compute_plan
from keelturn.units import FT
from tests.flights import HEAVY, TRAINER, conditions, figure, plan
from tests.long import others_long


def many_of(pilot):
    """16,384 of these, drawn evenly over all of their numbers: their percentiles move as little from one
    drawing to the next as those of 40,000 by chance (by 1 to 2 ft: spin, flat spin, slow roll, nose low)."""
    drawn = ndtri(Sobol(len(pilot), rng=np.random.default_rng(7)).random_base2(14))
    return {
        key: np.clip(n.usual + n.varies * drawn[:, i], n.least, n.most)
        for i, (key, n) in enumerate(pilot.items())
    }


BOTH = ("spin", "nose_low", "slow_roll", "barrel_roll")
LIGHT_ONLY = ("incipient_spin", "over_banked", "stall_turning")
HEAVY_ONLY = ("spin_flat", "inverted", "split_s")


@pytest.mark.parametrize(
    ("key", "card"),
    others_long([(key, TRAINER) for key in BOTH + LIGHT_ONLY], (0, 3))
    + others_long([(key, HEAVY) for key in BOTH + HEAVY_ONLY], (1,)),
)
def test_the_95th_of_a_plan_is_that_of_16384_students(key, card):
    """Within 1 % or the 10 ft to which it is read."""
    c, planned = conditions(card=card), figure(key)
    many, _ = fan_losses(planned, c, many_of(STUDENT), 5000 * FT)
    usual = float(5000 * FT - fly(planned, c, pilot_numbers("student"), 5000 * FT).lowest[0]) / FT
    ours, theirs = usual + spread_of(planned, c).beyond_usual_ft, np.quantile(many, 0.95) / FT
    assert ours == pytest.approx(theirs, rel=0.01, abs=10)


@pytest.mark.parametrize(
    "key", others_long(["spin", "loop", "slow_roll", "nose_low", "stall_turning", "inverted"], (0, 3))
)
def test_the_99th_of_a_take_over_is_that_of_16384_instructors(key):
    """Within 2 %."""
    c = conditions()
    taken = take_over_figure(figure(key), c)
    _, many = fan_losses(taken, c, many_of(INSTRUCTOR), 5000 * FT)
    assert spread_of(figure(key), c).recovery_99_ft == pytest.approx(np.quantile(many, 0.99) / FT, rel=0.02)


def test_a_start_is_computed_at_its_own_height():
    """Remembered by steps of 1,000 ft: over a whole one the margin moves by under 0.6 % of the loss."""
    c = conditions().at_steps
    at, higher = (spread_of(figure("spin", start_ft=ft), c).beyond_usual_ft for ft in (5000, 6000))
    assert at == flown_by_many(figure("spin", start_ft=5000), c).beyond_usual_ft
    assert abs(higher - at) < 0.006 * fly_usual(figure("spin"), c).lost_ft


def test_only_the_numbers_that_move_a_figure_are_drawn():
    c = conditions()
    low, spun = (moving_numbers(figure(key), c, "student") for key in ("nose_low", "spin"))
    assert low[0] in ("delay_s", "pull_g", "onset_g_s", "roll_g")
    assert {"pull_from_bank_deg", "lag_s"} <= set(low) and "gap_s" not in low
    assert {"gap_s", "centre_s", "rudder_share", "turn_error"} <= set(spun) and "roll_share" not in spun


def test_a_pilot_given_as_distributions_has_a_spread_of_its_own():
    """What varies in the usual student is what was given: a pilot who never varies has no spread, one who is
    late has the late one's."""
    planned, c = figure("nose_low"), conditions()
    still = {key: PilotNumber(n.usual) for key, n in STUDENT.items()}
    one = losses(planned, c, still, 200)
    assert one.median_ft == one.p95_ft == one.p99_ft and one.shares == ()
    usual, late = (
        losses(planned, c, STUDENT, 2000),
        losses(planned, c, pilot_of("student", {"delay_s": 2.0}), 2000),
    )
    assert late.median_ft > usual.median_ft + 80 and late.p95_ft > late.median_ft
    even = losses(planned, c, {**still, "delay_s": PilotNumber(1.0, 0.5, form="even")}, 2000)
    assert [s.number for s in even.shares if s.share > 0.01] == ["delay_s"]


def test_the_margin_hardly_changes_over_the_steps_of_weight_and_air_it_is_remembered_for():
    def margin(front_lb: float, temperature_c: float, qnh_hpa: float) -> float:
        flown_by_many.cache_clear()
        load = {"front_lb": front_lb, "rear_lb": 170, "fuel_usgal": {"Centre": 18}}
        return spread_of(
            figure("spin"),
            conditions(plan(load=load, day={"temperature_c": temperature_c, "qnh_hpa": qnh_hpa})),
        ).beyond_usual_ft

    assert margin(190, 18, 1008) == pytest.approx(margin(170, 15, 1013), abs=8)


@pytest.mark.parametrize(
    "before", [{"front_lb": 176}, {"front_lb": 176, "start_ft": 9000}], ids=["weight", "height"]
)
def test_what_was_asked_before_changes_nothing(before):
    """Of the same step of weight, and of any height: the second is told what it is told when it asks
    first."""

    def of(front_lb: float, start_ft: float = 5000) -> Spread:
        load = {"front_lb": front_lb, "rear_lb": 170, "fuel_usgal": {"Centre": 18}}
        return spread_of(figure("spin_flat", start_ft=start_ft), conditions(plan(load=load)))

    def forget() -> None:
        for memory in (flown_by_many, recovery_99):
            memory.cache_clear()

    forget()
    first = of(171)
    forget()
    assert (of(**before), of(171))[1] == first


def test_a_fan_asked_for_by_many_at_once_is_flown_once(monkeypatch):
    from concurrent.futures import ThreadPoolExecutor

    from keelturn.margins import spread

    flown = []
    really = spread.fan_of
    monkeypatch.setattr(spread, "fan_of", lambda *asked: flown.append(asked[2]) or really(*asked))
    flown_by_many.cache_clear()
    spread.recovery_99.cache_clear()
    c = conditions()
    with ThreadPoolExecutor(6) as pool:
        found = list(pool.map(lambda _: spread_of(figure("spin"), c), range(6)))
    assert sorted(pilot["delay_s"].usual for pilot in flown) == [0.7, 0.9]
    assert len(set(found)) == 1


def test_a_fan_that_cannot_be_flown_is_asked_again_not_remembered():
    from tests.flights import NO_SPINS

    c = conditions(card=NO_SPINS)
    for _ in range(2):
        with pytest.raises(ValueError, match="no spin figures"):
            spread_of(figure("spin"), c)


def test_a_pilot_who_never_gets_out_is_not_given_a_height():
    """A light trainer upside down and stalled in a barrel roll it has not the speed for: some never come
    level. No path of theirs may become a percentile."""
    from keelturn.flying.costs import within
    from keelturn.margins.influence import losses
    from tests.flights import NO_SPINS

    found = losses(figure("stall_barrel"), conditions(card=NO_SPINS), pilots=2000)
    assert found.never_out > 0
    assert found.p95_ft is None or found.p95_ft < 3000
    assert within(np.array([1.0, 2.0, np.nan]), 50.0) == 2.0
    assert within(np.array([1.0, np.nan, np.nan]), 95.0) == np.inf


def test_the_polynomial_without_its_columns_is_that_with_them():
    z = np.random.default_rng(1).standard_normal((40, 11))
    terms = _terms(z)
    fitted = np.random.default_rng(2).standard_normal(terms.shape[1])
    assert _polynomial(z, fitted) == pytest.approx(terms @ fitted)
    few = z[:, :3]
    fitted = fitted[: _terms(few).shape[1]]
    assert _polynomial(few, fitted) == pytest.approx(_terms(few) @ fitted)


def test_pilots_are_drawn_evenly_the_same_every_time_and_inside_their_reach():
    drawn, again = (
        drawn_of(STUDENT, 256, ("delay_s", "pull_g")),
        drawn_of(STUDENT, 256, ("delay_s", "pull_g")),
    )
    for name in ("delay_s", "pull_g"):
        number, values = STUDENT[name], drawn[name]
        assert (values == again[name]).all()
        assert values.min() >= number.least and values.max() <= number.most
        assert np.median(values) == pytest.approx(number.usual, abs=0.05 * number.varies)
        below = np.mean(values < number.usual - number.varies)
        assert below == pytest.approx(0.1587, abs=0.02)
    assert (drawn["onset_g_s"] == STUDENT["onset_g_s"].usual).all()
    assert abs(np.corrcoef(drawn["delay_s"], drawn["pull_g"])[0, 1]) < 0.03


def test_the_hill_is_made_of_all_who_flew_and_counts_who_never_got_out():
    lost = np.array([100.0, 110.0, 110.0, 340.0, np.nan])
    hill = hill_of(lost, 120.0)
    assert (hill.least, hill.step, hill.usual, hill.beyond) == (100.0, 10.0, 120.0, 1)
    assert [(i, n) for i, n in enumerate(hill.counts) if n] == [(0, 1), (1, 2), (23, 1)]
    nobody = hill_of(np.array([np.nan, np.nan]), np.nan)
    assert (nobody.counts, nobody.beyond) == ((), 2)
    assert hill_of(np.array([100.0, 300.0, 500.0]), np.nan).usual == 300.0


@pytest.mark.parametrize("key", ["spin", "nose_low", "slow_roll"])
def test_the_hill_of_a_plan_stands_around_its_likely_loss_and_has_its_limit_in_it(key):
    found = compute_plan(plan(figure(key)), conditions()).figures[0]
    hill = found.worst.hill
    assert sum(hill.counts) + hill.beyond == 256
    assert hill.usual == found.likely.value
    columns = hill.least + hill.step * (np.arange(len(hill.counts)) + 0.5)
    share = sum(n for at, n in zip(columns, hill.counts, strict=True) if at > found.worst.value) / 256
    assert 0.02 <= share <= 0.09
    recovery = found.lowest_start.inputs[2].hill
    assert recovery.least < recovery.usual < recovery.least + recovery.step * len(recovery.counts)


def behind(key, **planned):
    asked = figure(key, **planned)
    moving = spread_of(asked, conditions()).moving
    return {a.label: (a.shown, a.source.kind) for a in pilot_behind(asked, moving)}


def test_a_loss_names_the_pilot_behind_it_and_what_the_plan_asks_of_him():
    spin = behind("spin", pull_g=2.8)
    assert spin["Rudder to stick"] == ("0.4 s", "common practice")
    assert spin["Pull"] == ("2.8 g", "plan")
    assert spin["Full rudder against"] == ("93 %", "common practice")
    assert next(iter(behind("nose_low"))) == "Seeing it to first input"
    assert len(spin) <= 8


def test_what_is_found_by_flight_is_none_of_the_pilots_until_the_plan_states_it():
    assert "Nose up" not in behind("slow_roll")
    assert behind("slow_roll", line_deg=12.0)["Nose up"] == ("12 deg", "plan")
