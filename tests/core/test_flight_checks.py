"""Checks of the whole flight that the plan's own figures do not decide: parachutes, daylight, the report, the
people, the wind."""

from dataclasses import replace
from datetime import UTC, date, datetime

import pytest

from keelturn.margins.checks import Kind
from keelturn.plan.document import conditions_of
from keelturn.plan.ground import Moved, along_line, drift
from keelturn.plan.sequence import compute_plan
from keelturn.school.dates import Dated
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.weather.day import Day, WindAt
from tests.flights import GIVEN, PLACE, TRAINER, conditions, figure, plan

NO_PARACHUTE = {"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 18}}
ISLAND = Place(name="Island", elevation_ft=0, block_top_ft=6500, latitude_deg=58.0, longitude_deg=-9.4)


def found(document, c=None):
    return {check.id: check for check in compute_plan(document, c or conditions(document)).checks}


@pytest.mark.parametrize(
    ("figures", "load", "verdict"),
    [
        (("loop",), NO_PARACHUTE, "stop"),
        (("nose_low", "spin"), NO_PARACHUTE, "stop"),
        (("spin",), NO_PARACHUTE, "mind"),
        (("steep_turn", "stall_power_off"), NO_PARACHUTE, None),
        (("loop",), {**NO_PARACHUTE, "rear_lb": 0}, None),
        (("loop",), {**NO_PARACHUTE, "front_parachute_lb": 15, "rear_parachute_lb": 15}, None),
    ],
)
def test_parachutes_where_the_rule_asks_for_them(figures, load, verdict):
    """14 CFR 91.307(c) and (d), from memory: beyond 60 degrees of bank or 30 of pitch with two aboard; spins
    for a rating excepted."""
    check = found(plan(*(figure(key, start_ft=6000) for key in figures), load=load)).get("worn")
    assert (check and check.verdict) == verdict


def test_a_parachute_weighs_in_its_seat():
    bare, worn = (
        conditions(plan(load={**NO_PARACHUTE, **more})) for more in ({}, {"front_parachute_lb": 15})
    )
    assert worn.weight_lb - bare.weight_lb == 15
    seat = worn.loading.seats[0]
    assert (seat.label, seat.value, [i.label for i in seat.inputs]) == (
        "Left seat",
        185,
        ["Left seat", "Parachute"],
    )


def _at(hour, minute=0, place=ISLAND, **day):
    document = plan(figure("spin"), day=day)
    c = conditions_of(
        document,
        TRAINER,
        place,
        Standards(),
        "practised",
        30,
        datetime(2026, 11, 25, hour, minute, tzinfo=UTC),
    )
    return found(document, c)


def test_daylight_is_counted_to_the_end_of_the_flight():
    """Sunset there that day is 16:05 UTC (astral); the flight takes a quarter of an hour and half an hour is
    kept."""
    assert _at(11)["daylight"].verdict == "fine"
    late = _at(15, 45)["daylight"]
    assert late.verdict == "stop"
    assert "Sunset is at 16:0" in late.sentence
    assert "daylight" not in _at(11, place=PLACE)


def test_a_flight_does_not_begin_before_sunrise():
    """Sunrise there that day is 08:47 UTC (astral)."""
    early = _at(8, 40)["daylight_sunrise"]
    assert (early.verdict, early.deciding.shown) == ("stop", "7 min")
    assert "Sunrise is at 08:4" in early.sentence
    assert "daylight_sunrise" not in _at(8, 50)


def _dated(until, warn_days=14, stops=True, kind="person"):
    dated = Dated(kind, "Tam", "Medical", until, warn_days, stops)
    document = plan(figure("spin"))
    at = datetime(2026, 11, 25, 11, tzinfo=UTC)
    c = conditions_of(document, TRAINER, PLACE, Standards(), "practised", 30, at, None, (dated,))
    return found(document, c).get(f"{kind}_date_Medical of Tam")


@pytest.mark.parametrize(
    ("until", "stops", "verdict"),
    [
        (date(2026, 12, 10), True, None),
        (date(2026, 12, 9), True, "mind"),
        (date(2026, 11, 25), True, "mind"),
        (date(2026, 11, 24), True, "stop"),
        (date(2026, 11, 24), False, "mind"),
    ],
)
def test_a_date_is_said_before_it_ends_and_stops_after_its_last_day(until, stops, verdict):
    check = _dated(until, stops=stops)
    assert (check and check.verdict) == verdict


def test_a_date_says_how_long_ago_it_ended_and_what_would_be_changed():
    person, aircraft = _dated(date(2026, 11, 22)), _dated(date(2026, 11, 22), kind="aircraft")
    assert person.sentence == "Ended on 22 Nov 2026, 3 days before."
    assert (person.change, aircraft.change) == ("people", "aircraft")
    assert _dated(date(2026, 11, 26)).sentence == "Valid until 26 Nov 2026: 1 day left."


def test_a_report_too_old_for_the_flight_is_minded():
    report = {"report": "METAR X", "observed": "2026-11-25T10:50:00Z"}
    assert "report" not in _at(12, **report)
    old = _at(14, **report)["report"]
    assert (old.verdict, old.change) == ("mind", "day")
    assert "3 hours old" in old.sentence or "190 minutes old" in old.sentence


def test_the_students_number_can_stop_the_flight():
    assert "feeling" not in found(plan(figure("spin")))
    assert [found(plan(figure("spin"), feeling=n))["feeling"].verdict for n in (3, 5, 8)] == [
        "stop",
        "mind",
        "fine",
    ]


def test_speed_with_flap_is_held_against_vfe():
    """Vfe of the card is 95 kt; a nose-low recovery with flap from 90 kt goes beyond it."""
    check = found(plan(figure("nose_low", start_ft=6000, entry_ias=90, flap=1.0)))["vfe_f1"]
    assert check.verdict == "stop"
    assert "Vfe is 95 kt" in check.sentence


def test_every_check_says_what_can_be_changed():
    checks = compute_plan(
        plan(figure("loop"), figure("spin", start_ft=3000), load={**NO_PARACHUTE, "front_lb": 300}),
        conditions(plan(load={**NO_PARACHUTE, "front_lb": 300})),
    ).checks
    groups = {c.id: c.change for c in checks}
    assert groups["weight"] == groups["fuel"] == "load"
    assert groups["floor_f2"] == "sequence"
    assert (groups["worn"], groups["parachute"]) == ("people", "aircraft")
    assert replace(checks[0], kind=Kind.DAYLIGHT).change == "day"


def test_the_why_of_a_figure_follows_the_load_though_the_weight_stays():
    """The same pounds in another seat: no number changes, but what the stall speed walks down to does."""

    def seats(front, rear):
        document = plan(figure("spin"), load={**NO_PARACHUTE, "front_lb": front, "rear_lb": rear})
        entry = compute_plan(document, conditions(document)).figures[0].entry
        weight = next(i for i in entry.inputs[0].inputs if i.label == "Weight")
        return [i.value for i in weight.inputs[1:3]]

    assert [seats(150, 190), seats(190, 150)] == [[150, 190], [190, 150]]


def test_wind_at_height_carries_the_figures_that_are_flown_there():
    high = Day(wind_from_deg=180, wind_kt=0, winds=(WindAt(height_ft=4000, from_deg=270, kt=30),))
    c = conditions(plan(day=high.model_dump()))
    away = drift(c, [Moved("a", 0, 1, 4000, 0), Moved("b", 1, 1, 4000, 0)])
    assert away.total.value == pytest.approx(30 * 3 / 60)
    # Carried east from begun upwind, that is west, of the middle.
    assert away.crossings[0].start_nm[0] < 0 < away.crossings[1].end_nm[0]
    assert away.begin_upwind.value == pytest.approx(0.75)


def test_the_line_is_flown_the_way_that_is_nearer_into_wind():
    def along(line, wind):
        return along_line(
            conditions(
                plan(day={"wind_from_deg": wind}),
                place=Place(name="L", elevation_ft=0, block_top_ft=5000, line_deg=line),
            )
        )

    assert [along(50, 60), along(50, 240), along(None, 240)] == [50, 230, 240]


def test_a_sequence_that_drifts_out_of_a_small_block_says_after_which_figure():
    small = Place(name="Small", elevation_ft=0, block_top_ft=6500, radius_nm=1.0)
    document = plan(
        *(figure("spin", start_ft=5000) for _ in range(4)), day={"wind_from_deg": 270, "wind_kt": 30}
    )
    answer = compute_plan(document, conditions(document, place=small))
    check = next(c for c in answer.checks if c.kind == Kind.DRIFT)
    assert check.verdict == "mind"
    assert check.figure == answer.drift.first_outside
    assert any(c.outside for c in answer.drift.crossings)
    assert not compute_plan(
        document,
        conditions(document, place=Place(name="Large", elevation_ft=0, block_top_ft=6500, radius_nm=9)),
    ).drift.first_outside


def test_the_airspace_above_lowers_the_top():
    low = Place(name="Low", elevation_ft=0, block_top_ft=6500, airspace_top_ft=5500)
    answer = compute_plan(plan(figure("spin", start_ft=6000)), conditions(place=low))
    assert (answer.block_top.label, answer.block_top.value) == ("Airspace above", 5500)
    assert any(c.id == "top_f1" and c.verdict == "stop" for c in answer.checks)
    with pytest.raises(ValueError, match="less than 500 ft above the ground"):
        Place(name="Shallow", elevation_ft=1000, block_top_ft=1300)


def test_a_power_on_stall_is_not_called_too_slow_for_its_own_gate():
    checks = found(plan(figure("stall_power_on", start_ft=5000)))
    assert "slow_f1" not in checks
    assert found(plan(figure("stall_power_on", start_ft=5000, entry_ias=35)))["slow_f1"].verdict == "stop"


WEATHER = {
    "air": ("qnh_hpa", "temperature_c"),
    "visibility": ("visibility_sm",),
    "cloud": ("no_cloud",),
    "wind": ("wind_kt",),
}


@pytest.mark.parametrize("due", [False, True])
@pytest.mark.parametrize("kind", WEATHER)
def test_weather_that_nobody_gave_is_said_and_stops_the_flight_of_today(kind, due):
    day = {name: value for name, value in GIVEN.items() if name not in WEATHER[kind]}
    document = plan(figure("spin")).model_copy(update={"day": Day.model_validate(day)})
    checks = found(document, replace(conditions(document), weather_due=due))
    assert checks[kind].verdict == ("stop" if due else "mind")
    assert "ot given" in checks[kind].sentence
    assert checks[kind].spare == "not given"
    others = [check for name, check in checks.items() if name in WEATHER and name != kind]
    assert not any("ot given" in check.sentence for check in others)


def test_what_is_computed_without_weather_says_with_what():
    document = plan(figure("spin")).model_copy(update={"day": Day()})
    answer = compute_plan(document, conditions(document))
    standard = compute_plan(plan(figure("spin")), conditions(plan(figure("spin"))))
    assert answer.figures[0].likely.value == standard.figures[0].likely.value
    origins = {part.label: part.source.words for part in answer.density_height.inputs}
    assert origins["QNH"] == origins["Temperature at the place"] == "not given"


@pytest.mark.parametrize(
    ("day", "words"),
    [
        ({"visibility_sm": 10.0}, "10.0 SM typed in, 3.0 SM asked for."),
        ({"visibility_sm": 10.0, "sources": {"visibility_sm": "METAR XTST"}}, "10.0 SM reported, 3.0 SM"),
    ],
)
def test_visibility_is_reported_only_where_it_was(day, words):
    assert found(plan(figure("spin"), day=day))["visibility"].sentence.startswith(words)


def test_a_wind_without_a_direction_is_given_and_carries_nothing():
    """As a report has it that says variable."""
    day = {name: value for name, value in GIVEN.items() if name != "wind_from_deg"} | {"wind_kt": 6.0}
    document = plan(figure("spin")).model_copy(update={"day": Day.model_validate(day)})
    check = found(document)["wind"]
    assert check.sentence.startswith("6 kt; ")
    assert "No direction given: drift is computed in calm air." in check.sentence
    assert check.deciding.source.words == "typed in"
    assert compute_plan(document, conditions(document)).drift.total.value == 0.0
