"""The chain of digests through everything that a school has signed: each link says what was added to the
record and takes the digest of the link before into its own, so that nothing can be changed, taken out, put
in between or put in another order without breaking every link after it.

What no chain can show by itself is that its last links were cut off: its head, the number and digest of the
last link, is therefore kept elsewhere too (on exports and on paper)."""

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

START = "0" * 64


class What(StrEnum):
    """What a link is about."""

    SIGNED = "signed"
    CORRECTED = "corrected"
    ERASED = "erased"
    IMPORTED = "imported"


@dataclass(frozen=True, slots=True)
class Link:
    """number: from 1, without a gap. subject: the row that it is about (of a signature, a correction, an
    erasure), 0 for an import. sortie: the one that was signed or corrected, 0 otherwise. covers: the SHA-256
    digest of what was added. at: when it was, ISO 8601. before: digest of the link before, START for the
    first. digest: of all of these, `digest_of_link`."""

    number: int
    what: What
    subject: int
    sortie: int
    covers: str
    at: str
    before: str
    digest: str

    @property
    def words(self) -> str:
        """Which one, for people."""
        day = self.at[:10]
        if self.what == What.SIGNED:
            return f"link {self.number}, sortie {self.sortie} signed on {day}"
        if self.what == What.CORRECTED:
            return f"link {self.number}, a correction of sortie {self.sortie} on {day}"
        return f"link {self.number}, {self.what} on {day}"


def digest_of_link(
    number: int, what: str, subject: int, sortie: int, covers: str, at: str, before: str
) -> str:
    """SHA-256, in hexadecimal, of these as a JSON array in this order, without blanks, in UTF-8."""
    return _digest([number, what, subject, sortie, covers, at, before])


def digest_of_correction(
    before: str, by: str, at: str, reason: str, text: str, what: Mapping[str, Any] | None = None
) -> str:
    """Of what a correction says, who and when (ISO 8601), and the digest before it: the record's, or the
    correction's. SHA-256, in hexadecimal, of these as a JSON array in this order. what: the corrected field
    (noting.correcting.FieldCorrection), keys sorted, where it is of one; without it the array has five."""
    return _digest([before, by, at, reason, text, *([dict(sorted(what.items()))] if what else [])])


def _digest(said: Sequence[Any]) -> str:
    return hashlib.sha256(json.dumps(said, ensure_ascii=False, separators=(",", ":")).encode()).hexdigest()


def next_link(last: Link | None, what: What, subject: int, sortie: int, covers: str, at: str) -> Link:
    """The link that is added after `last`; the first one after None."""
    number, before = (1, START) if last is None else (last.number + 1, last.digest)
    digest = digest_of_link(number, what, subject, sortie, covers, at, before)
    return Link(number, what, subject, sortie, covers, at, before, digest)


def first_broken(links: Sequence[Link], last: Link | None = None) -> tuple[Link, str] | None:
    """The first link that does not follow from the one before, and why; None where all do. links: in the
    order of their numbers. last: the one before the first of these, None where they are the first of all."""
    for link in links:
        number, before = (1, START) if last is None else (last.number + 1, last.digest)
        if link.number != number:
            if link.number == number + 1:
                return link, f"link {number} before it is missing"
            return link, f"links {number} to {link.number - 1} before it are missing"
        if link.before != before:
            return link, "it does not follow from the link before it"
        said = (link.number, link.what, link.subject, link.sortie, link.covers, link.at, link.before)
        if link.digest != digest_of_link(*said):
            return link, "it is not as it was written: its digest differs"
        last = link
    return None
