"""The laws of drag and thrust, over weight, once: compiled for the engine, called as they are by the rest.

Speeds are EAS in m/s. Fitted to the card by airframe.py; their limits are in docs/model.md."""

from keelturn.compiling import inlined as law

# How full thrust falls with speed: on a line (fixed pitch, jet), or power over an offset speed (constant
# speed).
LINEAR, HYPERBOLA, JET = 0.0, 1.0, 2.0


@law
def drag_over_weight(eas, n, best_glide, glide_ratio):
    """((V/Vbg)^2 + n^2 (Vbg/V)^2) / (2 L/D): the parabolic polar that has this best glide. Flight mechanics
    textbook."""
    x = eas / best_glide
    x *= x
    return (x + n * n / x) / (2.0 * glide_ratio)


@law
def full_thrust(eas, kind, thrust, slope):
    """Full throttle at sea level: thrust - slope V, not below nothing; or thrust / (V + slope)."""
    if kind == HYPERBOLA:
        return thrust / (eas + slope)
    return max(0.0, thrust - slope * eas)


@law
def power_ratio(sigma, kind):
    """Thrust against sea level at this density ratio. Unsupercharged piston engine: 1.132 s - 0.132 (Gagg and
    Farrar 1934, from memory); jet: s^0.8 (order of size of textbooks, from memory)."""
    return sigma**0.8 if kind == JET else 1.132 * sigma - 0.132
