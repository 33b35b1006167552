"""When the sun rises and sets: by the `astral` library (after the equations in Meeus, Astronomical
Algorithms, as NOAA's calculator uses them)."""

from collections.abc import Callable
from datetime import UTC, datetime


def sunset(latitude_deg: float, longitude_deg: float, on: datetime) -> datetime | None:
    """Sunset of that day at the place, in the zone of `on`; None where the sun does not set or rise that
    day."""
    from astral.sun import sunset as astral_sunset

    return _at(astral_sunset, latitude_deg, longitude_deg, on)


def sunrise(latitude_deg: float, longitude_deg: float, on: datetime) -> datetime | None:
    """The same of sunrise."""
    from astral.sun import sunrise as astral_sunrise

    return _at(astral_sunrise, latitude_deg, longitude_deg, on)


def _at(
    of_the_sun: Callable[..., datetime], latitude: float, longitude: float, on: datetime
) -> datetime | None:
    from astral import Observer

    try:
        return of_the_sun(Observer(latitude, longitude), date=on.date(), tzinfo=on.tzinfo or UTC)
    except ValueError:
        return None
