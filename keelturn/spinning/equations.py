"""The spin's equations: the point mass of motion/equations.py with two states more, the angle of attack and
the rotation about the direction of flight. Compiled.

a angle of attack (rad, from the angle of no lift), p rotation rate about the flight direction u (rad/s, right
positive), x = (EAS / Vs)^2 with the stall of this side of the wing, q with the upright one, I = cos^2 a + J
sin^2 a:

    lift / weight = x cl(a),  drag / weight = x cd(a)      thrust along the nose
    da/dt = (stick + lifts - a) / tau                      lifts: K p^2 / q, power, aileron
    dp/dt = (A p (1 - (p / p_eq)^2) - D p + rudder + aileron - p dI/dt) / I

Below the stall lift and drag are the card's; beyond it a flat plate's normal force split by cos a and sin a.
Autorotation (A) acts when stalled, damping (D) when not, both with density times speed; rudder and aileron
with density times speed squared, the rudder weaker at a high angle, where the fin is blanketed. Form and
orders of size: flight mechanics textbooks, from memory; numbers fitted, see docs/model.md. No sideslip, no
oscillation."""

import math

from keelturn.aircraft.laws import drag_over_weight
from keelturn.compiling import compiled, inlined
from keelturn.motion.equations import (
    GLIDE,
    LX,
    LY,
    LZ,
    RATIO,
    STATES,
    UX,
    UY,
    UZ,
    V,
    thrust_over_weight,
)
from keelturn.units import DEG, G0

# State beyond that of the point mass: angle of attack, rotation rate, rotated so far (rad, in the spin's
# sense)
ALPHA, RATE, TURNED = STATES, STATES + 1, STATES + 2
SPIN_STATES = STATES + 3
# The spinner: one aircraft in one kind of spin today
(
    LIFTS_AT,
    MOMENTS_AT,
    GROWTH,
    RUDDER,
    EQUILIBRIUM,
    INERTIA,
    REFERENCE,
    POWER_LIFTS,
    AILERON_LIFTS,
) = range(9)
SPINNER_COLUMNS = 9

# Angles from no lift (rad): the stall, and where the stick holds the nose when nothing spins: back, neutral,
# fully forward.
STALL_ALPHA, BACK, NEUTRAL, FORWARD = 15.0 * DEG, 22.0 * DEG, 4.0 * DEG, -8.0 * DEG
MOST_ALPHA = 85.0 * DEG
# Share of the elevator that is left when the tail flies in the stalled wake.
STALLED_ELEVATOR = 0.7
# Normal force of the stalled wing over its most lift, and over which angles it gets there.
PLATE, FALLS_OVER = 0.95, 6.0 * DEG
# Over which angles beyond the stall the wing goes from damping the roll to driving it.
STALLS_OVER = 5.0 * DEG
# Rotation at which the lift is taken to cancel over a turn: which way it points at the end is not believed.
CANCELS_FROM = 60.0 * DEG
DAMPING = 6.0
# Rate at the stall that autorotation settles at, over that of the developed spin.
SLOWEST = 0.3
# Yaw inertia over roll inertia.
J = 2.0
# Share of the rudder lost by 45 degrees beyond the stall.
BLANKETED, BLANKETED_AT = 0.55, 60.0 * DEG
AILERON_ROLL, STALLED_AILERON = 1.0, 0.15
# Seconds in which the nose follows the stick at the stall speed.
FOLLOWS_S = 0.4


@inlined
def smooth(z):
    z = min(1.0, max(0.0, z))
    return z * z * (3.0 - 2.0 * z)


@inlined
def stalled_share(a):
    """0 with the wing flying, 1 when it drives the rotation."""
    return smooth((abs(a) - STALL_ALPHA) / STALLS_OVER)


@inlined
def depth(a, sin_a, spinner):
    """How fast the wing would drive the rotation against what it does in the developed spin: slower nearer
    the stall, faster when flatter."""
    within = math.asin(spinner[REFERENCE]) - STALL_ALPHA
    deep = (abs(a) - STALL_ALPHA) / within
    if deep >= 1.0:
        return sin_a / spinner[REFERENCE]
    return SLOWEST + (1.0 - SLOWEST) * max(0.0, deep)


@inlined
def plate(a):
    """Normal force of the stalled wing over its most lift."""
    return PLATE + (1.0 - PLATE) * math.exp(-(a - STALL_ALPHA) / FALLS_OVER)


