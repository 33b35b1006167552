"""Floors, the heights that follow from them, and verdicts with their reasons."""

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from keelturn.margins.checks import Kind, judged
from keelturn.margins.floors import floors, strictest_floor
from keelturn.plan.document import Override, PlanDocument
from keelturn.plan.overrides import given_for, holds
from keelturn.plan.sequence import compute_plan, starts_above_the_lowest
from keelturn.progress.lessons import laid_out, lesson_of
from keelturn.school.place import Place
from keelturn.school.standards import Standard
from keelturn.working import Source, given
from tests.flights import HEAVY, NO_SPINS, PLACE, TRAINER, conditions, figure, plan

HILL = Place(
    name="Hill",
    elevation_ft=1240,
    block_top_ft=6500,
    place_floor_ft=Standard(value=3600, ref="agreement with the farm"),
)


@pytest.mark.parametrize(
    ("place", "stage", "own", "value", "named"),
    [
        (PLACE, "practised", None, 3000, "school floor"),
        (PLACE, "first flights", None, 3500, "school floor"),
        (HILL, "practised", None, 4840, "floor of this place"),
        (PLACE, "practised", 4200, 4200, "instructor's own floor"),
        (PLACE, "practised", 900, 3000, "school floor"),
    ],
)
def test_the_strictest_floor_wins_and_is_named(place, stage, own, value, named):
    floor = strictest_floor(conditions(plan(own_floor_ft=own), place=place, stage=stage))
    assert floor.value == value
    assert floor.label == f"Floor: {named}"
    assert {f.label for f in floors(conditions(place=place))} <= {i.label for i in floor.inputs} | {
        "Instructor's own floor"
    }


@pytest.mark.parametrize(("spare", "verdict"), [(-1, "stop"), (0, "mind"), (199, "mind"), (200, "fine")])
def test_verdicts_turn_at_nothing_to_spare_and_at_the_margin(spare, verdict):
    deciding = given("x", 1000, "ft", Source("plan", "p"))
    limit = given("l", 1000 - spare, "ft", Source("plan", "p"))
    check = judged(Kind.FLOOR, "t", "s", deciding, limit, spare, 200)
    assert check.verdict == verdict
    assert ("short" in check.spare) == (spare < 0)


def answer(document: PlanDocument, **fields):
    return compute_plan(document, conditions(document, **fields))


def verdicts(found, kind):
    return [(c.verdict, c.sentence) for c in found.checks if c.kind == kind]


def test_lowest_start_is_floor_worst_loss_and_allowance():
    found = answer(plan(figure("spin"))).figures[0]
    assert found.lowest_start.value == pytest.approx(3000 + found.worst.value + 100)
    assert found.take_over.value == pytest.approx(3000 + found.take_over.inputs[1].value)
    assert found.worst.value > found.likely.value


def test_a_figure_never_begins_below_the_height_where_the_instructor_takes_over():
    for found in answer(
        plan(*(figure(k) for k in ("steep_turn", "stall_power_off", "incipient_spin", "spin", "nose_low")))
    ).figures:
        assert found.lowest_start.value >= found.take_over.value + 100


def test_turns_allowed_are_the_turns_the_height_pays_for():
    found = answer(plan(figure("spin", start_ft=4300))).figures[0]
    turns = found.turns_allowed.value
    assert turns > 1.9
    whole = int(turns)
    assert verdicts(answer(plan(figure("spin", start_ft=4300, turns=whole))), Kind.FLOOR)[0][0] != "stop"
    assert (
        verdicts(answer(plan(figure("spin", start_ft=4300, turns=whole + 1.5))), Kind.FLOOR)[0][0] == "stop"
    )


