"""Laying a tasting: codes dealt at random, an order for each taster, links."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import timedelta
from random import Random, SystemRandom
from typing import Any

from itsdangerous import BadSignature, URLSafeSerializer
from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.trial import attribute_record
from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup.allergens import union
from yeasty.core.taste.blinding import FRESH_DAYS, blocks, codes, unevenness
from yeasty.core.taste.cups import MOST_ALONE, Protocol, letters
from yeasty.core.taste.tests import TESTS, Settings, TestKey
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now, row_of
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.taste.queries import codes_since
from yeasty.store.taste.tables import CupRow, Sample, Seat, Serving, TasteRound, Tasting

MOST_CODES, MOST_ROUNDS = 200, 12


@dataclass(frozen=True)
class Served:
    """What one sample of a round is: a batch, or something from outside that `outside` names.

    `twice` : served under two codes, so that the panel's own spread shows
    """

    batch_id: uuid.UUID | None = None
    outside: str = ""
    piece: str = ""
    state: str = "fresh"
    twice: bool = False

    @property
    def thing(self) -> str:
        """The batch, or what it is from outside."""
        return str(self.batch_id or self.outside)

    @property
    def key(self) -> str:
        """What it is told from the others by: one batch may come as two pieces."""
        return f"{self.thing}|{self.piece}|{self.state}"


@dataclass(frozen=True)
class RoundPlan:
    """A round as it is wanted. `attributes` : ids of the questions, all where empty."""

    served: Sequence[Served]
    test: TestKey = TestKey.SCORED
    name: str = ""
    part: str = ""
    condition: str = ""
    age_words: str = ""
    attributes: Sequence[str] = ()
    settings: Settings = field(default_factory=Settings)
    break_s: int = 0


def check_round(db: Session, trial: Trial, plan: RoundPlan, where: str) -> None:
    """Whether a round can be served.

    Raises
    ------
    RuleError : a test that is not there, too few or too many samples, questions or a label it needs and lacks
    """
    test = TESTS[plan.test]
    keys = [s.key for s in plan.served]
    if len(set(keys)) != len(keys):
        raise RuleError(where, "serves the same batch twice", "Ask for it to be served twice instead.")
    things = [s.thing for s in plan.served]
    if plan.test is not TestKey.SCORED and len(set(things)) != len(things):
        raise RuleError(where, "serves two pieces of one batch", "Score them, or choose one of them.")
    each = plan.settings.most_each
    if each and plan.test is not TestKey.SCORED:
        raise RuleError(where, "needs every sample with everybody", "Leave “samples a person” empty.")
    if each and each < 2:
        raise RuleError(where, "gives a person fewer than 2 samples", "Give each at least 2.")
    if len(keys) < test.fewest or (len(keys) < 2 and not any(s.twice or s.outside for s in plan.served)):
        least = max(2, test.fewest)
        raise RuleError(where, f"has fewer than {least} samples", "Choose at least two batches to compare.")
    if len(keys) > test.most:
        raise RuleError(
            where, f"has more than the {test.most} samples that “{test.name}” takes", "Leave some out."
        )
    if test.cups > 1 and any(s.twice for s in plan.served):
        raise RuleError(where, "is served twice anyway", "Take “twice” away.")
    asked = {str(a.id) for a in trial.attributes}
    if set(plan.attributes) - asked:
        raise RuleError(where, "asks what the trial does not", "Choose among what Ask says to judge.")
    if test.drawn == "samples" and not asked:
        raise RuleError("attributes", "none", "Name what tasters judge at Ask first.")
    if test.wants == "attribute" and plan.settings.attribute not in asked:
        raise RuleError(where, "does not say of what there is to be more", "Choose what is compared.")
    _check_label(db, plan, where)


def _check_label(db: Session, plan: RoundPlan, where: str) -> None:
    test = TESTS[plan.test]
    batches = [s.batch_id for s in plan.served if s.batch_id]
    methods = list(db.scalars(select(Batch.method_id).where(Batch.id.in_(batches))))
    picked = test.wants == "label" or plan.settings.label
    if picked and plan.settings.label not in {str(m) for m in methods}:
        raise RuleError(where, "does not serve the way that is to be picked out", "Choose one it serves.")
    if test.drawn == "labels" and (len(set(methods)) != len(plan.served)):
        raise RuleError(where, "has two samples of one label", "Serve one batch of each way.")


def make_tasting(
    db: Session,
    trial: Trial,
    *,
    name: str,
    rounds: Sequence[RoundPlan],
    tasters: Sequence[Person | str],
    served_with: Sequence[Mapping[str, Any]] = (),
    one_way: bool = False,
    protocol: Protocol = Protocol.PLATED,
    shows: Mapping[uuid.UUID, str] | None = None,
    later: bool = False,
    chance: Random | None = None,
) -> Tasting:
    """A tasting: codes dealt at random to samples, an order for each taster in each round, random ids made
    after the shuffle.

    Parameters
    ----------
    tasters : people who have sat here before, or the names of new ones
    one_way : whether a taster may not go back to a sample
    protocol : how cups come by their codes
    shows : batch to what no cup can hide of it
    later : laid ready before the heat, served by an act of its own
    chance : where randomness comes from; the system's own in use, a seeded one in tests and the demo. It is
        kept nowhere, so that nobody can deal the codes again.

    Raises
    ------
    RuleError : a round that cannot be served, no taster, one person at two seats
    """
    named = [t.strip() if isinstance(t, str) else t for t in tasters]
    named = [t for t in named if t]
    if not named:
        raise RuleError("tasters", "none", "Name at least one taster.")
    known = [t.id for t in named if isinstance(t, Person)]
    if len(set(known)) != len(known):
        raise RuleError("tasters", "one person sits twice", "Give each person one seat.")
    if not rounds or len(rounds) > MOST_ROUNDS:
        raise RuleError("rounds", "none" if not rounds else "too many", f"Plan 1 to {MOST_ROUNDS} rounds.")
    for n, plan in enumerate(rounds, 1):
        check_round(db, trial, plan, f"round {n}" if len(rounds) > 1 else "samples")
    if protocol is not Protocol.PLATED:
        check_nobody_plates(rounds)
    chance = SystemRandom() if chance is None else chance
    moment = now()
    free = iter(
        codes(sum(_cups(p) for p in rounds), chance, codes_since(db, moment - timedelta(days=FRESH_DAYS)))
    )
    tasting = Tasting(
        trial_id=trial.id,
        name=name,
        served_with=[dict(s) for s in served_with],
        one_way=one_way,
        protocol=protocol.value,
        created_at=moment,
        served_at=None if later else moment,
    )
    db.add(tasting)
    db.flush()
    _letter(db, tasting, rounds, shows or {}, chance)
    seats = [_seat(db, tasting, position, who) for position, who in enumerate(named)]
    for position, plan in enumerate(rounds):
        _lay(db, tasting, position, plan, free, seats, chance)
    db.flush()
    return tasting


def check_nobody_plates(rounds: Sequence[RoundPlan]) -> None:
    """Whether cups can be lost and read off afterwards: the same few batches in every round, each once.

    Raises
    ------
    RuleError : what cannot be done so
    """
    first = {s.batch_id for s in rounds[0].served}
    for plan in rounds:
        where = TESTS[plan.test].name
        if any(s.outside or s.twice for s in plan.served) or TESTS[plan.test].cups > 1:
            raise RuleError(
                where, "needs somebody who plates", "Serve each batch once, or let somebody plate by the key."
            )
        if len({s.state for s in plan.served}) > 1 or any(s.piece for s in plan.served):
            raise RuleError("samples", "come in several states", "Alone, serve all of them alike.")
        if {s.batch_id for s in plan.served} != first or len(plan.served) != len(first):
            raise RuleError("rounds", "serve different batches", "The same cups stand through all rounds.")
    if not 2 <= len(first) <= MOST_ALONE:
        raise RuleError(
            "samples", f"are {len(first)}", f"Nobody loses more than {MOST_ALONE} cups; take 2 to 8."
        )


def _letter(
    db: Session,
    tasting: Tasting,
    rounds: Sequence[RoundPlan],
    shows: Mapping[uuid.UUID, str],
    chance: Random,
) -> None:
    """A letter under the cups of each batch."""
    batches = sorted({s.batch_id for p in rounds for s in p.served if s.batch_id}, key=str)
    for batch, letter in zip(batches, letters(len(batches), chance), strict=True):
        db.add(
            CupRow(tasting_id=tasting.id, batch_id=batch, letter=letter, shows=shows.get(batch, "").strip())
        )
    db.flush()


def _cups(plan: RoundPlan) -> int:
    test = TESTS[plan.test]
    return sum(test.cups * (2 if s.twice else 1) for s in plan.served)


def _seat(db: Session, tasting: Tasting, position: int, who: Person | str) -> Seat:
    person = who if isinstance(who, Person) else Person(name=who)
    db.add(person)
    db.flush()
    seat = Seat(tasting_id=tasting.id, person_id=person.id, position=position)
    db.add(seat)
    db.flush()
    return seat


def _lay(
    db: Session,
    tasting: Tasting,
    position: int,
    plan: RoundPlan,
    free: Any,
    seats: Sequence[Seat],
    chance: Random,
) -> None:
    """A round with its samples and everybody's order."""
    test = TESTS[plan.test]
    row = row_of(TasteRound, plan, tasting_id=tasting.id, position=position)
    db.add(row)
    db.flush()
    served = sorted(plan.served, key=lambda s: s.key)
    dealt = [[next(free) for _ in range(test.cups * (2 if s.twice else 1))] for s in served]
    unknown = tasting.protocol != Protocol.PLATED.value
    for place, (s, mine) in enumerate(zip(served, dealt, strict=True)):
        for code in mine:
            db.add(
                row_of(
                    Sample,
                    s,
                    tasting_id=tasting.id,
                    round_id=row.id,
                    # Whose cup stands on a place is not known before it is turned over: not here either.
                    batch_id=None if unknown else s.batch_id,
                    code=code,
                    place=place if unknown else None,
                )
            )
    ids = [s.batch_id for s in served if s.batch_id]
    batches = db.scalars(select(Batch).where(Batch.id.in_(ids)))
    methods = {b.id: b.method_id for b in batches}
    # Whatever is served does not decide an order: codes are laid out by themselves, and what is which is
    # only used to balance methods.
    laid = sorted(zip(dealt, served, strict=True), key=lambda x: x[0])
    arms = [str(methods.get(s.batch_id, s.key)) if s.batch_id and not unknown else s.key for _, s in laid]
    numbers = {m: arms.index(m) for m in arms}
    codes_there = [c for mine, _ in laid for c in mine]
    each = plan.settings.most_each
    if each and each < len(codes_there):
        part = blocks(len(codes_there), len(seats), each, chance)
        orders = [[codes_there[x] for x in row] for row in part]
    else:
        orders = test.serve([mine for mine, _ in laid], [numbers[m] for m in arms], len(seats), chance)
    for seat, order in zip(seats, orders, strict=True):
        db.add(Serving(seat_id=seat.id, round_id=row.id, order=list(order)))


