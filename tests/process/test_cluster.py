"""The program's role in its own cluster: it owns its database, and nothing of the server."""

import shutil
import signal
import tempfile
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from yeasty.api.app import Settings, create_app
from yeasty.cli import prepare
from yeasty.process import cluster
from yeasty.process.backup import backup, restore


@pytest.fixture
def own() -> Iterator[tuple[Path, cluster.Cluster]]:
    folder = Path(tempfile.mkdtemp(prefix="yeasty-cluster-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    running = cluster.start(folder / "pg", durable=False)
    there = [running]
    yield folder, running
    there[0].stop(signal.SIGQUIT)
    shutil.rmtree(folder, ignore_errors=True)


def rights(url: str) -> tuple[bool, ...]:
    with psycopg.connect(url) as db:
        found = db.execute(
            "select rolsuper, rolcreatedb, rolcreaterole, rolreplication, rolbypassrls from pg_roles where "
            "rolname = current_user"
        ).fetchone()
    assert found
    return found


def test_the_program_works_without_any_right_of_the_server(own: tuple[Path, cluster.Cluster]) -> None:
    folder, running = own
    prepare(running.url, demo=False, fresh=False)
    assert rights(running.url) == (False,) * 5
    with psycopg.connect(running.url) as db, pytest.raises(psycopg.errors.InsufficientPrivilege):
        db.execute("copy kitchen to program 'cat'")
    with psycopg.connect(running.url) as db, pytest.raises(psycopg.errors.InsufficientPrivilege):
        db.execute("select pg_read_file('pg_hba.conf')")
    prepare(running.url, demo=False, fresh=True)
    assert (folder / "pg.role-password").stat().st_mode & 0o077 == 0


def test_a_cluster_of_an_earlier_version_is_handed_over_with_all_that_is_in_it(
    own: tuple[Path, cluster.Cluster],
) -> None:
    folder, running = own
    old_url = running.owner_url.rsplit("/", 1)[0] + "/yeasty"
    with psycopg.connect(running.owner_url, autocommit=True) as db:
        db.execute("drop database yeasty")
        db.execute(f"drop role {cluster.ROLE}")
        db.execute("create database yeasty")
    prepare(old_url, demo=True, fresh=True)
    with psycopg.connect(old_url) as db:
        before = db.execute("select count(*) from entry").fetchone()
    running.stop()
    (folder / "pg.role-password").unlink()

    again = cluster.start(folder / "pg", port=running.port, durable=False)
    try:
        assert rights(again.url) == (False,) * 5
        with psycopg.connect(again.url) as db:
            assert db.execute("select count(*) from entry").fetchone() == before
            left = db.execute(
                "select relname from pg_class where relnamespace = 'public'::regnamespace and relowner <> "
                "current_user::regrole"
            ).fetchall()
            assert left == []
        prepare(again.url, demo=True, fresh=False)
        with psycopg.connect(again.url, autocommit=True) as db:
            # What an upgrade does: tables, types, functions and the schema are the role's to change.
            db.execute("alter table entry add column tried int")
            db.execute("create type tried as enum ('a')")
        prepare(again.url, demo=False, fresh=True)
    finally:
        again.stop(signal.SIGQUIT)


def test_a_backup_and_a_restore_show_no_password_and_end_every_session(
    own: tuple[Path, cluster.Cluster], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    import subprocess

    _, running = own
    prepare(running.url, demo=True, fresh=False)
    told: list[str] = []
    real = subprocess.run

    def run(command: list[str], *args: object, **more: object) -> object:
        told.extend(command)
        return real(command, *args, **more)  # type: ignore[call-overload]

    def sign_in_and_ask(cookie: str = "") -> tuple[str, int]:
        client = create_app(Settings(running.url, testing=True)).test_client()
        if cookie:
            client.set_cookie("yeasty", cookie)
        else:
            token = client.get("/api/v1/session").json["csrf"]
            client.post(
                "/api/v1/session",
                json={"login": "lead", "password": "flour-water-salt"},
                headers={"X-CSRFToken": token},
            )
        there = client.get_cookie("yeasty")
        assert there
        return there.value, client.get("/api/v1/trials").status_code

    cookie, status = sign_in_and_ask()
    assert (status, sign_in_and_ask(cookie)[1]) == (200, 200)
    monkeypatch.setattr(subprocess, "run", run)
    backup(running.url, tmp_path / "kept")
    restore(running.url, tmp_path / "kept")
    assert told
    assert not [word for word in told if running.password in word]
    assert sign_in_and_ask(cookie)[1] == 401
    assert sign_in_and_ask()[1] == 200
