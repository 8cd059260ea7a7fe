"""A trial out to an archive and in again: the same rows, and nothing in force that a stranger wrote."""

import io
import uuid
import zipfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import func, select

from tests.conftest import session
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.archive import BadArchive, Contents, pack, schema, unpack
from yeasty.core.taste.said import SaidValue
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.publish import archive_in, archives
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Batch, EntryRow, Shift
from yeasty.store.database import (
    make_engine,
    session_factory,
)
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.kitchen.tables import Kitchen
from yeasty.store.migrating import migrate
from yeasty.store.taste.tables import AnswerRow, Sample, Tasting

ARCHIVES = Path(__file__).parents[1] / "archives"


def exported(url: str, trial_id: uuid.UUID) -> bytes:
    with session(url) as db:
        return pack(archives.export_rows(db, trial_id), archives.CSV_TABLES)


def bun_trial(url: str) -> uuid.UUID:
    with session(url) as db:
        return db.scalars(select(Trial.id).where(Trial.title == "Filled yeast buns")).one()


def members_but_pictures(data: bytes) -> dict[str, bytes]:
    """What an archive holds, without pictures (decoded and written anew at an import) and the sums over
    them.
    """
    source = zipfile.ZipFile(io.BytesIO(data))
    return {
        n: source.read(n) for n in source.namelist() if not n.startswith("photos/") and n != "manifest.json"
    }


def empty_kitchen(url: str) -> Any:
    engine = make_engine(url)
    migrate(engine)
    sessions = session_factory(engine)
    with sessions.begin() as db:
        db.add(Kitchen(id=1, name="other", secret="s" * 32))
    return sessions


def test_out_into_an_empty_kitchen_and_out_again_gives_the_same_rows(demo_url: str, empty_url: str) -> None:
    trial_id = bun_trial(demo_url)
    first = exported(demo_url, trial_id)
    with empty_kitchen(empty_url).begin() as db:
        assert archive_in.import_rows(db, unpack(first)) == trial_id
    again = exported(empty_url, trial_id)
    assert members_but_pictures(again) == members_but_pictures(first)
    pictures = set(unpack(first).photos)
    assert set(unpack(again).photos) == pictures
    assert all(data[:3] == b"\xff\xd8\xff" for data in unpack(again).photos.values())


def test_what_carries_authority_arrives_as_said_elsewhere(demo_url: str, empty_url: str) -> None:
    from yeasty.operations.taste.gathered import scopes_of
    from yeasty.store.publish.queries import by_slug

    contents = unpack(exported(demo_url, bun_trial(demo_url)))
    with empty_kitchen(empty_url).begin() as db:
        trial_id = archive_in.import_rows(db, contents)
        slug = contents.tables["publication"][0]["slug"]
        assert by_slug(db, slug) is None
        assert scopes_of(db, trial_id) == []
        assert all(p.from_elsewhere and p.contact == "" for p in db.scalars(select(Person)))


def test_a_stranger_writes_nothing_as_somebody_of_this_kitchen(demo_url: str, empty_url: str) -> None:
    contents = unpack(exported(demo_url, bun_trial(demo_url)))
    sessions = empty_kitchen(empty_url)
    lead = uuid.UUID(contents.tables["entry"][0]["author_id"])
    with sessions.begin() as db:
        db.add(Person(id=lead, name="The lead here"))
    with sessions.begin() as db:
        archive_in.import_rows(db, contents)
    with sessions() as db:
        assert db.get_one(Person, lead).name == "The lead here"
        assert db.scalar(select(func.count()).where(EntryRow.author_id == lead)) == 0


