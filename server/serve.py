"""`python -m server.serve --port 8000`: the application behind waitress, on this machine only.

Several processes share one listening socket, because Python computes on one core a process; each has threads,
which wait, and workers for what costs seconds (server/workers.py). With --demo the database is brought up to
date first, and the demo school loaded if nobody is there: before anything is forked, because starting another
interpreter costs seconds."""

import argparse
import ctypes
import os
import signal
import socket
import sys
import time
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from importlib import import_module
from multiprocessing import get_context
from multiprocessing.context import ForkProcess
from types import FrameType

from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.http import HttpRequest
from waitress.server import create_server

from server import clock
from server.backups import LOADING, NotDone, running
from server.recordings import MOST_BYTES
from server.safe_keeping import keep_on
from server.school.demo.people import PASSWORD, PEOPLE
from server.warm import get_ready
from server.workers import workers
from server.wsgi import application

# Of prctl(2) and mallopt(3).
PR_SET_PDEATHSIG, M_ARENA_MAX = 1, -8
# Two a core: in one process a page waits for all others in it at each of its questions to the database.
PROCESSES = min(8, 2 * (os.cpu_count() or 1))
# Of each process. Threads wait for workers (workers.MOST) and to have a password checked
# (guarding.MOST_WAIT): there are more of them than can wait, or a page would, too. A connection that says
# nothing costs none.
THREADS, CONNECTIONS, IDLE_S, WORKERS = 20, 2000, 60, 1
SWITCH_S, ARENAS = 0.0005, 1
LONGEST_END_S = 10
ENDS = (signal.SIGTERM, signal.SIGINT)
# A recorder's file is the largest; forms are refused beyond what the settings say.
BODY_BYTES = MOST_BYTES + 1_000_000
# Who is really asking, and that it was by TLS, is taken from a proxy on this machine and from nobody else.
BEHIND_A_PROXY = {"trusted_proxy": "127.0.0.1", "trusted_proxy_headers": "x-forwarded-for x-forwarded-proto"}


def main() -> int:
    parser = argparse.ArgumentParser(description="Serve Keel Turn.")
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument(
        "--processes",
        type=int,
        default=PROCESSES,
        help="that serve; by default two a core, 8 at most",
    )
    parser.add_argument(
        "--demo", action="store_true", help="migrate, and load the demo school into an empty database, first"
    )
    arguments = parser.parse_args()
    port = arguments.port
    try:
        listening = bound(port)
    except OSError as error:
        print(
            f"Port {port} cannot be used ({error.strerror}). Choose another: PORT={port + 1} make demo",
            file=sys.stderr,
        )
        return 1
    try:
        with running(settings.DATA):
            return run(listening, arguments)
    except NotDone as error:
        print(f"Not started: {error}", file=sys.stderr)
        return 1


def bound(port: int) -> socket.socket:
    """The port is ours from now on; nobody is let in before a process listens to it."""
    listening = socket.socket()
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listening.bind(("127.0.0.1", port))
    return listening


def run(listening: socket.socket, arguments: argparse.Namespace) -> int:
    print("== Bringing the database up to date", flush=True)
    call_command("migrate", verbosity=0)
    # Django is set up only now.
    from server.school.operations.kept import empty_for_another_program

    empty_for_another_program()
    if arguments.demo:
        print("== Loading the demo school: today's sorties first, other lessons later", flush=True)
        call_command("load_demo", "--if-empty", "--first")
        print(f"\nDemo log-ins, all with the password {PASSWORD}:")
        for username, name, role, _ in PEOPLE:
            print(f"    {username:8}{name}, {role}")
    print("== Getting the engine ready: up to a minute where it is compiled first", flush=True)
    # Read once, and shared by all that are forked.
    import_module(settings.ROOT_URLCONF)
    get_ready()
    print(f"\nKeel Turn is at http://127.0.0.1:{arguments.port}   (Ctrl C stops it)", flush=True)
    connection.close()
    keep_serving(listening, arguments.processes)
    return 0


