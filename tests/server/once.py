"""What many tests begin with is made through the product once in each process; the next test has its rows."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.db import connection, transaction

Rows = dict[str, list[tuple[Any, ...]]]
KEPT: dict[str, tuple[Rows, dict[Path, bytes]]] = {}


def rows() -> Rows:
    """Of every table, and where each counts on from."""
    with connection.cursor() as cursor:
        names = sorted(set(connection.introspection.table_names(cursor)) - {"django_migrations"})
        return {
            name: cursor.execute(f"SELECT * FROM {name}").fetchall() for name in (*names, "sqlite_sequence")
        }


def put(wanted: Rows) -> None:
    """These rows and no others, behind the guards, which are put back."""
    with transaction.atomic(), connection.cursor() as cursor:
        guards = cursor.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
        for name, _ in guards:
            cursor.execute(f"DROP TRIGGER {name}")
        there = rows()
        for name, found in wanted.items():
            if found == there[name]:
                continue
            cursor.execute(f"DELETE FROM {name}")
            if found:
                places = ", ".join(["%s"] * len(found[0]))
                cursor.executemany(f"INSERT INTO {name} VALUES ({places})", found)
        for _, sql in guards:
            cursor.execute(sql)


def once(name: str, make: Callable[[], object], folder: Path | None = None) -> None:
    """Made, or as it was made before: its rows, and the files it left in this folder."""
    if name in KEPT:
        found, files = KEPT[name]
        put(found)
        for path, content in files.items():
            (folder / path).parent.mkdir(parents=True, exist_ok=True)
            (folder / path).write_bytes(content)
        return
    make()
    left = [path for path in folder.rglob("*") if path.is_file()] if folder else []
    KEPT[name] = (rows(), {path.relative_to(folder): path.read_bytes() for path in left})
