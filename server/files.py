"""The built files of the interface, but for its page: that has headers of its own (server/page.py)."""

from whitenoise.middleware import WhiteNoiseMiddleware


class BuiltFiles(WhiteNoiseMiddleware):  # type: ignore[misc]
    def update_files_dictionary(self, root: str, prefix: str) -> None:
        super().update_files_dictionary(root, prefix)
        for name in [url for url in self.files if url.rstrip("/") in ("", "/index.html")]:
            del self.files[name]
