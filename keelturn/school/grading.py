"""What the school asks of each grade, in words and numbers. The numbers that ship are common practice, no
published source: the chief's own stand in their place, for all figures or for one."""

from typing import Literal

from pydantic import Field, model_validator

from keelturn.document import Document, Wrong

Grade = Literal["Shown", "Not yet", "Guided", "Sound", "Solo-ready"]
# Lowest first.
GRADES: tuple[Grade, ...] = ("Shown", "Not yet", "Guided", "Sound", "Solo-ready")
Measure = Literal[
    "beyond_ft",
    "start_off_ft",
    "speed_off_kt",
    "turns_off",
    "pull_off_g",
    "heading_off_deg",
    "first_s",
    "faults",
]


class Most(Document):
    """The most of a measure for each grade; nothing: it is not asked for that grade. Raises Wrong where a
    higher grade allows more."""

    guided: float | None = Field(None, ge=0, le=5000)
    sound: float | None = Field(None, ge=0, le=5000)
    solo_ready: float | None = Field(None, ge=0, le=5000)

    @model_validator(mode="after")
    def a_higher_grade_asks_more(self) -> "Most":
        there = [
            (name, value)
            for name in ("guided", "sound", "solo_ready")
            if (value := getattr(self, name)) is not None
        ]
        for (_, lower), (name, higher) in zip(there, there[1:], strict=False):
            if higher > lower:
                raise Wrong(
                    (name, f"{higher:g} is more than {lower:g}, which a lower grade allows", "Make it less.")
                )
        return self

    def of(self, grade: Grade) -> float | None:
        return {"Guided": self.guided, "Sound": self.sound, "Solo-ready": self.solo_ready}.get(grade)


MOST: dict[Measure, Most] = {
    "beyond_ft": Most(guided=400, sound=200, solo_ready=100),
    "start_off_ft": Most(guided=300, sound=200, solo_ready=100),
    "speed_off_kt": Most(guided=15, sound=10, solo_ready=5),
    "turns_off": Most(guided=1, sound=0.5, solo_ready=0.25),
    "pull_off_g": Most(guided=1.2, sound=0.8, solo_ready=0.5),
    "heading_off_deg": Most(guided=45, sound=20, solo_ready=10),
    "first_s": Most(guided=3, sound=1.5, solo_ready=1),
    "faults": Most(guided=3, sound=1, solo_ready=0),
}
WORDS: dict[Grade, str] = {
    "Shown": "The instructor flew it. The student says what it is for and what to look at.",
    "Not yet": "The student flew it, and not yet so that it counts.",
    "Guided": "Flown with help by word or hand, to the end.",
    "Sound": "In the right order, a word at most, nothing that could have ended badly.",
    "Solo-ready": "Alone, within the numbers, and judged right by the student.",
}


class Grading(Document):
    """most: measures that are left out are as they ship."""

    most: dict[Measure, Most] = Field(default_factory=dict)
    words: dict[Grade, str] = Field(default_factory=dict)

    @model_validator(mode="after")
    def words_are_short(self) -> "Grading":
        for grade, words in self.words.items():
            if len(words) > WORDS_MOST:
                raise Wrong(
                    (f"words.{grade}", f"it has {len(words)} letters, at most {WORDS_MOST}", "Shorten it.")
                )
        return self


WORDS_MOST = 300
AS_IT_SHIPS = Grading()


def asked_of(measure: Measure, *gradings: Grading) -> Most:
    """The first that says something of it, the figure's own before the school's."""
    return next((g.most[measure] for g in gradings if measure in g.most), MOST[measure])


def words_of(grade: Grade, *gradings: Grading) -> str:
    return next((g.words[grade] for g in gradings if g.words.get(grade)), WORDS[grade])
