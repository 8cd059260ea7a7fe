"""A practice trial: a made-up question gone through all six stations with stand-ins, in some ten minutes.

Within it what was cooked on simulated time counts and made-up tasters are believed; outside of it nothing of
it counts, and no page of it comes out.
"""

import time
import uuid
from collections import Counter
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from random import Random, SystemRandom

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.trial import TrialKind
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.kernel.errors import Refused
from yeasty.core.taste.said import SaidValue
from yeasty.operations.ask import lots
from yeasty.operations.ask.beginning import Beginning, begin
from yeasty.operations.ask.designs import Asked
from yeasty.operations.cook.rehearsals import start
from yeasty.operations.cook.shifts import make_shift
from yeasty.operations.setup.fairness import open_differences
from yeasty.operations.taste import answers, panels, serving
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import AcceptedDifference, Trial
from yeasty.store.base import now, row_of
from yeasty.store.cook.queries import begun_of, entries_after, shifts_of
from yeasty.store.cook.rehearsals import going
from yeasty.store.cook.tables import Shift
from yeasty.store.decide.tables import VerdictLook
from yeasty.store.taste.queries import tastings_of
from yeasty.store.taste.tables import Tasting

WAYS = ("pan", "griddle")
# Name, ends in words, weight; and what each way truly is to a made-up tongue [0 to 10].
ASKED = (
    ("Softness", "tough", "soft", 2.0, (5.2, 7.8)),
    ("Blisters", "few", "many", 1.0, (4.6, 6.8)),
)
DOUGH = (("wheat flour", 0.14, ("gluten",)), ("water", 0.09, ()), ("salt", 0.003, ()))
# Eight pieces each; those of the griddle were cut larger, which nobody asked about [kg].
PIECES, PIECE_KG, CUT_LARGER_KG = 8, 0.029, 0.036
PLANTED = "weight of a piece"
COMES_WITH_IT = "what comes with a pan or a griddle, which is what is asked"
TASTERS = tuple(f"Stand-in taster {n}" for n in range(1, 7))
# How far people and their answers spread [points].
PERSON_SD, ANSWER_SD = 0.7, 0.6
# Seconds of the shift to one. Its plates met so long ago when the stand-ins begin, with so much time before
# that, and may stand so far apart [s].
SPEED, BEFORE_NOW_S, ROOM_S, WINDOW_S = 20.0, 600.0, 3600.0, 600.0


@dataclass(frozen=True)
class PracticeStage:
    """A station of a practice trial.

    Attributes
    ----------
    station, title : its key and its name
    says : what there is to do, or to see
    act : "cook", "taste" or "open" where the program does it at a touch, else ""
    act_words : what the button says
    done : whether the records hold it
    """

    station: str
    title: str
    says: str
    done: bool
    act: str = ""
    act_words: str = ""


def begin_practice(db: Session) -> Trial:
    """A practice trial, laid out with what the kitchen has: two ways, one thing that differs unasked."""
    trial = begin(
        db,
        Beginning(
            question="Is a griddle worth its place for flatbread, or does a pan do as well?",
            dish="flatbread",
            kind=TrialKind.SIDE_BY_SIDE,
            title="Practice: flatbread, pan or griddle",
            food_class="baked",
            techniques=WAYS,
            judged=[
                Asked(name, weight=weight, low_words=low, high_words=high)
                for name, low, high, weight, _ in ASKED
            ],
            pieces=PIECES,
            piece_kg=PIECE_KG,
        ),
    )
    trial.simulated, trial.matters = True, 0.5
    rows = [
        lots.Lot(
            name,
            "one sack",
            allergens=allergens,
            allergens_checked=True,
            amounts={m.id: kg for m in trial.methods},
        )
        for name, kg, allergens in DOUGH
    ]
    lots.set_ingredients(db, trial, rows)
    for m in trial.methods:
        m.start_c = 20.0
    trial.methods[1].piece_kg = CUT_LARGER_KG
    db.flush()
    for d in open_differences(db, trial):
        if d.field != PLANTED:
            row = row_of(AcceptedDifference, d, reason=COMES_WITH_IT, accepted_at=now())
            trial.accepted.append(row)
    db.flush()
    return trial


def stages(db: Session, trial: Trial, *, opens: bool) -> list[PracticeStage]:
    """What there is to do at each station, and what is done; `opens` : whether whoever asks may open
    codes.
    """
    shift = shift_of(db, trial)
    tasting, over = _sitting(db, trial), _over(db, shift)
    looked = db.scalar(select(VerdictLook.at).where(VerdictLook.trial_id == trial.id))
    read = bool(tasting and tasting.opened_at and looked and looked > tasting.opened_at)
    return [
        PracticeStage(
            "ask",
            "Ask",
            "Two ways, one question, and what is judged. At “Question and rule” write your hunch and save "
            "it: what do you expect? Written down first, it cannot bend itself to what comes out.",
            bool(trial.hunch.strip()),
        ),
        PracticeStage(
            "setup",
            "Set up",
            "One thing differs that nobody asked about: the griddle’s pieces were cut larger. Say what that "
            "means for the verdict, and settle it.",
            not open_differences(db, trial),
        ),
        _cooking(over=over, at_work=_at_work(db, shift)),
        _tasting(tasting, cooked=over, opens=opens),
        PracticeStage(
            "decide",
            "Decide",
            "One sentence that claims no more than the records carry: each way was cooked once, so it "
            "cannot say “clear”. Open what it stands on.",
            read,
        ),
        PracticeStage(
            "publish",
            "Publish",
            "The page as readers would see it. It stays here, since its food was made up. That is the whole "
            "way; your own question goes it too.",
            False,
        ),
    ]


