"""Photos of a page: which may be chosen, which stand on it now, and their files."""

import uuid
from base64 import b64encode
from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, replace
from io import BytesIO
from typing import Any

from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from yeasty.core.decide.outcome import Outcome
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.document import as_now
from yeasty.core.publish.pictures import (
    CUTS,
    Chosen,
    PageSpot,
    Shown,
    box_of,
    check_chosen,
    file_of,
    read_file,
    size_of,
    widths_of,
)
from yeasty.core.publish.troubles import Trouble
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Photo
from yeasty.store.publish.tables import Publication, Rendering

QUALITY = 82


@dataclass(frozen=True)
class MayBeChosen:
    """A photo of a judged batch: of which method, which face and which of its batches."""

    photo: str
    way: str
    face: str
    replicate: int


def may_be_chosen(outcome: Outcome | None, trial: Trial) -> list[MayBeChosen]:
    """Photos of judged batches, in the order of methods: of what was set aside nothing is shown."""
    if outcome is None:
        return []
    told = {m.method: m.photos for m in outcome.methods}
    return [
        MayBeChosen(p.photo, str(m.id), p.face, p.replicate)
        for m in trial.methods
        for p in told.get(str(m.id), ())
    ]


def choose(db: Session, trial: Trial, outcome: Outcome | None, rows: Sequence[Chosen]) -> tuple[Chosen, ...]:
    """What the lead chose, with the size of each photo.

    Raises
    ------
    RuleError : a photo that may not be chosen, or is of another method than it is to show, no step where it
        stands at one, two at one spot, a cut out of range
    """
    check_chosen(rows)
    may = {p.photo: p.way for p in may_be_chosen(outcome, trial)}
    found = []
    for n, c in enumerate(rows, 1):
        if c.spot is PageSpot.TROUBLE:
            raise RuleError(
                f"picture {n}", "stands beside what goes wrong", "Choose it in the library, at Kitchen."
            )
        if c.photo not in may:
            raise RuleError(
                f"picture {n}", "is of no judged batch of this trial", "Choose one of those that are shown."
            )
        way = may[c.photo]
        if c.spot is not PageSpot.FIRST and c.way != way:
            raise RuleError(f"picture {n}", "is of another method", "Choose a photo of this one.")
        if c.spot is PageSpot.STEP and not c.step:
            raise RuleError(f"picture {n}", "is at no step of its method", "Choose a step.")
        width, height = photo_size(db, c.photo)
        step = c.step if c.spot is PageSpot.STEP else ""
        found.append(replace(c, way=way, step=step, alt=c.alt.strip(), width=width, height=height))
    return tuple(found)


def photo_size(db: Session, photo: str) -> tuple[int, int]:
    from PIL import Image

    row = db.get(Photo, uuid.UUID(photo))
    if row is None or row.full is None:
        raise RuleError("photo", "was erased", "Choose another.")
    with Image.open(BytesIO(row.full)) as picture:
        return picture.size


def shown_on(
    chosen: Sequence[Chosen],
    may: Sequence[MayBeChosen],
    methods: Sequence[Method],
    steps: Mapping[str, Container[str]],
    listed: Container[str],
) -> tuple[Shown, ...]:
    """The photos that stand on a page as it is now: those of batches that are judged still, of ways it tells.

    Parameters
    ----------
    chosen : in the lead's order; may : what may be chosen
    steps : tag of each method that is written out to the keys of its steps; listed : tags of all that are
        told
    """
    by_photo = {p.photo: p for p in may}
    tag = {str(m.id): m.tag for m in methods}
    name = {str(m.id): m.name for m in methods}
    found: list[Shown] = []
    for c in chosen:
        known = by_photo.get(c.photo)
        if known is None or known.way not in tag:
            continue
        if c.spot is PageSpot.STEP and c.step not in steps.get(tag[known.way], ()):
            continue
        if c.spot is not PageSpot.STEP and tag[known.way] not in listed:
            continue
        width, height = size_of(c)
        found.append(
            Shown(
                len(found) + 1,
                c.photo,
                c.spot,
                box_of(c),
                tag[known.way],
                c.step,
                ", ".join(x for x in (name[known.way], known.face) if x),
                c.alt,
                width,
                height,
            )
        )
    return tuple(found)


