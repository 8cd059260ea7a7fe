"""Alembic's entry: runs on the connection it is given, inside its transaction."""

from alembic import context

import yeasty.store.tables  # noqa: F401
from yeasty.store.base import Base


def run() -> None:
    """Run migrations on the connection handed over by `yeasty.store.database`."""
    context.configure(
        connection=context.config.attributes["connection"],
        target_metadata=Base.metadata,
        compare_type=True,
        include_name=lambda name, kind, parent: (
            not (kind == "table" and (name or "").startswith("procrastinate_"))
        ),
    )
    context.run_migrations()


run()
