"""Bodies of requests, read so that nothing gets in that cannot be kept, shown and printed."""

import json
import unicodedata
from typing import Any, NoReturn

from django.http import HttpRequest
from django.http.request import RawPostDataException
from ninja.parser import Parser

from keelturn.formats.reading import Problem, Refused, refused

MOST_DIGITS = 17
DEEPEST = 40
# Of control characters, those that text has: a new line and a tab.
KEPT_CONTROLS = frozenset("\n\t\r")


class BodyUnread(Refused):
    """Not JSON at all."""


class Bodies(Parser):
    """JSON only. Raises BodyUnread, and Refused for a number, text or depth that cannot be kept."""

    def parse_body(self, request: HttpRequest) -> Any:
        kind = request.content_type or "application/json"
        if kind != "application/json":
            raise _unread(f"it is sent as {kind[:60]}")
        try:
            text = request.body.decode("utf-8")
            found = json.loads(text, parse_int=_whole, parse_float=_decimal, parse_constant=_no_number)
        except RawPostDataException as error:
            raise _unread("it has been read as something else already") from error
        except (UnicodeDecodeError, json.JSONDecodeError) as error:
            raise _unread(str(error)) from error
        except RecursionError as error:
            raise _unread("it is nested too deeply") from error
        require_keepable(found)
        return found


def _unread(what: str) -> BodyUnread:
    return BodyUnread([Problem("body", f"this is not a JSON document: {what}", "Send application/json.")])


def _whole(text: str) -> int:
    if len(text.lstrip("-")) > MOST_DIGITS:
        raise refused("body", f"a number of {len(text)} digits is not one of ours", "Write it shorter.")
    return int(text)


def _decimal(text: str) -> float:
    number = float(text)
    if abs(number) > 1e300:
        raise refused("body", f"{text[:30]} is beyond every number of ours", "Correct it.")
    return number


def _no_number(text: str) -> NoReturn:
    raise refused("body", f"{text} is not a number", "Write a number.")


def require_keepable(value: Any, where: str = "", depth: int = 0) -> None:
    """Raises Refused for text with control characters, half a character, or none of the Unicode ones."""
    if depth > DEEPEST:
        raise refused(
            where or "body", "it is nested too deeply", "Send what the description of the API says."
        )
    if isinstance(value, dict):
        for key, item in value.items():
            require_keepable(key, where, depth + 1)
            require_keepable(item, f"{where}.{key}" if where else key, depth + 1)
    elif isinstance(value, list):
        for i, item in enumerate(value):
            require_keepable(item, f"{where}[{i}]", depth + 1)
    elif isinstance(value, str) and (wrong := next(filter(cannot_be_kept, value), None)) is not None:
        what = f"has the character U+{ord(wrong):04X}, which cannot be shown"
        raise refused(where.encode("utf-8", "replace").decode() or "body", what, "Take it out.")


def cannot_be_kept(letter: str) -> bool:
    """Control characters but for the ends of lines, halves of characters, and what is no character at all."""
    return unicodedata.category(letter) in ("Cc", "Cs", "Cn") and letter not in KEPT_CONTROLS
