"""What a pilot reads, word by word: every limit as it is broken, every number of a plan with its whole
working, and what is said after the flight."""

from dataclasses import fields

import pytest

from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import usual_load
from keelturn.assess.loss import loss_account
from keelturn.assess.second_look import second_look
from keelturn.assess.where import where_height_went
from keelturn.figures.catalogue import FIGURES, figure_of
from keelturn.margins.gates import entry_gate
from keelturn.noting.attempt import Attempt
from keelturn.plan.document import conditions_of
from keelturn.plan.sequence import compute_plan
from keelturn.plan.what_if import closer_look
from keelturn.progress.courses import SPIN_AWARENESS
from keelturn.progress.first_plan import Setting, first_plan
from keelturn.progress.habits import fault_trends
from keelturn.progress.next_lesson import next_lesson
from keelturn.progress.way import standing_in, way_through
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from tests import cards
from tests.core.test_limits import CARD, ISLAND, PLACE, STANDARDS, said
from tests.courses import ASKED, TODAY, course
from tests.courses import flown as flown_once
from tests.flights import figure, plan
from tests.said import held


def broken() -> dict[str, object]:
    """Each limit, broken as in test_limits, and the check that says so."""
    found: dict[str, object] = {}
    for field, (card, document, kind) in CARD.items():
        found[field] = said(document, kind, card)
    for field, (changes, document, kind) in PLACE.items():
        found[field] = said(document, kind, place={**ISLAND, **changes})
    before = Standards()
    for field, (value, document, kind) in STANDARDS.items():
        standard = getattr(before, field).model_copy(update={"value": value})
        found[field] = said(document, kind, standards=before.model_copy(update={field: standard}))
    return found


def test_each_limit_as_it_is_broken():
    held("core/limits", broken())


HILLS = Place(
    name="Hill block", elevation_ft=420, block_top_ft=7400, place_floor_ft={"value": 3300}, radius_nm=2
)
FLOWN = ("spin", "nose_low", "loop", "slow_roll", "steep_turn", "stall_power_on", "stall_turn")


DAY = {"wind_kt": 12, "temperature_c": 24, "cloud_base_ft": 6800}
CONDITIONS = conditions_of(
    plan(day=DAY), Card.model_validate(cards.LIGHT), HILLS, Standards(), "first flights", None
)


def computed(*keys):
    document = plan(*(figure(key, start_ft=5600) for key in keys), day=DAY)
    return compute_plan(document, CONDITIONS), closer_look(document.figures[0], CONDITIONS)


@pytest.mark.parametrize("key", FLOWN)
def test_a_figure_with_its_working(key):
    answer, look = computed(key)
    held(f"core/{key}", {"figure": answer.figures[0], "look": look})


def test_a_plan_with_its_working():
    answer, _ = computed("slow_flight", "loop", "spin")
    held("core/plan", {f.name: getattr(answer, f.name) for f in fields(answer) if f.name != "figures"})


# How pilots differ from the usual one, and what is said of it afterwards.
DIFFERENT = (
    {"delay_s": 2.5},
    {"pull_g": -0.8},
    {"pull_g": 0.6, "roll_share": 0.5},
    {"turn_error": 0.5},
    {"pull_from_bank_deg": 60.0},
)
UPSETS = ("nose_low", "over_banked", "inverted", "spin", "stall_power_off", "loop")


def test_where_the_height_went():
    def went(key, pilot):
        found = where_height_went(figure(key, start_ft=5600), CONDITIONS, pilot)
        feet = {"flown": found.flown_ft, "school": found.school_best_ft, "best": found.best_ft}
        bound = {} if found.bound_ft is None else {"bound": found.bound_ft}
        steps = {step.name: step.height_ft for step in found.steps}
        return {name: f"{number:.1f} ft" for name, number in {**feet, **bound, **steps}.items()}

    held("core/where", {f"{key} {pilot}": went(key, pilot) for key in UPSETS for pilot in DIFFERENT})