def add_seat(db: Session, tasting: Tasting, who: Person | str, chance: Random | None = None) -> Seat:
    """Somebody comes late: a seat of their own, with the order that leaves the balance best.

    Raises
    ------
    RuleError : the codes are open, they sit here already
    """
    if tasting.opened_at is not None or tasting.stopped_at is not None:
        raise RuleError("tasting", "is over", "Make a new tasting.")
    if isinstance(who, Person) and any(s.person_id == who.id for s in tasting.seats):
        raise RuleError("taster", "sits here already", "Hand the link over again.")
    if isinstance(who, str) and not who.strip():
        raise RuleError("taster", "has no name", "Give a name or a number.")
    chance = SystemRandom() if chance is None else chance
    seat = _seat(db, tasting, max((s.position for s in tasting.seats), default=-1) + 1, who)
    for row in tasting.rounds:
        test = TESTS[TestKey(row.test)]
        by_batch: dict[str, list[str]] = {}
        for s in sorted(row.samples, key=lambda s: s.code):
            alone = s.place is not None or test.cups == 1
            by_batch.setdefault(s.code if alone else str(s.batch_id or s.outside), []).append(s.code)
        cups = sorted(by_batch.values())
        taken = [list(v.order) for v in row.servings]
        each = row.settings.most_each
        every = [c for mine in cups for c in mine]
        if each and each < len(every):
            given = [[every.index(c) for c in o] for o in taken]
            mine = [every[x] for x in blocks(len(every), 1, each, chance, given)[0]]
            db.add(Serving(seat_id=seat.id, round_id=row.id, order=mine))
            continue
        offered = test.serve(cups, list(range(len(cups))), max(12, 2 * len(taken)), chance)
        order = min(offered, key=lambda o: unevenness([*taken, o]))
        db.add(Serving(seat_id=seat.id, round_id=row.id, order=list(order)))
    db.flush()
    db.refresh(tasting)
    return seat


