"""Courses, version by version, and who is in which."""

from django.db import models, transaction

from keelturn.progress.course import Course
from keelturn.progress.courses import COURSES
from server import clock
from server.school.models.people import Person, Student


class CourseVersion(models.Model):
    """A course as it stood at one version. The latest of its key is in force; a student stays on theirs. Rows
    are only ever added. by: nobody for those that ship."""

    key = models.CharField(max_length=40)
    version = models.PositiveIntegerField(default=1)
    course = models.JSONField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+", null=True)
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("key", "version"), name="a_course_version_once"),)

    def document(self) -> Course:
        return Course.model_validate(self.course)

    @classmethod
    def in_force(cls) -> list["CourseVersion"]:
        """The latest of each course, in the order in which they came to the school. A school without any
        begins with those that ship. One query."""
        found = list(cls._latest())
        if not found:
            with transaction.atomic():
                if not cls.objects.exists():
                    CourseVersion.objects.bulk_create(
                        CourseVersion(key=course.key, course=course.model_dump(mode="json"))
                        for course in COURSES
                    )
            found = list(cls._latest())
        return found

    @classmethod
    def _latest(cls) -> "models.QuerySet[CourseVersion]":
        first = CourseVersion.objects.filter(key=models.OuterRef("key")).order_by("pk").values("pk")[:1]
        newest = CourseVersion.objects.values("key").annotate(newest=models.Max("pk")).values("newest")
        return (
            CourseVersion.objects.filter(pk__in=newest)
            .annotate(first=models.Subquery(first))
            .select_related("by")
            .order_by("first")
        )


class Enrolment(models.Model):
    """A student in a course, on one version of it. ended: when they left it or finished, and why."""

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="enrolments")
    course = models.ForeignKey(CourseVersion, on_delete=models.PROTECT, related_name="enrolments")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    began = models.DateTimeField(default=clock.now)
    ended = models.DateTimeField(null=True)
    ended_why = models.CharField(max_length=300, blank=True, default="")

    class Meta:
        ordering = ("pk",)
        constraints = (
            models.UniqueConstraint(
                fields=("student",), condition=models.Q(ended=None), name="one_course_at_a_time"
            ),
        )