NOTED = (
    {},
    {"lowest_ft": 3600},
    {"recover_ft": 4500},
    {"recover_ft": 4400, "turns": 1.5},
    {"recover_ft": 4400, "turns": 0.5, "most_g": 1.9, "faults": 1},
    {"turns": 2.0, "most_g": 3.4},
    {"faults": 2},
    {"most_g": 2.2, "faults": 3},
)


@pytest.mark.parametrize("key", ["spin", "nose_low", "loop"])
def test_what_is_said_of_an_attempt(key):
    planned = figure(key, start_ft=5000)

    def look(noted):
        faults = [fault.key for fault in figure_of(key).faults[: noted.get("faults", 0)]]
        whole = {"id": "a1", "planned": planned.model_dump(), "start_ft": 5000}
        flown = Attempt.model_validate({**whole, "lowest_ft": 3900, **noted, "faults": faults})
        account = loss_account(flown, CONDITIONS)
        looked = second_look(flown, planned, account, None, CONDITIONS, {})
        return account, looked.advice, looked.proposal

    held(f"core/attempt_{key}", [look(noted) for noted in NOTED])


def lessons(*counts):
    """Of so many attempts at a spin each, so many with the fault."""
    planned = figure("spin").model_dump()
    faults = [["rudder_late"] * (i < with_it) for many, with_it in counts for i in range(many)]
    made = iter(
        Attempt.model_validate({"id": f"a{i}", "planned": planned, "faults": each, "grade": "Sound"})
        for i, each in enumerate(faults)
    )
    return [[next(made) for _ in range(many)] for many, _ in counts]


HABITS = {
    "too few lessons": ((2, 1), (2, 1)),
    "one lesson": ((4, 2),),
    "gone": ((2, 2), (2, 1), (2, 1), (2, 0), (2, 0), (2, 0)),
    "new": ((2, 0), (2, 0), (2, 0), (2, 1), (2, 1), (2, 1)),
    "going away, just": ((2, 2), (2, 2), (2, 1), (2, 1), (2, 1), (2, 1)),
    "not going away, just": ((2, 2), (2, 2), (2, 1), (2, 1), (2, 2), (2, 1)),
    "too few attempts": ((1, 1), (1, 1), (1, 0), (1, 1), (1, 0), (1, 1)),
    "enough attempts": ((2, 1), (1, 1), (1, 0), (1, 1), (1, 0), (2, 1)),
    "too few attempts early": ((1, 1), (1, 1), (1, 1), (2, 1), (2, 1), (2, 1)),
    "too few attempts late": ((2, 1), (2, 1), (2, 1), (1, 1), (1, 1), (1, 1)),
    "too seldom": ((2, 1), (2, 0), (2, 0), (2, 1), (2, 0), (2, 0)),
    "between": ((2, 2), (2, 1), (2, 1), (9, 9), (2, 1), (2, 0), (2, 0)),
}


def test_what_is_said_of_a_habit():
    said_of = {}
    for name, counts in HABITS.items():
        (trend,) = fault_trends(lessons(*counts))
        numbers = f"{trend.first} of {trend.first_of}, {trend.last} of {trend.last_of}"
        said_of[name] = [trend, numbers]
    held("core/habits", said_of)


def both(key, grade="Sound", **more):
    return [flown_once(key, grade, n, side=side, **more) for n in (1, 2) for side in ("left", "right")]


# A student's evidence, from nothing to everything that the small course needs.
EVIDENCE = {
    "nothing": [],
    "shown": [flown_once("stall_power_off", None, flown_by="instructor shows")],
    "a stall": both("stall_power_off"),
    "one side behind": [*both("stall_turning")[:3], flown_once("stall_turning", "Guided", 2, side="right")],
    "beyond": both("spin", beyond_ft=250),
    "lapsed": both("stall_power_off", "Solo-ready", ago=100, flown_by="student alone"),
    "all of the first": both("stall_power_off") + both("stall_turning") + both("spin"),
    "ended low": [
        flown_once("stall_power_off", "Guided", 3, 2, lesson="easy", feel=2, faults=["missed_check"])
    ],
}


