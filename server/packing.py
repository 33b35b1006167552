"""Long texts that are kept for ever, packed. Standard library only: backups are looked at before anything is
installed."""

import zlib

# A signed document is a million letters, of which packed nine in a hundred are left; more effort takes three
# times as long for two in a hundred less.
EFFORT = 3


def pack(text: str) -> bytes:
    return zlib.compress(text.encode(), EFFORT)


def unpack(kept: str | bytes) -> str:
    """A text from before there was packing stands as it was written. What cannot be unpacked is not what was
    packed, and no digest holds for what is given instead: the bytes, letter by letter."""
    if isinstance(kept, str):
        return kept
    try:
        return zlib.decompress(kept).decode()
    except (zlib.error, UnicodeDecodeError):
        return kept.decode("latin-1")
