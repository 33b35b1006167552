"""A student's own numbers: simulated students of known truth, and which of the two losses a plan goes by."""

from dataclasses import astuple, replace

import numpy as np
import pytest

from keelturn.assess.briefed import briefed_of, counted_deviation
from keelturn.assess.loss import loss_account
from keelturn.figures.planned import FlownBy
from keelturn.flying.costs import pilot_numbers
from keelturn.flying.course import fly
from keelturn.flying.deviations import (
    DEVIATES,
    DRIFT_DAYS,
    IN_20,
    USUAL,
    Deviation,
    OwnLoss,
    Population,
    beyond_at,
    deviation_of,
    own_losses,
    population_of,
)
from keelturn.flying.pilots import STUDENT
from keelturn.margins.own import own_place
from keelturn.margins.spread import spread_of
from keelturn.noting.attempt import Attempt, Outcome
from keelturn.plan.sequence import compute_plan, starts_above_the_lowest
from keelturn.school.standards import Standards
from keelturn.units import FT
from tests.flights import conditions, figure, plan
from tests.long import others_long

FLOWN = ("nose_low", "spin", "over_banked", "slow_roll")
LIES = (-80.0, -50.0, -20.0, 5.0, 40.0, 90.0, 170.0)


@pytest.fixture(scope="module")
def school():
    """28 students of the core: each has habits of their own, by which they differ from each other about as
    much as they vary from one attempt to the next; what each loses, 400 times, beyond the likely loss."""
    chance, c = np.random.default_rng(11), conditions()
    lies = {key: spread_of(figure(key), c).lies for key in FLOWN}
    students = []
    for _ in range(28):
        off = {name: chance.normal() * 0.6 for name in STUDENT}
        flown = {}
        for key in FLOWN:
            drawn = {
                name: np.clip(
                    n.usual + n.varies * (off[name] + 0.8 * chance.normal(size=400)), n.least, n.most
                )
                for name, n in STUDENT.items()
            }
            start_m = 5000 * FT
            usual = fly(figure(key), c, pilot_numbers("student"), start_m).lowest
            flown[key] = (usual - fly(figure(key), c, drawn, start_m).lowest) / FT
        students.append(flown)
    return lies, students


def seen_of(lies, flown, attempts):
    """A student's first attempts at every figure, a fortnight apart."""
    return [
        Deviation(key, 14 * n, deviation_of(flown[key][n], lies[key], False))
        for n in range(attempts)
        for key in FLOWN
    ]


@pytest.fixture(scope="module")
def population(school):
    lies, students = school
    return population_of(seen_of(lies, flown, 12) for flown in students)


@pytest.mark.parametrize("attempts", others_long([0, 1, 3, 6, 12], (1, 3)))
def test_the_next_attempts_stay_within_it_90_to_98_times_in_100(school, population, attempts):
    lies, students = school
    for key in FLOWN:
        within = []
        for flown in students:
            own = own_losses([key], seen_of(lies, flown, attempts), population, 14 * attempts)[key]
            within.append(np.mean(flown[key][20:] <= beyond_at(own.in_20, lies[key]) + 1e-6))
        assert 0.90 <= np.mean(within) <= 0.98, key


def apart_from_truth(school, population, attempts, key):
    """Feet, root mean square: of the own likely loss, and of the population's, from each student's middle."""
    lies, students = school
    own = [
        beyond_at(
            own_losses([key], seen_of(lies, flown, attempts), population, 14 * attempts)[key].usual, lies[key]
        )
        for flown in students
    ]
    truth = np.array([np.median(flown[key][20:]) for flown in students])
    return np.sqrt(np.mean((np.array(own) - truth) ** 2)), np.sqrt(np.mean(truth**2))


@pytest.mark.parametrize("key", FLOWN)
def test_it_is_never_worse_than_the_population_and_better_after_six(school, population, key):
    own, everybody = apart_from_truth(school, population, 0, key)
    assert own <= 1.05 * everybody
    own, everybody = apart_from_truth(school, population, 6, key)
    assert own < 0.8 * everybody


@pytest.mark.long
def test_how_sure_it_is_holds_nine_times_in_ten(school, population):
    lies, students = school
    held = []
    for flown in students:
        for key, own in own_losses(FLOWN, seen_of(lies, flown, 6), population, 84).items():
            truth = np.mean([deviation_of(x, lies[key], False) for x in flown[key][20:]])
            held.append(abs(truth - own.usual) <= IN_20 * own.unsure)
    assert 0.82 <= np.mean(held) <= 0.98


def test_of_who_is_not_known_the_population_is_left():
    own = own_losses(["spin"], [], Population(), 0)["spin"]
    assert own == OwnLoss(0.0, pytest.approx(0.4**0.5), pytest.approx(0.6**0.5), 0)
    assert own.in_20 == pytest.approx(IN_20)
    # The school's mean is where everybody of it begins.
    assert own_losses(["spin"], [], Population({"spin": 0.4}), 0)["spin"].usual == 0.4


