"""What the Makefile runs. Standard library only, because it has to work before anything is installed.

python3 tools/run.py demo | demo-fresh | backup | restore | load | attack | test | check | layout | outside |
schemas | api | bench | shots

Each step says what it does; a step whose inputs have not changed since it last succeeded is not done again.
"""

import hashlib
import os
import shutil
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

BASE = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(BASE))

from server import backups  # noqa: E402

MODEL = BASE / "keelturn" / "motion"
VENV, WEB, STAMPS = BASE / ".venv", BASE / "web", BASE / ".cache" / "stamps"
PYTHON = VENV / "bin" / "python"
TEST_DATA = BASE / ".cache" / "test-data"
CHROMIUM, DRIVER = Path("/usr/bin/chromium"), Path("/usr/bin/chromedriver")


class Stopped(Exception):
    """One clear sentence about what went wrong."""


def say(words: str) -> None:
    print(f"== {words}", flush=True)


def run(command: list[str], what: str, cwd: Path = BASE, quiet: bool = True, **env: str) -> None:
    """Run a command; if it fails, show its end and stop with one sentence."""
    settings = {
        **os.environ,
        "NUMBA_CACHE_DIR": str(compiled_code()),
        "DJANGO_SETTINGS_MODULE": "server.settings",
        **env,
    }
    try:
        done = subprocess.run(
            command,
            cwd=cwd,
            env=settings,
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


def compiled_code() -> Path:
    """Where the engine's compiled code is kept. By the sources: the compiler's own cache looks only at the
    file of each function, not at those it calls."""
    sources = (
        *MODEL.glob("*.py"),
        *(BASE / "keelturn" / "spinning").glob("*.py"),
        BASE / "keelturn" / "aircraft" / "laws.py",
        BASE / "keelturn" / "air.py",
        BASE / "keelturn" / "units.py",
        BASE / "requirements" / "app.txt",
    )
    return BASE / ".cache" / "numba" / digest(sources)[:16]


def step(name: str, words: str, inputs: Iterable[Path], there: Path, do: Callable[[], None]) -> None:
    """Do a step unless it was done with the same inputs and its result is still there."""
    stamp, wanted = STAMPS / name, digest(inputs)
    if there.exists() and stamp.exists() and stamp.read_text() == wanted:
        say(f"{words}: already done")
        return
    say(words)
    do()
    STAMPS.mkdir(parents=True, exist_ok=True)
    stamp.write_text(wanted)


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
    def build() -> None:
        run(["npm", "run", "--silent", "build"], "Building the web part", cwd=WEB)
        run(
            [str(PYTHON), "-m", "whitenoise.compress", "--quiet", str(WEB / "dist")],
            "Compressing the web part",
        )

    step("web", "Web part built", web_sources(), WEB / "dist" / "index.html", build)


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


def demo() -> None:
    port = free_port()
    tools()
    python_packages("app.txt")
    web_packages()
    web_build()
    os.environ.setdefault("NUMBA_CACHE_DIR", str(compiled_code()))
    run([str(PYTHON), "-m", "keelturn.spinning.warm"], "Compiling the engine")
    os.chdir(BASE)
    sys.stdout.flush()
    os.execv(PYTHON, [str(PYTHON), "-m", "server.serve", "--demo", "--port", str(port)])


def data_folder() -> Path:
    return Path(os.environ.get("KEELTURN_DATA", BASE / "data"))


def demo_fresh() -> None:
    """The demo from the beginning. What is there is set aside, not removed, and asked about unless it is the
    demo as it was loaded."""
    data = data_folder()
    free_port()
    with not_done(), backups.running(data):
        if not backups.as_the_demo_left_it(data):
            say(f"In {data} somebody has worked: there is more than the demo as it was loaded")
            if os.environ.get("YES") != "1" and not yes("Set it aside and begin with a fresh demo?"):
                raise Stopped("Nothing was changed. Say y, or run YES=1 make demo-fresh.")
        aside = backups.set_aside(data, datetime.now(UTC))
        if aside is not None:
            say(f"What was there is now in {aside}")
    demo()


def yes(question: str) -> bool:
    try:
        return input(f"{question} [y/N] ").strip().lower() in ("y", "yes")
    except EOFError:
        return False


@contextmanager
def not_done() -> Iterator[None]:
    try:
        yield
    except backups.NotDone as error:
        raise Stopped(str(error)) from error


def backup() -> None:
    """A checked archive of database, key and files, while the server runs."""
    into = Path(os.environ.get("BACKUPS", BASE / "backups"))
    with not_done():
        made = backups.backup(data_folder(), into, datetime.now(UTC))
        say(f"{made}: {len(backups.check(made))} files, each read again and as it was")


def restore() -> None:
    """FILE=backups/keelturn-....tar.gz: put back; what was there is set aside."""
    if not os.environ.get("FILE"):
        raise Stopped("Say which: FILE=backups/keelturn-20261126-120000.tar.gz make restore")
    with not_done():
        aside = backups.restore(Path(os.environ["FILE"]), data_folder(), datetime.now(UTC))
    say(f"Restored into {data_folder()}" + ("" if aside is None else f"; what was there is now in {aside}"))


def attack() -> None:
    """The API from its description, and what a save accepts through every page, for longer and from a new
    seed."""
    ready_for_tests()
    seed = str(int(time.time()))
    say(f"Seed {seed}")
    pytest(
        "tests/server/test_attack.py",
        "tests/server/test_stored_is_readable.py",
        "-n",
        "2",
        KEELTURN_ATTACK="60",
        KEELTURN_EXAMPLES="600",
        KEELTURN_SEED=seed,
    )


def load() -> None:
    """A crowd at the server: the times that people wait."""
    ready_for_tests()
    web_build()
    run([str(PYTHON), "tools/load.py"], "The crowd", quiet=False, PYTHONPATH=str(BASE))


def ready_for_tests() -> None:
    tools()
    python_packages("dev.txt")
    web_packages()
    TEST_DATA.mkdir(parents=True, exist_ok=True)


def static_checks() -> None:
    bin_ = VENV / "bin"
    for words, command in (
        ("Style", [str(bin_ / "ruff"), "check", "."]),
        ("Layout", [str(bin_ / "ruff"), "format", "--check", "."]),
        ("Types of the core, strict", [str(bin_ / "mypy")]),
        ("Imports run one way", [str(bin_ / "lint-imports")]),
    ):
        say(words)
        run(command, words, KEELTURN_DATA=str(TEST_DATA))


def web_static_checks() -> None:
    for words, script in (
        ("Types of the web part", "types"),
        ("Style of the web part", "lint"),
        ("Layout of the web part", "layout"),
    ):
        say(words)
        run(["npm", "run", "--silent", script], words, cwd=WEB)


def web_tests() -> None:
    say("Tests of the web part")
    run(["npm", "run", "--silent", "test"], "Tests of the web part", cwd=WEB, quiet=False)


def layout() -> None:
    """Rewrite the layout of everything as the formatters have it."""
    ready_for_tests()
    run([str(VENV / "bin" / "ruff"), "format", "."], "Layout")
    run(["npm", "run", "--silent", "layout:write"], "Layout of the web part", cwd=WEB)


def pytest(*arguments: str, **env: str) -> None:
    run([str(PYTHON), "-m", "pytest", *arguments], "Tests", BASE, False, KEELTURN_DATA=str(TEST_DATA), **env)


def check() -> None:
    ready_for_tests()
    static_checks()
    web_static_checks()
    say("Tests of the core")
    pytest("tests/core", "-q")


def test() -> None:
    began = time.monotonic()
    ready_for_tests()
    chromium()
    static_checks()
    web_static_checks()
    web_tests()
    web_build()
    say("Tests of core, outside values, server and tools, two at a time")
    pytest("tests/core", "tests/outside", "tests/server", "tests/tools", "-n", "2", "--dist", "loadfile")
    say("Tests in the browser")
    pytest("tests/browser")
    say(f"Everything passed in {time.monotonic() - began:.0f} s")


def api() -> None:
    """The API's document and the TypeScript types made from it."""
    ready_for_tests()
    command = [
        str(PYTHON),
        "manage.py",
        "export_openapi_schema",
        "--api",
        "server.api.api",
        "--indent",
        "1",
        "--output",
        "web/openapi.json",
    ]
    run(command, "Writing the API's document", KEELTURN_DATA=str(TEST_DATA))
    run(["npm", "run", "--silent", "api"], "Generating the TypeScript types", cwd=WEB)


def schemas() -> None:
    """The JSON Schemas of the open documents, into docs/schemas."""
    ready_for_tests()
    write = (
        "import json, pathlib; from keelturn.formats.schemas import KINDS, schema_of; "
        "[pathlib.Path(f'docs/schemas/{kind}.json').write_text("
        "json.dumps(schema_of(kind), indent=1) + chr(10)) for kind in KINDS]"
    )
    (BASE / "docs" / "schemas").mkdir(parents=True, exist_ok=True)
    run([str(PYTHON), "-c", write], "Writing the schemas")


def bench() -> None:
    ready_for_tests()
    chromium()
    web_build()
    run(
        [str(PYTHON), "tools/bench.py"],
        "The benchmark",
        quiet=False,
        KEELTURN_DATA=str(TEST_DATA),
        PYTHONPATH=str(BASE),
    )
    run(
        [str(PYTHON), "tools/bench_browser.py"],
        "The benchmark of the screens",
        quiet=False,
        PYTHONPATH=str(BASE),
    )


def shots() -> None:
    ready_for_tests()
    chromium()
    web_build()
    run([str(PYTHON), "tools/shots.py"], "The screenshots", quiet=False, PYTHONPATH=str(BASE))


def outside() -> None:
    """The checks against the world, with the table of what was compared with what."""
    ready_for_tests()
    pytest("tests/outside", "--no-header", KEELTURN_TABLE="1")


COMMANDS = {
    "outside": outside,
    "layout": layout,
    "schemas": schemas,
    "demo": demo,
    "demo-fresh": demo_fresh,
    "test": test,
    "check": check,
    "api": api,
    "bench": bench,
    "backup": backup,
    "restore": restore,
    "load": load,
    "attack": attack,
    "shots": shots,
}

if __name__ == "__main__":
    name = sys.argv[1] if len(sys.argv) == 2 else ""
    if name not in COMMANDS:
        sys.exit(f"Say one of: {', '.join(COMMANDS)}")
    try:
        COMMANDS[name]()
    except Stopped as stopped:
        sys.exit(f"\nStopped: {stopped}")
    except KeyboardInterrupt:
        sys.exit("\nStopped by you.")