@pytest.mark.parametrize("version", [4, 5, 6, 7, 8, 9, 10, 11, 12])
def test_a_stored_archive_of_each_version_that_is_still_read_comes_in(version: int, empty_url: str) -> None:
    from yeasty.api.publish.archive_rows import problems_of

    contents = unpack((ARCHIVES / f"version-{version}.yeasty.zip").read_bytes())
    assert problems_of(contents.tables) == []
    with empty_kitchen(empty_url).begin() as db:
        trial_id = archive_in.import_rows(db, contents)
        assert len(trial_measures(db, trial_id)) == 6
        loads = [b.facts.get("together") for b, _ in trial_measures(db, trial_id)]
        assert loads.count("pot 1, round 1") == (6 if version == 7 else 0)
        tastings = db.scalars(select(Tasting)).all()
        assert len(tastings) == len(contents.tables["tasting"]) == (0 if version == 7 else 1)
        for tasting in tastings:
            assert {q["name"] for q in tasting.questions} == {a["name"] for a in contents.tables["attribute"]}
    assert pack(unpack(exported(empty_url, trial_id)), archives.CSV_TABLES)


def test_the_shipped_schema_is_that_of_the_tables() -> None:
    assert schema() == archives.archive_schema()


NOBODY = "00000000-0000-4000-8000-000000000001"


def changed(contents: Contents, table: str, column: str, value: Any) -> Contents:
    tables = {name: [dict(r) for r in rows] for name, rows in contents.tables.items()}
    tables[table][0][column] = value
    return Contents(tables, contents.photos)


@pytest.mark.parametrize(
    ("table", "column", "value", "word"),
    [
        (
            "step",
            "method_id",
            NOBODY,
            "names a method that is not in the archive",
        ),
        ("entry", "device_time", "yesterday", "does not fit"),
        ("batch", "id", NOBODY, "names a batch"),
    ],
)
def test_rows_that_refer_to_nothing_are_refused_and_nothing_is_written(
    demo_url: str, empty_url: str, table: str, column: str, value: Any, word: str
) -> None:
    contents = changed(unpack(exported(demo_url, bun_trial(demo_url))), table, column, value)
    engine = make_engine(empty_url)
    migrate(engine)
    with session_factory(engine)() as db:
        with pytest.raises(BadArchive) as refused:
            archive_in.import_rows(db, contents)
        assert any(word in p for p in refused.value.problems)
        db.rollback()
        assert db.scalar(select(Trial.id)) is None


def test_an_archive_never_overwrites(demo_url: str) -> None:
    contents = unpack(exported(demo_url, bun_trial(demo_url)))
    with session(demo_url) as db, pytest.raises(BadArchive, match="here already"):
        archive_in.import_rows(db, contents)


def test_closed_codes_are_in_no_export(demo_url: str) -> None:
    from yeasty.operations.taste.panels import RoundPlan, Served, make_tasting

    trial_id = bun_trial(demo_url)
    with session_factory(make_engine(demo_url)).begin() as db:
        trial = db.get_one(Trial, trial_id)
        batches = list(db.scalars(select(Batch.id).join(Shift).where(Shift.trial_id == trial_id)))
        tasting = make_tasting(
            db, trial, name="closed", rounds=[RoundPlan([Served(b) for b in batches[:3]])], tasters=["a"]
        )
        closed = {s.id for s in db.scalars(select(Sample).where(Sample.tasting_id == tasting.id))}
        db.add(
            AnswerRow(
                seat_id=tasting.seats[0].id,
                round_id=tasting.rounds[0].id,
                sample_id=next(iter(closed)),
                said=SaidValue(5),
                attribute_id=trial.attributes[0].id,
                given_at=datetime.now(UTC),
            )
        )
    with session(demo_url) as db:
        tables = archives.export_rows(db, trial_id).tables
        assert not closed & {uuid.UUID(r["id"]) for r in tables["sample"]}
        assert len(tables["tasting"]) == 1
        assert len(archives.export_rows(db, trial_id, with_closed_codes=True).tables["tasting"]) == 2


def test_a_photo_that_is_none_is_refused(demo_url: str) -> None:
    from yeasty.store.cook.pictures import store_photo

    with session(demo_url) as db, pytest.raises(RuleError, match="not a picture"):
        store_photo(db, bun_trial(demo_url), uuid.uuid4(), b"<svg onload=alert(1)>", None)
