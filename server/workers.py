"""Expensive questions, each answered in a process of its own: a queue, a limit for each person, a time limit,
and an end when nobody waits any more. The pages that everybody needs never wait for them.

Without a pool (in tests, and in commands) the question is answered where it is asked."""

from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import CancelledError, Future, TimeoutError
from contextlib import contextmanager
from dataclasses import dataclass
from multiprocessing import get_context
from threading import Lock, Thread
from typing import Any, TypeVar

from django.http import HttpRequest
from pebble import ProcessExpired, ProcessPool

from keelturn.formats.reading import Problem, Refused

Answered = TypeVar("Answered")
# Of one person, and of all, in each process that serves: asked and not answered yet. Seconds that one may
# take, and between two looks whether somebody still waits.
MOST_OF_ONE, MOST, LONGEST_S, LOOK_S = 2, 6, 30.0, 0.25


class Crowded(Exception):
    """Not taken: too many wait already. Raised before anything is done."""

    def __init__(self, what: str, again_s: int) -> None:
        super().__init__(what)
        self.what, self.again_s = what, again_s


class TookTooLong(Exception):
    """Begun, and stopped at its time limit."""


class NobodyWaits(Exception):
    """The one who asked has gone; it was stopped."""


@dataclass(frozen=True)
class Asked:
    """ask(*what), as Workers.answer takes them; then: told the answer, in a thread of its own."""

    ask: Callable[..., Any]
    what: tuple[Any, ...]
    then: Callable[[Any], None]


class Workers:
    """A pool of processes, or none."""

    def __init__(self) -> None:
        self._pool: ProcessPool | None = None
        self._lock, self._waiting = Lock(), Counter[int]()

    def open(self, processes: int) -> None:
        context = get_context("forkserver")
        context.set_forkserver_preload(["server.worker_process"])
        self._pool = ProcessPool(max_workers=processes, context=context)
        # A pool begins with its first question, which takes seconds: that one is ours.
        self._beginning = Thread(target=self._pool.schedule, args=(_nothing,), daemon=True)
        self._beginning.start()

    def close(self) -> bool:
        """Whether all has ended. A pool that has hardly begun is not waited for: it ends with its process."""
        pool, self._pool = self._pool, None
        if pool is not None and self._beginning.is_alive():
            return False
        if pool is not None:
            pool.stop()  # type: ignore[no-untyped-call]
            pool.join()
        return True

    def require_room(self, request: HttpRequest) -> None:
        """Before anything is prepared for a question: what would be refused costs next to nothing. Raises
        Crowded."""
        if self._pool is not None:
            with self._place(int(request.user.pk or 0)):
                pass

    def answer(self, request: HttpRequest, ask: Callable[..., Answered], *what: Any) -> Answered:
        """ask(*what), a function of a module and what can be sent to another process. Raises what it refuses,
        Crowded, TookTooLong, NobodyWaits."""
        if self._pool is None:
            return ask(*what)
        with self._place(int(request.user.pk or 0)):
            found: tuple[Answered | None, list[Problem]] = self._waited(request, ask, what)
        if found[1]:
            raise Refused(found[1])
        return found[0]  # type: ignore[return-value]

    def meanwhile(self, asked: Iterator["Asked"]) -> None:
        """Questions that nobody waits for, one after the other, so that those of people come between them.
        Nothing without a pool; what cannot be answered is left out."""
        pool = self._pool
        if pool is None or not pool.active:
            return
        one = next(asked, None)
        if one is None:
            return
        future = pool.schedule(_answered, args=(one.ask, one.what), timeout=LONGEST_S)

        def done(future: "Future[tuple[Any, list[Problem]]]") -> None:
            if not future.cancelled() and future.exception() is None and not future.result()[1]:
                one.then(future.result()[0])
            self.meanwhile(asked)

        future.add_done_callback(done)

    @contextmanager
    def _place(self, person: int) -> Iterator[None]:
        """A place in the queue. Raises Crowded."""
        with self._lock:
            if self._waiting[person] >= MOST_OF_ONE:
                raise Crowded(f"{MOST_OF_ONE} of your questions are being worked on", 5)
            if self._waiting.total() >= MOST:
                raise Crowded(f"{MOST} questions wait for an answer", 15)
            self._waiting[person] += 1
        try:
            yield
        finally:
            with self._lock:
                self._waiting[person] -= 1

    def _waited(self, request: HttpRequest, ask: Callable[..., Answered], what: tuple[Any, ...]) -> Any:
        assert self._pool is not None
        gone = request.META.get("waitress.client_disconnected", lambda: False)
        future = self._pool.schedule(_answered, args=(ask, what), timeout=LONGEST_S)
        while True:
            try:
                return future.result(timeout=LOOK_S)
            except TimeoutError as error:
                if future.done():
                    raise TookTooLong from error
                if gone():
                    future.cancel()  # type: ignore[no-untyped-call]
                    raise NobodyWaits from error
            except (CancelledError, ProcessExpired) as error:
                raise TookTooLong from error


def _nothing() -> None:
    pass


def _answered(ask: Callable[..., Answered], what: tuple[Any, ...]) -> tuple[Answered | None, list[Problem]]:
    """The answer, or what is refused: an error of ours does not travel between processes."""
    try:
        return ask(*what), []
    except Refused as error:
        return None, error.problems


workers = Workers()
