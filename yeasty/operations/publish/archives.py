"""A whole trial out to an archive's rows, and in again."""

import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import ARRAY, Column, LargeBinary, Select, Table, func, select
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.archive import BadArchive, Contents
from yeasty.store.ask.tables import (
    AcceptedDifference,
    Attribute,
    Control,
    Ingredient,
    Method,
    MethodAmount,
    Step,
    Trial,
)
from yeasty.store.base import Base, Shaped, now
from yeasty.store.cook.pictures import encoded
from yeasty.store.cook.tables import Batch, EntryRow, Photo, PlanRow, ProbeLogRow, Shift
from yeasty.store.decide.tables import Claim
from yeasty.store.kitchen.people import note
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.publish.tables import Draft, Guess, Publication
from yeasty.store.rows import held, read_back, written
from yeasty.store.safety.tables import Ownership
from yeasty.store.setup.tables import Dealing, Piece, PlaceMap
from yeasty.store.taste.queries import same_people, tastings_of
from yeasty.store.taste.tables import (
    AnswerRow,
    Comment,
    CupRow,
    KeyView,
    Sample,
    Seat,
    Serving,
    SpoiltSample,
    TasteRound,
    Tasting,
)

# In the order in which rows can be written: what is referred to comes first.
TABLES: tuple[type[Base], ...] = (
    Person,
    Appliance,
    Trial,
    Attribute,
    Method,
    Ingredient,
    MethodAmount,
    Step,
    Control,
    AcceptedDifference,
    Claim,
    Piece,
    Dealing,
    PlaceMap,
    Guess,
    Shift,
    Batch,
    PlanRow,
    EntryRow,
    ProbeLogRow,
    Photo,
    Ownership,
    Tasting,
    CupRow,
    TasteRound,
    Sample,
    SpoiltSample,
    Seat,
    Serving,
    AnswerRow,
    Comment,
    KeyView,
    Draft,
    Publication,
)
CSV_TABLES = ("entry", "answer", "comment", "batch", "method", "step", "ingredient", "method_amount", "plan")
_SHARED = ("person", "appliance")
# A published version of another kitchen is told at its address, not here: contacts stay at home too.
# Whether something came from elsewhere, and whether somebody here has looked at allergens, is this kitchen's
# own affair.
_LEFT_OUT = {
    "person": {"contact", "from_elsewhere", "allergies", "same_as", "not_same"},
    # What somebody must not eat stays at home.
    "seat": {"allergens_said"},
    "trial": {"guess_token"},
    "tasting": {"from_elsewhere"},
    "ownership": {"from_elsewhere"},
    "publication": {"from_elsewhere"},
    "ingredient": {"allergens_checked"},
}
# What carries authority arrives as said elsewhere, not in force here.
_AUTHORITY = ("tasting", "ownership", "publication")
# References that may lead out of the trial: an archive stands by itself, so those are dropped; words beside
# them stay.
_OUTWARD = {"trial": {"parent_trial_id"}, "method": {"parent_method_id"}, "ingredient": {"from_method_id"}}


def _query(model: type[Base], trial_id: uuid.UUID, open_only: bool) -> Select[Any]:
    methods = select(Method.id).where(Method.trial_id == trial_id)
    shifts = select(Shift.id).where(Shift.trial_id == trial_id)
    batches = select(Batch.id).where(Batch.shift_id.in_(shifts))
    tastings = select(Tasting.id).where(Tasting.trial_id == trial_id)
    if open_only:
        tastings = tastings.where(Tasting.opened_at.is_not(None))
    seats = select(Seat.id).where(Seat.tasting_id.in_(tastings))
    match model.__name__:
        case "Trial":
            return select(Trial).where(Trial.id == trial_id)
        case "Step" | "MethodAmount":
            return select(model).where(model.method_id.in_(methods))  # type: ignore[attr-defined]
        case "Batch" | "PlanRow" | "EntryRow":
            return select(model).where(model.shift_id.in_(shifts))  # type: ignore[attr-defined]
        case "ProbeLogRow" | "Ownership":
            return select(model).where(model.batch_id.in_(batches))  # type: ignore[attr-defined]
        case "Tasting":
            return select(Tasting).where(Tasting.id.in_(tastings))
        case "TasteRound" | "Sample" | "Seat" | "KeyView" | "CupRow":
            return select(model).where(model.tasting_id.in_(tastings))  # type: ignore[attr-defined]
        case "AnswerRow" | "Comment" | "Serving":
            return select(model).where(model.seat_id.in_(seats))  # type: ignore[attr-defined]
        case "SpoiltSample":
            return select(SpoiltSample).join(Sample).where(Sample.tasting_id.in_(tastings))
        case _:
            return select(model).where(model.trial_id == trial_id)  # type: ignore[attr-defined]


def _columns(table: Table) -> list[Column[Any]]:
    left_out = _LEFT_OUT.get(table.name, set())
    return [c for c in table.columns if not isinstance(c.type, LargeBinary) and c.name not in left_out]


def _record(row: Base) -> dict[str, Any]:
    mapper = row.__mapper__
    return {
        c.name: written(c, held(row, c))
        for c in _columns(mapper.local_table)  # type: ignore[arg-type]
    }