def keep_serving(listening: socket.socket, processes: int) -> None:
    """One that dies is replaced; all end with this one, and what was stored is then in the one file."""
    context = get_context("fork")

    serving: dict[int, ForkProcess] = {}

    def begin(at: int) -> None:
        """An end that comes meanwhile is heard afterwards: no process is begun that nobody knows of."""
        signal.pthread_sigmask(signal.SIG_BLOCK, ENDS)
        serving[at] = context.Process(target=quietly, args=(jobs[at],))
        serving[at].start()
        signal.pthread_sigmask(signal.SIG_UNBLOCK, ENDS)

    signal.signal(signal.SIGTERM, _end)
    signal.signal(signal.SIGINT, _end)
    jobs: list[Callable[[], None]] = [partial(serve, listening)] * processes
    if settings.COUNT_AHEAD or (settings.DATA / LOADING).exists():
        jobs.append(ahead)
    if settings.BACKUP_EVERY_H > 0:
        jobs.append(keep_safe)
    try:
        for at in range(len(jobs)):
            begin(at)
        while True:
            os.waitid(os.P_ALL, 0, os.WEXITED | os.WNOWAIT)
            # Not as fast as it can, where one cannot even begin.
            time.sleep(0.5)
            for at, process in list(serving.items()):
                if not process.is_alive():
                    begin(at)
    except (KeyboardInterrupt, ChildProcessError):
        for process in serving.values():
            process.terminate()
        # All together: one that does not hear does not make the others wait.
        end = time.monotonic() + LONGEST_END_S
        for process in serving.values():
            process.join(max(0.0, end - time.monotonic()))
            process.kill()
        checkpoint()


def quietly(does: Callable[[], None]) -> None:
    """Ended, at any moment: no word of how far it was. A parent that is gone takes it with it."""
    with suppress(KeyboardInterrupt):
        _end_with_parent()
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, _end)
        signal.pthread_sigmask(signal.SIG_UNBLOCK, ENDS)
        does()


def ahead() -> None:
    """Loads what is left of the demo, then counts before anybody asks. It ends wherever it is: an interrupt
    is not heard everywhere, and what was done by half is done again."""
    from server.ahead import count_ahead
    from server.api.debriefing import looks_of
    from server.school.demo.behind import go_on

    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    # Nobody asks: there is no request.
    go_on(settings.DATA, partial(looks_of, HttpRequest()))
    if settings.COUNT_AHEAD:
        count_ahead()
    signal.pause()


def keep_safe() -> None:
    keep_on(settings.DATA, settings.SCHEDULED, settings.BACKUP_EVERY_H, clock.now)


def serve(listening: socket.socket) -> None:
    # A thread that has its answer from the database waits for its turn behind all others, so long each (5 ms
    # usually), at every question: ten questions of a page were a second, with ten people at once.
    sys.setswitchinterval(SWITCH_S)
    # Each thread would keep what it freed to itself.
    ctypes.CDLL(None).mallopt(M_ARENA_MAX, ARENAS)
    workers.open(WORKERS)
    server = create_server(
        application,
        sockets=[listening],
        threads=THREADS,
        connection_limit=CONNECTIONS,
        backlog=1024,
        channel_timeout=IDLE_S,
        # Says when the one who asked has gone.
        channel_request_lookahead=1,
        max_request_body_size=BODY_BYTES,
        clear_untrusted_proxy_headers=True,
        ident=None,
        **(BEHIND_A_PROXY if settings.HTTPS else {}),
    )
    server.run()
    if not workers.close():
        # Python would wait for it at its own end.
        os._exit(0)


def _end(signum: int, frame: FrameType | None) -> None:
    """What stands behind is closed in order, and who asks twice does not disturb that."""
    for asked in ENDS:
        signal.signal(asked, signal.SIG_IGN)
    raise KeyboardInterrupt


def _end_with_parent() -> None:
    """A parent that is killed takes its processes with it: Linux does it at that moment."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)


def checkpoint() -> None:
    """Everything that was stored into the one database file: a copy of it then is a copy of all."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    connection.close()


if __name__ == "__main__":
    sys.exit(main())
