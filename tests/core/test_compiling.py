"""Compiled code is kept apart for each state of the engine's sources."""

import subprocess
import sys
from pathlib import Path

import numba
import pytest

from keelturn import compiling


def test_the_folder_is_inside_the_one_asked_for_and_beside_the_core_without():
    assert compiling.kept_in("/somewhere").parent == Path("/somewhere")
    assert compiling.kept_in(None).parent == compiling.CORE / "__pycache__"
    assert Path(numba.config.CACHE_DIR).name == compiling.of_the_sources()


def test_every_file_that_is_compiled_is_among_the_sources():
    compiled = {
        path
        for path in compiling.CORE.rglob("*.py")
        if "keelturn.compiling" in path.read_text() or path.name == "compiling.py"
    }
    assert compiled <= set(compiling.SOURCES)


@pytest.mark.parametrize("at", range(len(compiling.SOURCES)))
def test_a_change_in_any_of_them_is_another_folder(at, tmp_path, monkeypatch):
    before = compiling.of_the_sources()
    changed = tmp_path / "changed.py"
    changed.write_bytes(compiling.SOURCES[at].read_bytes() + b"\n")
    sources = [*compiling.SOURCES]
    sources[at] = changed
    monkeypatch.setattr(compiling, "SOURCES", sources)
    assert compiling.of_the_sources() != before


def test_a_process_that_is_told_nothing_keeps_it_beside_the_core():
    say = "import keelturn.motion.engine, numba; print(numba.config.CACHE_DIR)"
    bare = {"PATH": "/usr/bin", "PYTHONPATH": str(compiling.CORE.parent)}
    told = subprocess.run([sys.executable, "-c", say], capture_output=True, text=True, env=bare, check=True)
    assert told.stdout.strip() == str(compiling.kept_in(None))
