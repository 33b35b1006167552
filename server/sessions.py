"""Sessions in the database that know whose they are, so that they can be listed and ended."""

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.http import HttpRequest, HttpResponse

from server import clock

# When a session was last used is kept this exactly.
EXACT = timedelta(hours=1)


class SessionStore(DatabaseStore):
    @classmethod
    def get_model_class(cls) -> Any:
        from server.school.models import OpenSession

        return OpenSession

    def create_model_instance(self, data: dict[str, Any]) -> Any:
        made: Any = super().create_model_instance(data)
        made.person = int(data[SESSION_KEY]) if SESSION_KEY in data else None
        made.agent, made.address = data.get("agent", ""), data.get("address", "")
        made.began, made.seen = _time(data.get("began")), _time(data.get("seen"))
        return made


def _time(iso: str | None) -> datetime | None:
    return datetime.fromisoformat(iso) if iso else None


def began(request: HttpRequest) -> None:
    """Somebody has logged in: from where, is kept with the session."""
    # Those that have ended by themselves are of no use to anybody.
    request.session.clear_expired()
    now = clock.now().isoformat()
    request.session["agent"] = request.headers.get("User-Agent", "")[:200]
    request.session["address"] = str(request.META.get("REMOTE_ADDR", ""))[:45]
    request.session["began"] = request.session["seen"] = now


class Seen:
    """Middleware: a session that is used is kept as such, now and then."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.path.startswith("/api/") and (last := _time(request.session.get("seen"))) is not None:
            now = clock.now()
            if now - last >= EXACT:
                request.session["seen"] = now.isoformat()
        return self.get_response(request)
