"""What the school has decided and what the rules give: one table of numbers with their sources.

Regulation figures are from memory (work of the founders): the chief must confirm them for the place and the
day."""

import re

from pydantic import Field, field_validator, model_validator

from keelturn.document import Above, Document, Standard, Wrong, told
from keelturn.figures.catalogue import figure_of
from keelturn.figures.figure import Blocks, Fault, Stage, fault_of
from keelturn.recoveries.schools import BY_KEY as SCHOOLS
from keelturn.school.before import BeforeALesson
from keelturn.school.grading import Grading


class FigureStandard(Document):
    """What the chief asks of one figure: entry speeds by the name of the aircraft's card, a floor above the
    ground of its own, the recovery school taught, words to say, what each grade asks, and which faults hold a
    student back, null for one that does not. Anything left out is the catalogue's, or the school's."""

    entry_ias: dict[str, Above] = Field(default_factory=dict)
    floor_ft: Standard | None = None
    school: str | None = Field(None, max_length=60)
    words: str = Field("", max_length=400)
    grading: Grading = Field(default_factory=Grading)
    blocking: dict[str, Blocks | None] = Field(default_factory=dict)

    def blocks(self, fault: Fault) -> Blocks | None:
        """From which grade and for how long the fault holds a student back; None where it does not."""
        return self.blocking.get(fault.key, fault.blocks)


# Of a figure that the chief says nothing of.
NO_STANDARD = FigureStandard()


