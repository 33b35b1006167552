"""A sortie from plan to signature, and what is added beside it afterwards."""

from typing import Any, Literal, cast

from django.db import models

from keelturn.aircraft.card import Card
from keelturn.formats.reading import read_stored
from keelturn.progress.lessons import Lesson
from keelturn.progress.stages import STAGES, Act, Stage, allowed
from keelturn.school.place import Place as PlaceDocument
from server import clock
from server.school.models.fleet import Aircraft, Place
from server.school.models.packed import PackedText
from server.school.models.people import Person, Student


class SortieStage(models.TextChoices):
    PLANNED = "planned", "Planned"
    BRIEFED = "briefed", "Briefed"
    FLOWN = "flown", "Flown"
    DEBRIEFED = "debriefed", "Debriefed"
    SIGNED = "signed", "Signed"


class Sortie(models.Model):
    """`plan` is the core's PlanDocument; `brief` and `debrief` are the sheets of the API. `version` rises
    with each save. `card_kept` and `place_kept` are the documents that it was planned on, with their
    versions: a later one is taken over knowingly or not at all. As they were when it was flown:
    `packed_kept` the parachutes, `own_kept` the student's own numbers (the core's OwnLoss, by figure),
    `briefed_kept` what of the brief is looked back on (the core's Briefed, by planned figure), `dates_kept`
    the dates of people and aircraft (the core's Dated), `before_kept` what should have come before its lesson
    and had not (the core's Missing). `booked_min`: how long it is booked, null for as long
    as the school books one. `made_as`: the
    identity that the one who asked for it gave it. `cancelled`: why, null while it is not. `lesson_kept`: its
    lesson's name and purpose as it was planned; null for one of before a school had courses of its own. A
    signed row cannot be changed or removed: the database refuses (migration 0006)."""

    student = models.ForeignKey(Student, on_delete=models.PROTECT, related_name="sorties")
    instructor = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="taught")
    aircraft = models.ForeignKey(Aircraft, on_delete=models.PROTECT)
    place = models.ForeignKey(Place, on_delete=models.PROTECT)
    planned_for = models.DateTimeField()
    stage = models.CharField(max_length=12, choices=SortieStage.choices, default=SortieStage.PLANNED)
    plan = models.JSONField()
    brief = models.JSONField(default=dict)
    debrief = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)
    changed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(default=clock.now)
    made_as = models.CharField(max_length=40, null=True, unique=True)  # noqa: DJ001
    card_kept = models.JSONField(default=dict)
    card_version = models.PositiveIntegerField(default=1)
    packed_kept = models.DateField(null=True)
    own_kept = models.JSONField(null=True)
    briefed_kept = models.JSONField(null=True)
    place_kept = models.JSONField(default=dict)
    place_version = models.PositiveIntegerField(default=1)
    cancelled = models.CharField(max_length=300, null=True)  # noqa: DJ001
    lesson_kept = models.JSONField(null=True)
    booked_min = models.PositiveSmallIntegerField(null=True)
    dates_kept = models.JSONField(null=True)
    before_kept = models.JSONField(null=True)

    class Meta:
        ordering = ("planned_for", "pk")
        indexes = (
            models.Index(fields=("planned_for",), name="sortie_by_time"),
            models.Index(fields=("stage", "planned_for"), name="sortie_by_stage"),
            models.Index(fields=("student", "planned_for"), name="sortie_by_student"),
            models.Index(fields=("instructor", "planned_for"), name="sortie_by_instructor"),
        )

    def save(self, *args: Any, **options: Any) -> None:
        self.changed_at = clock.now()
        super().save(*args, **options)

    @property
    def stage_reached(self) -> Stage:
        return cast(Stage, self.stage)

    def keep_lesson(self, lesson: Lesson) -> None:
        """What it is called and for, whatever the course becomes."""
        self.lesson_kept = {"name": lesson.name, "purpose": lesson.purpose}

    def lesson_words(self, what: Literal["name", "purpose"]) -> str | None:
        """As it was planned; None where nothing was kept."""
        return self.lesson_kept.get(what) if isinstance(self.lesson_kept, dict) else None

    @property
    def was_flown(self) -> bool:
        return STAGES.index(self.stage_reached) >= STAGES.index("flown")

    def open_for(self, act: Act) -> bool:
        """Whether this can be done with it now, by those who may. With a cancelled one nothing is."""
        return allowed(act, self.stage_reached) and (self.cancelled is None or act == Act.BOOK)

    def keep_card(self) -> None:
        """Plan it on the aircraft's card as it is now."""
        self.card_kept, self.card_version = self.aircraft.card, self.aircraft.version

    def keep_place(self) -> None:
        """Plan it on the place as it is now."""
        self.place_kept, self.place_version = self.place.place, self.place.version

    def card(self) -> Card:
        """As it was planned on. Raises Unreadable."""
        return read_stored(Card, self.card_kept, "card")

    def where(self) -> PlaceDocument:
        """As it was planned on. Raises Unreadable."""
        return read_stored(PlaceDocument, self.place_kept, "place")

    def parachute_days(self) -> float | None:
        """Since the repack that was the last one when it was flown, or is now."""
        packed = self.packed_kept if self.was_flown else self.aircraft.parachutes_packed_on
        return None if packed is None else max(0.0, float((clock.day_of(self.planned_for) - packed).days))


