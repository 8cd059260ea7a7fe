"""Strangers with sockets: what others wait for the clock while somebody holds connections in every half-way
state.

Starts the program on a demo of its own. Loopback only, bounded: at most 300 sockets, about two minutes.
Run:  PYTHONPATH=. .venv/bin/python bench/sockets.py
"""

import contextlib
import os
import platform
import socket
import statistics
import time
from collections.abc import Iterator
from http.client import HTTPConnection

from bench.kitchens import kitchen

HALVES: dict[str, bytes] = {
    "half a header": b"GET /api/v1/clock HTTP/1.1\r\nHos",
    "one byte of a body": b"POST /api/v1/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\n"
    b"Content-Length: 60\r\n\r\n{",
    "one byte of 60 MB": b"POST /api/v1/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\n"
    b"Content-Length: 62914560\r\n\r\n{",
    "a chunk that never ends": b"POST /api/v1/session HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: "
    b"chunked\r\n\r\nffff\r\n{",
    "nothing at all": b"",
    "many requests, no answer read": b"GET / HTTP/1.1\r\nHost: x\r\n\r\n" * 200,
}

# These are answered whole to whoever reads in the end.
ASKS = (HALVES["many requests, no answer read"],)


def _ms(seconds: float) -> str:
    return f"{seconds * 1e3:.1f} ms"


@contextlib.contextmanager
def held(port: int, text: bytes, count: int) -> Iterator[list[socket.socket]]:
    """Sockets that have sent this and wait."""
    there: list[socket.socket] = []
    try:
        for _ in range(count):
            one = socket.create_connection(("127.0.0.1", port), 5)
            there.append(one)
            with contextlib.suppress(OSError):
                one.sendall(text)
        yield there
    finally:
        for one in there:
            one.close()


def clock(port: int) -> float:
    """Seconds until the clock answers; 30 where it does not."""
    began = time.perf_counter()
    try:
        asked = HTTPConnection("127.0.0.1", port, timeout=30)
        asked.request("GET", "/api/v1/clock")
        assert asked.getresponse().status == 200
        asked.close()
    except OSError:
        return 30.0
    return time.perf_counter() - began


def closed_after(there: list[socket.socket], at_most: float) -> float:
    """Seconds until the server has closed every one of them, or as long as was waited."""
    began = time.perf_counter()
    for one in there:
        one.settimeout(max(0.05, at_most - (time.perf_counter() - began)))
        with contextlib.suppress(OSError):
            while one.recv(65536):
                pass
    return time.perf_counter() - began


def slowly(port: int, size: int, rate: int) -> tuple[float, int]:
    """Send a stranger's form slowly: seconds taken and status."""
    asked = socket.create_connection(("127.0.0.1", port), 5)
    body = b'{"login": "' + b"x" * (size - 13) + b'"}'
    asked.sendall(
        b"POST /api/v1/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: "
        b"%d\r\n\r\n" % len(body)
    )
    began = time.perf_counter()
    for n in range(0, len(body), rate // 10):
        asked.sendall(body[n : n + rate // 10])
        time.sleep(0.1)
    status = int(asked.recv(4096).split(b" ")[1])
    asked.close()
    return time.perf_counter() - began, status


def main() -> None:
    """Hold, ask, print."""
    with kitchen() as own:
        port = int(own.served.address.rsplit(":", 1)[1])
        print(
            platform.platform(),
            platform.python_version(),
            os.cpu_count(),
            "cores, load",
            round(os.getloadavg()[0], 1),
        )
        alone = [clock(port) for _ in range(40)]
        print(f"alone: median {statistics.median(alone) * 1e3:.1f} ms, longest {max(alone) * 1e3:.1f} ms")
        for words, text in HALVES.items():
            with held(port, text, 300) as there:
                asked = [clock(port) for _ in range(40)]
                print(
                    f"300 sockets, {words}: median {_ms(statistics.median(asked))}, longest "
                    f"{_ms(max(asked))}",
                    end="",
                )
                print(
                    f"; closed by the server within {closed_after(there, 40):.1f} s"
                    if text not in ASKS
                    else ""
                )
        took, status = slowly(port, 12_000, 4_000)
        print(f"a form of 12 kB at 4 kB/s: {took:.1f} s, status {status}")


if __name__ == "__main__":
    main()
