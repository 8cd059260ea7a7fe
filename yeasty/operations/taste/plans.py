"""A tasting planned before it is laid: what it needs, and what it could find out."""

import uuid
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.taste.alike import Put, alike
from yeasty.core.taste.session import PlannedRound, SessionPlan, session_plan
from yeasty.core.taste.tests import TESTS, TestKey
from yeasty.operations.taste.panels import RoundPlan
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Batch
from yeasty.store.taste.queries import opened_tastings

CanFind = Callable[[list[dict[str, Any]]], list[list[str]]]


@dataclass(frozen=True)
class TastingPlanned:
    """A plan, what each round can find, and what ties it to other days."""

    plan: SessionPlan
    can_find: list[list[str]]
    reference: str


def plan_tasting(
    db: Session,
    trial: Trial,
    rounds: Sequence[RoundPlan],
    people: int,
    served_with: Sequence[str],
    can_find: CanFind,
) -> TastingPlanned:
    """What a tasting needs and could find; nothing is laid by it. `can_find` asks the reckoner."""
    ids = {s.batch_id for r in rounds for s in r.served if s.batch_id}
    batches = {b.id: b for b in db.scalars(select(Batch).where(Batch.id.in_(ids)))}
    names = {str(b.id): f"{b.method.tag} {b.method.name}" for b in batches.values()}
    pieces = {str(b.id): b.method.pieces_per_batch for b in batches.values()}
    planned = [
        PlannedRound(
            r.test,
            _codes_of(r),
            len(r.attributes or trial.attributes) if TESTS[r.test].drawn == "samples" else 1,
            r.break_s,
            r.settings.most_each,
        )
        for r in rounds
    ]
    asked = [_asked(r, batches, people) for r in rounds]
    plan = session_plan(planned, people, pieces, names, served_with)
    unlike = [line for r in rounds for line in _unlike(r, batches)]
    return TastingPlanned(
        replace(plan, warnings=(*plan.warnings, *dict.fromkeys(unlike))),
        can_find(asked),
        _reference(db, trial, batches),
    )


def _unlike(r: RoundPlan, batches: Mapping[uuid.UUID, Batch]) -> tuple[str, ...]:
    """What of a round will stand beside the others and not be compared, before anything is cut."""
    if r.test is not TestKey.SCORED:
        return ()
    there = [(s, batches[s.batch_id]) for s in r.served if s.batch_id and s.batch_id in batches]
    return alike(
        [
            Put(str(n), str(b.method_id), b.method.name, s.state, s.piece.strip().lower())
            for n, (s, b) in enumerate(there)
        ]
    ).lines


def _codes_of(r: RoundPlan) -> dict[str, int]:
    """Batch to how many codes it has in a round: one may come as several pieces."""
    found = Counter[str]()
    for s in r.served:
        found[s.thing] += TESTS[r.test].cups * (2 if s.twice else 1)
    return dict(found)


def _asked(r: RoundPlan, batches: Mapping[uuid.UUID, Batch], people: int) -> dict[str, Any]:
    served = [batches[s.batch_id] for s in r.served if s.batch_id and s.batch_id in batches]
    each = Counter(str(b.method_id) for b in served)
    return {
        "test": r.test.value,
        "tasters": people,
        "methods": len(each) + sum(1 for s in r.served if s.batch_id is None),
        "batches": min(each.values(), default=1),
    }


def _reference(db: Session, trial: Trial, batches: Mapping[uuid.UUID, Batch]) -> str:
    """What ties this tasting to those of other days; "" where there are none."""
    before = opened_tastings(db, trial.id)
    if not before:
        return ""
    then = {s.batch.method_id for t in before for s in t.samples if s.batch}
    now = {b.method_id for b in batches.values()}
    both = [m.name for m in trial.methods if m.id in then & now]
    if both:
        which = "All of these" if len(both) == len(now) else ", ".join(both)
        many = len(both) > 1
        return (
            f"{which} {'were' if many else 'was'} tasted before and {'are' if many else 'is'} here again: "
            f"days can be compared by {'them' if many else 'it'}."
        )
    return (
        "None of these ways was tasted at the sitting before. Cook one of them again, or days cannot be "
        "compared."
    )