def test_by_hand_with_one_attempt_and_with_two():
    """One attempt: its deviation times known / (known + attempt). Of another figure the student's part alone
    carries over. Two alike count as one with half the variance."""
    own = own_losses(["spin", "loop"], [Deviation("spin", 0, 1.0)], Population(), 0)
    assert own["spin"].usual == pytest.approx(0.4)
    assert own["loop"].usual == pytest.approx(0.25)
    assert own["spin"].unsure == pytest.approx((0.4 - 0.4**2) ** 0.5)
    assert (own["spin"].attempts, own["loop"].attempts) == (1, 0)
    two = own_losses(["spin"], [Deviation("spin", 0, 1.0)] * 2, Population(), 0)["spin"]
    assert two.usual == pytest.approx(0.4 / (0.4 + 0.3))


def test_what_was_flown_long_ago_says_less():
    seen = [Deviation("spin", 0, 2.0)]
    now, later = (own_losses(["spin"], seen, Population(), day)["spin"] for day in (0, round(DRIFT_DAYS)))
    assert later.usual == pytest.approx(now.usual / np.e)
    assert later.unsure > now.unsure


def test_who_varies_more_has_a_wider_spread_at_that_figure_most():
    alike = [Deviation("spin", day, 0.0) for day in range(12)]
    wild = [Deviation("spin", day, 2.5 * (-1) ** day) for day in range(12)]
    calm, rough = (own_losses(["spin", "loop"], seen, Population(), 12) for seen in (alike, wild))
    assert calm["spin"].varies < USUAL.attempt**0.5 < rough["loop"].varies < rough["spin"].varies


def test_the_schools_variances_and_means_are_found():
    chance = np.random.default_rng(5)
    students = []
    for _ in range(120):
        level = chance.normal() * 0.7
        at = {key: 0.5 + level + chance.normal() * 0.3 for key in "abcd"}
        students.append([Deviation(key, 0, at[key] + chance.normal() * 0.5) for key in "abcd" * 6])
    found = population_of(students)
    assert found.attempts == 120 * 24
    assert all(mean == pytest.approx(0.5, abs=0.17) for mean in found.means.values())
    assert found.shares.attempt == pytest.approx(0.25, rel=0.15)
    assert found.shares.student == pytest.approx(0.49, rel=0.3)
    assert found.shares.figure == pytest.approx(0.09, abs=0.06)


def test_of_no_attempts_the_usual_variances_are_left():
    found = population_of([])
    assert (found.means, found.attempts) == ({}, 0)
    assert astuple(found.shares) == pytest.approx(astuple(USUAL))


@pytest.mark.parametrize("at", [-2.5, -1.0, 0.0, 0.3, IN_20, 3.0])
def test_feet_and_deviation_are_the_same_both_ways(at):
    assert deviation_of(beyond_at(at, LIES), LIES, False) == pytest.approx(at)


def test_19_in_20_of_the_population_is_what_it_loses_there():
    assert beyond_at(DEVIATES[-1], LIES) == LIES[-1]
    # Beyond it, on as steeply as before it.
    assert beyond_at(DEVIATES[-1] + 1.0, LIES) == pytest.approx(170 + 80 / 0.645, abs=0.5)


def test_what_most_pilots_share_is_the_middle_of_their_places():
    none_lost = (0.0, 0.0, 0.0, 0.0, 20.0, 90.0, 280.0)
    assert deviation_of(0.0, none_lost, False) == pytest.approx(-IN_20 / 2)
    assert beyond_at(IN_20, none_lost) == 280.0


def test_taken_over_counts_as_no_less_than_19_in_20():
    assert deviation_of(10.0, LIES, True) == IN_20
    assert deviation_of(400.0, LIES, True) == deviation_of(400.0, LIES, False) > IN_20


def test_where_no_height_is_at_stake_nothing_is_counted():
    assert deviation_of(5.0, (0.0,) * 6 + (19.9,), False) is None
    assert deviation_of(5.0, (0.0,) * 6 + (20.0,), False) is not None
    assert deviation_of(5.0, (), False) is None


# --- which attempts count


def attempt(**noted):
    planned = figure("spin", turns=1)
    return Attempt.model_validate(
        {
            "id": "a",
            "planned": planned.model_dump(),
            "start_ft": 5000,
            "lowest_ft": 4100,
            "flown_by": FlownBy.ALONE,
            **noted,
        }
    )


def counted(**noted):
    one = attempt(**noted)
    return counted_deviation(one, loss_account(one, conditions()), LIES)


def test_an_attempt_of_the_students_counts():
    account = loss_account(attempt(), conditions())
    assert counted() == deviation_of(900 - account.planned.value, LIES, False)
    assert counted(flown_by=FlownBy.WITH_TALK) == counted()


@pytest.mark.parametrize(
    "noted",
    [
        {"flown_by": FlownBy.SHOWN},
        {"flown_by": FlownBy.FOLLOWS},
        {"abandoned": "traffic"},
        {"outcome": Outcome.SPIRAL},
        {"lowest_ft": None},
    ],
    ids=str,
)
def test_what_says_nothing_of_the_student_does_not(noted):
    assert counted(**noted) is None


