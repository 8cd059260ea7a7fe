"""A tasting while it goes on: served, plated by a key, stopped, spoilt, turned over, opened, told."""

from typing import Any
from uuid import UUID

from flask import Response, current_app

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import after_commit, answer, db, me, require, written
from yeasty.api.shown import shown
from yeasty.api.taste.told import is_open, key_of, tasting_view
from yeasty.api.taste.views import (
    KeyAnswer,
    KeyReason,
    Opening,
    RoundFound,
    SpoiltIn,
    StopReason,
    TastingFound,
    TastingPath,
    TastingView,
    TurnedOver,
)
from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.cups import Protocol
from yeasty.operations.taste import findings, panels, serving
from yeasty.store.base import now
from yeasty.store.cook.queries import wake
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.taste.tables import KeyView, SpoiltSample, Tasting

sitting = blueprint("sitting", "taste")
NOTHING_YET: dict[str, Any] = {
    "people": 0,
    "knowing": 0,
    "changed": 0,
    "not_blind": False,
    "blindness": [],
    "table": [],
}


def tasting_at(tasting_id: UUID) -> Tasting:
    """A tasting, or 404."""
    found = db().get(Tasting, tasting_id)
    if found is None:
        raise not_found("tasting")
    return found


def locked_at(tasting_id: UUID) -> Tasting:
    """A tasting, and nobody else changes it until this is written; or 404."""
    found = panels.locked_tasting(db(), tasting_id)
    if found is None:
        raise not_found("tasting")
    return found


def changed(tasting: Tasting) -> None:
    """Tell the screens that show this trial."""
    wake(db(), tasting.trial_id)


@sitting.post("/tastings/<uuid:tasting_id>/key-views", responses={200: KeyAnswer})
@require(Role.COOK)
def view_key(path: TastingPath, body: KeyReason) -> Response:
    """Look at the key before the codes are opened, as to plate: all of it for the lead, half of it for
    whoever plates with another. Who looked, when and why is kept for good.
    """
    if body.half is None and Role(me().role) is not Role.LEAD:
        raise ApiError(403, "Only for the lead", "Take half of it, and let somebody else take the other.")
    tasting = tasting_at(path.tasting_id)
    people.note(db(), "looked at a key", tasting.name, by=me().person_id)
    if tasting.protocol != Protocol.PLATED.value:
        raise RuleError("key", "is not known to anybody yet", "Turn the cups over when every answer is in.")
    half = body.half.value if body.half else ""
    db().add(
        KeyView(
            tasting_id=tasting.id, person_id=me().person_id, viewed_at=now(), why=body.why.strip(), half=half
        )
    )
    words = serving.called(db(), tasting, written())
    key = serving.half_of_key(tasting, body.half, words) if body.half else key_of(tasting)
    return answer(KeyAnswer(key=key))


@sitting.post("/tastings/<uuid:tasting_id>/spoilt", responses={200: TastingView})
@require(Role.LEAD)
def spoil(path: TastingPath, body: SpoiltIn) -> Response:
    """A sample was dropped or its code swapped: its answers are kept and not judged."""
    tasting = tasting_at(path.tasting_id)
    sample = next((s for s in tasting.samples if s.code == body.code), None)
    if sample is None:
        raise not_found("sample")
    if sample.spoilt is None:
        row = SpoiltSample(sample_id=sample.id, person_id=me().person_id, at=now(), why=body.why.strip())
        db().add(row)
        db().flush()
        db().refresh(sample)
    _judge_anew(tasting)
    return answer(tasting_view(tasting))


@sitting.post("/tastings/<uuid:tasting_id>/stop", responses={200: TastingView})
@require(Role.COOK)
def stop(path: TastingPath, body: StopReason) -> Response:
    """A fault has come up while people taste: everybody's page says to put everything aside, the seal is
    broken on record, and nothing of it is judged.
    """
    tasting = locked_at(path.tasting_id)
    if tasting.stopped_at is None:
        tasting.stopped_at, tasting.stopped_why = now(), body.why.strip()
        why = f"stopped: {body.why.strip()}"
        db().add(KeyView(tasting_id=tasting.id, person_id=me().person_id, viewed_at=now(), why=why))
        people.note(db(), "stopped a tasting", f"{tasting.name}: {body.why.strip()}", by=me().person_id)
        db().flush()
    _judge_anew(tasting)
    return answer(tasting_view(tasting))


