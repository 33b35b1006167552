"""Point mass with a lift vector, integrated by fixed-step RK4 with every step split at events. Compiled.

Equations (docs/model.md): V speed, u flight direction, l lift direction (unit vectors; axes east, north, up), n load factor,
p roll rate about u, T/W and D/W thrust and drag over weight, k up:
    dV/dt = g (T/W - D/W - u_z)
    du/dt = (g/V) (n l - k + u_z u)
    dl/dt = p (u x l) - (l . du/dt) u
    dx/dt = V u
Controls move at finite rates: g at an onset, throttle in a given time, roll with an acceleration. Corners in their courses
are step ends too, so RK4 keeps its order.
"""

import math

import numpy as np
from numba import njit

from keelturn.air import LAPSE, P0, PRESSURE_POWER, R_AIR, RHO0, T0
from keelturn.units import G0

# State vector
V, UX, UY, UZ, LX, LY, LZ, EAST, NORTH, UP = range(10)
# Airframe and air vector
STALL, GLIDE, RATIO, THRUST, SLOPE, ROLL_L, ROLL_R, ROLL_AT, AIR_SHIFT, AIR_T, AIR_FIELD, IDEAL = range(12)
# Leg columns
LIFT, G_CMD, ONSET, G_SHARE, POWER, POWER_S, ROLL_SHARE, ROLL_ACC, BANK, END, END_AT, MOST_S = range(12)
LEG_COLUMNS = 12
# Lift laws: hold a load factor; hold the height (load factor that keeps the flight path level in this bank)
LIFT_G, LIFT_LEVEL = 0.0, 1.0
# What ends a leg
BY_TIME, BY_PATH_UP, BY_PATH_DOWN, BY_SPEED_UP, BY_SPEED_DOWN, BY_TURN, BY_ROLL, BY_ROLL_STOP = range(8)
# Columns of a trace row
(R_TIME, R_HEIGHT, R_TAS, R_EAS, R_G, R_PATH, R_BANK, R_HEADING, R_EAST, R_NORTH, R_LEG, R_POWER) = range(12)
ROW_COLUMNS = 12
# Columns of a leg's summary
(S_HEIGHT, S_LOWEST, S_SECONDS, S_EAS_MOST, S_EAS_END, S_G_MOST, S_G_LEAST, S_LIMITED, S_STATUS) = range(9)
SUMMARY_COLUMNS = 9
MADE, TIMED_OUT, STOPPED_FLYING = 0.0, 1.0, 2.0

SHORTEST_STEP = 1e-9
# A leg is over when this little is left: sums of steps do not land on its end to the last bit.
NOTHING_LEFT = 1e-11
LOWEST_SPEED = 2.0


@njit(cache=True, nogil=True, error_model="numpy")
def _density(height, body):
    if body[IDEAL] > 0.0:
        return RHO0
    pressure = P0 * (1.0 - LAPSE * (height + body[AIR_SHIFT]) / T0) ** PRESSURE_POWER
    return pressure / (R_AIR * (body[AIR_T] - LAPSE * (height - body[AIR_FIELD])))


@njit(cache=True, nogil=True, error_model="numpy")
def _eas(y, body):
    return y[V] * math.sqrt(_density(y[UP], body) / RHO0)


@njit(cache=True, nogil=True, error_model="numpy")
def _bank(y):
    """Angle of the lift vector from the upward normal of the flight path, right positive. Undefined (0) on the vertical."""
    flat = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
    if flat < 1e-9:
        return 0.0
    right = (y[LX] * y[UY] - y[LY] * y[UX]) / flat
    upward = (y[LZ] - y[UZ] * (y[LX] * y[UX] + y[LY] * y[UY] + y[LZ] * y[UZ])) / flat
    return math.atan2(right, upward)


@njit(cache=True, nogil=True, error_model="numpy")
def _ramp(start, target, rate, t):
    step = rate * t
    if abs(target - start) <= step:
        return target
    return start + step if target > start else start - step


