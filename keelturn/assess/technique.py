"""How an attempt was flown, for a debrief: order and timing of the inputs, the faults that the recording
shows, the pilot's numbers, and where the height went. From what was noted by hand alone: the account."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from keelturn.assess.account import REST, Account, AccountLine, account_of_fit, account_of_notes
from keelturn.assess.as_read import as_read, read_both
from keelturn.assess.evidence import Evidence, rudder_after_the_turns
from keelturn.assess.fault_rules import FOUND, FaultFound, cannot_be_seen, looked_at
from keelturn.assess.fit import Fit, Number, fit
from keelturn.assess.flight import Judged
from keelturn.assess.lanes import Control, Lanes, called_s, lanes_of
from keelturn.assess.where import STEPS, at_their_best, steps_of
from keelturn.flying.conditions import Conditions
from keelturn.flying.pilots import RANGES, STUDENT
from keelturn.flying.trace import HEIGHT, TIME
from keelturn.noting.attempt import Attempt
from keelturn.recording.cleaning import Cleaned
from keelturn.units import FT
from keelturn.working import Answer, Source, given, in_words, signed, what_is_left, worked

RECORDED, NOTED = Source("flown", "recorder"), Source("flown", "noted by hand")
# The numbers of these are the aircraft's or the recorder's, and nothing that a pilot changes.
NOT_THE_PILOTS = ("lag_s", "roll_acc_deg_s2")
# Of a spin, told as one, where it is known within this (s, one standard deviation).
TOLD_S = 1.0
TOGETHER = ("call_s", "turn_error", "hand_s")
BEST_OF_ALL = "the least that this aircraft allows from there, g while rolling inside its limit"
BEST_BY_METHOD = "this method, with every number of the pilot's as good as can be"
WHAT_IS_LEFT = "what is too little or too unsure to name, and what the model leaves"
# Of a path that is drawn, every so manieth row.
PATH_EVERY = 4
# As sure as this a fault is said to be there, or not, without doubt.
SURE = 0.9
# On which lane a number is seen.
LANE_OF: Mapping[Control, tuple[str, ...]] = {
    Control.THROTTLE: ("close_s", "power_left", "throttle_s"),
    Control.AILERON: ("aileron_in", "aileron_recovery", "roll_share", "roll_g"),
    Control.RUDDER: ("call_s", "rudder_share", "rudder_held_s", "entry_rudder"),
    Control.STICK: (
        *("gap_s", "stick_error", "stick_held_s", "gives_up_s", "entry_stick"),
        *("pull_g", "ease_error_g", "pull_from_bank_deg", "delay_s"),
    ),
}


@dataclass(frozen=True, slots=True)
class FaultSeen:
    """found: or looked for and not found. value, limit: as read, with the unit; number: the value unrounded,
    doubt: one standard deviation of it. more: beyond the limit is more of it. at_s: since it began. cost_ft:
    what it cost, with half of the 95 % interval, None where the account does not split it; with_others: names
    of the steps that could not be told from it."""

    key: str
    words: str
    does: str
    looks_at: str
    found: bool
    sure: bool
    value: str
    limit: str
    number: float
    doubt: float
    more: bool
    control: Control | None
    at_s: float
    cost_ft: float | None
    cost_doubt_ft: float | None
    with_others: tuple[str, ...]
    source: Source


@dataclass(frozen=True, slots=True)
class FaultUnseen:
    key: str
    words: str
    needs: str


@dataclass(frozen=True, slots=True)
class NumberTold:
    """One of the pilot's numbers with half of its 95 % interval, beside the usual student's."""

    name: str
    label: str
    value: str
    doubt: str
    usual: str


@dataclass(frozen=True, slots=True)
class AccountStep:
    """names: of the steps that it is (where.py), several where they cannot be told apart. height: shown with
    its sign; doubt: half of the 95 % interval, as read. usual_ft: what
    the usual student pays for the same. clear: the doubt does not reach over to nothing."""

    names: tuple[str, ...]
    height: Answer
    doubt: str
    doubt_ft: float
    usual_ft: float
    clear: bool


@dataclass(frozen=True, slots=True)
class AccountTold:
    """flown = best + the steps, exactly, and as they are read: the last one is what the others leave."""

    flown: Answer
    best: Answer
    bound: Answer | None
    steps: tuple[AccountStep, ...]


@dataclass(frozen=True, slots=True)
class Technique:
    """recorded: from a recording, or from what was noted by hand. says: how far it can be believed. begins_s:
    how long after it was found to begin it really did. account: None where it cannot be split. best_path: the
    same flown by this method as well as can be, seconds from the call and feet above the start."""

    recorded: bool
    says: str
    begins_s: float
    lanes: Lanes | None
    faults: tuple[FaultSeen, ...]
    unseen: tuple[FaultUnseen, ...]
    numbers: tuple[NumberTold, ...]
    account: AccountTold | None
    best_path: tuple[tuple[float, float], ...] = ()


def technique_of(judged: Judged, cleaned: Cleaned, conditions: Conditions) -> Technique:
    measured = judged.measured
    fitted = fit(judged.found, measured, cleaned, conditions)
    lanes = lanes_of(fitted, measured, cleaned)
    account = account_of_fit(fitted, measured.lost_ft)
    evidence = Evidence(
        fitted.compared.planned, measured, judged.became, conditions, fitted, lanes, judged.tapped
    )
    return Technique(
        True,
        _how_near(fitted),
        fitted.begins_s - measured.begins_s if fitted.good else 0.0,
        lanes,
        tuple(_seen(one, account) for one in looked_at(evidence)),
        tuple(FaultUnseen(fault.key, fault.words, needs) for fault, needs in cannot_be_seen(evidence)),
        tuple(_numbers(fitted, evidence)) if fitted.good else (),
        None if account is None else _told(account, measured.start_ft, measured.lowest_ft, fitted.numbers),
        _best_path(fitted) if account is not None else (),
    )


def technique_noted(attempt: Attempt, conditions: Conditions) -> Technique | None:
    """None where what was noted tells nothing."""
    account = account_of_notes(attempt, conditions)
    if account is None or attempt.start_ft is None or attempt.lowest_ft is None:
        return None
    says = "Split over the pilots who could have flown what was noted: a recording would say more."
    return Technique(
        False, says, 0.0, None, (), (), (), _told(account, attempt.start_ft, attempt.lowest_ft, {})
    )


def _best_path(fitted: Fit) -> tuple[tuple[float, float], ...]:
    usual = {name: number.usual for name, number in STUDENT.items()}
    best = at_their_best(usual | fitted.pilot)
    rows = fitted.compared.flown(best, {}).rows[::PATH_EVERY]
    called = called_s(fitted, best)
    feet = (rows[:, HEIGHT] - rows[0, HEIGHT]) / FT
    return tuple(
        (round(float(s), 2), round(float(ft), 1)) for s, ft in zip(rows[:, TIME] - called, feet, strict=True)
    )


def _how_near(fitted: Fit) -> str:
    if not fitted.good:
        return "The model's flight does not come near this one: only what was measured is shown."
    return f"The model's flight stays within {in_words(fitted.off_ft, 'ft', 'up')} of this one."


def _numbers(fitted: Fit, evidence: Evidence) -> Iterator[NumberTold]:
    """What nobody outside can tell apart is one number."""
    first = rudder_after_the_turns(evidence)
    if first is not None and first.doubt < TOLD_S:
        usual = STUDENT["call_s"].usual
        yield _number("first_input", "Turns done to first input", "s", first.value, first.doubt, usual)
    for name, number in fitted.numbers.items():
        if number.told and name not in NOT_THE_PILOTS and not (first and name in TOGETHER):
            reach = RANGES[name]
            usual = STUDENT[name].usual
            yield _number(name, reach.label, reach.unit, number.value, number.doubt, usual)


def _number(name: str, label: str, unit: str, value: float, doubt: float, usual: float) -> NumberTold:
    half = as_read(1.96 * doubt, unit)
    return NumberTold(
        name, label, as_read(value, unit), half.removesuffix(unit).strip(), as_read(usual, unit)
    )


def _seen(found: FaultFound, account: Account | None) -> FaultSeen:
    rule = found.rule
    line = None if account is None else _line_of(account.lines, rule.numbers)
    own = steps_of(rule.numbers)
    return FaultSeen(
        found.fault.key,
        found.fault.words,
        found.fault.does,
        rule.looks_at,
        found.sure > FOUND,
        abs(found.sure - 0.5) >= SURE - 0.5,
        *read_both(found.value, found.limit, rule.unit),
        found.value,
        found.doubt,
        found.limit == rule.most,
        next((control for control, names in LANE_OF.items() if set(names) & set(rule.numbers)), None),
        found.at_s,
        None if line is None else line.height_ft,
        None if line is None else line.doubt_ft,
        () if line is None else tuple(name for name in line.names if name not in own),
        rule.source,
    )


def _line_of(lines: Sequence[AccountLine], numbers: tuple[str, ...]) -> AccountLine | None:
    steps = steps_of(numbers)
    return next((line for line in lines if steps & set(line.names)), None)


def _told(account: Account, start_ft: float, lowest_ft: float, numbers: Mapping[str, Number]) -> AccountTold:
    source = RECORDED if account.from_recording else NOTED
    by = "the fit of the recording" if account.from_recording else "the pilots who could have flown it"
    flown = worked(
        "Flown, start to lowest",
        account.flown_ft,
        "ft",
        "start - lowest",
        given("Start", start_ft, "ft", source),
        given("Lowest", lowest_ft, "ft", source, rounding="down"),
        source=source,
        rounding="up",
    )
    bound = account.bound_ft
    best = worked(
        "Best possible" if bound is not None else "Best by this method",
        account.best_ft,
        "ft",
        f"{BEST_OF_ALL if bound is not None else BEST_BY_METHOD}; by {by}",
        flown,
        rounding="up",
    )
    *steps, rest = (_step(line, numbers) for line in account.lines)
    left = what_is_left(flown, best, [line.height_ft for line in account.lines[:-1]])
    return AccountTold(
        flown,
        best,
        None
        if bound is None
        else worked(
            "Mathematical bound, never a technique",
            bound,
            "ft",
            "the full pull while rolling, controls at once: breaks the rolling limit",
            rounding="up",
        ),
        (*steps, replace(rest, height=replace(rest.height, shown=left))),
    )


def _step(line: AccountLine, numbers: Mapping[str, Number]) -> AccountStep:
    first, *others = line.names
    name = ", ".join([first, *(other[0].lower() + other[1:] for other in others)])
    doubt = in_words(line.doubt_ft, "ft", "up")
    changed = [number for step, better in STEPS if step in line.names for number in better]
    height = worked(
        name,
        line.height_ft,
        "ft",
        WHAT_IS_LEFT
        if name == REST
        else f"the loss, less the same with this as good as can be; 19 times in 20 within {doubt}",
        *(
            given(RANGES[one].label, numbers[one].value, RANGES[one].unit, RECORDED)
            for one in changed
            if one in numbers
        ),
    )
    return AccountStep(
        line.names,
        replace(height, shown=signed(line.height_ft)),
        doubt,
        line.doubt_ft,
        line.usual_ft,
        abs(line.height_ft) > line.doubt_ft,
    )
