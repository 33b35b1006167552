"""The people of the demo school: log-in, name, role, weight in lb."""

PASSWORD = "height-is-the-budget"
PEOPLE = (
    ("morag", "Morag Sellwyn", "chief", 150.0),
    ("tam", "Tam Ferrand", "instructor", 178.0),
    ("ilse", "Ilse Quorn", "instructor", 142.0),
    ("petra", "Petra Lindqvale", "student", 148.0),
    ("jonah", "Jonah Achterby", "student", 196.0),
    ("rhea", "Rhea Solanpike", "student", 139.0),
    ("davin", "Davin Ostrel", "student", 184.0),
    ("mirela", "Mirela Quade", "student", 131.0),
    ("corin", "Corin Vashley", "student", 165.0),
    ("sunniva", "Sunniva Kaldreth", "student", 140.0),
)
STAGES = {"petra": "practised", "rhea": "ready to fly it alone", "corin": "practised", "sunniva": "practised"}
GOALS = {
    "petra": "Upset recovery and spins, then rolls",
    "jonah": "Upset recovery before the autumn crossings",
    "rhea": "Spins alone, both ways",
    "davin": "Steep turns and stalls without worry",
    "mirela": "First aerobatic flights",
    "corin": "Spins for the instructor's course",
    "sunniva": "Rolls and loops, well rounded",
}