@njit(cache=True, nogil=True, error_model="numpy")
def _roll_most(y, body, side):
    """Roll rate at full aileron: proportional to true speed up to the card's speed, then held (aileron forces)."""
    most = body[ROLL_R] if side > 0 else body[ROLL_L]
    return most * min(1.0, y[V] / body[ROLL_AT])


@njit(cache=True, nogil=True, error_model="numpy")
def _controls(y, t, leg, start, body, eas):
    """(load factor, roll rate, throttle, lift-limited?) at leg time t. start: g, throttle, roll rate, side at leg start."""
    if leg[LIFT] == LIFT_LEVEL:
        path_cos = math.sqrt(max(0.0, 1.0 - y[UZ] * y[UZ]))
        n = path_cos / max(0.05, math.cos(_bank(y)))
    else:
        n = _ramp(start[0], leg[G_CMD], leg[ONSET], t)
    limited = 0.0
    if body[IDEAL] == 0.0:
        most = leg[G_SHARE] * (eas / body[STALL]) ** 2
        if n > most:
            n, limited = most, 1.0
        elif n < -0.7 * most:
            n, limited = -0.7 * most, 1.0
    throttle = _ramp(start[1], leg[POWER], 1.0 / max(1e-6, leg[POWER_S]), t)
    p = 0.0
    if leg[END] == BY_ROLL:
        p = _ramp(start[2], start[3] * leg[ROLL_SHARE] * _roll_most(y, body, start[3]), leg[ROLL_ACC], t)
    elif leg[END] == BY_ROLL_STOP:
        p = _ramp(start[2], 0.0, leg[ROLL_ACC], t)
    return n, p, throttle, limited


@njit(cache=True, nogil=True, error_model="numpy")
def _rates(y, t, leg, start, body, out):
    sigma = _density(y[UP], body) / RHO0
    eas = y[V] * math.sqrt(sigma)
    n, p, throttle, _ = _controls(y, t, leg, start, body, eas)
    tw = 0.0
    dw = 0.0
    if body[IDEAL] == 0.0:
        x = (eas / body[GLIDE]) ** 2
        dw = (x + n * n / x) / (2.0 * body[RATIO])
        share = abs(n) / (eas / body[STALL]) ** 2
        if share > 0.8:
            dw *= 1.0 + 0.1 * min(1.0, (share - 0.8) / 0.2)
        tw = throttle * (1.132 * sigma - 0.132) * max(0.0, body[THRUST] - body[SLOPE] * eas)
    ux, uy, uz, lx, ly, lz = y[UX], y[UY], y[UZ], y[LX], y[LY], y[LZ]
    turn = G0 / y[V]
    dux = turn * (n * lx + uz * ux)
    duy = turn * (n * ly + uz * uy)
    duz = turn * (n * lz - 1.0 + uz * uz)
    along = lx * dux + ly * duy + lz * duz
    out[V] = G0 * (tw - dw - uz)
    out[UX], out[UY], out[UZ] = dux, duy, duz
    out[LX] = p * (uy * lz - uz * ly) - along * ux
    out[LY] = p * (uz * lx - ux * lz) - along * uy
    out[LZ] = p * (ux * ly - uy * lx) - along * uz
    out[EAST], out[NORTH], out[UP] = y[V] * ux, y[V] * uy, y[V] * uz


@njit(cache=True, nogil=True, error_model="numpy")
def _step(y, t, dt, leg, start, body, k, mid, out):
    _rates(y, t, leg, start, body, k[0])
    for i in range(10):
        mid[i] = y[i] + 0.5 * dt * k[0, i]
    _rates(mid, t + 0.5 * dt, leg, start, body, k[1])
    for i in range(10):
        mid[i] = y[i] + 0.5 * dt * k[1, i]
    _rates(mid, t + 0.5 * dt, leg, start, body, k[2])
    for i in range(10):
        mid[i] = y[i] + dt * k[2, i]
    _rates(mid, t + dt, leg, start, body, k[3])
    for i in range(10):
        out[i] = y[i] + dt / 6.0 * (k[0, i] + 2.0 * k[1, i] + 2.0 * k[2, i] + k[3, i])
    size = math.sqrt(out[UX] ** 2 + out[UY] ** 2 + out[UZ] ** 2)
    for i in range(UX, LX):
        out[i] /= size
    along = out[LX] * out[UX] + out[LY] * out[UY] + out[LZ] * out[UZ]
    for i in range(3):
        out[LX + i] -= along * out[UX + i]
    size = math.sqrt(out[LX] ** 2 + out[LY] ** 2 + out[LZ] ** 2)
    for i in range(LX, EAST):
        out[i] /= size