def test_what_is_said_of_a_way_and_of_the_next_lesson():
    cards_of = {"may spin": CONDITIONS.card, "may not": Card.model_validate(cards.NO_SPINS)}
    found = {}
    for name, evidence in EVIDENCE.items():
        way = way_through(course(), evidence, ("manual",), TODAY, ASKED)
        standing = standing_in(way, TODAY, ASKED)
        found[name] = [
            f"{standing.standing}: {standing.why}; {standing.missing}",
            *(f"{t.title}: {t.state}; {t.reasons}; {t.missing}" for t in way.tasks),
        ]
        for of, card in cards_of.items():
            for stage in ("first flights", "practised"):
                said_of = next_lesson(way, stage, evidence, TODAY, card)
                offers = [x and f"{x.lesson.name}: {x.why}" for x in (said_of.gentler, said_of.harder)]
                not_yet = [f"not yet {n.lesson.name}: {n.missing}" for n in said_of.not_yet]
                found[f"{name}, {stage}, {of}"] = [*said_of.why, *offers, *not_yet]
    held("core/next_lesson", found)


def test_what_is_said_of_a_first_plan():
    """At places that are too shallow, that take it in another order, and that take it as it is."""
    card = CONDITIONS.card
    load = usual_load(card.balance, 150, 160, True)
    way = way_through(SPIN_AWARENESS, (), ("aerodynamics",), TODAY, ASKED)
    setting = Setting(card, Standards(), "practised", load, 30, None, way=way, today=TODAY)
    places = [Place(name=f"Top {top}", elevation_ft=0, block_top_ft=top) for top in (3600, 3900, 4200, 4600)]
    asked = [*([place] for place in places), places[:3], places[1::2]]

    def said_of(lesson, among):
        found = first_plan(lesson, setting, among)
        figures = ", ".join(f"{f.id} {f.start_ft:.0f}" for f in found.plan.figures)
        return [found.lesson.key, among[found.place].name, str(found.fits), figures, *found.why]

    told = {" or ".join(p.name for p in among): said_of("spins_both_ways", among) for among in asked}
    held("core/first_plan", {**told, "the next": said_of(None, places), "free": said_of("free", places)})


def test_the_gates_of_all_figures():
    gates = {f.key: entry_gate(figure(f.key, start_ft=5600), CONDITIONS) for f in FIGURES}
    held(
        "core/gates",
        {key: {n: getattr(gate, n) for n in ("lowest", "best", "highest")} for key, gate in gates.items()},
    )


SLOWER = {"speeds": {"never_exceed_ias": {"value": 150}, "normal_most_ias": {"value": 115}}}


@pytest.mark.parametrize(
    ("planned", "changed", "words"),
    [
        (figure("loop", pull_g=2.0), {}, "A pull of 2.5 g from 145 kt would make it."),
        (
            figure("loop", pull_g=2.0),
            {"limits": {"most_g": {"value": 2.2}, "rolling_g": {"value": 1.5}, "flap_g": {"value": 1.5}}},
            "No speed this aircraft may reach is enough: less weight, more power, or another aircraft.",
        ),
        (figure("loop"), SLOWER, "A pull of 4.0 g from 128 kt would make it."),
        (
            figure("cuban_eight"),
            SLOWER,
            "Wherever it is fast enough to be made, it ends too fast: less power on the way down, or another"
            " aircraft.",
        ),
    ],
)
def test_what_would_help_a_figure_that_cannot_be_made(planned, changed, words):
    card = Card.model_validate(cards.changed(cards.LIGHT, **changed))
    here = conditions_of(plan(), card, HILLS, Standards(), "first flights", None)
    planned = planned.model_copy(update={"start_ft": 5600})
    assert entry_gate(planned, here).would_help == words
