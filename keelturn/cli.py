"""`python -m keelturn predict | plan | assess | simulate | read | debrief`: a JSON document in, a JSON
document out, for the last two with a recorder's file beside it; `live` streams what `simulate` writes, until
it is stopped.

Exit codes: 0 done; 2 wrong use of the command; 3 the document was refused (each problem on standard error:
where, what, what to do); 4 it could not be computed; 5 a file could not be read or written; 70 a fault of the
program."""

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from keelturn.document import Wrong
from keelturn.formats.reading import Refused, read_document, refusal_of, refused

BYTE_ORDER_MARK = "\ufeff"
# So many problems of a document are named.
MOST_NAMED = 20
# With a recorder's file beside the request.
FROM_A_FILE = ("read", "debrief")
FINE, USAGE, REFUSED, NOT_COMPUTED, FILES, FAULT = 0, 2, 3, 4, 5, 70


class Unreadable(Exception):
    """A file that cannot be read or written, in one sentence."""


def parser() -> argparse.ArgumentParser:
    top = argparse.ArgumentParser(
        prog="keelturn", description="What aerobatic and upset-recovery figures cost in height."
    )
    commands = top.add_subparsers(
        dest="command", required=True, metavar="predict | plan | assess | simulate | read | debrief | live"
    )
    for name, words in (
        ("predict", "gates, losses and spread of figures"),
        ("plan", "a whole plan, and a proposal"),
        ("assess", "where the height of attempts went"),
        ("simulate", "the table of a recorder for a plan"),
        ("read", "the figures in a recorder's file"),
        ("debrief", "how each of them was flown, and where the height went"),
        ("live", "a recorder that flies a plan and streams it"),
    ):
        command = commands.add_parser(name, help=words, description=words)
        command.add_argument(
            "document",
            nargs="?",
            default="-",
            help="the request, a JSON file; - or nothing for standard input",
        )
        command.add_argument(
            "--out", default="-", help="where the answer goes; - or nothing for standard output"
        )
        command.add_argument(
            "--schema", action="store_true", help="print the JSON Schema of the request and stop"
        )
        if name == "predict":
            command.add_argument("--table", action="store_true", help="a table to read instead of JSON")
        if name in FROM_A_FILE:
            command.add_argument("--recording", help="the recorder's file: a table, IGC or GPX")
        if name == "live":
            command.add_argument("--port", type=int, default=8765, help="where it listens; 0 for any")
            command.add_argument("--pace", type=float, default=1.0, help="1 is real time")
            command.add_argument("--hangs-up", dest="hangs_up_s", type=float, help="every so many seconds")
            command.add_argument(
                "--begins", dest="begins_s", type=float, default=0.0, help="at so many seconds of it"
            )
            command.add_argument("--flights", type=int, default=1, help="the plan, one after the other")
        if name == "simulate":
            command.add_argument(
                "--set",
                type=int,
                default=0,
                help="so many flights of any figures: of each a table, its plan, what is true of it",
            )
            command.add_argument("--into", help="the directory that the set is written into")
            command.add_argument("--csv", action="store_true", help="the table as CSV instead of JSON")
    return top


def read(source: str) -> Any:
    try:
        text = sys.stdin.read() if source == "-" else Path(source).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        why = error.strerror if isinstance(error, OSError) else "it is not text in UTF-8"
        raise Unreadable(
            f"Cannot read {source}: {why}. Check the name and that it is a JSON file."
        ) from error
    if text.startswith(BYTE_ORDER_MARK):
        raise refused(
            "line 1, column 1", "the file begins with a byte-order mark", "Save it as UTF-8 without one."
        )
    try:
        # NaN and Infinity are read as such: the document says at which field.
        return json.loads(text, object_pairs_hook=_each_key_once)
    except json.JSONDecodeError as error:
        raise refused(
            f"line {error.lineno}, column {error.colno}",
            f"not JSON: {error.msg.lower()}",
            "Correct it there, or export the document again.",
        ) from error
    except RecursionError as error:
        raise refused("document", "nested too deep", "Send a document of the published schema.") from error
    except ValueError as error:
        raise refused("document", "a number has too many digits", "Write it shorter.") from error


