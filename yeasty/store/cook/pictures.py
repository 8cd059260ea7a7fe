"""Photos: re-encoded so that no location or device data is left, with a thumbnail."""

import uuid
from io import BytesIO

from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import RuleError
from yeasty.store.base import now
from yeasty.store.cook.tables import Photo

MOST_BYTES = 12 * 1024 * 1024

MOST_PIXELS = 40_000_000

LONGEST_SIDE = 2000

THUMB_SIDE = 360

FORMATS = ("JPEG", "PNG", "WEBP")


def encoded(data: bytes) -> tuple[bytes, bytes]:
    """A picture and its thumbnail, decoded and written anew as JPEG, so that nothing else comes along with
    it.

    Raises
    ------
    RuleError : too large, or not a picture
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    if len(data) > MOST_BYTES:
        raise RuleError("photo", f"is larger than {MOST_BYTES // 2**20} MB", "Take it at a lower resolution.")
    try:
        opened = Image.open(BytesIO(data), formats=FORMATS)
        if opened.width * opened.height > MOST_PIXELS:
            raise RuleError("photo", "has too many pixels", "Take it at a lower resolution.")
        image = ImageOps.exif_transpose(opened).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise RuleError("photo", "is not a picture", "Choose a JPEG, PNG or WebP file.") from None

    def small(side: int, quality: int) -> bytes:
        copy = image.copy()
        # Comments would be written out again with it.
        copy.info.clear()
        copy.thumbnail((side, side))
        out = BytesIO()
        copy.save(out, "JPEG", quality=quality)
        return out.getvalue()

    return small(LONGEST_SIDE, 85), small(THUMB_SIDE, 80)


def store_photo(
    db: Session, trial_id: uuid.UUID, photo_id: uuid.UUID, data: bytes, by: uuid.UUID | None
) -> Photo:
    """Keep a picture under the id its device made; sending it twice changes nothing.

    Raises
    ------
    RuleError : too large, or not a picture
    """
    there = db.get(Photo, photo_id)
    if there is not None:
        if there.trial_id != trial_id:
            raise RuleError("photo", "belongs to another trial", "Take it again.")
        return there
    full, thumb = encoded(data)
    photo = Photo(
        id=photo_id,
        trial_id=trial_id,
        media_type="image/jpeg",
        full=full,
        thumb=thumb,
        added_at=now(),
        added_by=by,
    )
    db.add(photo)
    db.flush()
    return photo
