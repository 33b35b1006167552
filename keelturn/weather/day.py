"""The day as a document: conditions at the place, each with where it came from."""

from pydantic import Field, model_validator

from keelturn.document import HIGHEST_FT, Document, Moment, Wrong, told

# The fields of a day that a report can give; what `sources` may name.
REPORTED = ("qnh_hpa", "temperature_c", "wind_from_deg", "visibility_sm", "cloud_base_ft", "winds")


class WindAt(Document):
    """Wind at a height on QNH, deg true."""

    height_ft: float = told("Height", "ft QNH", ge=0, le=HIGHEST_FT)
    from_deg: float = told("From", "°", ge=0, le=360)
    kt: float = told("Speed", "kt", ge=0, le=200)


class Day(Document):
    """Today's conditions at the place, as reported. sources: where a field came from, by its name; a field
    without one was typed in."""

    qnh_hpa: float = told("QNH", "hPa", 1013.25, ge=900, le=1080)
    temperature_c: float = told("Temperature", "°C", 15.0, ge=-50, le=55)
    wind_from_deg: float = told("Wind from", "°", 0.0, ge=0, le=360)
    wind_kt: float = told("Wind", "kt", 0.0, ge=0, le=120)
    gust_kt: float | None = told(
        "Gusts", "kt", None, ge=0, le=150, description="Null where none are reported"
    )
    visibility_sm: float = told("Visibility", "SM", 10.0, ge=0, le=100)
    cloud_base_ft: float | None = told(
        "Cloud base",
        "ft QNH",
        None,
        ge=0,
        le=HIGHEST_FT,
        description="On QNH; null for none below the block top",
    )
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

    def source(self, name: str) -> str:
        return self.sources.get(name, "typed in")
