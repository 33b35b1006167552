"""One spin from the stall to the hand-over to the pull-out: RK4 over equations.py, driven by what hands and
feet do and when. Compiled; its front door is spinning/flight.py."""

import math

import numpy as np
from numba.np.unsafe.ndarray import to_fixed_tuple

from keelturn.compiling import compiled, inlined
from keelturn.motion.engine import ROW_COLUMNS, on, straightened, write
from keelturn.motion.equations import BODY_COLUMNS, STATES, UP, UZ, V, density_ratio
from keelturn.spinning.controls import (
    AGAIN_CENTRE_S,
    CALL_AT,
    CENTRE_S,
    DELAY_S,
    FIRST_AT,
    HAS_STOPPED,
    INPUT_COLUMNS,
    LATER_AT,
    LET_GO,
    LET_SPIN,
    PLANNED_AT,
    RECOVERING,
    RUDDER_HELD_S,
    RUDDER_S,
    SIDE,
    STICK_HELD_S,
    STICK_S,
    controls_at,
)
from keelturn.spinning.equations import (
    ALPHA,
    LIFTS_AT,
    RATE,
    SPINNER_COLUMNS,
    STALL_ALPHA,
    TURNED,
    lift_and_drag,
    normal_load,
    spin_rates,
)
from keelturn.units import DEG, KT

# Columns of a trace row beyond those of the engine
X_ALPHA, X_STICK, X_RUDDER, X_AILERON, SPIN_ROW_COLUMNS = (
    ROW_COLUMNS,
    ROW_COLUMNS + 1,
    ROW_COLUMNS + 2,
    ROW_COLUMNS + 3,
    ROW_COLUMNS + 4,
)
# What is told of a spin: seconds and height when the first turn, the planned turns, the call, the inputs, the
# rotation and all of it were done; then turns to stop from the first input, the outcome, extremes.
M_FIRST, M_PLANNED, M_CALLED, M_INPUTS, M_STOPPED, M_ENDED = range(6)
MARKS = 6
(
    T_TURNS,
    T_OUTCOME,
    T_HIGHEST,
    T_LOWEST,
    T_EAS,
    T_G_MOST,
    T_G_LEAST,
    T_ALPHA,
    T_RATE,
    T_G_END,
) = range(2 * MARKS, 2 * MARKS + 10)
TOLD_COLUMNS = 2 * MARKS + 10
# What became of it
SPUN, SPIRALLED, OTHER_WAY, NEVER_STOPPED = 0.0, 1.0, 2.0, 3.0

# The rotation has stopped, for a pilot who looks at it, below this rate (common practice, no published
# source).
STOPPED_RATE = 20.0 * DEG
# Below this rate the pull-out begins.
# How near the call and the stop are met (rad, rad/s), and the shortest step.
CLOSE, SHORTEST = 1e-5, 1e-6
LETS_GO_RATE = 60.0 * DEG
# A spiral, not a spin: flying, and this much above the stall.
SPIRAL_FASTER = 20.0 * KT
# Before this nobody calls it a spiral: the stick is still on its way back.
SPIRAL_AFTER_S = 2.0
# Longest that is waited for turns that do not come, and for a rotation that does not stop.
NO_TURNS_S, NO_STOP_S = 20.0, 25.0
LOWEST_SPEED = 5.0


@inlined
def _on(y, k, h):
    return on(y[:STATES], k[:STATES], h) + (
        y[ALPHA] + h * k[ALPHA],
        y[RATE] + h * k[RATE],
        y[TURNED] + h * k[TURNED],
    )


@compiled
def _step(y, t, dt, when, inputs, spinner, body):
    """One RK4 step; the air is that of the middle of the step."""
    sigma = density_ratio(y[UP] + 0.5 * dt * y[V] * y[UZ], body)
    spun, side = 1.0 if when[0] > LET_SPIN else 0.0, when[7]
    c1, c2, c3 = (
        controls_at(t, when, inputs),
        controls_at(t + 0.5 * dt, when, inputs),
        controls_at(t + dt, when, inputs),
    )
    k1 = spin_rates(y, c1[0], side * c1[1], side * c1[2], c1[3], spun, spinner, body, sigma)
    mid = _on(y, k1, 0.5 * dt)
    k2 = spin_rates(mid, c2[0], side * c2[1], side * c2[2], c2[3], spun, spinner, body, sigma)
    mid = _on(y, k2, 0.5 * dt)
    k3 = spin_rates(mid, c2[0], side * c2[1], side * c2[2], c2[3], spun, spinner, body, sigma)
    mid = _on(y, k3, dt)
    k4 = spin_rates(mid, c3[0], side * c3[1], side * c3[2], c3[3], spun, spinner, body, sigma)
    sixth = dt / 6.0
    new = _on(_on(_on(_on(y, k1, sixth), k2, 2.0 * sixth), k3, 2.0 * sixth), k4, sixth)
    return straightened(new[:STATES]) + new[STATES:]