def _each_key_once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Raises Refused for a key that stands twice in one object: which was meant cannot be known."""
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise refused(key, "stands twice in one object", "Keep one of them.")
        found[key] = value
    return found


def write(target: str, answer: bytes) -> None:
    if target == "-":
        sys.stdout.buffer.write(answer.rstrip(b"\n") + b"\n")
        sys.stdout.flush()
        return
    path = Path(target).resolve()
    part = path.with_name(f"{path.name}.part")
    if path.exists() and not path.is_file():
        raise Unreadable(f"Cannot write {target}: it is not a file. Choose another place with --out.")
    try:
        # Written beside and moved into place, so that nothing is ever half written.
        part.write_bytes(answer.rstrip(b"\n") + b"\n")
        part.replace(path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise Unreadable(
            f"Cannot write {target}: {error.strerror}. Choose another place with --out."
        ) from error


def document_of(command: str) -> str:
    """The kind of its request."""
    return {"live": "simulate", "debrief": "read"}.get(command, command)


def stream(arguments: argparse.Namespace, request: Any) -> bytes:
    """Until it is stopped."""
    from keelturn.stand_in import Manner, live

    manner = {name: getattr(arguments, name) for name in Manner.model_fields}
    try:
        live(request, read_document(Manner, manner))
    except OSError as error:
        raise Unreadable(
            f"Cannot listen at {arguments.port}: {error.strerror}. Choose another --port."
        ) from error
    return b""


def recording_of(arguments: argparse.Namespace) -> bytes:
    if arguments.recording is None:
        raise Unreadable("There is no recording. Name the recorder's file with --recording.")
    try:
        return Path(arguments.recording).read_bytes()
    except OSError as error:
        raise Unreadable(f"Cannot read {arguments.recording}: {error.strerror}. Check the name.") from error


def simulate_set(arguments: argparse.Namespace, request: Any) -> bytes:
    """Each file written whole; those that are there already are left as they are, so that a set that was
    stopped goes on."""
    from keelturn.formats.recorded import simulated_files

    if arguments.into is None:
        raise Unreadable("There is nowhere to write the set. Name a directory with --into.")
    into = Path(arguments.into)
    try:
        into.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Unreadable(f"Cannot make {into}: {error.strerror}. Choose another place.") from error
    made = 0
    for number in range(arguments.set):
        if (into / f"{number:04d}_truth.json").exists():
            continue
        for name, content in simulated_files(request, number).items():
            write(str(into / f"{number:04d}_{name}"), content)
        made += 1
    return bytes(f"{made} flights written into {into}", "utf-8")


def read_recorded(command: str, request: Any, content: bytes) -> bytes:
    from keelturn.formats.answers import as_json
    from keelturn.formats.recorded import judge_flight, read_flight

    try:
        return as_json((judge_flight if command == "debrief" else read_flight)(request, content))
    except Wrong as wrong:
        raise refusal_of(wrong) from wrong


def answer_of(arguments: argparse.Namespace, document: Any) -> bytes:
    from keelturn.formats import answers
    from keelturn.formats.schemas import REQUESTS

    request: Any = read_document(REQUESTS[document_of(arguments.command)], document)
    if arguments.command == "live":
        return stream(arguments, request)
    if getattr(arguments, "set", 0):
        return simulate_set(arguments, request)
    if arguments.command in FROM_A_FILE:
        return read_recorded(arguments.command, request, recording_of(arguments))
    makes: dict[str, Callable[[Any], object]] = {
        "predict": answers.predict,
        "plan": answers.plan,
        "assess": answers.assess,
        "simulate": answers.simulate,
    }
    made: Any = makes[arguments.command](request)
    if getattr(arguments, "table", False):
        return bytes(answers.as_table(made), "utf-8")
    if getattr(arguments, "csv", False):
        return answers.as_csv(made.columns, made.rows)
    return answers.as_json(made)


def main(argv: Sequence[str] | None = None) -> int:
    try:
        arguments = parser().parse_args(argv)
    except SystemExit as stop:
        return int(stop.code or 0)
    try:
        if arguments.schema:
            from keelturn.formats.schemas import schema_of

            write(
                arguments.out, bytes(json.dumps(schema_of(document_of(arguments.command)), indent=1), "utf-8")
            )
        else:
            write(arguments.out, answer_of(arguments, read(arguments.document)))
    except Refused as refusal:
        for problem in refusal.problems[:MOST_NAMED]:
            print(f"{problem.where}: {problem.what}. {problem.do}", file=sys.stderr)
        if (more := len(refusal.problems) - MOST_NAMED) > 0:
            print(f"And {more:,} more. Correct these first.", file=sys.stderr)
        return REFUSED
    except Unreadable as error:
        print(error, file=sys.stderr)
        return FILES
    except BrokenPipeError:
        return FILES
    except ValueError as error:
        print(f"Cannot be computed: {error}", file=sys.stderr)
        return NOT_COMPUTED
    except KeyboardInterrupt:
        print("Stopped by you.", file=sys.stderr)
        return FAULT
    except Exception as error:
        print(
            f"A fault of the program ({type(error).__name__}: {error}). Nothing was written. Please report it"
            " with the document.",
            file=sys.stderr,
        )
        return FAULT
    return FINE
