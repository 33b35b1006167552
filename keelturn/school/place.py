"""Where figures are flown, as a document."""

from pydantic import field_validator, model_validator

from keelturn.document import HIGHEST_FT, Document, Standard, told


class LandingField(Document):
    """Where a forced landing could go: from the middle of the place, true bearing; the direction and length
    to land in."""

    name: str = told("Field", min_length=1, max_length=60)
    bearing_deg: float = told("Bearing", "°", ge=0, le=360)
    distance_nm: float = told("Distance", "NM", ge=0, le=30)
    heading_deg: float = told("Land on", "°", ge=0, le=360)
    length_ft: float = told("Length", "ft", gt=0, le=20000)


class Place(Document):
    """Where the figures are flown. Heights on QNH."""

    name: str = told("Name", min_length=1, max_length=80)
    radius_nm: float = told("Radius", "NM", 3.0, gt=0, le=30, description="Of the block around its middle")
    elevation_ft: float = told("Ground", "ft", ge=-1500, le=15000)
    block_top_ft: float = told("Block top", "ft QNH", gt=0, le=HIGHEST_FT)
    airspace_top_ft: float | None = told(
        "Airspace above begins",
        "ft QNH",
        None,
        gt=0,
        le=HIGHEST_FT,
        description="Where other airspace begins above; null for none",
    )
    place_floor_ft: Standard | None = told(
        "Floor of this place, above ground",
        "ft",
        None,
        description="A floor this place asks for, above its ground",
    )
    latitude_deg: float | None = told("Latitude", "° north", None, ge=-90, le=90)
    longitude_deg: float | None = told("Longitude", "° east", None, ge=-180, le=180)
    line_name: str = told(
        "Line to hold", "", "", max_length=60, description="The road, shore or railway to hold"
    )
    line_deg: float | None = told(
        "Its direction", "° true", None, ge=0, le=360, description="Flown either way"
    )
    sea_deg: float | None = told(
        "Sea from the line, towards",
        "° true",
        None,
        ge=0,
        le=360,
        description="Where the line is a shore; null inland. For the view out of the window",
    )
    sea_width_nm: float | None = told(
        "To the other shore", "NM", None, gt=0, le=60, description="Null where the sea is open"
    )
    station: str | None = told(
        "Weather station",
        "",
        None,
        pattern="^[A-Z0-9]{4}$",
        description="Whose weather report is the place's own",
    )
    station_elevation_ft: float | None = told("Station elevation", "ft", None, ge=-1500, le=15000)
    notes: str = told("Notes", "", "", max_length=500)
    fields: tuple[LandingField, ...] = told(
        "Forced-landing fields, from the middle of the place", "", (), max_length=12
    )

    @field_validator("station", mode="before")
    @classmethod
    def in_capitals(cls, station: object) -> object:
        return station.upper() if isinstance(station, str) else station

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