class Standards(Document):
    """Heights above the ground unless said."""

    regulation_floor_ft: Standard = told(
        "Regulation floor, above ground",
        "ft",
        Standard(
            value=1500,
            source="regulation",
            ref="14 CFR 91.303(e) and AC 61-67C, from memory; confirm for the place",
        ),
    )
    school_floor_ft: Standard = told("School floor, above ground", "ft", Standard(value=3000))
    stage_extra_ft: dict[Stage, Standard] = told(
        "Added for '{key}'",
        "ft",
        {
            "first flights": Standard(value=500),
            "practised": Standard(value=0),
            "ready to fly it alone": Standard(value=0),
        },
    )
    allowance_ft: Standard = told(
        "Altimeter and reading allowance",
        "ft",
        Standard(value=100, ref="school standards: altimeter error and reading it late"),
    )
    decide_s: Standard = told(
        "Seconds to decide to leave",
        "s",
        Standard(value=5, ref="school standards: seconds to decide to leave"),
    )
    egress_s: Standard = told(
        "Seconds to get out",
        "s",
        Standard(value=10, ref="school standards: seconds to get out, from ground practice"),
    )
    canopy_ft: Standard = told(
        "Canopy", "ft", Standard(value=500, ref="school standards: height for the canopy to open")
    )
    feel_least: Standard = told(
        "Least number to go on with, 0 to 10",
        "",
        Standard(value=5, ref="school standards: stop when the student feels below this, 0 to 10"),
    )
    feel_drop: Standard = told(
        "Most drop of the number at once",
        "",
        Standard(value=3, ref="school standards: pause when the number falls by more than this at once"),
    )
    reserve_min: Standard = told(
        "Fuel kept",
        "min",
        Standard(value=30, ref="school standards: minutes of fuel left in the aerobatic tank"),
    )
    visibility_sm: Standard = told(
        "Least visibility", "SM", Standard(value=3, source="regulation", ref="14 CFR 91.303(f), from memory")
    )
    wind_most_kt: Standard = told(
        "Most wind, gusts counted",
        "kt",
        Standard(value=30, ref="school standards: most wind on the ground for this work, gusts counted"),
    )
    cloud_above_ft: Standard = told(
        "Kept below cloud",
        "ft",
        Standard(value=1000, ref="school standards: cloud base above the highest start"),
    )
    parachute_days: Standard = told(
        "Parachute repack",
        "days",
        Standard(value=180, source="regulation", ref="14 CFR 91.307(a), from memory"),
    )
    daylight_min: Standard = told(
        "Kept before sunset", "min", Standard(value=30, ref="school standards: minutes kept before sunset")
    )
    report_min: Standard = told(
        "Oldest weather report",
        "min",
        Standard(value=90, ref="school standards: a weather report older than this is asked for again"),
    )
    booking_min: Standard = told(
        "A sortie is booked for",
        "min",
        Standard(
            value=90,
            ref="school standards: minutes from the brief to the debrief that a sortie is booked for",
        ),
    )
    lapse_days: Standard = told(
        "A task lapses after",
        "days",
        Standard(
            value=180, ref="school standards: days without showing it after which a task falls by one state"
        ),
    )
    own_attempts: Standard = told(
        "Own numbers rule from",
        "attempts",
        Standard(
            value=10,
            ref="school standards: debriefed attempts at a figure after which a student's own 19-in-20 loss"
            " rules alone; until then the larger of theirs and the population's",
        ),
    )
    upset_ground_h: Standard = told(
        "Upset course, theory",
        "h",
        Standard(
            value=5, source="regulation", ref="FCL.745.A, from memory; confirm for the place and the day"
        ),
    )
    upset_flight_h: Standard = told(
        "Upset course, flight",
        "h",
        Standard(
            value=3, source="regulation", ref="FCL.745.A, from memory; confirm for the place and the day"
        ),
    )
    aerobatic_h: Standard = told(
        "Aerobatic rating, instruction",
        "h",
        Standard(value=5, source="regulation", ref="FCL.800, from memory; confirm for the place and the day"),
    )
    aerobatic_flights: Standard = told(
        "Aerobatic rating, or flights",
        "",
        Standard(
            value=20, source="regulation", ref="FCL.800, from memory; confirm for the place and the day"
        ),
    )
    spin_days: Standard = told(
        "Instructor's last spin at most",
        "days",
        Standard(
            value=90, ref="school standards: days since a flight with a spin after which nobody teaches spins"
        ),
    )
    away_days: Standard = told(
        "Long without a flight from",
        "days",
        Standard(value=60, ref="school standards: days without a flight from which it is said"),
    )
    speed_margin: Standard = told(
        "Kept below Vne",
        "kt or mph",
        Standard(value=20, ref="school standards: kept below Vne, in the aircraft's speed unit"),
    )
    recorder: str = told(
        "Address of the live recorder",
        "",
        "",
        max_length=120,
        description="On the cabin's own network; empty where there is none",
    )
    before: BeforeALesson = told("Missing before a lesson: stop or caution", "", BeforeALesson())
    grading: Grading = told("Grades", "", Grading(), hidden=True)
    figures: dict[str, FigureStandard] = told(
        "Figures", "", {}, hidden=True, description="By the figure's key"
    )

    @field_validator("stage_extra_ft", mode="after")
    @classmethod
    def every_stage_has_one(cls, given: dict[Stage, Standard]) -> dict[Stage, Standard]:
        """A stage that is left out has the usual one: no student is without a floor."""
        usual: dict[Stage, Standard] = cls.model_fields["stage_extra_ft"].default
        return {**usual, **given}

    @field_validator("recorder", mode="after")
    @classmethod
    def recorder_is_an_address(cls, given: str) -> str:
        """A name or number with its port and nothing behind: pages are allowed to connect there."""
        if given and not re.fullmatch(r"https?://[A-Za-z0-9.-]+(:[0-9]{1,5})?", given):
            raise Wrong(
                (
                    "recorder",
                    f"'{given}' is no address of a recorder",
                    "Write it like http://192.168.4.1:8765.",
                )
            )
        return given

    @model_validator(mode="after")
    def figures_and_schools_exist(self) -> "Standards":
        for key, standard in self.figures.items():
            figure = figure_of(key)
            for fault in standard.blocking:
                if fault_of(figure, fault) is None:
                    what = f"a {figure.name.lower()} has no fault '{fault}'"
                    raise Wrong((f"figures.{key}.blocking.{fault}", what, "Choose one that it has."))
            if standard.school is None:
                continue
            school = SCHOOLS.get(standard.school)
            if school is None or school.situation != figure.situation or not school.taught:
                raise Wrong(
                    (
                        f"figures.{key}.school",
                        f"'{standard.school}' is not a recovery taught for a {figure.name.lower()}",
                        "Choose another.",
                    )
                )
        return self

    def figure(self, key: str) -> FigureStandard:
        return self.figures.get(key, NO_STANDARD)