def _cooking(*, over: bool, at_work: bool) -> PracticeStage:
    if not over and not at_work:
        return PracticeStage(
            "cook",
            "Cook",
            "Stand-ins cook it on simulated time, 20 times as fast: two or three minutes. Watch the card "
            "for the hands and the line that is now.",
            False,
            "cook",
            "Let them cook",
        )
    says = "They are at it: at the bench you see what is due, and at its end what was late and why."
    return PracticeStage("cook", "Cook", says, over)


def _tasting(tasting: Tasting | None, *, cooked: bool, opens: bool) -> PracticeStage:
    if tasting is None:
        return PracticeStage(
            "taste",
            "Taste",
            "Six made-up people taste blind, each in an order of their own, knowing codes and nothing else.",
            False,
            "taste" if cooked else "",
            "Let them taste" if cooked else "",
        )
    says = "They have answered, and nobody knows yet which code is which: open the codes."
    act = ("", "") if opens else ("open", "The lead opens them")
    return PracticeStage("taste", "Taste", says, tasting.opened_at is not None, *act)


def shift_of(db: Session, trial: Trial) -> Shift | None:
    """The newest shift of a practice trial."""
    return max(shifts_of(db, trial.id), key=lambda s: s.created_at, default=None)


def _sitting(db: Session, trial: Trial) -> Tasting | None:
    """The newest tasting of a practice trial that was not stopped."""
    sat = [t for t in tastings_of(db, trial.id) if t.stopped_at is None]
    return max(sat, key=lambda t: t.created_at, default=None)


def _over(db: Session, shift: Shift | None) -> bool:
    """Whether the stand-ins have done all they had to."""
    return shift is not None and bool(begun_of(db, [shift.id])) and not _at_work(db, shift)


def _at_work(db: Session, shift: Shift | None) -> bool:
    """Whether stand-ins are called, and not done."""
    return shift is not None and shift.id in {r.shift_id for r in going(db)}


def _is_practice(trial: Trial) -> None:
    if not trial.simulated:
        raise Refused("trial", "is no practice", "Cook, taste and open its codes yourselves.")


def cook(db: Session, trial: Trial, by: uuid.UUID) -> Shift:
    """A shift on simulated time with its stand-ins called. Its clock ends about now, so that all that comes
    after it has its times as on the day.

    Raises
    ------
    Refused : a trial that is no practice, stand-ins at work in it, or too many rehearsals at once
    """
    _is_practice(trial)
    if _at_work(db, shift_of(db, trial)):
        raise Refused("shift", "is being cooked", "Watch it at its bench, or end that rehearsal there.")
    real = time.time()
    serve = datetime.fromtimestamp(real - BEFORE_NOW_S, now().tzinfo).replace(second=0, microsecond=0)
    shift = make_shift(
        db,
        trial,
        name="Practice",
        serve_from=serve,
        serve_until=serve + timedelta(seconds=WINDOW_S),
        people=1,
        replicates=Counter(m.id for m in trial.methods),
        appliances=appliances_of(db, trial),
        walk_s=0,
        same_age=False,
        clock=ShiftClock(real - BEFORE_NOW_S - ROOM_S, real, SPEED),
    )
    start(db, shift, by, hands=True, mishaps=())
    return shift


def taste(db: Session, trial: Trial, chance: Random | None = None) -> Tasting:
    """A tasting of what the stand-ins cooked, all of it answered by made-up people; its codes stay closed.

    Raises
    ------
    Refused : a trial that is no practice, nothing cooked yet, tasted already
    """
    _is_practice(trial)
    shift = shift_of(db, trial)
    if shift is None or not _over(db, shift):
        raise Refused("tasting", "has nothing to taste yet", "Let the stand-ins cook to the end first.")
    if _sitting(db, trial) is not None:
        raise Refused("tasting", "has been held", "Open its codes.")
    chance = chance or SystemRandom()
    plan = panels.RoundPlan([panels.Served(b.id) for b in shift.batches])
    serving.check_served(db, trial.id, [plan], later=False)
    tasting = panels.make_tasting(db, trial, name="Practice", rounds=[plan], tasters=TASTERS, chance=chance)
    db.refresh(tasting)
    # Stand-ins that were late are ahead of the day: nobody tastes before it was cooked.
    last = max((e.core().at for e in entries_after(db, shift.id, 0)), default=0.0)
    tasting.served_at = max(now(), datetime.fromtimestamp(last + 1, UTC))
    truth = {str(a.id): next(t for n, *_, t in ASKED if n == a.name) for a in trial.attributes}
    way = {m.id: n for n, m in enumerate(trial.methods)}
    for seat in tasting.seats:
        seat.told_allergens_at, level = now(), chance.gauss(0, PERSON_SD)
        for sample in tasting.rounds[0].samples:
            assert sample.batch
            for a in trial.attributes:
                true = truth[str(a.id)][way[sample.batch.method_id]]
                value = min(10.0, max(0.0, round(2 * (true + level + chance.gauss(0, ANSWER_SD))) / 2))
                answers.take(db, seat, answers.Telling(0, sample.code, a.id, SaidValue(value)))
        seat.finished_at = now()
    db.flush()
    return tasting


def open_codes(db: Session, trial: Trial, *, by: uuid.UUID) -> Tasting:
    """The codes of a practice trial, opened by whoever practises.

    Raises
    ------
    Refused : a trial that is no practice, nothing tasted yet
    """
    _is_practice(trial)
    tasting = _sitting(db, trial)
    if tasting is None:
        raise Refused("codes", "are not there yet", "Let the stand-ins taste first.")
    panels.open_codes(db, tasting, by=by)
    return tasting
