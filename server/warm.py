"""What the first plan would otherwise wait for: the compiled engine off the disk, the libraries that load
slowly, how signed records are read, and the spins of the school's aircraft, calibrated."""

import gc
from contextlib import suppress

from django.db import DatabaseError, connections


def get_ready() -> None:
    import scipy.interpolate  # noqa: F401
    import scipy.optimize  # noqa: F401
    import scipy.stats.qmc  # noqa: F401

    from keelturn.formats.signed import ready_to_read
    from keelturn.spinning.warm import warm

    warm()
    ready_to_read()
    _spins_calibrated()
    # Looking through all of this for something to throw away would stop every answer for a tenth of a second.
    gc.collect()
    gc.freeze()


def _spins_calibrated() -> None:
    """A card that cannot be says so when it is planned with; a school that cannot be read, when asked."""
    from keelturn.aircraft.blanks import blanks_of
    from keelturn.flying.spin import spin_of
    from keelturn.margins.unsure import at_ends
    from server.school.models import Aircraft

    with suppress(DatabaseError):
        for aircraft in Aircraft.objects.all():
            card = aircraft.document()
            if card.spin is not None:
                with suppress(ValueError):
                    likely = spin_of(card)
                    for path in blanks_of(card):
                        for at_end in at_ends(path, card):
                            spin_of(at_end, likely)
    connections.close_all()
