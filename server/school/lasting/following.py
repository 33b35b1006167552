"""Following the chain through everything signed from its beginning: every link, and what it is about."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from django.db.models import Exists, OuterRef

from keelturn.formats.chain import Link, What, first_broken
from server.school.models import ChainLink, Correction, Erased, Erasure, Signature, Sortie
from server.school.operations.chaining import Head, head
from server.school.operations.signing import covered_of
from server.school.operations.verifying import first_that_does_not_hold, signatures

# Links that are looked at in one go: a second or two.
AT_ONCE = 15


@dataclass(frozen=True)
class Looked:
    """What was found of a stretch of links. to: the last that was looked at. faults: what does not hold, in
    words, each with its place, in the order of the chain."""

    to: int
    of: Head
    faults: tuple[str, ...]


def look(after: int = 0) -> Looked:
    """The next links after this one with the records that they are about; behind the last of all also
    whether something signed stands in no link."""
    links = [row.link() for row in ChainLink.objects.filter(number__gt=after)[:AT_ONCE]]
    last, now = ChainLink.objects.filter(number=after).first(), head()
    faults = [*_links(links, None if last is None else last.link()), *_records(links)]
    found = [f"{link.words}: {fault}" for link, fault in sorted(faults, key=lambda one: one[0].number)]
    to = links[-1].number if links else now.links
    if to >= now.links:
        found += _in_no_link()
    return Looked(to, now, tuple(found))


def look_at_all() -> Looked:
    """From the first link to the last."""
    found = look()
    faults = list(found.faults)
    while found.to < found.of.links:
        found = look(found.to)
        faults += found.faults
    return Looked(found.to, found.of, tuple(faults))


def _links(links: Sequence[Link], last: Link | None) -> Iterator[tuple[Link, str]]:
    """Every one that does not follow from the one before; it is gone on from there."""
    while (broken := first_broken(links, last)) is not None:
        yield broken
        last = broken[0]
        links = [link for link in links if link.number > last.number]


def _records(links: Sequence[Link]) -> Iterator[tuple[Link, str]]:
    subjects = {what: [link.subject for link in links if link.what == what] for what in What}
    signed = {row.pk: row for row in signatures().filter(pk__in=subjects[What.SIGNED])}
    corrected = Correction.objects.in_bulk(subjects[What.CORRECTED])
    erased = Erasure.objects.in_bulk(subjects[What.ERASED])
    gone = _erased(links)
    for link in links:
        fault = None
        if link.what == What.SIGNED:
            fault = _of_signature(link, signed.get(link.subject), gone)
        elif link.what == What.CORRECTED:
            fault = _of_correction(link, corrected.get(link.subject), gone)
        elif link.what == What.ERASED:
            fault = _of_erasure(link, erased.get(link.subject))
        if fault is not None:
            yield link, fault


def _erased(links: Iterable[Link]) -> Mapping[int, Erasure]:
    """Which of their sorties were erased, by what. One query."""
    asked = {f"sortie {link.sortie}": link.sortie for link in links if link.sortie}
    found = Erased.objects.filter(subject__in=asked).select_related("erasure")
    return {asked[part.subject]: part.erasure for part in found}


def _of_signature(link: Link, signature: Signature | None, gone: Mapping[int, Erasure]) -> str | None:
    if signature is None:
        return _not_there(link, "its record", gone)
    if (signature.digest, signature.sortie_id) != (link.covers, link.sortie):
        return "the signature beside it is another"
    return first_that_does_not_hold(signature)


def _of_correction(link: Link, correction: Correction | None, gone: Mapping[int, Erasure]) -> str | None:
    if correction is None:
        return _not_there(link, "the correction", gone)
    if (covered_of(correction), correction.sortie_id) != (link.covers, link.sortie):
        return "the correction beside it is another"
    return None


def _not_there(link: Link, what: str, gone: Mapping[int, Erasure]) -> str | None:
    """Right for what was erased, by an erasure that names it and stands in the chain after it."""
    erasure = gone.get(link.sortie)
    if erasure is not None and link.sortie in erasure.sorties:
        later = ChainLink.objects.filter(what=What.ERASED, subject=erasure.pk, number__gt=link.number)
        if later.exists():
            return None
    return f"{what} is not there any more, and no link of the chain says that it was erased"


def _of_erasure(link: Link, erasure: Erasure | None) -> str | None:
    if erasure is None:
        return "what was erased is not said any more"
    return None if erasure.holds and erasure.digest == link.covers else "it is not as it was written"


def _in_no_link() -> Iterator[str]:
    """The first that is signed, corrected or erased without a link. Four queries."""
    for rows, what, words in (
        (Signature.objects.all(), What.SIGNED, "sortie {} is signed"),
        (Correction.objects.all(), What.CORRECTED, "a correction of sortie {} is there"),
        (Erasure.objects.all(), What.ERASED, "an erasure is there"),
    ):
        linked = ChainLink.objects.filter(what=what, subject=OuterRef("pk"))
        for row in rows.filter(~Exists(linked)).order_by("pk")[:1]:
            yield f"{words.format(getattr(row, 'sortie_id', ''))} and stands in no link of the chain"
    for sortie in Sortie.objects.filter(stage="signed", signature=None)[:1]:
        yield f"sortie {sortie.pk}: it is marked as signed and there is no signature"
