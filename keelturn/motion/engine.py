"""The integrator: fixed-step RK4 over the legs, every step split at the events that end legs and at the
corners of controls, so that RK4 keeps its order. Compiled. Equations: motion/equations.py."""

import math

import numpy as np
from numba.np.unsafe.ndarray import to_fixed_tuple

from keelturn.compiling import compiled, inlined
from keelturn.motion.ends import counted, next_corner, to_go
from keelturn.motion.equations import (
    AROUND,
    BANK,
    BEFORE_G,
    BODY_COLUMNS,
    BY_LOOP,
    BY_ROLL,
    BY_ROLL_PAST,
    BY_ROLL_STOP,
    BY_ROLL_THROUGH,
    BY_ROLL_WITHIN,
    BY_TIME,
    EAST,
    END,
    END_AT,
    FLIES,
    G_CMD,
    G_WAIT,
    HEIGHT0,
    HELD,
    KIND,
    LAG,
    LEAST_EAS,
    LEG_COLUMNS,
    LIFT,
    LIFT_G,
    LX,
    LY,
    LZ,
    MOST_S,
    NORTH,
    SHORTEST_STEP,
    SIDE,
    STALL,
    STATES,
    STEEP,
    UP,
    UX,
    UY,
    UZ,
    WORK,
    YAWS,
    V,
    bank_of,
    controls,
    density_ratio,
    density_slope,
    loop_angle_of,
    rates,
)

# Columns of a trace row
(
    R_TIME,
    R_HEIGHT,
    R_TAS,
    R_EAS,
    R_G,
    R_PATH,
    R_BANK,
    R_HEADING,
    R_EAST,
    R_NORTH,
    R_LEG,
    R_POWER,
    R_ROLL,
    R_WORK,
) = range(14)
ROW_COLUMNS = 14
# Columns of a leg's summary
(
    S_HEIGHT,
    S_LOWEST,
    S_HIGHEST,
    S_SECONDS,
    S_EAS_MOST,
    S_EAS_END,
    S_G_MOST,
    S_G_LEAST,
    S_SHARE,
    S_MARGIN,
    S_LIMITED,
    S_STATUS,
) = range(12)
SUMMARY_COLUMNS = 12
MADE, TIMED_OUT, STOPPED_FLYING = 0.0, 1.0, 2.0
# Columns of the end of a flight: the state, then what the pilot holds
E_G, E_THROTTLE, END_COLUMNS = STATES, STATES + 1, STATES + 2

# A leg is over when this little is left: sums of steps do not land on its end to the last bit.
NOTHING_LEFT = 1e-6
# How nearly an end is met: well inside the above, so that the next leg does not begin with the rest of this
# one.
MET = 1e-8
LOWEST_SPEED = 2.0
# Most that is rolled in one step: rad for each second of the longest step.
ROLLED_IN_A_STEP = 2.0


@inlined
def on(y, k, h):
    """The state y moved by h times k."""
    return (
        y[0] + h * k[0],
        y[1] + h * k[1],
        y[2] + h * k[2],
        y[3] + h * k[3],
        y[4] + h * k[4],
        y[5] + h * k[5],
        y[6] + h * k[6],
        y[7] + h * k[7],
        y[8] + h * k[8],
        y[9] + h * k[9],
        y[10] + h * k[10],
    )


@inlined
def straightened(y):
    """The state with its directions unit vectors at right angles again."""
    size = 1.0 / math.sqrt(y[UX] * y[UX] + y[UY] * y[UY] + y[UZ] * y[UZ])
    ux, uy, uz = y[UX] * size, y[UY] * size, y[UZ] * size
    along = y[LX] * ux + y[LY] * uy + y[LZ] * uz
    lx, ly, lz = y[LX] - along * ux, y[LY] - along * uy, y[LZ] - along * uz
    size = 1.0 / math.sqrt(lx * lx + ly * ly + lz * lz)
    return (y[V], ux, uy, uz, lx * size, ly * size, lz * size, y[EAST], y[NORTH], y[UP], y[WORK])


