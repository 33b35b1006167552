"""The equations of motion of a point mass with a lift vector, and the courses of its controls. Compiled.

V speed, u flight direction, l lift direction (unit vectors; axes east, north, up), n load factor, p roll rate
about u, T/W and D/W thrust and drag over weight, k up (docs/model.md):

    dV/dt = g (T/W - D/W - u_z)
    du/dt = (g/V) (n l - k + u_z u)
    dl/dt = p (u x l) - (l . du/dt) u
    dx/dt = V u
    dE/dt = g V (T/W - D/W)          work of thrust and drag, per mass, so that energy can be closed

In a slow roll top rudder carries a share of the weight at knife edge: k is lessened by it, across the flight
path only. Controls move at finite rates: g at an onset, throttle in a given time, roll with an acceleration.
"""

import math

from keelturn.air import LAPSE, P0, PRESSURE_POWER, R_AIR, RHO0, T0
from keelturn.aircraft.laws import drag_over_weight, full_thrust, power_ratio
from keelturn.compiling import compiled, inlined
from keelturn.units import G0

# State vector
V, UX, UY, UZ, LX, LY, LZ, EAST, NORTH, UP, WORK = range(11)
STATES = 11
# Airframe and air vector
(
    STALL,
    NEGATIVE,
    GLIDE,
    RATIO,
    THRUST,
    SLOPE,
    THRUST_LAW,
    ROLL_L,
    ROLL_R,
    ROLL_AT,
    AIR_SHIFT,
    AIR_T,
    AIR_FIELD,
    IDEAL,
) = range(14)
BODY_COLUMNS = 14
# Leg columns
(
    KIND,
    LIFT,
    G_CMD,
    ONSET,
    G_SHARE,
    POWER,
    POWER_S,
    ROLL_SHARE,
    ROLL_ACC,
    BANK,
    AROUND,
    END,
    END_AT,
    MOST_S,
    DRAG,
    LEAST_EAS,
    TOP_RUDDER,
    EASED,
    LAG,
    ON_ITS_BACK,
    SCOOP,
) = range(21)
LEG_COLUMNS = 21
# What is flown: the wing; or, too slow for it, a swing of the nose about the lift vector (yaw) or about the
# wing (pitch)
FLIES, YAWS, PITCHES = 0.0, 1.0, 2.0
# Lift laws: a load factor; the one that keeps the flight path; the share of weight that the bank leaves (slow
# roll)
LIFT_G, LIFT_LINE, LIFT_SHARE = 0.0, 1.0, 2.0
# What ends a leg
(
    BY_TIME,
    BY_PATH_UP,
    BY_PATH_DOWN,
    BY_SPEED_UP,
    BY_SPEED_DOWN,
    BY_TURN,
    BY_ROLL,
    BY_ROLL_STOP,
    BY_ROLL_PAST,
    BY_ROLL_THROUGH,
    BY_LOOP,
    BY_CLIMB,
    BY_ROLL_WITHIN,
) = range(13)
# What is held when a leg begins: controls, the side of its roll, how far to pitch (or whether a roll began
# steep), the height; until when the aircraft still answers the g that was asked before, and that g
AT_G, AT_THROTTLE, AT_ROLL, SIDE, GOAL, HEIGHT0, G_WAIT, BEFORE_G = range(8)
HELD = 8

SHORTEST_STEP = 1e-9
STEEP = 1.0
# State, leg, held and body go from function to function as tuples of floats: arrays would be counted in and
# out at every call, which takes longer than the arithmetic.


@compiled
def density_ratio(height, body):
    if body[IDEAL] > 0.0:
        return 1.0
    pressure = P0 * (1.0 - LAPSE * (height + body[AIR_SHIFT]) / T0) ** PRESSURE_POWER
    return pressure / (R_AIR * (body[AIR_T] - LAPSE * (height - body[AIR_FIELD])) * RHO0)


@inlined
def density_slope(height, body):
    """d ln(density)/dh and its own derivative, for use inside a step."""
    if body[IDEAL] > 0.0:
        return 0.0, 0.0
    standard = LAPSE / (T0 - LAPSE * (height + body[AIR_SHIFT]))
    today = LAPSE / (body[AIR_T] - LAPSE * (height - body[AIR_FIELD]))
    return today - PRESSURE_POWER * standard, today * today - PRESSURE_POWER * standard * standard


@compiled
def eas_of(y, body):
    return y[V] * math.sqrt(density_ratio(y[UP], body))


@compiled
def bank_of(y):
    """Angle of the lift vector from the upward normal of the flight path, right positive. Undefined (0) on
    the vertical."""
    flat = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
    if flat < 1e-9:
        return 0.0
    return math.atan2(y[LX] * y[UY] - y[LY] * y[UX], y[LZ])


@inlined
def cos_bank_of(y):
    flat = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
    return max(-1.0, min(1.0, y[LZ] / max(1e-9, flat)))


@compiled
def loop_angle_of(y):
    """Where the flight path points in its own vertical plane, 0 to 2 pi: 0 level upright, pi/2 up, pi level
    inverted."""
    flat = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
    angle = math.atan2(y[UZ], flat if y[LZ] >= 0.0 else -flat)
    return angle if angle >= 0.0 else angle + 2.0 * math.pi


@inlined
def _ramp(start, target, rate, t):
    step = rate * t
    if abs(target - start) <= step:
        return target
    return start + step if target > start else start - step


