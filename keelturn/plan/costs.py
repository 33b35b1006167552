"""What one figure costs: the same programme flown by the usual pilot with a trace, or by many pilots without."""

from dataclasses import dataclass

import numpy as np

from keelturn.air import RHO0, cas_from_eas, eas_from_cas, standard_pressure
from keelturn.figures.catalogue import figure_of
from keelturn.motion import engine
from keelturn.motion.flight import Start, fly_fan, fly_one
from keelturn.motion.legs import Floats, Leg, Numbers, compile_legs
from keelturn.plan.conditions import Conditions
from keelturn.plan.document import PlannedFigure
from keelturn.plan.pilots import FIXED, Who, usual_numbers
from keelturn.plan.spin import spin_phases
from keelturn.recoveries.schools import School, school_in_use
from keelturn.units import DEG, FT


@dataclass(frozen=True, slots=True)
class Programme:
    """before: parts counted without the engine (name, height m, seconds), arrays (N,); recovery begins at part
    `recovery_from` of before + legs' parts. start, legs, leg_parts: what the engine flies."""

    before: tuple[tuple[str, Floats, Floats], ...]
    recovery_from: int
    start: Start
    legs: Floats
    leg_parts: tuple[str, ...]


def entry_speed(planned: PlannedFigure, conditions: Conditions) -> float:
    """IAS at the gate in the aircraft's unit: as planned, else the gate's share of its speed today, at most Va."""
    if planned.entry_ias is not None:
        return planned.entry_ias
    gate = figure_of(planned.key).gate
    base = {
        "stall": conditions.stall.value,
        "manoeuvring": conditions.manoeuvring.value,
        "glide": conditions.card.speed_read(conditions.frame.best_glide),
    }[gate.speed_base]
    return min(gate.speed_share * base, conditions.manoeuvring.value)


def tas_at(conditions: Conditions, ias: float, height_m: float) -> float:
    """m/s true from the aircraft's indicated speed at this height."""
    pressure = standard_pressure(conditions.air.pressure_height(height_m))
    eas = eas_from_cas(conditions.card.speed_si(ias), pressure)
    return float(eas * (RHO0 / conditions.air.density(height_m)) ** 0.5)


def ias_of(conditions: Conditions, eas: float, height_m: float) -> float:
    pressure = standard_pressure(conditions.air.pressure_height(height_m))
    return conditions.card.speed_read(cas_from_eas(eas, pressure))


def school_of(planned: PlannedFigure, conditions: Conditions) -> School | None:
    figure = figure_of(planned.key)
    return None if figure.situation is None else school_in_use(figure.situation, planned.school, conditions.card)


def programme(planned: PlannedFigure, conditions: Conditions, pilot: Numbers, start_m: float) -> Programme:
    """Raises ValueError when the aircraft's card lacks what the figure needs."""
    figure = figure_of(planned.key)
    pilots = len(np.atleast_1d(np.asarray(pilot["delay_s"])))
    sign = -1.0 if planned.side == "left" else 1.0
    numbers: dict[str, float | Floats] = {**FIXED, **pilot, "throttle_start": figure.throttle}
    numbers.update({name: planned.parameter(name) for name in figure.parameters})
    if "pull_g" in figure.parameters:
        numbers["pull_g"] = planned.parameter("pull_g") + np.asarray(pilot["pull_g"])
    if "ease_g" in figure.parameters:
        numbers["ease_g"] = planned.parameter("ease_g") + np.asarray(pilot["ease_error_g"])
    if "bank_deg" in figure.parameters:
        numbers["bank_to_side_deg"] = sign * planned.parameter("bank_deg")
    school = school_of(planned, conditions)
    legs: tuple[Leg, ...] = school.legs if school is not None else figure.legs
    if school is not None:
        numbers.update(school.numbers)
    before: tuple[tuple[str, Floats, Floats], ...] = ()
    recovery_from = 0
    tas = tas_at(conditions, entry_speed(planned, conditions), start_m)
    if figure.opening == "spin":
        if conditions.spin is None:
            raise ValueError(f"{figure.name}: the card of {conditions.card.name} has no spin figures to compute from")
        phases = spin_phases(conditions.spin, conditions.weight_lb, conditions.air, start_m, planned.parameter("turns"),
                             planned.side == "left", numbers)
        before, recovery_from = phases.parts, phases.recovery_from
        lost = sum((part[1] for part in before), np.zeros(pilots))
        start = Start(start_m - lost, phases.tas, phases.path, g=0.8, throttle=0.0)
    elif figure.opening == "upset":
        bank, path = planned.parameter("bank_deg"), planned.parameter("path_deg")
        numbers["g_before"] = max(0.5, np.cos(path * DEG))
        start = Start(start_m, tas, path * DEG, sign * bank * DEG, g=np.cos(path * DEG), throttle=figure.throttle)
    elif figure.opening == "stall":
        stall_tas = conditions.frame.stall * (RHO0 / conditions.air.density(start_m)) ** 0.5
        start = Start(start_m, stall_tas, g=1.0, throttle=0.0)
    else:
        kept = np.asarray(pilot["height_keeping_ft"]) * FT
        before = (("Height keeping", kept, np.zeros(pilots)),)
        start = Start(start_m - kept, tas, g=1.0, throttle=figure.throttle)
    compiled, parts = compile_legs(legs, numbers, conditions.frame.stall, pilots)
    return Programme(before, recovery_from, start, compiled, parts)


