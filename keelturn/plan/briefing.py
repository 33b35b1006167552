"""What is ticked on the ground before the flight (common practice, no published source), and the sheet that keeps it."""

from dataclasses import dataclass

from pydantic import Field, model_validator

from keelturn.aircraft.card import Document


@dataclass(frozen=True, slots=True)
class BriefItem:
    key: str
    words: str
    detail: str


BEFORE_FLIGHT: tuple[BriefItem, ...] = (
    BriefItem("figures", "Each figure briefed", "What it is for, gate, steps in order, faults, stop words, my height."),
    BriefItem("hand_over", "Hand-over words", "\"You have control.\" \"I have control.\" Answered every time."),
    BriefItem("parachute", "Parachute words and drill", "The words, three times. Canopy, harness, out, pull. The height that decides."),
    BriefItem("loose", "Loose articles and harness", "Pockets empty, floor clear, harness tight, headset held."),
    BriefItem("comfort", "Comfort", "Bag to hand, water, say your number after every figure. We stop when you say so."),
    BriefItem("weather", "Weather and place seen today", "Base, wind at height, field for a forced landing, line to hold."),
)


class Brief(Document):
    checked: tuple[str, ...] = ()
    note: str = Field("", max_length=2000)

    @model_validator(mode="after")
    def items_exist(self) -> "Brief":
        known = {item.key for item in BEFORE_FLIGHT}
        for key in self.checked:
            if key not in known:
                raise ValueError(f"checked: there is no item '{key}' on the before-flight list")
        return self
