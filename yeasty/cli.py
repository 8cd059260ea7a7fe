"""The command line: serve, backup, restore, import, export, pages, simulate."""

import argparse
import json
import os
import signal
import sys
import uuid
from pathlib import Path

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.filled import filled
from yeasty.process import serve as serving
from yeasty.process.backup import backup, new_secret, restore
from yeasty.process.serve import CannotStart, Options
from yeasty.store.database import DatabaseUnreachable, check_reachable, make_engine, session_factory
from yeasty.store.kitchen.tables import Kitchen
from yeasty.store.migrating import migrate


def prepare(url: str, *, demo: bool, fresh: bool) -> list[str]:
    """Bring the tables up to date, make the kitchen's row, lay out the demo; lines to print."""
    from yeasty.demo.sign_ins import sign_ins

    engine = make_engine(url, pool=2)
    check_reachable(engine)
    if fresh:
        from sqlalchemy import text

        with engine.begin() as connection:
            connection.execute(text("drop schema public cascade"))
            connection.execute(text("create schema public"))
    migrate(engine)
    with session_factory(engine).begin() as db:
        row = db.get(Kitchen, 1)
        if row is None:
            db.add(Kitchen(id=1, name="Test kitchen", secret=new_secret()))
            db.flush()
            if demo:
                # Loads the solver, and what draws curves: only where there is something to lay out.
                from yeasty.demo.kitchen import lay_out
                from yeasty.operations.publish.at_risk import keep_all_telling

                lay_out(db)
                keep_all_telling(db)
        lines = sign_ins(db)
    engine.dispose()
    return lines or ["  First time: open it and make the lead's account."]


def _options(args: argparse.Namespace) -> Options:
    return filled(Options, args, database_url=os.environ.get("DATABASE_URL", ""))


def _serve(args: argparse.Namespace) -> int:
    fresh = args.fresh
    if fresh and not args.yes:
        if not sys.stdin.isatty():
            raise CannotStart("--fresh throws away what is here. Answer yes at a terminal, or add --yes.")
        if (
            input("Throw away everything in this kitchen and start again? Type yes: ").strip().lower()
            != "yes"
        ):
            print("Nothing was changed.")
            return 0
    return serving.serve(_options(args), lambda url: prepare(url, demo=not args.empty, fresh=fresh))


def _with_database(work) -> int:  # type: ignore[no-untyped-def]
    with serving.database(Options(database_url=os.environ.get("DATABASE_URL", ""))) as data:
        work(data.url)
    return 0


def _backup(args: argparse.Namespace) -> int:
    def work(url: str) -> None:
        backup(url, Path(args.file))
        print(f"Written: {args.file}")

    return _with_database(work)


def _restore(args: argparse.Namespace) -> int:
    if not args.yes:
        raise CannotStart("A restore replaces everything in this kitchen. Add --yes to do it.")

    def work(url: str) -> None:
        restore(url, Path(args.file))
        print(f"Restored from {args.file}")

    return _with_database(work)


def _export(args: argparse.Namespace) -> int:
    from yeasty.core.publish.archive import pack
    from yeasty.operations.publish import archives

    def work(url: str) -> None:
        with session_factory(make_engine(url, pool=1)).begin() as db:
            Path(args.file).write_bytes(
                pack(archives.export_rows(db, uuid.UUID(args.trial)), archives.CSV_TABLES)
            )
        print(f"Written: {args.file}")

    return _with_database(work)


def _pages(args: argparse.Namespace) -> int:
    from yeasty.operations.publish.static import write_pages

    def work(url: str) -> None:
        with session_factory(make_engine(url, pool=1)).begin() as db:
            written = write_pages(db, Path(args.folder))
        print(f"{len(written)} files written to {args.folder}; open index.html.")

    return _with_database(work)


def _import(args: argparse.Namespace) -> int:
    from yeasty.api.publish.archive_rows import problems_of
    from yeasty.core.publish.archive import BadArchive, unpack
    from yeasty.operations.publish import archive_in

    def work(url: str) -> None:
        engine = make_engine(url, pool=1)
        migrate(engine)
        with session_factory(engine).begin() as db:
            contents = unpack(Path(args.file).read_bytes())
            problems = problems_of(contents.tables)
            if problems:
                raise BadArchive(problems)
            print(f"Imported trial {archive_in.import_rows(db, contents)}")

    return _with_database(work)


def _openapi(args: argparse.Namespace) -> int:
    """Write the description of the API; the front end's client is generated from it."""
    from yeasty.api.describe import description

    Path(args.file).write_text(json.dumps(description(), indent=1, sort_keys=True) + "\n", "utf-8")
    return 0