@dataclass(frozen=True, slots=True)
class Flown:
    """The usual pilot's figure. parts: (name, height lost ft, seconds), adding up to lost_ft exactly. most_rolling_g: None when
    nothing is rolled. profile: (seconds, feet above the start). track: (IAS, g). Speeds in the aircraft's unit."""

    parts: tuple[tuple[str, float, float], ...]
    lost_ft: float
    seconds: float
    exit_ias: float
    fastest_ias: float
    most_g: float
    most_rolling_g: float | None
    least_g: float
    limited: bool
    made: bool
    profile: tuple[tuple[float, float], ...]
    track: tuple[tuple[float, float], ...]


def fly_usual(planned: PlannedFigure, conditions: Conditions, who: Who = "student", **changed: float) -> Flown:
    """The figure as the usual pilot flies it from the planned height. `changed` adds to the pilot's numbers by name."""
    numbers = usual_numbers(who)
    for name, by in changed.items():
        numbers[name] = numbers[name] + by
    start_m = planned.start_ft * FT
    made = programme(planned, conditions, numbers, start_m)
    summary, rows = fly_one(made.start, made.legs, conditions.body)
    parts: dict[str, list[float]] = {}
    profile = [(0.0, 0.0)]
    clock = height = evenly = 0.0
    for name, lost, seconds in made.before:
        parts[name] = [float(lost[0]) / FT, float(seconds[0])]
        if seconds[0] > 0:
            clock, height = clock + float(seconds[0]), height - float(lost[0]) / FT
            profile.append((clock, height))
        else:
            # A part without seconds of its own (height let go while turning) happens evenly over the legs.
            evenly += float(lost[0]) / FT
    for name, leg in zip(made.leg_parts, summary, strict=True):
        part = parts.setdefault(name, [0.0, 0.0])
        part[0] -= float(leg[engine.S_HEIGHT]) / FT
        part[1] += float(leg[engine.S_SECONDS])
    thinned = rows[:: max(1, len(rows) // 40)]
    if len(rows):
        thinned = np.vstack([thinned, rows[-1:]])
    flown_s = max(1e-6, float(rows[-1, engine.R_TIME]))
    for row in thinned:
        still = evenly * (1.0 - float(row[engine.R_TIME]) / flown_s)
        profile.append((clock + float(row[engine.R_TIME]), float(row[engine.R_HEIGHT] - start_m) / FT + still))
    track = tuple((ias_of(conditions, float(r[engine.R_EAS]), float(r[engine.R_HEIGHT])), float(r[engine.R_G])) for r in thinned)
    rolling = made.legs[0, :, engine.END] == engine.BY_ROLL
    end_m = float(rows[-1, engine.R_HEIGHT])
    kept = tuple((name, lost, seconds) for name, (lost, seconds) in parts.items() if abs(lost) > 0.5 or seconds > 0)
    return Flown(
        parts=kept,
        lost_ft=sum(lost for _, lost, _ in kept),
        seconds=clock + float(rows[-1, engine.R_TIME]),
        exit_ias=ias_of(conditions, float(rows[-1, engine.R_EAS]), end_m),
        fastest_ias=max((ias for ias, _ in track), default=0.0),
        most_g=float(summary[:, engine.S_G_MOST].max()),
        most_rolling_g=float(summary[rolling, engine.S_G_MOST].max()) if rolling.any() else None,
        least_g=float(summary[:, engine.S_G_LEAST].min()),
        limited=bool(summary[:, engine.S_LIMITED].any()),
        made=bool((summary[:, engine.S_STATUS] == engine.MADE).all()),
        profile=tuple((round(t, 2), round(h, 1)) for t, h in profile),
        track=tuple((round(v, 1), round(g, 2)) for v, g in track),
    )


def fan_losses(planned: PlannedFigure, conditions: Conditions, numbers: Numbers, start_m: float) -> tuple[Floats, Floats]:
    """Height lost (m) from the start, and from where the recovery begins, to the lowest point: arrays (N,)."""
    made = programme(planned, conditions, numbers, start_m)
    summary = fly_fan(made.start, made.legs, conditions.body)
    lowest = summary[:, :, engine.S_LOWEST].min(axis=1)
    before_recovery = sum((part[1] for part in made.before[: made.recovery_from]), np.zeros(len(lowest)))
    return start_m - lowest, start_m - before_recovery - lowest
