"""What was really done in a trial's judged batches, as facts to compare; the log's authors by name."""

import uuid
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.as_done import Departure, done_facts
from yeasty.core.cook.measures import Standing
from yeasty.core.kernel.quantities import System
from yeasty.core.setup.differences import Fact
from yeasty.operations.cook.shifts import trial_measures
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.queries import entries_of_trial, newest_plans_of_trial
from yeasty.store.cook.tables import EntryRow
from yeasty.store.kitchen.people_tables import Person


def facts_as_done(
    db: Session, trial: Trial, system: System
) -> tuple[dict[str, dict[str, Fact]], list[tuple[str, int, Departure]]]:
    """Facts by batch ("OV", "OV 2") and departures as (tag, replicate, departure).

    Batches that are void or spoiled by handling, or not finished, are left out: they are not judged either.
    """
    rows: dict[uuid.UUID, list[EntryRow]] = {}
    for row in entries_of_trial(db, trial.id):
        if row.batch_id is not None:
            rows.setdefault(row.batch_id, []).append(row)
    names = _authors(db, [r for some in rows.values() for r in some])
    plans = newest_plans_of_trial(db, trial.id)
    columns: dict[str, dict[str, Fact]] = {}
    departures: list[tuple[str, int, Departure]] = []
    for batch, measured in trial_measures(db, trial.id):
        if measured.standing is not Standing.JUDGED or not measured.complete:
            continue
        mine = rows.get(batch.id, [])
        plan = plans[batch.shift_id].planned() if batch.shift_id in plans else []
        who = list(dict.fromkeys(names[r.author_id] for r in mine if r.author_id in names))
        facts, away = done_facts(batch.chain(), plan, [r.core() for r in mine], measured, who, system)
        label = (
            batch.method.tag
            if batch.replicate == 1 and batch.method.tag not in columns
            else f"{batch.method.tag} {len(columns) + 1}"
        )
        columns[label] = facts
        departures += [(batch.method.tag, batch.replicate, d) for d in away]
    return columns, departures


def _authors(db: Session, rows: Sequence[EntryRow]) -> dict[uuid.UUID | None, str]:
    ids = {r.author_id for r in rows if r.author_id}
    found = db.execute(select(Person.id, Person.name).where(Person.id.in_(ids))).all() if ids else []
    return {r.id: r.name for r in found}
