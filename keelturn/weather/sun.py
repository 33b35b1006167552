"""When the sun sets: by the `astral` library (after the equations in Meeus, Astronomical Algorithms, as
NOAA's calculator uses them)."""

from datetime import UTC, datetime


def sunset(latitude_deg: float, longitude_deg: float, on: datetime) -> datetime | None:
    """Sunset of that day at the place, in the zone of `on`; None where the sun does not set or rise that
    day."""
    from astral import Observer
    from astral.sun import sunset as astral_sunset

    try:
        return astral_sunset(Observer(latitude_deg, longitude_deg), date=on.date(), tzinfo=on.tzinfo or UTC)
    except ValueError:
        return None
