"""Cases of one kind: some in every run, the others in `make test-long`."""

from collections.abc import Iterable, Sequence
from typing import Any

import pytest


def others_long(cases: Sequence[Any], always: Iterable[int]) -> list[Any]:
    """always: the places of those that are in every run."""
    short = set(always)
    return [
        case
        if at in short
        else pytest.param(*(case if isinstance(case, tuple) else (case,)), marks=pytest.mark.long)
        for at, case in enumerate(cases)
    ]


def every_third(cases: Sequence[Any]) -> list[Any]:
    return others_long(cases, range(0, len(cases), 3))