@inlined
def lift_and_drag(a, eas, spinner, body):
    """Over weight."""
    lifts_at = spinner[LIFTS_AT]
    x = eas * eas / (lifts_at * lifts_at)
    steep = abs(a)
    side = 1.0 if a >= 0.0 else -1.0
    if steep <= STALL_ALPHA:
        share = steep / STALL_ALPHA
        drag = drag_over_weight(eas, x * share, body[GLIDE], body[RATIO])
        if share > 0.8:
            drag *= 1.0 + 0.1 * (share - 0.8) / 0.2
        return side * x * share, drag
    normal = plate(steep)
    at_stall = 1.1 * drag_over_weight(lifts_at, 1.0, body[GLIDE], body[RATIO])
    left = (at_stall - math.sin(STALL_ALPHA)) * math.exp(-(steep - STALL_ALPHA) / FALLS_OVER)
    return side * x * normal * math.cos(steep) / math.cos(STALL_ALPHA), x * (normal * math.sin(steep) + left)


@inlined
def held_by_the_stick(stick, a):
    """Where the stick (1 fully back, -1 fully forward) holds the angle of attack when nothing spins."""
    asked = NEUTRAL + ((BACK - NEUTRAL) if stick >= 0.0 else (NEUTRAL - FORWARD)) * stick
    return BACK + (asked - BACK) * (1.0 - (1.0 - STALLED_ELEVATOR) * stalled_share(a))


@inlined
def spin_rates(y, stick, rudder, aileron, power, was_stalled, spinner, body, sigma):
    """Time derivative of a spin's state (a tuple of SPIN_STATES). rudder and aileron: -1 to 1, right
    positive; power: 0 to 1. was_stalled: 1 when the recovery is from a spin."""
    speed, ux, uy, uz, lx, ly, lz = y[V], y[UX], y[UY], y[UZ], y[LX], y[LY], y[LZ]
    a, p = y[ALPHA], y[RATE]
    thin = math.sqrt(sigma)
    eas = speed * thin
    lift, drag = lift_and_drag(a, eas, spinner, body)
    thrust = thrust_over_weight(power, sigma, eas, body)
    sin_a, cos_a = math.sin(a), math.cos(a)
    stalled = stalled_share(a)
    equilibrium = spinner[EQUILIBRIUM] * speed * depth(a, sin_a, spinner)
    r = p / equilibrium
    # Round and round the lift cancels.
    cancelled = smooth(abs(p) / CANCELS_FROM) * max(stalled, was_stalled)
    n, surplus = lift * (1.0 - cancelled) + thrust * sin_a, thrust * cos_a - drag
    turn = G0 / speed
    dux = turn * (n * lx + uz * ux)
    duy = turn * (n * ly + uz * uy)
    duz = turn * (n * lz - 1.0 + uz * uz)
    along = lx * dux + ly * duy + lz * duz
    fast = eas / spinner[MOMENTS_AT]
    q = fast * fast
    turning = 1.0 if p >= 0.0 else -1.0
    lifts = spinner[INERTIA] * p * p / max(0.3, q) + spinner[POWER_LIFTS] * power * stalled_share(a)
    lifts -= spinner[AILERON_LIFTS] * aileron * turning * stalled_share(a)
    da = (min(MOST_ALPHA, held_by_the_stick(stick, a) + lifts) - a) * max(0.3, fast) / FOLLOWS_S
    blanket = 1.0 - BLANKETED * smooth((abs(a) - STALL_ALPHA) / (BLANKETED_AT - STALL_ALPHA))
    moment = fast * thin * p * (stalled * spinner[GROWTH] * (1.0 - r * r) - (1.0 - stalled) * DAMPING)
    moment += q * spinner[RUDDER] * rudder * blanket
    moment += q * AILERON_ROLL * aileron * (1.0 - (1.0 - STALLED_AILERON) * stalled)
    inertia = cos_a * cos_a + J * sin_a * sin_a
    dp = (moment - p * (J - 1.0) * 2.0 * sin_a * cos_a * da) / inertia
    return (
        G0 * (surplus - uz),
        dux,
        duy,
        duz,
        p * (uy * lz - uz * ly) - along * ux,
        p * (uz * lx - ux * lz) - along * uy,
        p * (ux * ly - uy * lx) - along * uz,
        speed * ux,
        speed * uy,
        speed * uz,
        G0 * speed * surplus,
        da,
        dp,
        p,
    )


@compiled
def normal_load(y, eas, spinner, body):
    """What a g meter shows: lift and drag across the wing, over weight."""
    lift, drag = lift_and_drag(y[ALPHA], eas, spinner, body)
    return lift * math.cos(y[ALPHA]) + drag * math.sin(y[ALPHA])
