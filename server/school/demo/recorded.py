"""Lessons of the demo school that a recorder flew with: without a habit, with one each, a broken file, and
four in an aircraft that spins otherwise than its card says. The recordings are made by the stand-in
(keelturn/recording), from a seed."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from keelturn.assess.spoken import said_of_fault
from keelturn.document import Above
from keelturn.figures.catalogue import figure_of
from keelturn.figures.faults import BY_KEY as FAULTS
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.formats.answers import as_csv
from keelturn.formats.recorded import HowToRead, debriefed
from keelturn.noting.attempt import READ_FT
from keelturn.noting.earned import is_judged
from keelturn.noting.entry import Entry, Value, What
from keelturn.plan.document import PlanDocument
from keelturn.progress.stages import Debrief, Stage
from keelturn.recording.recorder import Sensors, Table, record_goes
from keelturn.recording.truth import Go
from server import recordings
from server.school.models import Person, Recorded, Sortie
from server.school.operations import recordings as operations
from server.school.operations.computing import conditions_for, plan_of
from server.school.operations.noting import take_entries
from server.school.operations.record import attempt_kept
from server.school.operations.saving import Sheets, save_sortie


@dataclass(frozen=True)
class Flight:
    """habits: by the figure's key, what the student does in it; noted: by the figure's key, the fault that
    the instructor saw. once: only the first time. tapped: start and lowest were noted in flight too. open:
    not debriefed yet. broken: what came off the recorder's card is damaged. spins: what of the card's spin
    the aircraft does otherwise."""

    name: str
    username: str
    aircraft: str
    lesson: str
    days_ago: int
    habits: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    noted: Mapping[str, str] = field(default_factory=dict)
    controls: bool = False
    once: bool = False
    tapped: bool = False
    open: bool = False
    broken: bool = False
    instructor: str = "ilse"
    spins: Mapping[str, float] = field(default_factory=dict)


SPINS = ("incipient_spin", "spin", "spin_off_turn")


# A turn takes longer, and more height, than the trials had found when its card was written.
FURTHER = {"further_turn_ft": 255.0, "turn_s": 2.1}


def _in_spins(**habit: float) -> dict[str, Mapping[str, float]]:
    return dict.fromkeys(SPINS, habit)


FLIGHTS: tuple[Flight, ...] = (
    Flight("good", "corin", "QX-ROE", "spins_both_ways", 24, controls=True),
    Flight(
        "late power",
        "corin",
        "QX-ROE",
        "several_turns",
        17,
        _in_spins(close_s=1.8, power_left=0.4),
        {"spin": "power_late"},
        controls=True,
    ),
    Flight(
        "wrong order",
        "corin",
        "QX-ROE",
        "spins_both_ways",
        10,
        _in_spins(gap_s=-1.3),
        {"spin": "stick_before_rudder"},
    ),
    Flight(
        "a spiral meant as a spin",
        "corin",
        "QX-ROE",
        "spins_both_ways",
        2,
        {"spin": {"entry_stick": -0.65}},
        controls=True,
        once=True,
        tapped=True,
        open=True,
    ),
    Flight(
        "timid pull",
        "sunniva",
        "QX-COR",
        "upsets",
        20,
        {key: {"pull_g": -0.7} for key in ("nose_low", "over_banked")},
        {"nose_low": "soft_pull"},
    ),
    Flight(
        "scooped roll",
        "sunniva",
        "QX-COR",
        "first_figures",
        13,
        {"aileron_roll": {"scoop_g": 1.4, "roll_share": -0.15}},
        {"aileron_roll": "scooped"},
    ),
    Flight(
        "egg-shaped loop",
        "sunniva",
        "QX-COR",
        "first_figures",
        6,
        {"loop": {"pull_g": -0.7, "ease_error_g": 0.5}},
        {"loop": "pulled_soft"},
        controls=True,
    ),
    Flight("two turns and three", "keir", "QX-ROE", "more_turns", 101, instructor="bryn", spins=FURTHER),
    Flight(
        "timid out of the dive",
        "keir",
        "QX-ROE",
        "more_turns",
        78,
        _in_spins(pull_g=-0.7),
        {"spin": "soft_pull"},
        instructor="bryn",
        spins=FURTHER,
    ),
    Flight(
        "stick long after rudder",
        "keir",
        "QX-ROE",
        "more_turns",
        55,
        _in_spins(gap_s=1.2),
        {"spin": "stick_late"},
        controls=True,
        instructor="bryn",
        spins=FURTHER,
    ),
    Flight(
        "all turns counted",
        "keir",
        "QX-ROE",
        "more_turns",
        31,
        controls=True,
        instructor="bryn",
        spins=FURTHER,
    ),
    Flight("broken file", "sunniva", "QX-COR", "upsets", 1, open=True, broken=True),
)


def recorded_lesson(
    flight: Flight,
    person: Person,
    sortie: Sortie,
    moved: Callable[[Sortie, Person, Stage], None],
) -> None:
    """sortie: planned and briefed; debriefed then, but for one that is open."""
    at = sortie.planned_for + timedelta(hours=1)
    plan, conditions = plan_of(sortie), conditions_for(sortie, plan_of(sortie))
    goes = goes_of(flight, plan)
    sensors = Sensors(seed=len(flight.name), controls=flight.controls)
    table = record_goes(goes, _as_it_spins(conditions, flight.spins), sensors)
    if flight.tapped:
        take_entries(person, sortie.pk, _tapped(table, plan, sortie.planned_for))
    asked = operations.now_to_read(sortie)
    content = as_csv(table.columns, table.rows.round(3).tolist())
    content = _damaged(content) if flight.broken else content
    made = debriefed(
        content,
        HowToRead(taps=asked.taps),
        plan.figures,
        conditions,
        operations.device_of(recordings.digest_of(content)),
        at,
    )
    name = f"{flight.name.replace(' ', '-')}.csv"
    row = operations.add(person, sortie.pk, name, content, asked, made)
    Recorded.objects.filter(pk=row.pk).update(at=at)
    sortie.refresh_from_db()
    moved(sortie, person, "flown")
    if flight.open:
        return
    take_entries(person, sortie.pk, _graded(flight, sortie, at))
    sortie.refresh_from_db()
    key, fault = next(iter(flight.noted.items()), ("", None))
    debrief = Debrief(
        flight_min=40.0,
        note="As briefed, both sides alike." if fault is None else f"{FAULTS[fault].words}, seen twice.",
        one_thing="" if fault is None else said_of_fault(fault, figure_of(key)),
        next="Again, with the one thing first",
        feel=8,
    )
    sortie = save_sortie(person, sortie.pk, sortie.version, Sheets(debrief=debrief))
    moved(sortie, person, "debriefed")


def _as_it_spins(conditions: Conditions, otherwise: Mapping[str, float]) -> Conditions:
    if conditions.card.spin is None:
        return conditions
    numbers = {name: Above(value=value) for name, value in otherwise.items()}
    spin = conditions.card.spin.model_copy(update=numbers)
    return replace(conditions, card=conditions.card.model_copy(update={"spin": spin}))


def goes_of(flight: Flight, plan: PlanDocument) -> list[Go]:
    goes, before = [], set[str]()
    for figure in plan.figures:
        usual = flight.once and figure.key in before
        goes.append(Go(figure, habits={} if usual else flight.habits.get(figure.key, {})))
        before.add(figure.key)
    return goes


# Seconds behind what happened, as the hand that taps is.
TAPPED_LATE_S = 1.2


def _tapped(table: Table, plan: PlanDocument, began: datetime) -> list[Entry]:
    """Start and lowest of each, as they were tapped on a tablet."""

    def entry(planned: PlannedFigure, what: What, value: Value, at_s: float) -> Entry:
        at = began + timedelta(seconds=at_s + TAPPED_LATE_S)
        name = f"demo-tapped-{planned.id}-{what}"
        return Entry(id=name, attempt=planned.id, what=what, value=value, device="demo-tablet", at=at)

    return [
        one
        for planned, true in zip(plan.figures, table.figures, strict=True)
        for one in (
            entry(planned, What.FIGURE, planned, true.begins_s),
            entry(planned, What.START, round(true.start_ft / READ_FT) * READ_FT, true.begins_s),
            entry(planned, What.LOWEST, round(true.lowest_ft / READ_FT) * READ_FT, true.ends_s),
        )
    ]


def _damaged(content: bytes) -> bytes:
    """Lines lost, repeated and out of order, numbers that are none, and the end cut off in a number."""
    lines = content.decode().splitlines()
    head, rows = lines[0], lines[1:]
    third = len(rows) // 3
    rows[third : third + 40] = []
    rows[100:102] = [rows[101], rows[100]]
    rows[200:200] = rows[199:200]
    for at in (300, 301, 302):
        cells = rows[at].split(",")
        rows[at] = ",".join([cells[0], "NaN", *cells[2:]])
    rows[400] = rows[400].split(",")[0] + ",out of range"
    return "\n".join([head, *rows])[: -len(rows[-1]) // 2].encode()


def _graded(flight: Flight, sortie: Sortie, at: datetime) -> list[Entry]:
    """The faults that the instructor saw, and a grade each."""
    entries: list[Entry] = []

    def say(attempt: str, what: What, value: Value, about: str = "") -> None:
        name = f"{flight.name} {len(entries)}".replace(" ", "-")
        entries.append(
            Entry(
                id=f"demo-{name}"[:40],
                attempt=attempt,
                what=what,
                about=about,
                value=value,
                device="demo",
                at=at + timedelta(minutes=len(entries)),
            )
        )

    for row in sortie.attempts.all():
        attempt = attempt_kept(row)
        if attempt is None:
            continue
        key = attempt.planned.key
        if key in flight.noted:
            say(attempt.id, What.FAULT, True, flight.noted[key])
        say(attempt.id, What.FEEL, 8)
        grade = "Guided" if key in flight.noted else "Sound"
        say(attempt.id, What.GRADE, grade if is_judged(attempt.flown_by) else "Shown")
    return entries
