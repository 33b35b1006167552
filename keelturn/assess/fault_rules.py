"""Which faults a recording shows: one table of rules, each with what is looked at, from where on it is a
fault, what is needed to see it, and where on the trace it stands.

Thresholds are common practice, no published source, unless a rule says so; those of the pilot's numbers lie
between the usual pilots of flying/pilots.py and what figures/faults.py takes the fault to be. How often they
are right is counted by `make score`."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from keelturn.assess.evidence import (
    Evidence,
    Value,
    at_the_call,
    at_the_gate,
    at_the_lowest,
    at_the_pull,
    at_the_rudder,
    at_the_stick,
    bank_at_pull,
    bank_at_the_gate,
    delayed,
    heading_off,
    number_told,
    power_closed_late,
    power_while_down,
    rudder_late,
    stalled_again,
    too_fast,
    wrong_rudder,
)
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Fault, fault_of
from keelturn.working import Source

PRACTICE = Source("common practice", "no published source")
STEEP_TURN = Source(
    "regulation", "FAA airman certification standards, steep turns: height within 100 ft (from memory)"
)


@dataclass(frozen=True, slots=True)
class Rule:
    """value: what is looked at, None where it cannot be seen. It is a fault beyond most, or below least.
    numbers: of the pilot that make it, to find what it cost; size: whichever way they are off. needs: in
    words. unless: key of the fault that says the same of a figure which has it."""

    fault: str
    looks_at: str
    unit: str
    value: Callable[[Evidence], Value | None]
    most: float = math.inf
    least: float = -math.inf
    numbers: tuple[str, ...] = ()
    size: bool = False
    needs: str = "height, speed, g and attitude"
    source: Source = PRACTICE
    unless: str = ""

    def beyond(self, value: float) -> float:
        """How far beyond what is allowed; negative inside."""
        return max(value - self.most, self.least - value)


@dataclass(frozen=True, slots=True)
class FaultFound:
    """sure: 0 to 1, that it lies beyond. limit: from where on it is a fault."""

    fault: Fault
    rule: Rule
    value: float
    doubt: float
    limit: float
    sure: float
    at_s: float


CONTROLS_NEEDED = "a recorder of the controls"
SPIN_NUMBERS = "attitude; surer with a recorder of the controls"

RULES: tuple[Rule, ...] = (
    Rule(
        "wrong_speed",
        "speed at the gate, against the plan",
        "kt",
        number_told("speed_error_kt", size=True, at=at_the_gate),
        most=6.0,
        size=True,
        numbers=("speed_error_kt",),
    ),
    Rule(
        "nose_dropped",
        "height let go",
        "ft",
        number_told("height_keeping_ft", at=at_the_lowest),
        most=100.0,
        numbers=("height_keeping_ft",),
        source=STEEP_TURN,
    ),
    # Stalls
    Rule(
        "forward_late", "stall to stick forward", "s", number_told("delay_s"), most=1.5, numbers=("delay_s",)
    ),
    Rule(
        "power_in_late", "throttle to full", "s", number_told("throttle_s"), most=1.5, numbers=("throttle_s",)
    ),
    Rule("secondary_stall", "stalled again", "", stalled_again, most=0.5),
    # Into a spin
    Rule(
        "stick_not_back",
        "stick back in the entry, share",
        "",
        number_told("entry_stick", at=at_the_gate),
        least=0.75,
        numbers=("entry_stick",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "rudder_half",
        "rudder in the entry, share",
        "",
        number_told("entry_rudder", at=at_the_gate),
        least=0.7,
        numbers=("entry_rudder",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "aileron_in",
        "aileron held in the spin, share",
        "",
        number_told("aileron_in", size=True, at=at_the_gate),
        most=0.4,
        size=True,
        numbers=("aileron_in",),
        needs=SPIN_NUMBERS,
    ),
    # Out of a spin
    Rule(
        "power_late",
        "throttle closed late",
        "s",
        power_closed_late,
        most=0.7,
        numbers=("close_s",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "rudder_late",
        "call, or turns done, to first input",
        "s",
        rudder_late,
        most=1.1,
        numbers=("call_s", "turn_error"),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "wrong_rudder",
        "rudder into the turn in the recovery",
        "s",
        wrong_rudder,
        most=0.6,
        needs=CONTROLS_NEEDED,
    ),
    Rule(
        "stick_before_rudder",
        "rudder to stick",
        "s",
        number_told("gap_s", at=at_the_stick),
        least=-0.2,
        numbers=("gap_s",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "stick_late",
        "rudder to stick",
        "s",
        number_told("gap_s", at=at_the_stick),
        most=0.9,
        numbers=("gap_s",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "stick_too_far",
        "stick beyond where it should go, share",
        "",
        number_told("stick_error", at=at_the_stick),
        least=-0.4,
        numbers=("stick_error",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "aileron_in_recovery",
        "aileron held in the recovery, share",
        "",
        number_told("aileron_recovery", size=True, at=at_the_rudder),
        most=0.4,
        size=True,
        numbers=("aileron_recovery",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "rudder_not_centred",
        "rudder held after it stopped",
        "s",
        number_told("rudder_held_s", at=at_the_lowest),
        most=0.5,
        numbers=("rudder_held_s",),
        needs=SPIN_NUMBERS,
    ),
    Rule(
        "impatient",
        "inputs taken out for",
        "s",
        number_told("gives_up_s", at=at_the_stick),
        most=0.5,
        numbers=("gives_up_s",),
        needs=SPIN_NUMBERS,
    ),
    # Pull-outs
    Rule(
        "soft_pull",
        "pull, against the plan",
        "g",
        number_told("pull_g", at=at_the_pull),
        least=-0.4,
        numbers=("pull_g",),
        unless="pulled_soft",
    ),
    Rule(
        "harsh_pull",
        "pull, against the plan",
        "g",
        number_told("pull_g", at=at_the_pull),
        most=0.5,
        numbers=("pull_g",),
        unless="pulled_hard",
    ),
    Rule(
        "power_before_horizon",
        "power on in the pull-out",
        "s",
        power_while_down,
        most=0.5,
        needs=CONTROLS_NEEDED,
    ),
    Rule(
        "not_level_first",
        "bank where the pull begins",
        "°",
        bank_at_pull,
        most=35.0,
    ),
    # Upsets
    Rule("late", "handed over, or called, to first input", "s", delayed, most=1.5, numbers=("delay_s",)),
    Rule(
        "pulled_before_rolling",
        "bank at which the pull begins",
        "°",
        number_told("pull_from_bank_deg", at=at_the_pull),
        most=45.0,
        numbers=("pull_from_bank_deg",),
    ),
    Rule(
        "rolled_while_pulling",
        "g while rolling",
        "g",
        number_told("roll_g", at=at_the_call),
        most=1.5,
        numbers=("roll_g",),
    ),
    # Rolls, loops, lines
    Rule(
        "nose_low_first",
        "nose, against the plan",
        "°",
        number_told("angle_error_deg", at=at_the_gate),
        least=-7.0,
        numbers=("angle_error_deg",),
    ),
    Rule(
        "aileron_eased",
        "share of full aileron",
        "",
        number_told("roll_share", at=at_the_gate),
        least=0.5,
        numbers=("roll_share",),
    ),
    Rule(
        "scooped",
        "pulled while it came off its back",
        "g",
        number_told("scoop_g", at=at_the_lowest),
        most=0.6,
        numbers=("scoop_g",),
    ),
    Rule(
        "no_top_rudder",
        "share of the weight carried at knife edge",
        "",
        number_told("top_rudder", at=at_the_gate),
        least=0.15,
        numbers=("top_rudder",),
    ),
    Rule(
        "no_forward_inverted",
        "share of the push it takes on its back",
        "",
        number_told("on_its_back", at=at_the_gate),
        least=0.5,
        numbers=("on_its_back",),
    ),
    Rule("off_heading", "heading, against where it should come out", "°", heading_off, most=20.0),
    Rule(
        "wings_not_level",
        "bank where the pull begins",
        "°",
        bank_at_the_gate,
        most=8.0,
        needs="g and attitude",
    ),
    Rule(
        "pulled_soft",
        "pull, against the plan",
        "g",
        number_told("pull_g", at=at_the_gate),
        least=-0.4,
        numbers=("pull_g",),
    ),
    Rule(
        "pulled_hard",
        "pull, against the plan",
        "g",
        number_told("pull_g", at=at_the_gate),
        most=0.4,
        numbers=("pull_g",),
    ),
    Rule(
        "no_easing",
        "g over the top, against the plan",
        "g",
        number_told("ease_error_g", at=at_the_gate),
        most=0.2,
        numbers=("ease_error_g",),
    ),
    Rule(
        "not_vertical",
        "line, against the plan",
        "°",
        number_told("angle_error_deg", size=True, at=at_the_gate),
        most=7.0,
        size=True,
        numbers=("angle_error_deg",),
    ),
    Rule("overspeed", "top speed, of 100 of Vne", "%", too_fast, most=100.0),
)
# How sure a fault has to be to be found.
FOUND = 0.5


def faults_found(evidence: Evidence) -> tuple[FaultFound, ...]:
    """In the order of the table."""
    return tuple(found for found in looked_at(evidence) if found.sure > FOUND)


def cannot_be_seen(evidence: Evidence) -> tuple[tuple[Fault, str], ...]:
    """Faults of the figure that this recording does not tell, each with what would be needed; those that no
    recorder tells have none."""
    figure = figure_of(evidence.planned.key)
    rules = {rule.fault: rule for rule in RULES}
    seen = {found.fault.key for found in looked_at(evidence)}
    seen |= {rule.fault for rule in RULES if fault_of(figure, rule.unless)}
    return tuple(
        (fault, rules[fault.key].needs if fault.key in rules else "somebody who was there")
        for fault in figure.faults
        if fault.key not in seen
    )


def looked_at(evidence: Evidence) -> Iterator[FaultFound]:
    """Every fault of the figure that this evidence tells, found or not."""
    figure = figure_of(evidence.planned.key)
    for rule in RULES:
        fault = None if fault_of(figure, rule.unless) else fault_of(figure, rule.fault)
        value = None if fault is None else rule.value(evidence)
        if fault is None or value is None:
            continue
        beyond = rule.beyond(value.value)
        sure = 0.5 * (1.0 + math.erf(beyond / max(value.doubt, 1e-6) / math.sqrt(2.0)))
        limit = rule.most if math.isfinite(rule.most) else rule.least
        yield FaultFound(fault, rule, value.value, value.doubt, limit, sure, value.at_s)
