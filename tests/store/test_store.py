"""The tables: migrations, what may never change, and entries that are lost never and doubled never."""

import threading
import uuid
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import MetaData, func, literal_column, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from tests.conftest import copy_of, new_database, session
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import Refused
from yeasty.core.publish.archive import pack
from yeasty.operations.cook.replanning import replan
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.kitchen.erasing import delete_trial
from yeasty.operations.publish import archives
from yeasty.operations.publish.pages import withdraw
from yeasty.process import cluster
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.queries import append_entries
from yeasty.store.cook.tables import Batch, EntryRow, Shift
from yeasty.store.database import (
    DatabaseUnreachable,
    check_reachable,
    make_engine,
    normal_url,
    session_factory,
)
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Account, Role
from yeasty.store.kitchen.tables import Kitchen
from yeasty.store.migrating import migrate
from yeasty.store.publish.tables import Publication
from yeasty.store.tables import Base
from yeasty.store.taste.tables import AnswerRow, Seat, Tasting

MIGRATIONS = Path(__file__).parents[2] / "yeasty" / "store" / "migrations" / "versions"


def running_shift(db: Session) -> Shift:
    """The shift of the chickpeas, in the middle of cooking."""
    return db.scalars(
        select(Shift).join(Trial).where(Shift.ended_at.is_(None), Trial.dish == "chickpeas")
    ).one()


def a_note(
    shift: Shift, batch: Batch, counter: int, device: uuid.UUID | None = None, **other: Any
) -> EntryRow:
    values: dict[str, Any] = {
        "id": uuid.uuid4(),
        "shift_id": shift.id,
        "batch_id": batch.id,
        "kind": EntryKind.NOTE.value,
        "device_id": device or uuid.uuid4(),
        "counter": counter,
        "offset_ms": 0.0,
        "device_time": datetime.now(UTC),
        "server_time": datetime.now(UTC),
        "author_id": None,
        "payload": {"text": f"n{counter}"},
        "supersedes": None,
    }
    return EntryRow(**{**values, **other})


def test_migrations_bring_an_empty_database_to_the_models(empty_url: str) -> None:
    engine = make_engine(empty_url)
    migrate(engine)
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        found = [d for d in compare_metadata(context, Base.metadata) if "procrastinate" not in str(d)]
    assert found == []


# What stood in columns that are gone, told from where it stands now.
GONE = {
    "trial": {"room_c": "21.0", "weather": "'dry'"},
    "tasting": {
        "seed": "1",
        "part": "(select part from taste_round r where r.tasting_id = tasting.id)",
        "age_words": "(select age_words from taste_round r where r.tasting_id = tasting.id)",
    },
    "seat": {"order": '(select v."order" from serving v where v.seat_id = seat.id)'},
    "answer": {"value": "(said ->> 'value')::float", "comment": "''"},
}


def _as_an_answer(words: Any) -> dict[str, Any]:
    """A comment as it stood among the answers."""
    same = {k: words[k] for k in ("id", "seat_id", "sample_id", "given_at")}
    return {**same, "attribute_id": None, "value": None, "refused": False, "comment": words["text"]}


def _told_otherwise(db: Session) -> set[uuid.UUID]:
    """Trials with an answer that is no score: the first tables knew scores only."""
    others = select(Tasting.trial_id).join(Seat).join(AnswerRow).where(AnswerRow.attribute_id.is_(None))
    return set(db.scalars(others))


REVISIONS = sorted(p.name.split("_")[0] for p in MIGRATIONS.glob("0*.py"))


@pytest.fixture(scope="module")
def as_they_could_hold(server: cluster.Cluster, demo_template: str) -> str:
    """The demo without what earlier tables could not hold: other kinds of trial, answers without a score."""
    url = copy_of(server, demo_template, stays=True)
    with session(url) as db:
        lead = db.scalars(select(Account.person_id).where(Account.role == Role.LEAD)).first()
        assert lead
        scored = ("side_by_side", "one_change")
        for trial in db.scalars(select(Trial)).all():
            if trial.kind not in scored or trial.id in _told_otherwise(db):
                withdraw(db, trial.id, "newer than these tables")
                delete_trial(db, trial, by=lead, reason="newer than these tables")
        db.commit()
    return url


@pytest.fixture(scope="module")
def walked(server: cluster.Cluster) -> str:
    """A database that is taken from revision to revision."""
    return new_database(server, stays=True)