@inlined
def _to_go(y, when, inputs):
    """What is left until the call, or until the rotation has stopped: nothing or less when it is there."""
    if when[0] == LET_SPIN:
        return inputs[CALL_AT] - when[7] * y[TURNED]
    return when[7] * y[RATE] - STOPPED_RATE


@compiled
def _close_in(y, t, step, left, new, when, inputs, spinner, body):
    """The call or the stop comes inside this step: a little beyond it, by false position (Illinois)."""
    low, high, f_low, f_high, stayed = 0.0, step, left, _to_go(new, when, inputs), 0.0
    for _ in range(8):
        if high - low < SHORTEST or f_high > -CLOSE:
            break
        middle = (low * f_high - high * f_low) / (f_high - f_low)
        between = _step(y, t, middle, when, inputs, spinner, body)
        f = _to_go(between, when, inputs)
        if f > 0.0:
            low, f_low = middle, f
            f_high *= 0.5 if stayed > 0.0 else 1.0
            stayed = 1.0
        else:
            high, f_high, new = middle, f, between
            f_low *= 0.5 if stayed < 0.0 else 1.0
            stayed = -1.0
    return high, new


@compiled
def _write(row, t, y, eas, g, now, side):
    write(row, t, y[:STATES], eas, g, y[RATE], -1, now[3])
    row[X_ALPHA], row[X_STICK] = y[ALPHA], now[0]
    row[X_RUDDER], row[X_AILERON] = side * now[1], side * now[2]


@inlined
def _down_to(step, t, at):
    """The step, cut short where this moment lies inside it."""
    return max(SHORTEST, at - t) if t < at < t + step else step


@compiled
def _mark(told, mark, t, up):
    """The first time counts."""
    if told[2 * mark] < 0.0:
        told[2 * mark], told[2 * mark + 1] = t, up


@compiled
def _mark_turns(told, inputs, t, step, done, turned, up, up_after):
    """The first and the planned turns, when they are done inside this step."""
    for mark, at in ((M_FIRST, inputs[FIRST_AT]), (M_PLANNED, inputs[PLANNED_AT])):
        if turned >= at - 1e-9:
            share = (at - done) / max(1e-12, turned - done)
            _mark(told, mark, t + share * step, up + share * (up_after - up))


@compiled
def _close_the_account(told, t, up, outcome):
    """Every mark in order, none after the end: what did not come was not waited for."""
    for i in range(MARKS):
        if told[2 * i] < 0.0 or told[2 * i] > t:
            told[2 * i], told[2 * i + 1] = (
                (told[2 * M_CALLED], told[2 * M_CALLED + 1]) if i < M_CALLED else (t, up)
            )
    if outcome == OTHER_WAY or outcome == NEVER_STOPPED:
        told[2 * M_STOPPED], told[2 * M_STOPPED + 1] = t, up
    told[2 * M_ENDED], told[2 * M_ENDED + 1] = t, up
    for mark, after in ((M_PLANNED, M_CALLED), (M_FIRST, M_PLANNED)):
        if abs(told[2 * after] - told[2 * mark]) < 1e-4:
            told[2 * mark], told[2 * mark + 1] = told[2 * after], told[2 * after + 1]
    if told[2 * M_INPUTS] > told[2 * M_STOPPED]:
        told[2 * M_INPUTS], told[2 * M_INPUTS + 1] = told[2 * M_STOPPED], told[2 * M_STOPPED + 1]


