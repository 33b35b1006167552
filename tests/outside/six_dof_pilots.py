"""Nose-low recoveries flown by a pilot of our own in the six-degree-of-freedom library, written as a recorder
would, and fitted: what the model finds where it did not make the flight."""

import math
from dataclasses import dataclass

import numpy as np

from keelturn.air import RHO0, tas_from_eas
from keelturn.assess.account import Account, account_of_fit
from keelturn.assess.fit import Fit, fit
from keelturn.flying.conditions import Conditions
from keelturn.flying.numbers import ias_along
from keelturn.recording.cleaning import clean
from keelturn.recording.finding import Found
from keelturn.recording.measuring import Measured, measure
from keelturn.recording.table import Column, Recording
from keelturn.recording.ways import InPlan
from keelturn.units import DEG, FT
from tests.flights import conditions, figure
from tests.outside.six_dof import AIR, Flight, fly, measured_aircraft

SETTLE_S, RATE_HZ, PATH_DEG, IAS_KT = 3.0, 10.0, -30.0, 75.0


@dataclass(frozen=True)
class Flown:
    """What the pilot of the library did: delay s, pull g, onset g/s, roll rad/s from this bank (deg) to the
    one at which the pull begins; and what came of it."""

    delay_s: float
    pull_g: float
    onset_g_s: float
    roll: float
    bank_deg: float
    lost_ft: float
    fit: Fit
    measured: Measured
    account: Account | None


def in_the_library() -> Conditions:
    """Our own conditions with the library's aircraft in them."""
    setting = conditions()
    vars(setting)["frame"] = measured_aircraft()
    vars(setting)["air"] = AIR
    return setting


def recovery(delay_s: float, pull_g: float, onset_g_s: float, roll: float, bank_deg: float) -> Flight:
    level = math.cos(PATH_DEG * DEG)
    bank = bank_deg * DEG
    done: list[float] = []

    def command(t: float, now: tuple[float, float, float]) -> tuple[float, float | None, float | None]:
        since = t - SETTLE_S - delay_s
        if since < 0.0:
            return level, bank, None
        if not done and abs(now[1]) > 12.0 * DEG:
            return 1.0, None, -math.copysign(roll, bank)
        if not done:
            done.append(t)
        return min(pull_g, 1.0 + onset_g_s * (t - done[0])), 0.0, None

    speed = tas_from_eas(IAS_KT, AIR.density(8000.0 * FT))
    return fly(speed, PATH_DEG, command, lambda t, now: t > SETTLE_S + 1.0 and now[0] > 1.0 * DEG, bank_deg)


def as_recorded(flight: Flight, setting: Conditions, seed: int) -> Recording:
    """As a recorder of usual quality would have written it."""
    chance = np.random.default_rng(seed)
    times = np.arange(flight.t[0], flight.t[-1], 1.0 / RATE_HZ)

    def noisy(values: np.ndarray, noise: float) -> np.ndarray:
        return np.interp(times, flight.t, values) + chance.normal(0.0, noise, len(times))

    eas = flight.tas * np.sqrt(np.array([AIR.density(h) for h in flight.height]) / RHO0)
    return Recording(
        {
            Column.TIME: times,
            Column.HEIGHT: noisy(flight.height / FT, 4.0),
            Column.IAS: noisy(ias_along(setting, eas, flight.height), 0.7),
            Column.G: noisy(flight.n, 0.03),
            Column.PITCH: noisy(flight.theta / DEG, 0.5),
            Column.BANK: noisy(flight.phi / DEG, 0.5),
            Column.HEADING: noisy(np.unwrap(flight.psi) / DEG, 0.5),
        }
    )


def flown(delay_s: float, pull_g: float, onset_g_s: float, roll: float, bank_deg: float, seed: int) -> Flown:
    flight, setting = recovery(delay_s, pull_g, onset_g_s, roll, bank_deg), in_the_library()
    recording = as_recorded(flight, setting, seed)
    eas = flight.tas * np.sqrt(np.array([AIR.density(h) for h in flight.height]) / RHO0)
    at = int(np.searchsorted(flight.t, SETTLE_S))
    planned = figure(
        "nose_low",
        start_ft=float(flight.height[at] / FT),
        entry_ias=float(ias_along(setting, eas[at : at + 1], flight.height[at : at + 1])[0]),
        side="right" if bank_deg > 0 else "left",
        bank_deg=abs(bank_deg),
        path_deg=PATH_DEG,
        pull_g=3.0,
        power=0.0,
    )
    cleaned = clean(recording, setting.air)
    first = int(np.searchsorted(cleaned.recording.time, SETTLE_S))
    found = Found(first, len(cleaned.recording) - 1, planned, "f1", InPlan.PLANNED, 1.0, ())
    measured = measure(found, cleaned, setting)
    fitted = fit(found, measured, cleaned, setting)
    lost = float(flight.height[at] - flight.height.min()) / FT
    return Flown(
        delay_s,
        pull_g,
        onset_g_s,
        roll,
        bank_deg,
        lost,
        fitted,
        measured,
        account_of_fit(fitted, measured.lost_ft),
    )


def cost_of(one: Flown, *names: str) -> float:
    """Feet of the lines that are these steps."""
    assert one.account is not None
    return sum(line.height_ft for line in one.account.lines if set(line.names) & set(names))
