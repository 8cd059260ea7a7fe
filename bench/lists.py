"""How long the first screen and the list of trials take, with a hundred trials and with ten thousand.

    PYTHONPATH=. .venv/bin/python bench/lists.py

In one process of the application, without HTTP, on a PostgreSQL of its own. Two kitchens, asked in turn, so
that a noisy machine hurts both alike: medians, and their ratio. Bounded: about three minutes.
"""

import os
import platform
import random
import shutil
import signal
import tempfile
import time
import uuid
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from tests.api.helpers import Client
from tests.conftest import new_database
from yeasty.api.app import Settings, create_app
from yeasty.cli import prepare
from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import TrialKind
from yeasty.process import cluster
from yeasty.store.ask.tables import DesignChange, Method, Trial
from yeasty.store.cook.tables import Shift
from yeasty.store.database import make_engine, session_factory
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.publish.tables import Publication

FEW, MANY, TIMES = 100, 10_000, 40
ASKED = (
    "/home",
    "/trials",
    "/trials?search=florets",
    "/trials?state=out",
    "/trials?state=cooking",
    "/trials?kind=ladder",
    "/trials?technique=steamer",
    "/trials?person={person}",
    "/trial-filters",
)
DISHES = ("yeast buns", "chickpeas", "cauliflower florets", "beetroot wedges", "flatbread", "rice pudding")


def fill(db: Session, many: int) -> str:
    """So many trials, all with ways, most with a shift that is over, some with a page; a person's id."""
    chance = random.Random(5)
    people = list(db.scalars(select(Person.id).limit(2)))
    keys, kinds, began = list(techniques()), list(TrialKind), datetime(2024, 1, 1, tzinfo=UTC)
    rows: dict[Any, list[dict[str, Any]]] = {
        Trial: [],
        Method: [],
        Shift: [],
        Publication: [],
        DesignChange: [],
    }
    for n in range(many):
        trial, at = uuid.uuid4(), began + timedelta(hours=2 * n)
        dish = chance.choice(DISHES)
        rows[Trial].append(
            {
                "id": trial,
                "title": f"{dish} {n}",
                "question": "Which is best?",
                "dish": dish,
                "kind": chance.choice(kinds).value,
                "fairness": "same_recipe",
                "done_rule": "by_state",
                "created_at": at,
                "updated_at": at,
            }
        )
        for k in range(3):
            rows[Method].append(
                {
                    "id": uuid.uuid4(),
                    "trial_id": trial,
                    "position": k,
                    "name": f"way {k}",
                    "technique": chance.choice(keys),
                    "mark": k,
                    "tag": f"W{k}",
                }
            )
        rows[DesignChange].append(
            {
                "id": uuid.uuid4(),
                "trial_id": trial,
                "version": 1,
                "at": at,
                "by": chance.choice(people),
                "what": "made",
                "changes": [],
            }
        )
        if chance.random() < 0.8:
            rows[Shift].append(
                {
                    "id": uuid.uuid4(),
                    "trial_id": trial,
                    "name": "first",
                    "serve_from": at,
                    "serve_until": at,
                    "ended_at": at,
                    "created_at": at,
                }
            )
        if chance.random() < 0.3:
            rows[Publication].append(
                {
                    "id": uuid.uuid4(),
                    "trial_id": trial,
                    "slug": f"page-{n}",
                    "version": 1,
                    "document": {},
                    "correction": "",
                    "published_at": at,
                    "published_by": people[0],
                    "withdrawn_why": "",
                    "from_elsewhere": False,
                }
            )
    for table, some in rows.items():
        db.bulk_insert_mappings(table.__mapper__, some)
    return str(people[1])


def made(server: cluster.Cluster, many: int) -> tuple[Client, str]:
    """A kitchen with so many trials more than the demo has, and the lead signed in."""
    url = new_database(server)
    prepare(url, demo=True, fresh=False)
    engine = make_engine(url)
    with session_factory(engine).begin() as db:
        person = fill(db, many)
    with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as c:
        c.execute(text("vacuum analyze"))
    engine.dispose()
    app = create_app(Settings(url))
    return Client(app.test_client()).sign_in("lead", "flour-water-salt"), person


def took(client: Client, path: str) -> float:
    """Milliseconds of one request."""
    began = time.perf_counter()
    answer = client.get(path)
    assert answer.status_code == 200, answer.json
    return (time.perf_counter() - began) * 1000


if __name__ == "__main__":
    folder = Path(tempfile.mkdtemp(prefix="yeasty-bench-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    running = cluster.start(folder / "pg")
    try:
        kitchens = [made(running, n) for n in (FEW, MANY)]
        print(f"{platform.machine()}, {os.cpu_count()} cores, load {os.getloadavg()[0]:.1f}")
        print(f"{'asked':<34}{FEW:>9}{MANY:>9}{'ratio':>8}   (median ms)")
        for path in ASKED:
            ms: list[list[float]] = [[], []]
            for n in range(TIMES + 3):
                for k, (client, person) in enumerate(kitchens):
                    one = took(client, path.format(person=person))
                    if n >= 3:
                        ms[k].append(one)
            few, many = median(ms[0]), median(ms[1])
            print(f"{path[:33]:<34}{few:>9.1f}{many:>9.1f}{many / few:>8.2f}")
    finally:
        running.stop(signal.SIGQUIT)
        shutil.rmtree(folder, ignore_errors=True)
