"""The day as a document: conditions at the place, each with where it came from."""

from pydantic import Field, model_validator

from keelturn.document import HIGHEST_FT, Document, Moment

# The fields of a day that a report can give; what `sources` may name.
REPORTED = ("qnh_hpa", "temperature_c", "wind_from_deg", "visibility_sm", "cloud_base_ft", "winds")


class WindAt(Document):
    """Wind at a height on QNH, deg true."""

    height_ft: float = Field(ge=0, le=HIGHEST_FT)
    from_deg: float = Field(ge=0, le=360)
    kt: float = Field(ge=0, le=200)


class Day(Document):
    """Today's conditions at the place, as reported. sources: where a field came from, by its name; a field
    without one was typed in."""

    qnh_hpa: float = Field(1013.25, ge=900, le=1080)
    temperature_c: float = Field(15.0, ge=-50, le=55)
    wind_from_deg: float = Field(0.0, ge=0, le=360)
    wind_kt: float = Field(0.0, ge=0, le=120)
    gust_kt: float | None = Field(None, ge=0, le=150, description="Null where none are reported")
    visibility_sm: float = Field(10.0, ge=0, le=100)
    cloud_base_ft: float | None = Field(
        None, ge=0, le=HIGHEST_FT, description="On QNH; null for none below the block top"
    )
    winds: tuple[WindAt, ...] = Field(
        (), max_length=12, description="At heights; empty: the surface wind everywhere"
    )
    report: str = Field(
        "", max_length=400, description="The report these came from, as it was pasted or fetched"
    )
    observed: Moment | None = None
    sources: dict[str, str] = Field(default_factory=dict)

    @model_validator(mode="after")
    def sources_name_fields(self) -> "Day":
        for name, words in self.sources.items():
            if name not in REPORTED:
                raise ValueError(
                    f"sources.{name}: there is no such field of a day; there are {', '.join(REPORTED)}"
                )
            if len(words) > 80:
                raise ValueError(f"sources.{name}: longer than 80 letters")
        return self

    def source(self, name: str) -> str:
        return self.sources.get(name, "typed in")