@njit(cache=True, nogil=True, error_model="numpy")
def _heading_change(a, b):
    """Change of track from state a to state b, right positive, over a step (less than half a turn)."""
    cross = a[UY] * b[UX] - a[UX] * b[UY]
    dot = a[UX] * b[UX] + a[UY] * b[UY]
    return math.atan2(cross, dot)


@njit(cache=True, nogil=True, error_model="numpy")
def _to_go(y, t, turned, leg, start, body):
    """What is left until the leg ends: positive before, zero or less at the end."""
    end = leg[END]
    if end == BY_TIME:
        return leg[END_AT] - t
    if end == BY_PATH_UP:
        return leg[END_AT] - y[UZ]
    if end == BY_PATH_DOWN:
        return y[UZ] - leg[END_AT]
    if end == BY_SPEED_UP or end == BY_SPEED_DOWN:
        eas = _eas(y, body)
        return leg[END_AT] - eas if end == BY_SPEED_UP else eas - leg[END_AT]
    if end == BY_TURN:
        return leg[END_AT] - abs(turned)
    if end == BY_ROLL:
        _, p, _, _ = _controls(y, t, leg, start, body, _eas(y, body))
        left = (leg[BANK] - _bank(y)) * start[3]
        if left < -math.pi:
            left += 2.0 * math.pi
        return left - 0.5 * p * p / leg[ROLL_ACC]
    return abs(start[2]) / leg[ROLL_ACC] - t


@njit(cache=True, nogil=True, error_model="numpy")
def _next_corner(t, leg, start):
    """The leg time of the next bend in a control's course after t."""
    nearest = 1e9
    corner = abs(leg[G_CMD] - start[0]) / leg[ONSET] if leg[LIFT] == LIFT_G else 0.0
    if corner > t + SHORTEST_STEP:
        nearest = corner
    corner = abs(leg[POWER] - start[1]) * leg[POWER_S]
    if corner > t + SHORTEST_STEP and corner < nearest:
        nearest = corner
    return nearest


@njit(cache=True, nogil=True, error_model="numpy")
def _set_bank(y, bank):
    """Put the lift vector exactly at this bank: the last fraction of a degree after a roll has been stopped."""
    flat = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
    if flat < 1e-9:
        return
    c, s = math.cos(bank), math.sin(bank)
    y[LX] = c * (-y[UZ] * y[UX] / flat) + s * y[UY] / flat
    y[LY] = c * (-y[UZ] * y[UY] / flat) - s * y[UX] / flat
    y[LZ] = c * flat


