"""Where figures are flown, as a document."""

from pydantic import Field, model_validator

from keelturn.document import HIGHEST_FT, Document, Standard


class LandingField(Document):
    """Where a forced landing could go: from the middle of the place, true bearing; the direction and length
    to land in."""

    name: str = Field(min_length=1, max_length=60)
    bearing_deg: float = Field(ge=0, le=360)
    distance_nm: float = Field(ge=0, le=30)
    heading_deg: float = Field(ge=0, le=360)
    length_ft: float = Field(gt=0, le=20000)


class Place(Document):
    """Where the figures are flown. Heights on QNH."""

    name: str = Field(min_length=1, max_length=80)
    elevation_ft: float = Field(ge=-1500, le=15000)
    block_top_ft: float = Field(gt=0, le=HIGHEST_FT)
    airspace_top_ft: float | None = Field(
        None, gt=0, le=HIGHEST_FT, description="Where other airspace begins above; null for none"
    )
    place_floor_ft: Standard | None = Field(None, description="A floor this place asks for, above its ground")
    notes: str = Field("", max_length=500)
    latitude_deg: float | None = Field(None, ge=-90, le=90)
    longitude_deg: float | None = Field(None, ge=-180, le=180)
    station: str | None = Field(
        None, pattern="^[A-Z0-9]{4}$", description="Whose weather report is the place's own"
    )
    station_elevation_ft: float | None = Field(None, ge=-1500, le=15000)
    radius_nm: float = Field(3.0, gt=0, le=30, description="Of the block around its middle")
    line_name: str = Field("", max_length=60, description="The road, shore or railway to hold")
    line_deg: float | None = Field(None, ge=0, le=360, description="True; flown either way")
    fields: tuple[LandingField, ...] = Field((), max_length=12)

    @model_validator(mode="after")
    def air_above_the_ground(self) -> "Place":
        if self.top_ft <= self.elevation_ft + 500:
            raise ValueError(
                f"block_top_ft: the top ({self.top_ft:g} ft) is less than 500 ft above the ground"
                f" ({self.elevation_ft:g} ft): correct one of them"
            )
        return self

    @property
    def top_ft(self) -> float:
        """The lower of the block's top and the airspace above."""
        return (
            self.block_top_ft
            if self.airspace_top_ft is None
            else min(self.block_top_ft, self.airspace_top_ft)
        )