def _simulate(args: argparse.Namespace) -> int:
    from getpass import getpass

    from yeasty.devices.kitchen import Kitchen as Served
    from yeasty.devices.simulate import Simulation, simulated_shift

    served = Served(args.address)
    password = os.environ.get("YEASTY_PASSWORD") or (
        getpass(f"Password of {args.login}: ") if sys.stdin.isatty() else ""
    )
    try:
        served.sign_in(args.login, password)
        shift = args.shift or simulated_shift(served, args.trial, args.speed, args.serve_in)
        print(
            f"Shift {shift}. Open Cook of its trial to watch. Ctrl-C stops the devices; the shift's clock "
            f"goes on.",
            flush=True,
        )
        run = Simulation(
            served,
            shift,
            seed=args.seed,
            faults=not args.no_faults,
            hands=args.hands,
            say=lambda words: print(words, flush=True),
        )
        run.run(60 * args.minutes if args.minutes else None)
    except KeyboardInterrupt:
        print("Devices stopped.")
    except OSError as away:
        raise CannotStart(
            f"{args.address} does not answer ({away}). Start ./run first, or give --address."
        ) from None
    return 0


def main() -> int:
    """Parse and run; a refusal is one line on standard error."""
    parser = argparse.ArgumentParser(
        prog="yeasty", description="Yeasty Trial: from question to published method."
    )
    sub = parser.add_subparsers(dest="command", required=True)
    s = sub.add_parser("serve", help="start everything and serve")
    s.add_argument("--port", type=int, default=8765)
    s.add_argument(
        "--host", default="127.0.0.1", help="for tablets: 0.0.0.0 or this machine's address; serves over TLS"
    )
    s.add_argument("--certificate", default="", help="a certificate of your own (PEM)")
    s.add_argument("--key", default="", help="its key (PEM)")
    s.add_argument(
        "--plain-http", action="store_true", help="no TLS beyond loopback, as behind a proxy of your own"
    )
    s.add_argument(
        "--public-address", default="", help="address that taster links carry, as https://kitchen.example"
    )
    s.add_argument("--fresh", action="store_true", help="start from the demo again, after asking")
    s.add_argument("--empty", action="store_true", help="start without demo data")
    s.add_argument("--yes", action="store_true", help="answer yes")
    s.set_defaults(work=_serve)
    for name, work, what in (
        ("backup", _backup, "write a backup"),
        ("restore", _restore, "replace all by a backup"),
        ("import", _import, "import a trial's archive"),
        ("openapi", _openapi, "describe the API"),
    ):
        p = sub.add_parser(name, help=what)
        p.add_argument("file")
        p.add_argument("--yes", action="store_true")
        p.set_defaults(work=work)
    v = sub.add_parser("simulate", help="drive stand-in devices for a shift on simulated time")
    v.add_argument("--address", default="http://127.0.0.1:8765", help="where the kitchen is served")
    v.add_argument(
        "--login", default="lead", help="whose password is asked for, or taken from YEASTY_PASSWORD"
    )
    v.add_argument(
        "--shift", default="", help="id of a shift on simulated time (the last part of its bench's address)"
    )
    v.add_argument("--trial", default="buns", help="without --shift: a word of the trial to make one of")
    v.add_argument(
        "--serve-in",
        type=float,
        default=100,
        help="without --shift: minutes until the plates meet, on the shift's clock",
    )
    v.add_argument("--speed", type=float, default=20, help="1 to 60 seconds of the shift to a second")
    v.add_argument("--hands", action="store_true", help="tap what falls due too, as a cook would")
    v.add_argument(
        "--no-faults", action="store_true", help="no probe is pulled out, none touches metal, no battery dies"
    )
    v.add_argument("--seed", type=int, default=1)
    v.add_argument(
        "--minutes", type=float, default=0, help="stop after so many real minutes; else with the shift"
    )
    v.set_defaults(work=_simulate)
    e = sub.add_parser("export", help="write a trial's archive")
    e.add_argument("trial")
    e.add_argument("file")
    e.set_defaults(work=_export)
    o = sub.add_parser("pages", help="write every published page as plain files into a folder")
    o.add_argument("folder")
    o.set_defaults(work=_pages)
    args = parser.parse_args()
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)
    try:
        return int(args.work(args))
    except (CannotStart, DatabaseUnreachable, RuleError) as refused:
        print(f"yeasty: {refused}", file=sys.stderr)
        return 2


if __name__ == "__main__":
    sys.exit(main())
