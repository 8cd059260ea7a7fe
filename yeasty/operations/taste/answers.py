"""Taking answers in, and gathering what was answered."""

import uuid
from dataclasses import dataclass, replace

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.ask.trial import Attribute, TrialKind, attribute_from_record
from yeasty.core.decide.scores import Answer
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.taste.alike import Alike, Put, alike
from yeasty.core.taste.cups import Half, Protocol
from yeasty.core.taste.said import Said, SaidLabels, checked, points
from yeasty.core.taste.tests import TESTS, TestKey
from yeasty.core.taste.tests.kind import Cup, Given, Round
from yeasty.core.taste.typed import of_round, on_scale, rows_of
from yeasty.operations.taste.panels import names_of_methods
from yeasty.store.ask.tables import Attribute as AttributeRow
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Batch, EntryRow
from yeasty.store.taste.queries import (
    key_views_of,
    newest_answers,
    newest_comments,
    opened,
    same_people,
)
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


HANDS = (EntryKind.IN, EntryKind.OUT, EntryKind.DONE, EntryKind.TURNED, EntryKind.STARTED)


def who_knows(db: Session, tasting: Tasting) -> dict[uuid.UUID, list[str]]:
    """Person to why they know which is which: they cooked it, or saw the key, or both halves of it, before
    the codes were opened. Who cooked and then lost the cups does not know: nobody did until they were
    turned over.
    """
    people = same_people(db, [s.person_id for s in tasting.seats])
    sitting = set(people.values())
    shifts = {s.batch.shift_id for s in tasting.samples if s.batch}
    cooked = set(
        db.scalars(
            select(EntryRow.author_id)
            .where(
                EntryRow.shift_id.in_(shifts),
                EntryRow.author_id.is_not(None),
                EntryRow.kind.in_([k.value for k in HANDS]),
            )
            .distinct()
        )
    )
    if tasting.protocol != Protocol.PLATED.value:
        cooked = set()
    halves: dict[uuid.UUID, set[str]] = {}
    for v in key_views_of(db, [tasting.id]):
        halves.setdefault(v.person_id, set()).add(v.half)
    looked = {p for p, seen in halves.items() if "" in seen or {h.value for h in Half} <= seen}
    same = same_people(db, [p for p in cooked | looked if p is not None])
    found: dict[uuid.UUID, list[str]] = {}
    for ids, why in ((cooked, "cooked it"), (looked, "saw the key")):
        for p in ids:
            if p is not None and same[p] in sitting:
                found.setdefault(same[p], []).append(why)
    return found


def rounds_of(db: Session, tasting: Tasting) -> list[Round]:
    """A tasting's rounds as they were tasted: what the core analyses. Spoilt samples are left out."""
    people = same_people(db, [s.person_id for s in tasting.seats])
    knows = who_knows(db, tasting)
    names = names_of_methods(db, tasting.trial_id)
    trial = db.get_one(Trial, tasting.trial_id)
    ladder = trial.kind == TrialKind.LADDER.value
    rising = [str(m.id) for m in trial.methods] if ladder else []
    champion = str((trial.layout or {}).get("champion") or "")
    named = [(champion, str(m.id)) for m in trial.methods if champion and str(m.id) != champion]
    seats = {s.id: s for s in tasting.seats}
    answers = newest_answers(db, list(seats))
    samples = {s.id: s for s in tasting.samples}
    found = []
    for row in tasting.rounds:
        good = [s for s in row.samples if s.spoilt is None]
        codes = {s.code for s in good}
        cups = [_cup(s, names) for s in good]
        apart = alike_in(row, names).apart if row.test == TestKey.SCORED.value else {}
        cups = [replace(c, method=f"{c.method}~{apart[c.code]}") if c.code in apart else c for c in cups]
        given = []
        for a in answers:
            if a.round_id != row.id:
                continue
            code = samples[a.sample_id].code if a.sample_id else ""
            if code and (code not in codes or a.attribute_id is None):
                continue
            person = people[seats[a.seat_id].person_id]
            order = seats[a.seat_id].order_of(row.id)
            if not code and set(order) - codes:
                continue
            given.append(
                Given(
                    str(person),
                    person not in knows,
                    order,
                    a.said,
                    code,
                    str(a.attribute_id) if a.attribute_id else "",
                )
            )
        settings = row.settings
        attributes = questions_of(db, row)
        if settings.attribute:
            asked = db.get(AttributeRow, uuid.UUID(settings.attribute))
            attributes = [asked.spec()] if asked else []
        found.append(Round(TestKey(row.test), cups, given, attributes, settings, rising, named))
    return found


def _cup(s: Sample, names: dict[str, str]) -> Cup:
    if s.batch is None:
        return Cup(s.code, s.outside, s.outside, s.outside or "not read off")
    method = str(s.batch.method_id)
    name = " ".join(w for w in (names[method].partition(" ")[2], s.piece) if w)
    return Cup(s.code, str(s.batch_id), method, name if s.state == "fresh" else f"{name} ({s.state})")


