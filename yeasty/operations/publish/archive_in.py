"""An archive's rows in again, as what strangers say."""

import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import Table, func, select
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.archive import BadArchive, Contents
from yeasty.operations.publish.archives import SHARED, TABLES, columns_of
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.pictures import encoded
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.publish.tables import Publication
from yeasty.store.rows import read_back

# What carries authority arrives as said elsewhere, not in force here.
_AUTHORITY = ("tasting", "ownership", "publication")


def import_rows(db: Session, contents: Contents) -> uuid.UUID:
    """Write an archive's rows. All or nothing: the caller's transaction.

    Every person becomes one from elsewhere: a stranger writes no rows as somebody of this kitchen. What
    carries authority arrives as said elsewhere; pictures are decoded and written anew. Appliances that are
    here already are kept as they are here. Rows are to be checked field by field before
    (`yeasty.api.publish.archive_rows`).

    Raises
    ------
    BadArchive : the trial is here already, rows that refer to what is not in the archive, values that no
        column takes; everything found is listed
    """
    problems: list[str] = []
    tables = contents.tables
    if len(tables["trial"]) != 1:
        raise BadArchive([f"it holds {len(tables['trial'])} trials; one is expected"])
    try:
        trial_id = uuid.UUID(str(tables["trial"][0]["id"]))
    except ValueError:
        raise BadArchive(["trial/0/id: is not an id"]) from None
    if db.get(Trial, trial_id) is not None:
        raise BadArchive(["this trial is here already; an archive never overwrites"])
    values = _typed(tables, problems)
    problems += _dangling(values, trial_id) + _missing_photos(contents) + _taken_addresses(db, values)
    if problems:
        raise BadArchive(problems)
    photos = _photos(tables["photo"], contents.photos, problems)
    problems += _here_already(db, values)
    if problems:
        raise BadArchive(problems)
    people = _strangers(db, values["person"])
    for model in TABLES:
        table: Table = model.__table__  # type: ignore[assignment]
        rows = [_as_strangers(table, r, people) for r in values[table.name]]
        rows = [{**r, **_ARRIVES.get(table.name, {})} for r in rows]
        if table.name == "person":
            rows = [r for r in rows if r["id"] in people.values() and r["id"] not in _known(db, rows)]
        if table.name == "appliance":
            here = set(db.scalars(select(table.c.id).where(table.c.id.in_([r["id"] for r in rows]))))
            rows = [r for r in rows if r["id"] not in here]
        if table.name == "photo":
            rows = [
                {**r, "media_type": "image/jpeg", "full": full, "thumb": thumb}
                for r in rows
                for full, thumb in [photos.get(str(r["id"]), (None, None))]
            ]
        if rows:
            db.execute(table.insert(), rows)
    return trial_id


# What a table's rows say here whatever they said elsewhere: nobody's contact, nothing in force, nothing
# checked.
_ARRIVES: Mapping[str, Mapping[str, Any]] = {
    **{name: {"from_elsewhere": True} for name in _AUTHORITY},
    "person": {"contact": "", "from_elsewhere": True},
    "method": {"meant": {}},
    "ingredient": {"allergens_checked": False},
    "trial": {"guess_token": ""},
}


def _missing_photos(contents: Contents) -> list[str]:
    return [
        f"photos/{r['id']}.jpg is missing"
        for r in contents.tables["photo"]
        if not r["erased_at"]
        and (f"{r['id']}.jpg" not in contents.photos or f"{r['id']}.thumb.jpg" not in contents.photos)
    ]


def _taken_addresses(db: Session, values: Mapping[str, Sequence[Mapping[str, Any]]]) -> list[str]:
    slugs = {r["slug"] for r in values.get("publication", [])}
    taken = set(db.scalars(select(Publication.slug).where(Publication.slug.in_(slugs)))) if slugs else set()
    return [f"the public address “{s}” is taken here" for s in sorted(taken)]


