"""What `yeasty serve` starts and stops together: PostgreSQL where none is given, gunicorn, the worker."""

import contextlib
import errno
import hashlib
import http.client
import os
import shutil
import signal
import socket
import ssl
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from yeasty.process import cluster, tls
from yeasty.process.own import end_with_parent

ROOT = Path(__file__).resolve().parents[2]
WEB_WORKERS = 2
LEAST_FREE_MB = 200
# A part that ends is started again, at most this often.
RESTART_AFTER_S = 2.0
READY_WITHIN_S = 180.0
PARTS = ("web server", "worker", "reckoner", "rehearser")


class CannotStart(RuntimeError):
    """One line on why, and what to do."""


@dataclass
class Options:
    """What was asked for on the command line."""

    port: int = 8765
    host: str = "127.0.0.1"
    database_url: str = ""
    certificate: str = ""
    key: str = ""
    plain_http: bool = False
    public_address: str = ""


def data_folder() -> Path:
    """Where this checkout keeps its data: YEASTY_DATA, else a folder of its own where PostgreSQL's user may
    go.
    """
    given = os.environ.get("YEASTY_DATA")
    if given:
        return Path(given).expanduser().resolve()
    name = f"{ROOT.name}-{hashlib.sha256(str(ROOT).encode()).hexdigest()[:8]}"
    if os.geteuid() == 0:
        return Path("/var/lib/yeasty-trial") / name
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "yeasty-trial" / name


def check_disk(folder: Path) -> None:
    """Raise when the disk that holds a folder is about full."""
    there = next(p for p in (folder, *folder.parents) if p.exists())
    free = shutil.disk_usage(there).free // 2**20
    if free < LEAST_FREE_MB:
        raise CannotStart(
            f"Only {free} MB are free on the disk of {there}. Free {LEAST_FREE_MB} MB or set YEASTY_DATA "
            f"elsewhere."
        )


def check_port(host: str, port: int) -> None:
    """Raise when the address can't be listened on."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family) as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind((host, port))
        except OSError as failed:
            if failed.errno == errno.EADDRINUSE:
                raise CannotStart(
                    f"Port {port} is in use. Stop what uses it, or start with --port {port + 1}."
                ) from None
            raise CannotStart(
                f"Can't listen on {host}:{port} ({failed.strerror}). Give another --host or --port."
            ) from None


class Database:
    """Where the data is: an address that was given, or a cluster of our own, started again where it ends by
    itself.
    """

    def __init__(self, url: str, running: cluster.Cluster | None = None) -> None:
        self.url, self.running = url, running
        self._tried = 0.0

    def look(self) -> None:
        """Bring our own cluster up again on its port, where it was killed; its log is replayed and nothing is
        lost.
        """
        if self.running is None or self.running.process.poll() is None:
            return
        if time.monotonic() - self._tried < RESTART_AFTER_S:
            return
        self._tried = time.monotonic()
        print("  PostgreSQL ended by itself; starting it again.", file=sys.stderr, flush=True)
        try:
            self.running = cluster.start(self.running.data, self.running.port)
        except cluster.ClusterError as failed:
            # What is left of the one before may still hold its memory: tried again in a moment.
            print(f"  {failed}", file=sys.stderr, flush=True)


@contextlib.contextmanager
def database(options: Options) -> Iterator[Database]:
    """A database: the one whose address is given, or a cluster of our own that ends with us."""
    if options.database_url:
        yield Database(options.database_url)
        return
    folder = data_folder()
    check_disk(folder)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as failed:
        raise CannotStart(
            f"Can't make {folder}: {failed.strerror}. Set YEASTY_DATA to a folder you may write."
        ) from None
    if os.geteuid() == 0:
        folder.chmod(folder.stat().st_mode | 0o011)
    data = folder / "pg"
    if lock_holder := _lock(folder):
        raise CannotStart(
            f"This kitchen is already running (process {lock_holder}). Use it, or stop it first."
        )
    try:
        cluster.make(data)
        running = cluster.start(data)
    except cluster.ClusterError as failed:
        raise CannotStart(str(failed)) from None
    kept = Database(running.url, running)
    try:
        yield kept
    finally:
        if kept.running is not None:
            kept.running.stop()
        (folder / "running.pid").unlink(missing_ok=True)


def _lock(folder: Path) -> int | None:
    mine = folder / "running.pid"
    try:
        other = int(mine.read_text())
        if other != os.getpid() and b"yeasty" in Path(f"/proc/{other}/cmdline").read_bytes():
            return other
    except (FileNotFoundError, ValueError, ProcessLookupError):
        pass
    mine.write_text(str(os.getpid()))
    return None


def _tls(options: Options) -> tuple[Path | None, Path | None, str]:
    """Certificate, key, and the authority's folder."""
    if options.certificate:
        for path in (options.certificate, options.key):
            if not path or not Path(path).is_file():
                raise CannotStart(
                    f"Can't read {path or 'the key'}. Give both --certificate FILE and --key FILE."
                )
        return Path(options.certificate), Path(options.key), ""
    if options.plain_http or _loopback(options.host):
        return None, None, ""
    folder = data_folder() / "tls"
    hosts = [_shown_host(options.host), "localhost", "127.0.0.1", socket.gethostname()]
    return *tls.server_certificate(folder, [h for h in hosts if h]), str(folder)


