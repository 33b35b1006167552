"""How the engine is compiled, and where its code is kept: apart for each state of its sources. The compiler
looks only at the file of each function, not at those it calls, and would go on with what an older version had
left."""

import os
from hashlib import sha256
from pathlib import Path
from typing import Any

import numba
from numba.core import config

CORE = Path(__file__).parent
SOURCES = (
    *sorted(CORE.glob("motion/*.py")),
    *sorted(CORE.glob("spinning/*.py")),
    *(CORE / name for name in ("aircraft/laws.py", "air.py", "units.py", "compiling.py")),
)
# Of the sources, how many letters name the folder.
SHORT = 16


def of_the_sources() -> str:
    """What the folder of their code is called."""
    total = sha256(numba.__version__.encode())
    for path in SOURCES:
        total.update(path.read_bytes())
    return total.hexdigest()[:SHORT]


def kept_in(asked: str | None) -> Path:
    """asked: the environment's NUMBA_CACHE_DIR; beside the core where it says nothing."""
    return Path(asked or CORE / "__pycache__") / of_the_sources()


config.CACHE_DIR = str(kept_in(os.environ.get("NUMBA_CACHE_DIR")))  # type: ignore[attr-defined]


def compiled(function: Any) -> Any:
    return numba.njit(cache=True, nogil=True, error_model="numpy")(function)


def inlined(function: Any) -> Any:
    return numba.njit(cache=True, nogil=True, error_model="numpy", forceinline=True)(function)
