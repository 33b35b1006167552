"""Where a leg ends, and where a step has to: what is left until the end of a leg, and the next bend in the
course of a control. Compiled."""

import math

from keelturn.compiling import compiled
from keelturn.motion.equations import (
    AROUND,
    AT_G,
    AT_ROLL,
    AT_THROTTLE,
    BANK,
    BEFORE_G,
    BY_CLIMB,
    BY_LOOP,
    BY_PATH_DOWN,
    BY_PATH_UP,
    BY_ROLL_PAST,
    BY_ROLL_STOP,
    BY_ROLL_THROUGH,
    BY_ROLL_WITHIN,
    BY_SPEED_DOWN,
    BY_SPEED_UP,
    BY_TIME,
    BY_TURN,
    END,
    END_AT,
    G_CMD,
    G_WAIT,
    GOAL,
    HEIGHT0,
    LIFT,
    LIFT_G,
    LX,
    LY,
    LZ,
    ONSET,
    POWER,
    POWER_S,
    ROLL_ACC,
    ROLL_SHARE,
    SHORTEST_STEP,
    SIDE,
    STEEP,
    UP,
    UX,
    UY,
    UZ,
    bank_of,
    controls,
    eas_of,
    g_commanded,
    is_rolling,
    roll_most,
)


@compiled
def counted(before, y, dt, p, p_after, leg, held):
    """What a step has turned (track, right positive), rolled (bank; about the flight path when the roll began
    steep, where the bank angle is no measure) or pitched (in the plane of the lift vector), whichever ends
    the leg. Exact below half a circle."""
    end = leg[END]
    if end == BY_TURN:
        return math.atan2(before[UY] * y[UX] - before[UX] * y[UY], before[UX] * y[UX] + before[UY] * y[UY])
    if end == BY_ROLL_THROUGH:
        if held[GOAL] == STEEP:
            return 0.5 * (p + p_after) * dt
        step = bank_of(y) - bank_of(before)
        return step - 2.0 * math.pi * math.floor(step / (2.0 * math.pi) + 0.5)
    if end == BY_LOOP:
        ahead = y[UX] * before[UX] + y[UY] * before[UY] + y[UZ] * before[UZ]
        lifted = y[UX] * before[LX] + y[UY] * before[LY] + y[UZ] * before[LZ]
        return math.atan2(lifted, ahead)
    return 0.0


@compiled
def to_go(y, t, done, leg, held, body):
    """What is left until the leg ends, `done` being counted so far: positive before, zero or less at the
    end."""
    end = leg[END]
    if end == BY_TIME:
        return leg[END_AT] - t
    if end == BY_PATH_UP:
        return leg[END_AT] - y[UZ]
    if end == BY_PATH_DOWN:
        return y[UZ] - leg[END_AT]
    if end == BY_SPEED_UP:
        return leg[END_AT] - eas_of(y, body)
    if end == BY_SPEED_DOWN:
        return eas_of(y, body) - leg[END_AT]
    if end == BY_TURN:
        return leg[END_AT] - abs(done)
    if end == BY_LOOP:
        return held[GOAL] - done * leg[AROUND]
    if end == BY_CLIMB:
        return leg[END_AT] - abs(y[UP] - held[HEIGHT0])
    if end == BY_ROLL_STOP:
        return abs(held[AT_ROLL]) / leg[ROLL_ACC] - t
    if end == BY_ROLL_WITHIN:
        # Or where the roll must be stopped to end level.
        _, p, _, _ = controls(y, t, leg, held, body, eas_of(y, body))
        return -bank_of(y) * held[SIDE] - max(leg[BANK], 0.5 * p * p / leg[ROLL_ACC])
    if end == BY_ROLL_THROUGH:
        left = leg[AROUND] - done * held[SIDE]
    else:
        left = (leg[BANK] - bank_of(y)) * held[SIDE]
        if left < -0.5 * math.pi:
            left += 2.0 * math.pi
        elif left > 1.5 * math.pi:
            left -= 2.0 * math.pi
        if end == BY_ROLL_PAST:
            return left
    _, p, _, _ = controls(y, t, leg, held, body, eas_of(y, body))
    return left - 0.5 * p * p / leg[ROLL_ACC]


@compiled
def next_corner(y, t, leg, held, body):
    """The leg time of the next bend in a control's course after t."""
    nearest = 1e9
    after = t + SHORTEST_STEP
    if leg[LIFT] == LIFT_G:
        wait = held[G_WAIT]
        if after < wait:
            nearest = wait
            corner = abs(held[BEFORE_G] - held[AT_G]) / leg[ONSET]
            if after < corner < nearest:
                nearest = corner
        corner = wait + abs(leg[G_CMD] - g_commanded(wait, leg, held)) / leg[ONSET]
        if after < corner < nearest:
            nearest = corner
    corner = abs(leg[POWER] - held[AT_THROTTLE]) * leg[POWER_S]
    if corner > after and corner < nearest:
        nearest = corner
    end = leg[END]
    if is_rolling(end):
        # The full rate moves with speed while it is reached: near enough for the end of a step.
        corner = (
            abs(held[SIDE] * leg[ROLL_SHARE] * roll_most(y, body, held[SIDE]) - held[AT_ROLL]) / leg[ROLL_ACC]
        )
        if corner > after and corner < nearest:
            nearest = corner
    return nearest