def _loopback(host: str) -> bool:
    return host in ("localhost", "::1") or host.startswith("127.")


def _shown_host(host: str) -> str:
    return tls.own_address() if host in ("0.0.0.0", "::", "") else host


def _parts(
    environment: dict[str, str], options: Options, crt: Path | None, key: Path | None
) -> list[Callable[[], "subprocess.Popen[bytes]"]]:
    """How to start each part, in the order of `PARTS`."""
    bind = f"[{options.host}]:{options.port}" if ":" in options.host else f"{options.host}:{options.port}"
    web = [
        sys.executable,
        "-m",
        "gunicorn",
        "--worker-class",
        "yeasty.process.web.WebWorker",
        "--workers",
        str(WEB_WORKERS),
        "--bind",
        bind,
        "--graceful-timeout",
        "3",
        "--timeout",
        "60",
        "--keep-alive",
        "30",
        "--log-level",
        "warning",
        "--worker-tmp-dir",
        "/dev/shm",
        "--no-control-socket",
        # Loaded once, and shared by the web processes.
        "--preload",
        "yeasty.process.wsgi:app",
    ]
    if crt and key:
        web[3:3] = ["--certfile", str(crt), "--keyfile", str(key)]

    def start(command: list[str]) -> "subprocess.Popen[bytes]":
        return subprocess.Popen(
            command,
            cwd=ROOT,
            env=environment,
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=end_with_parent,
        )

    reckoner = [sys.executable, "-m", "yeasty.worker.reckoner", environment["YEASTY_RECKONER"]]
    return [
        lambda: start(web),
        lambda: start([sys.executable, "-m", "yeasty.worker"]),
        lambda: start(reckoner),
        lambda: start([sys.executable, "-m", "yeasty.process.rehearse"]),
    ]


