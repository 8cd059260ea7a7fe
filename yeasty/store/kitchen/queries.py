"""The kitchen and its appliances."""

import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.store.base import now
from yeasty.store.kitchen.tables import Appliance, Circuit, Kitchen, Measurement, RuleRecord

# A hob's rings, where nothing else is said: usual domestic hobs have four.
USUAL_RINGS = 4


def locked_kitchen(db: Session) -> Kitchen:
    """The settings, and nobody else edits them until this is written."""
    query = select(Kitchen).with_for_update().execution_options(populate_existing=True)
    return db.scalars(query).one()


def the_kitchen(db: Session) -> Kitchen:
    """The kitchen's settings."""
    return db.get_one(Kitchen, 1)


def all_appliances(db: Session) -> list[Appliance]:
    """All profiles, by name."""
    return list(db.scalars(select(Appliance).order_by(Appliance.name, Appliance.id)))


def take_over(appliance: Appliance, kind: str, measured: Mapping[str, Any]) -> None:
    """Put what a measurement found into the profile; nothing where no measurement stands any more."""
    if kind == "water-test":
        appliance.measured_w = measured.get("power_w")
    elif kind == "offset":
        appliance.offset_k = measured.get("offset_k")


def keep_measurement(
    db: Session,
    appliance: Appliance,
    kind: str,
    given: Mapping[str, Any],
    result: Mapping[str, Any],
    measured: Mapping[str, Any],
    *,
    by: uuid.UUID,
) -> Measurement:
    """Keep a measurement, with what the profile held before: what conversions stand on goes into it."""
    row = Measurement(
        appliance_id=appliance.id,
        kind=kind,
        given=dict(given),
        result={**result, "measured": measured, "before": profile_part(appliance, kind)},
        taken_at=now(),
        taken_by=by,
    )
    db.add(row)
    take_over(appliance, kind, measured)
    db.flush()
    return row


def profile_part(appliance: Appliance, kind: str) -> dict[str, Any]:
    """What a profile holds of a kind of measurement, in the shape `take_over` puts in."""
    return {"water-test": {"power_w": appliance.measured_w}, "offset": {"offset_k": appliance.offset_k}}.get(
        kind, {}
    )


def what_stands(db: Session, appliance: Appliance, kind: str) -> Mapping[str, Any]:
    """The newest measurement that is not struck out; without one, what the profile held before the first."""
    rows = [m for m in measurements_of(db, [appliance.id]) if m.kind == kind]
    standing = next((m for m in rows if m.struck_at is None), None)
    if standing is not None:
        return dict(standing.result["measured"])
    return dict(rows[-1].result.get("before", {})) if rows else {}


def rings_of(appliance: Appliance) -> int:
    """Places that are set for themselves: of a hob its rings, else one."""
    return USUAL_RINGS if appliance.kind == "hob" else 1


def circuits(db: Session) -> list[Circuit]:
    """All circuits, by name."""
    return list(db.scalars(select(Circuit).order_by(Circuit.name)))


def measurements_of(db: Session, appliance_ids: Sequence[uuid.UUID]) -> list[Measurement]:
    """Measurements that stand or are struck out, newest first."""
    if not appliance_ids:
        return []
    return list(
        db.scalars(
            select(Measurement)
            .where(Measurement.appliance_id.in_(appliance_ids))
            .order_by(Measurement.taken_at.desc(), Measurement.id)
        )
    )


def newest_measurements(
    db: Session, appliance_ids: Sequence[uuid.UUID]
) -> dict[tuple[uuid.UUID, str], Measurement]:
    """For each appliance and kind the newest that is not struck out."""
    found: dict[tuple[uuid.UUID, str], Measurement] = {}
    for row in measurements_of(db, appliance_ids):
        if row.struck_at is None:
            found.setdefault((row.appliance_id, row.kind), row)
    return found


def records_of(db: Session, rule: str | None = None) -> list[RuleRecord]:
    """Records of one rule, or of all, oldest first."""
    query = select(RuleRecord).order_by(RuleRecord.added_at, RuleRecord.id)
    return list(db.scalars(query.where(RuleRecord.rule == rule) if rule is not None else query))
