"""Imported once by the process that workers are forked from: a new worker can be asked at once."""

import os

import django

# Behind everything else that the machine does, and so are the workers.
os.nice(10)
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
django.setup()

import server.api.heavy  # noqa: E402, F401
from server.warm import get_ready  # noqa: E402

get_ready()
