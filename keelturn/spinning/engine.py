"""One spin from the stall to the hand-over to the pull-out: RK4 over equations.py, driven by what hands and
feet do and when. Compiled; its front door is spinning/flight.py."""

import math

import numpy as np
from numba.np.unsafe.ndarray import to_fixed_tuple

from keelturn.motion.engine import (
    R_BANK,
    R_EAS,
    R_EAST,
    R_G,
    R_HEADING,
    R_HEIGHT,
    R_LEG,
    R_NORTH,
    R_PATH,
    R_POWER,
    R_ROLL,
    R_TAS,
    R_TIME,
    R_WORK,
    ROW_COLUMNS,
)
from keelturn.motion.equations import (
    BODY_COLUMNS,
    EAST,
    NORTH,
    STATES,
    UP,
    UX,
    UY,
    UZ,
    WORK,
    V,
    bank_of,
    compiled,
    density_ratio,
    inlined,
)
from keelturn.spinning.equations import (
    ALPHA,
    BACK,
    LIFTS_AT,
    NEUTRAL,
    RATE,
    SPINNER_COLUMNS,
    STALL_ALPHA,
    TURNED,
    lift_and_drag,
    normal_load,
    spin_rates,
    straightened,
)
from keelturn.units import DEG, KT

# What hands and feet do. Turns in rad of rotation; side: 1 right, -1 left; rudder and aileron into the turn
# positive; seconds of the recovery from its first input. LATER: what changes once it spins. GIVES_UP_S:
# seconds for which the inputs are taken out again before they worked.
(
    SIDE,
    FIRST_AT,
    PLANNED_AT,
    CALL_AT,
    DELAY_S,
    STICK_IN,
    RUDDER_IN,
    AILERON_IN,
    POWER_IN,
    LATER_AT,
    STICK_LATER,
    AILERON_LATER,
    POWER_LATER,
    CLOSE_S,
    THROTTLE_S,
    AILERON_TO,
    RUDDER_S,
    RUDDER_TO,
    STICK_S,
    STICK_TO,
    HAND_S,
    CENTRE_S,
    RUDDER_HELD_S,
    GIVES_UP_S,
) = range(24)
INPUT_COLUMNS = 24
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
# Where the stick goes when the rotation has stopped and the pull-out is about to begin.
EASED_STICK = 0.2
# A spiral, not a spin: flying, and this much above the stall.
SPIRAL_FASTER = 20.0 * KT
# Before this nobody calls it a spiral: the stick is still on its way back.
SPIRAL_AFTER_S = 2.0
# Longest that is waited for turns that do not come, and for a rotation that does not stop.
NO_TURNS_S, NO_STOP_S = 20.0, 25.0
LOWEST_SPEED = 5.0
# Inputs are given up this long after the last of them, when they are.
PATIENCE_S = 0.5
# The second recovery, of a spin the other way, is done in order: stick after the rudder by this long, this
# far.
AGAIN_S, AGAIN_STICK, AGAIN_CENTRE_S = 0.3, -0.6, 0.3
# Where the stick is at the stall, before it goes where the pilot wants it.
AT_STALL = (STALL_ALPHA - NEUTRAL) / (BACK - NEUTRAL)


@inlined
def _moved(since, takes, start, end):
    """A control on its way from start to end, `since` seconds after it began to move."""
    if since <= 0.0:
        return start
    if since >= takes:
        return end
    return start + (end - start) * since / takes


@inlined
def _spinning(t, later, throttle0, inputs):
    """Stick, rudder, aileron, power while it is let spin."""
    hand = inputs[HAND_S]
    stick = _moved(t, hand, AT_STALL, inputs[STICK_IN])
    rudder = _moved(t, hand, 0.0, inputs[RUDDER_IN])
    aileron = inputs[AILERON_IN]
    power = _moved(t, inputs[THROTTLE_S], throttle0, inputs[POWER_IN])
    if later >= 0.0:
        since = t - later
        stick = _moved(since, hand, stick, inputs[STICK_LATER])
        aileron = _moved(since, hand, aileron, inputs[AILERON_LATER])
        power = _moved(since, inputs[THROTTLE_S], power, inputs[POWER_LATER])
    return stick, rudder, aileron, power


