"""What stands between sockets and the application: a thread is taken only once a whole request is there.

Sockets, TLS, headers and bodies are uvicorn's, in one event loop a process; here are the limits it has none
for, and the bridge to Flask. A body is received into a file that lies in memory while it is small; only then
one of the threads runs the application. What it answers is sent by the loop, so that neither a slow sender
nor a slow reader holds a thread for long. Streams have threads of their own.
"""

import asyncio
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from tempfile import SpooledTemporaryFile
from typing import Any, ClassVar

from asgiref.wsgi import WsgiToAsgiInstance
from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

KB, MB = 1024, 1024 * 1024


@dataclass(frozen=True)
class Limits:
    """What a connection may ask of a process [s, bytes]; the defaults are in use, tests have smaller ones.

    `head_s`, `head_bytes` : until the headers of a request are whole; `connections_of_one` : of one address
        at once;
    `body_grace_s`, `body_rate` : a body has the grace and a second for each `body_rate` bytes of it, at most
        `body_s` in all;
    `spooled_bytes` : of all bodies that a process is receiving; `memory_bytes` : of one, before it goes to a
        file;
    `ahead_bytes`, `reader_s` : what a thread writes ahead of a slow reader, and how long it may take nothing
        at all.
    """

    head_s: float = 15.0
    head_bytes: int = 64 * KB
    connections_of_one: int = 400
    body_grace_s: float = 20.0
    body_rate: float = 2 * KB
    body_s: float = 1200.0
    spooled_bytes: int = 1024 * MB
    memory_bytes: int = 256 * KB
    ahead_bytes: int = 1 * MB
    reader_s: float = 30.0


class Protocol(HttpToolsProtocol):
    """HTTP as uvicorn speaks it; headers have a time and a length, and an address a number of connections."""

    limits = Limits()
    _of: ClassVar[Counter[str]] = Counter()

    def connection_made(self, transport: Any) -> None:
        """As of uvicorn; one too many of an address is dropped."""
        super().connection_made(transport)
        self._address = self.client[0] if self.client else ""
        self._of[self._address] += 1
        self._head_bytes = 0
        self._head_over: asyncio.TimerHandle | None = None
        if self._of[self._address] > self.limits.connections_of_one:
            transport.abort()
            return
        self._await_head()

    def connection_lost(self, exc: Exception | None) -> None:
        """As of uvicorn."""
        self._of[self._address] -= 1
        if not self._of[self._address]:
            del self._of[self._address]
        self._head_is_whole()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        """As of uvicorn; counts what comes before the headers are whole."""
        self._head_bytes += len(data)
        super().data_received(data)
        if self._between():
            if self._head_bytes > self.limits.head_bytes:
                self.send_400_response("Headers are too long.")
            elif self._head_over is None:
                self._await_head()
        else:
            self._head_bytes = 0

    def on_message_begin(self) -> None:
        """As of uvicorn; the application is told how to drop a connection whose reader takes nothing."""
        super().on_message_begin()
        self.scope["extensions"] = {"yeasty.drop": {"call": self.drop}}

    def on_headers_complete(self) -> None:
        """As of uvicorn."""
        self._head_is_whole()
        super().on_headers_complete()

    def on_response_complete(self) -> None:
        """As of uvicorn; a body that was not wanted is let go with its connection, after what was answered
        could arrive.
        """
        # One that was sent along behind it is not answered yet, and may still be on its way.
        unwanted = self.cycle.response_complete and self.cycle.more_body
        if unwanted and not self.transport.is_closing():
            self.loop.call_later(2.0, self.drop)
        super().on_response_complete()

    def drop(self) -> None:
        """End the connection without waiting for anybody."""
        if not self.transport.is_closing() or self.transport.get_write_buffer_size():
            self.transport.abort()

    def _between(self) -> bool:
        return self.cycle is None or (self.cycle.response_complete and not self.cycle.more_body)

    def _await_head(self) -> None:
        self._head_over = self.loop.call_later(self.limits.head_s, self._late)

    def _late(self) -> None:
        self._head_over = None
        if self._between():
            self.drop()

    def _head_is_whole(self) -> None:
        if self._head_over is not None:
            self._head_over.cancel()
            self._head_over = None


