"""Everything about a flight that its figures share: aircraft, weight, day, place, school, student."""

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from datetime import datetime
from functools import cached_property

from keelturn.air import DayAir
from keelturn.aircraft.airframe import Airframe, airframe
from keelturn.aircraft.card import Card
from keelturn.aircraft.loading import Load, Loading, manoeuvring_speed, stall_speed
from keelturn.document import Document
from keelturn.figures.figure import Stage
from keelturn.flying.deviations import OwnLoss
from keelturn.flying.spin import SpinCharacter, spin_of
from keelturn.motion.flight import body_of
from keelturn.motion.legs import Floats
from keelturn.school.before import Missing
from keelturn.school.dates import Dated
from keelturn.school.place import Place
from keelturn.school.standards import Standards
from keelturn.units import FT, HPA, ZERO_C
from keelturn.weather.aloft import wind_at
from keelturn.weather.day import Day
from keelturn.working import Answer, Source, given, worked


@dataclass(frozen=True)
class Conditions:
    """own: what this student loses against the population, by figure; empty where nothing is known of
    them. dates: those of the people and the aircraft. weather_due: the flight is today, so that weather that
    is not given stops it. before: what should come before the lesson and has not. spin_like: the spin of
    a card that differs in little."""

    card: Card
    place: Place
    standards: Standards
    stage: Stage
    day: Day
    load: Load
    loading: Loading
    own_floor_ft: float | None
    parachute_days: float | None
    off_blocks: datetime | None = None
    own: Mapping[str, OwnLoss] = field(default_factory=dict)
    dates: tuple[Dated, ...] = ()
    weather_due: bool = False
    before: tuple[Missing, ...] = ()
    spin_like: SpinCharacter | None = None

    @property
    def weight_lb(self) -> float:
        return self.loading.weight.value

    def wind_at(self, height_ft: float) -> tuple[float, float]:
        """(from deg, kt): the winds at heights with the surface wind below them."""
        surface = (self.place.elevation_ft, *self.day.wind)
        return wind_at(height_ft, (surface, *((w.height_ft, w.from_deg, w.kt) for w in self.day.winds)))

    @cached_property
    def air(self) -> DayAir:
        return DayAir(self.day.pressure_hpa * HPA, self.day.air_c + ZERO_C, self.place.elevation_ft * FT)

    @cached_property
    def frame(self) -> Airframe:
        return airframe(self.card, self.weight_lb)

    @cached_property
    def body(self) -> Floats:
        return body_of(self.frame, self.air)

    @cached_property
    def flap_frame(self) -> Airframe:
        return airframe(self.card, self.weight_lb, flap=True)

    def frame_for(self, flap: bool) -> Airframe:
        return self.flap_frame if flap else self.frame

    def body_for(self, flap: bool) -> Floats:
        return body_of(self.flap_frame, self.air) if flap else self.body

    @cached_property
    def spin(self) -> SpinCharacter | None:
        """Calibrated to the card; None when the card has no spin section. `SpinCharacter.spinner` moves it to
        today."""
        return None if self.card.spin is None else spin_of(self.card, self.spin_like)

    @cached_property
    def stall(self) -> Answer:
        return stall_speed(self.card, self.loading.weight)

    @cached_property
    def manoeuvring(self) -> Answer:
        return manoeuvring_speed(self.card, self.loading.weight)

    @cached_property
    def top(self) -> Answer:
        """The block's top, or the airspace above it where that is lower."""
        place = self.place
        label = "Block top" if place.top_ft == place.block_top_ft else "Airspace above"
        return given(label, place.top_ft, "ft", Source("school", f"place: {place.name}"), "down")

    @cached_property
    def glide(self) -> Answer:
        stated = self.card.speed_answer(self.card.speeds.glide_ias, "Best glide at the card's weight")
        return worked(
            "Best glide",
            self.card.speed_read(self.frame.best_glide),
            self.card.speed_unit,
            "best glide x root of (weight / the card's weight)",
            stated,
            self.loading.weight,
        )

    @cached_property
    def fastest_allowed(self) -> Answer:
        """What no figure may pass: Vne less the school's margin."""
        unit = self.card.speed_unit
        never = self.card.speed_answer(self.card.speeds.never_exceed_ias, "Vne")
        margin = self.standards.speed_margin.answer("Kept below Vne", unit)
        return worked(
            "Vne less the school's margin",
            never.value - margin.value,
            unit,
            "Vne - what the school keeps below it",
            never,
            margin,
            source=margin.source,
            rounding="down",
        )

    @cached_property
    def at_steps(self) -> "Conditions":
        """These at the nearest whole 20 lb, 5 hPa and 3 C, which is where the spread is flown and remembered:
        it changes by a few feet to there (tested), and does not depend on who asked before."""
        day, weight = self.day, self.loading.weight
        near = {
            "qnh_hpa": 5.0 * round(day.pressure_hpa / 5.0),
            "temperature_c": 3.0 * round(day.air_c / 3.0),
        }
        loading = replace(self.loading, weight=replace(weight, value=20.0 * round(weight.value / 20.0)))
        return replace(self, day=day.model_copy(update=near), loading=loading)

    @cached_property
    def _asked_of_all(self) -> tuple[str, str, float]:
        """The card, and what the school asks of its figures (gates, schools, the margin below Vne)."""
        margin = self.standards.speed_margin.value
        return self.card.model_dump_json(), repr(self.standards.figures), margin

    @cached_property
    def exactly(self) -> tuple[object, ...]:
        """Everything that a pilot's flight depends on besides the figure."""
        return (
            self._asked_of_all,
            self.weight_lb,
            self.day.pressure_hpa,
            self.day.air_c,
            self.place.elevation_ft,
        )

    @cached_property
    def wholly(self) -> tuple[str, ...]:
        """Everything that an answer can depend on besides the figure: each field as it is written, but the
        loading, which follows from card and load."""
        values = (getattr(self, field.name) for field in fields(self) if field.name != "loading")
        return tuple(v.model_dump_json() if isinstance(v, Document) else repr(v) for v in values)
