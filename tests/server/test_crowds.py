"""Many at once, somebody who guesses, a proxy in front: the rest goes on."""

import asyncio
import fcntl
import os
import re
import signal
import socket
import ssl
import subprocess
import sys
import threading
from contextlib import contextmanager, suppress
from pathlib import Path

import pytest
import trustme
from django.test import Client

from server import serve, workers
from server import settings as the_settings
from server.school import guarding
from tests.server.conftest import PASSWORD
from tests.server.test_database import BASE, data, logged_in, prepared, start  # noqa: F401
from tests.servers import PATIENCE_S, Port, wait_for

# Passwords


def try_to(username, password, address="10.0.0.1"):
    return Client(REMOTE_ADDR=address).post(
        "/api/session/login", {"username": username, "password": password}, content_type="application/json"
    )


def test_guessing_is_stopped_for_that_account_from_there_and_for_nobody_else(school, monkeypatch):
    answers = [try_to("bo", "a guess").status_code for _ in range(5)]
    assert answers == [422, 422, 422, 422, 429]
    locked = try_to("bo", PASSWORD)
    assert locked.status_code == 429
    assert int(locked["Retry-After"]) == 15 * 60
    assert "15 minutes" in locked.json()["problems"][0]["what"]
    assert try_to("bo", PASSWORD, "10.0.0.2").status_code == 200
    assert try_to("cy", PASSWORD, "10.0.0.1").status_code == 200


def test_a_locked_guess_costs_no_hashing(school, monkeypatch):
    for _ in range(5):
        try_to("bo", "a guess")
    monkeypatch.setattr(guarding, "authenticate", lambda *_, **__: pytest.fail("it was hashed"))
    assert try_to("bo", "a guess").status_code == 429


def test_the_right_password_takes_the_count_back(school):
    for _ in range(3):
        assert [try_to("bo", "a guess").status_code for _ in range(4)] == [422] * 4
        assert try_to("bo", PASSWORD).status_code == 200


def test_one_password_is_checked_at_a_time(school, settings, monkeypatch):
    monkeypatch.setattr(guarding, "PATIENCE_S", 0.1)
    with (settings.DATA / "password-turn").open("w") as turn:
        fcntl.flock(turn, fcntl.LOCK_EX)
        assert try_to("bo", PASSWORD).status_code == 429
    assert try_to("bo", PASSWORD).status_code == 200


def test_not_all_threads_wait_for_their_turn(school, monkeypatch):
    monkeypatch.setattr(guarding, "_WAITING", threading.BoundedSemaphore(1))
    with guarding.in_turn():
        assert try_to("bo", PASSWORD).status_code == 429
    assert try_to("bo", PASSWORD).status_code == 200


# The server itself


def ended(server):
    server.terminate()
    assert server.wait(PATIENCE_S) == 0


def test_however_many_wait_there_are_threads_for_pages():
    assert serve.THREADS - workers.MOST - guarding.MOST_WAIT >= 6


@pytest.mark.long
def test_open_connections_that_say_nothing_stop_nobody(data):  # noqa: F811
    port = Port()
    server = start(data, port)
    idle = [socket.create_connection(("127.0.0.1", port.number)) for _ in range(250)]
    for connection in idle:
        connection.sendall(b"GET /api/today HTTP/1.1\r\nHost:")
    try:
        assert logged_in(port).send("GET", "/api/today", timeout=PATIENCE_S)["sorties"]
    finally:
        for connection in idle:
            connection.close()
        ended(server)


@pytest.mark.long
def test_what_was_stored_is_in_the_one_file_when_the_server_has_ended(data):  # noqa: F811
    port = Port()
    server = start(data, port)
    browser = logged_in(port)
    browser.send("PUT", "/api/sorties/1", {"version": 1, "debrief": {"note": "the last word"}})
    ended(server)
    log = data / "keelturn.sqlite3-wal"
    assert not log.exists() or log.stat().st_size == 0
    assert b"the last word" in (data / "keelturn.sqlite3").read_bytes()
    assert not port.is_listened_to()