class TooSlow(Exception):
    """A body came too slowly, or its sender went away."""


class Outlet:
    """What a thread has to say, on its way to the loop that says it."""

    def __init__(self, loop: asyncio.AbstractEventLoop, limits: Limits) -> None:
        self.said: asyncio.Queue[dict[str, Any] | None] = asyncio.Queue()
        self._loop, self._limits = loop, limits
        self._changed = threading.Condition()
        self._ahead = 0
        self.gone = False

    def say(self, messages: list[dict[str, Any]]) -> None:
        """From the thread; waits for a slow reader a while. Raises BrokenPipeError when nobody reads any
        more.
        """
        size = sum(len(m.get("body", b"")) for m in messages)
        with self._changed:
            room = self._changed.wait_for(
                lambda: self.gone or self._ahead < self._limits.ahead_bytes, self._limits.reader_s
            )
            if self.gone or not room:
                raise BrokenPipeError
            self._ahead += size
        self._loop.call_soon_threadsafe(self._hand_over, messages)

    def _hand_over(self, messages: list[dict[str, Any]]) -> None:
        for message in messages:
            self.said.put_nowait(message)

    def over(self) -> None:
        """From the thread: nothing more comes."""
        self._loop.call_soon_threadsafe(self.said.put_nowait, None)

    def was_sent(self, size: int) -> None:
        """From the loop."""
        with self._changed:
            self._ahead -= size
            self._changed.notify_all()

    def leave(self) -> None:
        """From the loop: nobody reads any more."""
        with self._changed:
            self.gone = True
            self._changed.notify_all()


class Call(WsgiToAsgiInstance):
    """One request of the application, in a thread."""

    def __init__(self, app: Any, scope: Any, outlet: Outlet, *, streams: bool) -> None:
        super().__init__(app)  # type: ignore[no-untyped-call]
        self.scope = scope
        self._outlet, self._streams = outlet, streams

    def run(self, body: Any, length: int) -> None:
        """Run the application and hand over what it answers; what it holds is let go whatever happens."""
        try:
            environ = self.build_environ(self.scope, body)  # type: ignore[no-untyped-call]
        except ValueError as wrong:
            self._refuse(str(wrong))
            return
        environ.pop("HTTP_TRANSFER_ENCODING", None)
        environ["CONTENT_LENGTH"] = str(length)
        environ["wsgi.input_terminated"] = True
        answer: Iterable[bytes] = self.wsgi_application(environ, self.start_response)
        try:
            self._hand_over(answer)
        except BrokenPipeError:
            pass
        finally:
            if close := getattr(answer, "close", None):
                close()
            self._outlet.over()

    def _refuse(self, words: str) -> None:
        self.response_started = True
        headers = [(b"content-type", b"text/plain; charset=utf-8")]
        self._outlet.say(
            [
                {"type": "http.response.start", "status": 400, "headers": headers},
                {"type": "http.response.body", "body": words.encode()},
            ]
        )
        self._outlet.over()

    def _hand_over(self, answer: Iterable[bytes]) -> None:
        waiting: list[dict[str, Any]] = []
        size = 0
        for chunk in answer:
            if not self.response_started:
                self.response_started = True
                waiting.append(self.response_start)
            waiting.append({"type": "http.response.body", "body": chunk, "more_body": True})
            size += len(chunk)
            if self._streams or size > 64 * KB:
                self._outlet.say(waiting)
                waiting, size = [], 0
        if not self.response_started:
            self.response_started = True
            waiting.append(self.response_start)
        self._outlet.say([*waiting, {"type": "http.response.body", "body": b""}])


