"""`make bench`: performance as ratios in one run, on this machine, now; and where the time goes.

The engine against scipy's integrator on the same equations, against a six-degree-of-freedom library per
simulated second, and the computations that the screens wait for against their targets (docs/model.md)."""

import cProfile
import importlib
import os
import pstats
import resource
import subprocess
import sys
import time
from collections.abc import Callable
from functools import partial

import numpy as np

from keelturn.assess.best import State, mathematical_bound, practical_best
from keelturn.figures.catalogue import FIGURES
from keelturn.flying import course as course_module
from keelturn.flying.costs import fan_losses, fly_usual, pilot_numbers, usual_loss_ft
from keelturn.flying.course import closing
from keelturn.flying.pilots import drawn_numbers
from keelturn.flying.spin import calibrate
from keelturn.margins.gates import entry_map
from keelturn.margins.influence import losses
from keelturn.margins.spread import flown_by_many, recovery_99
from keelturn.motion import engine
from keelturn.motion import equations as eq
from keelturn.motion.flight import Start, begin, fly_each, fly_fan, fly_one
from keelturn.plan import figure_answer, sequence
from keelturn.plan.document import PlanDocument
from keelturn.plan.sequence import compute_plan
from keelturn.spinning.calibration import reference_inputs
from keelturn.spinning.flight import spin
from keelturn.units import FT, KT
from tests.flights import TRAINER, conditions, figure, plan
from tools.reference import reference_end

DRY = (
    "steep_turn",
    "stall_power_off",
    "wing_over",
    "aileron_roll",
    "loop",
    "half_cuban",
    "stall_turn",
    "nose_low",
    "over_banked",
    "barrel_roll",
    "inverted",
    "nose_high",
)
SPINS = ("incipient_spin", "spin", "spin_accelerated", "spin_flat", "spin_out_aileron", "spin_inverted")
SIX_SPINS = (*DRY[:6], *SPINS)


def best_of(times: int, do: Callable[[], object]) -> float:
    """Seconds of the fastest of several runs."""
    found = []
    for _ in range(times):
        began = time.perf_counter()
        do()
        found.append(time.perf_counter() - began)
    return min(found)


def line(words: str, seconds: float, target: float | None = None) -> None:
    against = "" if target is None else f"   target {target * 1e3:g} ms: {seconds / target:.2f} of it"
    print(f"{words:58s} {seconds * 1e3:9.2f} ms{against}")


def ratio(words: str, theirs: float, ours: float, target: float) -> None:
    print(f"{words:58s} {theirs / ours:9.0f} x    target {target:g} x")


def against_other_integrators() -> None:
    """One nose-low recovery on the same equations, to the same tenth of a foot; and per simulated second."""
    c = conditions()
    asked = []

    def recording(held, legs, body, step_s):  # type: ignore[no-untyped-def]
        asked.append((held, legs, body))
        return fly_each(held, legs, body, step_s)

    course_module.fly_each = recording  # type: ignore[assignment,attr-defined]
    course_module.fly(figure("nose_low"), c, pilot_numbers("student"), 5000 * FT, trace=True)
    course_module.fly_each = fly_each  # type: ignore[attr-defined]
    held, legs, body = asked[0]
    exact, rough = reference_end(held, legs[0], body), reference_end(held, legs[0], body, rtol=1e-6)
    summary, _, end = fly_one(held, legs, body, 0.1)
    seconds = float(summary[:, engine.S_SECONDS].sum())
    ours = best_of(50, lambda: fly_fan(held, legs, body, 0.1))
    theirs = best_of(5, lambda: reference_end(held, legs[0], body, rtol=1e-6))
    print(
        f"off from DOP853 at rtol 1e-10: ours {abs(end.states[0, eq.UP] - exact[eq.UP]) / FT:.4f} ft, "
        f"solve_ivp at rtol 1e-6 {abs(rough[eq.UP] - exact[eq.UP]) / FT:.4f} ft"
    )
    line("one recovery, ours", ours)
    line("one recovery, solve_ivp", theirs)
    ratio("solve_ivp over ours", theirs, ours, 20)
    fly = importlib.import_module("tests.outside.six_dof").fly
    fly(70, -5, lambda t, now: (1.0, 0.0, None), lambda t, now: t > 0.1)
    began = time.perf_counter()
    fly(70, -5, lambda t, now: (1.0, 0.0, None), lambda t, now: t > 20.0)
    six = (time.perf_counter() - began) / 20.0
    ratio("six-degree-of-freedom library over ours, per simulated second", six, ours / seconds, 50)


