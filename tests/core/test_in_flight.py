"""What the page in the air looks up: fuel by the minute, climbs by height, figures that still fit, and the
lines that it must not cross."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest

from keelturn.figures.planned import FlownBy
from keelturn.noting.attempt import StopKind
from keelturn.plan.chain import climb_fpm, comfort_of
from keelturn.plan.in_flight import climb_table
from keelturn.plan.sequence import compute_plan
from keelturn.weather.sun import sunset
from tests.flights import PLACE, TRAINER, conditions, figure, plan

FIGURES = (figure("steep_turn", id="f1"), figure("spin", id="f2"), figure("loop", id="f3"))


def flight(**changed):
    return compute_plan(plan(*FIGURES), replace(conditions(), **changed)).flight


def test_fuel_falls_by_the_cards_burn_from_what_is_aboard_at_the_first_figure():
    answer = compute_plan(plan(*FIGURES), conditions())
    burn = TRAINER.balance.aerobatic_burn_usgal_h.value
    feeding = [t.name for t in TRAINER.balance.tanks if t.feeds_aerobatics]
    aboard = sum(answer.load_points[1].fuel_usgal[name] for name in feeding)
    found = answer.flight
    assert found.fuel_usgal[0] == pytest.approx(aboard, abs=0.05)
    assert found.fuel_usgal[60] == pytest.approx(aboard - burn, abs=0.05)
    assert min(found.fuel_usgal) == 0.0
    kept = conditions().standards.reserve_min.value
    assert found.reserve_at_min == pytest.approx(aboard / burn * 60 - kept, abs=0.1)


def test_no_fuel_over_the_reserve_is_no_minute():
    load = {**plan().load.model_dump(), "fuel_usgal": {"Centre": 0.5}}
    dry = plan(*FIGURES, load=load)
    assert compute_plan(dry, conditions(dry)).flight.reserve_at_min == 0.0


def test_a_climb_takes_what_the_rate_at_its_height_gives():
    table = dict(climb_table(conditions()))
    assert table[0.0] == 0.0
    assert table[3000.0] - table[2900.0] == pytest.approx(100.0 / climb_fpm(conditions(), 2950.0), abs=0.002)
    minutes = [table[h] for h in sorted(table)]
    assert minutes == sorted(minutes)
    assert max(table) >= conditions().place.top_ft


def test_from_each_gate_the_minutes_of_all_that_is_planned_after_it():
    answer = compute_plan(plan(*FIGURES), conditions())
    for at, own in enumerate(answer.flight.figures):
        assert [one.id for one in own.then] == [f.id for f in FIGURES[at:]]
        began = answer.figures[at].starts_min
        assert [one.minutes for one in own.then] == pytest.approx(
            [figure.ends_min - began for figure in answer.figures[at:]]
        )
        comfort = [comfort_of(f) for f in FIGURES[at:]]
        assert [one.comfort for one in own.then] == pytest.approx(
            [sum(comfort[: n + 1]) for n in range(len(comfort))]
        )


@pytest.mark.parametrize("who", list(FlownBy))
def test_who_flies_it_is_less_upset_by_it(who):
    loop = figure("loop", flown_by=who)
    shown = comfort_of(figure("loop", flown_by=FlownBy.SHOWN))
    assert comfort_of(loop) == (shown / 2 if who.by_student else shown)
    assert who.by_student == (who in (FlownBy.WITH_TALK, FlownBy.ALONE, FlownBy.AGAINST))


def test_the_light_ends_the_schools_minutes_before_sunset():
    place = PLACE.model_copy(update={"latitude_deg": 57.0, "longitude_deg": -7.0})
    at = datetime(2026, 5, 14, 10, tzinfo=UTC)
    found = flight(place=place, off_blocks=at)
    kept = timedelta(minutes=conditions().standards.daylight_min.value)
    assert found.light_ends == sunset(57.0, -7.0, at) - kept
    assert flight().light_ends is None


def test_each_line_says_where_it_is_and_what_to_do():
    answer = compute_plan(plan(*FIGURES), conditions())
    spin, own = answer.figures[1], answer.flight.figures[1]
    limits = {(line.kind, line.of, line.side): line.limit.value for line in own.lines}
    assert limits == {
        (StopKind.TAKE_OVER, "recover", "below"): spin.take_over.value,
        (StopKind.FLOOR, "height", "below"): spin.floor.value,
    }
    card, school = TRAINER, conditions().standards
    whole = {(line.of, line.side): line.limit.value for line in answer.flight.lines}
    assert whole == {
        ("most_g", "above"): card.limits.most_g.value,
        ("rolling_g", "above"): card.limits.rolling_g.value,
        ("ias", "above"): card.speeds.never_exceed_ias.value,
        ("feel", "below"): school.feel_least.value,
        ("feel_drop", "above"): school.feel_drop.value,
        ("minutes", "above"): pytest.approx(answer.flight.reserve_at_min),
    }
    for line in (*own.lines, *answer.flight.lines):
        assert line.words[0].isupper() and line.do.endswith(".")
        assert "safe" not in f"{line.words} {line.do}".lower()
    assert spin.floor.shown in own.lines[1].words


def test_a_figure_is_named_for_the_other_side_where_it_has_one():
    names = [own.other_side for own in flight().figures]
    assert names[1].endswith(", left")
    assert names[2] is None
