"""What stands before the application: whole requests take threads, halves take none. A small application on
loopback.
"""

import asyncio
import socket
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

import pytest
import uvicorn

from yeasty.process import cluster
from yeasty.process.intake import Intake, Limits, Protocol

BODY = "wsgi.input"
# More than any machine keeps on its way to a reader who takes nothing [bytes].
LONG = 24_000_000


@dataclass
class Kitchen:
    """A small application behind the intake, and what it saw."""

    port: int = 0
    asked: list[tuple[str, int]] = field(default_factory=list)
    closed: threading.Event = field(default_factory=threading.Event)

    def __call__(self, environ: dict[str, Any], start: Callable[..., Any]) -> Any:
        path, told = environ["PATH_INFO"], int(environ["CONTENT_LENGTH"])
        self.asked.append((path, told))
        if path == "/fails":
            raise RuntimeError("on purpose")
        if path.endswith("/stream"):
            start("200 OK", [("Content-Type", "text/plain")])
            return self.beats()
        text = b"x" * LONG if path == "/long" else f"{told} {len(environ[BODY].read())}".encode()
        start("200 OK", [("Content-Type", "text/plain"), ("Content-Length", str(len(text)))])
        return [text]

    def beats(self) -> Iterator[bytes]:
        try:
            while True:
                yield b"beat\n"
                time.sleep(0.05)
        finally:
            self.closed.set()

    def open(self, text: bytes, holds: int = 0) -> socket.socket:
        """A connection that has said this; `holds`: about so many unread bytes are kept for it."""
        one = socket.socket()
        one.settimeout(5)
        if holds:
            one.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, holds)
        one.connect(("127.0.0.1", self.port))
        one.sendall(text)
        one.settimeout(20)
        return one

    def ask(self, path: str, body: bytes = b"", *, known: bool = False) -> tuple[int, bytes]:
        cookie = b"Cookie: known\r\n" if known else b""
        head = b"POST %s HTTP/1.1\r\nHost: x\r\nConnection: close\r\n%sContent-Length: %d\r\n\r\n"
        return whole(self.open(head % (path.encode(), cookie, len(body)) + body))


def whole(one: socket.socket) -> tuple[int, bytes]:
    """Status and body of what is answered until the server closes; (0, b"") where it says nothing."""
    got = b""
    try:
        while more := one.recv(65536):
            got += more
    except ConnectionResetError:
        pass
    one.close()
    if not got:
        return 0, b""
    head, _, body = got.partition(b"\r\n\r\n")
    return int(head.split(b" ")[1]), body


def answered(one: socket.socket) -> None:
    """Read one answer of a connection that stays open."""
    got = b""
    while not got.endswith(b"0 0"):
        got += one.recv(65536)
    assert got.startswith(b"HTTP/1.1 200")


LIMITS = Limits(
    head_s=0.5,
    head_bytes=4096,
    connections_of_one=60,
    body_grace_s=0.6,
    body_rate=10_000,
    body_s=3,
    spooled_bytes=3_000_000,
    memory_bytes=1000,
    ahead_bytes=100_000,
    reader_s=0.6,
)


@pytest.fixture(scope="module")
def kitchen() -> Iterator[Kitchen]:
    own = Kitchen(port=cluster.free_port())
    intake = Intake(
        own,
        threads=2,
        streams=2,
        is_stream=lambda path: path.endswith("/stream"),
        most=lambda headers: 2_000_000 if headers.get(b"cookie") == b"known" else 1000,
        limits=LIMITS,
    )

    class Short(Protocol):
        limits = LIMITS

    server = uvicorn.Server(
        uvicorn.Config(intake, port=own.port, http=Short, lifespan="off", ws="none", log_level="critical")
    )
    running = threading.Thread(target=lambda: asyncio.run(server.serve()), daemon=True)
    running.start()
    while not server.started:
        time.sleep(0.01)
    yield own
    server.should_exit = server.force_exit = True
    running.join(10)


@pytest.mark.parametrize(
    "half",
    [
        b"GET /a HTTP/1.1\r\nHos",
        b"POST /a HTTP/1.1\r\nHost: x\r\nContent-Length: 60\r\n\r\n{",
        b"POST /a HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\nff\r\n{",
        b"",
    ],
    ids=["half a header", "a byte of a body", "a chunk that does not end", "nothing"],
)
def test_connections_that_send_halves_hold_no_thread_and_are_let_go(kitchen: Kitchen, half: bytes) -> None:
    there = [kitchen.open(half) for _ in range(40)]
    seen = len(kitchen.asked)
    assert kitchen.ask("/whole", b"abc") == (200, b"3 3")
    assert [path for path, _ in kitchen.asked[seen:]] == ["/whole"]
    assert {whole(one)[0] for one in there} <= {0, 408}


def test_a_body_is_handed_over_whole_from_memory_or_from_a_file(kitchen: Kitchen) -> None:
    for size in (0, 1, 999, 1001, 1_500_000):
        assert kitchen.ask("/whole", b"x" * size, known=size > 1000) == (200, f"{size} {size}".encode())


def test_a_body_without_a_length_is_counted(kitchen: Kitchen) -> None:
    one = kitchen.open(
        b"POST /a HTTP/1.1\r\nHost: x\r\nConnection: close\r\nTransfer-Encoding: "
        b"chunked\r\n\r\n3\r\nabc\r\n2\r\nde\r\n0\r\n\r\n"
    )
    assert b"5 5" in whole(one)[1]


