"""What gunicorn serves; told by its environment."""

import gc
import os

import structlog

from yeasty.api.app import Settings, create_app

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

app = create_app(
    Settings(
        database_url=os.environ["DATABASE_URL"],
        tls=bool(os.environ.get("YEASTY_TLS")),
        authority=os.environ.get("YEASTY_AUTHORITY", ""),
        public_address=os.environ.get("YEASTY_PUBLIC_ADDRESS", ""),
        reckoner=os.environ.get("YEASTY_RECKONER", ""),
    )
)

# A large design is thousands of short-lived objects; without this the collector walks the whole program in the middle
# of answers (see docs/measured.md). What was loaded at the start stays and need not be walked.
gc.collect()
gc.freeze()
gc.set_threshold(50_000, 20, 100)
