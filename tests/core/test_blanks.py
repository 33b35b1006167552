"""Numbers that a card leaves blank: estimated from the rest, in the margins, and said."""

import math

import pytest

from keelturn.aircraft.blanks import NUMBERS, blanks_of, estimate_line, filled_in, known, with_numbers
from keelturn.aircraft.card import Card
from keelturn.document import Above
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.costs import fly_usual
from keelturn.flying.spin import calibrate, fit_lines
from keelturn.margins.blank_costs import blank_costs, standard_conditions
from keelturn.margins.spread import recovery_99, spread_of
from keelturn.margins.unsure import IN_20, IN_100, at_ends, unsure_of, with_unsure, without_unsure
from keelturn.plan.sequence import compute_plan
from keelturn.school.standards import Standards
from keelturn.working import Answer
from tests import cards
from tests.flights import HEAVY, TRAINER, conditions, figure, plan


def left_blank(raw, *paths):
    return Card.model_validate(cards.left_blank(raw, *paths))


BLANK = left_blank(cards.LIGHT, *NUMBERS)


@pytest.mark.parametrize("raw", [cards.LIGHT, cards.HEAVY], ids=["light", "heavy"])
def test_what_a_card_states_lies_inside_of_what_would_be_estimated(raw):
    stated = Card.model_validate(raw)
    for path in NUMBERS:
        one, all_blank = left_blank(raw, path), left_blank(raw, *NUMBERS)
        for card in (one, all_blank):
            estimate = known(card, path)
            assert estimate.low <= estimate.value <= estimate.high
            # Of the sides each aircraft of the tests is nearer to the other than a tenth.
            if path != "roll.left_deg_s" or card is one:
                assert estimate.low <= known(stated, path).value <= estimate.high, path


def test_a_stated_number_is_itself_and_a_blank_one_says_what_it_is_from():
    assert blanks_of(TRAINER) == ()
    assert (known(TRAINER, "spin.turn_s").low, known(TRAINER, "spin.turn_s").high) == (1.8, 1.8)
    assert blanks_of(BLANK) == tuple(NUMBERS)
    found = known(BLANK, "limits.rolling_g")
    assert (found.value, found.source.kind) == (pytest.approx(4.0), "estimated")
    assert "two thirds of the limit" in found.source.words
    assert blanks_of(BLANK.model_copy(update={"spin": None})) == tuple(
        path for path in NUMBERS if not path.startswith("spin.")
    )
    assert estimate_line(BLANK, "spin.left_factor").between == "0.90 to 1.20 ×"


def test_a_number_is_estimated_from_what_the_card_does_state():
    one_side = left_blank(cards.LIGHT, "roll.left_deg_s")
    assert known(one_side, "roll.left_deg_s").value == known(TRAINER, "roll.right_deg_s").value
    slower = with_numbers(left_blank(cards.LIGHT, "spin.further_turn_ft"), {"spin.turn_s": Above(value=3.6)})
    further = known(left_blank(cards.LIGHT, "spin.further_turn_ft"), "spin.further_turn_ft").value
    assert known(slower, "spin.further_turn_ft").value == pytest.approx(2.0 * further)
    assert "one turn" in known(BLANK, "spin.further_turn_ft").how
    jet = BLANK.model_copy(update={"thrust": "jet"})
    assert known(jet, "spin.left_factor").value == 1.0


def test_either_end_keeps_what_stands_before_it_and_lets_what_follows_follow():
    low, high = at_ends("spin.further_turn_ft", BLANK)
    assert low.spin.at_ft.value == known(BLANK, "spin.at_ft").value
    assert low.spin.turn_s is None
    assert known(low, "spin.turn_s").value < known(high, "spin.turn_s").value
    assert blanks_of(filled_in(BLANK)) == ()
    # The ends of a stated number are none.
    assert list(at_ends("spin.turn_s", TRAINER)) == []


@pytest.mark.parametrize(
    ("key", "blank"),
    [("spin", ["spin.further_turn_ft"]), ("split_s", ["roll.right_deg_s", "roll.left_deg_s"])],
)
def test_a_blank_number_is_flown_at_both_ends_and_the_dearer_counts(key, blank):
    c = conditions(card=left_blank(cards.LIGHT, *blank))
    asked = figure(key, start_ft=5000)
    found = unsure_of(asked, c, "student")[0]
    as_estimated = fly_usual(asked, c).deepest_ft
    ends = [fly_usual(asked, conditions(card=card)).deepest_ft for card in at_ends(blank[0], c.card)]
    assert found.path == blank[0]
    assert found.lost_ft == pytest.approx(max(ends) - as_estimated, abs=8)
    assert found.lost_ft > 15


def test_left_against_right_leaves_nothing_open_to_the_right():
    c = conditions(card=left_blank(cards.LIGHT, "spin.left_factor"))
    assert unsure_of(figure("spin", side="right"), c, "student") == ()
    (found,) = unsure_of(figure("spin", side="left"), c, "student")
    assert found.lost_ft > 20


def test_nothing_is_unsure_of_a_card_that_states_all():
    for who in ("student", "instructor"):
        assert unsure_of(figure("spin"), conditions(), who) == ()
    assert spread_of(figure("spin"), conditions()).unsure == ()


