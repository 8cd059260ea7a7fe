"""What a kitchen keeps of its own: technique templates, and what sways what."""

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import Technique, offered, technique_from_record
from yeasty.core.setup.sways import Sway
from yeasty.store.kitchen.tables import SwayRow, TechniqueRow


def technique_rows(db: Session) -> list[TechniqueRow]:
    """The kitchen's rows."""
    return list(db.scalars(select(TechniqueRow).order_by(TechniqueRow.key)))


def known_techniques(db: Session, *, with_hidden: bool = True) -> dict[str, Technique]:
    """Templates as the kitchen has them; a method may stand on a hidden one still."""
    rows = technique_rows(db)
    own = [technique_from_record(r.record) for r in rows if r.record]
    return offered(own, [] if with_hidden else [r.key for r in rows if r.hidden])


def sway_rows(db: Session) -> Sequence[SwayRow]:
    """The kitchen's lines, oldest first."""
    return db.scalars(select(SwayRow).order_by(SwayRow.set_at, SwayRow.id)).all()


def own_sways(db: Session) -> list[Sway]:
    """The kitchen's lines as the core knows them; of two for the same field the later stands."""
    return [
        Sway(r.field, tuple(r.attributes), r.strength, r.reason, "this kitchen")
        for r in reversed(sway_rows(db))
    ]
