"""The six stations of a trial, each with its state in a word or two."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.ask.kinds import check_design
from yeasty.operations.ask.designs import design_of
from yeasty.operations.decide.decisions import outcome_of
from yeasty.operations.setup.fairness import open_differences
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook import queries as bench
from yeasty.store.cook.tables import Shift
from yeasty.store.publish import queries as publications
from yeasty.store.taste import queries as tastings
from yeasty.store.taste.tables import Tasting

NOT_YET = "not yet"
# A longer answer than this does not fit under a station's name.
LONGEST_ANSWER = 13


@dataclass(frozen=True)
class StationWords:
    """A word or two for each station."""

    ask: str
    setup: str
    cook: str
    taste: str
    decide: str
    publish: str


def station_words(db: Session, trial: Trial) -> tuple[StationWords, Shift | None]:
    """How far a trial is, station by station, and the shift that Cook opens on."""
    shifts = bench.shifts_of(db, trial.id)
    sittings = tastings.tastings_of(db, trial.id)
    words = StationWords(
        ask=_asked(trial),
        setup=_set_up(db, trial),
        cook="running" if any(s.ended_at is None for s in shifts) else "done" if shifts else NOT_YET,
        taste=_tasted(sittings),
        decide=_decided(db, trial, sittings),
        publish=_published(db, trial),
    )
    return words, _opens_on(shifts)


def _asked(trial: Trial) -> str:
    missing = len(check_design(design_of(trial)))
    return f"{missing} missing" if missing else f"{len(trial.methods)} methods"


def _set_up(db: Session, trial: Trial) -> str:
    if len(trial.methods) < 2:
        return NOT_YET
    doubts = len(open_differences(db, trial))
    return f"{doubts} doubt{'' if doubts == 1 else 's'}" if doubts else "fair"


def _opens_on(shifts: Sequence[Shift]) -> Shift | None:
    """The open shift that is served next to now; else the newest."""
    open_ones = [s for s in shifts if s.ended_at is None]
    if not open_ones:
        return shifts[0] if shifts else None
    return min(open_ones, key=lambda s: abs((s.serve_from - now()).total_seconds()))


def _tasted(sittings: Sequence[Tasting]) -> str:
    if not sittings:
        return NOT_YET
    return "opened" if all(t.opened_at and not t.from_elsewhere for t in sittings) else "codes closed"


def _decided(db: Session, trial: Trial, sittings: Sequence[Tasting]) -> str:
    outcome = outcome_of(db, trial.id)
    tasted = any(t.opened_at and not t.from_elsewhere for t in sittings)
    if outcome is None or not (tasted or trial.deciding.claim):
        return NOT_YET
    sure = outcome.answer.how_sure.value
    if len(sure) <= LONGEST_ANSWER:
        return sure
    return "level" if "apart" in sure else "open"


def _published(db: Session, trial: Trial) -> str:
    versions = publications.versions_of(db, trial.id)
    if not versions:
        return NOT_YET
    return "withdrawn" if versions[0].withdrawn_at else f"version {versions[0].version}"
