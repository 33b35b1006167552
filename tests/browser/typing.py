"""Typing a whole document into its editor, field by field, as somebody with the manual beside them does."""

from collections.abc import Mapping
from typing import Any

from selenium.webdriver.common.keys import Keys

from keelturn.formats.fields import FieldSpec
from tests.browser.person import Person, quoted

DIALOG = "//*[@role='dialog']"


def held(document: Any, path: str) -> Any:
    """What stands there; None where nothing does."""
    for step in path.split("."):
        document = document.get(step) if isinstance(document, Mapping) else None
    return document


def type_document(person: Person, fields: list[FieldSpec], document: Mapping[str, Any]) -> None:
    """Everything that the document has, in the order in which the editor shows it; not where its numbers are
    from."""
    for field in fields:
        value = held(document, field.path)
        if value is None or value == "" or value == []:
            continue
        scope = f"{DIALOG}//section[@aria-label={quoted(field.under or 'General')}]"
        if field.enter == "stated":
            _stated(person, scope, field, value)
        elif field.enter == "list":
            _rows(person, field, value)
        elif field.enter == "section":
            person.tick(f"The manual has a {field.label.lower()} section")
        elif field.enter == "by figure":
            pass
        else:
            _plain(person, scope, field, value)


def _put(person: Person, xpath: str, *words: str) -> None:
    element = person.one(xpath)
    element.send_keys(Keys.CONTROL, "a")
    element.send_keys(*words, Keys.TAB)


def _stated(person: Person, scope: str, field: FieldSpec, value: Mapping[str, Any]) -> None:
    label = f"{field.under}: {field.label}" if field.under.startswith("Spin, ") else field.label
    _put(person, f"{scope}//input[@aria-label={quoted(label)}]", f"{value['value']:g}")


def _labelled(person: Person, scope: str, label: str, n: int = 1) -> str:
    """Where the field of the nth such label is. Asked in two steps: in one, every element is compared with
    every label."""
    found = person.one(f"({scope}//label[starts-with(normalize-space(), {quoted(label)})])[{n}]")
    return f"//*[@id='{found.get_attribute('for')}']"


def _plain(person: Person, scope: str, field: FieldSpec, value: Any, n: int = 1) -> None:
    if field.enter in ("choice", "choices"):
        usual = field.usual or (field.choices[0] if field.enter == "choice" else ())
        chosen = (value,) if isinstance(value, str) else tuple(value)
        if chosen != (usual if isinstance(usual, tuple) else (usual,)):
            for one in chosen:
                person.choose(field.label, one)
    elif field.enter == "switch":
        if value:
            person.click(f"({scope}//label[contains(., {quoted(field.label)})])[{n}]")
    elif field.enter == "lines":
        lines = [part for line in value for part in (line, Keys.ENTER)][:-1]
        _put(person, _labelled(person, scope, field.label), *lines)
    else:
        _put(
            person,
            _labelled(person, scope, field.label, n),
            value if isinstance(value, str) else f"{value:g}",
        )


def _rows(person: Person, field: FieldSpec, rows: list[Mapping[str, Any]]) -> None:
    scope = f"{DIALOG}//section[@aria-label={quoted(field.label)}]"
    for n, row in enumerate(rows, start=1):
        if n > field.least_rows:
            person.click(f"{scope}//button[starts-with(., 'Add a row')]")
        for of in field.of:
            _plain(person, scope, of, row[of.path], n)
