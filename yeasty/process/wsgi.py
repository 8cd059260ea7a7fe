"""What a web process serves; told by its environment."""

import gc
import os

import structlog

from yeasty.api.app import Settings, create_app
from yeasty.api.guard import most_bytes
from yeasty.api.live import MOST_STREAMS
from yeasty.process.intake import Intake

# Requests that are worked on at once in a process; others wait for a thread, which none of them holds before
# it is whole.
THREADS = 24

structlog.configure(
    processors=[
        structlog.contextvars.merge_contextvars,
        structlog.processors.add_log_level,
        structlog.processors.TimeStamper(fmt="iso", utc=True),
        structlog.processors.dict_tracebacks,
        structlog.processors.JSONRenderer(),
    ],
    wrapper_class=structlog.make_filtering_bound_logger(20 if os.environ.get("YEASTY_LOG") else 30),
    logger_factory=structlog.PrintLoggerFactory(),
)

flask_app = create_app(
    Settings(
        database_url=os.environ["DATABASE_URL"],
        tls=bool(os.environ.get("YEASTY_TLS")),
        https_only=bool(os.environ.get("YEASTY_HTTPS_ONLY")),
        authority=os.environ.get("YEASTY_AUTHORITY", ""),
        public_address=os.environ.get("YEASTY_PUBLIC_ADDRESS", ""),
        reckoner=os.environ.get("YEASTY_RECKONER", ""),
    )
)

app = Intake(
    flask_app,
    threads=THREADS,
    streams=MOST_STREAMS + 4,
    is_stream=lambda path: path.endswith("/stream"),
    most=lambda headers: most_bytes(
        flask_app, headers.get(b"cookie", b"").decode("latin-1"), b"authorization" in headers
    ),
)

# A large design is thousands of short-lived objects; without this the collector walks the whole program in
# the middle of answers (see docs/measured.md). What was loaded at the start stays and need not be walked.
gc.collect()
gc.freeze()
gc.set_threshold(50_000, 20, 100)
