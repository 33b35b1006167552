"""Every screen, stage, tab and dialog, as each role meets it. Adding one is adding a line."""

from dataclasses import dataclass
from typing import NamedTuple

PETRA = "Petra Lindqvale"


class Size(NamedTuple):
    """touch: a finger points; dark: the system asks for it; sun: chosen in Fly."""

    width: int
    height: int
    touch: bool = False
    dark: bool = False
    sun: bool = False


# A desk, the same at dusk and at 200 % zoom, a small laptop, an upright tablet, a phone.
SIZES = {
    "desk": Size(1280, 800),
    "dusk": Size(1280, 800, dark=True),
    "sun": Size(390, 844, touch=True, sun=True),
    "laptop": Size(1024, 768),
    "tablet": Size(800, 1280, touch=True),
    "phone": Size(390, 844, touch=True),
    "zoomed": Size(640, 400),
}
FIVE = ("desk", "laptop", "tablet", "phone", "zoomed")
# A dialog is as wide as its words: what differs is how much of the screen it has.
DIALOG = ("desk", "phone", "zoomed")
WIDE = ("desk", "laptop", "tablet")
# What is looked at on the ground, at leisure: between these it only wraps.
AT_LEISURE = ("desk", "phone", "zoomed")
# What axe finds lies in the parts and in their colours: other sizes draw the same parts in the same colours.
OTHER_COLOURS = ("dusk", "sun")
# Where every colour stands somewhere.
AT_DUSK = ("today", "student", "figures", "plan", "plan, place", "brief, a figure", "fly", "debrief", "sign")


# Looked at in every run.
MAIN = (
    "log in",
    "today",
    "week",
    "students",
    "student",
    "figures",
    "fleet",
    "school",
    "plan",
    "brief, a figure",
    "fly",
    "debrief",
    "sign",
)
IN_THE_SUN = ("fly", "fly, feel", "fly, faults", "fly, landed", "fly, list")


@dataclass(frozen=True)
class Screen:
    """who: the name to log in. at: the address; {sortie} is that of Petra's coming sortie. waits_for: words
    that are there once it is drawn. keys: pressed on the page; presses: then buttons or tabs on the way.
    button: what the person came to press, which must be in sight. dialog: Esc closes it. sizes: the five when
    none is named."""

    name: str
    who: str
    at: str
    waits_for: str
    presses: tuple[str, ...] = ()
    keys: str = ""
    button: str = ""
    dialog: bool = False
    sizes: tuple[str, ...] = ()


def dialog(name: str, who: str, at: str, waits_for: str, *presses: str, keys: str = "") -> Screen:
    return Screen(name, who, at, waits_for, presses, keys, dialog=True, sizes=DIALOG)


def stage(
    name: str, waits_for: str, *presses: str, who: str = "tam", keys: str = "", button: str = ""
) -> Screen:
    return Screen(name, who, f"{{sortie}}/{name.split(',')[0]}", waits_for, presses, keys, button)


