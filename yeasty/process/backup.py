"""Backup and restore by PostgreSQL's own programs."""

import os
import secrets
import subprocess
import uuid
from pathlib import Path

from sqlalchemy import URL, make_url

from yeasty.process.cluster import programs
from yeasty.process.serve import CannotStart
from yeasty.store.database import make_engine, plain_url, session_factory
from yeasty.store.kitchen.tables import Kitchen
from yeasty.store.migrating import migrate


def _run(name: str, url: str, arguments: list[str]) -> None:
    """Run one of PostgreSQL's programs; what everybody on the machine can read of it, its command line, holds
    no password.
    """
    where = make_url(plain_url(url))
    shown = URL.create(
        where.drivername, where.username, None, where.host, where.port, where.database, where.query
    )
    done = subprocess.run(
        [str(programs() / name), f"--dbname={shown.render_as_string()}", *arguments],
        env={**os.environ, "PGPASSWORD": where.password or ""} if where.password else None,
        capture_output=True,
        text=True,
        check=False,
        cwd="/",
    )
    if done.returncode:
        lines = done.stderr.strip().splitlines()
        raise CannotStart(f"{name} failed: {lines[0] if lines else 'no reason given'}")


def backup(url: str, target: Path) -> None:
    """Write the whole database to one file, readable by its owner only; never over an existing one."""
    if target.exists():
        raise CannotStart(f"{target} exists. Give another name; a backup never overwrites.")
    try:
        os.close(os.open(target, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
    except OSError as failed:
        raise CannotStart(f"Can't write {target}: {failed.strerror}.") from None
    try:
        _run("pg_dump", url, ["--format=custom", "--no-owner", f"--file={target.resolve()}"])
    except CannotStart:
        target.unlink(missing_ok=True)
        raise


def restore(url: str, source: Path) -> None:
    """Replace the database by a backup, all or nothing, and give it a new incarnation.

    Devices see the new incarnation and send again what they still hold: what was tapped after the backup was
    made comes back from them. Everyone has to sign in again: sessions are signed for an incarnation.
    """
    if not source.is_file():
        raise CannotStart(f"There is no file {source}.")
    _run(
        "pg_restore",
        url,
        [
            "--clean",
            "--if-exists",
            "--no-owner",
            "--single-transaction",
            str(source.resolve()),
        ],
    )
    engine = make_engine(url, pool=1)
    migrate(engine)
    with session_factory(engine).begin() as db:
        kitchen = db.get_one(Kitchen, 1)
        kitchen.incarnation = uuid.uuid4()
    engine.dispose()


def new_secret() -> str:
    """A key for cookies and links of a new kitchen."""
    return secrets.token_urlsafe(48)
