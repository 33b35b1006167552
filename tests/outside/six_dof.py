"""A light aircraft flown in a general-purpose six-degree-of-freedom flight-dynamics library, for comparison
with the point mass.

The library and its aircraft files are used as they are, in the tests only; nothing of them is copied. A small
autopilot holds a commanded load factor, the wings and the ball. What the card needs (glide, thrust) is
measured from flights in the library itself."""

import math
import os
import tempfile
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np

from keelturn.air import DayAir
from keelturn.aircraft.airframe import Airframe
from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.flight import Start, begin, body_of
from keelturn.units import DEG, FT, G0

# A single-engined light aircraft among the files that the library ships.
AIRCRAFT_FILE = "c172x"
RATE = 120
AIR = DayAir()
FPS = FT


@dataclass
class Flight:
    """Columns over time: seconds, height m, TAS m/s, path rad, bank rad, load factor along the lift vector,
    roll rate about the flight path rad/s; attitude, as a gyro has it: pitch, bank, heading rad."""

    t: np.ndarray
    height: np.ndarray
    tas: np.ndarray
    path: np.ndarray
    bank: np.ndarray
    n: np.ndarray
    p: np.ndarray
    theta: np.ndarray
    phi: np.ndarray
    psi: np.ndarray

    def since(self, seconds: float) -> "Flight":
        keep = self.t >= seconds
        return Flight(*(column[keep] for column in vars(self).values()))


def fly(
    kt: float,
    path_deg: float,
    command,
    until,
    bank_deg: float = 0.0,
    throttle: float = 0.0,
    height_ft: float = 8000.0,
) -> Flight:
    """command(t, now) -> (load factor, bank to hold in rad or None, roll rate or None). until(t, now) ends
    it. now: path, bank, tas."""
    import jsbsim

    here = Path.cwd()
    os.chdir(tempfile.mkdtemp())  # the library drops a file where it stands
    try:
        sim = jsbsim.FGFDMExec(None)
        sim.set_debug_level(0)
        sim.load_model(AIRCRAFT_FILE)
        sim.set_dt(1.0 / RATE)
        for name, value in (
            ("h-sl-ft", height_ft),
            ("vt-kts", kt),
            ("gamma-deg", path_deg),
            ("phi-deg", bank_deg),
            ("alpha-deg", 2.0),
        ):
            sim[f"ic/{name}"] = value
        sim.run_ic()
        sim["propulsion/set-running"] = -1
        sim["fcs/mixture-cmd-norm"], sim["fcs/throttle-cmd-norm"] = 0.9, throttle
        rows, held = [], 0.0
        for k in range(RATE * 60):
            t = k / RATE
            now = (sim["flight-path/gamma-rad"], sim["attitude/phi-rad"], sim["velocities/vt-fps"] * FPS)
            n, bank, roll = command(t, now)
            error = n + sim["accelerations/n-pilot-z-norm"]
            held = max(-2.0, min(2.0, held + error / RATE))
            sim["fcs/elevator-cmd-norm"] = max(
                -1.0, min(1.0, -(0.30 * error + 0.80 * held) + 0.35 * sim["velocities/q-rad_sec"])
            )
            p = sim["velocities/p-rad_sec"]
            aileron = 2.0 * (roll - p) if roll is not None else 1.5 * (bank - now[1]) - 0.5 * p
            sim["fcs/aileron-cmd-norm"] = max(-1.0, min(1.0, aileron))
            sim["fcs/rudder-cmd-norm"] = max(-1.0, min(1.0, 3.0 * sim["aero/beta-rad"]))
            sim.run()
            north, east, down = (sim[f"velocities/v-{axis}-fps"] * FPS for axis in ("north", "east", "down"))
            attitude = (sim[f"attitude/{name}-rad"] for name in ("theta", "phi", "psi"))
            rows.append((t, sim["position/h-sl-ft"] * FT, east, north, -down, *_lift_axis(sim), *attitude))
            if until(t, now):
                break
        return _measured(np.array(rows))
    finally:
        os.chdir(here)


def _lift_axis(sim) -> tuple[float, float, float]:
    """The aircraft's up in east, north, up: body z from the Euler angles."""
    phi, theta, psi = (sim[f"attitude/{name}-rad"] for name in ("phi", "theta", "psi"))
    north = -(math.cos(phi) * math.sin(theta) * math.cos(psi) + math.sin(phi) * math.sin(psi))
    east = -(math.cos(phi) * math.sin(theta) * math.sin(psi) - math.sin(phi) * math.cos(psi))
    return east, north, math.cos(phi) * math.cos(theta)


