"""Where compiled code and test data are kept, before anything is imported."""

import os
from pathlib import Path

BASE = Path(__file__).resolve().parent.parent
os.environ.setdefault("NUMBA_CACHE_DIR", str(BASE / ".cache" / "numba"))
os.environ.setdefault("KEELTURN_DATA", str(BASE / ".cache" / "test-data"))