def test_what_is_unsure_widens_what_19_in_20_and_99_in_100_stay_within():
    """By the root of the sum of squares, beside the same card with the estimates taken for stated."""
    for planned in (figure("spin"), figure("spin", side="left"), figure("nose_low")):
        open_, taken = (spread_of(planned, conditions(card=card)) for card in (BLANK, filled_in(BLANK)))
        parts = [one.lost_ft for one in open_.unsure]
        assert len(parts) >= 2
        assert open_.beyond_usual_ft == pytest.approx(math.hypot(taken.beyond_usual_ft, *parts), rel=0.05)
        recovery = recovery_99(planned, conditions(card=BLANK).at_steps)
        pilots = taken.recovery_99_ft - taken.instructors.usual
        more = [one.recovery_ft * IN_100 / IN_20 for one in recovery.unsure]
        usual = open_.instructors.usual
        assert open_.recovery_99_ft == pytest.approx(usual + math.hypot(pilots, *more), rel=0.05)
        # The better half of the students are as they were, the others stand further out.
        assert open_.lies[-1] == open_.beyond_usual_ft
        assert open_.lies[0] == pytest.approx(taken.lies[0], abs=12)
        assert sorted(open_.lies) == list(open_.lies)


def test_a_part_that_is_taken_away_leaves_what_was_there_without_it():
    both = with_unsure(200.0, [90.0, 40.0])
    assert both == pytest.approx(math.sqrt(200**2 + 90**2 + 40**2))
    assert without_unsure(both, 40.0) == pytest.approx(with_unsure(200.0, [90.0]))
    assert without_unsure(both, 0.0) == both
    assert with_unsure(-30.0, []) == -30.0
    assert with_unsure(-30.0, [40.0]) == 40.0
    assert with_unsure(100.0, [40.0], deviate=-1.0) == 100.0


def test_the_working_names_what_is_estimated_and_from_what():
    (found,) = compute_plan(plan(figure("spin")), conditions(card=BLANK)).figures
    said = list(workings(found.lowest_start))
    (turn,) = (a for a in said if a.label == "Seconds of a turn in the spin" and a.value > 30)
    assert turn.source.kind == "estimated"
    assert "blank on the card, estimated 1.8 s, 1.5 to 2.1 s" in turn.formula
    assert any("root of the sum of squares" in a.formula for a in said)
    (full,) = compute_plan(plan(figure("spin")), conditions()).figures
    assert not any(a.source.kind == "estimated" for a in workings(full.lowest_start))


def workings(answer: Answer):
    yield answer
    for one in answer.inputs:
        yield from workings(one)


def test_turns_and_the_height_to_leave_go_by_the_dearer_end():
    c = conditions(card=BLANK)
    assert c.spin.further_turn_ft(left=False) == pytest.approx(known(BLANK, "spin.further_turn_ft").high)
    stated, open_ = calibrate(filled_in(BLANK)), c.spin
    assert open_.descent(1600, 0.9) > 1.1 * stated.descent(1600, 0.9)


@pytest.mark.parametrize(
    ("stated", "words"), [(None, "the limit is 2.6 g, estimated."), ({"value": 2.6}, "the limit is 2.6 g.")]
)
def test_the_rolling_limit_is_said_to_be_estimated(stated, words):
    limits = {"most_g": {"value": 3.9}, "rolling_g": stated}
    card = Card.model_validate(cards.changed(cards.LIGHT, limits=limits))
    c = conditions(plan(figure("barrel_roll")), card=card)
    answer = compute_plan(plan(figure("barrel_roll")), c)
    (check,) = (found for found in answer.checks if found.title.endswith("g while rolling"))
    assert check.sentence.endswith(words)
    (line,) = (found for found in answer.flight.lines if found.of == "rolling_g")
    assert line.words == f"Over 2.6 g while rolling{', estimated' if stated is None else ''}"


def test_a_fit_is_said_only_of_what_the_card_states():
    labels = {line.label for line in fit_lines(BLANK)}
    assert "One turn with recovery" in labels
    assert not labels & {"Each further turn", "Seconds a turn"}


def test_the_card_says_what_each_blank_number_adds_to_which_lowest_start():
    card = left_blank(cards.HEAVY, "spin.turn_s", "limits.rolling_g")
    turn, rolling = blank_costs(card, Standards())
    assert turn.number.path == "spin.turn_s"
    assert turn.adds.endswith("0 ft")
    assert "pin" in turn.figure
    assert (rolling.number.path, rolling.adds, rolling.figure) == ("limits.rolling_g", "", "")
    assert blank_costs(HEAVY, Standards()) == ()


def test_what_a_blank_number_adds_is_what_knowing_it_would_save():
    """Beside the lowest starts of the card with the estimate stated, which flies the same."""
    card = left_blank(cards.LIGHT, "spin.left_factor")
    (cost,) = blank_costs(card, Standards())
    open_, stated = (standard_conditions(which, Standards()) for which in (card, filled_in(card)))
    saved = []
    for key in card.approved:
        for side in ("left", "right"):
            planned = PlannedFigure(id="f1", key=key, side=side, start_ft=6000)
            usual = fly_usual(planned, open_).deepest_ft
            first, second = (
                max(usual + spread.beyond_usual_ft, spread.recovery_99_ft)
                for spread in (spread_of(planned, c) for c in (open_, stated))
            )
            saved.append(first - second)
    assert max(saved) > 20
    assert cost.adds == f"{math.ceil(max(saved) / 10) * 10} ft"
