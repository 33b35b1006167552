"""Adding to the chain through everything signed, and where it ends."""

from dataclasses import dataclass
from datetime import datetime

from django.db import connection

from keelturn.formats.chain import What, next_link
from server.school.models import ChainLink


@dataclass(frozen=True)
class Head:
    """How many links there are, and the digest of the last: with these in hand nothing can be cut off
    unseen."""

    links: int
    digest: str


def head() -> Head:
    """One query."""
    last = ChainLink.objects.last()
    return Head(0, "") if last is None else Head(last.number, last.digest)


def add_link(what: What, subject: int, sortie: int, covers: str, at: datetime) -> ChainLink:
    """Inside the caller's transaction, which keeps two from being added at once."""
    assert connection.in_atomic_block
    last = ChainLink.objects.last()
    made = next_link(None if last is None else last.link(), what, subject, sortie, covers, at.isoformat())
    return ChainLink.objects.create(
        number=made.number,
        what=made.what,
        subject=made.subject,
        sortie=made.sortie,
        covers=made.covers,
        at=made.at,
        before=made.before,
        digest=made.digest,
    )
