"""What `make demo` and `make test` say when something is missing, busy or broken: one clear sentence each."""

import os
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from tools import steps

BASE = Path(__file__).resolve().parents[2]


def make(command: str, **env: str) -> subprocess.CompletedProcess[str]:
    settings = {k: v for k, v in os.environ.items() if k != "PORT"} | env
    return subprocess.run(
        [sys.executable, "tools/run.py", command], cwd=BASE, env=settings, capture_output=True, text=True
    )


def test_a_busy_port_is_said_in_one_sentence_with_a_way_out():
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", 0))
        busy.listen()
        port = busy.getsockname()[1]
        done = make("demo", PORT=str(port))
    assert done.returncode == 1
    assert f"Stopped: Port {port} is in use" in done.stderr
    assert f"PORT={port + 1} make demo" in done.stderr
    assert "Traceback" not in done.stderr


@pytest.mark.parametrize("port", ["eighty", "0", "70000", ""])
def test_a_port_that_is_none(port):
    done = make("demo", PORT=port)
    assert done.returncode == 1
    assert f"PORT is '{port}', which is not a port number" in done.stderr


def test_a_missing_tool_is_named(tmp_path):
    (tmp_path / "python3").symlink_to(sys.executable)
    done = make("check", PATH=str(tmp_path))
    assert done.returncode == 1
    assert "'node' is not on this machine. Install Node.js" in done.stderr
    assert "Traceback" not in done.stderr


def test_a_wrong_command_lists_the_right_ones():
    assert "demo, demo-fresh, test" in make("fly").stderr


def test_a_failed_step_shows_its_end_and_stops_with_one_sentence(capsys):
    with pytest.raises(steps.Stopped, match=r"Baking failed \(exit 3\)"):
        steps.run([sys.executable, "-c", "print('the oven is cold'); raise SystemExit(3)"], "Baking")
    assert "the oven is cold" in capsys.readouterr().err


def test_a_program_that_is_not_there():
    with pytest.raises(steps.Stopped, match="needs 'no-such-program', which is not on this machine"):
        steps.run(["no-such-program"], "Baking")


def test_a_step_is_done_again_only_when_its_inputs_change(tmp_path, monkeypatch):
    monkeypatch.setattr(steps, "STAMPS", tmp_path / "stamps")
    monkeypatch.setattr(steps, "BASE", tmp_path)
    source, result, done = tmp_path / "in.txt", tmp_path / "out.txt", []

    def work() -> None:
        done.append(1)
        result.write_text("made")

    def step() -> None:
        steps.step("bake", "Baking", [source], result, work)

    source.write_text("flour")
    step()
    step()
    assert len(done) == 1
    source.write_text("rye")
    step()
    assert len(done) == 2
    result.unlink()
    step()
    assert len(done) == 3


def test_a_step_that_failed_is_tried_again(tmp_path, monkeypatch):
    monkeypatch.setattr(steps, "STAMPS", tmp_path / "stamps")
    monkeypatch.setattr(steps, "BASE", tmp_path)
    source = tmp_path / "in.txt"
    source.write_text("x")

    def fail() -> None:
        raise steps.Stopped("no")

    for _ in range(2):
        with pytest.raises(steps.Stopped):
            steps.step("bake", "Baking", [source], source, fail)


def test_locks_name_no_host_and_pin_every_package_with_hashes():
    for lock in (BASE / "requirements").glob("*.txt"):
        text = lock.read_text()
        assert "://" not in text
        for line in text.splitlines():
            if line and not line.startswith((" ", "#")):
                assert "==" in line, line
        assert "--hash=sha256:" in text
    npm = (BASE / "web" / "package-lock.json").read_text()
    assert '"resolved"' not in npm
    assert npm.count('"integrity"') > 100
