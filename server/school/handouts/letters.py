"""Letters of every script on paper: what the printer's own fonts do not have is taken from fonts that ship
with the program and are embedded. Licences stand beside them."""

import re
from functools import lru_cache
from itertools import groupby
from pathlib import Path
from typing import Any
from unicodedata import bidirectional
from xml.sax.saxutils import escape

FONTS = Path(__file__).parent / "fonts"
# By name: the file for ordinary and the file for bold text, in the order in which they are asked.
EMBEDDED = (
    ("DejaVu", "DejaVuSans.ttf", "DejaVuSans-Bold.ttf"),
    ("Droid", "DroidSansFallbackFull.ttf", "DroidSansFallbackFull.ttf"),
    ("Nanum", "NanumBarunGothic.ttf", "NanumBarunGothic.ttf"),
)


@lru_cache(maxsize=4)
def _fonts(bold: bool) -> tuple[tuple[str, Any], ...]:
    """Each with the letters it has."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    found = []
    for name, ordinary, heavy in EMBEDDED:
        font = TTFont(f"{name}{'-Bold' if bold else ''}", FONTS / (heavy if bold else ordinary))
        pdfmetrics.registerFont(font)
        found.append((font.fontName, font.face.charToGlyph))
    return tuple(found)


def marked_up(text: str, bold: bool = False) -> str:
    """The text for a paragraph set in Helvetica, with the font of each letter that Helvetica does not have. A
    line stays a line; other control characters are left out."""
    return "<br/>".join(_line_marked_up(line, bold) for line in text.splitlines())


def _line_marked_up(line: str, bold: bool) -> str:
    runs = groupby(_as_it_stands(printable(line)), lambda letter: _font(letter, bold))
    return "".join(_in_font(font, escape("".join(letters))) for font, letters in runs)


def _as_it_stands(text: str) -> str:
    """In the order in which it stands on the paper: words from the right turned about, Arabic letters in the
    shapes that they have beside each other. What stands between them, numbers above all, keeps its place."""
    kinds = "".join(_KINDS.get(bidirectional(letter), "-") for letter in text)
    for run in reversed([*re.finditer("R(?:[R ]*R)?", kinds)]):
        text = text[: run.start()] + _turned(text[run.start() : run.end()]) + text[run.end() :]
    return text


# Letters from the right, and what may stand between two of them (Unicode's classes).
_KINDS = {"R": "R", "AL": "R", "NSM": "R", "WS": " "}


def _turned(words: str) -> str:
    from arabic_reshaper import reshape
    from bidi.algorithm import get_display

    return str(get_display(reshape(words)))


def printable(text: str) -> str:
    """In one line, without control characters."""
    return "".join(letter for letter in " ".join(text.split()) if letter.isprintable())


def _in_font(font: str, words: str) -> str:
    return f'<font name="{font}">{words}</font>' if font else words


def _font(letter: str, bold: bool) -> str:
    """Empty for Helvetica, and for a letter that no font has: it prints as an empty box there."""
    try:
        letter.encode("cp1252")
    except UnicodeEncodeError:
        fonts = _fonts(bold)
        return next((name for name, has in fonts if ord(letter) in has), fonts[0][0])
    return ""
