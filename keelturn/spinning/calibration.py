"""A card's spin figures, and the motion that gives them: seconds of a turn give the rate that the rotation
settles at, feet of a further turn the angle of attack, turns to stop the rudder, feet of one turn the entry.

Flown by the reference pilot (how the figures of a flight manual are taken to have been flown: promptly, 2.5 g
at 2 g/s). What the card says and the motion cannot give stays a difference, and both are shown."""

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np

from keelturn.air import RHO0, DayAir
from keelturn.aircraft.airframe import Airframe
from keelturn.aircraft.card import SpinMass
from keelturn.figures.spins import SLOWED
from keelturn.motion.engine import S_HEIGHT
from keelturn.motion.flight import Start, begin, body_of, fly_fan
from keelturn.motion.legs import Floats, Numbers, compile_legs
from keelturn.recoveries.schools import EASE_OUT
from keelturn.spinning import controls, engine
from keelturn.spinning.engine import M_CALLED, M_ENDED
from keelturn.spinning.equations import BACK, plate
from keelturn.spinning.flight import Spinner, spin
from keelturn.units import DEG, FT

# How the reference pilot pulls out and moves the controls (docs/model.md).
REFERENCE_PULL: Numbers = {
    "lift_share": 0.92,
    "pull_g": 2.5,
    "onset_g_s": 2.0,
    "lag_s": 0.3,
    "throttle_start": 0.0,
    "throttle_s": 0.5,
    "roll_share": 1.0,
    "roll_acc_deg_s2": 240.0,
}
REFERENCE_HAND_S, REFERENCE_GAP_S, REFERENCE_STICK, REFERENCE_CENTRE_S = 0.2, 0.3, -0.4, 0.2
# What is fitted, and how much a figure counts that is no more than a guess.
FITTED, LOOSE_COUNTS = ("one_turn_ft", "further_turn_ft", "turn_s", "recovery_turns"), 0.1
# Angles of attack of a developed spin that are believed, least and most; ranges of the other three, as
# factors of the usual ones. Common practice, no published source.
LEAST_ALPHA, MOST_ALPHA = 27.0 * DEG, 62.0 * DEG
USUAL_GROWTH, USUAL_RUDDER = 1.8, 1.2
GROWTH_RANGE, RUDDER_RANGE, RATE_RANGE = (0.35, 2.5), (0.15, 5.0), (0.4, 2.0)
# How far full power, and full aileron against the turn, lift the nose in the spin, by where the mass lies.
POWER_LIFTS = 14.0 * DEG
AILERON_LIFTS: Mapping[SpinMass, float] = {"along the fuselage": 7.0 * DEG, "along the wings": -3.0 * DEG}


@dataclass(frozen=True, slots=True)
class SpinFigures:
    """What a card or the motion says of a spin: feet with recovery of one turn and of each further turn,
    seconds of a turn, turns to stop, degrees that the path points down when it stops."""

    one_turn_ft: float
    further_turn_ft: float
    turn_s: float
    recovery_turns: float
    path_down_deg: float


def calibrated(
    said: SpinFigures,
    frame: Airframe,
    at_ft: float,
    mass: SpinMass,
    loose: Collection[str] = (),
    like: Spinner | None = None,
) -> Spinner:
    """The spinner whose motion comes nearest to what is said, at the card's weight in standard air. loose:
    names of the figures that are no more than a guess. like: one that is known to come near, from which alone
    it is looked for.

    Least squares of the relative differences over the four numbers (scipy trf, bounded)."""
    from scipy.optimize import least_squares

    lifts = AILERON_LIFTS[mass]
    counts = np.array([LOOSE_COUNTS if name in loose else 1.0 for name in FITTED])
    asked = np.array([getattr(said, name) for name in FITTED])

    def made(z: Floats) -> Spinner:
        return _spinner(z, said, frame, at_ft, lifts)

    def off(z: Floats) -> Floats:
        found = figures_of(made(z), frame, at_ft)
        difference: Floats = np.array([getattr(found, name) for name in FITTED]) / asked - 1.0
        return np.where(np.isfinite(difference), counts * difference, 10.0)

    bounds = np.array(
        [(LEAST_ALPHA, MOST_ALPHA), *(np.log(r) for r in (RATE_RANGE, RUDDER_RANGE, GROWTH_RANGE))]
    )
    if like is not None:
        rudder, growth = math.log(like.rudder / USUAL_RUDDER), math.log(like.growth / USUAL_GROWTH)
        starts = [(math.asin(like.reference), 0.0, rudder, growth)]
    else:
        # From a strong rudder down, steep and flat: a spin that does not stop tells nothing.
        starts = [
            (alpha, 0.0, 1.0, 0.0)
            for alpha in (_alpha_of_descent(said, frame, at_ft), 32.0 * DEG, 48.0 * DEG)
        ]
    found = []
    for start in starts:
        first = np.clip(np.array(start), bounds[:, 0] + 1e-3, bounds[:, 1] - 1e-3)
        found.append(
            least_squares(
                off,
                first,
                bounds=(bounds[:, 0], bounds[:, 1]),
                diff_step=np.full(4, 1e-3),
                x_scale=[0.2, 0.3, 0.5, 0.5],
                max_nfev=40,
            )
        )
        if found[-1].cost < 1e-6:
            break
    return made(min(found, key=lambda fit: fit.cost).x)