@pytest.mark.parametrize("revision", REVISIONS[:-1])
def test_a_kitchen_of_an_earlier_revision_comes_up_with_its_data(
    server: cluster.Cluster, walked: str, as_they_could_hold: str, revision: str
) -> None:
    """The demo laid into the tables as they were, as far as they could hold it; then brought up and read."""
    walking = make_engine(walked, pool=1)
    migrate(walking, revision)
    with walking.connect() as there:
        assert MigrationContext.configure(there).get_current_revision() == revision
    walking.dispose()
    url = copy_of(server, walked)
    old, full = make_engine(url, pool=1), make_engine(as_they_could_hold, pool=1)
    was = MetaData()
    was.reflect(old, only=lambda name, _: not name.startswith(("procrastinate_", "alembic_")))
    counts = {}
    with full.connect() as here, old.begin() as there:
        for table in was.sorted_tables:
            # A column that is gone today held something then.
            held = GONE.get(table.name, {})
            columns = [
                literal_column(held[c.name]).label(c.name) if c.name in held else c for c in table.columns
            ]
            query = select(*columns).select_from(table)
            rows = [dict(r) for r in here.execute(query).mappings()]
            if table.name == "entry":
                # What does not apply was not asked then.
                rows = [r for r in rows if r["kind"] != "stated"]
            counts[table.name] = len(rows)
            if table.name == "answer" and "comment" in table.columns:
                words = here.execute(text("select * from comment")).mappings().all()
                counts["comment"] = len(words)
                rows += [{**rows[0], **_as_an_answer(w)} for w in words]
            if rows:
                there.execute(table.insert(), rows)
    migrate(old)
    with session(url) as db:
        for name, count in counts.items():
            assert db.scalar(select(func.count()).select_from(Base.metadata.tables[name])) == count, name
        trial = db.scalars(select(Trial).where(Trial.title == "Filled yeast buns")).one()
        assert len(trial_measures(db, trial.id)) == 6
        if "room_c" in was.tables["trial"].columns:
            # Room and weather moved to the shifts they belong to.
            days = db.scalars(select(Shift).where(Shift.trial_id == trial.id)).all()
            assert {(s.room_c, s.weather) for s in days} == {(21.0, "dry")}
        assert pack(archives.export_rows(db, trial.id), archives.CSV_TABLES)
        assert trial.food_class == ("" if revision == "0001" else "plant")
        assert (trial.layout, trial.batches_each, trial.parent_trial_id) == ({}, 1, None)


