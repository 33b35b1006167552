"""A person's own account: the password, the second factor, where they are logged in."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django_otp import match_token
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from keelturn.formats.reading import Problem, Refused, refused
from server.school.guarding import is_password_of
from server.school.models import Deed, DeedKind, OpenSession, Person

# Recovery codes that are given out at once; each opens once.
RECOVERY_CODES = 10


@dataclass(frozen=True)
class ToScan:
    """A second factor that is not in use yet: address is what the square says, secret what is typed where it
    cannot be scanned."""

    address: str
    secret: str


def require_password(person: Person, password: str, nothing: str) -> None:
    """Raises Refused. nothing: what was not done."""
    if not is_password_of(person, password):
        do = f"Type the password you log in with. {nothing}"
        raise refused("password", "this is not your password", do)


def require_good(person: Person, password: str) -> None:
    """Raises Refused with every rule that a new password does not follow."""
    try:
        validate_password(password, person)
    except ValidationError as error:
        found = [Problem("password", words.rstrip("."), "Choose another.") for words in error.messages]
        raise Refused(found) from error


def change_password(person: Person, old: str, new: str) -> None:
    """Whoever is logged in with the old one elsewhere is logged out. Raises Refused."""
    require_password(person, old, "Nothing was changed.")
    require_good(person, new)
    with transaction.atomic():
        person.set_password(new)
        person.save(update_fields=["password"])
        Deed.note(person, DeedKind.PASSWORD)


def has_second_factor(person: Person) -> bool:
    return bool(TOTPDevice.objects.filter(user=person, confirmed=True).exists())


def is_code_of(person: Person, code: str) -> bool:
    """A code of the device, or a recovery code, which is used up by it. After a wrong one the next is looked
    at only after a pause that grows."""
    return match_token(person, code.replace(" ", "")) is not None


def second_factor_to_scan(person: Person, password: str) -> ToScan:
    """Raises Refused."""
    require_password(person, password, "Nothing was set up.")
    with transaction.atomic():
        if has_second_factor(person):
            raise refused("second factor", "there is one already", "Take it off first.")
        TOTPDevice.objects.filter(user=person).delete()
        made = TOTPDevice.objects.create(user=person, name="app", confirmed=False)
    return ToScan(made.config_url, _in_fours(made))


def _in_fours(device: TOTPDevice) -> str:
    from base64 import b32encode

    secret = b32encode(device.bin_key).decode().rstrip("=")
    return " ".join(secret[i : i + 4] for i in range(0, len(secret), 4))


def second_factor_on(person: Person, code: str) -> list[str]:
    """In use from here on, once its first code was right; the recovery codes, which are shown once. Raises
    Refused."""
    with transaction.atomic():
        device = TOTPDevice.objects.filter(user=person, confirmed=False).first()
        if device is None:
            raise refused("second factor", "none is being set up", "Begin again.")
        right = device.verify_token(code.replace(" ", ""))
        if right:
            device.confirmed = True
            device.save()
            Deed.note(person, DeedKind.SECOND_FACTOR, words="on")
            return _recovery_codes(person)
    raise refused(
        "code", "this is not the code of now", "Type the six figures that the app shows; check its clock."
    )


def new_recovery_codes(person: Person, password: str) -> list[str]:
    """The ones before do not open any more. Raises Refused."""
    require_password(person, password, "The codes are as they were.")
    with transaction.atomic():
        if not has_second_factor(person):
            raise refused("second factor", "there is none", "Set one up first.")
        Deed.note(person, DeedKind.SECOND_FACTOR, words="new recovery codes")
        return _recovery_codes(person)


def _recovery_codes(person: Person) -> list[str]:
    StaticDevice.objects.filter(user=person).delete()
    device = StaticDevice.objects.create(user=person, name="recovery")
    codes = [StaticToken.random_token() for _ in range(RECOVERY_CODES)]
    StaticToken.objects.bulk_create(StaticToken(device=device, token=code) for code in codes)
    return codes


def codes_left(person: Person) -> int:
    return int(StaticToken.objects.filter(device__user=person).count())


def second_factor_off(person: Person, password: str) -> None:
    """Raises Refused."""
    require_password(person, password, "The second factor is as it was.")
    take_off_second_factor(person, person)


def take_off_second_factor(by: Person, person: Person) -> None:
    with transaction.atomic():
        TOTPDevice.objects.filter(user=person).delete()
        StaticDevice.objects.filter(user=person).delete()
        subject = "" if by.pk == person.pk else f"person {person.pk}"
        Deed.note(by, DeedKind.SECOND_FACTOR, subject, "off")


def open_sessions(person: Person, now: datetime) -> list[OpenSession]:
    """Where they are logged in, the last used first."""
    found = OpenSession.objects.filter(person=person.pk, expire_date__gt=now)
    return sorted(found, key=lambda one: one.seen or one.expire_date, reverse=True)


def end_sessions(person: Person, idents: set[str] | None = None, but: str = "") -> int:
    """Those of these names, or all; never the one with the key `but`. How many."""
    found = [
        one
        for one in OpenSession.objects.filter(person=person.pk)
        if one.session_key != but and (idents is None or one.ident in idents)
    ]
    with transaction.atomic():
        OpenSession.objects.filter(session_key__in=[one.session_key for one in found]).delete()
        if found:
            Deed.note(person, DeedKind.SESSIONS, words=f"{len(found)} ended")
    return len(found)
