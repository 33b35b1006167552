"""How well a pilot's numbers, faults and the account of the height are had from a recording, against flights
of known pilots: part of tools/score.py.

A fault is there when the true numbers lie beyond its rule: which of several faults with the same numbers was
flown (late to act, wrong instrument) nobody can see."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from keelturn.assess.account import REST, Account, account_of_fit, account_of_notes
from keelturn.assess.evidence import Evidence
from keelturn.assess.fault_rules import FOUND, Rule, looked_at
from keelturn.assess.fit import Fit, fit
from keelturn.assess.flight import Judged
from keelturn.assess.lanes import Lanes, lanes_of
from keelturn.assess.technique import NOT_THE_PILOTS
from keelturn.assess.where import SCHOOLS_CHOICE, stepwise
from keelturn.figures.catalogue import figure_of
from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import pilot_numbers
from keelturn.motion.legs import Floats
from keelturn.noting.attempt import Attempt
from keelturn.recording.cleaning import Cleaned
from keelturn.recording.truth import Go

# What is asked: of 100 intervals, fewest and most that hold; of 100 accounts, within this share of the loss;
# of 1, of each fault.
HOLD, ACCOUNTS, WITHIN, FAULTS = (90.0, 99.0), 90.0, 0.1, 0.9
# A line of the account that is this near (ft) is right whatever its doubt: it is read to ten feet.
READ_FT = 10.0


@dataclass
class TechniqueScore:
    """Of each figure: whether the model came near it. Of each number told: its name, how far off, its doubt.
    Of each account: the worst line, as a share of the loss; of each line whether its interval holds, from a
    recording and from notes. Of each fault: found and there, found only, there only."""

    near: list[bool] = field(default_factory=list)
    numbers: list[tuple[str, float, float]] = field(default_factory=list)
    worst: list[float] = field(default_factory=list)
    lines: list[bool] = field(default_factory=list)
    noted: list[bool] = field(default_factory=list)
    split: list[bool] = field(default_factory=list)
    right: Counter[str] = field(default_factory=Counter)
    only_found: Counter[str] = field(default_factory=Counter)
    only_there: Counter[str] = field(default_factory=Counter)

    def add(self, other: "TechniqueScore") -> None:
        for name in ("near", "numbers", "worst", "lines", "noted", "split"):
            getattr(self, name).extend(getattr(other, name))
        for name in ("right", "only_found", "only_there"):
            getattr(self, name).update(getattr(other, name))


def score_one(score: TechniqueScore, go: Go, one: Judged, cleaned: Cleaned, conditions: Conditions) -> None:
    true = {name: np.ravel(value).astype(float) for name, value in pilot_numbers(go.who, **go.habits).items()}
    fitted = fit(one.found, one.measured, cleaned, conditions)
    score.near.append(fitted.good)
    if fitted.good:
        score.numbers += [
            (name, number.value - float(true[name][0]), number.doubt)
            for name, number in fitted.numbers.items()
            if number.told and name not in NOT_THE_PILOTS
        ]
    _faults(score, go, one, fitted, lanes_of(fitted, one.measured, cleaned), conditions, true)
    if figure_of(go.planned.key).situation is None:
        return
    found = stepwise(go.planned, conditions, true)
    steps = dict(zip(found.names, found.steps_ft[:, 0].tolist(), strict=True))
    account = account_of_fit(fitted, one.measured.lost_ft)
    score.split.append(account is not None)
    if account is not None:
        off = _off(account, steps)
        score.worst.append(max((abs(off_ft) for off_ft, _ in off), default=0.0) / account.flown_ft)
        score.lines += [abs(off_ft) <= max(doubt, READ_FT) for off_ft, doubt in off]
    noted = account_of_notes(_as_noted(go, one), conditions)
    if noted is not None:
        score.noted += [abs(off_ft) <= max(doubt, READ_FT) for off_ft, doubt in _off(noted, steps)]


def _off(account: Account, steps: dict[str, float]) -> list[tuple[float, float]]:
    """Of each line but the rest and the school's choice: feet off the truth, and its doubt."""
    return [
        (line.height_ft - sum(steps.get(name, 0.0) for name in line.names), line.doubt_ft)
        for line in account.lines
        if line.names != (REST,) and SCHOOLS_CHOICE not in line.names
    ]