def serve(options: Options, prepare) -> int:  # type: ignore[no-untyped-def]
    """Start all, say where, wait, stop all. Returns the exit code.

    `prepare(url)` brings the database up to date before anything is served, and returns lines to print.
    """
    check_port(options.host, options.port)
    crt, key, authority = _tls(options)
    stop = {"asked": False}

    def ask(*_: object) -> None:
        stop["asked"] = True

    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, ask)
    scheme = "https" if crt else "http"
    address = options.public_address or f"{scheme}://{_shown_host(options.host)}:{options.port}"
    with database(options) as data, tempfile.TemporaryDirectory(prefix="yeasty-") as sockets:
        lines = prepare(data.url)
        environment = {
            **os.environ,
            "DATABASE_URL": data.url,
            "YEASTY_TLS": "1" if crt else "",
            "YEASTY_HTTPS_ONLY": "1" if options.certificate and tls.is_public_name(address) else "",
            "YEASTY_AUTHORITY": authority,
            "YEASTY_PUBLIC_ADDRESS": address,
            "YEASTY_SERVES": "1",
            "YEASTY_RECKONER": f"{sockets}/reckoner",
            "PYTHONUNBUFFERED": "1",
            "OPENBLAS_NUM_THREADS": "1",
            "MALLOC_ARENA_MAX": "2",
        }
        parts = _parts(environment, options, crt, key)
        children = [part() for part in parts]
        try:
            _wait_ready(options, bool(crt), children)
            for line in [f"\n  Yeasty Trial is at {address}", *lines]:
                print(line, flush=True)
            if crt:
                _qr(address)
                print(
                    f"  On a tablet, first open {address}/trust (it says how to trust this kitchen's "
                    f"certificate).",
                    flush=True,
                )
            elif not _loopback(options.host):
                print(
                    "  Plain HTTP: on other devices the screen will not stay awake, the bench does not "
                    "survive a reload"
                )
                print(
                    "  without network, and the camera is off. Leave out --plain-http to serve over TLS.",
                    flush=True,
                )
            print("  Ctrl-C stops it.\n", flush=True)
            return _watch(children, parts, stop, data)
        finally:
            _stop(children)


def _wait_ready(options: Options, secure: bool, children: list["subprocess.Popen[bytes]"]) -> None:
    """Wait until the web server answers: it listens before it can."""
    host = "127.0.0.1" if options.host in ("0.0.0.0", "") else "::1" if options.host == "::" else options.host
    until = time.monotonic() + READY_WITHIN_S
    while time.monotonic() < until:
        if any(c.poll() is not None for c in children):
            raise CannotStart("A part of the program stopped at once; its reason is printed above.")
        with contextlib.suppress(OSError, http.client.HTTPException):
            # Our own certificate may be for another name than the one we ask ourselves by.
            asked: http.client.HTTPConnection = http.client.HTTPConnection(host, options.port, timeout=10)
            if secure:
                context = ssl._create_unverified_context()
                asked = http.client.HTTPSConnection(host, options.port, timeout=10, context=context)
            asked.request("GET", "/api/v1/clock")
            asked.getresponse().read()
            asked.close()
            return
        time.sleep(0.2)
    raise CannotStart(f"The web server did not answer within {READY_WITHIN_S:g} s.")


def _watch(
    children: list["subprocess.Popen[bytes]"],
    start: list[Callable[[], "subprocess.Popen[bytes]"]],
    stop: dict[str, bool],
    data: Database,
) -> int:
    """Wait for the end; start again whatever ends by itself, as the worker does when the database goes
    away.
    """
    began = [time.monotonic()] * len(children)
    while not stop["asked"]:
        data.look()
        for n, child in enumerate(children):
            if child.poll() is None or time.monotonic() - began[n] < RESTART_AFTER_S:
                continue
            print(
                f"  The {PARTS[n]} ended with code {child.returncode}; starting it again.",
                file=sys.stderr,
                flush=True,
            )
            children[n], began[n] = start[n](), time.monotonic()
        time.sleep(0.3)
    print("  Stopping …", flush=True)
    return 0


def _stop(children: list["subprocess.Popen[bytes]"]) -> None:
    for child in children:
        if child.poll() is None:
            child.send_signal(signal.SIGTERM)
    for child in children:
        try:
            child.wait(12)
        except subprocess.TimeoutExpired:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(child.pid, signal.SIGKILL)


def _qr(address: str) -> None:
    import segno

    segno.make(address, error="l").terminal(compact=True, border=2)
