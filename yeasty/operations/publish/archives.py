"""What an archive of a trial holds, and a whole trial out to its rows; `archive_in` takes them in."""

import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import ARRAY, Column, LargeBinary, Select, Table, select
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from yeasty.core.publish.archive import Contents
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
from yeasty.store.cook.tables import Batch, EntryRow, Photo, PlanRow, ProbeLogRow, Shift
from yeasty.store.decide.tables import Claim
from yeasty.store.kitchen.people import note
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.publish.tables import Draft, Guess, Publication
from yeasty.store.rows import held, written
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
SHARED = ("person", "appliance")
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


def columns_of(table: Table) -> list[Column[Any]]:
    left_out = _LEFT_OUT.get(table.name, set())
    return [c for c in table.columns if not isinstance(c.type, LargeBinary) and c.name not in left_out]


def _record(row: Base) -> dict[str, Any]:
    mapper = row.__mapper__
    return {
        c.name: written(c, held(row, c))
        for c in columns_of(mapper.local_table)  # type: ignore[arg-type]
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
        if name in SHARED:
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
        columns = {c.name: typed(c) for c in columns_of(table)}
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