def _measured(rows: np.ndarray) -> Flight:
    """Load factor and bank from the track alone: what bends the flight path is lift, wherever it comes
    from."""
    t, height, velocity, up_axis = rows[:, 0], rows[:, 1], rows[:, 2:5], rows[:, 5:8]
    tas = np.linalg.norm(velocity, axis=1)
    u = velocity / tas[:, None]
    lift = up_axis - (up_axis * u).sum(axis=1)[:, None] * u
    lift /= np.linalg.norm(lift, axis=1)[:, None]
    bend = np.gradient(u, t, axis=0) * (tas / G0)[:, None]
    bend[:, 2] += 1.0 - u[:, 2] ** 2
    bend[:, 0] -= u[:, 2] * u[:, 0]
    bend[:, 1] -= u[:, 2] * u[:, 1]
    n = (bend * lift).sum(axis=1)
    bank = np.array([eq.bank_of((0.0, *u[i], *lift[i], 0.0, 0.0, 0.0, 0.0)) for i in range(len(t))])
    across = np.cross(u, lift)
    p = (np.gradient(lift, t, axis=0) * across).sum(axis=1)
    return Flight(t, height, tas, np.arcsin(np.clip(u[:, 2], -1, 1)), bank, n, p, *rows[:, 8:11].T)


def held_path(path_deg: float):
    return lambda t, now: (math.cos(path_deg * DEG), 0.0, None)


@lru_cache(maxsize=1)
def measured_aircraft() -> Airframe:
    """The card's numbers as the library's aircraft has them: the drag parabola from idle glides, thrust at
    two speeds from full throttle. EAS at sea level from the density where it was measured."""
    columns, drag = [], []
    for kt, path in ((60, -6), (70, -6), (80, -8), (95, -10), (110, -13), (120, -16)):
        flight = fly(kt, path, held_path(path), lambda t, now: t > 6.0).since(4.0)
        sigma = AIR.density(float(flight.height.mean())) / 1.225
        v2 = float((flight.tas**2).mean()) * sigma
        columns.append((v2, float((flight.n**2).mean()) / v2))
        drag.append(-float(np.polyfit(flight.t, flight.tas, 1)[0]) / G0 - float(np.sin(flight.path).mean()))
    (a, b), *_ = np.linalg.lstsq(np.array(columns), np.array(drag), rcond=None)
    thrust = []
    for kt, path in ((75.0, 3.0), (125.0, -2.0)):
        flight = fly(kt, path, held_path(path), lambda t, now: t > 9.0, throttle=1.0, height_ft=3000).since(
            7.0
        )
        sigma = AIR.density(float(flight.height.mean())) / 1.225
        v2 = float((flight.tas**2).mean()) * sigma
        surplus = float(np.polyfit(flight.t, flight.tas, 1)[0]) / G0 + float(np.sin(flight.path).mean())
        thrust.append(
            (
                math.sqrt(v2),
                (surplus + a * v2 + b * float((flight.n**2).mean()) / v2) / (1.132 * sigma - 0.132),
            )
        )
    (slow, most), (fast, least) = thrust
    slope = (most - least) / (fast - slow)
    return Airframe(
        stall=20.0,
        negative_share=0.7,
        best_glide=(b / a) ** 0.25,
        glide_ratio=1.0 / (2.0 * math.sqrt(a * b)),
        law="fixed pitch",
        thrust=most + slope * slow,
        thrust_slope=slope,
        roll_left=2.0,
        roll_right=2.0,
        roll_at=50.0,
    )


def point_mass(flight: Flight, throttle: float = 0.0) -> np.ndarray:
    """The engine's equations given the same load-factor and roll histories, from where the flight begins:
    states over its times."""
    body = body_of(measured_aircraft(), AIR)
    y = begin(Start(flight.height[0], flight.tas[0], flight.path[0], flight.bank[0]), 1).states[0]
    leg = np.zeros(eq.LEG_COLUMNS)
    leg[eq.G_SHARE], leg[eq.POWER], leg[eq.DRAG], leg[eq.END], leg[eq.ONSET] = (
        1e9,
        throttle,
        1.0,
        eq.BY_ROLL,
        1.0,
    )
    states = [y.copy()]

    def rate(t: float, y: np.ndarray) -> np.ndarray:
        n, p = np.interp(t, flight.t, flight.n), np.interp(t, flight.t, flight.p)
        leg[eq.G_CMD] = n
        return engine.rates_of(y, 0.0, leg, np.array([n, throttle, p, 1.0, 0.0, 0.0, 0.0, n]), body)[
            : eq.STATES
        ]

    for t, after in zip(flight.t, flight.t[1:], strict=False):
        h = after - t
        k1 = rate(t, y)
        k2 = rate(t + h / 2, y + h / 2 * k1)
        k3 = rate(t + h / 2, y + h / 2 * k2)
        k4 = rate(after, y + h * k3)
        y = y + h / 6 * (k1 + 2 * k2 + 2 * k3 + k4)
        states.append(y.copy())
    return np.array(states)