@inlined
def _recovering(s, held, again, inputs):
    """The same `s` seconds after the first input was due. held: controls at the call."""
    hand = inputs[HAND_S]
    rudder_to, stick_to, stick_s = inputs[RUDDER_TO], inputs[STICK_TO], inputs[STICK_S]
    rudder_s, close_s, aileron_to, gives_up = (
        inputs[RUDDER_S],
        inputs[CLOSE_S],
        inputs[AILERON_TO],
        inputs[GIVES_UP_S],
    )
    if again:
        rudder_to, stick_to, stick_s = -1.0, AGAIN_STICK, AGAIN_S
        rudder_s, close_s, aileron_to, gives_up = 0.0, 0.0, 0.0, 0.0
    if gives_up > 0.0:
        at = max(rudder_s, stick_s) + PATIENCE_S
        if s > at + gives_up:
            s -= gives_up
        elif s > at:
            # Taken out as they were put in: the last second of inputs runs backwards, then nothing is held.
            s = max(0.0, at - 2.0 * (s - at))
    return (
        _moved(s - stick_s, hand, held[0], stick_to),
        _moved(s - rudder_s, hand, held[1], rudder_to),
        _moved(s, hand, held[2], aileron_to),
        _moved(s - close_s, inputs[THROTTLE_S], held[3], 0.0),
    )


@inlined
def _controls(t, when, inputs):
    """Stick, rudder, aileron, power at time t. when: phase (0 let spin, 1 recovering, 2 stopped, 3 let go);
    the times of LATER, of the call and of the stop; the throttle it began with; controls at the call; whether
    it is the second recovery; the side it turns to."""
    phase, later, called, stopped, throttle0, held, again, _ = when
    if phase == 0:
        return _spinning(t, later, throttle0, inputs)
    now = _recovering(t - called - inputs[DELAY_S], held, again, inputs)
    if phase == 3:
        since, hand = t - stopped, inputs[HAND_S]
        return (
            _moved(since, hand, now[0], EASED_STICK),
            _moved(since - (0.0 if again else inputs[RUDDER_HELD_S]), hand, now[1], 0.0),
            _moved(since, hand, now[2], 0.0),
            now[3],
        )
    return now


@inlined
def _on(y, k, h):
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
        y[11] + h * k[11],
        y[12] + h * k[12],
        y[13] + h * k[13],
    )


@compiled
def _step(y, t, dt, when, inputs, spinner, body):
    """One RK4 step; the air is that of the middle of the step."""
    sigma = density_ratio(y[UP] + 0.5 * dt * y[V] * y[UZ], body)
    spun, side = 1.0 if when[0] > 0 else 0.0, when[7]
    c1, c2, c3 = (
        _controls(t, when, inputs),
        _controls(t + 0.5 * dt, when, inputs),
        _controls(t + dt, when, inputs),
    )
    k1 = spin_rates(y, c1[0], side * c1[1], side * c1[2], c1[3], spun, spinner, body, sigma)
    mid = _on(y, k1, 0.5 * dt)
    k2 = spin_rates(mid, c2[0], side * c2[1], side * c2[2], c2[3], spun, spinner, body, sigma)
    mid = _on(y, k2, 0.5 * dt)
    k3 = spin_rates(mid, c2[0], side * c2[1], side * c2[2], c2[3], spun, spinner, body, sigma)
    mid = _on(y, k3, dt)
    k4 = spin_rates(mid, c3[0], side * c3[1], side * c3[2], c3[3], spun, spinner, body, sigma)
    sixth = dt / 6.0
    return straightened(_on(_on(_on(_on(y, k1, sixth), k2, 2.0 * sixth), k3, 2.0 * sixth), k4, sixth))