def test_further_turns_are_taken_off():
    """Two turns where one was briefed cost a turn more, which is not the student's."""
    assert counted(turns=2, lowest_ft=3850) == pytest.approx(counted(turns=1, lowest_ft=4100), abs=1.0)
    assert counted(turns=1, lowest_ft=3850) > counted(turns=1, lowest_ft=4100) + 1.0


def test_of_a_brief_is_kept_where_losses_lie_and_the_least():
    c = conditions()
    document = plan(figure("spin"), figure("nose_low"), figure("split_s"))
    answer = compute_plan(document, c)
    kept = briefed_of(zip(document.figures, answer.figures, strict=True), c)
    assert list(kept) == ["f1", "f2", "f3"]
    for one, computed in zip(kept.values(), answer.figures, strict=True):
        assert one.lies[-1] == pytest.approx(computed.worst.value - computed.likely.value)
        assert one.best_ft is None or one.best_ft < computed.likely.value
    assert kept["f1"].best_ft is not None and kept["f3"].best_ft is None


# --- the plan


def planned_with(own, needed=10, document=None):
    standards = Standards.model_validate({"own_attempts": {"value": needed}})
    document = document or plan(figure("spin", turns=1))
    c = replace(conditions(document, standards=standards), own={} if own is None else {"spin": own})
    return compute_plan(document, c).figures[0]


LATE = OwnLoss(usual=1.5, unsure=0.3, varies=0.7, attempts=4)
EARLY = OwnLoss(usual=-1.5, unsure=0.3, varies=0.5, attempts=4)


def test_nothing_known_changes_nothing():
    assert planned_with(None).own is None


def test_the_stricter_rules_until_enough_are_counted():
    without = planned_with(None)
    late, early = planned_with(LATE), planned_with(EARLY)
    assert late.own.rules == "own" and late.worst.value == late.own.worst.value > without.worst.value
    assert late.lowest_start.value == late.own.lowest_start.value > without.lowest_start.value
    assert early.own.rules == "population" and early.worst.value == without.worst.value
    assert early.lowest_start.value == without.lowest_start.value == early.own.population_start.value
    assert early.own.worst.value < without.worst.value
    assert late.likely.value == early.likely.value == without.likely.value
    assert late.own.words == "4 of 10 attempts counted; until then the larger rules: this student's own"
    assert early.own.words == "4 of 10 attempts counted; until then the larger rules: the population's"


@pytest.mark.parametrize(("attempts", "rules"), [(9, "population"), (10, "own"), (11, "own")])
def test_from_the_chiefs_number_on_the_students_own_rules_alone(attempts, rules):
    found = planned_with(replace(EARLY, attempts=attempts))
    assert found.own.rules == rules
    assert found.worst.value == (found.own.worst if rules == "own" else found.own.population_worst).value
    assert found.lowest_point.value == pytest.approx(found.start.value - found.worst.value)


def test_nobody_is_planned_below_the_account_of_the_usual_student():
    found = planned_with(OwnLoss(usual=-4.0, unsure=0.1, varies=0.3, attempts=30))
    assert found.own.worst.value == found.likely.value
    assert found.own.likely.value < found.likely.value


def test_how_sure_it_is_is_said_in_feet():
    sure, unsure = planned_with(LATE), planned_with(replace(LATE, unsure=0.6))
    assert 0 < sure.own.doubt_ft < unsure.own.doubt_ft
    assert "give or take" in unsure.own.likely.formula
    assert unsure.own.worst.value > sure.own.worst.value


def test_a_plan_is_laid_out_by_the_lowest_start_that_rules():
    document = plan(figure("spin", start_ft=3500, turns=1))
    c = replace(conditions(document), own={"spin": LATE})
    laid = starts_above_the_lowest(document, c)
    assert laid.figures[0].start_ft >= planned_with(LATE, document=laid).lowest_start.value
    assert (
        laid.figures[0].start_ft > starts_above_the_lowest(document, conditions(document)).figures[0].start_ft
    )


def test_a_plan_is_not_remembered_from_one_student_to_the_next():
    late, early, nobody = (planned_with(own) for own in (LATE, EARLY, None))
    assert late.worst.value > early.worst.value == nobody.worst.value
    assert (early.own is None, nobody.own is None) == (False, True)


def test_a_place_among_a_hundred_pilots():
    place = own_place("spin", OwnLoss(1.0, 0.5, 0.7, 4), 600.0, LIES, 10)
    assert (place.in_100, place.least, place.most) == (84, 57, 97)
    assert (place.likely_ft, place.population_likely_ft, place.population_worst_ft) == (690, 600, 770)
    assert "84 lose less here; between 57 and 97" in place.words and "from 4 of 10 attempts" in place.words


def test_nobody_is_the_hundredth_of_a_hundred():
    place = own_place("spin", OwnLoss(5.0, 0.5, 0.7, 12), 600.0, LIES, 10)
    assert (place.in_100, place.most) == (99, 99)
    assert place.words.endswith("from 12 attempts.")