@inlined
def _thinner(air, up):
    """Density ratio `up` metres above where `air` (ratio, its relative slope and curvature) was taken."""
    return air[0] * (1.0 + up * (air[1] + 0.5 * up * (air[1] * air[1] + air[2])))


@compiled
def _step(y, t, dt, leg, held, body, air):
    """One RK4 step. air: density ratio at y, and its relative slopes with height (Taylor inside the step)."""
    half, sixth = 0.5 * dt, dt / 6.0
    k1 = rates(y, t, leg, held, body, air[0])
    mid = on(y, k1, half)
    k2 = rates(mid, t + half, leg, held, body, _thinner(air, mid[UP] - y[UP]))
    mid = on(y, k2, half)
    k3 = rates(mid, t + half, leg, held, body, _thinner(air, mid[UP] - y[UP]))
    mid = on(y, k3, dt)
    k4 = rates(mid, t + dt, leg, held, body, _thinner(air, mid[UP] - y[UP]))
    new = on(on(on(on(y, k1, sixth), k2, 2.0 * sixth), k3, 2.0 * sixth), k4, sixth)
    return straightened(new)


@compiled
def _roll_rate(y, t, leg, held, body):
    if leg[END] != BY_ROLL_THROUGH:
        return 0.0
    return controls(y, t, leg, held, body, y[V] * math.sqrt(density_ratio(y[UP], body)))[1]


@compiled
def _close_in(y, t, step, ahead, left, done0, leg, held, body, air, p):
    """The leg ends inside this step: close in on the end by false position (Illinois), re-flying the step.
    Returns the step's length, the state there and what is counted."""
    low, high, f_low, f_high = 0.0, step, left, ahead
    out, done, stayed = y, done0, 0.0
    for _ in range(60):
        step = (low * f_high - high * f_low) / (f_high - f_low)
        out = _step(y, t, step, leg, held, body, air)
        done = done0 + counted(y, out, step, p, _roll_rate(out, t + step, leg, held, body), leg, held)
        ahead = to_go(out, t + step, done, leg, held, body)
        if abs(ahead) < MET or high - low < SHORTEST_STEP:
            break
        # Illinois: the end that stays twice running counts half.
        if ahead > 0.0:
            low, f_low = step, ahead
            f_high *= 0.5 if stayed > 0.0 else 1.0
            stayed = 1.0
        else:
            high, f_high = step, ahead
            f_low *= 0.5 if stayed < 0.0 else 1.0
            stayed = -1.0
    return step, out, done


@compiled
def banked(y, bank):
    """The state with its lift vector exactly at this bank: the last fraction of a degree after a roll has
    been stopped."""
    flat = math.sqrt(y[UX] * y[UX] + y[UY] * y[UY])
    if flat < 1e-6:
        return y
    c, s = math.cos(bank), math.sin(bank)
    return (
        y[V],
        y[UX],
        y[UY],
        y[UZ],
        c * (-y[UZ] * y[UX] / flat) + s * y[UY] / flat,
        c * (-y[UZ] * y[UY] / flat) - s * y[UX] / flat,
        c * flat,
        y[EAST],
        y[NORTH],
        y[UP],
        y[WORK],
    )


