"""Making tastings and gathering what was answered."""

import uuid
from collections.abc import Mapping, Sequence
from random import Random, SystemRandom
from typing import Any

from itsdangerous import BadSignature, URLSafeSerializer
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.ask.trial import attribute_record
from yeasty.core.decide.scores import Answer
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.setup.allergens import union
from yeasty.core.taste.blinding import codes, orders
from yeasty.store.base import now
from yeasty.store.bench import Batch
from yeasty.store.people import Person
from yeasty.store.tastings import AnswerRow, Sample, Seat, Tasting, newest_answers, opened
from yeasty.store.trials import Trial


def make_tasting(
    db: Session,
    trial: Trial,
    *,
    name: str,
    batch_ids: Sequence[uuid.UUID],
    tasters: Sequence[str],
    part: str,
    age_words: str,
    served_with: Sequence[Mapping[str, Any]] = (),
    chance: Random | None = None,
) -> Tasting:
    """A tasting: codes dealt at random to batches, an order for each taster, random ids made after the
    shuffle.

    `chance` : where randomness comes from; the system's own in use, a seeded one in tests and the demo. It is
        kept
    nowhere, so that nobody can deal the codes again.

    Raises
    ------
    RuleError : fewer than two samples, no taster
    """
    if len(set(batch_ids)) < 2:
        raise RuleError("samples", "fewer than two", "Choose at least two batches to compare.")
    named = [t.strip() for t in tasters if t.strip()]
    if not named:
        raise RuleError("tasters", "none", "Name at least one taster.")
    chance = SystemRandom() if chance is None else chance
    dealt = codes(len(batch_ids), chance)
    tasting = Tasting(
        trial_id=trial.id,
        name=name,
        part=part,
        age_words=age_words,
        served_with=[dict(s) for s in served_with],
        created_at=now(),
    )
    db.add(tasting)
    db.flush()
    for code, batch_id in zip(dealt, sorted(batch_ids, key=str), strict=True):
        db.add(Sample(tasting_id=tasting.id, batch_id=batch_id, code=code))
    by_place = sorted(dealt)
    for position, (who, order) in enumerate(zip(named, orders(len(dealt), len(named), chance), strict=True)):
        person = Person(name=who)
        db.add(person)
        db.flush()
        db.add(
            Seat(
                tasting_id=tasting.id,
                person_id=person.id,
                position=position,
                order=[by_place[i] for i in order],
            )
        )
    db.flush()
    return tasting


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
    if any("hot_oil" in m.hazards for m in trial.methods):
        found.append("frying oil that was used before")
    return tuple(sorted(found))


# Of one seat: every question of a long tasting changed dozens of times.
MOST_ANSWERS = 5000


def give_answer(
    db: Session,
    seat: Seat,
    sample: Sample,
    attribute_id: uuid.UUID | None,
    value: float | None,
    refused: bool,
    comment: str,
) -> None:
    """One answer as a new row. Closed once the codes are open: an opening waits for it, or it for the
    opening.
    """
    tasting = db.scalars(
        select(Tasting)
        .where(Tasting.id == seat.tasting_id)
        .with_for_update(read=True, of=Tasting)
        .execution_options(populate_existing=True)
    ).one()
    if tasting.opened_at is not None:
        raise Refused("answer", "comes after the codes were opened", "What you said before stands.")
    given = db.scalar(select(func.count()).select_from(AnswerRow).where(AnswerRow.seat_id == seat.id))
    if (given or 0) >= MOST_ANSWERS:
        raise Refused(
            "answers", "were changed very often", "What you said last stands; tell whoever invited you."
        )
    db.add(
        AnswerRow(
            seat_id=seat.id,
            sample_id=sample.id,
            attribute_id=attribute_id,
            value=value,
            refused=refused,
            comment=comment.strip(),
            given_at=now(),
        )
    )
    db.flush()


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


def opened_answers(
    db: Session, trial_id: uuid.UUID
) -> tuple[list[Answer], list[tuple[Seat, Sample, AnswerRow, Batch]]]:
    """Answers of all opened tastings of a trial: as the core judges them, and as rows with what they are
    about.

    A taster is a seat: who sits at two tastings is counted in each, as a panel would.
    """
    rows = db.execute(
        select(Seat, Sample, Batch)
        .join(Tasting, Seat.tasting_id == Tasting.id)
        .join(Sample, Sample.tasting_id == Tasting.id)
        .join(Batch, Batch.id == Sample.batch_id)
        .where(Tasting.trial_id == trial_id, opened())
    ).all()
    seats = {seat.id: seat for seat, _, _ in rows}
    about = {sample.id: (sample, batch) for _, sample, batch in rows}
    whole = []
    answers = []
    for a in newest_answers(db, list(seats)):
        sample, batch = about[a.sample_id]
        whole.append((seats[a.seat_id], sample, a, batch))
        if a.attribute_id is not None:
            answers.append(
                Answer(str(a.seat_id), str(batch.method_id), str(batch.id), str(a.attribute_id), a.value)
            )
    return answers, whole
