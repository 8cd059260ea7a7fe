"""Pages that are out and would not be let out today.

Whoever opens the list of trials is told of them, so what may be told of a trial is not worked out anew each
time: it is kept with the sum of what it was worked out from, as a verdict is, and taken as long as nothing of
that has changed and time alone changes nothing of it.
"""

import uuid
from collections import defaultdict
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import timedelta

from pydantic import TypeAdapter, ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty import __version__
from yeasty.core.publish.document import as_now
from yeasty.operations.decide.decisions import is_fresh, keep, kept_analysis
from yeasty.operations.publish.telling import Telling, telling
from yeasty.store.ask.queries import whole_trial
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.publish.tables import Publication

TELLING = "telling"
# Long enough that whatever goes bad by standing has gone bad.
LONG_AFTER = timedelta(days=3650)


@dataclass(frozen=True)
class Kept:
    """What may be told of a trial as it was worked out last: by which version of the program, whose figures
    it stands on, and whether it says the same however much time goes by.
    """

    telling: Telling
    settled: bool
    program: str


_KEPT = TypeAdapter(Kept)


def _work_out(db: Session, trial_id: uuid.UUID) -> Kept:
    trial = whole_trial(db, trial_id)
    if trial is None:
        raise LookupError(f"trial {trial_id} is gone")
    told = telling(db, trial)
    later = telling(db, trial, (now() + LONG_AFTER).timestamp())
    return Kept(told, told == later, __version__)


def keep_telling(db: Session, trial_id: uuid.UUID) -> None:
    """Work out and keep what may be told of a trial that has a page. What the session holds is let go before,
    so that the tables it stands on are seen to be read.
    """
    db.flush()
    db.expunge_all()
    if db.scalar(select(Publication.id).where(Publication.trial_id == trial_id).limit(1)) is not None:
        keep(db, trial_id, TELLING, lambda: _KEPT.dump_python(_work_out(db, trial_id), mode="json"))


def keep_all_telling(db: Session) -> None:
    """The same for every trial that has a page."""
    for trial_id in db.scalars(select(Publication.trial_id).distinct()).all():
        keep_telling(db, trial_id)


def told_of(db: Session, trial: Trial) -> Telling:
    """What may be told of a trial now: as it was kept, where that stands."""
    return _told_of(db, trial.id)[0] or telling(db, trial)


def _told_of(db: Session, trial_id: uuid.UUID) -> tuple[Telling | None, bool]:
    """What may be told of a trial now, None where there is no such trial; and whether it was kept. What time
    alone may change is kept too, and worked out each time.
    """
    kept = kept_analysis(db, trial_id, TELLING)
    found = None
    if kept is not None:
        with suppress(ValidationError):
            found = _KEPT.validate_python(kept.result)
    stands = found is not None and found.program == __version__ and is_fresh(db, kept)
    if found and found.settled and stands:
        return found.telling, True
    trial = whole_trial(db, trial_id)
    return (telling(db, trial) if trial is not None else None), stands


@dataclass(frozen=True)
class AtRisk:
    """A page that is out and would not stand today, why, what is proposed, and the words for its readers."""

    publication: Publication
    why: str
    proposal: str
    correction: str


def pages_at_risk(db: Session, keep_soon: Callable[[uuid.UUID], None] = lambda _: None) -> list[AtRisk]:
    """Newest versions that are out and would not be let out today.

    `keep_soon` : told of each trial of which nothing is kept that stands, to have it kept for the next look
    """
    newest: dict[uuid.UUID, Publication] = {}
    for row in db.scalars(
        select(Publication)
        .where(Publication.withdrawn_at.is_(None), Publication.from_elsewhere.is_(False))
        .order_by(Publication.version)
    ):
        newest[row.trial_id] = row
    methods = defaultdict(list)
    for method in db.scalars(select(Method).where(Method.trial_id.in_(newest)).order_by(Method.position)):
        methods[method.trial_id].append(method)
    found = []
    for row in newest.values():
        told, stands = _told_of(db, row.trial_id)
        if not stands:
            keep_soon(row.trial_id)
        risk = _risk_of(row, methods[row.trial_id], told) if told is not None else None
        if risk is not None:
            found.append(risk)
    return found


def _risk_of(row: Publication, methods: Sequence[Method], told: Telling) -> AtRisk | None:
    document = as_now(row.document)
    names = {m.name: m for m in methods}
    tags = {m.tag: m for m in methods}
    if document["recipe"]:
        method = tags.get(document["recipe"]["tag"]) or names.get(document["recipe"]["method"])
        if method is None:
            gone = "Its method is no longer part of the trial."
            return AtRisk(row, gone, "Withdraw it.", gone)
        if method.id in told.unfit:
            return AtRisk(
                row,
                told.unfit[method.id],
                "Withdraw it, or recommend another method.",
                f"{method.name} is no longer recommended. {told.unfit[method.id]}",
            )
    offered = [m for m, _ in document["choose_another"]] + [
        r["method"] for r in (*document["recipes"], *document["doneness"])
    ]
    bad = [n for n in offered if n in names and names[n].id in told.unfit]
    # What is told with its word only is offered to nobody; a danger is not even that.
    bad += [w["name"] for w in document["ways"] if (m := names.get(w["name"])) and m.id in told.warned]
    if not bad:
        return None
    why = told.unfit[names[bad[0]].id]
    named = ", ".join(dict.fromkeys(bad))
    return AtRisk(
        row, f"It offers {named}: {why}", "Publish a new version.", f"{named} is no longer offered. {why}"
    )
