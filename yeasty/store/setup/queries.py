"""Pieces of a lot, how they were dealt to methods, and maps of where they lie."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Float, cast, func, select
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused, RuleError, check_range
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now, row_of
from yeasty.store.cook.tables import Batch
from yeasty.store.setup.tables import Dealing, Piece, PlaceMap

MOST_PIECES = 2000


def pieces_of(db: Session, trial_id: uuid.UUID) -> list[Piece]:
    """Pieces of a trial, in order."""
    return list(
        db.scalars(select(Piece).where(Piece.trial_id == trial_id).order_by(Piece.position, Piece.id))
    )


def newest_dealing(db: Session, trial_id: uuid.UUID) -> Dealing | None:
    """The draw that stands, or None."""
    return db.scalar(
        select(Dealing)
        .where(Dealing.trial_id == trial_id)
        .order_by(Dealing.made_at.desc(), Dealing.id)
        .limit(1)
    )


def dealt_means(db: Session, trial_id: uuid.UUID) -> dict[uuid.UUID, float]:
    """Mean weight of the pieces dealt to each method [kg]."""
    rows = db.execute(
        select(Piece.method_id, func.avg(cast(Piece.mass_kg, Float)))
        .where(Piece.trial_id == trial_id, Piece.method_id.is_not(None))
        .group_by(Piece.method_id)
    )
    return {m: float(kg) for m, kg in rows if m is not None}


@dataclass(frozen=True)
class WeighedPiece:
    """A piece as it was weighed [kg]: its part, its lot, and whether a stand-in made it up."""

    mass_kg: float
    part: str = ""
    ingredient_id: uuid.UUID | None = None
    simulated: bool = False


def set_pieces(db: Session, trial: Trial, rows: Sequence[WeighedPiece]) -> list[Piece]:
    """Replace the pieces; a draw made before falls away.

    Raises
    ------
    RuleError : naming the piece; Refused once a batch of the trial has been cooked
    """
    if len(rows) > MOST_PIECES:
        raise RuleError("pieces", f"{len(rows)}", f"Weigh at most {MOST_PIECES}.")
    if db.scalar(
        select(Batch.id).where(Batch.method_id.in_([m.id for m in trial.methods])).limit(1)
    ) and newest_dealing(db, trial.id):
        raise Refused(
            "pieces", "are dealt out and stand in a shift", "Keep them; note a change at the bench."
        )
    known = {i.id for i in trial.ingredients}
    for n, row in enumerate(rows, 1):
        check_range(f"piece {n}", row.mass_kg, 0.0001, 100, "kg")
        if row.ingredient_id and row.ingredient_id not in known:
            raise RuleError(f"piece {n}", "is of a lot that this trial has not", "Choose one of its lots.")
    for old in pieces_of(db, trial.id):
        db.delete(old)
    db.flush()
    made = [
        row_of(Piece, r, trial_id=trial.id, position=n, part=r.part.strip()) for n, r in enumerate(rows, 1)
    ]
    db.add_all(made)
    db.flush()
    return made


def arms(trial: Trial) -> list[tuple[Method, int]]:
    """Methods with their replicates, in the order in which groups are drawn."""
    return [(m, r) for r in range(1, trial.batches_each + 1) for m in trial.methods]


def allocation_question(
    db: Session, trial: Trial, seed: int, tolerance: float, balance: bool
) -> dict[str, Any]:
    """What the reckoner is asked for a draw; strata are lot and part together."""
    pieces = pieces_of(db, trial.id)
    if not pieces:
        raise RuleError("pieces", "none weighed yet", "Type, paste or weigh them first.")
    sizes = {m.pieces_per_batch for m in trial.methods}
    if len(sizes) > 1:
        raise RuleError(
            "pieces a batch",
            f"{', '.join(str(n) for n in sorted(sizes))} in different methods",
            "Make them equal first: dealing is in equal number.",
        )
    each = sizes.pop()
    strata = [f"{p.ingredient_id or ''}|{p.part.lower()}" for p in pieces]
    return {
        "weights": [p.mass_kg for p in pieces],
        "groups": len(arms(trial)),
        "seed": seed,
        "tolerance": tolerance,
        "each": each,
        "strata": strata if balance and len(set(strata)) > 1 else None,
    }


def keep_dealing(db: Session, trial: Trial, result: Mapping[str, Any]) -> Dealing:
    """Put a draw into effect: pieces get their method and replicate, the rest is spare.

    Which method gets which group was drawn with the pieces: groups are exchangeable, so the order of methods
    decides nothing.
    """
    pieces = pieces_of(db, trial.id)
    for p in pieces:
        p.method_id, p.replicate, p.spare = None, 0, False
    for (method, replicate), group in zip(arms(trial), result["groups"], strict=True):
        for at in group:
            pieces[at].method_id, pieces[at].replicate = method.id, replicate
    for at in result["spare"]:
        pieces[at].spare = True
    row = Dealing(
        trial_id=trial.id,
        seed=result["seed"],
        tolerance=result["tolerance"],
        result=dict(result),
        made_at=now(),
    )
    db.add(row)
    db.flush()
    return row


def maps_of(db: Session, trial_id: uuid.UUID) -> list[PlaceMap]:
    """Maps of a trial, in order."""
    return list(
        db.scalars(
            select(PlaceMap).where(PlaceMap.trial_id == trial_id).order_by(PlaceMap.position, PlaceMap.id)
        )
    )
