"""The chain of digests: what breaks it, and where it is said to be broken."""

import hashlib
from dataclasses import replace

import pytest

from keelturn.formats.chain import START, Link, What, digest_of_link, first_broken, next_link

AT = "2026-05-04T10:00:00+00:00"


def chain(length=5):
    links: list[Link] = []
    for n in range(length):
        last = links[-1] if links else None
        links.append(next_link(last, What.SIGNED, n + 10, n + 100, f"{n:064x}", AT))
    return links


def test_a_chain_as_it_was_written_holds():
    links = chain()
    assert first_broken(links) is None
    assert [link.number for link in links] == [1, 2, 3, 4, 5]
    assert links[0].before == START
    assert all(b.before == a.digest for a, b in zip(links, links[1:], strict=False))


def test_a_digest_by_hand():
    """As anybody can make it, with a tool for SHA-256 and what docs/formats.md says."""
    text = '[1,"signed",10,100,"' + "0" * 64 + '","' + AT + '","' + "0" * 64 + '"]'
    assert chain(1)[0].digest == hashlib.sha256(text.encode()).hexdigest()


CHANGES = {
    "what": What.CORRECTED,
    "subject": 77,
    "sortie": 77,
    "covers": "f" * 64,
    "at": "2026-05-04T10:00:01+00:00",
    "digest": "f" * 64,
}


@pytest.mark.parametrize("field", CHANGES)
def test_a_changed_link_is_the_first_that_is_broken(field):
    links = chain()
    links[2] = replace(links[2], **{field: CHANGES[field]})
    broken = first_broken(links)
    assert broken is not None
    assert (broken[0].number, broken[1]) == (3, "it is not as it was written: its digest differs")


def test_a_changed_link_with_a_new_digest_breaks_the_next():
    links = chain()
    forged = replace(links[2], covers="f" * 64)
    said = (
        forged.number,
        forged.what,
        forged.subject,
        forged.sortie,
        forged.covers,
        forged.at,
        forged.before,
    )
    links[2] = replace(forged, digest=digest_of_link(*said))
    broken = first_broken(links)
    assert broken is not None
    assert (broken[0].number, broken[1]) == (4, "it does not follow from the link before it")


@pytest.mark.parametrize(
    ("out", "at", "words"),
    [
        ((3,), 4, "link 3 before it is missing"),
        ((2, 3), 4, "links 2 to 3 before it are missing"),
        ((1,), 2, "link 1 before it is missing"),
    ],
)
def test_what_was_taken_out_is_named(out, at, words):
    broken = first_broken([link for link in chain() if link.number not in out])
    assert broken is not None
    assert (broken[0].number, broken[1]) == (at, words)


def test_a_stretch_is_looked_at_from_the_link_before_it():
    links = chain()
    assert first_broken(links[3:], links[2]) is None
    assert first_broken(links[3:], links[1]) is not None


def test_links_are_named_as_people_say_them():
    link = chain(1)[0]
    assert link.words == "link 1, sortie 100 signed on 2026-05-04"
    corrected = next_link(link, What.CORRECTED, 3, 100, "0" * 64, AT)
    assert corrected.words == "link 2, a correction of sortie 100 on 2026-05-04"
    assert next_link(corrected, What.ERASED, 1, 0, "0" * 64, AT).words == "link 3, erased on 2026-05-04"
