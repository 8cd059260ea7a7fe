"""Taking answers in, and gathering what was answered."""

import uuid
from dataclasses import dataclass, replace

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.ask.trial import Attribute, attribute_from_record
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.taste.said import Said, SaidLabels, checked
from yeasty.core.taste.tests import TESTS, TestKey
from yeasty.core.taste.typed import of_round, on_scale, rows_of
from yeasty.operations.taste.panels import names_of_methods
from yeasty.store.ask.tables import Attribute as AttributeRow
from yeasty.store.base import now
from yeasty.store.taste.tables import AnswerRow, Comment, Sample, Seat, TasteRound, Tasting

# Of one seat: every question of a long tasting changed dozens of times.
MOST_ANSWERS = 5000


@dataclass(frozen=True)
class Telling:
    """What somebody says: of a sample and a question, of a whole round, or that a sample is not for them.

    `code` "" for the round as a whole, `attribute_id` None for no question; `comment` are words and nothing
    else.
    """

    round: int
    code: str = ""
    attribute_id: uuid.UUID | None = None
    said: Said | None = None
    refused: bool = False
    why: str = ""
    comment: str | None = None


def _closed_for_good(db: Session, seat: Seat) -> None:
    """An opening waits for an answer that is being written, or the answer for the opening.

    Raises
    ------
    Refused : after the opening, after a stop, far too many changes
    """
    tasting = db.scalars(
        select(Tasting)
        .where(Tasting.id == seat.tasting_id)
        .with_for_update(read=True, of=Tasting)
        .execution_options(populate_existing=True)
    ).one()
    if tasting.served_at is None:
        raise Refused("answer", "comes before anything is served", "Wait until the cook serves.")
    if tasting.stopped_at is not None:
        raise Refused("answer", "comes after the tasting was stopped", "Do not taste on.")
    if tasting.opened_at is not None:
        raise Refused("answer", "comes after the codes were opened", "What you said before stands.")
    given = db.scalar(select(func.count()).select_from(AnswerRow).where(AnswerRow.seat_id == seat.id))
    said = db.scalar(select(func.count()).select_from(Comment).where(Comment.seat_id == seat.id))
    if (given or 0) + (said or 0) >= MOST_ANSWERS:
        raise Refused(
            "answers", "were changed very often", "What you said last stands; tell whoever invited you."
        )


def round_at(tasting: Tasting, position: int) -> TasteRound:
    """A round by its place.

    Raises
    ------
    RuleError : there is none
    """
    found = next((r for r in tasting.rounds if r.position == position), None)
    if found is None:
        raise RuleError("round", "is none of this tasting", "Reload the page.")
    return found


def take(db: Session, seat: Seat, telling: Telling) -> None:
    """Check what somebody says by what was asked, and keep it as a new row.

    Raises
    ------
    RuleError : a sample or question that is not theirs, an answer of another kind
    Refused : after the opening
    """
    _closed_for_good(db, seat)
    tasting = db.get_one(Tasting, seat.tasting_id)
    row = round_at(tasting, telling.round)
    sample = _sample(seat, row, telling.code)
    if telling.comment is not None:
        db.add(
            Comment(
                seat_id=seat.id,
                round_id=row.id,
                sample_id=sample.id if sample else None,
                text=telling.comment.strip(),
                given_at=now(),
            )
        )
        db.flush()
        return
    said = None if telling.refused else _checked(db, seat, row, sample, telling)
    db.add(
        AnswerRow(
            seat_id=seat.id,
            round_id=row.id,
            sample_id=sample.id if sample else None,
            attribute_id=telling.attribute_id,
            said=said,
            refused=telling.refused,
            why=telling.why.strip() if telling.refused else "",
            given_at=now(),
        )
    )
    db.flush()


def _sample(seat: Seat, row: TasteRound, code: str) -> Sample | None:
    if not code:
        return None
    found = next((s for s in row.samples if s.code == code), None)
    if found is None or code not in seat.order_of(row.id):
        raise RuleError("sample", "is none of yours in this round", "Look at the code again.")
    return found


def _checked(db: Session, seat: Seat, row: TasteRound, sample: Sample | None, telling: Telling) -> Said:
    test, order = TESTS[TestKey(row.test)], seat.order_of(row.id)
    if telling.said is None:
        raise RuleError("answer", "is missing", "Give an answer, or say that you would rather not.")
    if sample is None:
        said = test.check(telling.said, order, row.settings)
        return _as_kept(said, labels_of(db, row)) if isinstance(said, SaidLabels) else said
    attribute = db.get(AttributeRow, telling.attribute_id) if telling.attribute_id else None
    asked = {a.key for a in questions_of(db, row)}
    if attribute is None or str(attribute.id) not in asked:
        raise RuleError("question", "is not asked in this round", "Reload the page.")
    return checked(attribute.spec(), telling.said, len(order))


