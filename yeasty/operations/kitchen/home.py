"""What goes on in the kitchen now, and what waits for somebody: a few queries whatever there is."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.kernel.quantities_said import say_duration
from yeasty.core.kernel.text import Written, clock_time
from yeasty.core.safety.cautions import limits
from yeasty.store.ask.states import begun
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Device, Shift
from yeasty.store.decide.tables import VerdictLook
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.publish.tables import Promise, Publication, ReaderTry, Source
from yeasty.store.safety.queries import checks
from yeasty.store.taste.tables import Seat, Tasting

# A device that was heard of within so long is one in use; below this share its battery is low.
IN_USE, LOW_BATTERY = timedelta(days=7), 0.12
# A shift whose plates were to meet longer ago than this was forgotten, and is no sentence of its own.
FORGOTTEN = timedelta(hours=12)
LONG_AGO = datetime(1990, 1, 1, tzinfo=UTC)
# A shift that is planned is told of this long ahead.
AHEAD = timedelta(hours=24)


@dataclass(frozen=True)
class Waiting:
    """Something that goes on or waits for somebody.

    Attributes
    ----------
    words : what; path : where in the program it is
    trial : title of its trial, "" where it is of none
    brief : as it stands in the sentence, "" where it is none of it
    """

    words: str
    path: str
    trial: str = ""
    brief: str = ""


def home(db: Session, moment: datetime, written: Written = Written()) -> list[Waiting]:
    """What is in the heat first, by when plates meet; then who is waited for; then what can wait."""
    zone = ZoneInfo(the_kitchen(db).time_zone)
    return [
        *_cooking(db, moment, zone, written),
        *_tasting(db),
        *_verdicts(db),
        *_readers(db),
        *_devices(db, moment),
        *_figures(db),
    ]


def sentence(rows: Sequence[Waiting]) -> str:
    """What waits, in one sentence.

    >>> sentence([Waiting("", "", "", brief) for brief in ("plates at 18:41", "1 taster is missing")])
    'Plates at 18:41; 1 taster is missing.'
    >>> sentence([])
    'Nothing is in the heat, and nothing waits for anybody.'
    """
    said = "; ".join(r.brief for r in rows if r.brief)
    if not said:
        return "Nothing is in the heat, and nothing waits for anybody."
    return f"{said[:1].upper()}{said[1:]}."


def _many(n: int, one: str, more: str) -> str:
    return f"1 {one}" if n == 1 else f"{n} {more}"


def _cooking(db: Session, moment: datetime, zone: ZoneInfo, written: Written) -> list[Waiting]:
    rows = db.execute(
        select(Shift.id, Shift.trial_id, Trial.title, Shift.serve_from, begun())
        .join(Trial, Trial.id == Shift.trial_id)
        .where(Shift.ended_at.is_(None), Shift.clock_rate.is_(None), Trial.put_away_at.is_(None))
        .where(Shift.serve_from.between(moment - FORGOTTEN, moment + AHEAD))
        .order_by(Shift.serve_from, Shift.id)
    ).all()
    found = []
    for shift, trial, title, serve, logged in rows:
        left = (serve - moment).total_seconds()
        at = clock_time(serve.timestamp(), zone, moment.timestamp(), written)
        # Minutes are enough for who looks in.
        meet = f"plates at {at}, in {say_duration(60 * max(1, round(left / 60)))}"
        if left <= 0:
            meet = f"plates were to meet at {at}"
        state = "in the heat" if logged else "planned"
        brief = f"{title}: {meet}" if logged else ""
        found.append(Waiting(f"{state}, {meet}", f"/trials/{trial}/cook/{shift}", title, brief))
    return sorted(found, key=lambda w: not w.brief)


def _tasting(db: Session) -> list[Waiting]:
    here = Seat.revoked_at.is_(None)
    rows = db.execute(
        select(
            Tasting.trial_id,
            Trial.title,
            func.count(Seat.id).filter(here),
            func.count(Seat.finished_at).filter(here),
        )
        .join(Trial, Trial.id == Tasting.trial_id)
        .join(Seat, Seat.tasting_id == Tasting.id)
        .where(
            Tasting.served_at.is_not(None),
            Tasting.opened_at.is_(None),
            Tasting.stopped_at.is_(None),
            Tasting.from_elsewhere.is_(False),
            Trial.put_away_at.is_(None),
            Trial.simulated.is_(False),
        )
        .group_by(Tasting.id, Trial.id)
        .order_by(Tasting.created_at)
    )
    found = []
    for trial, title, seats, done in rows:
        missing = seats - done
        words = f"being tasted, {_many(missing, 'taster is', 'tasters are')} missing"
        brief = f"{_many(missing, 'taster is', 'tasters are')} missing at {title}"
        if not missing:
            words = "everybody has tasted: the codes can be opened"
            brief = f"everybody has tasted {title}: the codes can be opened"
        found.append(Waiting(words, f"/trials/{trial}/taste", title, brief))
    return found


def _verdicts(db: Session) -> list[Waiting]:
    """Codes were opened since anybody looked at Decide, or published."""
    out = select(func.max(Publication.published_at)).where(Publication.trial_id == Trial.id).scalar_subquery()
    opened = func.max(Tasting.opened_at)
    rows = db.execute(
        select(Trial.id, Trial.title)
        .join(Tasting, Tasting.trial_id == Trial.id)
        .outerjoin(VerdictLook, VerdictLook.trial_id == Trial.id)
        .where(Tasting.opened_at.is_not(None), Tasting.stopped_at.is_(None), Trial.put_away_at.is_(None))
        .where(Tasting.from_elsewhere.is_(False), Trial.simulated.is_(False))
        .group_by(Trial.id, VerdictLook.at)
        .having(opened > func.coalesce(func.greatest(VerdictLook.at, out), LONG_AGO))
        .order_by(opened, Trial.id)
    )
    return [
        Waiting(
            "its codes are open: nobody has looked at the verdict yet",
            f"/trials/{trial}/decide",
            title,
            f"the verdict on {title} is new",
        )
        for trial, title in rows
    ]


def _readers(db: Session) -> list[Waiting]:
    asked = db.scalar(
        select(func.count(Promise.id)).where(
            Promise.source == Source.READER.value, Promise.closed_at.is_(None)
        )
    )
    found = []
    if asked:
        words = f"{_many(asked, 'thing that a reader asked', 'things that readers asked')} to try or answer"
        brief = _many(asked, "reader asked something", "things were asked by readers")
        found.append(Waiting(words, "/promises", "", brief))
    cooked = db.execute(
        select(Publication.trial_id, Trial.title, func.count(ReaderTry.id))
        .join(Publication, Publication.id == ReaderTry.publication_id)
        .join(Trial, Trial.id == Publication.trial_id)
        .where(ReaderTry.counted.is_(None))
        .group_by(Publication.trial_id, Trial.title)
        .order_by(Trial.title)
    )
    for trial, title, many in cooked:
        words = f"{_many(many, 'reader says', 'readers say')} that they cooked it: not looked at yet"
        found.append(Waiting(words, f"/trials/{trial}/publish", title))
    return found


def _devices(db: Session, moment: datetime) -> list[Waiting]:
    rows = db.execute(
        select(Device.name, Device.battery).where(
            Device.revoked_at.is_(None),
            Device.simulated_shift_id.is_(None),
            Device.battery < LOW_BATTERY,
            Device.heard_at > moment - IN_USE,
        )
    )
    return [
        Waiting(f"{n}: battery at {b:.0%}", "/kitchen", "", f"the battery of {n} is low") for n, b in rows
    ]


def _figures(db: Session) -> list[Waiting]:
    left = len(limits().keys() - checks(db).keys())
    if not left:
        return []
    words = f"{_many(left, 'safety figure was', 'safety figures were')} recalled and not checked in print yet"
    return [Waiting(words, "/kitchen/safety")]