def _as_noted(go: Go, one: Judged) -> Attempt:
    """What a hand would have noted of it."""
    measured = one.measured

    def tens(height_ft: float | None) -> float | None:
        return None if height_ft is None else round(height_ft / 10.0) * 10.0

    return Attempt(
        id="a",
        planned=go.planned,
        start_ft=tens(measured.start_ft),
        recover_ft=tens(measured.recover_ft),
        lowest_ft=tens(measured.lowest_ft),
        most_g=None if measured.most_g is None else round(measured.most_g, 1),
    )


def _faults(
    score: TechniqueScore,
    go: Go,
    one: Judged,
    fitted: Fit,
    lanes: Lanes | None,
    conditions: Conditions,
    true: dict[str, Floats],
) -> None:
    evidence = Evidence(go.planned, one.measured, one.became, conditions, fitted, lanes)
    for found in looked_at(evidence):
        there = _there(found.rule, true, one.measured.turn_s or 2.0)
        if there is None:
            continue
        counted = (
            score.right
            if found.sure > FOUND and there
            else score.only_found
            if found.sure > FOUND
            else score.only_there
            if there
            else None
        )
        if counted is not None:
            counted[found.fault.key] += 1


def _there(rule: Rule, true: dict[str, Floats], turn_s: float) -> bool | None:
    """Whether the true numbers lie beyond the rule; None for a rule that no number tells."""
    if not rule.numbers:
        return None
    value = float(true[rule.numbers[0]][0])
    if rule.numbers == ("call_s", "turn_error"):
        value += float(true["turn_error"][0]) * turn_s
    return rule.beyond(abs(value) if rule.size else value) > 0.0


@dataclass(frozen=True)
class Row:
    label: str
    value: float
    asked: str
    met: bool


def measures(score: TechniqueScore) -> Iterator[Row]:
    near = 100.0 * float(np.mean(score.near))
    yield Row("flown by the model nearby, of 100", near, "", True)
    hold = 100.0 * float(np.mean([abs(off) <= 1.96 * doubt for _, off, doubt in score.numbers]))
    asked = f"{HOLD[0]:.0f} to {HOLD[1]:.0f}"
    yield Row("pilot numbers: 95 % intervals hold, of 100", hold, asked, HOLD[0] <= hold <= HOLD[1])
    split = 100.0 * float(np.mean(score.split))
    yield Row("recoveries whose loss is split, of 100", split, "", True)
    within = 100.0 * float((np.array(score.worst) <= WITHIN).mean())
    yield Row("accounts, worst line within a tenth, of 100", within, f"{ACCOUNTS:.0f}", within >= ACCOUNTS)
    yield Row("account lines whose interval holds, of 100", 100.0 * float(np.mean(score.lines)), "", True)
    yield Row("the same from notes alone, of 100", 100.0 * float(np.mean(score.noted)), "", True)
    right, found, there = (sum(c.values()) for c in (score.right, score.only_found, score.only_there))
    yield Row("faults: precision", _share(right, found), f"{FAULTS}", _share(right, found) >= FAULTS)
    yield Row("faults: recall", _share(right, there), f"{FAULTS}", _share(right, there) >= FAULTS)


def _share(right: int, beside: int) -> float:
    return right / (right + beside) if right + beside else float("nan")


def each_fault(score: TechniqueScore) -> Iterator[tuple[str, int, float, float]]:
    """Key, how often it was there, precision, recall."""
    for key in sorted(score.right | score.only_found | score.only_there):
        right = score.right[key]
        yield (
            key,
            right + score.only_there[key],
            _share(right, score.only_found[key]),
            _share(right, score.only_there[key]),
        )


def each_number(score: TechniqueScore) -> Iterator[tuple[str, int, float, float]]:
    """Name, how often it was told, median off, and of 100 intervals how many hold."""
    names = sorted({name for name, _, _ in score.numbers})
    for wanted in names:
        of_it = [(off, doubt) for name, off, doubt in score.numbers if name == wanted]
        holds = [abs(off) <= 1.96 * doubt for off, doubt in of_it]
        yield (
            wanted,
            len(of_it),
            float(np.median([abs(off) for off, _ in of_it])),
            100.0 * float(np.mean(holds)),
        )