def beside_troubles(
    chosen: Mapping[str, Chosen], troubles: Sequence[Trouble], after: int
) -> tuple[Shown, ...]:
    """Photos of what goes wrong, beside the troubles that a page tells.

    Parameters
    ----------
    chosen : key of a trouble to its photo; after : how many photos stand on the page before
    """
    found: list[Shown] = []
    for t in troubles:
        c = chosen.get(t.key) if t.key else None
        if c is not None:
            width, height = size_of(c)
            number = after + len(found) + 1
            found.append(Shown(number, c.photo, c.spot, box_of(c), "", t.key, t.name, c.alt, width, height))
    return tuple(found)


def file_of_photo(db: Session, record: dict[str, Any], name: str) -> bytes | None:
    """A photo of a page's record as JPEG, at a width of its spot; None where it has no such file, and where
    the photo was erased.
    """
    asked = read_file(name)
    if asked is None:
        return None
    number, width = asked
    shown = next((p for p in as_now(record)["photos"] if p["number"] == number), None)
    if shown is None or width not in widths_of(shown["spot"], shown["width"]):
        return None
    row = db.get(Photo, uuid.UUID(shown["photo"]))
    if row is None or row.full is None or row.erased_at is not None:
        return None
    return cut(row.full, shown["box"], width, CUTS[PageSpot(shown["spot"])].aspect)


def cut(data: bytes, box: Sequence[float], width: int, aspect: float) -> bytes:
    """The part of a picture in `box` (left, top, right, bottom as shares), `width` px wide, written anew so
    that nothing comes along with it.
    """
    from PIL import Image

    with Image.open(BytesIO(data)) as picture:
        left, top, right, bottom = box
        wide, high = picture.size
        part = picture.convert("RGB").crop(
            (round(left * wide), round(top * high), round(right * wide), round(bottom * high))
        )
        small = part.resize((width, max(1, round(width / aspect))), Image.Resampling.LANCZOS)
        small.info.clear()
        out = BytesIO()
        small.save(out, "JPEG", quality=QUALITY, optimize=True, progressive=True)
    return out.getvalue()


def _key(name: str) -> str:
    return f"image/jpeg; name={name}"


def photo_file(db: Session, row: Publication, name: str) -> bytes | None:
    """A photo's file of a version: as the worker made it, else cut now. Nothing is written: many readers ask
    at once.
    """
    made = db.get(Rendering, (row.id, _key(name)))
    return made.data if made is not None else file_of_photo(db, row.document, name)


def photo_files(db: Session, row: Publication) -> dict[str, bytes]:
    """Every file of a version's photos by its name; of an erased photo none."""
    names = [
        file_of(p["number"], width)
        for p in as_now(row.document)["photos"]
        for width in widths_of(p["spot"], p["width"])
    ]
    return {name: data for name in names if (data := photo_file(db, row, name)) is not None}


def keep_files(db: Session, row: Publication) -> None:
    """Make every file of a version's photos that is not there yet, and keep it."""
    rows = [
        {"publication_id": row.id, "media_type": _key(name), "data": data, "made_at": now()}
        for name, data in photo_files(db, row).items()
    ]
    if rows:
        db.execute(insert(Rendering).values(rows).on_conflict_do_nothing())


def in_page(files: Mapping[str, bytes], number: int, width: int) -> str:
    """A photo as part of the page itself: paper fetches nothing."""
    data = files.get(file_of(number, width), b"")
    return "data:image/jpeg;base64," + b64encode(data).decode("ascii")