def handed_out(db: Session, trial: Trial, *, with_closed_codes: bool, by: uuid.UUID) -> Contents:
    """All rows of a trial for somebody who takes them away: written down, and with closed codes as a look at
    each key.
    """
    if with_closed_codes:
        why = "archive with closed codes"
        closed = (t for t in tastings_of(db, trial.id) if t.opened_at is None)
        db.add_all(KeyView(tasting_id=t.id, person_id=by, viewed_at=now(), why=why) for t in closed)
        db.flush()
    what = "exported with closed codes" if with_closed_codes else "exported an archive"
    note(db, what, trial.title, by=by)
    return export_rows(db, trial.id, with_closed_codes=with_closed_codes)


def export_rows(db: Session, trial_id: uuid.UUID, *, with_closed_codes: bool = False) -> Contents:
    """All rows of a trial, and its photos.

    Tastings whose codes are not open are left out with their samples and answers, unless the lead asks for
    them by an act that is recorded.
    """
    tables: dict[str, list[dict[str, Any]]] = {}
    people: set[uuid.UUID] = set()
    for model in TABLES:
        name = model.__table__.name  # type: ignore[attr-defined]
        if name in _SHARED:
            continue
        rows = list(db.scalars(_query(model, trial_id, not with_closed_codes)))
        records, mentioned = _records(db, model, rows)
        tables[name] = sorted(records, key=lambda r: [str(v) for v in _key(model, r)])
        people |= mentioned
        _cut_off(name, tables)
    used = {uuid.UUID(s["appliance_id"]) for s in tables["step"] if s["appliance_id"]}
    tables["person"] = [
        _record(p) for p in db.scalars(select(Person).where(Person.id.in_(people)).order_by(Person.id))
    ]
    tables["appliance"] = [
        _record(a) for a in db.scalars(select(Appliance).where(Appliance.id.in_(used)).order_by(Appliance.id))
    ]
    photos: dict[str, bytes] = {}
    for p in db.scalars(select(Photo).where(Photo.trial_id == trial_id, Photo.erased_at.is_(None))):
        if p.full is not None and p.thumb is not None:
            photos[f"{p.id}.jpg"], photos[f"{p.id}.thumb.jpg"] = p.full, p.thumb
    return Contents(tables, photos)


_NAMES = ("author_id", "person_id", "added_by", "owned_by", "opened_by", "published_by", "read_off_by")


def _records(
    db: Session, model: type[Base], rows: Sequence[Base]
) -> tuple[list[dict[str, Any]], set[uuid.UUID]]:
    """Rows as records, and who is mentioned. Who was said to be one person is one elsewhere too."""
    people = {p for row in rows for c in _NAMES if (p := getattr(row, c, None))}
    records = [_record(r) for r in rows]
    if model is Seat:
        same = same_people(db, sorted(people))
        records = [r | {"person_id": str(same[uuid.UUID(r["person_id"])])} for r in records]
        people = set(same.values())
    return records, people


def _cut_off(name: str, tables: Mapping[str, Sequence[dict[str, Any]]]) -> None:
    """Drop references that lead out of the trial."""
    if name not in _OUTWARD:
        return
    inside = {r["id"] for r in tables["method" if name != "trial" else "trial"]}
    for record in tables[name]:
        for column in _OUTWARD[name]:
            if record[column] not in inside:
                record[column] = None


def _key(model: type[Base], record: Mapping[str, Any]) -> list[Any]:
    return [record[c.name] for c in model.__table__.primary_key.columns]  # type: ignore[attr-defined]


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
        if table.name in _SHARED or not ids:
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
            for column in _columns(table):
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


def archive_schema() -> dict[str, Any]:
    """The JSON Schema of an archive, made from the tables; the shipped file is held equal to it by a test."""

    def typed(column: Column[Any]) -> dict[str, Any]:
        if isinstance(column.type, ARRAY):
            kind: Any = {"type": "array", "items": {"type": "number"}}
        elif isinstance(column.type, JSONB | Shaped):
            kind = {"type": ["object", "array"]}
        else:
            python = column.type.python_type
            kind = {
                bool: {"type": "boolean"},
                int: {"type": "integer"},
                float: {"type": "number"},
                uuid.UUID: {"type": "string", "pattern": "^[0-9a-f-]{36}$"},
            }.get(python, {"type": "string", "maxLength": 20000})
        return {"anyOf": [kind, {"type": "null"}]} if column.nullable else kind

    tables = {}
    for model in TABLES:
        table: Table = model.__table__  # type: ignore[assignment]
        columns = {c.name: typed(c) for c in _columns(table)}
        tables[table.name] = {
            "type": "array",
            "maxItems": 1_000_000,
            "items": {
                "type": "object",
                "properties": columns,
                "required": sorted(columns),
                "additionalProperties": False,
            },
        }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A trial's archive",
        "$defs": {
            "manifest": {
                "type": "object",
                "properties": {
                    "format": {"const": "yeasty-trial-archive"},
                    "version": {"type": "integer"},
                    "files": {
                        "type": "object",
                        "additionalProperties": {"type": "string", "pattern": "^[0-9a-f]{64}$"},
                    },
                },
                "required": ["format", "version", "files"],
                "additionalProperties": False,
            },
            "tables": {
                "type": "object",
                "properties": tables,
                "required": sorted(tables),
                "additionalProperties": False,
            },
        },
    }