SCREENS = (
    Screen("log in", "", "/", "Height is the budget", button="Log in"),
    Screen("today", "tam", "/", "Signed lately", button="Plan a sortie"),
    Screen("today, chief", "morag", "/", "Signed lately", button="Plan a sortie"),
    Screen("today, student", "petra", "/", "Signed lately"),
    dialog("start a sortie", "tam", "/", "Choose a student", "Plan a sortie"),
    dialog("find", "tam", "/", "A name, an aircraft, a place", keys="/"),
    dialog("help", "tam", "/", "Every number with a dotted line", keys="?"),
    Screen("week", "tam", "/week", "Choose a booking", button="Plan a sortie"),
    Screen("week, by instructor", "morag", "/week", "Choose a booking", ("By instructor",), sizes=WIDE),
    Screen("week, student", "petra", "/week", "Petra Lindqvale", sizes=("desk", "phone")),
    dialog("week, not to be had", "tam", "/week", "From a calendar's file", "Not to be had"),
    Screen("dates", "morag", "/dates", "Valid until", button="Add a date", sizes=AT_LEISURE),
    dialog("dates, one", "morag", "/dates", "Its last valid day", "Add a date"),
    dialog("required, on record", "tam", "/students/1", "Signed by", "Required", "Put on record"),
    Screen(
        "student, required",
        "tam",
        "/students/1",
        "The program grants nothing",
        ("Required",),
        sizes=AT_LEISURE,
    ),
    Screen("students", "tam", "/students", "Standing", sizes=AT_LEISURE),
    Screen("student", "tam", "/students/1", "thread: height beyond the brief"),
    Screen("student, heights", "tam", "/students/1", "Of 100 pilots of the population", ("Heights",)),
    Screen("school", "morag", "/school", "What the briefs got wrong", sizes=AT_LEISURE),
    Screen(
        "people", "morag", "/people", "Still to instruct or sign", button="Ask somebody in", sizes=AT_LEISURE
    ),
    dialog("people, ask in", "morag", "/people", "Is taught here", "Ask somebody in"),
    dialog("people, leaves", "morag", "/people", "They stay", "More about Ilse Quorn", "Leaves the school"),
    dialog("people, erase", "morag", "/people", "Kept until", "More about Rhea Solanpike", "Erase at their"),
    dialog("people, letters", "morag", "/people", "None yet", "Letters of the demo"),
    Screen("records", "morag", "/records", "It ends in link", button="Follow it now", sizes=AT_LEISURE),
    Screen("account", "morag", "/account", "Where I am logged in", sizes=AT_LEISURE),
    Screen("account, student", "petra", "/account", "Take it along", sizes=AT_LEISURE),
    Screen("student, own", "petra", "/students/1", "thread: height beyond the brief"),
    Screen("courses", "tam", "/courses", "Lessons, in order", sizes=AT_LEISURE),
    dialog("course versions", "tam", "/courses", "as it ships", "Versions"),
    dialog("course editor", "morag", "/courses", "Store as the next version", "Edit"),
    dialog("course editor, tasks", "morag", "/courses", "Counts only as", "Edit", "Tasks"),
    dialog("course editor, lessons", "morag", "/courses", "Figures, in order", "Edit", "Lessons"),
    dialog("student's course", "tam", "/students/1", "Leave it as it is", "Course"),
    Screen("figures", "tam", "/figures", "approved in"),
    Screen("figures, chief", "morag", "/figures", "Set the school's standard", sizes=AT_LEISURE),
    dialog("figure's standard", "morag", "/figures", "Empty fields leave", "Set the school's standard"),
    Screen("fleet", "tam", "/fleet", "School standards", sizes=AT_LEISURE),
    dialog("card editor", "morag", "/fleet", "Store the card", "Change QX-"),
    dialog("place editor", "morag", "/fleet", "Store the place", "Change Skarra Sound block"),
    dialog("standards editor", "morag", "/fleet", "Store the standards", "Change the standards"),
    stage("plan", "Height to spend", button="Brief"),
    stage("plan, side view", "What if", "Side view"),
    stage("plan, day", "Wind at height", "Day"),
    stage("plan, load", "Baggage", "Aircraft and load"),
    stage("plan, place", "My own floor", "Place"),
    stage("plan, proposal", "fits", keys="f"),
    dialog("plan, add", "tam", "{sortie}/plan", "Add a figure", keys="a"),
    stage("plan, why", "Why this number", keys="w"),
    stage("plan, why the 19 in 20", "of the population flew it", "Loss 19 times in 20", keys="w"),
    dialog("plan, more", "tam", "{sortie}/plan", "Card as PDF", "More"),
    dialog("plan, booking", "tam", "{sortie}/plan", "Reason to cancel", "More", "Move, hand over"),
    stage("plan, a colleague's", "you can read it", who="ilse"),
    stage("brief", "Before the flight", button="Briefed"),
    stage("brief, a figure", "Stop words", keys="jj", button="Briefed"),
    Screen(
        "brief, words", "tam", "{sortie}/brief", "Not recovered by", ("Parachute",), "", "Briefed", sizes=WIDE
    ),
    Screen("brief, student", "petra", "{sortie}/brief", "Print card", button="Next page", sizes=WIDE),
    Screen(
        "brief, student at the end",
        "petra",
        "{sortie}/brief",
        "Print card",
        button="I have read",
        sizes=("phone",),
    ),
    stage("fly", "1 of"),
    stage("fly, feel", "1 of", "feel"),
    stage("fly, faults", "1 of", "faults"),
    stage("fly, landed", "Heights missing", "List", "Landed: what is missing"),
    dialog("fly, list", "tam", "{sortie}/fly", "Leave Fly", "List"),
    stage("debrief", "Flown"),
    stage("sign", "Sign and lock"),
)
