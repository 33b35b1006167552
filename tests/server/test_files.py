"""The built files: what begins the application on a device without a network is served as what it is."""

import pytest
from django.http import HttpResponse
from django.test import RequestFactory

from server.files import BuiltFiles
from server.school.models import SchoolStandards


@pytest.fixture
def built(tmp_path, settings):
    """The files of a build, as the middleware serves them."""
    files = {
        "sw.js": "self",
        "manifest.webmanifest": "{}",
        "index.html": "<p>__NONCE__</p>",
        "assets/a-1.js": "1",
    }
    for name, words in files.items():
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(words)
    settings.WHITENOISE_ROOT = tmp_path
    middleware = BuiltFiles(lambda request: HttpResponse("the page", status=418))
    return lambda path, **headers: middleware(RequestFactory().get(path, **headers))


def test_the_worker_and_the_manifest_are_what_they_say(built):
    assert built("/sw.js")["Content-Type"].startswith("text/javascript")
    assert built("/manifest.webmanifest")["Content-Type"] == "application/manifest+json"
    assert "immutable" in built("/assets/a-1.js")["Cache-Control"]
    assert "immutable" not in built("/sw.js")["Cache-Control"]


def test_the_page_is_not_a_file_it_has_a_nonce_of_its_own(built):
    assert built("/index.html").status_code == built("/").status_code == 418


def test_what_has_not_changed_is_answered_without_a_body(built):
    first = built("/sw.js")
    again = built("/sw.js", HTTP_IF_MODIFIED_SINCE=first["Last-Modified"])
    assert (again.status_code, again.streaming, again.content) == (304, False, b"")
    assert again["Cache-Control"] == first["Cache-Control"]


def test_the_page_may_connect_to_the_schools_recorder_and_nowhere_else(db, client, tmp_path, settings):
    settings.WEB_BUILD = tmp_path
    (tmp_path / "index.html").write_text('<meta name="recorder" content="__RECORDER__">')
    without = client.get("/")
    assert b'content=""' in without.content
    assert "connect-src 'self';" in f"{without['Content-Security-Policy']};"
    held = SchoolStandards.in_force()
    held.standards["recorder"] = "http://192.168.4.1:8765"
    held.save()
    told = client.get("/")
    assert b'content="http://192.168.4.1:8765"' in told.content
    assert "connect-src 'self' http://192.168.4.1:8765;" in f"{told['Content-Security-Policy']};"
    held.standards["recorder"] = "http://192.168.4.1:8765; script-src *"
    held.save()
    spoiled = client.get("/")
    assert (spoiled.status_code, b'content=""' in spoiled.content) == (200, True)
    assert "connect-src 'self';" in f"{spoiled['Content-Security-Policy']};"
