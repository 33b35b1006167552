"""`make bench`: performance as ratios in one run, on this machine, now.

Our integrator against scipy's `solve_ivp` on the same pull-out, and the computation of one plan of the first lesson.
"""

import time
from collections.abc import Callable

import numpy as np
from scipy.integrate import solve_ivp

from keelturn.motion import engine
from keelturn.motion.flight import FAN_STEP_S, STEP_S, fly_fan, fly_one, state_of
from keelturn.motion.legs import Floats
from keelturn.plan.costs import fly_usual, programme
from keelturn.plan.pilots import FAN, drawn_numbers, usual_numbers
from keelturn.plan.sequence import compute_plan
from keelturn.plan.spread import MEMORY
from keelturn.progress.lessons import laid_out, lesson_of
from keelturn.units import FT
from tests.flights import TRAINER, conditions, figure, plan


def reference_height_lost(y: Floats, g: float, throttle: float, legs: Floats, body: Floats, rtol: float = 1e-10) -> float:
    """Height lost (m) over the legs by scipy's DOP853 on the engine's own equations, each leg ended by scipy's own event
    location, each corner of the controls a restart."""
    first = y[engine.UP]
    start = np.array([g, throttle, 0.0, 1.0])
    for leg in legs:
        if leg[engine.END] == engine.BY_ROLL:
            start[3] = 1.0 if leg[engine.BANK] > engine._bank(y) else -1.0
            start[2] = 0.0

        def left(t: float, y: Floats, leg: Floats = leg, start: Floats = start) -> float:
            return float(engine._to_go(y, t, 0.0, leg, start, body))

        def rates(t: float, y: Floats, leg: Floats = leg, start: Floats = start) -> Floats:
            found: Floats = engine.rates_of(y, t, leg, start, body)
            return found

        left.terminal = True  # type: ignore[attr-defined]
        corners = sorted({
            abs(leg[engine.G_CMD] - start[0]) / leg[engine.ONSET], abs(leg[engine.POWER] - start[1]) * leg[engine.POWER_S], 60.0})
        if leg[engine.END] == engine.BY_TIME:
            corners = sorted({*(c for c in corners if c < leg[engine.END_AT]), leg[engine.END_AT]})
        if leg[engine.END] == engine.BY_ROLL_STOP:
            stop = abs(start[2]) / leg[engine.ROLL_ACC]
            corners = sorted({*(c for c in corners if c < stop), stop})
        t = 0.0
        for corner in corners:
            if corner <= t + 1e-12:
                continue
            events = left if leg[engine.END] not in (engine.BY_TIME, engine.BY_ROLL_STOP) else None
            found = solve_ivp(rates, (t, corner), y, method="DOP853", rtol=rtol, atol=1e-10, events=events)
            t, y = float(found.t[-1]), found.y[:, -1]
            if found.status == 1:
                break
        n, p, throttle_now, _ = engine._controls(y, t, leg, start, body, engine._eas(y, body))
        if leg[engine.END] == engine.BY_ROLL_STOP:
            engine._set_bank(y, leg[engine.BANK])
        start = np.array([n, throttle_now, p, start[3]])
    return float(first - y[engine.UP])


def best_of(times: int, do: Callable[[], object]) -> float:
    """Seconds of the fastest of several runs."""
    found = []
    for _ in range(times):
        began = time.perf_counter()
        do()
        found.append(time.perf_counter() - began)
    return min(found)


def main() -> None:
    c = conditions()
    spin = figure("spin")
    made = programme(spin, c, usual_numbers("student"), 1500.0)
    y, g, throttle = state_of(made.start, 1)[0], float(np.ravel(made.start.g)[0]), float(np.ravel(made.start.throttle)[0])
    summary, _ = fly_one(made.start, made.legs, c.body)
    reference_height_lost(y, g, throttle, made.legs[0], c.body)
    ours = best_of(50, lambda: fly_one(made.start, made.legs, c.body))
    theirs = best_of(5, lambda: reference_height_lost(y, g, throttle, made.legs[0], c.body, rtol=1e-6))
    exact = reference_height_lost(y, g, throttle, made.legs[0], c.body)
    rough = reference_height_lost(y, g, throttle, made.legs[0], c.body, rtol=1e-6)
    off = abs(-summary[:, engine.S_HEIGHT].sum() - exact) / FT
    print(f"pull-out, ours (step {STEP_S} s):         {ours * 1e3:8.3f} ms, {off:.4f} ft from DOP853 at rtol 1e-10")
    print(f"pull-out, solve_ivp (rtol 1e-6):      {theirs * 1e3:8.3f} ms, {abs(rough - exact) / FT:.4f} ft")
    print(f"ratio solve_ivp / ours:               {theirs / ours:8.1f}")
    print(f"one figure, usual pilot, with trace:  {best_of(50, lambda: fly_usual(spin, c)) * 1e3:8.3f} ms")
    fan = programme(spin, c, drawn_numbers("student"), 1500.0)
    print(f"{FAN} pilots of it (step {FAN_STEP_S} s):      {best_of(5, lambda: fly_fan(fan.start, fan.legs, c.body)) * 1e3:8.1f} ms")
    lesson = plan(*laid_out(lesson_of("spins_both_ways"), TRAINER, 5000.0))
    cold_c = conditions(lesson)

    def cold() -> None:
        MEMORY.forget()
        compute_plan(lesson, cold_c)

    compute_plan(lesson, cold_c)
    print(f"this lesson's plan, spread from cold: {best_of(3, cold) * 1e3:8.1f} ms")
    print(f"this lesson's plan, after a change:   {best_of(10, lambda: compute_plan(lesson, cold_c)) * 1e3:8.1f} ms")


if __name__ == "__main__":
    main()