@compiled
def spin_one(y0, g0, throttle0, input_row, spinner_row, body_row, dt, rows, told, end):
    """From a state of the point mass (STATES,) at the stall. Fills rows (R, SPIN_ROW_COLUMNS) as far as they
    go, told (TOLD_COLUMNS,) and end (STATES + 2,): the state, load factor and throttle handed over. Returns
    how many rows."""
    inputs, spinner = to_fixed_tuple(input_row, INPUT_COLUMNS), to_fixed_tuple(spinner_row, SPINNER_COLUMNS)
    body, begin = to_fixed_tuple(body_row, BODY_COLUMNS), to_fixed_tuple(y0, STATES)
    side = inputs[SIDE]
    eas = begin[V] * math.sqrt(density_ratio(begin[UP], body))
    a0 = STALL_ALPHA * min(1.0, g0 * (spinner[LIFTS_AT] / eas) ** 2)
    y = begin + (a0, 0.0, 0.0)
    t, filled, phase, again, outcome = 0.0, 0, 0, False, SPUN
    later, called, stopped, first_input = -1.0, 1e9, 1e9, 1e9
    held = (0.0, 0.0, 0.0, 0.0)
    turned_at_input, done = 0.0, 0.0
    told[:] = -1.0
    told[T_HIGHEST], told[T_EAS], told[T_G_MOST], told[T_G_LEAST] = y[UP], eas, -1e9, 1e9
    while True:
        eas = y[V] * math.sqrt(density_ratio(y[UP], body))
        g = normal_load(y, eas, spinner, body)
        told[T_HIGHEST], told[T_EAS] = max(told[T_HIGHEST], y[UP]), max(told[T_EAS], eas)
        told[T_G_MOST], told[T_G_LEAST] = max(told[T_G_MOST], g), min(told[T_G_LEAST], g)
        told[T_ALPHA], told[T_RATE] = max(told[T_ALPHA], y[ALPHA]), max(told[T_RATE], abs(y[RATE]))
        now = controls_at(t, (phase, later, called, stopped, throttle0, held, again, side), inputs)
        if rows.shape[0] > filled:
            _write(rows[filled], t, y, eas, g, now, side)
            filled += 1
        flying = y[ALPHA] <= STALL_ALPHA
        if phase == LET_SPIN:
            spiral = flying and t > SPIRAL_AFTER_S and eas > spinner[LIFTS_AT] + SPIRAL_FASTER
            if done >= inputs[CALL_AT] or spiral or t >= NO_TURNS_S:
                if flying:
                    outcome = SPIRALLED
                phase, called, held = RECOVERING, t, now
                first_input = t + inputs[DELAY_S]
                _mark(told, M_CALLED, t, y[UP])
        if phase == RECOVERING and t >= first_input and side * y[RATE] <= STOPPED_RATE:
            phase, stopped = HAS_STOPPED, t
            _mark(told, M_STOPPED, t, y[UP])
            if told[T_TURNS] < 0.0:
                told[T_TURNS] = (done - turned_at_input) / (2.0 * math.pi)
        centre = AGAIN_CENTRE_S if again else inputs[CENTRE_S]
        if phase == HAS_STOPPED and t >= stopped + centre - 1e-9:
            phase, stopped = LET_GO, t
        still_held = 0.0 if again else max(inputs[RUDDER_HELD_S], inputs[STICK_HELD_S])
        if phase >= HAS_STOPPED and not flying and side * y[RATE] < -2.0 * STOPPED_RATE:
            # It turns the other way: a spin of its own, and its own recovery.
            outcome, again, side, phase, called = OTHER_WAY, True, -side, RECOVERING, t
            held, first_input = (now[0], -now[1], -now[2], now[3]), t + inputs[DELAY_S]
        elif phase == LET_GO and flying and abs(y[RATE]) < LETS_GO_RATE and t >= stopped + still_held:
            break
        too_long = phase > LET_SPIN and t > told[2 * M_CALLED] + NO_STOP_S
        if too_long or y[V] < LOWEST_SPEED or not t < NO_TURNS_S + 2.0 * NO_STOP_S:
            outcome = NEVER_STOPPED
            break
        step = dt
        if phase == RECOVERING:
            step = _down_to(step, t, first_input)
        elif phase == HAS_STOPPED:
            step = _down_to(step, t, stopped + centre)
        elif phase == LET_GO:
            step = _down_to(step, t, stopped + still_held)
        when = (phase, later, called, stopped, throttle0, held, again, side)
        left = _to_go(y, when, inputs)
        new = _step(y, t, step, when, inputs, spinner, body)
        looked_for = phase == LET_SPIN or (phase == RECOVERING and t >= first_input)
        if looked_for and left > 0.0 and _to_go(new, when, inputs) <= 0.0:
            step, new = _close_in(y, t, step, left, new, when, inputs, spinner, body)
        turned = done if again else side * new[TURNED]
        if t <= first_input < t + step or turned_at_input == 0.0 and t >= first_input:
            turned_at_input = done
        if phase == LET_SPIN:
            _mark_turns(told, inputs, t, step, done, turned, y[UP], new[UP])
            if later < 0.0 and turned >= inputs[LATER_AT]:
                later = t + step
        else:
            due = told[2 * M_CALLED] + inputs[DELAY_S] + max(0.0, max(inputs[STICK_S], inputs[RUDDER_S]))
            if t + step >= due:
                _mark(told, M_INPUTS, due, y[UP] + (due - t) / step * (new[UP] - y[UP]))
        y, done, t = new, turned, t + step
    _close_the_account(told, t, y[UP], outcome)
    lift, _ = lift_and_drag(y[ALPHA], eas, spinner, body)
    told[T_OUTCOME], told[T_LOWEST], told[T_G_END] = outcome, y[UP], lift
    for i in range(STATES):
        end[i] = y[i]
    end[STATES], end[STATES + 1] = lift, now[3]
    return filled


@compiled
def spin_many(y0, g0, throttle0, inputs, spinner, body, dt, told, ends):
    """The same for N pilots: y0 (N, STATES), inputs (N, INPUT_COLUMNS); fills told (N, TOLD_COLUMNS) and ends
    (N, STATES + 2)."""
    none = np.empty((0, SPIN_ROW_COLUMNS))
    for i in range(inputs.shape[0]):
        spin_one(y0[i], g0[i], throttle0[i], inputs[i], spinner, body, dt, none, told[i], ends[i])