def test_a_body_that_is_too_long_is_not_received_and_the_application_is_told_its_length(
    kitchen: Kitchen,
) -> None:
    head = b"POST /a HTTP/1.1\r\nHost: x\r\nContent-Length: 60000000\r\n\r\n{"
    status, body = whole(kitchen.open(head))
    assert (status, body) == (200, b"60000000 0")
    chunked = (
        b"POST /a HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\n"
        + b"400\r\n"
        + b"x" * 1024
        + b"\r\n"
    )
    status, body = whole(kitchen.open(chunked))
    assert (status, body.split()[1]) == (200, b"0")
    told = kitchen.asked[-1][1]
    assert told > 1000, "more than this stranger may send, so that the application refuses it"


def test_a_slow_phone_comes_through_as_long_as_something_comes(kitchen: Kitchen) -> None:
    size = 60_000
    one = kitchen.open(
        b"POST /photo HTTP/1.1\r\nHost: x\r\nCookie: known\r\nConnection: close\r\nContent-Length: %d\r\n\r\n"
        % size
    )
    for _ in range(15):  # 1.5 s: longer than the grace, at four times the least rate
        one.sendall(b"x" * (size // 15))
        time.sleep(0.1)
    assert whole(one) == (200, f"{size} {size}".encode())


def test_bodies_of_all_have_a_limit_together(kitchen: Kitchen) -> None:
    head = b"POST /a HTTP/1.1\r\nHost: x\r\nCookie: known\r\nContent-Length: 2000000\r\n\r\n"
    held = kitchen.open(head + b"x" * 1_900_000)
    time.sleep(0.2)
    status, body = kitchen.ask("/whole", b"x" * 1_500_000, known=True)
    assert (status, body.split()[1]) == (200, b"0")
    assert whole(held)[0] == 408
    assert kitchen.ask("/whole", b"x" * 1_500_000, known=True) == (200, b"1500000 1500000")


def test_headers_without_end_are_refused(kitchen: Kitchen) -> None:
    status, body = whole(kitchen.open(b"GET / HTTP/1.1\r\n" + b"X: " + b"y" * 8000))
    assert (status, body) == (400, b"Headers are too long.")
    assert whole(kitchen.open(b"GET / HTTP/1.1\r\nHost: x\r\n" + b"X: y\r\n" * 200 + b"\r\n"))[0] in (
        200,
        400,
    )


def test_a_request_of_two_within_one_connection_has_its_own_time(kitchen: Kitchen) -> None:
    one = kitchen.open(b"GET /a HTTP/1.1\r\nHost: x\r\n\r\n")
    answered(one)
    time.sleep(0.7)  # longer than headers may take: it has not begun
    one.sendall(b"GET /a HTTP/1.1\r\nHost: x\r\n\r\n")
    answered(one)
    one.sendall(b"GET /a HT")
    began = time.monotonic()
    assert whole(one)[0] == 0
    assert time.monotonic() - began < 5


def test_a_body_that_comes_behind_an_answered_request_is_waited_for(kitchen: Kitchen) -> None:
    head = (
        b"POST /b HTTP/1.1\r\nHost: x\r\nCookie: known\r\nConnection: close\r\nContent-Length: 50000\r\n\r\n"
    )
    one = kitchen.open(b"GET /a HTTP/1.1\r\nHost: x\r\n\r\n" + head)
    for _ in range(25):  # longer than an unwanted body is left to end
        one.sendall(b"x" * 2000)
        time.sleep(0.1)
    got = b""
    while more := one.recv(65536):
        got += more
    assert got.count(b"HTTP/1.1 200") == 2
    assert got.endswith(b"50000 50000")


def test_readers_that_take_nothing_are_let_go_and_the_threads_go_on(kitchen: Kitchen) -> None:
    there = [kitchen.open(b"GET /long HTTP/1.1\r\nHost: x\r\n\r\n", holds=8192) for _ in range(4)]
    began = time.monotonic()
    assert kitchen.ask("/whole") == (200, b"0 0")
    assert time.monotonic() - began < 10
    time.sleep(1.5)
    for one in there:
        assert len(whole(one)[1]) < LONG


def test_a_stream_ends_when_its_reader_is_gone_and_leaves_the_others_their_threads(kitchen: Kitchen) -> None:
    kitchen.closed.clear()
    streams = [kitchen.open(b"GET /stream HTTP/1.1\r\nHost: x\r\n\r\n") for _ in range(2)]
    for one in streams:
        assert b"200" in one.recv(65536)
    assert kitchen.ask("/whole") == (200, b"0 0")
    for one in streams:
        one.close()
    assert kitchen.closed.wait(10)


def test_an_address_has_no_more_connections_than_its_share(kitchen: Kitchen) -> None:
    there = [kitchen.open(b"GET /a HT") for _ in range(60)]
    time.sleep(0.1)
    assert whole(kitchen.open(b""))[0] == 0, "dropped at once"
    for one in there:
        one.close()
    time.sleep(0.2)
    assert kitchen.ask("/whole") == (200, b"0 0")


def test_what_fails_in_the_application_answers_500_and_the_next_request_is_served(kitchen: Kitchen) -> None:
    assert kitchen.ask("/fails")[0] == 500
    assert kitchen.ask("/whole") == (200, b"0 0")


def test_odd_addresses_and_headers_are_refused_and_hurt_nobody(kitchen: Kitchen) -> None:
    assert whole(kitchen.open(b"GET /a?\xff\xfe HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n"))[0] == 400
    many = b"".join(b"X-Same: %d\r\n" % n for n in range(150))
    assert (
        whole(kitchen.open(b"GET /a HTTP/1.1\r\nHost: x\r\nConnection: close\r\n" + many + b"\r\n"))[0] == 400
    )
    assert whole(kitchen.open(b"\x16\x03\x01\x02\x00 no tls here\r\n\r\n"))[0] == 400
    assert kitchen.ask("/whole") == (200, b"0 0")
