"""Where the height of an attempt went, each step with its doubt: from the pilots who could have flown it.
What is best possible and the steps add up to what was lost exactly.

From a recording these pilots are the fit's, within its doubt. From what was noted by hand they are those, of
many, whose flight agrees with it: a coarser account with wider doubt. Steps that cannot be told apart are
one."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from keelturn.assess.fit import Fit, held
from keelturn.assess.where import SCHOOLS_CHOICE, best_of, stepwise
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Fault
from keelturn.figures.planned import PlannedFigure
from keelturn.flying.conditions import Conditions
from keelturn.flying.course import fly
from keelturn.flying.pilots import RANGES, STUDENT, usual_numbers
from keelturn.motion.legs import Floats
from keelturn.noting.attempt import Attempt
from keelturn.units import FT

# Of 100 pilots, and in standard deviations.
OF_100, OF_95 = (2.5, 97.5), 1.96
# Pilots that stand for the fit; those who are asked whether they could have flown what was noted, how many of
# them must have, and how many of those are looked at.
STAND_FOR, ASKED, AGREE, LOOKED_AT = 64, 4096, 12, 64
# A pilot flew it who lost as much, to this share of it or so many feet; no step is so many times the loss.
NEAR, NEAR_FT, MOST_STEP = 0.15, 40.0, 3.0
# How near a noted height (ft) and g are taken to be; of most g the peak counts.
NOTED_FT, NOTED_G = 20.0, 0.15
# Of pilots that are asked, this share has each fault that usual pilots have not, of up to so many times how
# the number is held.
AT_FAULT, FAULTY = 0.15, 6.0
# A fault that was seen is there to so much of what it is taken to be.
AS_MUCH = (0.5, 1.5)
# A step of less (ft), or of less than this share of its doubt, is not named; a doubt of less hides nothing.
NOTHING_FT, OF_DOUBT, CLEAR_FT = 5.0, 0.5, 15.0
# Two steps are one when the doubt of both together is less than this share of the larger of theirs; one whose
# doubt is more than this share of the loss is none by itself.
TOGETHER, ALONE = 0.6, 0.3
REST = "Everything else"
# Of a spin nobody outside sees when it was called, nor which hand was late when it had stopped.
ONE_FROM_OUTSIDE = (("Called late", "Seeing it"), ("Held after it stopped", "Rotation stops to pull"))
# Names, feet, feet of each pilot, and of the usual student.
Line = tuple[tuple[str, ...], float, Floats, float]


@dataclass(frozen=True, slots=True)
class AccountLine:
    """names: of the steps that it is, several where they cannot be told apart. doubt_ft: half of its 95 %
    interval. usual_ft: what the usual student pays for the same."""

    names: tuple[str, ...]
    height_ft: float
    doubt_ft: float
    usual_ft: float = 0.0


@dataclass(frozen=True, slots=True)
class Account:
    """Feet, start to lowest: flown_ft = best_ft + the lines, exactly. The last line is what is too little or
    too unsure to name, and what the model leaves. bound_ft: the mathematical bound, never a technique.
    from_recording: or from what was noted by hand."""

    flown_ft: float
    best_ft: float
    lines: tuple[AccountLine, ...]
    bound_ft: float | None
    from_recording: bool


def account_of_fit(fit: Fit, lost_ft: float) -> Account | None:
    """lost_ft: as measured. None where the fit is poor, for a figure that is no recovery, and where the steps
    are no share of the loss."""
    if not fit.good or figure_of(fit.compared.planned.key).situation is None:
        return None
    chance = np.random.default_rng(7)
    many = STAND_FOR
    names = list(fit.numbers)
    middle = np.array([number.value for number in fit.numbers.values()])
    # The middle one first: its steps are the account, the others its doubt.
    drawn = middle + np.vstack(
        [np.zeros(len(middle)), chance.multivariate_normal(np.zeros(len(middle)), fit.covariance, many - 1)]
    )
    pilots = {name: np.full(many, value[0]) for name, value in usual_numbers("student").items()}
    for at, name in enumerate(names):
        pilots[name] = np.clip(drawn[:, at], RANGES[name].least, RANGES[name].most)
    return _account(fit.planned, fit.compared.conditions, pilots, lost_ft, fit.off_ft, True)


def account_of_notes(attempt: Attempt, conditions: Conditions) -> Account | None:
    """None until start and lowest height are noted, where none of the pilots could have flown it, for a
    figure that is no recovery, and where the steps are no share of the loss."""
    start, lost = attempt.start_ft, None if attempt.loss_is_offered else attempt.lost_ft
    if start is None or lost is None or figure_of(attempt.planned.key).situation is None:
        return None
    planned = attempt.planned.model_copy(update={"start_ft": start})
    seen = [fault for fault in figure_of(attempt.planned.key).faults if fault.key in attempt.faults]
    pilots = _asked(seen)
    course = fly(planned, conditions, pilots, start * FT)
    off = [((start - course.lowest / FT) - lost) / NOTED_FT]
    if attempt.recover_ft is not None:
        off.append((course.recovery_m / FT - attempt.recover_ft) / NOTED_FT)
    if attempt.most_g is not None and attempt.most_g > 1.3:
        off.append((course.most_g - attempt.most_g) / NOTED_G)
    likely = np.exp(-0.5 * np.sum(np.square(off), axis=0)) * (course.made > 0)
    if likely.sum() <= 0.0 or likely.sum() ** 2 / (likely**2).sum() < AGREE:
        return None
    shares = likely / likely.sum()
    # Spread evenly over them: each stands as often as it is likely.
    taken = np.searchsorted(np.cumsum(shares), (np.arange(LOOKED_AT) + 0.5) / LOOKED_AT)
    those = {name: value[np.minimum(taken, ASKED - 1)] for name, value in pilots.items()}
    return _account(planned, conditions, those, lost, NOTED_FT, False)


def _asked(seen: Sequence[Fault]) -> dict[str, Floats]:
    """Pilots of every habit, usual and at fault, the same every time; all of them with the faults that were
    seen, each from half to one and a half times as much as it is taken to be."""
    chance = np.random.default_rng(11)
    pilots = {name: np.full(ASKED, value[0]) for name, value in usual_numbers("student").items()}
    for name, number in STUDENT.items():
        width = held(name)
        if width is None:
            continue
        away = chance.normal(0.0, width, ASKED)
        if number.varies <= 0.0:
            faulty = chance.random(ASKED) < AT_FAULT
            away = np.where(faulty, chance.uniform(-FAULTY, FAULTY, ASKED) * width, 0.0)
        pilots[name] = number.usual + away
    for fault in seen:
        for name, change in fault.numbers.items():
            pilots[name] = pilots[name] + change * chance.uniform(*AS_MUCH, ASKED)
    return {n: np.clip(value, RANGES[n].least, RANGES[n].most) for n, value in pilots.items()}


def _account(
    planned: PlannedFigure,
    conditions: Conditions,
    pilots: Mapping[str, Floats],
    lost_ft: float,
    noise_ft: float,
    from_recording: bool,
) -> Account | None:
    usual = usual_numbers("student")
    with_usual = {name: np.append(value, usual[name][0]) for name, value in pilots.items()}
    everybody = stepwise(planned, conditions, with_usual)
    found, usual_steps = everybody.of(slice(-1)), np.nan_to_num(everybody.steps_ft[:, -1])
    # Whoever lost another height did not fly this, and who turns on for ever tells nothing.
    whole = np.isfinite(found.steps_ft).min(axis=0) & (
        np.abs(found.steps_ft).max(axis=0) < MOST_STEP * lost_ft
    )
    whole &= np.abs(found.flown_ft - lost_ft) < max(NEAR * lost_ft, NEAR_FT)
    if whole.sum() < AGREE or (from_recording and not whole[0]):
        return None
    steps = found.steps_ft[:, whole]
    best = float(found.school_best_ft[whole].mean())
    # What changes nothing in this figure is none of its causes.
    moves = (np.abs(steps).max(axis=1) > 0.0) | (usual_steps != 0.0)
    steps, usual_steps = steps[moves], usual_steps[moves]
    names = [(name,) for name, moved in zip(found.names, moves, strict=True) if moved]
    # From a recording the first pilot is the likeliest one; from notes all are alike.
    middle = steps[:, 0] if from_recording else steps.mean(axis=1)
    bests = best_of(planned, conditions, {name: float(value[0]) for name, value in found.left.items()})
    bound = None
    if bests is not None:
        school, bound = best, bests[1]
        best = min(bests[0], school)
        names.append((SCHOOLS_CHOICE,))
        middle = np.append(middle, school - best)
        steps = np.vstack([steps, found.school_best_ft[whole] - best])
        usual_steps = np.append(usual_steps, school - best)
    if lost_ft <= 0.0 or np.abs(middle).max(initial=0.0) > lost_ft:
        return None
    lines = _told_apart(names, middle, steps, usual_steps, ALONE * lost_ft)
    rest = lost_ft - best - sum(line[1] for line in lines)
    kept, left_over = [], np.zeros(steps.shape[1])
    for name, height, each, usually in lines:
        doubt = _doubt(each)
        if abs(height) < max(NOTHING_FT, OF_DOUBT * doubt):
            rest += height
            left_over = left_over + each
        else:
            kept.append(AccountLine(name, height, doubt, usually))
    doubt = float(np.hypot(_doubt(left_over), OF_95 * noise_ft))
    return Account(lost_ft, best, (*kept, AccountLine((REST,), rest, doubt)), bound, from_recording)


def _doubt(each: Floats) -> float:
    """Half of the interval in which 95 of 100 pilots lie."""
    least, most = np.percentile(each, OF_100)
    return float(most - least) / 2.0


def _told_apart(
    names: Sequence[tuple[str, ...]], middle: Floats, steps: Floats, usual: Floats, most_ft: float
) -> list[Line]:
    """Neighbours in time whose sum is much surer than either, or of which one is surer by no other way, are
    one. most_ft: doubt of a step that stands by itself."""
    lines = [(name, float(middle[at]), steps[at], float(usual[at])) for at, name in enumerate(names)]
    for pair in ONE_FROM_OUTSIDE:
        at = next((n for n, line in enumerate(lines[:-1]) if line[0] == pair[:1]), -1)
        if at >= 0 and lines[at + 1][0] == pair[1:]:
            lines[at : at + 2] = [_joined(lines[at], lines[at + 1])]
    while len(lines) > 1:
        best, at = 1.0, -1
        for first in range(len(lines) - 1):
            apart = max(_doubt(lines[first][2]), _doubt(lines[first + 1][2]))
            share = _doubt(lines[first][2] + lines[first + 1][2]) / max(apart, 1e-9)
            alike = apart > CLEAR_FT and share < TOGETHER
            if (alike or apart > most_ft) and share < best:
                best, at = share, first
        if at < 0:
            return lines
        lines[at : at + 2] = [_joined(lines[at], lines[at + 1])]
    return lines


def _joined(one: Line, other: Line) -> Line:
    return one[0] + other[0], one[1] + other[1], one[2] + other[2], one[3] + other[3]
