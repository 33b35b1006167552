"""Every screen, stage, tab and dialog, as each role meets it. Adding one is adding a line."""

from dataclasses import dataclass, field

PETRA, OPEN = "Petra Lindqvale", ""


@dataclass(frozen=True)
class Screen:
    """who: the name to log in. at: the address; {sortie} is that of the sortie with `student`. waits_for: words that
    are there once it is drawn. presses: buttons or tabs on the way; keys: pressed on the page. button: what the
    person came to press, which must be in sight. dialog: Esc closes it."""

    name: str
    who: str
    at: str
    waits_for: str
    presses: tuple[str, ...] = ()
    keys: str = ""
    button: str = ""
    dialog: bool = False
    student: str = PETRA
    sizes: tuple[str, ...] = field(default=())


# As a desk, a small laptop, an upright tablet, a phone, and a desk at 200 % zoom.
SIZES = {
    "desk": (1280, 800, False),
    "laptop": (1024, 768, False),
    "tablet": (800, 1280, True),
    "phone": (390, 844, True),
    "zoomed": (640, 400, False),
}

SCREENS = (
    Screen("log in", "", "/", "Height is the budget", button="Log in"),
    Screen("today", "tam", "/", "Signed lately", button="Plan a sortie"),
    Screen("today, chief", "morag", "/", "Signed lately", button="Plan a sortie"),
    Screen("today, student", "petra", "/", "Signed lately"),
    Screen("start a sortie", "tam", "/", "Choose a student", presses=("Plan a sortie",), dialog=True),
    Screen("find", "tam", "/", "A name, an aircraft, a place", keys="/", dialog=True),
    Screen("help", "tam", "/", "answers", keys="?", dialog=True),
    Screen("students", "tam", "/students", "Students"),
    Screen("student", "tam", "/students/1", "The way so far"),
    Screen("student, own", "petra", "/students/1", "The way so far"),
    Screen("figures", "tam", "/figures", "Figures"),
    Screen("figures, chief", "morag", "/figures", "Figures"),
    Screen(
        "figure's standard", "morag", "/figures", "what the school asks", presses=("Change",), dialog=True
    ),
    Screen("fleet", "tam", "/fleet", "School standards"),
    Screen("card editor", "morag", "/fleet", "Store the card", presses=("Change QX-",), dialog=True),
    Screen(
        "place editor",
        "morag",
        "/fleet",
        "Store the place",
        presses=("Change Skarra Sound block",),
        dialog=True,
    ),
    Screen(
        "standards editor",
        "morag",
        "/fleet",
        "Store the standards",
        presses=("Change the standards",),
        dialog=True,
    ),
    Screen("plan", "tam", "{sortie}/plan", "Height to spend", button="Brief"),
    Screen("plan, side view", "tam", "{sortie}/plan", "What if", presses=("Side view",)),
    Screen("plan, day", "tam", "{sortie}/plan", "Wind at height", presses=("Day",)),
    Screen("plan, load", "tam", "{sortie}/plan", "Baggage", presses=("Aircraft and load",)),
    Screen("plan, place", "tam", "{sortie}/plan", "My own floor", presses=("Place",)),
    Screen("plan, proposal", "tam", "{sortie}/plan", "fits", keys="f"),
    Screen("plan, add", "tam", "{sortie}/plan", "Add a figure", keys="a", dialog=True),
    Screen("plan, why", "tam", "{sortie}/plan", "Why this number", keys="w"),
    Screen("plan, files", "tam", "{sortie}/plan", "Card as PDF", presses=("Files",), dialog=True),
    Screen("brief", "tam", "{sortie}/brief", "Before the flight", button="Briefed"),
    Screen("brief, a figure", "tam", "{sortie}/brief", "Stop words", keys="jj", button="Briefed"),
    Screen(
        "brief, words",
        "tam",
        "{sortie}/brief",
        "Hand-over words",
        presses=("Hand-over",),
        button="Briefed",
        sizes=("desk", "laptop", "tablet"),
    ),
    Screen(
        "brief, student",
        "petra",
        "{sortie}/brief",
        "Print card",
        button="Next page",
        sizes=("desk", "laptop", "tablet"),
    ),
    Screen(
        "brief, student on a phone",
        "petra",
        "{sortie}/brief",
        "Print card",
        button="I have read it",
        sizes=("phone",),
    ),
    Screen("fly", "tam", "{sortie}/fly", "1 of"),
    Screen("debrief", "tam", "{sortie}/debrief", "Flown"),
    Screen("sign", "tam", "{sortie}/sign", "Sign and lock"),
)
