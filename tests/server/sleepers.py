"""Questions for a worker's process in tests."""

import os
import time
from pathlib import Path

from keelturn.formats.reading import refused


def double(number: int) -> int:
    return 2 * number


def sleep(seconds: float) -> str:
    time.sleep(seconds)
    return "awake"


def wait_until_there_is(path: str) -> str:
    while not Path(path).exists():
        time.sleep(0.01)
    return "there"


def refuse() -> None:
    raise refused("plan", "it cannot be", "Correct it.")


def fail() -> None:
    raise KeyError("a fault")


def die() -> None:
    os._exit(3)


def how_nice() -> int:
    return os.nice(0)
