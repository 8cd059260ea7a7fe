"""The kitchen's library of what goes wrong: what a lead took up of it is told on pages."""

import uuid
from collections.abc import Collection
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.pictures import Chosen, PageSpot, check_chosen
from yeasty.core.publish.troubles import SHIPPED, Trouble, check_trouble, for_page
from yeasty.operations.kitchen.taking_away import take_away
from yeasty.operations.publish.photos import photo_size
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.queries import batches_of_trial, entries_of_trial
from yeasty.store.cook.tables import Photo
from yeasty.store.kitchen.library import known_techniques
from yeasty.store.publish.tables import Defect


@dataclass(frozen=True)
class Kept:
    """A trouble of the library. `id` is "" and `taken_up` false for what ships and nobody touched yet."""

    id: str
    shipped: str
    trouble: Trouble
    techniques: tuple[str, ...]
    trial_id: str
    taken_up: bool
    photo: Chosen | None = None
    photo_trial: str = ""


@dataclass(frozen=True)
class TrialPhoto:
    """A photo of a trial's log, and what was said of it there."""

    photo: str
    said: str


def _trouble(row: Defect) -> Trouble:
    key = str(row.id) if row.photo_id else ""
    return Trouble(row.name, row.looks, row.causes, row.cure, row.normal, row.stands_on, key)


def _photo(db: Session, row: Defect) -> tuple[Chosen, str] | None:
    """How it looks, and the trial its photo is of; None where there is none, and where it was erased."""
    photo = db.get(Photo, row.photo_id) if row.photo_id else None
    if photo is None or photo.erased_at is not None:
        return None
    width, height = photo_size(db, str(photo.id))
    chosen = Chosen(
        str(photo.id), PageSpot.TROUBLE, "", str(row.id), row.photo_alt, row.photo_x, row.photo_y,
        row.photo_zoom, width, height,
    )  # fmt: skip
    return chosen, str(photo.trial_id)


def library(db: Session) -> list[Kept]:
    """All of it: the kitchen's own by name, then what ships and was not taken up."""
    rows = db.scalars(select(Defect).order_by(Defect.name, Defect.id)).all()
    photo = {r.id: _photo(db, r) for r in rows}
    mine = [
        Kept(
            str(r.id),
            r.shipped,
            _trouble(r),
            tuple(r.techniques),
            str(r.trial_id) if r.trial_id else "",
            r.taken_up,
            *(photo[r.id] or (None, "")),
        )
        for r in rows
    ]
    here = {r.shipped for r in rows}
    return mine + [
        Kept("", s.key, s.trouble, s.techniques, "", taken_up=False)
        for s in SHIPPED.values()
        if s.key not in here
    ]


def keep(
    db: Session,
    defect_id: uuid.UUID | None,
    trouble: Trouble,
    *,
    of: Collection[str],
    trial_id: uuid.UUID | None,
    taken_up: bool,
    shipped: str = "",
    photo: Chosen | None = None,
) -> Defect:
    """Keep a trouble of the library, a new one without an id.

    Raises
    ------
    RuleError : words that are missing, a technique, a trial or a trouble that is not known, what belongs to
        no technique and to no trial, a photo that is not there, or without words
    """
    check_trouble(trouble)
    known = known_techniques(db)
    for key in of:
        if key not in known:
            raise RuleError("techniques", f"{key} is not known", "Choose from the list.")
    if trial_id is not None and db.get(Trial, trial_id) is None:
        raise RuleError("trial", "is not there", "Leave it out.")
    if not of and trial_id is None:
        raise RuleError("techniques", "are none", "Say to which it belongs, or in which trial it was seen.")
    if shipped and shipped not in SHIPPED:
        raise RuleError("shipped", f"{shipped} is not known", "Choose from the list.")
    if photo is not None:
        if not photo.alt.strip():
            raise RuleError("photo", "has no words for who does not see it", "Say what is to be seen.")
        check_chosen([photo])
        photo_size(db, photo.photo)
    row = db.get(Defect, defect_id) if defect_id else Defect(shipped=shipped)
    if row is None:
        raise RuleError("defect", "is not there any more", "Look at the list again.")
    row.name, row.looks, row.causes = trouble.name.strip(), trouble.looks.strip(), trouble.causes.strip()
    row.cure, row.normal, row.stands_on = trouble.cure.strip(), trouble.normal, trouble.stands_on.strip()
    row.techniques, row.trial_id = list(of), trial_id or row.trial_id
    row.taken_up, row.changed_at = taken_up, now()
    row.photo_id = uuid.UUID(photo.photo) if photo else None
    if photo is not None:
        row.photo_alt, row.photo_x, row.photo_y = photo.alt.strip(), photo.x, photo.y
        row.photo_zoom = photo.zoom
    db.add(row)
    db.flush()
    return row


def remove(db: Session, defect_id: uuid.UUID, by: uuid.UUID) -> None:
    """Take one out of the library; what is published keeps its words. `by` : whose account.

    Raises
    ------
    RuleError : not there
    """
    row = db.get(Defect, defect_id)
    if row is None:
        raise RuleError("defect", "is not there any more", "Look at the list again.")
    take_away(db, row, f"“{row.name}”", by)


def troubles_of(db: Session, trial: Trial, of: Collection[str]) -> tuple[Trouble, ...]:
    """What a page tells that writes out methods of the techniques `of`."""
    rows = db.scalars(select(Defect).where(Defect.taken_up).order_by(Defect.name, Defect.id)).all()
    return for_page([(_trouble(r), r.techniques, r.trial_id == trial.id) for r in rows], of)


def photos_of_troubles(db: Session, troubles: Collection[Trouble]) -> dict[str, Chosen]:
    """How they look, by their key."""
    keys = {uuid.UUID(t.key) for t in troubles if t.key}
    rows = db.scalars(select(Defect).where(Defect.id.in_(keys))) if keys else ()
    return {str(r.id): found[0] for r in rows if (found := _photo(db, r)) is not None}


def photos_in(db: Session, trial: Trial) -> list[TrialPhoto]:
    """Every photo of a trial's log, also of what was given up: a defect is often seen there."""
    of = {m.id: m.tag for m in trial.methods}
    tag = {b.id: of[b.method_id] for b in batches_of_trial(db, trial.id)}
    here = select(Photo.id).where(Photo.trial_id == trial.id, Photo.erased_at.is_(None))
    kept = {str(photo) for photo in db.scalars(here)}
    found = []
    for e in entries_of_trial(db, trial.id):
        key = str(e.payload.get("photo_id", "")) if e.kind == EntryKind.PHOTO else ""
        if key in kept:
            said = [
                tag.get(e.batch_id, "") if e.batch_id else "",
                str(e.payload.get("face") or e.payload.get("part") or ""),
            ]
            found.append(TrialPhoto(key, ", ".join(x for x in said if x)))
    return found


def seen_in(trial: Trial) -> list[Trouble]:
    """Defects that a trial's own versions were meant to cure, with what cured them where that is on record:
    words to begin from.
    """
    return [
        Trouble(
            m.aimed_defect,
            m.aimed_defect,
            "",
            m.change if m.outcome else "",
            normal=False,
            stands_on=f"{trial.title}: {m.name}" + (f", came out {m.outcome}" if m.outcome else ""),
        )
        for m in trial.methods
        if m.aimed_defect.strip()
    ]
