"""Who belongs to the school: invited by a link, changed, gone and back. The last chief stays."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.tokens import PasswordResetTokenGenerator
from django.db import transaction
from django.db.models import Count
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from keelturn.formats.reading import Problem, Refused, refused
from server import clock
from server.school.models import Change, Deed, DeedKind, Erasure, Person, Sortie, Student
from server.school.models.people import Role
from server.school.operations.accounts import require_good
from server.school.operations.booking import Otherwise, cancel, rebook
from server.school.operations.record import OPEN_STAGES
from server.school.permissions import require_chief, with_people

WHO = "who belongs to the school"


class _Tokens(PasswordResetTokenGenerator):
    """Of a link: it opens once (the password is in it), for a few days (PASSWORD_RESET_TIMEOUT), and until
    another was made."""

    key_salt = "keelturn.invitation"

    def _make_hash_value(self, user: Person, timestamp: int) -> str:
        return f"{super()._make_hash_value(user, timestamp)}{user.invited_at}{user.is_active}"

    def _now(self) -> datetime:
        return clock.now().replace(tzinfo=None)


TOKENS = _Tokens()


@dataclass(frozen=True)
class Who:
    """As the chief writes somebody down. email: empty where they have none. student: flies as a student, too;
    role: what they do besides."""

    username: str
    name: str
    email: str
    role: Role
    student: bool
    weight_lb: float


def invite(chief: Person, who: Who) -> Person:
    """Raises Denied, Refused."""
    require_chief(chief, WHO)
    with transaction.atomic():
        made = Person(username=who.username, invited_at=clock.now())
        made.set_unusable_password()
        _put(made, who)
        made.save()
        _student(made, who)
        _keep(chief, made, None, _said(who))
    return made


def change(chief: Person, person: Person, who: Who) -> Person:
    """Raises Denied, Refused."""
    require_chief(chief, WHO)
    _require_not_erased(person)
    with transaction.atomic():
        before = said_of(person)
        if person.is_chief and who.role != Role.CHIEF:
            _require_another_chief(person, "stays chief")
        _put(person, who)
        person.username = who.username
        person.save()
        _student(person, who)
        if before != _said(who):
            _keep(chief, person, before, _said(who))
    return person


def _require_not_erased(person: Person) -> None:
    """Raises Refused."""
    if Erasure.objects.filter(person=person.pk).exists():
        raise refused("person", "they were erased", "Ask them in anew, if they come back.")


def _put(person: Person, who: Who) -> None:
    """Raises Refused."""
    taken = Person.objects.filter(username__iexact=who.username).exclude(pk=person.pk).exists()
    problems = []
    if taken:
        what = f"somebody logs in as {who.username} already"
        problems.append(Problem("username", what, "Choose another name to log in."))
    if who.role == Role.STUDENT and not who.student:
        problems.append(
            Problem("role", "nothing is left for them to do here", "Choose what they do, or let them leave.")
        )
    if problems:
        raise Refused(problems)
    person.name, person.email, person.role, person.weight_lb = who.name, who.email, who.role, who.weight_lb


def _student(person: Person, who: Who) -> None:
    """Raises Refused for one who has flown as a student and should not have."""
    there = Student.objects.filter(person=person).first()
    if who.student and there is None:
        Student.objects.create(person=person)
    if not who.student and there is not None:
        if there.sorties.exists():
            raise refused(
                "student", f"{person.name} has sorties as a student", "They stay: leave the mark as it is."
            )
        there.delete()


def said_of(person: Person) -> dict[str, object]:
    student = Student.objects.filter(person=person).exists()
    role = Role(person.role)
    return _said(Who(person.username, person.name, person.email, role, student, person.weight_lb))


def _said(who: Who) -> dict[str, object]:
    return {
        "name": who.name,
        "logs in as": who.username,
        "e-mail": who.email,
        "role": str(who.role.label),
        "student": who.student,
        "weight lb": who.weight_lb,
    }


def _keep(chief: Person, person: Person, before: object, after: object) -> None:
    Change.objects.create(subject=f"person {person.pk}", by=chief, before=before, after=after)


def _require_another_chief(person: Person, stays: str) -> None:
    """Raises Refused."""
    others = Person.objects.filter(role=Role.CHIEF, is_active=True).exclude(pk=person.pk)
    if not others.exists():
        what = f"{person.name} is the last chief and {stays}"
        raise refused("person", what, "Make somebody else chief first.")


def link_for(chief: Person, person: Person) -> str:
    """The way in, by which they set a password of their own; one that was made before does not open any more.
    The path of it. Raises Denied, Refused."""
    require_chief(chief, WHO)
    with transaction.atomic():
        Deed.note(chief, DeedKind.INVITED, f"person {person.pk}")
        return make_link(person)


def link_asked_for(username: str) -> tuple[Person, str] | None:
    """By somebody who has forgotten their password: None where there is nobody to send it to."""
    person = Person.objects.filter(username=username, is_active=True).exclude(email="").first()
    if person is None:
        return None
    with transaction.atomic():
        Deed.note(person, DeedKind.FORGOT)
        return person, make_link(person)


def make_link(person: Person) -> str:
    """Any that was made before does not open any more. Raises Refused."""
    if not person.is_active:
        raise refused("person", f"{person.name} has left the school", "Take them back first.")
    person.invited_at = clock.now()
    person.save(update_fields=["invited_at"])
    name = urlsafe_base64_encode(str(person.pk).encode())
    return f"/welcome/{name}/{TOKENS.make_token(person)}"


def letter(person: Person, link: str) -> str:
    return (
        f"{person.name},\n\nthis link opens your account in Keel Turn and lets you set a password of your"
        f" own:\n\n{link}\n\nIt opens once, for three days; your name to log in is {person.username}. If you"
        " did not expect it, leave it alone: without it nothing changes.\n"
    )


def whose_link(name: str, token: str) -> Person:
    """Raises Refused for one that does not open."""
    try:
        key = int(urlsafe_base64_decode(name))
    except ValueError:
        key = 0
    person = Person.objects.filter(pk=key, is_active=True).first() if key < 2**31 else None
    if person is None or not TOKENS.check_token(person, token):
        raise refused(
            "link",
            "this link does not open any more",
            "Ask the chief instructor for another: each opens once.",
        )
    return person


def enter(name: str, token: str, password: str) -> Person:
    """Through the link, with a password of their own from now on. Raises Refused."""
    with transaction.atomic():
        person = whose_link(name, token)
        require_good(person, password)
        person.set_password(password)
        person.save(update_fields=["password"])
        Deed.note(person, DeedKind.PASSWORD, words="by the link")
    return person


@dataclass(frozen=True)
class Ahead:
    """What somebody still has to do: to fly, debrief or sign as instructor, and to fly as student."""

    instructs: tuple[Sortie, ...]
    flies: tuple[Sortie, ...]


def ahead_of(person: Person) -> Ahead:
    """Two queries."""
    left = with_people(Sortie.objects.filter(cancelled=None).exclude(stage="signed"))
    coming = left.filter(stage__in=("planned", "briefed"))
    return Ahead(tuple(left.filter(instructor=person)), tuple(coming.filter(student__person=person)))


def leave(chief: Person, person: Person, reason: str, instead: Person | None) -> Person:
    """They cannot log in any more and are booked for nothing; what they flew and signed stays. What they were
    to instruct is instructed by `instead`, what they were to fly is cancelled. Raises Denied, Refused."""
    require_chief(chief, WHO)
    with transaction.atomic():
        if person.is_chief:
            _require_another_chief(person, "cannot leave")
        ahead = ahead_of(person)
        if ahead.instructs and (instead is None or instead.pk == person.pk):
            raise refused(
                "instead",
                f"{person.name} has {len(ahead.instructs)} sorties to fly, debrief or sign as instructor",
                "Say which instructor does it instead.",
            )
        for sortie in ahead.flies:
            cancel(chief, sortie.pk, sortie.version, f"{person.name} has left the school")
        for sortie in ahead_of(person).instructs:
            rebook(chief, sortie.pk, sortie.version, Otherwise(instructor=instead))
        person.is_active, person.left_at, person.left_why = False, clock.now(), reason
        person.save(update_fields=["is_active", "left_at", "left_why"])
        _keep(chief, person, {"belongs": "to the school"}, {"belongs": f"no more: {reason}"})
    return person


def come_back(chief: Person, person: Person) -> Person:
    """Raises Denied, Refused for one who was erased."""
    require_chief(chief, WHO)
    _require_not_erased(person)
    if person.left_at is None:
        raise refused("person", f"{person.name} has not left", "There is nobody to take back.")
    with transaction.atomic():
        person.is_active, person.left_at, person.left_why = True, None, None
        person.save(update_fields=["is_active", "left_at", "left_why"])
        _keep(chief, person, {"belongs": "no more"}, {"belongs": "to the school"})
    return person


def everybody() -> list[Person]:
    """With how much is left for each as instructor: chiefs, instructors, students, and at the end those who
    left. Two queries."""
    open_ones = Sortie.objects.filter(stage__in=OPEN_STAGES, cancelled=None).order_by()
    ahead = dict(open_ones.values_list("instructor").annotate(Count("pk")))
    found = list(Person.objects.select_related("student").order_by("-is_active", "role", "name"))
    for person in found:
        person.ahead = ahead.get(person.pk, 0)  # type: ignore[attr-defined]
    return found
