"""The page's own guards: where a post may come from, logging in and out, headers and policy."""

import pytest

from tests.server.conftest import post


@pytest.mark.parametrize("url", ["/api/session/login", "/api/session/logout", "/api/sorties"])
def test_a_foreign_page_cannot_post(school, url):
    from django.test import Client

    client = Client(enforce_csrf_checks=True)
    client.force_login(school.people["bo"], "django.contrib.auth.backends.ModelBackend")
    assert post(client, url, {"username": "bo", "password": "a-long-enough-one"}).status_code == 403


def test_log_in_and_out(school, as_):
    client = as_(None)
    nobody = client.get("/api/session").json()
    assert (nobody["person"], nobody["zone"]) == (None, "UTC")
    found = post(client, "/api/session/login", {"username": "ana", "password": "a-long-enough-one"}).json()[
        "person"
    ]
    assert (found["name"], found["role"], found["student_id"]) == ("Ana", "student", school.student("ana").pk)
    post(client, "/api/session/logout", {})
    assert client.get("/api/today").status_code == 401


def test_security_headers_and_a_policy_of_our_own_files_only(client, db, tmp_path, settings):
    (tmp_path / "index.html").write_text('<meta name="style-nonce" content="__NONCE__" />')
    settings.WEB_BUILD = tmp_path
    response = client.get("/students/3")
    policy = response["Content-Security-Policy"]
    nonce = policy.split("'nonce-")[1].split("'")[0]
    assert f'content="{nonce}"' in response.content.decode()
    assert "default-src 'none'" in policy
    assert "script-src 'self'" in policy
    assert "unsafe" not in policy
    assert "http" not in policy
    assert response["X-Frame-Options"] == "DENY"
    assert response["X-Content-Type-Options"] == "nosniff"
    assert response["Referrer-Policy"] == "same-origin"
    assert client.get("/students/3")["Content-Security-Policy"] != policy
