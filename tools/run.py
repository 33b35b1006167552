"""What the Makefile runs. Standard library only, because it has to work before anything is installed.

python3 tools/run.py demo | demo-fresh | backup | restore | load | attack | mutate | test | test-long |
check | layout | outside | schemas | api | bench | score | shots

Each step says what it does; a step whose inputs have not changed since it last succeeded is not done again.
"""

import os
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from server import backups  # noqa: E402
from tests.browser import school  # noqa: E402
from tools.steps import (  # noqa: E402
    BASE,
    PYTHON,
    TEST_DATA,
    VENV,
    WEB,
    Stopped,
    at_once,
    chromium,
    free_port,
    own_settings,
    python_packages,
    ready_for_tests,
    run,
    say,
    step,
    tools,
    web_build,
    web_built,
    web_compressed,
    web_packages,
)
from tools.web_tests import web_tests  # noqa: E402


def demo() -> None:
    port = free_port()
    tools()
    at_once(python_part_of_the_demo, web_built_from_nothing)
    web_compressed()
    os.chdir(BASE)
    sys.stdout.flush()
    command = [str(PYTHON), "-m", "server.serve", "--demo", "--port", str(port)]
    os.execve(PYTHON, command, own_settings() | {"KEELTURN_DEMO": "1"})


def python_part_of_the_demo() -> None:
    """While the web part is built: up to what Today shows."""
    python_packages("app.txt")
    compiled()
    with not_done(), backups.running(data_folder()):
        say("The demo school: what Today shows; the other lessons come when it is served")
        for command in (["migrate", "-v0"], ["load_demo", "--if-empty", "--first"]):
            run([str(PYTHON), "manage.py", *command], "Loading the demo school", KEELTURN_DEMO="1")


def web_built_from_nothing() -> None:
    web_packages()
    web_built()


def compiled() -> None:
    """Once, before several processes begin to do it."""
    say("The engine compiled")
    run([str(PYTHON), "-m", "keelturn.spinning.warm"], "Compiling the engine")


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
    into = Path(os.environ.get("BACKUPS") or backups.folder_of(data_folder()))
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


def mutate() -> None:
    """Deliberate faults, one at a time, put into the code that judges and records: what no test finds is
    listed. MUTANTS='*4' tries one in ten, by the last figure of its number; all of them take hours."""
    ready_for_tests()
    mutmut, asked = str(VENV / "bin" / "mutmut"), os.environ.get("MUTANTS", "*4")
    run([mutmut, "run", asked], "Trying faults", quiet=False, KEELTURN_DATA=str(TEST_DATA), KEELTURN_WARM="1")
    found = subprocess.run([mutmut, "results"], cwd=BASE, stdout=subprocess.PIPE, text=True, check=True)
    left = [line for line in found.stdout.splitlines() if "not checked" not in line]
    say(f"No test found {len(left)}; 'mutmut show' and a name shows one")
    print("\n".join(left))


def load() -> None:
    """A crowd at the server, and a large school: the times that people wait."""
    ready_for_tests()
    web_build()
    for script, words in (("load", "The crowd"), ("load_large", "The large school")):
        run([str(PYTHON), f"tools/{script}.py"], words, quiet=False, PYTHONPATH=str(BASE))


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
        ("Types and style of the web part", "lint"),
        ("Layout of the web part", "layout"),
    ):
        say(words)
        run(["npm", "run", "--silent", script], words, cwd=WEB)


def layout() -> None:
    """Rewrite the layout of everything as the formatters have it."""
    ready_for_tests()
    run([str(VENV / "bin" / "ruff"), "format", "."], "Layout")
    run(["npm", "run", "--silent", "layout:write"], "Layout of the web part", cwd=WEB)


def pytest(*arguments: str, **env: str) -> None:
    """What failed is said once more at the end, by tests/failures.py."""
    found = BASE / ".cache" / "failures.txt"
    found.unlink(missing_ok=True)
    try:
        run(
            [str(PYTHON), "-m", "pytest", *arguments],
            "Tests",
            BASE,
            False,
            KEELTURN_FAILURES=str(found),
            **env,
        )
    except Stopped as stopped:
        raise Stopped(f"{stopped}\n{found.read_text() if found.exists() else ''}".rstrip()) from stopped


# A third of the core's test files takes three quarters of their time: make test has them.
SLOW = [
    "account_of_notes",
    "as_said",
    "catalogue_laws",
    "closer_look",
    "command_line",
    "courses",
    "fault_rules",
    "finding",
    "fit",
    "gates_and_map",
    "live",
    "one_rule",
    "outcomes",
    "own",
    "signed_records",
    "spins_flown",
    "spread",
    "surprises",
    "what_is_seen",
]


def check() -> None:
    ready_for_tests()

    def core() -> None:
        say("Tests of the core, but for the slow ones")
        left_out = [f"--ignore=tests/core/test_{name}.py" for name in SLOW]
        pytest("tests/core", "-m", "not long", *left_out, "-n", "2", "--dist", "worksteal")

    at_once(static_checks, web_static_checks, core)


# By file, in the order of tests/conftest.py: what a module sets up is set up once. A browser and its server
# keep more than a core busy.
TOGETHER = ("-n", "2", "--dist", "loadfile", "--no-loadscope-reorder")


def test() -> None:
    ready_for_tests(chromium)
    with ThreadPoolExecutor() as pool:
        built = pool.submit(web_build)

        def tests() -> None:
            compiled_and_school()
            built.result()
            say("Tests of core, outside values, server, tools and browser")
            pytest("tests", "-m", "not long", *TOGETHER)

        def beside_them() -> None:
            built.result()
            static_checks()
            web_static_checks()
            web_tests()

        at_once(tests, beside_them)
    say("Everything passed; make test-long has the slow counts")


def test_long() -> None:
    """The slow counts: recordings read and judged, hostile requests, crowds and load, another library's
    flights, schools of older versions, random alterations, deliberate faults, every screen at every size."""
    ready_for_tests(chromium)
    at_once(compiled_and_school, web_build)
    say("The slow counts")
    pytest("tests", "-m", "long", *TOGETHER)
    say("Everything passed")


def compiled_and_school() -> None:
    compiled()
    step("school", "The demo school, for the tests", school.sources(), school.BEFOREHAND, make_school)


def make_school() -> None:
    run([str(PYTHON), "-m", "tests.browser.school"], "The demo school", PYTHONPATH=str(BASE))


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
    ready_for_tests(chromium)
    web_build()
    run(
        [str(PYTHON), "tools/bench.py"],
        "The benchmark",
        quiet=False,
        KEELTURN_DATA=str(TEST_DATA),
        PYTHONPATH=str(BASE),
    )
    for script, words in (
        ("bench_browser", "The benchmark of the screens"),
        ("bench_live", "The benchmark of the live marks"),
        ("bench_recording", "The benchmark of recordings"),
        ("bench_fly", "The benchmark of the flight"),
        ("bench_debrief", "The benchmark of the debrief"),
    ):
        run([str(PYTHON), f"tools/{script}.py"], words, quiet=False, PYTHONPATH=str(BASE))


def score() -> None:
    """How often the figures of a recording are found, named, measured and judged right."""
    ready_for_tests()
    run([str(PYTHON), "-m", "tools.score", "--wrong"], "The score", quiet=False)


def shots() -> None:
    ready_for_tests(chromium)
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
    "test-long": test_long,
    "check": check,
    "api": api,
    "bench": bench,
    "backup": backup,
    "restore": restore,
    "load": load,
    "attack": attack,
    "mutate": mutate,
    "score": score,
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
