"""A kitchen of its own for a benchmark: PostgreSQL with fsync on, the demo, the program served. Loopback
only; gone afterwards.
"""

import shutil
import signal
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from tests.e2e.conftest import Served, serve, stop
from yeasty.cli import prepare
from yeasty.process import cluster


@dataclass
class Kitchen:
    """What runs: the program, and its database, which a fault may have to start again."""

    served: Served
    database: cluster.Cluster
    folder: Path


@contextmanager
def kitchen() -> Iterator[Kitchen]:
    """A served kitchen with the demo's data, stopped and removed at the end."""
    folder = Path(tempfile.mkdtemp(prefix="yeasty-bench-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    database = cluster.start(folder / "pg")
    prepare(database.url, demo=True, fresh=False)
    own = Kitchen(serve(database.url), database, folder)
    try:
        yield own
    finally:
        stop(own.served)
        own.database.stop(signal.SIGQUIT)
        shutil.rmtree(folder, ignore_errors=True)
