"""People and their roles."""

from typing import cast, get_args

from django.contrib.auth.models import AbstractUser
from django.db import models

from keelturn.figures.figure import Stage


class Role(models.TextChoices):
    CHIEF = "chief", "Chief instructor"
    INSTRUCTOR = "instructor", "Instructor"
    STUDENT = "student", "Student"


class Person(AbstractUser):
    """Somebody who can log in. `name` is what is shown."""

    name = models.CharField(max_length=80)
    role = models.CharField(max_length=12, choices=Role.choices, default=Role.STUDENT)
    weight_lb = models.FloatField(default=180)

    @property
    def teaches(self) -> bool:
        return self.role in (Role.INSTRUCTOR, Role.CHIEF)

    @property
    def is_chief(self) -> bool:
        return self.role == Role.CHIEF


class Student(models.Model):
    """What the school keeps about a student besides the log-in."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="student")
    stage = models.CharField(
        max_length=40, choices=[(stage, stage) for stage in get_args(Stage)], default="first flights"
    )
    goal = models.CharField(max_length=200, blank=True)

    @property
    def stage_reached(self) -> Stage:
        return cast(Stage, self.stage)
