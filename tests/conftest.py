"""Where compiled code and test data are kept, before anything is imported."""

import os
from pathlib import Path

BASE = Path(__file__).resolve().parent.parent
os.environ.setdefault("NUMBA_CACHE_DIR", str(BASE / ".cache" / "numba"))
os.environ.setdefault("KEELTURN_DATA", str(BASE / ".cache" / "test-data"))
if os.environ.get("KEELTURN_WARM") == "1":
    # Of the process from which those are forked that try one deliberate fault each (make mutate).
    from keelturn.spinning.warm import warm

    warm()