def test_several_processes_may_migrate_at_once(empty_url: str) -> None:
    failed: list[Exception] = []

    def run() -> None:
        try:
            migrate(make_engine(empty_url, pool=1))
        except Exception as problem:
            failed.append(problem)

    threads = [threading.Thread(target=run) for _ in range(4)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert failed == []
    with make_engine(empty_url).connect() as c:
        assert c.execute(text("select count(*) from alembic_version")).scalar() == 1


def test_a_database_that_is_not_there_is_told_in_one_line() -> None:
    with pytest.raises(DatabaseUnreachable, match="Check DATABASE_URL"):
        check_reachable(make_engine("postgresql://x:y@127.0.0.1:1/none"))
    with pytest.raises(DatabaseUnreachable, match="must begin with"):
        normal_url("mysql://x")


@pytest.mark.parametrize("table", ["entry", "answer", "sample", "comment", "publication"])
def test_what_is_fixed_cannot_be_changed_or_deleted(demo_url: str, table: str) -> None:
    change = {
        "entry": "kind = 'note'",
        "answer": "refused = true",
        "sample": "code = '1'",
        "comment": "text = 'x'",
        "publication": "correction = 'x'",
    }[table]
    for statement in (f"update {table} set {change}", f"delete from {table}"):
        with session(demo_url) as db, pytest.raises(DBAPIError, match=r"append-only|frozen"):
            db.execute(text(statement))


def test_sending_entries_twice_changes_nothing_and_numbers_have_no_gap(demo_url: str) -> None:
    with session(demo_url) as db:
        shift = running_shift(db)
        before = shift.last_number
        rows = [a_note(shift, shift.batches[0], n) for n in range(5)]
        written, known = append_entries(db, shift.id, rows)
        db.commit()
        assert [r.number for r in written] == [before + 1 + n for n in range(5)]
        copies = [a_note(shift, shift.batches[0], n, id=r.id) for n, r in enumerate(rows)]
        written, known = append_entries(db, shift.id, copies + copies[:1])
        db.commit()
        assert written == []
        assert set(known) == {r.id for r in rows}
        db.refresh(shift)
        assert shift.last_number == before + 5


def test_writers_at_once_get_numbers_of_their_own(demo_url: str) -> None:
    sessions = session_factory(make_engine(demo_url, pool=8))
    with sessions() as db:
        shift = running_shift(db)
        shift_id, batch = shift.id, shift.batches[0]
        before = shift.last_number

    def write() -> None:
        device = uuid.uuid4()
        for n in range(15):
            with sessions() as db:
                append_entries(db, shift_id, [a_note(shift, batch, n, device)])
                db.commit()

    threads = [threading.Thread(target=write) for _ in range(6)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    with sessions() as db:
        numbers = sorted(
            db.scalars(select(EntryRow.number).where(EntryRow.shift_id == shift_id, EntryRow.number > before))
        )
    assert numbers == list(range(before + 1, before + 91))


def test_failed_sign_ins_are_counted_in_the_database(demo_url: str) -> None:
    with session(demo_url) as db:

        def once(login: str, address: str) -> None:
            people.count_try(
                db, "sign-in", login, address, most=people.MOST_BY_LOGIN, most_in_all=people.MOST_BY_ADDRESS
            )

        for _ in range(people.MOST_BY_LOGIN):
            once("Lead", "10.0.0.1")
        with pytest.raises(people.TooManyTries) as many:
            once("LEAD ", "10.0.0.1")
        assert 800 < many.value.wait_s <= 900
        # A hostile address locks out nobody who comes from elsewhere, and no other login; nor does another
        # kind of try.
        once("lead", "10.0.0.2")
        once("cook", "10.0.0.1")
        people.count_try(db, "reader", "lead", "10.0.0.1", most=1, most_in_all=1)
        people.forget_tries(db, "sign-in", "lead", "10.0.0.1")
        once("lead", "10.0.0.1")
        for n in range(people.MOST_BY_ADDRESS):
            once(f"someone {n}", "10.0.0.3")
        with pytest.raises(people.TooManyTries):
            once("anyone", "10.0.0.3")


def test_a_login_is_taken_whatever_its_case_and_erasing_leaves_a_tombstone(demo_url: str) -> None:
    with session(demo_url) as db:
        with pytest.raises(Refused, match="taken"):
            people.add_account(db, name="x", login="LEAD", password_hash="x", role=Role.COOK)
        account = people.account_by_login(db, "cook")
        assert account is not None
        people.erase_person(db, account.person_id, "asked for it")
        assert account.person.name == "erased"
        assert account.person.erased_reason == "asked for it"


def test_the_demo_is_what_its_records_say(demo_url: str) -> None:
    with session(demo_url) as db:
        trial = db.scalars(select(Trial).where(Trial.title == "Filled yeast buns")).one()
        measured = trial_measures(db, trial.id)
        assert len(measured) == 6
        for batch, m in measured:
            assert m.complete, batch.method.tag
            assert m.core_met, (batch.method.tag, m.highest_core_c)
            assert m.highest_core_c is not None
            assert m.highest_core_c <= (115 if batch.method.tag == "PS" else 100)
        assert sum(m.standing == "handling error" for _, m in measured) == 1
        page = db.scalars(select(Publication).where(Publication.trial_id == trial.id)).one()
        assert page.document["recipe"]["method"] == "Air fryer"
        assert db.get_one(Kitchen, 1).price_per_kwh is not None


def test_a_new_plan_never_moves_what_has_begun(demo_url: str) -> None:
    with session(demo_url) as db:
        shift = running_shift(db)
        first = replan(db, shift.id, datetime.now(UTC).timestamp())
        entries = {
            e.payload.get("step"): e.device_time.timestamp()
            for e in db.scalars(select(EntryRow).where(EntryRow.shift_id == shift.id))
        }
        second = replan(db, shift.id, datetime.now(UTC).timestamp())
        kept = {(i["batch"], i["step"]): (i["start"], i["end"]) for i in first.items}
        assert {(i["batch"], i["step"]): (i["start"], i["end"]) for i in second.items} == kept
        done = [i for i in second.items if i["step"] in entries]
        assert done
        assert all(abs(i["end"] - entries[i["step"]]) < 1 for i in done)
        assert second.number == first.number + 1
