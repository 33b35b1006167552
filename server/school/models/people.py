"""People and their roles."""

from datetime import date
from typing import cast, get_args

from django.contrib.auth.models import AbstractUser
from django.db import models

from keelturn.figures.figure import Stage
from server import clock


class Role(models.TextChoices):
    CHIEF = "chief", "Chief instructor"
    INSTRUCTOR = "instructor", "Instructor"
    STUDENT = "student", "Student"


class Person(AbstractUser):
    """Somebody who can log in. `name` is what is shown; who flies as a student has a row there besides.
    invited_at: when the last link was made for them, which alone opens. left_at: since when they do not
    belong to the school any more, and why."""

    name = models.CharField(max_length=80)
    role = models.CharField(max_length=12, choices=Role.choices, default=Role.STUDENT)
    weight_lb = models.FloatField(default=180)
    invited_at = models.DateTimeField(null=True)
    left_at = models.DateTimeField(null=True)
    left_why = models.CharField(max_length=300, null=True)  # noqa: DJ001

    @property
    def teaches(self) -> bool:
        return self.role in (Role.INSTRUCTOR, Role.CHIEF)

    @property
    def is_chief(self) -> bool:
        return self.role == Role.CHIEF


class Student(models.Model):
    """What the school keeps about a student besides the log-in. stage: the standing that the chief has set,
    with the reason, by whom and when; empty where it follows from the tasks. follows: that one, as
    [from day, standing, why] from when it was last counted on, each later one if nothing more is flown."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="student")
    stage = models.CharField(
        max_length=40, choices=[(stage, stage) for stage in get_args(Stage)], default="", blank=True
    )
    stage_reason = models.CharField(max_length=300, blank=True, default="")
    stage_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+", null=True)
    stage_at = models.DateTimeField(null=True)
    follows = models.JSONField(default=list)
    goal = models.CharField(max_length=200, blank=True)

    @property
    def stage_reached(self) -> Stage:
        return cast(Stage, self.stage) if self.stage else self.standing_that_follows[0]

    @property
    def standing_that_follows(self) -> tuple[Stage, str]:
        """Today's, and why; the first where nothing has been counted yet."""
        today = clock.day_of(clock.now()).isoformat()
        begun = [(standing, why) for day, standing, why in self.follows if day <= today]
        return begun[-1] if begun else (get_args(Stage)[0], "nothing debriefed yet")

    @property
    def ahead(self) -> list[tuple[date, Stage, str]]:
        """From which later day on which standing follows, and why, if nothing more is flown."""
        today = clock.day_of(clock.now()).isoformat()
        return [
            (date.fromisoformat(day), standing, why) for day, standing, why in self.follows if day > today
        ]


class GroundDone(models.Model):
    """Something of a course that was done on the ground: by the names of course and item, with whom."""

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="ground_done")
    course = models.CharField(max_length=40)
    item = models.CharField(max_length=40)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("pk",)
        constraints = (
            models.UniqueConstraint(fields=("student", "course", "item"), name="ground_done_once"),
        )
