"""The built files of the interface, but for its page: that has headers of its own (server/page.py)."""

from http import HTTPStatus
from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseBase
from whitenoise.middleware import WhiteNoiseMiddleware


class BuiltFiles(WhiteNoiseMiddleware):  # type: ignore[misc]
    def update_files_dictionary(self, root: str, prefix: str) -> None:
        super().update_files_dictionary(root, prefix)
        for name in [url for url in self.files if url.rstrip("/") in ("", "/index.html")]:
            del self.files[name]

    @staticmethod
    def serve(static_file: Any, request: HttpRequest) -> HttpResponseBase:
        """A file that has not changed is answered without a body, not with an empty one."""
        made: HttpResponseBase = WhiteNoiseMiddleware.serve(static_file, request)
        if made.status_code != HTTPStatus.NOT_MODIFIED:
            return made
        return HttpResponse(status=made.status_code, headers=dict(made.items()))