class Intake:
    """The application as uvicorn calls it.

    Parameters
    ----------
    app : the WSGI application
    threads, streams : of ordinary requests, and of those whose path `is_stream`
    most : how long a body of a request with these headers may be [bytes] (names in small letters)
    """

    def __init__(
        self,
        app: Any,
        *,
        threads: int,
        streams: int,
        is_stream: Callable[[str], bool],
        most: Callable[[dict[bytes, bytes]], int],
        limits: Limits | None = None,
    ) -> None:
        self._app, self._is_stream, self._most = app, is_stream, most
        self.limits = limits or Limits()
        self._threads = ThreadPoolExecutor(threads, "request")
        self._streams = ThreadPoolExecutor(streams, "stream")
        self._spooled = 0

    async def __call__(self, scope: Any, receive: Any, send: Any) -> None:
        """Take one request; ASGI."""
        if scope["type"] != "http":
            raise ValueError(f"asked for {scope['type']}, which is not served")
        if not scope["query_string"].isascii():
            await _short(send, 400, "The address is not written in ASCII.")
            return
        headers = dict(scope["headers"])
        body: Any = SpooledTemporaryFile(self.limits.memory_bytes)  # noqa: SIM115 (closed below, in any case)
        took = 0
        try:
            try:
                took, length = await self._take(headers, receive, body)
            except TooSlow:
                await _short(send, 408, "The request came too slowly.")
                return
            await self._answer(scope, receive, send, body, length)
        finally:
            self._spooled -= took
            body.close()

    async def _take(self, headers: dict[bytes, bytes], receive: Any, body: Any) -> tuple[int, int]:
        """Receive a body. Gives what lies in the file, and the length to tell.

        What is longer than may be is not received: the application is told its length, and an empty body, and
        refuses it in its words.
        """
        told = headers.get(b"content-length", b"0")
        length = int(told) if told.isdigit() else 0
        if not length and b"transfer-encoding" not in headers:
            return 0, 0
        most = self._most(headers)
        if length > most:
            return 0, length
        began, took = time.monotonic(), 0
        try:
            while True:
                over = began + min(
                    self.limits.body_s, self.limits.body_grace_s + took / self.limits.body_rate
                )
                message = await asyncio.wait_for(receive(), over - time.monotonic())
                if message["type"] != "http.request":
                    raise TooSlow
                took += len(message["body"])
                self._spooled += len(message["body"])
                if took > most or self._spooled > self.limits.spooled_bytes:
                    body.seek(0)
                    body.truncate()
                    return took, max(took, length, most + 1)
                body.write(message["body"])
                if not message.get("more_body"):
                    body.seek(0)
                    return took, took
        except (TimeoutError, TooSlow):
            self._spooled -= took
            raise TooSlow from None

    async def _answer(self, scope: Any, receive: Any, send: Any, body: Any, length: int) -> None:
        loop = asyncio.get_running_loop()
        streams = self._is_stream(scope["path"])
        outlet = Outlet(loop, self.limits)
        call = Call(self._app, scope, outlet, streams=streams)
        done = loop.run_in_executor(self._streams if streams else self._threads, call.run, body, length)
        watch = asyncio.create_task(_watch(receive, outlet)) if streams else None
        try:
            saying = asyncio.create_task(self._say(scope, send, outlet))
            # Whichever ends first: what failed in the thread is raised here, and uvicorn answers 500.
            await asyncio.wait({done, saying}, return_when=asyncio.FIRST_EXCEPTION)
            if done.done() and done.exception():
                saying.cancel()
            else:
                await saying
            await done
        finally:
            outlet.leave()
            if watch:
                watch.cancel()

    async def _say(self, scope: Any, send: Any, outlet: Outlet) -> None:
        while (message := await outlet.said.get()) is not None:
            try:
                async with asyncio.timeout(self.limits.reader_s):
                    await send(message)
            except TimeoutError:
                outlet.leave()
                scope["extensions"]["yeasty.drop"]["call"]()
                return
            outlet.was_sent(len(message.get("body", b"")))


async def _watch(receive: Any, outlet: Outlet) -> None:
    """Tell a stream that its reader is gone."""
    while (await receive())["type"] != "http.disconnect":
        pass
    outlet.leave()


async def _short(send: Any, status: int, words: str) -> None:
    headers = [(b"content-type", b"text/plain; charset=utf-8"), (b"connection", b"close")]
    text = words.encode()
    headers.append((b"content-length", str(len(text)).encode()))
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": text})
