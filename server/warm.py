"""What the first plan would otherwise wait for: the compiled engine off the disk, and the libraries that load
slowly."""

import gc


def get_ready() -> None:
    import scipy.interpolate  # noqa: F401
    import scipy.optimize  # noqa: F401
    import scipy.stats.qmc  # noqa: F401

    from keelturn.spinning.warm import warm

    warm()
    # Looking through all of this for something to throw away would stop every answer for a tenth of a second.
    gc.collect()
    gc.freeze()
