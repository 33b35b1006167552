"""The day as a document: conditions at the place, each with where it came from."""

from pydantic import Field, model_validator

from keelturn.document import HIGHEST_FT, Document, Moment, Wrong, told

# The fields of a day that a report can give; what `sources` may name.
REPORTED = ("qnh_hpa", "temperature_c", "wind_from_deg", "visibility_sm", "cloud_base_ft", "winds")


# ICAO Doc 7488, standard atmosphere at sea level: what is computed with where nothing is given.
STANDARD_QNH_HPA, STANDARD_C = 1013.25, 15.0
NOT_GIVEN, TYPED_IN = "not given", "typed in"


class WindAt(Document):
    """Wind at a height on QNH, deg true."""

    height_ft: float = told("Height", "ft QNH", ge=0, le=HIGHEST_FT)
    from_deg: float = told("From", "°", ge=0, le=360)
    kt: float = told("Speed", "kt", ge=0, le=200)


class Day(Document):
    """Today's conditions at the place; null is not given. sources: the report that a field came from, by its
    name; a field that is given without one was typed in."""

    qnh_hpa: float | None = told("QNH", "hPa", None, ge=900, le=1080)
    temperature_c: float | None = told("Temperature", "°C", None, ge=-50, le=55)
    wind_from_deg: float | None = told("Wind from", "°", None, ge=0, le=360)
    wind_kt: float | None = told("Wind", "kt", None, ge=0, le=120)
    gust_kt: float | None = told(
        "Gusts", "kt", None, ge=0, le=150, description="Null where none are reported"
    )
    visibility_sm: float | None = told("Visibility", "SM", None, ge=0, le=100)
    cloud_base_ft: float | None = told(
        "Cloud base",
        "ft QNH",
        None,
        ge=0,
        le=HIGHEST_FT,
        description="On QNH; null where it is not given, or where there is none",
    )
    no_cloud: bool = told("No cloud below the block top", "", False)
    winds: tuple[WindAt, ...] = told(
        "Wind at height",
        "",
        (),
        max_length=12,
        description="At heights; empty: the surface wind everywhere",
    )
    report: str = told(
        "METAR",
        "",
        "",
        max_length=400,
        description="The report these came from, as it was pasted or fetched",
    )
    observed: Moment | None = told("Observed", "", None, hidden=True)
    sources: dict[str, str] = Field(default_factory=dict, json_schema_extra={"hidden": True})

    @model_validator(mode="after")
    def sources_name_fields(self) -> "Day":
        for name, words in self.sources.items():
            if name not in REPORTED:
                known = ", ".join(REPORTED)
                raise Wrong((f"sources.{name}", "there is no such field of a day", f"There are {known}."))
            if len(words) > 80:
                raise Wrong((f"sources.{name}", "it is longer than 80 letters", "Write it shorter."))
        return self

    @model_validator(mode="after")
    def a_cloud_base_is_cloud(self) -> "Day":
        if self.no_cloud and self.cloud_base_ft is not None:
            raise Wrong(("no_cloud", "there is a cloud base", "Take one of them out."))
        return self

    def is_given(self, name: str) -> bool:
        """Whether a report or a person gave this field."""
        # The wind is one group, by the name of its direction: a variable one has only a speed.
        value = getattr(self, "wind_kt" if name == "wind_from_deg" else name)
        cloudless = name == "cloud_base_ft" and self.no_cloud
        return name in self.sources or cloudless or (bool(value) if name == "winds" else value is not None)

    def source(self, name: str) -> str:
        return self.sources.get(name, TYPED_IN if self.is_given(name) else NOT_GIVEN)

    @property
    def pressure_hpa(self) -> float:
        """QNH; the standard one where none is given."""
        return STANDARD_QNH_HPA if self.qnh_hpa is None else self.qnh_hpa

    @property
    def air_c(self) -> float:
        """Temperature at the place (deg C); the standard one where none is given."""
        return STANDARD_C if self.temperature_c is None else self.temperature_c

    @property
    def wind(self) -> tuple[float, float]:
        """(from deg, kt) that carries the aircraft; calm where either is not given."""
        if self.wind_from_deg is None or self.wind_kt is None:
            return 0.0, 0.0
        return self.wind_from_deg, self.wind_kt