@inlined
def _to_go(y, when, inputs):
    """What is left until the call, or until the rotation has stopped: nothing or less when it is there."""
    if when[0] == 0:
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


@inlined
def _passed(at, before, after, t, dt, up, up_after):
    """(seconds, height) at which the rotation passed `at` inside a step."""
    share = (at - before) / max(1e-12, after - before)
    return t + share * dt, up + share * (up_after - up)


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
    turned_at_input, turns_to_stop, done = 0.0, -1.0, 0.0
    highest, fastest, g_most, g_least, a_most, p_most = y[UP], eas, -1e9, 1e9, a0, 0.0
    for i in range(MARKS):
        told[2 * i], told[2 * i + 1] = -1.0, 0.0
    while True:
        eas = y[V] * math.sqrt(density_ratio(y[UP], body))
        g = normal_load(y, eas, spinner, body)
        highest, fastest = max(highest, y[UP]), max(fastest, eas)
        g_most, g_least, a_most, p_most = (
            max(g_most, g),
            min(g_least, g),
            max(a_most, y[ALPHA]),
            max(p_most, abs(y[RATE])),
        )
        now = _controls(t, (phase, later, called, stopped, throttle0, held, again, side), inputs)
        if rows.shape[0] > filled:
            row = rows[filled]
            row[R_TIME], row[R_HEIGHT], row[R_TAS], row[R_EAS], row[R_G] = t, y[UP], y[V], eas, g
            row[R_PATH], row[R_BANK] = math.asin(max(-1.0, min(1.0, y[UZ]))), bank_of(y)
            row[R_HEADING], row[R_EAST], row[R_NORTH] = math.atan2(y[UX], y[UY]), y[EAST], y[NORTH]
            row[R_LEG], row[R_POWER], row[R_ROLL], row[R_WORK] = -1.0, now[3], y[RATE], y[WORK]
            row[X_ALPHA], row[X_STICK], row[X_RUDDER], row[X_AILERON] = (
                y[ALPHA],
                now[0],
                side * now[1],
                side * now[2],
            )
            filled += 1
        flying = y[ALPHA] <= STALL_ALPHA
        if phase == 0:
            spiral = flying and t > SPIRAL_AFTER_S and eas > spinner[LIFTS_AT] + SPIRAL_FASTER
            if done >= inputs[CALL_AT] or spiral or t >= NO_TURNS_S:
                if flying:
                    outcome = SPIRALLED
                phase, called, held = 1, t, now
                first_input = t + inputs[DELAY_S]
                told[2 * M_CALLED], told[2 * M_CALLED + 1] = t, y[UP]
        if phase == 1 and t >= first_input and side * y[RATE] <= STOPPED_RATE:
            phase, stopped = 2, t
            if turns_to_stop < 0.0:
                turns_to_stop = (done - turned_at_input) / (2.0 * math.pi)
        centre = AGAIN_CENTRE_S if again else inputs[CENTRE_S]
        if phase == 2 and t >= stopped + centre - 1e-9:
            phase, stopped = 3, t
        if phase >= 2:
            if not flying and side * y[RATE] < -2.0 * STOPPED_RATE:
                # It turns the other way: a spin of its own, and its own recovery.
                outcome, again, side, phase, called, held = (
                    OTHER_WAY,
                    True,
                    -side,
                    1,
                    t,
                    (now[0], -now[1], -now[2], now[3]),
                )
                first_input = t + inputs[DELAY_S]
            elif (
                phase == 3
                and flying
                and abs(y[RATE]) < LETS_GO_RATE
                and (again or t >= stopped + inputs[RUDDER_HELD_S])
            ):
                break
        if (
            (phase > 0 and t > told[2 * M_CALLED] + NO_STOP_S)
            or y[V] < LOWEST_SPEED
            or not t < NO_TURNS_S + 2.0 * NO_STOP_S
        ):
            outcome = NEVER_STOPPED
            break
        step = dt
        if phase == 1 and t < first_input < t + step:
            step = max(SHORTEST, first_input - t)
        if phase == 3 and not again and t < stopped + inputs[RUDDER_HELD_S] < t + step:
            step = max(SHORTEST, stopped + inputs[RUDDER_HELD_S] - t)
        if phase == 2 and t < stopped + centre < t + step:
            step = max(SHORTEST, stopped + centre - t)
        when = (phase, later, called, stopped, throttle0, held, again, side)
        left = _to_go(y, when, inputs)
        new = _step(y, t, step, when, inputs, spinner, body)
        looked_for = phase == 0 or (phase == 1 and t >= first_input)
        if looked_for and left > 0.0 and _to_go(new, when, inputs) <= 0.0:
            step, new = _close_in(y, t, step, left, new, when, inputs, spinner, body)
        turned = done if again else side * new[TURNED]
        if t <= first_input < t + step or turned_at_input == 0.0 and t >= first_input:
            turned_at_input = done
        for mark, at in ((M_FIRST, inputs[FIRST_AT]), (M_PLANNED, inputs[PLANNED_AT])):
            if told[2 * mark] < 0.0 and phase == 0 and turned >= at - 1e-9:
                told[2 * mark], told[2 * mark + 1] = _passed(at, done, turned, t, step, y[UP], new[UP])
        if later < 0.0 and phase == 0 and turned >= inputs[LATER_AT]:
            later = t + step
        due = told[2 * M_CALLED] + inputs[DELAY_S] + max(0.0, max(inputs[STICK_S], inputs[RUDDER_S]))
        if phase > 0 and told[2 * M_INPUTS] < 0.0 and t + step >= due:
            share = (due - t) / step
            told[2 * M_INPUTS], told[2 * M_INPUTS + 1] = due, y[UP] + share * (new[UP] - y[UP])
        y, done, t = new, turned, t + step
        if (
            phase >= 1
            and told[2 * M_STOPPED] < 0.0
            and phase == 1
            and t >= first_input
            and side * y[RATE] <= STOPPED_RATE
        ):
            told[2 * M_STOPPED], told[2 * M_STOPPED + 1] = t, y[UP]
    for i in range(MARKS):
        # What did not come was not waited for: the spin was called, stopped or ended before.
        if told[2 * i] < 0.0 or told[2 * i] > t:
            told[2 * i], told[2 * i + 1] = (
                (told[2 * M_CALLED], told[2 * M_CALLED + 1]) if i < M_CALLED else (t, y[UP])
            )
    if outcome == OTHER_WAY or outcome == NEVER_STOPPED:
        told[2 * M_STOPPED], told[2 * M_STOPPED + 1] = t, y[UP]
    told[2 * M_ENDED], told[2 * M_ENDED + 1] = t, y[UP]
    for mark, after in ((M_PLANNED, M_CALLED), (M_FIRST, M_PLANNED)):
        if abs(told[2 * after] - told[2 * mark]) < 1e-4:
            told[2 * mark], told[2 * mark + 1] = told[2 * after], told[2 * after + 1]
    if told[2 * M_INPUTS] > told[2 * M_STOPPED]:
        told[2 * M_INPUTS], told[2 * M_INPUTS + 1] = told[2 * M_STOPPED], told[2 * M_STOPPED + 1]
    lift, _ = lift_and_drag(y[ALPHA], eas, spinner, body)
    told[T_TURNS], told[T_OUTCOME], told[T_HIGHEST], told[T_LOWEST] = turns_to_stop, outcome, highest, y[UP]
    told[T_EAS], told[T_G_MOST], told[T_G_LEAST] = fastest, g_most, g_least
    told[T_ALPHA], told[T_RATE], told[T_G_END] = a_most, p_most, lift
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
