"""The steps that the commands of run.py are made of: packages, the web part, Chromium. Standard library
only. A step whose inputs have not changed since it last succeeded is not done again."""

import hashlib
import os
import shutil
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

BASE = Path(__file__).resolve().parent.parent
VENV, WEB, STAMPS = BASE / ".venv", BASE / "web", BASE / ".cache" / "stamps"
PYTHON = VENV / "bin" / "python"
TEST_DATA = BASE / ".cache" / "test-data"
CHROMIUM, DRIVER = Path("/usr/bin/chromium"), Path("/usr/bin/chromedriver")


class Stopped(Exception):
    """One clear sentence about what went wrong."""


BEGAN = time.monotonic()


def say(words: str) -> None:
    """With the seconds since this command began."""
    # In one write: steps that run together do not share a line.
    print(f"== {time.monotonic() - BEGAN:3.0f} s  {words}\n", end="", flush=True)


def own_settings() -> dict[str, str]:
    """The environment of what is run here: compiled code, Python's too, is kept from one run to the next."""
    kept = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    return kept | {
        "NUMBA_CACHE_DIR": str(BASE / ".cache" / "numba"),
        "DJANGO_SETTINGS_MODULE": "server.settings",
    }


def run(command: list[str], what: str, cwd: Path = BASE, quiet: bool = True, **env: str) -> None:
    """Run a command; if it fails, show its end and stop with one sentence."""
    try:
        done = subprocess.run(
            command,
            cwd=cwd,
            env=own_settings() | env,
            stdout=subprocess.PIPE if quiet else None,
            stderr=subprocess.STDOUT if quiet else None,
            text=True,
        )
    except FileNotFoundError as error:
        raise Stopped(
            f"{what} needs '{command[0]}', which is not on this machine. Install it and run this again."
        ) from error
    if done.returncode:
        if quiet and done.stdout:
            print(done.stdout[-4000:], file=sys.stderr)
        raise Stopped(f"{what} failed (exit {done.returncode}); its last lines are above.")


def digest(paths: Iterable[Path]) -> str:
    total = hashlib.sha256()
    for path in sorted(paths):
        total.update(str(path.relative_to(BASE)).encode() + b"\0" + path.read_bytes())
    return total.hexdigest()


def is_done(name: str, inputs: Iterable[Path], there: Path) -> bool:
    """With these inputs, and its result is still there."""
    stamp = STAMPS / name
    return there.exists() and stamp.exists() and stamp.read_text() == digest(inputs)


def step(name: str, words: str, inputs: Iterable[Path], there: Path, do: Callable[[], None]) -> None:
    """Do a step unless it was done with the same inputs and its result is still there."""
    inputs = list(inputs)
    if is_done(name, inputs, there):
        say(f"{words}: already done")
        return
    say(words)
    wanted = digest(inputs)
    do()
    STAMPS.mkdir(parents=True, exist_ok=True)
    (STAMPS / name).write_text(wanted)


def tools() -> None:
    if sys.version_info[:2] != (3, 11):
        raise Stopped(
            f"Python 3.11 is needed and this is {sys.version.split()[0]}. Run with"
            " PYTHON=/path/to/python3.11."
        )
    for tool in ("node", "npm"):
        if shutil.which(tool) is None:
            raise Stopped(
                f"'{tool}' is not on this machine. Install Node.js 20 or later with npm, then run this again."
            )


def python_packages(lock: str) -> None:
    requirements = BASE / "requirements" / lock

    def install() -> None:
        if not PYTHON.exists():
            run([sys.executable, "-m", "venv", str(VENV)], "Making the virtual environment")
        pip = [
            str(PYTHON),
            "-m",
            "pip",
            "install",
            "--quiet",
            "--disable-pip-version-check",
            "--require-hashes",
            "-r",
        ]
        run([*pip, str(BASE / "requirements" / "bootstrap.txt")], "Installing the installer")
        run(
            [
                str(VENV / "bin" / "uv"),
                "pip",
                "install",
                "--quiet",
                "--python",
                str(PYTHON),
                "--require-hashes",
                "-r",
                str(requirements),
            ],
            "Installing the Python packages",
        )

    # The development set contains the application's: an environment that has it needs nothing more.
    dev = STAMPS / "python-dev.txt"
    if (
        lock == "app.txt"
        and PYTHON.exists()
        and dev.exists()
        and dev.read_text() == digest([BASE / "requirements" / "dev.txt"])
    ):
        say("Python packages: already done")
        return
    step(f"python-{lock}", "Python packages, locked", [requirements], PYTHON, install)


def web_packages() -> None:
    step(
        "npm",
        "Web packages, locked",
        [WEB / "package-lock.json"],
        WEB / "node_modules",
        lambda: run(
            ["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"],
            "Installing the web packages",
            cwd=WEB,
        ),
    )


def web_sources() -> list[Path]:
    return [
        p for p in (*WEB.glob("*.*"), *(WEB / "src").rglob("*"), *(WEB / "public").rglob("*")) if p.is_file()
    ]


def web_build() -> None:
    web_built()
    web_compressed()


def web_built() -> None:
    def build() -> None:
        run(["npm", "run", "--silent", "build"], "Building the web part", cwd=WEB)

    step("web", "Web part built", web_sources(), WEB / "dist" / "index.html", build)


def web_compressed() -> None:
    """With the Python packages."""

    def compress() -> None:
        command = [str(PYTHON), "-m", "whitenoise.compress", "--quiet", str(WEB / "dist")]
        run(command, "Compressing the web part")

    step("web-compressed", "Web part compressed", web_sources(), WEB / "dist" / "index.html.gz", compress)


def chromium() -> None:
    if CHROMIUM.exists() and DRIVER.exists():
        say("Chromium and its driver: already there")
        return
    say("Chromium and its driver, from Debian's packages")
    if shutil.which("apt-get") is None or os.geteuid() != 0:
        raise Stopped(
            "Chromium is missing and cannot be installed here: as root run 'apt-get install chromium"
            " chromium-driver', then again."
        )
    install = ["apt-get", "install", "-y", "--no-install-recommends", "chromium", "chromium-driver"]
    try:
        run(install, "Installing Chromium", DEBIAN_FRONTEND="noninteractive")
    except Stopped:
        run(["apt-get", "update"], "Reading Debian's package lists")
        run(install, "Installing Chromium", DEBIAN_FRONTEND="noninteractive")


def free_port() -> int:
    text = os.environ.get("PORT", "8000")
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise Stopped(f"PORT is '{text}', which is not a port number. Give a number from 1 to 65535.")
    port = int(text)
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            raise Stopped(
                f"Port {port} is in use or not allowed ({error.strerror}). Choose another: PORT={port + 1}"
                " make demo"
            ) from error
    return port


def at_once(*steps: Callable[[], None]) -> None:
    """All of them, together, to their ends. Raises Stopped with what every one of them says."""
    with ThreadPoolExecutor() as pool:
        begun = [pool.submit(do) for do in steps]
    stopped = [str(error) for one in begun if isinstance(error := one.exception(), Stopped)]
    if stopped:
        raise Stopped("\n\n".join(stopped))
    for one in begun:
        one.result()


def ready_for_tests(*steps: Callable[[], None]) -> None:
    """steps: that need nothing of the others."""
    tools()
    at_once(lambda: python_packages("dev.txt"), web_packages, *steps)
    TEST_DATA.mkdir(parents=True, exist_ok=True)