def _judge_anew(tasting: Tasting) -> None:
    jobs = current_app.extensions["yeasty_jobs"]
    trial_id = tasting.trial_id
    after_commit(lambda: jobs.analyse(trial_id))
    changed(tasting)


def _all_sealed(tasting: Tasting, *, though: bool) -> None:
    """Everybody has finished, or it is to be opened all the same."""
    missing = [s.person.name for s in tasting.seats if s.finished_at is None and s.revoked_at is None]
    if missing and not is_open(tasting) and not though:
        raise ApiError(
            409,
            "Somebody has not finished",
            f"{', '.join(missing)} {'has' if len(missing) == 1 else 'have'} not finished; after the "
            f"opening nothing more is taken. "
            "Wait, or open the codes all the same.",
        )


@sitting.post("/tastings/<uuid:tasting_id>/serve", responses={200: TastingView})
@require(Role.COOK)
def serve(path: TastingPath) -> Response:
    """Serve what was laid ready: tasters see codes from now on. What may not be eaten is set aside."""
    tasting = locked_at(path.tasting_id)
    serving.serve(db(), tasting, by=me().person_id)
    changed(tasting)
    return answer(tasting_view(tasting))


@sitting.post("/tastings/<uuid:tasting_id>/turned-over", responses={200: TastingView})
@require(Role.COOK)
def turn_over(path: TastingPath, body: TurnedOver) -> Response:
    """Say what stood under which code where nobody plated: after every answer is sealed. It opens the
    codes.
    """
    tasting = locked_at(path.tasting_id)
    _all_sealed(tasting, though=body.though_unfinished)
    serving.turn_over(db(), tasting, {c.place: c.under for c in body.cups}, by=me().person_id)
    people.note(db(), "turned the cups over", tasting.name, by=me().person_id)
    _judge_anew(tasting)
    return answer(tasting_view(tasting))


@sitting.post("/tastings/<uuid:tasting_id>/open", responses={200: TastingView})
@require(Role.LEAD)
def open_codes(path: TastingPath, body: Opening) -> Response:
    """Open the codes: answers close, the key shows, the worker judges. Asks once more where somebody has not
    finished.
    """
    tasting = locked_at(path.tasting_id)
    if tasting.protocol != Protocol.PLATED.value and tasting.read_off_at is None:
        raise RuleError("codes", "are not known to anybody yet", "Turn the cups over and read them off.")
    _all_sealed(tasting, though=body.though_unfinished)
    panels.open_codes(db(), tasting, by=me().person_id)
    people.note(db(), "opened the codes", tasting.name, by=me().person_id)
    _judge_anew(tasting)
    return answer(tasting_view(tasting))


@sitting.get("/tastings/<uuid:tasting_id>", responses={200: TastingView})
@require(Role.COOK)
def get_tasting(path: TastingPath) -> Response:
    """A tasting as the lead sees it."""
    return answer(tasting_view(tasting_at(path.tasting_id)))


@sitting.get("/tastings/<uuid:tasting_id>/found", responses={200: TastingFound})
@require(Role.COOK)
def get_found(path: TastingPath) -> Response:
    """What a tasting tells; asked for anew where its records have changed since."""
    tasting = tasting_at(path.tasting_id)
    if not is_open(tasting) or tasting.stopped_at:
        return answer(TastingFound(state="closed", rounds=[], **NOTHING_YET))
    kept, fresh = findings.found_of(db(), tasting.trial_id)
    mine = kept.tastings.get(str(tasting.id))
    if not fresh:
        jobs, trial_id = current_app.extensions["yeasty_jobs"], tasting.trial_id
        after_commit(lambda: jobs.analyse(trial_id))
    if mine is None:
        return answer(TastingFound(state="working", rounds=[], **NOTHING_YET))
    rounds = [RoundFound(position=n, found=f) for n, f in sorted(mine.rounds.items())]
    return answer(shown(TastingFound, mine, state="fresh" if fresh else "stale", rounds=rounds))
