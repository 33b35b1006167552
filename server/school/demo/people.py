"""The people of the demo school: log-in, name, role, weight in lb."""

# What the school is called.
SCHOOL = "Skarra Sound Flying School"
PASSWORD = "height-is-the-budget"
PEOPLE = (
    ("morag", "Morag Sellwyn", "chief", 150.0),
    ("tam", "Tam Ferrand", "instructor", 178.0),
    ("ilse", "Ilse Quorn", "instructor", 142.0),
    ("bryn", "Bryn Castellow", "instructor", 166.0),
    ("petra", "Petra Lindqvale", "student", 148.0),
    ("jonah", "Jonah Achterby", "student", 196.0),
    ("rhea", "Rhea Solanpike", "student", 139.0),
    ("davin", "Davin Ostrel", "student", 184.0),
    ("mirela", "Mirela Quade", "student", 131.0),
    ("corin", "Corin Vashley", "student", 165.0),
    ("sunniva", "Sunniva Kaldreth", "student", 140.0),
    ("tavish", "Tavish Orrindell", "student", 172.0),
    ("isla", "Isla Brenmoor", "student", 136.0),
    ("keir", "Keir Dunmallow", "student", 180.0),
    ("oskar", "Oskar Fennimede", "student", 190.0),
    ("una", "Una Harsdale", "student", 128.0),
)
# Standings that the chief has set, with the reason; the others follow from what was flown.
SET_STANDINGS = {
    "keir": (
        "ready to fly it alone",
        "Three seasons of spins elsewhere; checked by me on two flights.",
    ),
    "sunniva": ("practised", "Spins and upsets flown elsewhere, records seen."),
}
GOALS = {
    "petra": "Upset recovery and spins, then rolls",
    "jonah": "Spins before the autumn crossings",
    "rhea": "To teach spins one day",
    "davin": "Steep turns and upsets without worry",
    "mirela": "First aerobatic flights",
    "corin": "Spins for the instructor's course",
    "sunniva": "Rolls and loops, well rounded",
    "tavish": "Upset recovery, eyes closed",
    "isla": "A sequence of her own",
    "keir": "What comes after the plain spin",
    "oskar": "Spins, when the work allows it",
    "una": "Not to freeze",
}
