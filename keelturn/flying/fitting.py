"""What a card must be for the model to be fitted to it, said at its numbers: where, what, what to do.

A card's own numbers may agree with each other and still leave nothing that flies."""

from collections.abc import Iterator

from keelturn.aircraft.airframe import airframe
from keelturn.aircraft.card import Card
from keelturn.document import Trouble, Wrong
from keelturn.figures.catalogue import BY_KEY
from keelturn.flying.spin import spin_of


def approvals_wrong(card: Card) -> Iterator[Trouble]:
    """Approved figures that there are not, and spins approved without a spin section."""
    for key in card.approved:
        if key not in BY_KEY:
            yield (
                f"approved.{key}",
                "there is no such figure in the catalogue",
                "Check its spelling, or strike it.",
            )
    spins = sorted(key for key in card.approved if key in BY_KEY and BY_KEY[key].spin)
    if spins and (card.spin is None or not card.spin.approved):
        yield (
            "spin",
            f"{spins[0]} is approved but the spin section is missing or not approved",
            "Fill in the spin section, or strike the figure.",
        )


def cannot_be_fitted(card: Card) -> Iterator[Trouble]:
    """Numbers from which no drag, thrust or spin can be had."""
    try:
        airframe(card, card.speeds.reference_lb.value)
        if card.spin is not None:
            spin_of(card)
    except Wrong as error:
        yield from error.problems