def _photos(
    rows: Sequence[Mapping[str, Any]], files: Mapping[str, bytes], problems: list[str]
) -> dict[str, tuple[bytes, bytes]]:
    """Photo to its picture and thumbnail, decoded and written anew; what is none is told."""
    found = {}
    for row in rows:
        data = files.get(f"{row['id']}.jpg")
        if row["erased_at"] or data is None:
            continue
        try:
            found[str(row["id"])] = encoded(data)
        except RuleError as wrong:
            problems.append(f"photos/{row['id']}.jpg: {wrong.message}")
    return found


def _here_already(db: Session, values: Mapping[str, Sequence[Mapping[str, Any]]]) -> list[str]:
    """Rows whose id is taken here: an archive never overwrites, and never hangs itself onto what is there."""
    found = []
    for model in TABLES:
        table: Table = model.__table__  # type: ignore[assignment]
        ids = [r["id"] for r in values[table.name] if "id" in r]
        if table.name in SHARED or not ids:
            continue
        if len(set(ids)) != len(ids):
            found.append(f"{table.name}: an id occurs twice")
        taken = db.scalar(select(func.count()).select_from(table).where(table.c.id.in_(ids)))
        if taken:
            found.append(f"{table.name}: {taken} of its ids are taken here")
    return found


def _strangers(db: Session, rows: Sequence[Mapping[str, Any]]) -> dict[uuid.UUID, uuid.UUID]:
    """Each person of an archive to the id they get here: their own where it is free or theirs already, else a
    new one.
    """
    here = {p.id: p for p in db.scalars(select(Person).where(Person.id.in_([r["id"] for r in rows])))}
    found = {}
    for r in rows:
        known = here.get(r["id"])
        same = known is None or (known.from_elsewhere and known.name == r["name"])
        found[r["id"]] = r["id"] if same else uuid.uuid4()
    return found


def _known(db: Session, rows: Sequence[Mapping[str, Any]]) -> set[uuid.UUID]:
    return set(db.scalars(select(Person.id).where(Person.id.in_([r["id"] for r in rows]))))


def _as_strangers(
    table: Table, row: Mapping[str, Any], people: Mapping[uuid.UUID, uuid.UUID]
) -> dict[str, Any]:
    """A row with its people as they are called here."""
    found = dict(row)
    if table.name == "person":
        found["id"] = people[row["id"]]
    for column in table.columns:
        if (
            any(k.column.table.name == "person" for k in column.foreign_keys)
            and row.get(column.name) is not None
        ):
            found[column.name] = people[row[column.name]]
    return found


def _typed(
    tables: Mapping[str, Sequence[Mapping[str, Any]]], problems: list[str]
) -> dict[str, list[dict[str, Any]]]:
    found: dict[str, list[dict[str, Any]]] = {}
    for model in TABLES:
        table: Table = model.__table__  # type: ignore[assignment]
        found[table.name] = []
        for n, row in enumerate(tables[table.name]):
            typed = {}
            for column in columns_of(table):
                try:
                    typed[column.name] = read_back(column, row[column.name])
                except (ValueError, ArithmeticError, TypeError):
                    problems.append(
                        f"{table.name}/{n}/{column.name}: {str(row[column.name])[:60]!r} does not fit"
                    )
            found[table.name].append(typed)
    return found


def _dangling(values: Mapping[str, Sequence[Mapping[str, Any]]], trial_id: uuid.UUID) -> list[str]:
    """References to rows that are not in the archive, or to another trial: an archive stands by itself."""
    ids = {name: {r.get("id") for r in rows} for name, rows in values.items()}
    problems = []
    for model in TABLES:
        table: Table = model.__table__  # type: ignore[assignment]
        for n, row in enumerate(values[table.name]):
            for column in table.columns:
                for key in column.foreign_keys:
                    value = row.get(column.name)
                    target = key.column.table.name
                    if value is not None and value not in ids.get(target, set()):
                        problems.append(
                            f"{table.name}/{n}/{column.name}: names a {target} that is not in the archive"
                        )
    return problems[:50]
