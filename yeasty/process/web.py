"""How gunicorn runs a web process: uvicorn's event loop with our protocol."""

import contextlib
import resource
import signal
from typing import Any, ClassVar

from uvicorn_worker import UvicornWorker

from yeasty.process.intake import Protocol
from yeasty.process.own import end_with_parent

MOST_FILES = 65_536


class WebWorker(UvicornWorker):  # type: ignore[misc]
    """A web process. It ends with gunicorn, else it would keep the port; sockets may be many."""

    CONFIG_KWARGS: ClassVar[dict[str, Any]] = {
        "loop": "uvloop",
        "http": Protocol,
        "ws": "none",
        "lifespan": "off",
        "access_log": False,
        "proxy_headers": False,
        "server_header": False,
        "timeout_graceful_shutdown": 2,
    }

    def init_process(self) -> None:
        """As of gunicorn."""
        end_with_parent(signal.SIGKILL)
        soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
        most = MOST_FILES if hard == resource.RLIM_INFINITY else min(hard, MOST_FILES)
        with contextlib.suppress(ValueError, OSError):
            resource.setrlimit(resource.RLIMIT_NOFILE, (max(soft, most), hard))
        super().init_process()
