"""Courses and who is in which; the standing that follows from what was flown."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.clock

BEFORE = "As it stood before the school had courses."


def keep_standings(apps, schema_editor):
    """What somebody had set by hand stays set; the first standing is where everybody begins."""
    students = apps.get_model("school", "Student").objects.all()
    students.filter(stage="first flights").update(stage="")
    students.exclude(stage="").update(stage_reason=BEFORE)


class Migration(migrations.Migration):
    dependencies = [
        ("school", "0011_files_that_wait"),
    ]

    operations = [
        migrations.AddField(
            model_name="sortie",
            name="lesson_kept",
            field=models.JSONField(null=True),
        ),
        migrations.AddField(
            model_name="student",
            name="follows",
            field=models.JSONField(default=list),
        ),
        migrations.AddField(
            model_name="student",
            name="stage_at",
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name="student",
            name="stage_by",
            field=models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="+",
                to=settings.AUTH_USER_MODEL,
            ),
        ),
        migrations.AddField(
            model_name="student",
            name="stage_reason",
            field=models.CharField(blank=True, default="", max_length=300),
        ),
        migrations.AlterField(
            model_name="student",
            name="stage",
            field=models.CharField(
                blank=True,
                choices=[
                    ("first flights", "first flights"),
                    ("practised", "practised"),
                    ("ready to fly it alone", "ready to fly it alone"),
                ],
                default="",
                max_length=40,
            ),
        ),
        migrations.RunPython(keep_standings, migrations.RunPython.noop),
        migrations.CreateModel(
            name="CourseVersion",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("key", models.CharField(max_length=40)),
                ("version", models.PositiveIntegerField(default=1)),
                ("course", models.JSONField()),
                ("at", models.DateTimeField(default=server.clock.now)),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ("pk",),
            },
        ),
        migrations.CreateModel(
            name="Enrolment",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("began", models.DateTimeField(default=server.clock.now)),
                ("ended", models.DateTimeField(null=True)),
                ("ended_why", models.CharField(blank=True, default="", max_length=300)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "course",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="enrolments",
                        to="school.courseversion",
                    ),
                ),
                (
                    "student",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="enrolments",
                        to="school.student",
                    ),
                ),
            ],
            options={
                "ordering": ("pk",),
            },
        ),
        migrations.CreateModel(
            name="GroundDone",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("course", models.CharField(max_length=40)),
                ("item", models.CharField(max_length=40)),
                ("at", models.DateTimeField(default=server.clock.now)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "student",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="ground_done",
                        to="school.student",
                    ),
                ),
            ],
            options={
                "ordering": ("pk",),
            },
        ),
        migrations.AddConstraint(
            model_name="courseversion",
            constraint=models.UniqueConstraint(fields=("key", "version"), name="a_course_version_once"),
        ),
        migrations.AddConstraint(
            model_name="enrolment",
            constraint=models.UniqueConstraint(
                condition=models.Q(("ended", None)), fields=("student",), name="one_course_at_a_time"
            ),
        ),
        migrations.AddConstraint(
            model_name="grounddone",
            constraint=models.UniqueConstraint(fields=("student", "course", "item"), name="ground_done_once"),
        ),
    ]
