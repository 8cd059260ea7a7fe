"""What a decision stands on: the basis that tells whether a kept analysis is still that of the records."""

import json
import uuid
from hashlib import sha256

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.cook.measures import FOLD_VERSION
from yeasty.store.bench import Batch, PlanRow, ProbeLogRow, Shift
from yeasty.store.kitchen import Appliance, the_kitchen
from yeasty.store.publications import Analysis
from yeasty.store.tastings import AnswerRow, Seat, Tasting
from yeasty.store.trials import Trial

VERDICT = "verdict"
ANALYSIS_VERSION = 1


def basis(db: Session, trial_id: uuid.UUID) -> str:
    """A sum that changes whenever anything a verdict is worked out from changes."""
    parts = [
        FOLD_VERSION,
        ANALYSIS_VERSION,
        db.scalar(select(Trial.version).where(Trial.id == trial_id)),
        db.scalar(select(func.coalesce(func.sum(Shift.last_number), 0)).where(Shift.trial_id == trial_id)),
        db.scalar(select(func.count()).select_from(PlanRow).join(Shift).where(Shift.trial_id == trial_id)),
        db.scalar(
            select(func.count())
            .select_from(ProbeLogRow)
            .join(Batch)
            .join(Shift)
            .where(Shift.trial_id == trial_id)
        ),
        db.scalar(
            select(func.count())
            .select_from(AnswerRow)
            .join(Seat)
            .join(Tasting)
            .where(Tasting.trial_id == trial_id)
        ),
        db.scalar(select(func.count()).where(Tasting.trial_id == trial_id, Tasting.opened_at.is_not(None))),
        db.scalar(select(func.coalesce(func.sum(Appliance.version), 0))),
        str(the_kitchen(db).price_per_kwh),
    ]
    return sha256(json.dumps([str(p) for p in parts]).encode()).hexdigest()


def kept_analysis(db: Session, trial_id: uuid.UUID, kind: str = VERDICT) -> Analysis | None:
    """The analysis made last, fresh or not: compare its `basis`."""
    return db.get(Analysis, (trial_id, kind))
