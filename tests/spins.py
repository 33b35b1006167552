"""Spins by the reference pilot that several tests look at, over four invented cards."""

import numpy as np
import pytest

from keelturn.air import RHO0, DayAir
from keelturn.aircraft.airframe import airframe
from keelturn.aircraft.card import Card
from keelturn.flying.spin import spin_of
from keelturn.motion.flight import Start, begin, body_of
from keelturn.spinning import controls
from keelturn.spinning import engine as spins
from keelturn.spinning.calibration import reference_inputs
from keelturn.spinning.flight import spin
from keelturn.units import FT
from tests.cards import LIGHT, changed
from tests.flights import HEAVY, TRAINER

# A flatter, slower-turning one and an agile one, beside the two of the other tests.
FLAT = Card.model_validate(
    changed(
        LIGHT,
        spin={"one_turn_ft": {"value": 640}, "further_turn_ft": {"value": 230}, "turn_s": {"value": 2.2}},
    )
)
AGILE = Card.model_validate(
    changed(
        LIGHT,
        spin={"one_turn_ft": {"value": 520}, "further_turn_ft": {"value": 190}, "turn_s": {"value": 1.6}},
    )
)
CARDS = pytest.mark.parametrize(
    "card", [TRAINER, HEAVY, FLAT, AGILE], ids=["light", "heavy", "flat", "agile"]
)
START_FT = 5000.0


def spun(card, turns=2.0, **changed_inputs):
    """The reference pilot's spin to the right at the card's weight, with these inputs changed."""
    character, frame, air = spin_of(card), airframe(card, card.speeds.reference_lb.value), DayAir()
    inputs = reference_inputs(np.array([turns]))
    for name, value in changed_inputs.items():
        inputs[0, getattr(controls, name)] = value
    tas = 1.08 * frame.stall / (air.density(START_FT * FT) / RHO0) ** 0.5
    start = begin(Start(np.array([START_FT * FT]), tas), 1)
    return spin(character.right["upright"], body_of(frame, air), inputs, start, trace=True)


def fallen(found, mark=spins.M_ENDED):
    return START_FT - float(found.height(mark)[0]) / FT


def turns_to_stop(found):
    return float(found.told[0, spins.T_TURNS])
