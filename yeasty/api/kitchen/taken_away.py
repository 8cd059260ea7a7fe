"""Kitchen: what somebody took away or wrote over a moment ago, put back by name."""

from uuid import UUID

from flask import Response
from pydantic import BaseModel

from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import ask_for_plan
from yeasty.api.problems import not_found
from yeasty.api.request import answer, db, done, me, require
from yeasty.operations.kitchen.taking_away import OFFERED_S, newest, put_back
from yeasty.store.base import now
from yeasty.store.kitchen.people_tables import Role

taken = blueprint("taken_away", "kitchen")


class TakenAwayView(BaseModel):
    """One thing: what it is called, whether it was taken away or changed, and for how long it can be put back
    [s].
    """

    id: str
    what: str
    deed: str
    left_s: float


class TakenAwayLast(BaseModel):
    """What whoever asks took away last; null once its minute is over."""

    item: TakenAwayView | None


class TakenPath(BaseModel):
    """What is put back."""

    taken_id: UUID


@taken.get("/taken-away", responses={200: TakenAwayLast})
@require(Role.COOK)
def get_taken_away() -> Response:
    """What can still be put back."""
    row = newest(db(), me().id)
    if row is None:
        return answer(TakenAwayLast(item=None))
    left = OFFERED_S - (now() - row.at).total_seconds()
    return answer(
        TakenAwayLast(item=TakenAwayView(id=str(row.id), what=row.what, deed=row.deed, left_s=left))
    )


@taken.post("/taken-away/<uuid:taken_id>/put-back", responses={204: None})
@require(Role.COOK)
def put_it_back(path: TakenPath) -> Response:
    """Everything as it was before; refused where something was done with it since."""
    try:
        shifts = put_back(db(), path.taken_id, me().id)
    except LookupError:
        raise not_found("thing to put back, or its minute is over") from None
    for shift_id in shifts:
        ask_for_plan(shift_id)
    return done()
