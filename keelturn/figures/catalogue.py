"""Every figure there is, by family. Adding one is adding an entry in its family's module and a test."""

from keelturn.figures import coordination, lines, loops, rolls, spins, stalls, upsets
from keelturn.figures.figure import Figure

FIGURES: tuple[Figure, ...] = (
    *coordination.FIGURES,
    *stalls.FIGURES,
    *spins.FIGURES,
    *rolls.FIGURES,
    *loops.FIGURES,
    *lines.FIGURES,
    *upsets.FIGURES,
)
BY_KEY = {figure.key: figure for figure in FIGURES}


def figure_of(key: str) -> Figure:
    """Raises ValueError naming the figures there are."""
    if key not in BY_KEY:
        raise ValueError(f"no figure '{key}' in the catalogue; it has {', '.join(BY_KEY)}")
    return BY_KEY[key]