def questions_of(db: Session, row: TasteRound) -> list[Attribute]:
    """What is asked of each sample of a round: as it was at the opening, else as it is now."""
    tasting = db.get_one(Tasting, row.tasting_id)
    if TESTS[TestKey(row.test)].drawn != "samples":
        return []
    if tasting.questions:
        every = [attribute_from_record(q) for q in tasting.questions]
    else:
        rows = db.scalars(
            select(AttributeRow)
            .where(AttributeRow.trial_id == tasting.trial_id)
            .order_by(AttributeRow.position)
        )
        every = [a.spec() for a in rows]
    return [a for a in every if not row.attributes or a.key in row.attributes]


def labels_of(db: Session, row: TasteRound) -> dict[str, tuple[str, str]]:
    """Labels of a round as tasters see them: key to words and method. Keys follow the words, so that they
    tell nothing of codes.
    """
    names = names_of_methods(db, db.get_one(Tasting, row.tasting_id).trial_id)
    batches = [s.batch for s in row.samples if s.batch]
    if any(s.place is not None for s in row.samples):
        # Cups that nobody has turned over yet: what is on the table is known, what stands where is not.
        batches = [c.batch for c in db.get_one(Tasting, row.tasting_id).cups]
    methods = {str(b.method_id): names[str(b.method_id)] for b in batches}
    words = sorted((w.partition(" ")[2], m) for m, w in methods.items())
    words += [(s.outside, s.outside) for s in row.samples if s.outside]
    return {chr(ord("a") + n): (w, m) for n, (w, m) in enumerate(words)}


def _as_kept(said: SaidLabels, labels: dict[str, tuple[str, str]]) -> SaidLabels:
    if set(said.labels.values()) - set(labels):
        raise RuleError("answer", "names a label that is not there", "Give each sample a label.")
    return SaidLabels({code: labels[key][1] for code, key in said.labels.items()})


def as_shown(said: Said | None, labels: dict[str, tuple[str, str]]) -> Said | None:
    """An answer as its taster sees it again: labels by their keys."""
    if not isinstance(said, SaidLabels):
        return said
    keys = {m: key for key, (_, m) in labels.items()}
    return SaidLabels({code: keys[m] for code, m in said.labels.items() if m in keys})


@dataclass(frozen=True)
class TypedCell:
    """A cell of a ballot as it was written."""

    round: int
    code: str
    attribute_id: uuid.UUID | None
    text: str
    comment: bool = False


def take_typed(db: Session, seat: Seat, cell: TypedCell) -> None:
    """Read what was typed, and take it in. An empty cell says nothing.

    Raises
    ------
    RuleError : what cannot be read, naming the question
    """
    if not cell.text.strip():
        return
    tasting = db.get_one(Tasting, seat.tasting_id)
    row = round_at(tasting, cell.round)
    about = Telling(cell.round, cell.code, cell.attribute_id)
    if cell.comment:
        take(db, seat, replace(about, comment=cell.text))
        return
    if cell.code:
        asked = next((a for a in questions_of(db, row) if a.key == str(cell.attribute_id)), None)
        if asked is None:
            raise RuleError("question", "is not asked in this round", "Look at the ballot again.")
        said = on_scale(cell.text, asked)
    else:
        labels = {k: w for k, (w, _) in labels_of(db, row).items()}
        said = of_round(cell.text, TESTS[TestKey(row.test)], seat.order_of(row.id), labels)
    take(db, seat, replace(about, said=said, refused=said is None))


def take_table(db: Session, tasting: Tasting, text: str) -> tuple[list[Seat], int, int]:
    """A table of answers taken in: the seats it speaks of, how many answers and comments.

    All of it or nothing: the caller's transaction.

    Raises
    ------
    RuleError : a seat, code or question that is not there, an answer that cannot be read; with its line
    """
    seats = {s.person.name.strip().lower(): s for s in tasting.seats}
    met, answers, comments = dict[uuid.UUID, Seat](), 0, 0
    for row in rows_of(text):
        seat = seats.get(row.seat.lower())
        if seat is None:
            raise RuleError(
                "table", f"line {row.line}: nobody called “{row.seat[:60]}” sits here", "Name a seat."
            )
        met[seat.id] = seat
        asked = {a.name.lower(): a for a in questions_of(db, round_at(tasting, row.round - 1))}
        question = asked.get(row.question.lower()) if row.question else next(iter(asked.values()), None)
        if row.code and row.answer and question is None:
            raise RuleError(
                "table", f"line {row.line}: “{row.question[:60]}” is not asked", "Name a question."
            )
        key = uuid.UUID(question.key) if question and row.code else None
        try:
            if row.answer:
                take_typed(db, seat, TypedCell(row.round - 1, row.code, key, row.answer))
                answers += 1
            if row.words:
                take_typed(db, seat, TypedCell(row.round - 1, row.code, None, row.words, comment=True))
                comments += 1
        except Refused:
            raise
        except RuleError as wrong:
            raise RuleError(wrong.field, f"line {row.line}: {wrong.message}", wrong.todo) from None
    return list(met.values()), answers, comments
