"""Where and when the tests run: a pytest plugin that is loaded before any settings are read (pyproject.toml,
-p), so that a test run by its name alone meets what `make test` gives it."""

import atexit
import os
import shutil
import sys
import tempfile
from pathlib import Path

BASE = Path(__file__).resolve().parents[1]
# A fixed morning, so that nothing depends on the day or the hour of a run. KEELTURN_NOW chooses another.
THE_DAY = "2026-05-14T09:30"

sys.path.insert(0, str(BASE))
os.environ.setdefault("KEELTURN_NOW", THE_DAY)
os.environ.setdefault("NUMBA_CACHE_DIR", str(BASE / ".cache" / "numba"))
if "PYTEST_XDIST_WORKER" not in os.environ:
    # A data folder of this run, shared by its processes and gone with it: nothing of an earlier run is met.
    data = os.environ["KEELTURN_DATA"] = tempfile.mkdtemp(prefix="keelturn-tests-")
    began = os.getpid()
    atexit.register(lambda: shutil.rmtree(data, ignore_errors=True) if os.getpid() == began else None)