@compiled
def begun(y, leg, g, throttle, roll, side, asked, before, waiting):
    """What a leg holds from where it begins: controls, which way to roll, how far to pitch, the height.
    asked: the g of the leg before, which the aircraft answers in `waiting` seconds; before: what was asked
    until then."""
    end, goal = leg[END], 0.0
    # A change of what is asked is answered late, once: a leg that asks the same goes on waiting.
    if leg[LIFT] != LIFT_G or leg[G_CMD] != asked:
        waiting, before = leg[LAG], asked
    if end == BY_ROLL or end == BY_ROLL_PAST or end == BY_ROLL_WITHIN:
        if roll == 0.0:
            way = (leg[BANK] if end != BY_ROLL_WITHIN else 0.0) - bank_of(y)
            side = 1.0 if way - 2.0 * math.pi * math.floor(way / (2.0 * math.pi) + 0.5) > 0.0 else -1.0
    elif end == BY_ROLL_THROUGH or leg[KIND] == YAWS:
        side = leg[BANK]
        goal = STEEP if abs(y[UZ]) > 0.85 else 0.0
    elif end == BY_LOOP:
        goal = (leg[END_AT] - loop_angle_of(y)) * leg[AROUND]
        goal -= 2.0 * math.pi * math.floor(goal / (2.0 * math.pi))
        if goal < 1e-7:
            goal = 2.0 * math.pi
    return (g, throttle, roll, side, goal, y[UP], waiting, before)


@compiled
def write(row, clock, y, eas, n, p, leg_number, throttle):
    row[R_TIME], row[R_HEIGHT], row[R_TAS], row[R_EAS], row[R_G] = clock, y[UP], y[V], eas, n
    row[R_PATH], row[R_BANK] = math.asin(max(-1.0, min(1.0, y[UZ]))), bank_of(y)
    row[R_HEADING], row[R_EAST], row[R_NORTH] = math.atan2(y[UX], y[UY]), y[EAST], y[NORTH]
    row[R_LEG], row[R_POWER], row[R_ROLL], row[R_WORK] = leg_number, throttle, p, y[WORK]


@compiled
def fly_legs(y0, g0, throttle0, legs, body_row, dt, rows, summary, ends):
    """Fly the legs from a state.

    y0: (STATES,); legs: (L, LEG_COLUMNS); body_row: (BODY_COLUMNS,); dt: longest step, s; rows: (R,
    ROW_COLUMNS) filled with the trace, or R = 0 for none; summary: (L, SUMMARY_COLUMNS) and ends:
    (END_COLUMNS,) filled. Returns how many rows were filled."""
    y, body = to_fixed_tuple(y0, STATES), to_fixed_tuple(body_row, BODY_COLUMNS)
    n, throttle, p, side = g0, throttle0, 0.0, 1.0
    clock, filled, status = 0.0, 0, MADE
    asked, before, waiting = g0, g0, 0.0
    for j in range(legs.shape[0]):
        leg, result = to_fixed_tuple(legs[j], LEG_COLUMNS), summary[j]
        if status != MADE:
            result[:] = 0.0
            result[S_STATUS], result[S_LOWEST], result[S_HIGHEST] = status, y[UP], y[UP]
            continue
        t, done = 0.0, 0.0
        held = begun(y, leg, n, throttle, p, side, asked, before, waiting)
        side = held[SIDE]
        sigma = density_ratio(y[UP], body)
        eas = y[V] * math.sqrt(sigma)
        n, p, throttle, limited = controls(y, 0.0, leg, held, body, eas)
        lowest, highest, fastest, g_most, g_least = y[UP], y[UP], eas, n, n
        was_limited, share, margin = limited, 0.0, eas - leg[LEAST_EAS]
        status = TIMED_OUT
        left = to_go(y, t, done, leg, held, body)
        while True:
            if rows.shape[0] > filled:
                write(rows[filled], clock + t, y, eas, n, p, j, throttle)
                filled += 1
            if left <= NOTHING_LEFT:
                status = MADE
                break
            if t >= leg[MOST_S]:
                break
            if y[V] < LOWEST_SPEED:
                status = STOPPED_FLYING
                break
            step = min(dt, min(next_corner(y, t, leg, held, body), leg[MOST_S]) - t)
            if p != 0.0:
                step = min(step, ROLLED_IN_A_STEP * dt / abs(p))
            if leg[END] == BY_TIME and leg[END_AT] - t < step:
                step = max(SHORTEST_STEP, leg[END_AT] - t)
            slope, bend = density_slope(y[UP], body)
            air = (sigma, slope, bend)
            new = _step(y, t, step, leg, held, body, air)
            so_far = done + counted(y, new, step, p, _roll_rate(new, t + step, leg, held, body), leg, held)
            ahead = to_go(new, t + step, so_far, leg, held, body)
            if ahead < 0.0:
                step, new, so_far = _close_in(y, t, step, ahead, left, done, leg, held, body, air, p)
                ahead = 0.0
            y, done, left = new, so_far, ahead
            t += step
            sigma = density_ratio(y[UP], body)
            eas = y[V] * math.sqrt(sigma)
            n, p, throttle, limited = controls(y, t, leg, held, body, eas)
            lowest, highest, fastest = min(lowest, y[UP]), max(highest, y[UP]), max(fastest, eas)
            g_most, g_least, was_limited = max(g_most, n), min(g_least, n), max(was_limited, limited)
            share = max(share, abs(n) * (body[STALL] / eas) ** 2)
            margin = min(margin, eas - leg[LEAST_EAS])
        if leg[END] == BY_ROLL_STOP:
            p = 0.0
            if leg[AROUND] == 0.0:
                y = banked(y, leg[BANK])
        result[S_HEIGHT], result[S_LOWEST], result[S_HIGHEST], result[S_SECONDS] = (
            y[UP] - held[HEIGHT0],
            lowest,
            highest,
            t,
        )
        result[S_EAS_MOST], result[S_EAS_END], result[S_G_MOST], result[S_G_LEAST] = (
            fastest,
            eas,
            g_most,
            g_least,
        )
        result[S_SHARE], result[S_MARGIN], result[S_LIMITED], result[S_STATUS] = (
            share,
            margin,
            was_limited,
            status,
        )
        clock += t
        asked = leg[G_CMD] if leg[LIFT] == LIFT_G and leg[KIND] == FLIES else n
        before, waiting = held[BEFORE_G], max(0.0, held[G_WAIT] - t)
    for i in range(STATES):
        ends[i] = y[i]
    ends[E_G], ends[E_THROTTLE] = n, throttle
    return filled


