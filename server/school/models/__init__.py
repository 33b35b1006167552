"""What is stored, one file a subject."""

from server.school.models.fleet import Aircraft, Place, SchoolStandards
from server.school.models.people import Person, Student
from server.school.models.sorties import AttemptRow, Correction, Signature, Sortie, StageChange

__all__ = [
    "Aircraft", "AttemptRow", "Correction", "Person", "Place", "SchoolStandards", "Signature", "Sortie", "StageChange", "Student",
]