def alike_in(row: TasteRound, names: dict[str, str]) -> Alike:
    """Which samples of a round may be compared, and which stand beside. What is from outside is as it
    comes.
    """
    good = [s for s in row.samples if s.spoilt is None and s.batch is not None]
    return alike(
        [
            Put(
                s.code,
                str(s.batch.method_id),
                names[str(s.batch.method_id)].partition(" ")[2],
                s.state,
                s.piece.strip().lower(),
            )
            for s in good
            if s.batch
        ]
    )


@dataclass(frozen=True)
class Scope:
    """Answers that may be judged together: of one condition, one part where a part was asked twice, one
    state of batches that were served again.

    Attributes
    ----------
    name : in words; "" for what was asked plainly
    answers : on scales, as the core judges them
    blind : whether they were given blind
    day_of : batch to the sitting at which it was tasted, earlier sittings first
    """

    name: str
    answers: list[Answer]
    blind: bool
    day_of: dict[str, str]


Key = tuple[str, str, int]


def scopes_of(db: Session, trial_id: uuid.UUID) -> list[Scope]:
    """Answers on scales of all opened tastings of a trial, by what may be judged together: the plain and
    largest first.

    A taster is a person: who sits at two tastings is one. Those who know which is which are left out, unless
    nobody tasted blind. Spoilt samples and what was not cooked here are left out. Rounds that ask different
    things of the same food belong together; the same thing asked of another part, with a sauce, or of batches
    that were served before does not.
    """
    tastings = db.scalars(select(Tasting).where(Tasting.trial_id == trial_id, opened()))
    found: dict[Key, dict[bool, list[Answer]]] = {}
    names: dict[Key, str] = {}
    days: dict[Key, dict[str, str]] = {}
    served: set[str] = set()
    for tasting in sorted(tastings, key=lambda t: (t.served_at or t.created_at, t.id)):
        if tasting.stopped_at is not None:
            continue
        batches = {str(s.batch_id) for s in tasting.samples if s.batch_id}
        again = f"{tasting.name} (served before)" if batches & served else ""
        served |= batches
        layers: dict[str, list[set[str]]] = {}
        for row, r in zip(tasting.rounds, rounds_of(db, tasting), strict=True):
            if r.test is not TestKey.SCORED:
                continue
            condition = row.condition.strip()
            layer = _layer(layers.setdefault(condition.lower(), []), {a.key for a in r.attributes})
            key = (again, condition.lower(), layer)
            part = row.part.strip() if layer else ""
            words = [w for w in (condition, part, again) if w]
            names.setdefault(key, ", ".join(words) or ("asked again" if layer else ""))
            there = found.setdefault(key, {True: [], False: []})
            for g in r.given:
                cup = r.cup(g.code)
                if cup.batch in batches and "~" not in cup.method:
                    said = Answer(g.who, cup.method, cup.batch, g.attribute, points(g.said))
                    there[g.blind].append(said)
                    days.setdefault(key, {})[cup.batch] = str(tasting.id)
    scopes = []
    for key in sorted(
        found, key=lambda k: (k[0] != "", k[1] not in ("", "plain"), k[2], -_size(found[k]), k)
    ):
        blind, knowing = found[key][True], found[key][False]
        if blind or knowing:
            scopes.append(Scope(names[key], blind or knowing, bool(blind), days.get(key, {})))
    return scopes


def _layer(layers: list[set[str]], asked: set[str]) -> int:
    """The layer a round belongs to: the first in which nothing it asks was asked yet."""
    for n, there in enumerate(layers):
        if not there & asked:
            there |= asked
            return n
    layers.append(set(asked))
    return len(layers) - 1


def _size(answers: dict[bool, list[Answer]]) -> int:
    return len(answers[True]) + len(answers[False])


def opened_comments(db: Session, trial_id: uuid.UUID) -> list[tuple[Batch, str]]:
    """Words of tasters on samples of opened tastings, with the batch they are about."""
    tastings = list(db.scalars(select(Tasting).where(Tasting.trial_id == trial_id, opened())))
    seats = [s.id for t in tastings for s in t.seats]
    samples = {s.id: s for t in tastings for s in t.samples}
    return [
        (sample.batch, c.text)
        for c in newest_comments(db, seats)
        if c.sample_id and (sample := samples[c.sample_id]).batch is not None and sample.spoilt is None
    ]


def quotable(db: Session, trial_id: uuid.UUID, method_id: uuid.UUID) -> list[str]:
    """Words on a method's samples whose taster agreed at the tasting to be quoted without a name."""
    tastings = list(db.scalars(select(Tasting).where(Tasting.trial_id == trial_id, opened())))
    agreed = [s.id for t in tastings for s in t.seats if s.may_quote]
    about = {s.id for t in tastings for s in t.samples if s.batch and s.batch.method_id == method_id}
    said = [" ".join(c.text.split()) for c in newest_comments(db, agreed) if c.sample_id in about]
    return list(dict.fromkeys(said))


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
