"""What was computed is kept in the data folder, under a digest of everything that it follows from: the
question, and the core's own code. Nothing in it is needed: it is computed again."""

import hashlib
from collections.abc import Callable
from functools import cache
from typing import TypeVar, cast

from django.conf import settings
from django.core.cache import caches

Found = TypeVar("Found")
NOT_THERE = object()


@cache
def of_the_core() -> str:
    """Of every line of the core: other code, another answer."""
    return of_code("keelturn")


def of_code(*packages: str) -> str:
    """Of every line of these."""
    found = hashlib.sha256()
    for package in packages:
        for path in sorted((settings.BASE / package).rglob("*.py")):
            found.update(path.read_bytes())
    return found.hexdigest()


def recalled(follows_from: object, compute: Callable[[], Found]) -> Found:
    """follows_from: whatever says all of itself by repr."""
    there = caches["computed"].get(_name(follows_from), NOT_THERE)
    if there is NOT_THERE:
        there = compute()
        keep(follows_from, there)
    return cast(Found, there)


def is_kept(follows_from: object) -> bool:
    return caches["computed"].get(_name(follows_from), NOT_THERE) is not NOT_THERE


def keep(follows_from: object, found: object) -> None:
    caches["computed"].set(_name(follows_from), found)


def _name(follows_from: object) -> str:
    return hashlib.sha256(f"{of_the_core()} {follows_from!r}".encode()).hexdigest()