def _alpha_of_descent(said: SpinFigures, frame: Airframe, at_ft: float) -> float:
    """Where a flat plate falls as fast as the card's feet and seconds of a turn."""
    sigma = DayAir().density(at_ft * FT) / RHO0
    descent = said.further_turn_ft * FT / said.turn_s * math.sqrt(sigma)
    angles = np.linspace(LEAST_ALPHA, MOST_ALPHA, 60)
    falls = np.array([frame.stall / math.sqrt(plate(a) * math.sin(a)) for a in angles])
    return float(angles[int(np.argmin(np.abs(falls - descent)))])


def _spinner(z: Floats, said: SpinFigures, frame: Airframe, at_ft: float, aileron_lifts: float) -> Spinner:
    """z: angle of attack in the spin, logarithms of rate, rudder and growth against the usual ones."""
    alpha = float(z[0])
    sigma = DayAir().density(at_ft * FT) / RHO0
    q = 1.0 / (plate(alpha) * math.sin(alpha))
    rate = 2.0 * math.pi / said.turn_s
    return Spinner(
        lifts_at=frame.stall,
        moments_at=frame.stall,
        growth=USUAL_GROWTH * math.exp(z[3]),
        rudder=USUAL_RUDDER * math.exp(z[2]),
        equilibrium=rate / (frame.stall * math.sqrt(q / sigma)) * math.exp(z[1]),
        inertia=(alpha - BACK) * q / rate**2,
        reference=math.sin(alpha),
        power_lifts=POWER_LIFTS,
        aileron_lifts=aileron_lifts,
    )


def reference_inputs(turns: Floats) -> Floats:
    """Inputs of the reference pilot, for each number of turns (N,), to the right."""
    inputs = np.zeros((len(turns), controls.INPUT_COLUMNS))
    around = 2.0 * np.pi * turns
    inputs[:, controls.SIDE] = inputs[:, controls.STICK_IN] = inputs[:, controls.RUDDER_IN] = 1.0
    inputs[:, controls.FIRST_AT] = np.minimum(2.0 * np.pi, around)
    inputs[:, controls.PLANNED_AT] = inputs[:, controls.CALL_AT] = around
    inputs[:, controls.LATER_AT] = np.inf
    inputs[:, controls.THROTTLE_S], inputs[:, controls.HAND_S] = 0.5, REFERENCE_HAND_S
    inputs[:, controls.RUDDER_TO], inputs[:, controls.STICK_TO] = -1.0, REFERENCE_STICK
    inputs[:, controls.STICK_S], inputs[:, controls.CENTRE_S] = REFERENCE_GAP_S, REFERENCE_CENTRE_S
    return inputs


COUNTED = np.array([1.0, 2.0, 4.0])


def figures_of(spinner: Spinner, frame: Airframe, at_ft: float, inverted: bool = False) -> SpinFigures:
    """What the motion gives: one turn with recovery; each further turn, in feet and seconds, from the second
    to the fourth; turns to stop and the path then, after one turn. nan where it does not stop."""
    air = DayAir()
    body = body_of(frame, air)
    start_m = at_ft * FT
    tas = SLOWED.speed_share * spinner.lifts_at / math.sqrt(air.density(start_m) / RHO0)
    many = len(COUNTED)
    at_stall = begin(Start(np.full(many, start_m), tas, bank=np.pi if inverted else 0.0), many)
    spun = spin(spinner, body, reference_inputs(COUNTED), at_stall, inverted)
    legs, _ = compile_legs(EASE_OUT, REFERENCE_PULL, frame.stall, many)
    summary, _ = fly_fan(spun.held, legs, body)
    lost = start_m - spun.height(M_ENDED) - summary[:, :, S_HEIGHT].sum(axis=1)
    stopped = spun.told[:, engine.T_OUTCOME] != engine.NEVER_STOPPED
    lost = np.where(stopped, lost, np.nan)
    called, path = spun.seconds(M_CALLED), np.degrees(np.arcsin(np.clip(-spun.held.states[:, 3], -1.0, 1.0)))
    turns = float(spun.told[0, engine.T_TURNS])
    return SpinFigures(
        float(lost[0]) / FT,
        float(lost[2] - lost[1]) / 2.0 / FT,
        float(called[2] - called[1]) / 2.0,
        turns if turns >= 0.0 else math.nan,
        float(path[0]),
    )
