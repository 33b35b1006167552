"""Weather from outside. `WeatherService` is what a real source would fill; the stand-in that ships makes up
reports from the day and hour.

The stand-in is the same for everybody and for every question within one hour; it never goes to the network.
"""

import math
import random
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Protocol

from django.conf import settings
from django.utils.module_loading import import_string


@dataclass(frozen=True, slots=True)
class Fetched:
    """A coded report, and the wind at heights: (ft on QNH, from deg true, kt)."""

    metar: str
    winds: tuple[tuple[float, float, float], ...]
    source: str


class WeatherService(Protocol):
    def fetch(self, station: str, now: datetime) -> Fetched:
        """The newest report of a station. Raises NoReport when there is none, ConnectionError when the source
        does not answer."""
        ...


class NoReport(Exception):
    """The source answered and has nothing for this station."""


class StandInWeather:
    """An autumn on an island: a westerly that freshens in the afternoon, broken cloud well up."""

    KNOWN = ("XSKA", "XBRA")

    def fetch(self, station: str, now: datetime) -> Fetched:
        if station not in self.KNOWN:
            raise NoReport(f"the stand-in service has no station {station}; it knows {', '.join(self.KNOWN)}")
        at = now.astimezone(UTC)
        observed = at.replace(minute=50 if at.minute >= 50 else 20, second=0, microsecond=0)
        if at.minute < 20:
            observed = at.replace(minute=50, second=0, microsecond=0) - timedelta(hours=1)
        drawn = random.Random(f"{observed:%Y%m%d} {station}")
        day = math.sin((observed.hour - 8) / 24.0 * 2.0 * math.pi)
        wind = round((225 + drawn.uniform(0, 40)) / 10) * 10
        speed = max(3, round(10 + drawn.uniform(-3, 5) + 3 * day))
        warm, qnh = round(9 + drawn.uniform(-2, 3) + 2 * day), round(1009 + drawn.uniform(-8, 10))
        base = round(drawn.uniform(70, 84))
        gust = f"G{speed + 10:02d}" if speed >= 15 else ""
        metar = (
            f"METAR {station} {observed:%d%H%M}Z {wind:03d}{speed:02d}{gust}KT 9999 SCT{base - 34:03d}"
            f" BKN{base:03d} {_coded(warm)}/{_coded(warm - 4)} Q{qnh:04d}"
        )
        winds = tuple(
            (float(ft), float((wind + turn) % 360), float(speed + more))
            for ft, turn, more in ((2000, 10, 6), (4000, 15, 10), (6000, 20, 13))
        )
        return Fetched(metar, winds, "stand-in weather service")


def _coded(temperature: int) -> str:
    return f"M{-temperature:02d}" if temperature < 0 else f"{temperature:02d}"


def service() -> WeatherService:
    """The one named in the settings."""
    found: WeatherService = import_string(settings.WEATHER_SERVICE)()
    return found