def link_token(secret: str, seat: Seat) -> str:
    """The personal link of a seat. Made anew from the seat, so that it can be shown again and is stored
    nowhere.
    """
    return str(URLSafeSerializer(secret, salt="seat").dumps([seat.id.hex, seat.link_generation]))


def seat_of_token(db: Session, secret: str, token: str) -> Seat | None:
    """The seat a link stands for; None where it is forged or was revoked."""
    try:
        seat_hex, generation = URLSafeSerializer(secret, salt="seat").loads(token)
        seat = db.get(Seat, uuid.UUID(seat_hex))
    except (BadSignature, ValueError, TypeError):
        return None
    if seat is None or seat.revoked_at is not None or seat.link_generation != generation:
        return None
    return seat


def allergens_of(trial: Trial, served_with: Sequence[Mapping[str, Any]] = ()) -> tuple[str, ...]:
    """The allergens of the whole table, with sauces, carriers and whatever else is eaten there."""
    return union([*(i.allergens for i in trial.ingredients), *(s["allergens"] for s in served_with)])


def allergens_unchecked(trial: Trial, served_with: Sequence[Mapping[str, Any]] = ()) -> tuple[str, ...]:
    """What nobody has checked for allergens, for the whole table: no allergen entered is not the same as none
    in it.
    """
    found = [i.name for i in trial.ingredients if not i.allergens_checked]
    found += [str(s["what"]) for s in served_with if not s["allergens"] and not s.get("checked")]
    if not trial.ingredients:
        found.append("the food itself: its ingredients are not listed")
    if any("hot_oil" in m.hazards for m in trial.methods):
        found.append("frying oil that was used before")
    return tuple(sorted(found))


def locked_tasting(db: Session, tasting_id: uuid.UUID) -> Tasting | None:
    """A tasting, and no answer comes in until this is written."""
    return db.scalar(
        select(Tasting)
        .where(Tasting.id == tasting_id)
        .with_for_update(of=Tasting)
        .execution_options(populate_existing=True)
    )


def open_codes(db: Session, tasting: Tasting, *, by: uuid.UUID) -> None:
    """Open the codes here, once: the questions are kept as they are now. One opened elsewhere is opened
    anew.
    """
    if tasting.opened_at is not None and not tasting.from_elsewhere:
        return
    trial = db.get_one(Trial, tasting.trial_id)
    tasting.opened_at, tasting.opened_by, tasting.from_elsewhere = now(), by, False
    if not tasting.questions:
        tasting.questions = [attribute_record(a.spec()) for a in trial.attributes]
    db.flush()


def names_of_methods(db: Session, trial_id: uuid.UUID) -> dict[str, str]:
    """Method to tag and name."""
    rows = db.execute(select(Method.id, Method.tag, Method.name).where(Method.trial_id == trial_id))
    return {str(m): f"{tag} {name}" for m, tag, name in rows}