DEAF = """
import signal, time
from server import serve

def deaf(listening):
    signal.signal(signal.SIGTERM, signal.SIG_IGN)
    print("begun\\n", end="", flush=True)  # In one write: two processes say it.
    while True:
        time.sleep(1)

serve.serve, serve.LONGEST_END_S = deaf, 0.5
serve.settings.COUNT_AHEAD, serve.settings.BACKUP_EVERY_H = False, 0
serve.keep_serving(None, 2)
"""


@pytest.mark.long
def ignores(pid, which):
    status = Path(f"/proc/{pid}/status").read_text()
    return int(re.search(r"SigIgn:\s*(\w+)", status)[1], 16) >> (which - 1) & 1


@pytest.mark.long
def test_a_process_that_does_not_hear_is_ended_too_and_ctrl_c_twice_is_as_once(data):  # noqa: F811
    env = {**os.environ, "KEELTURN_DATA": str(data), "DJANGO_SETTINGS_MODULE": "server.settings"}
    server = subprocess.Popen([sys.executable, "-c", DEAF], cwd=BASE, env=env, stdout=subprocess.PIPE)
    try:
        assert [server.stdout.readline() for _ in range(2)] == [b"begun\n"] * 2
        server.send_signal(signal.SIGINT)
        # It has heard, and waits for those two meanwhile: a second one is then ignored by it.
        wait_for(lambda: ignores(server.pid, signal.SIGINT), "the first is heard")
        server.send_signal(signal.SIGINT)
        ended(server)
    finally:
        server.kill()


@pytest.mark.long
def test_a_process_that_dies_is_replaced(data):  # noqa: F811
    port = Port()
    server = start(data, port)
    try:
        browser = logged_in(port)
        children = Path(f"/proc/{server.pid}/task/{server.pid}/children").read_text().split()
        for child in children:
            os.kill(int(child), signal.SIGKILL)

        def answers() -> bool:
            with suppress(OSError):
                return bool(browser.send("GET", "/api/today", timeout=PATIENCE_S)["sorties"])
            return False

        wait_for(answers, "another process answers")
    finally:
        ended(server)


@pytest.mark.long
def test_data_are_readable_by_their_owner_only(data):  # noqa: F811
    files = [path for path in data.iterdir() if path.is_file()]
    for path in files:
        path.chmod(0o644)
    server = start(data, Port())
    try:
        modes = {path.name: path.stat().st_mode & 0o777 for path in data.iterdir() if path.is_file()}
    finally:
        ended(server)
    assert {"keelturn.sqlite3", "secret-key"} <= set(modes)
    assert set(modes.values()) == {0o600}


@pytest.mark.parametrize("before", [None, ""])
def test_the_secret_key_is_written_whole(tmp_path, monkeypatch, before):
    monkeypatch.setattr(the_settings, "DATA", tmp_path)
    if before is not None:
        (tmp_path / "secret-key").write_text(before)
    made = the_settings._secret_key()
    assert len(made) == 50
    assert the_settings._secret_key() == made
    assert [path.name for path in tmp_path.iterdir()] == ["secret-key"]


@pytest.mark.parametrize("path", ["/", "/index.html", "/students"])
def test_the_page_has_its_headers_and_its_host_by_every_name(client, db, path):
    if not the_settings.WEB_BUILD.exists():
        pytest.skip("the web part is not built")
    page = client.get(path)
    assert page.status_code == 200
    assert "'nonce-" in page["Content-Security-Policy"]
    assert "no-store" in page["Cache-Control"]
    assert client.get(path, HTTP_HOST="elsewhere.invalid").status_code == 400


# Behind a proxy that speaks TLS

HOST = "school.invalid"


