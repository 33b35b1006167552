"""Servers that tests begin: their ports, their end, and how a test waits for a state. No test waits for a
time."""

import ctypes
import signal
import socket
import time
from collections.abc import Callable

# Only there to end what hangs, on a machine however slow.
PATIENCE_S = 180
# Of prctl(2).
PR_SET_PDEATHSIG = 1


def wait_for(state: Callable[[], object], words: str) -> None:
    end = time.monotonic() + PATIENCE_S
    while not state():
        assert time.monotonic() < end, f"waited {PATIENCE_S} s: {words}"
        time.sleep(0.02)


def end_with_parent() -> None:
    """In a process that is begun (preexec_fn): however the tests end, it ends with them."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)


class Port:
    """A port of this machine that nobody else is given while it is held: it is bound and not listened to, so
    that a server which may share it (SO_REUSEADDR) listens on it, ends, and begins on it again."""

    def __init__(self) -> None:
        self.held = socket.socket()
        self.held.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        self.held.bind(("127.0.0.1", 0))
        self.number = int(self.held.getsockname()[1])

    def __index__(self) -> int:
        return self.number

    def __str__(self) -> str:
        return str(self.number)

    def is_listened_to(self) -> bool:
        with socket.socket() as probe:
            return probe.connect_ex(("127.0.0.1", self.number)) == 0