@inlined
def g_commanded(t, leg, held):
    """The load factor on its way to what is asked: the aircraft answers late, and goes on meanwhile to what
    was asked before."""
    wait = held[G_WAIT]
    before = _ramp(held[AT_G], held[BEFORE_G], leg[ONSET], min(t, wait))
    if t <= wait:
        return before
    return _ramp(before, leg[G_CMD], leg[ONSET], t - wait)


@inlined
def off_its_back(y, side):
    """How far a roll to this side is between its back and the knife edge after it: 0 at both and outside, 1
    in the middle."""
    flat = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
    aside = (y[LX] * y[UY] - y[LY] * y[UX]) / max(1e-9, flat)
    return 2.0 * max(0.0, -cos_bank_of(y)) * max(0.0, -aside * side)


@inlined
def roll_most(y, body, side):
    """Roll rate at full aileron: proportional to true speed up to the card's speed, then held (aileron
    forces)."""
    most = body[ROLL_R] if side > 0 else body[ROLL_L]
    return most * min(1.0, y[V] / body[ROLL_AT])


@inlined
def controls(y, t, leg, held, body, eas):
    """(load factor, roll rate, throttle, lift-limited?) at leg time t."""
    limited = 0.0
    if leg[KIND] != FLIES:
        return 0.0, 0.0, held[AT_THROTTLE], limited
    if leg[LIFT] == LIFT_G:
        n = g_commanded(t, leg, held)
    else:
        n = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
        # On the vertical there is no bank, and nothing to hold up.
        n = n if n > 1e-6 else 0.0
        c = cos_bank_of(y)
        if leg[LIFT] == LIFT_LINE:
            n /= max(0.05, c) if c >= 0.0 else min(-0.05, c)
        else:
            n *= c * leg[G_CMD] * (leg[ON_ITS_BACK] if c < 0.0 else 1.0)
    if leg[SCOOP] != 0.0:
        n += leg[SCOOP] * off_its_back(y, held[SIDE])
    if body[IDEAL] == 0.0:
        x = eas / body[STALL]
        x *= x
        # Eased: the stick held where it is, so that the load factor falls with the square of the speed.
        if leg[EASED] > 0.0:
            n = min(n, leg[EASED] * x)
        most = leg[G_SHARE] * x
        if n > most:
            n, limited = most, 1.0
        elif n < -body[NEGATIVE] * most:
            n, limited = -body[NEGATIVE] * most, 1.0
    throttle = _ramp(held[AT_THROTTLE], leg[POWER], 1.0 / max(1e-6, leg[POWER_S]), t)
    p = 0.0
    end = leg[END]
    if is_rolling(end):
        p = _ramp(
            held[AT_ROLL], held[SIDE] * leg[ROLL_SHARE] * roll_most(y, body, held[SIDE]), leg[ROLL_ACC], t
        )
    elif end == BY_ROLL_STOP:
        p = _ramp(held[AT_ROLL], 0.0, leg[ROLL_ACC], t)
    return n, p, throttle, limited


@inlined
def is_rolling(end):
    return end == BY_ROLL or end == BY_ROLL_PAST or end == BY_ROLL_THROUGH or end == BY_ROLL_WITHIN


@inlined
def thrust_over_weight(throttle, sigma, eas, body):
    if throttle <= 0.0:
        return 0.0
    law = body[THRUST_LAW]
    return throttle * power_ratio(sigma, law) * full_thrust(eas, law, body[THRUST], body[SLOPE])


@inlined
def drag_flown(eas, n, leg, body):
    """The glide's parabola, a tenth more as the wing nears its lift limit, times what slip or a flick
    adds."""
    drag = drag_over_weight(eas, n, body[GLIDE], body[RATIO])
    s = eas / body[STALL]
    share = abs(n) / (s * s)
    if share > 0.8:
        drag *= 1.0 + 0.1 * min(1.0, (share - 0.8) / 0.2)
    return drag * leg[DRAG]


@inlined
def rates(y, t, leg, held, body, sigma):
    """Time derivative of a state (a tuple or an array of STATES) in air of this density ratio, as a tuple."""
    speed, ux, uy, uz, lx, ly, lz = y[V], y[UX], y[UY], y[UZ], y[LX], y[LY], y[LZ]
    if leg[KIND] != FLIES:
        turn = leg[AROUND] / leg[END_AT]
        work = G0 * speed * uz
        if leg[KIND] == YAWS:
            turn *= held[SIDE]
            return (
                0.0,
                turn * (uy * lz - uz * ly),
                turn * (uz * lx - ux * lz),
                turn * (ux * ly - uy * lx),
                0.0,
                0.0,
                0.0,
                speed * ux,
                speed * uy,
                speed * uz,
                work,
            )
        return (
            0.0,
            turn * lx,
            turn * ly,
            turn * lz,
            -turn * ux,
            -turn * uy,
            -turn * uz,
            speed * ux,
            speed * uy,
            speed * uz,
            work,
        )
    eas = speed * math.sqrt(sigma)
    n, p, throttle, _ = controls(y, t, leg, held, body, eas)
    surplus = 0.0
    if body[IDEAL] == 0.0:
        surplus = thrust_over_weight(throttle, sigma, eas, body) - drag_flown(eas, n, leg, body)
    turn, falls = G0 / speed, 1.0
    if leg[TOP_RUDDER] > 0.0:
        c = cos_bank_of(y)
        falls -= leg[TOP_RUDDER] * (1.0 - c * c)
    dux = turn * (n * lx + falls * uz * ux)
    duy = turn * (n * ly + falls * uz * uy)
    duz = turn * (n * lz - falls * (1.0 - uz * uz))
    along = lx * dux + ly * duy + lz * duz
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
    )
