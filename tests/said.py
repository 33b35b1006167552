"""What is said, word by word, as it stood when somebody last read it through.

After a change that is meant: KEELTURN_WRITE=1 pytest -k as_said, and read what differs."""

import os
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from pathlib import Path

from keelturn.working import Answer

SAID = Path(__file__).parent / "said"

# Of the catalogue, and said there; or told twice.
ELSEWHERE = {"faults", "steps", "spoken", "stop_words", "purpose", "look_at", "path", "others"}


def lines_of(found: object, told: set[Answer], indent: str = "") -> Iterator[str]:
    """Everything in it that is said, numbers as they are read; a working that was told is not told again."""
    if isinstance(found, Answer):
        yield f"{indent}{found.label}: {found.shown}"
        if found not in told:
            told.add(found)
            yield f"{indent}  = {found.formula} [{found.source.kind}: {found.source.words}]"
            yield from (f"{indent}    {lever.change}: {lever.shown}" for lever in found.levers)
            for part in (*found.inputs, *found.pilot):
                yield from lines_of(part, told, indent + "    ")
    elif isinstance(found, (str, bool)) and found:
        yield f"{indent}{found!s}"
    elif isinstance(found, (list, tuple)):
        for part in found:
            yield from lines_of(part, told, indent)
    elif is_dataclass(found) or isinstance(found, dict):
        of = found if isinstance(found, dict) else {f.name: getattr(found, f.name) for f in fields(found)}
        for name, part in of.items():
            below = [] if name in ELSEWHERE else list(lines_of(part, told, indent + "    "))
            if len(below) == 1 and isinstance(part, str):
                yield f"{indent}{name}: {below[0].strip()}"
            elif below:
                yield from (f"{indent}{name}", *below)


def held(name: str, found: object) -> None:
    """It is said as it was."""
    text, kept = "\n".join(lines_of(found, set())) + "\n", SAID / f"{name}.txt"
    if os.environ.get("KEELTURN_WRITE") == "1":
        kept.parent.mkdir(exist_ok=True, parents=True)
        kept.write_text(text)
    assert text.splitlines() == kept.read_text().splitlines()
