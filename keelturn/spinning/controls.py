"""Hands and feet in a spin: what a pilot's inputs are, and where the controls stand at each moment. Compiled.

Common practice, no published source."""

from keelturn.compiling import inlined
from keelturn.spinning.equations import BACK, NEUTRAL, STALL_ALPHA

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
    STICK_HELD_S,
) = range(25)
INPUT_COLUMNS = 25
# How far the pilot has come
LET_SPIN, RECOVERING, HAS_STOPPED, LET_GO = range(4)
# Where the stick goes when the rotation has stopped and the pull-out is about to begin.
EASED_STICK = 0.2
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
def controls_at(t, when, inputs):
    """Stick, rudder, aileron, power at time t. when: phase (0 let spin, 1 recovering, 2 stopped, 3 let go);
    the times of LATER, of the call and of the stop; the throttle it began with; controls at the call; whether
    it is the second recovery; the side it turns to."""
    phase, later, called, stopped, throttle0, held, again, _ = when
    if phase == LET_SPIN:
        return _spinning(t, later, throttle0, inputs)
    now = _recovering(t - called - inputs[DELAY_S], held, again, inputs)
    if phase == LET_GO:
        since, hand = t - stopped, inputs[HAND_S]
        return (
            _moved(since - (0.0 if again else inputs[STICK_HELD_S]), hand, now[0], EASED_STICK),
            _moved(since - (0.0 if again else inputs[RUDDER_HELD_S]), hand, now[1], 0.0),
            _moved(since, hand, now[2], 0.0),
            now[3],
        )
    return now