@contextmanager
def tls_proxy(to, authority):
    """Ends TLS and says so to the server, as nginx is told to in docs/running.md."""
    found, loop = {}, asyncio.new_event_loop()
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    authority.issue_cert(HOST).configure_cert(context)

    async def pass_on(reader, writer):
        head = await reader.readuntil(b"\r\n\r\n")
        lines = [
            line
            for line in head.split(b"\r\n")
            if not line.lower().startswith((b"x-forwarded", b"connection"))
        ]
        lines[1:1] = [b"X-Forwarded-Proto: https", b"X-Forwarded-For: 203.0.113.9", b"Connection: close"]
        length = next((int(x.split(b":")[1]) for x in lines if x.lower().startswith(b"content-length")), 0)
        body = await reader.readexactly(length)
        from_server, to_server = await asyncio.open_connection("127.0.0.1", to)
        to_server.write(b"\r\n".join(lines) + body)
        writer.write(await from_server.read())
        await writer.drain()
        writer.close()
        to_server.close()

    async def begin():
        served = await asyncio.start_server(pass_on, "127.0.0.1", 0, ssl=context)
        found["port"] = served.sockets[0].getsockname()[1]

    loop.run_until_complete(begin())
    thread = threading.Thread(target=loop.run_forever, daemon=True)
    thread.start()
    yield found["port"]
    loop.call_soon_threadsafe(loop.stop)
    thread.join()


def asked_by_tls(port, context, request):
    with (
        socket.create_connection(("127.0.0.1", port)) as plain,
        context.wrap_socket(plain, server_hostname=HOST) as tls,
    ):
        tls.sendall(request.encode())
        found = b""
        while part := tls.recv(65536):
            found += part
    head, _, body = found.decode().partition("\r\n\r\n")
    return head, body


@pytest.mark.long
def test_behind_a_proxy_with_tls_people_log_in(data, monkeypatch):  # noqa: F811
    monkeypatch.setenv("KEELTURN_HTTPS", "1")
    monkeypatch.setenv("KEELTURN_HOSTS", HOST)
    authority, port = trustme.CA(), Port()
    server = start(data, port)
    context = ssl.create_default_context()
    authority.configure_trust(context)
    try:
        with tls_proxy(port.number, authority) as secure:
            head, _ = asked_by_tls(secure, context, f"GET /api/session HTTP/1.1\r\nHost: {HOST}\r\n\r\n")
            assert head.startswith("HTTP/1.1 200")
            assert "Strict-Transport-Security: max-age=31536000" in head
            token = head.split("csrftoken=")[1].split(";")[0]
            assert "Secure" in head.split("csrftoken=")[1].splitlines()[0]
            body = '{"username": "bo", "password": "a-long-enough-one"}'

            def log_in(origin):
                return asked_by_tls(
                    secure,
                    context,
                    f"POST /api/session/login HTTP/1.1\r\nHost: {HOST}\r\n"
                    f"Origin: {origin}\r\nReferer: {origin}/\r\n"
                    f"Cookie: csrftoken={token}\r\nX-CSRFToken: {token}\r\nContent-Type: application/json\r\n"
                    f"Content-Length: {len(body)}\r\n\r\n{body}",
                )

            head, said = log_in(f"https://{HOST}")
            assert head.startswith("HTTP/1.1 200"), (head, said)
            assert '"name": "bo"' in said or '"name":"bo"' in said
            session = next(line for line in head.splitlines() if "sessionid=" in line)
            assert "Secure" in session
            assert "HttpOnly" in session
            assert log_in("https://elsewhere.invalid")[0].startswith("HTTP/1.1 403")
        with socket.create_connection(("127.0.0.1", port.number)) as plain:
            question = f"GET /api/session HTTP/1.1\r\nHost: {HOST}\r\nConnection: close\r\n\r\n"
            plain.sendall(question.encode())
            assert plain.recv(65536).startswith(b"HTTP/1.1 301")
    finally:
        ended(server)


@pytest.mark.long
def test_the_deployment_check_finds_nothing(tmp_path):
    env = {**os.environ, "KEELTURN_HTTPS": "1", "KEELTURN_HOSTS": HOST, "KEELTURN_DATA": str(tmp_path)}
    command = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
    done = subprocess.run(command, cwd=Path(BASE), env=env, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
