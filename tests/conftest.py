"""Where compiled code and test data are kept, before anything is imported."""

import os
from pathlib import Path

import pytest

BASE = Path(__file__).resolve().parent.parent
os.environ.setdefault("NUMBA_CACHE_DIR", str(BASE / ".cache" / "numba"))
os.environ.setdefault("KEELTURN_DATA", str(BASE / ".cache" / "test-data"))
if os.environ.get("KEELTURN_WARM") == "1":
    # Of the process from which those are forked that try one deliberate fault each (make mutate).
    from keelturn.spinning.warm import warm

    warm()

# Files that take longest, the longest first: two at a time, none of them is begun when all else is done.
LONGEST = (
    "test_fit.py",
    "test_score.py",
    "test_attack.py",
    "test_old_states.py",
    "test_database.py",
    "test_demo.py",
    "test_live.py",
    "test_debriefing.py",
    "test_six_dof_fit.py",
    "test_crowds.py",
    "test_workers.py",
)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    place = {name: at for at, name in enumerate(LONGEST)}
    items.sort(key=lambda item: place.get(item.path.name, len(LONGEST)))