@compiled
def fly_many(y0, g0, throttle0, legs, body, dt, summaries, ends):
    """The same for N pilots: y0 (N, STATES), g0 and throttle0 (N,), legs (N, L, LEG_COLUMNS); fills summaries
    (N, L, SUMMARY_COLUMNS) and ends (N, END_COLUMNS)."""
    none = np.empty((0, ROW_COLUMNS))
    for i in range(legs.shape[0]):
        fly_legs(y0[i], g0[i], throttle0[i], legs[i], body, dt, none, summaries[i], ends[i])


@compiled
def rates_of(y, t, leg, held, body):
    """Time derivative of the state, and the roll rate after it, from arrays: the same equations, for
    comparison with other integrators."""
    state, row = to_fixed_tuple(y, STATES), to_fixed_tuple(leg, LEG_COLUMNS)
    at, frame = to_fixed_tuple(held, HELD), to_fixed_tuple(body, BODY_COLUMNS)
    sigma = density_ratio(state[UP], frame)
    rate = rates(state, t, row, at, frame, sigma)
    out = np.empty(STATES + 1)
    for i in range(STATES):
        out[i] = rate[i]
    out[STATES] = controls(state, t, row, at, frame, state[V] * math.sqrt(sigma))[1]
    return out


@compiled
def left_of(y, t, done, leg, held, body):
    """What is left of a leg, from arrays."""
    return to_go(
        to_fixed_tuple(y, STATES),
        t,
        done,
        to_fixed_tuple(leg, LEG_COLUMNS),
        to_fixed_tuple(held, HELD),
        to_fixed_tuple(body, BODY_COLUMNS),
    )
