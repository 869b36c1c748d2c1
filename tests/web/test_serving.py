"""The server itself, under half-sent requests."""

import os
import socket
import subprocess
import sys
import time

import pytest

HALF = (
    b"GET /manifest.webmanifest HT",
    b"POST /account/sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 900\r\n\r\nu",
)
LARGE = b"GET /sw.js HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"
ASKED = b"GET /manifest.webmanifest HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"


@pytest.fixture(scope="module")
def port():
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = subprocess.Popen(
        [sys.executable, "-m", "web.common.serving.server", "--bind", f"127.0.0.1:{port}", "--threads", "4"],
        env={**os.environ, "DJANGO_SETTINGS_MODULE": "tests.settings"},
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    until = time.monotonic() + 60
    while True:
        try:
            socket.create_connection(("127.0.0.1", port), 1).close()
            break
        except OSError:
            assert time.monotonic() < until
            time.sleep(0.1)
    yield port
    server.terminate()
    server.wait(20)


def sent(port, data):
    one = socket.create_connection(("127.0.0.1", port), 20)
    one.sendall(data)
    return one


def answer(one):
    one.settimeout(9)  # a busy machine's, but less than a half-sent header has
    got = b""
    while b"\r\n\r\n" not in got:
        piece = one.recv(65536)
        if not piece:
            break
        got += piece
    return got


def is_open(one):
    """Whether the server holds a connection that has sent it half a request."""
    one.setblocking(False)
    try:
        return one.recv(1, socket.MSG_PEEK) is None
    except BlockingIOError:
        return True
    except OSError:
        return False


def test_a_header_that_says_where_the_app_stands_is_not_believed(port):
    asked = b"GET /account/sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nSCRIPT_NAME: /account\r\nConnection: close\r\n\r\n"
    with sent(port, asked) as one:
        told = answer(one)
        while piece := one.recv(65536):
            told += piece
    assert told.startswith(b"HTTP/1.1 200")
    assert b'action="/account/account' not in told


def test_who_reads_too_slowly_is_let_go_and_holds_nobody_up(port):
    """Answers are asked for and not read; who comes meanwhile is answered, and within a minute they are gone."""
    slow = []
    for _ in range(6):
        one = socket.socket()
        one.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        one.connect(("127.0.0.1", port))
        one.sendall(LARGE * 800)  # more than a socket takes unread
        slow.append(one)
    begun = time.monotonic()
    with sent(port, ASKED) as one:
        assert answer(one).startswith(b"HTTP/1.1 200")
    assert time.monotonic() - begun < 8
    until = time.monotonic() + 120
    while True:  # half a kilobyte a second, until the server has had enough of it
        try:
            if not all(one.recv(500) for one in slow):
                break
        except (ConnectionResetError, BrokenPipeError):
            break
        assert time.monotonic() < until, "it is still being read"
        time.sleep(1)
    for one in slow:
        one.close()


def wait_for(port, beginning):
    until, told = time.monotonic() + 30, b""
    while not told.startswith(beginning):
        assert time.monotonic() < until, told[:60]
        with sent(port, ASKED) as one:
            told = answer(one)


@pytest.mark.parametrize("half", HALF)
def test_half_sent_requests_hold_nobody_up(port, half):
    slow = [sent(port, half) for _ in range(70)]
    for _ in range(5):
        with sent(port, ASKED) as one:
            assert answer(one).startswith(b"HTTP/1.1 200")
    assert answer(slow[0]).startswith(b"HTTP/1.1 429")  # the oldest of one address made room
    assert sum(is_open(one) for one in slow) <= 40
    for one in slow:
        one.close()


def test_an_address_whose_connections_are_all_busy_gets_no_more(port):
    until, busy, told = time.monotonic() + 60, [], b""
    while not told.startswith(b"HTTP/1.1 429"):  # one that is half-read when the next comes makes room for it
        assert time.monotonic() < until, (len(busy), told[:60])
        busy.append(sent(port, ASKED * 2000))
        told = answer(busy[-1])
    assert len(busy) > 40
    for one in busy:
        one.close()
    wait_for(port, b"HTTP/1.1 200")


def test_two_requests_sent_at_once_are_both_answered(port):
    with sent(port, ASKED + ASKED.replace(b"\r\n\r\n", b"\r\nConnection: close\r\n\r\n")) as one:
        one.settimeout(5)
        got = b""
        while piece := one.recv(65536):
            got += piece
    assert got.count(b"HTTP/1.1 200") == 2


@pytest.mark.parametrize(
    ("address", "length", "status"),
    [
        ("/account/sign-in/", 1_000_001, b"413"),
        ("/crate/import/", 8_100_000, b"413"),
        ("/nowhere/", 2_000_000, b"413"),
        ("/crate/import/", 8_000_000, b"100"),
        ("/account/archive/take-in/", 60_000_000, b"100"),
    ],
)
def test_a_body_too_large_for_its_address_is_refused_before_it_is_sent(port, address, length, status):
    head = f"POST {address} HTTP/1.1\r\nHost: 127.0.0.1\r\nExpect: 100-continue\r\nContent-Length: {length}\r\n\r\n"
    with sent(port, head.encode()) as one:
        assert answer(one).startswith(b"HTTP/1.1 " + status)


def test_a_body_comes_through_whole(port):
    """Django reads the field that stands at its end: the form's token is asked for, and nothing else is wrong."""
    body = b"a=" + b"b" * 900_000
    head = f"POST /account/sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: {len(body)}\r\n\r\n"
    with sent(port, head.encode()) as one:
        one.sendall(body)
        assert answer(one).startswith(b"HTTP/1.1 403")


@pytest.mark.django_db
def test_whatever_server_stands_before_it_bodies_are_bounded(client):
    large = client.post("/account/sign-in/", "a" * 1_000_001, content_type="text/plain")
    assert (large.status_code, b"at most 1,000,000 bytes" in large.content) == (413, True)
    told = client.post("/api/crate", "a" * 1_000_001, content_type="application/json")
    assert (told.status_code, told.json()["allowed"]) == (413, "at most 1,000,000 bytes")


@pytest.mark.django_db
def test_counts_are_for_this_machine_alone_whoever_passes_the_request_on(client, settings):
    assert client.get("/metrics").status_code == 200
    for header in ("X-Forwarded-For", "X-Forwarded-Proto", "Via"):
        assert client.get("/metrics", headers={header: "10.1.2.3"}).status_code == 404
    settings.PROXY = "127.0.0.1"
    assert client.get("/metrics", headers={"X-Forwarded-For": "10.1.2.3"}).status_code == 404
    assert client.get("/metrics", headers={"X-Forwarded-For": "10.1.2.3, 127.0.0.1"}).status_code == 200
