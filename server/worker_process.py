"""Imported once by the process that workers are forked from: a new worker can be asked at once."""

import os
from threading import Event, Thread

# Behind everything else that the machine does, and so are the workers.
os.nice(10)
_server, _ready = os.getppid(), Event()


def _ended_with_the_server() -> None:
    while not _ready.wait(0.5):
        if os.getppid() != _server:
            os._exit(0)


# The imports take seconds, and nobody may be left to wait for them. Over before anything is forked.
_watch = Thread(target=_ended_with_the_server, daemon=True)
_watch.start()

import django  # noqa: E402

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
django.setup()

import server.api.heavy  # noqa: E402, F401
from server.warm import get_ready  # noqa: E402

get_ready()
_ready.set()
_watch.join()
