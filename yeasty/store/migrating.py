"""Bringing tables up to date. Not a part of `database`, so that web processes need not load what does it."""

from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import as_file, files
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, text

# Any fixed number: the lock that keeps two migrating processes apart.
MIGRATION_LOCK = 727_417_001


@contextmanager
def _config(connection: Any) -> Iterator[Config]:
    with as_file(files("yeasty.store").joinpath("migrations")) as folder:
        config = Config()
        config.set_main_option("script_location", str(folder))
        config.attributes["connection"] = connection
        yield config


def migrate(engine: Engine, revision: str = "head") -> None:
    """Bring the tables up to a revision. Safe to run by several processes at once: one works, the rest
    wait.
    """
    with engine.begin() as connection:
        connection.execute(text("select pg_advisory_xact_lock(:key)"), {"key": MIGRATION_LOCK})
        with _config(connection) as config:
            command.upgrade(config, revision)
