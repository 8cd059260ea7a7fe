"""How long a fresh verdict takes on a trial of 48 ways and 2,016 answers, read from and kept in PostgreSQL,
as the worker makes it; and how long it takes to see that nothing has changed.

    PYTHONPATH=. .venv/bin/python bench/verdicts.py [ways] [people]

Medians of five; beside them a sort of a million numbers on the same machine as a yardstick.
"""

import shutil
import signal
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from random import Random
from statistics import median
from types import SimpleNamespace
from typing import Any

from sqlalchemy import delete, select

from yeasty.cli import prepare
from yeasty.core.ask.trial import TrialKind
from yeasty.demo.evening import Ask, Evening, _taste, _trial, cook_once
from yeasty.operations.decide.analysis import analyse
from yeasty.operations.decide.decisions import decision_of
from yeasty.process import cluster
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.database import make_engine, session_factory
from yeasty.store.decide.tables import Analysis
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.kitchen.queries import all_appliances
from yeasty.store.taste.tables import AnswerRow, Seat, Tasting

AN_EVENING, MOST_SAMPLES = 2, 24


def lay_out(db: Any, ways: int, people: int) -> Trial:
    """A trial of so many ways, each cooked once and tasted by everybody."""
    chance = Random(7)
    truth = [chance.uniform(3, 8) for _ in range(ways)]
    techniques = ("griddle", "oven", "air_fryer", "steamer")
    evening = Evening(
        f"Flatbread, {ways} ways",
        "flatbread",
        TrialKind.SIDE_BY_SIDE,
        "Which?",
        "Softness.",
        [(techniques[n % 4], f"Way {n}", f"W{n}") for n in range(ways)],
        (Ask("Softness", 1.0, "tough", "soft", truth),),
        lots={"wheat flour": (0.14, ("gluten",)), "water": (0.09, ())},
    )
    lead = db.scalars(select(Account).where(Account.login == "lead")).one()
    trial = _trial(db, evening, {a.name: a for a in all_appliances(db)})
    eaters = [Person(name=f"Eater {n}") for n in range(people)]
    db.add_all(eaters)
    db.flush()
    batches: list[Any] = []
    for n in range(0, ways, AN_EVENING):
        at = (now() - timedelta(days=60 - n)).replace(hour=18, minute=30, second=0, microsecond=0)
        shift = cook_once(db, trial, trial.methods[n : n + AN_EVENING], lead, at, (f"Evening {n}", 1, n))
        batches += shift.batches
    for n in range(0, ways, MOST_SAMPLES):
        some, at = batches[n : n + MOST_SAMPLES], now() - timedelta(days=4 - n // MOST_SAMPLES)
        table = SimpleNamespace(batches=some, serve_from=at, name=f"Long table {n}")
        _taste(db, evening, trial, table, eaters, lead, chance)
    db.commit()
    return trial


def timed(what: Callable[[], object]) -> float:
    """Median of five [s]."""
    found = []
    for _ in range(5):
        begin = time.perf_counter()
        what()
        found.append(time.perf_counter() - begin)
    return median(found)


def main() -> None:
    ways, people = (int(a) for a in (sys.argv[1:3] or ["48", "42"]))
    folder = Path(tempfile.mkdtemp(prefix="yeasty-bench-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    server = cluster.start(folder / "pg")
    try:
        prepare(server.url, demo=True, fresh=False)
        engine = make_engine(server.url, pool=1)
        make = session_factory(engine)
        with make() as db:
            trial_id = lay_out(db, ways, people).id

        def fresh() -> None:
            with make() as db:
                db.execute(delete(Analysis).where(Analysis.trial_id == trial_id))
                db.commit()
            with make() as db:
                analyse(db, trial_id)
                db.commit()

        def unchanged() -> None:
            with make() as db:
                assert decision_of(db, trial_id).fresh

        chance = Random(5)
        numbers = [chance.random() for _ in range(1_000_000)]
        yard = timed(lambda: sorted(numbers))
        took, seen = timed(fresh), timed(unchanged)
        with make() as db:
            seats = select(Seat.id).join(Tasting).where(Tasting.trial_id == trial_id)
            given = len(db.scalars(select(AnswerRow.id).where(AnswerRow.seat_id.in_(seats))).all())
        engine.dispose()
        print(f"yardstick {yard:.2f} s")
        print(
            f"fresh verdict, {ways} ways, {given} answers: {took:.2f} s, {took / yard:.1f} of the yardstick"
        )
        print(f"seen to be unchanged: {seen * 1000:.0f} ms, {seen / yard:.2f} yardsticks")
    finally:
        server.stop(signal.SIGQUIT)
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
