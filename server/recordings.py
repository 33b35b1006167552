"""Recorders' files as they were sent, byte for byte, each under its SHA-256 digest in the data folder: what
comes twice is there once. Backups take them along (server/backups.py)."""

import hashlib
import os
import tempfile
from pathlib import Path

from django.conf import settings

# Of one file. Two hours at 64 Hz with 16 columns are 45 million.
MOST_BYTES = 60_000_000
# So much of it is looked at for its layout.
HEAD_BYTES = 100_000


def digest_of(content: bytes) -> str:
    return hashlib.sha256(content).hexdigest()


def keep(content: bytes) -> str:
    """The digest. Written beside and moved into place: never half a file."""
    digest = digest_of(content)
    path = _path(digest)
    if path.exists():
        return digest
    path.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(dir=path.parent, delete=False) as half:
        half.write(content)
        half.flush()
        os.fsync(half.fileno())
    Path(half.name).replace(path)
    return digest


def content_of(digest: str) -> bytes | None:
    """None where the file is gone, or is not what it was."""
    try:
        content = _path(digest).read_bytes()
    except OSError:
        return None
    return content if digest_of(content) == digest else None


def drop(digest: str) -> None:
    """Nothing refers to it any more."""
    _path(digest).unlink(missing_ok=True)


def _path(digest: str) -> Path:
    return Path(settings.DATA) / "recordings" / digest[:2] / digest