@pytest.mark.parametrize(
    ("document", "key", "words"),
    [
        (plan(figure("spin", start_ft=3600)), "floor_f1", "lowest start that keeps the floor"),
        (plan(figure("spin", start_ft=6600)), "top_f1", "above the top of the block"),
        (plan(figure("nose_low", entry_ias=180)), "vne_f1", "Vne is 172 kt"),
        (plan(figure("spin", entry_ias=40)), "slow_f1", "stall speed today"),
        (plan(figure("spin"), own_floor_ft=1200), "own_floor", "under the regulation's 1,500 ft"),
        (
            plan(load={"front_lb": 250, "rear_lb": 250, "fuel_usgal": {"Centre": 24}}),
            "weight",
            "over: take out fuel or baggage",
        ),
        (
            plan(figure("spin"), load={"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 4}}),
            "fuel",
            "min in the tank",
        ),
        (plan(day={"visibility_sm": 2}), "visibility", "asked for"),
        (plan(figure("spin"), day={"cloud_base_ft": 5200}), "cloud", "kept below cloud"),
    ],
)
def test_what_must_stop_stops_with_the_number_that_decides(document, key, words):
    found = [c for c in answer(document).checks if c.id == key]
    assert found, [c.id for c in answer(document).checks]
    assert found[0].verdict == "stop"
    assert words in f"{found[0].sentence} {found[0].hint}"
    assert found[0].deciding is not None


def test_more_g_than_the_limit_stops():
    stated = {
        name: getattr(TRAINER.limits, name).model_copy(update={"value": value})
        for name, value in (("most_g", 3.8), ("rolling_g", 3.0))
    }
    limits = TRAINER.limits.model_copy(update=stated)
    found = answer(
        plan(figure("nose_low", pull_g=4.2, entry_ias=125)),
        card=TRAINER.model_copy(update={"limits": limits}),
    )
    assert verdicts(found, Kind.G)[0] == ("stop", "Pulls 4.2 g; the limit is 3.8 g.")


def test_a_turn_that_the_wing_cannot_hold_is_a_stop_not_a_path():
    """60 degrees needs 2 g: about 1.41 Vs and a margin; 60 kt at a stall of 51 cannot."""
    assert (
        verdicts(answer(plan(figure("steep_turn", bank_deg=60, entry_ias=60))), Kind.POSSIBLE)[0][0] == "stop"
    )
    assert verdicts(answer(plan(figure("steep_turn", bank_deg=60, entry_ias=108))), Kind.POSSIBLE) == []


def test_g_while_rolling_has_its_own_lower_limit():
    limits = TRAINER.limits.model_copy(
        update={"rolling_g": TRAINER.limits.rolling_g.model_copy(update={"value": 1.9})}
    )
    found = answer(
        plan(figure("steep_turn", bank_deg=60)), card=TRAINER.model_copy(update={"limits": limits})
    )
    assert verdicts(found, Kind.ROLLING_G) == [("stop", "2.0 g while rolling; the limit is 1.9 g.")]
    assert verdicts(answer(plan(figure("steep_turn", bank_deg=60))), Kind.ROLLING_G) == []


def test_the_aircraft_not_approved_for_spins_is_stopped_not_computed():
    found = answer(plan(figure("spin")), card=NO_SPINS)
    assert found.stops >= 1
    assert found.figures == ()
    assert "not among the approved" in verdicts(found, Kind.APPROVED)[0][1]


def test_fine_checks_are_said_once_for_all_figures():
    found = answer(plan(figure("spin", start_ft=6000), figure("spin", start_ft=6200)))
    assert len(verdicts(found, Kind.FLOOR)) == 1
    assert [c.verdict for c in found.checks] == sorted(
        (c.verdict for c in found.checks), key=["stop", "mind", "fine"].index
    )


def test_parachutes():
    for days, verdict in ((30, "fine"), (170, "mind"), (182, "stop"), (None, "mind")):
        assert verdicts(answer(plan(), parachute_days=days), Kind.PARACHUTE)[0][0] == verdict


def visibility(sm, **override):
    """The check with an override given for 1 SM short of the 3 SM asked for."""
    given_for = {
        "id": "o",
        "check": "visibility",
        "reason": "Tower reports 4 SM to the west",
        "by": "T. Ferrand",
        "title": "Visibility",
        "room": -1.0,
        "spare": "1.0 SM short",
    }
    found = answer(plan(day={"visibility_sm": sm}, overrides=[{**given_for, **override}]))
    return next(c for c in found.checks if c.id == "visibility"), found.stops


@pytest.mark.parametrize(
    ("sm", "override", "stops"),
    [
        (2.0, {}, 0),
        (2.5, {}, 0),
        (1.99, {}, 1),
        (2.0, {"room": None}, 1),
        (2.0, {"title": "Cloud"}, 1),
        (2.0, {"check": "cloud"}, 1),
        (3.0, {}, 0),
    ],
)
def test_an_override_holds_for_what_it_was_given_for_and_no_more(sm, override, stops):
    check, found = visibility(sm, **override)
    assert found == stops
    assert check.verdict == ("stop" if sm < 3.0 else "mind")
    if sm < 3.0 and stops == 0:
        assert check.overridden == "T. Ferrand, for 1.0 SM short: Tower reports 4 SM to the west"
    else:
        assert check.overridden is None
    said = "The override of T. Ferrand was for 1.0 SM short." in check.hint
    assert said == (stops == 1 and "check" not in override)


def test_an_override_is_written_for_the_stop_that_stands():
    now = datetime(2026, 11, 26, tzinfo=UTC)
    stop, fine = visibility(2.0)[0], visibility(5.0)[0]
    asked = Override(id="o", check="visibility", reason="Tower reports 4 SM", by="x", room=-9.0)
    made = given_for(asked, [stop], "Bo", now)
    assert (made.by, made.at, made.title, made.room, made.spare) == (
        "Bo",
        now,
        stop.title,
        -1.0,
        "1.0 SM short",
    )
    assert holds(made, stop)
    # Seen when less was short: not for what stands now. Nothing measured: for the number that was seen.
    assert given_for(asked.model_copy(update={"room": -0.9}), [stop], "Bo", now) is None
    unmeasured = replace(stop, room=0.0)
    seen = asked.model_copy(update={"room": 0.0, "number": stop.deciding.shown})
    assert given_for(seen, [unmeasured], "Bo", now).number == stop.deciding.shown
    assert given_for(seen.model_copy(update={"number": "3.0 SM"}), [unmeasured], "Bo", now) is None
    assert given_for(asked, [fine], "Bo", now) is None
    assert given_for(asked, [], "Bo", now) is None


def test_the_lesson_is_laid_out_above_every_floor_and_inside_the_block():
    for card in (TRAINER, HEAVY):
        lesson = plan(*laid_out(lesson_of("spins_both_ways"), 5000.0))
        tank = "Centre" if card is TRAINER else "Aerobatic"
        lesson = lesson.model_copy(
            update={"load": lesson.load.model_copy(update={"fuel_usgal": {tank: 16.0}})}
        )
        c = conditions(lesson, card=card)
        placed = starts_above_the_lowest(lesson, c)
        found = compute_plan(placed, c)
        assert not verdicts(found, Kind.TOP)
        assert all(v != "stop" for v, _ in verdicts(found, Kind.FLOOR))


def test_the_flight_manuals_recovery_wins_and_is_named():
    found = answer(plan(figure("spin", school="hands_off"))).figures[0]
    assert found.school == "Flight manual"
    assert found.steps == TRAINER.spin.recovery
    other = answer(plan(figure("spin", school="hands_off")), card=HEAVY).figures[0]
    assert other.school == "Hands off"


def test_a_school_for_something_else_is_refused_by_name():
    with pytest.raises(ValueError, match="'hands_off' is not one for nose low"):
        answer(plan(figure("nose_low", school="hands_off")))


def test_the_limit_is_lower_with_flap():
    clean, down = (
        verdicts(answer(plan(figure("nose_low", flap=flap, pull_g=2.5))), Kind.G) for flap in (0.0, 1.0)
    )
    assert down[0][0] == "stop"
    assert not clean or clean[0][0] != "stop"
