"""What was answered, gathered: by round, by scope, in words; and who knows what they taste."""

import uuid
from dataclasses import dataclass, replace

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.trial import TrialKind
from yeasty.core.decide.scores import Answer
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.taste.alike import Alike, Put, alike
from yeasty.core.taste.cups import Half, Protocol
from yeasty.core.taste.rounds import Cup, Given, Round
from yeasty.core.taste.said import points
from yeasty.core.taste.tests import TestKey
from yeasty.operations.taste.answers import questions_of
from yeasty.operations.taste.panels import names_of_methods
from yeasty.store.ask.tables import Attribute as AttributeRow
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Batch, EntryRow
from yeasty.store.taste.queries import (
    key_views_of,
    newest_answers,
    newest_comments,
    opened,
    same_people,
)
from yeasty.store.taste.tables import Sample, TasteRound, Tasting

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


Key = tuple[str, str, int]


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