class BookingChange(models.Model):
    """Who moved a sortie to another time, instructor, aircraft or place, cancelled it or put it back; in the
    words of the core's Rebooked."""

    sortie = models.ForeignKey(Sortie, on_delete=models.CASCADE, related_name="booking_changes")
    what = models.CharField(max_length=12)
    before = models.CharField(max_length=300)
    after = models.CharField(max_length=300)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("pk",)


class EntryRow(models.Model):
    """One thing noted: the core's Entry, under the identity that its device gave it. Rows are only ever
    added: the database refuses everything else."""

    sortie = models.ForeignKey(Sortie, on_delete=models.PROTECT, related_name="entries")
    ident = models.CharField(max_length=40, unique=True)
    entry = models.JSONField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    received_at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("pk",)


class AttemptRow(models.Model):
    """One attempt, as the entries add up to it. `attempt` is the core's Attempt; the columns beside it are
    for lists and history. `deviation`: where its loss lies among those of the population, null for one that
    says nothing of the student. `corrected`: once something of a signed one was corrected, the Attempt as it
    counts and what was corrected, in words; the columns beside it are then of that one."""

    sortie = models.ForeignKey(Sortie, on_delete=models.CASCADE, related_name="attempts")
    order = models.PositiveSmallIntegerField()
    attempt = models.JSONField()
    figure = models.CharField(max_length=40, db_index=True)
    lost_ft = models.FloatField(null=True)
    briefed_ft = models.FloatField(null=True)
    deviation = models.FloatField(null=True)
    corrected = models.JSONField(null=True)

    class Meta:
        ordering = ("order", "pk")

    @property
    def corrections(self) -> list[str]:
        """What was corrected of it after signing, in words."""
        return list(self.corrected["words"]) if isinstance(self.corrected, dict) else []


class StageChange(models.Model):
    """Who moved a sortie from one stage to the next, and when."""

    sortie = models.ForeignKey(Sortie, on_delete=models.CASCADE, related_name="stage_changes")
    stage = models.CharField(max_length=12, choices=SortieStage.choices)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ("pk",)
        indexes = (models.Index(fields=("at",), name="stage_by_time"),)


class Signature(models.Model):
    """What was signed, word for word, with its SHA-256 digest. `line` is the document's own line for
    lists."""

    sortie = models.OneToOneField(Sortie, on_delete=models.PROTECT, related_name="signature")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    document = PackedText()
    digest = models.CharField(max_length=64)
    line = models.JSONField(default=dict)


class BriefRead(models.Model):
    """The student has read the brief: when, and which plan it was (its digest), so that a later change
    shows."""

    sortie = models.OneToOneField(Sortie, on_delete=models.CASCADE, related_name="read")
    plan_digest = models.CharField(max_length=64)
    at = models.DateTimeField()


class Question(models.Model):
    """Asked by the student while reading, about a figure or the whole; answered by the instructor."""

    sortie = models.ForeignKey(Sortie, on_delete=models.CASCADE, related_name="questions")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)
    figure = models.CharField(max_length=40, blank=True)
    text = models.TextField(max_length=600)
    answer = models.TextField(max_length=1000, blank=True)
    answered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+", null=True)
    answered_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("pk",)


class SheetRead(models.Model):
    """The student has read the sheet of a signed sortie, and what they said of it; beside what is signed."""

    sortie = models.OneToOneField(Sortie, on_delete=models.PROTECT, related_name="sheet_read")
    at = models.DateTimeField(default=clock.now)
    comment = models.TextField(max_length=1000, blank=True)


class Correction(models.Model):
    """Added beside a signed record; the original stays as it was. `what`: the field of an attempt that it
    corrects (the core's FieldCorrection), null for one in words alone. `digest` covers what it says and the
    digest before it; those made before there was one have none."""

    sortie = models.ForeignKey(Sortie, on_delete=models.PROTECT, related_name="corrections")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=clock.now)
    by_name = models.CharField(max_length=80, blank=True, default="")
    reason = models.CharField(max_length=300)
    text = models.TextField(max_length=2000)
    what = models.JSONField(null=True)
    digest = models.CharField(max_length=64, blank=True, default="")

    class Meta:
        ordering = ("pk",)