def what_screens_wait_for() -> None:
    c = conditions()
    loop, low = figure("loop"), figure("nose_low")
    slowest = max(FIGURES, key=lambda f: best_of(3, lambda: usual_loss_ft(figure(f.key, 6000), c)))
    line("one recovery, nominal, without the trace", best_of(50, lambda: usual_loss_ft(low, c)), 0.5e-3)
    line("one loop, nominal, without the trace", best_of(50, lambda: usual_loss_ft(loop, c)), 0.5e-3)
    line(
        f"the slowest figure of the catalogue ({slowest.name.lower()})",
        best_of(20, lambda: usual_loss_ft(figure(slowest.key, 6000), c)),
    )
    line("one recovery with its trace, account and track", best_of(50, lambda: fly_usual(low, c)))
    thousand, many = drawn_numbers("student", 1000), drawn_numbers("student", 10_000)
    line(
        "1,000 pilots of one recovery, one core",
        best_of(5, lambda: fan_losses(low, c, thousand, 1500.0)),
        60e-3,
    )
    line("10,000 pilots of it, two cores", best_of(3, lambda: fan_losses(low, c, many, 1500.0)), 0.5)
    line("the same with the shares of the variance", best_of(3, lambda: losses(low, c)))
    line("map of 60 x 40 loops", best_of(3, lambda: entry_map(loop, c)), 150e-3)
    state = State(5000, 110 * KT, 120, -30)
    line(
        "best possible of one attempt, both numbers",
        best_of(10, lambda: (practical_best(state, c), mathematical_bound(state, c))),
        20e-3,
    )
    spinning = figure("spin", 6000)
    assert c.spin is not None
    spinner, once = c.spin.spinner("upright", False, c.frame), reference_inputs(np.ones(1))
    at_stall = begin(Start(6000 * FT, 30.0), 1)
    line("one spin, its motion alone", best_of(50, lambda: spin(spinner, c.body, once, at_stall)), 0.5e-3)
    line("one spin to level, with its account", best_of(50, lambda: usual_loss_ft(spinning, c)), 0.5e-3)
    line(
        "1,000 pilots of a one-turn spin, one core",
        best_of(5, lambda: fan_losses(spinning, c, thousand, 6000 * FT)),
        60e-3,
    )
    line("a card's spin fitted, once for each card", best_of(1, lambda: calibrate(TRAINER)))
    for words, keys, target in (("without spins", DRY, 0.3), ("with six spins", SIX_SPINS, 0.6)):
        twelve = plan(*(figure(key, 6000) for key in keys))
        line(f"plan of 12 figures from cold, {words}", best_of(3, partial(cold, twelve)), target)
    spins = plan(*(figure(key, 6000) for key in SIX_SPINS))
    faster = changing(spins, 5, lambda k: {"entry_ias": 110.0 + 0.1 * k})
    longer = changing(spins, 7, lambda k: {"parameters": {"turns": 1.0 + 0.01 * k}})
    line("plan of 12 after a change to one figure", best_of(10, faster), 40e-3)
    line("plan of 12 after a change to a spin", best_of(10, longer), 120e-3)
    print(
        f"{'memory of this process':58s} {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:9.0f} MB "
        "  target 400 MB"
    )


def cold(document: PlanDocument) -> None:
    """Nothing remembered but what is so once for each card."""
    for memory in (flown_by_many, recovery_99, figure_answer.usual_flight, sequence._alone, closing):
        memory.cache_clear()
    compute_plan(document, conditions(document))


def changing(
    document: PlanDocument, which: int, update: Callable[[int], dict[str, object]]
) -> Callable[[], object]:
    """The plan with one figure flown otherwise each time, as never before."""
    steps = iter(range(1, 10_000))
    its = conditions(document)
    compute_plan(document, its)

    def changed() -> None:
        figures = list(document.figures)
        figures[which] = figures[which].model_copy(update=update(next(steps)))
        compute_plan(document.model_copy(update={"figures": tuple(figures)}), its)

    return changed


COLD_START = (
    "import time; t = time.perf_counter(); "
    "from keelturn.flying.costs import usual_loss_ft; from tests.flights import conditions, figure; "
    "usual_loss_ft(figure('nose_low'), conditions()); print(time.perf_counter() - t)"
)


def cold_starts() -> None:
    """A fresh process up to its first computed figure: with the compiled code on disk, and without."""
    kept = os.environ.get("NUMBA_CACHE_DIR", "")
    for words, cache in (
        ("first figure of a new process, compiled code on disk", kept),
        ("the same, compiling", ""),
    ):
        where = {**os.environ, "NUMBA_CACHE_DIR": cache or f"/tmp/keelturn-bench-{os.getpid()}"}
        done = subprocess.run(
            [sys.executable, "-c", COLD_START], env=where, capture_output=True, text=True, check=True
        )
        print(f"{words:58s} {float(done.stdout):9.2f} s")


def profile() -> None:
    """Where the time of a changed plan goes."""
    twelve = plan(*(figure(key, 6000) for key in SIX_SPINS))
    its = conditions(twelve)
    compute_plan(twelve, its)
    profiler = cProfile.Profile()
    profiler.enable()
    for _ in range(10):
        compute_plan(twelve, its)
    profiler.disable()
    stats = pstats.Stats(profiler)
    total = sum(row[2] for row in stats.stats.values())  # type: ignore[attr-defined]
    rooms: dict[str, float] = {}
    for (file, _, _), row in stats.stats.items():  # type: ignore[attr-defined]
        room = file.split("/keelturn/")[-1] if "/keelturn/" in file else "numpy and Python"
        rooms[room] = rooms.get(room, 0.0) + row[2]
    print("\nwhere a changed plan's time goes (profiled, share of its own time):")
    for room, spent in sorted(rooms.items(), key=lambda item: -item[1])[:10]:
        print(f"  {room:40s} {100 * spent / total:5.1f} %")


def main() -> None:
    np.seterr(all="raise", under="ignore")
    print(f"aircraft: {TRAINER.name}, this machine: {os.cpu_count()} cores")
    against_other_integrators()
    what_screens_wait_for()
    cold_starts()
    profile()


if __name__ == "__main__":
    main()