@njit(cache=True, nogil=True, error_model="numpy")
def fly_legs(y0, g0, throttle0, legs, body, dt, rows):
    """Fly the legs from a state.

    y0: (10,) state; legs: (L, LEG_COLUMNS); body: (12,); dt: longest step, s; rows: (R, ROW_COLUMNS) filled with the trace,
    or R = 0 for none. Returns (summaries (L, SUMMARY_COLUMNS), number of rows filled).
    """
    summary = np.zeros((legs.shape[0], SUMMARY_COLUMNS))
    y, out, mid, k = y0.copy(), np.empty(10), np.empty(10), np.empty((4, 10))
    start = np.array([g0, throttle0, 0.0, 1.0])
    clock = 0.0
    filled = 0
    for j in range(legs.shape[0]):
        leg = legs[j]
        t, turned = 0.0, 0.0
        if leg[END] == BY_ROLL:
            left = leg[BANK] - _bank(y)
            start[3] = 1.0 if left > 0.0 else -1.0
            start[2] = 0.0
        height0 = y[UP]
        eas = _eas(y, body)
        n, p, throttle, limited = _controls(y, 0.0, leg, start, body, eas)
        lowest, fastest, g_most, g_least, was_limited, status = y[UP], eas, n, n, 0.0, TIMED_OUT
        to_go = _to_go(y, t, turned, leg, start, body)
        while True:
            if rows.shape[0] > filled:
                row = rows[filled]
                row[R_TIME], row[R_HEIGHT], row[R_TAS], row[R_EAS], row[R_G] = clock + t, y[UP], y[V], eas, n
                row[R_PATH], row[R_BANK] = math.asin(max(-1.0, min(1.0, y[UZ]))), _bank(y)
                row[R_HEADING], row[R_EAST], row[R_NORTH] = math.atan2(y[UX], y[UY]), y[EAST], y[NORTH]
                row[R_LEG], row[R_POWER] = j, throttle
                filled += 1
            if to_go <= NOTHING_LEFT:
                status = MADE
                break
            if t >= leg[MOST_S]:
                break
            if y[V] < LOWEST_SPEED:
                status = STOPPED_FLYING
                break
            step = min(dt, min(_next_corner(t, leg, start), leg[MOST_S]) - t)
            _step(y, t, step, leg, start, body, k, mid, out)
            after = turned + _heading_change(y, out)
            ahead = _to_go(out, t + step, after, leg, start, body)
            if ahead <= 0.0:
                # The end lies inside this step: close in on it by false position (Illinois), re-flying the step.
                low, high, f_low, f_high = 0.0, step, to_go, ahead
                for _ in range(60):
                    step = (low * f_high - high * f_low) / (f_high - f_low)
                    _step(y, t, step, leg, start, body, k, mid, out)
                    after = turned + _heading_change(y, out)
                    ahead = _to_go(out, t + step, after, leg, start, body)
                    if abs(ahead) < 1e-8 or high - low < SHORTEST_STEP:
                        break
                    if ahead > 0.0:
                        low, f_low = step, ahead
                        f_high *= 0.5
                    else:
                        high, f_high = step, ahead
                        f_low *= 0.5
                ahead = 0.0
            for i in range(10):
                y[i] = out[i]
            t += step
            turned, to_go = after, ahead
            eas = _eas(y, body)
            n, p, throttle, limited = _controls(y, t, leg, start, body, eas)
            lowest, fastest = min(lowest, y[UP]), max(fastest, eas)
            g_most, g_least, was_limited = max(g_most, n), min(g_least, n), max(was_limited, limited)
        if leg[END] == BY_ROLL_STOP:
            _set_bank(y, leg[BANK])
        start[0], start[1], start[2] = n, throttle, p
        clock += t
        result = summary[j]
        result[S_HEIGHT], result[S_LOWEST], result[S_SECONDS] = y[UP] - height0, lowest, t
        result[S_EAS_MOST], result[S_EAS_END], result[S_G_MOST], result[S_G_LEAST] = fastest, eas, g_most, g_least
        result[S_LIMITED], result[S_STATUS] = was_limited, status
        if status != MADE:
            for later in range(j + 1, legs.shape[0]):
                summary[later, S_STATUS] = status
                summary[later, S_LOWEST] = y[UP]
            break
    return summary, filled


@njit(cache=True, nogil=True, error_model="numpy")
def fly_many(y0, g0, throttle0, legs, body, dt):
    """The same for N pilots: y0 (N, 10), g0 and throttle0 (N,), legs (N, L, LEG_COLUMNS). Returns (N, L, SUMMARY_COLUMNS)."""
    results = np.empty((legs.shape[0], legs.shape[1], SUMMARY_COLUMNS))
    none = np.empty((0, ROW_COLUMNS))
    for i in range(legs.shape[0]):
        results[i], _ = fly_legs(y0[i], g0[i], throttle0[i], legs[i], body, dt, none)
    return results


@njit(cache=True, nogil=True, error_model="numpy")
def rates_of(y, t, leg, start, body):
    """Time derivative of the state: the same equations, for comparison with other integrators."""
    out = np.empty(10)
    _rates(y, t, leg, start, body, out)
    return out
