"""A limit that can be entered is a limit that is checked. Every field of card, place and standards is walked:
it is either broken here and its check says so, or it stands among those that are no limit, with why."""

from datetime import UTC, datetime

import pytest
from pydantic import ValidationError

from keelturn.aircraft.card import Balance, Card, Limits, Roll, Speeds, Spin
from keelturn.figures.figure import Family
from keelturn.margins.checks import Kind, Verdict
from keelturn.plan.document import conditions_of
from keelturn.plan.flight_checks import PARACHUTES
from keelturn.plan.sequence import compute_plan
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from tests.cards import LIGHT, changed
from tests.flights import figure, plan

ISLAND = {
    "name": "Island",
    "elevation_ft": 0,
    "block_top_ft": 6500,
    "latitude_deg": 58.0,
    "longitude_deg": -9.4,
}
SPIN, LOW, LOOP = figure("spin"), figure("nose_low"), figure("loop")
SLOW_ROLL, TURN = figure("slow_roll"), figure("steep_turn")
LOADED = {"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 18}}


def stated(**values):
    return {name: {"value": value} for name, value in values.items()}


# What is limited, how it is broken, and the check that must say so. In a card a part and its field.
CARD = {
    "limits.most_g": (changed(LIGHT, limits=stated(most_g=3, rolling_g=2, flap_g=2)), plan(LOOP), Kind.G),
    "limits.least_g": (changed(LIGHT, limits=stated(least_g=-0.2)), plan(SLOW_ROLL), Kind.LEAST_G),
    "limits.rolling_g": (changed(LIGHT, limits=stated(rolling_g=1.9)), plan(TURN), Kind.ROLLING_G),
    "limits.flap_g": (LIGHT, plan(figure("nose_low", flap=1.0)), Kind.G),
    "limits.inverted_s": (changed(LIGHT, limits=stated(inverted_s=0.5)), plan(SLOW_ROLL), Kind.NEGATIVE_S),
    "speeds.never_exceed_ias": (LIGHT, plan(figure("nose_low", entry_ias=180)), Kind.VNE),
    "speeds.normal_most_ias": (LIGHT, plan(LOOP, day={"gust_kt": 20}), Kind.ROUGH_AIR),
    "speeds.manoeuvring_ias": (LIGHT, plan(figure("flick_roll", entry_ias=130)), Kind.VA),
    "speeds.flap_most_ias": (LIGHT, plan(figure("nose_low", entry_ias=94, flap=1.0)), Kind.VFE),
    "speeds.stall_ias": (LIGHT, plan(figure("spin", entry_ias=40)), Kind.SLOW),
    "balance.aerobatic_most_lb": (LIGHT, plan(load={**LOADED, "front_lb": 260}), Kind.WEIGHT),
    "balance.aerobatic_forward_in": (
        changed(LIGHT, balance=stated(aerobatic_forward_in=52.5)), plan(), Kind.BALANCE),
    "balance.aerobatic_aft_in": (changed(LIGHT, balance=stated(aerobatic_aft_in=46)), plan(), Kind.BALANCE),
    "balance.seats": (LIGHT, plan(load={**LOADED, "front_lb": 270}), Kind.SEAT),
    "balance.baggage": (LIGHT, plan(load={**LOADED, "front_lb": 100, "baggage_lb": 41}), Kind.BAGGAGE),
    "spin.most_lb": (changed(LIGHT, spin=stated(most_lb=1400)), plan(SPIN), Kind.SPIN_WEIGHT),
    "approved": (LIGHT, plan(figure("tumble")), Kind.APPROVED),
}  # fmt: skip
NOT_A_LIMIT = {
    "balance.empty_lb": "weighed", "balance.empty_arm_in": "weighed",
    "balance.most_lb": "at or above the aerobatic weight, which is checked",
    "balance.tanks": "a load beyond a tank is refused where it is entered (test_documents)",
    "balance.aerobatic_burn_usgal_h": "a rate",
    "speeds.reference_lb": "what the speeds are for", "speeds.stall_flap_ias": "fits the lift with flap",
    "speeds.glide_ratio": "fits the drag", "speeds.glide_ias": "fits the drag",
    "speeds.climb_fpm": "fits the thrust", "speeds.climb_ias": "fits the thrust",
    "speeds.level_ias": "fits the thrust", "speeds.stall_inverted_ias": "fits the lift inverted",
    "speeds.flap_glide_ratio": "fits the drag with flap",
    "roll.left_deg_s": "a rate", "roll.right_deg_s": "a rate", "roll.at_ias": "what the rates are for",
    "spin.approved": "with approved figures, refused where it is entered", "spin.ref": "words",
    "spin.at_ft": "where it was measured", "spin.one_turn_ft": "a cost", "spin.further_turn_ft": "a cost",
    "spin.turn_s": "a rate", "spin.recovery_turns": "a cost", "spin.path_down_deg": "a path",
    "spin.left_factor": "a factor", "spin.recovery": "words", "spin.variants": "costs of other kinds",
    "spin.recovery_for": "which spins, in test_said_as_flown", "spin.recovery_like": "a method, there too",
    "spin.mass": "how aileron acts", "spin.does_not_stop": "tested in test_spin",
    "name": "words", "category": "words", "speed_unit": "a unit", "thrust": "a law", "spool_s": "a rate",
    "leaving": "words",
    "position_error": "a table", "balance": "walked", "speeds": "walked", "limits": "walked",
    "roll": "walked", "spin": "walked",
}  # fmt: skip
PLACE = {
    "block_top_ft": ({"block_top_ft": 4000}, plan(SPIN), Kind.TOP),
    "airspace_top_ft": ({"airspace_top_ft": 4000}, plan(SPIN), Kind.TOP),
    "place_floor_ft": ({"place_floor_ft": {"value": 4500}}, plan(SPIN), Kind.FLOOR),
    "radius_nm": ({"radius_nm": 0.1}, plan(SPIN, SPIN, day={"wind_kt": 25}), Kind.DRIFT),
}
OF_A_PLACE = {
    "name", "elevation_ft", "notes", "latitude_deg", "longitude_deg", "station", "station_elevation_ft",
    "line_name", "line_deg", "sea_deg", "sea_width_nm", "fields",
}  # fmt: skip
STANDARDS = {
    "regulation_floor_ft": (4500, plan(SPIN, own_floor_ft=4000), Kind.OWN_FLOOR),
    "school_floor_ft": (4500, plan(SPIN), Kind.FLOOR),
    "allowance_ft": (2000, plan(SPIN), Kind.FLOOR),
    "feel_least": (7, plan(SPIN, feeling=6), Kind.FEELING),
    "reserve_min": (100, plan(SPIN), Kind.FUEL),
    "visibility_sm": (11, plan(SPIN), Kind.VISIBILITY),
    "wind_most_kt": (10, plan(SPIN, day={"wind_kt": 8, "gust_kt": 12}), Kind.WIND),
    "cloud_above_ft": (1000, plan(SPIN, day={"cloud_base_ft": 5200}), Kind.CLOUD),
    "parachute_days": (20, plan(SPIN), Kind.PARACHUTE),
    "daylight_min": (400, plan(SPIN), Kind.DAYLIGHT),
    "report_min": (60, plan(SPIN, day={"report": "X", "observed": "2026-11-25T09:50:00Z"}), Kind.REPORT),
    "speed_margin": (60, plan(figure("nose_low")), Kind.VNE),
}
OTHER_STANDARDS = {
    "stage_extra_ft": "added to the school's floor (test_floors_and_checks)",
    "decide_s": "the height to leave at", "egress_s": "the height to leave at",
    "feel_drop": "a line in flight (tests/core/test_in_flight)",
    "canopy_ft": "the height to leave at", "booking_min": "who is booked twice (tests/server/test_planning)",
    "away_days": "what is missing (tests/core/test_before)",
    "before": "stop or caution (tests/core/test_before)",
    "lapse_days": "states of tasks (tests/core/test_states)",
    "own_attempts": "whose loss a plan goes by (tests/core/test_own)",
    "upset_ground_h": "what is required", "upset_flight_h": "what is required",
    "aerobatic_h": "what is required", "aerobatic_flights": "what is required",
    "spin_days": "what is required (tests/core/test_requirements)",
    "recorder": "an address (test_the_recorders_address)",
    "grading": "what grades ask (test_grades)",
    "figures": "floors and gates of figures (test_closer_look)",
}  # fmt: skip


def said(document, kind, card=LIGHT, place=ISLAND, standards=None):
    c = conditions_of(
        document,
        Card.model_validate(card),
        Place.model_validate(place),
        standards or Standards(),
        "practised",
        30,
        datetime(2026, 11, 25, 11, 0, tzinfo=UTC),
    )
    return [check for check in compute_plan(document, c).checks if check.kind == kind]


def test_every_field_that_can_be_entered_is_a_limit_here_or_is_known_not_to_be():
    parts = {"limits": Limits, "speeds": Speeds, "balance": Balance, "roll": Roll, "spin": Spin}
    fields = {f"{part}.{name}" for part, kind in parts.items() for name in kind.model_fields}
    assert fields | set(Card.model_fields) == set(CARD) | set(NOT_A_LIMIT)
    assert set(Place.model_fields) == set(PLACE) | OF_A_PLACE
    assert set(Standards.model_fields) == set(STANDARDS) | set(OTHER_STANDARDS)
    assert not set(CARD) & set(NOT_A_LIMIT)
    assert set(PARACHUTES) == set(Family)


@pytest.mark.parametrize("field", CARD)
def test_a_limit_of_the_card_is_looked_at(field):
    card, document, kind = CARD[field]
    found = said(document, kind, card)
    assert found and found[0].verdict != Verdict.FINE, field
    assert found[0].deciding is not None


@pytest.mark.parametrize("field", PLACE)
def test_a_limit_of_the_place_is_looked_at(field):
    fields, document, kind = PLACE[field]
    assert said(document, kind, place={**ISLAND, **fields})[0].verdict != Verdict.FINE


@pytest.mark.parametrize("field", STANDARDS)
def test_a_limit_of_the_school_is_looked_at(field):
    value, document, kind = STANDARDS[field]
    before = Standards()
    standard = getattr(before, field).model_copy(update={"value": value})
    found = said(document, kind, standards=before.model_copy(update={field: standard}))
    assert found and found[0].verdict != Verdict.FINE, field


@pytest.mark.parametrize(
    ("day", "verdict"),
    [
        ({"wind_kt": 24}, "fine"),
        ({"wind_kt": 26}, "mind"),
        ({"wind_kt": 30}, "mind"),
        ({"wind_kt": 31}, "stop"),
        ({"wind_kt": 14, "gust_kt": 26}, "mind"),
        ({"wind_kt": 14, "gust_kt": 31}, "stop"),
    ],
)
def test_wind_counts_its_gusts(day, verdict):
    """30 kt by the school's standards, minded within 5 of it."""
    check = said(plan(SPIN, day=day), Kind.WIND)[0]
    assert check.verdict == verdict
    assert check.limit.value == 30
    assert ("gusts to" in check.sentence) == ("gust_kt" in day)


@pytest.mark.parametrize(("baggage", "said_so"), [(40, False), (41, True)])
def test_baggage_is_held_against_its_placard(baggage, said_so):
    found = said(plan(load={**LOADED, "front_lb": 100, "baggage_lb": baggage}), Kind.BAGGAGE)
    assert [c.verdict for c in found] == (["stop"] if said_so else [])


def test_a_slow_roll_is_held_against_the_time_inverted_and_a_loop_is_not():
    tight = changed(LIGHT, limits=stated(inverted_s=0.5))
    roll = said(plan(SLOW_ROLL), Kind.NEGATIVE_S, tight)[0]
    assert roll.verdict == Verdict.STOP
    assert "at negative g; the limit is 0.5 s" in roll.sentence
    assert said(plan(LOOP), Kind.NEGATIVE_S, tight) == []
    assert said(plan(SLOW_ROLL), Kind.NEGATIVE_S, changed(LIGHT, limits=stated(inverted_s=30))) == []


def test_a_check_carries_its_limit_its_hint_and_an_id_that_stays():
    check = said(plan(figure("spin", start_ft=3600)), Kind.FLOOR)[0]
    assert (check.id, check.kind, check.change, check.figure) == ("floor_f1", "floor", "sequence", "f1")
    assert check.limit is not None
    assert check.room == check.limit.value - check.deciding.value < 0
    top = said(plan(figure("spin", start_ft=6600)), Kind.TOP)[0]
    assert top.hint.startswith("Start lower")
    assert said(plan(load={**LOADED, "front_lb": 270}), Kind.SEAT)[0].id == "seat_Left"


@pytest.mark.parametrize("address", ["", "http://192.168.4.1:8765", "https://box.cabin", "http://box:1"])
def test_the_recorders_address_is_one_and_nothing_behind_it(address):
    assert Standards(recorder=address).recorder == address


@pytest.mark.parametrize(
    "address",
    ["192.168.4.1", "ftp://box", "http://box/live", "http://box; script-src *", "http://box:1 'self'"],
)
def test_what_is_no_address_of_a_recorder_is_refused(address):
    with pytest.raises(ValidationError, match="is no address of a recorder"):
        Standards(recorder=address)
