"""What is ticked on the ground before the flight (common practice, no published source), and the sheet that
keeps it."""

from dataclasses import dataclass

from pydantic import model_validator

from keelturn.document import Document, told


@dataclass(frozen=True, slots=True)
class BriefItem:
    key: str
    words: str
    detail: str


BEFORE_FLIGHT: tuple[BriefItem, ...] = (
    BriefItem(
        "figures",
        "Each figure briefed",
        "What it is for, gate, steps in order, faults, stop words, my height.",
    ),
    BriefItem("hand_over", "Hand-over words", '"You have control." "I have control." Answered every time.'),
    BriefItem(
        "parachute",
        "Parachute words and drill",
        "The words, three times. How to leave this aircraft, as its card says. The height that decides.",
    ),
    BriefItem(
        "loose", "Loose articles and harness", "Pockets empty, floor clear, harness tight, headset held."
    ),
    BriefItem(
        "comfort",
        "Comfort",
        "Bag to hand, water; after every figure your number, 0 very ill to 10 fine. We stop when you say so.",
    ),
    BriefItem(
        "weather",
        "Weather and place seen today",
        "Base, wind at height, field for a forced landing, line to hold.",
    ),
)


@dataclass(frozen=True, slots=True)
class BriefPage:
    """Words said before every flight, whatever is flown: a title and its lines, in the order in which they
    are said."""

    key: str
    title: str
    lines: tuple[str, ...]


# Both common forms of the check: the whole one before the first figure, the short one between figures.
BEFORE_FIRST = (
    "Height: enough, with the floor in mind.",
    "Airframe: flap and gear as needed, trim set, g meter zero.",
    "Security: harness tight, nothing loose.",
    "Engine: temperatures, pressures, fuel and its tank, carburettor heat.",
    "Location: block, not over people, clear of cloud, a field in reach.",
    "Lookout: clearing turns, then the reference point.",
)
BETWEEN = (
    "Height.",
    "Engine: temperatures and pressures.",
    "Location: into wind, inside the block.",
    "Lookout: a clearing turn.",
    "How do you feel, 0 (very ill) to 10 (fine)?",
)
HAND_OVER = (
    '"You have control." "I have control." Answered every time.',
    "Follow me through: hands and feet lightly on, no push.",
    "If nobody has answered, the one who had it still has it.",
)
LEAVING = '"Bail out, bail out, bail out." Three times; nobody waits for the third.'
NOT_ON_THE_CARD = (
    "How to leave this aircraft is not on its card: read its manual, and show it at the aircraft.",
)
RIPCORD = "Clear of the aircraft: look, reach, pull, as the parachute's manual says."
LOOSE = (
    "Pockets empty, both of us; count what went in.",
    "Floor clear, seat backs clear, headset lead held.",
    "Harness: lap first, then shoulders, then lap again.",
)
STOP_RULES = (
    'Anybody says "stop": it stops. No reason is asked.',
    "Below the floor nothing is begun and nothing is finished.",
    "Your number falls below the school's line: we fly level, then home.",
    "Twice not understood: back to straight and level, talk.",
    '"I have control": hands and feet off at once, and say "you have control".',
)


def pages(leave_shown: str | None, leaving: tuple[str, ...]) -> tuple[BriefPage, ...]:
    """leave_shown: the height to leave the aircraft at, as shown; None where the aircraft has none. leaving:
    how to, as the aircraft card says."""
    leave = (
        "The height at which we leave: as your instructor says."
        if leave_shown is None
        else (f"Not recovered by {leave_shown}: leave the aircraft.")
    )
    return (
        BriefPage("hand_over", "Hand-over words", HAND_OVER),
        BriefPage("parachute", "Parachute", (LEAVING, *(leaving or NOT_ON_THE_CARD), RIPCORD, leave)),
        BriefPage("loose", "Loose articles", LOOSE),
        BriefPage("before_first", "Before the first figure", BEFORE_FIRST),
        BriefPage("between", "Between figures", BETWEEN),
        BriefPage("stop", "Stop rules", STOP_RULES),
    )


class Brief(Document):
    checked: tuple[str, ...] = told("Before flight", "", ())
    note: str = told("Note on the brief", "", "", max_length=2000)

    @model_validator(mode="after")
    def items_exist(self) -> "Brief":
        known = {item.key for item in BEFORE_FLIGHT}
        for key in self.checked:
            if key not in known:
                raise ValueError(f"checked: there is no item '{key}' on the before-flight list")
        return self
