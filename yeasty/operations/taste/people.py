"""Panelists: people across tastings. Nobody is made one with another by their name: the lead is asked."""

import uuid
from collections import Counter, defaultdict
from dataclasses import dataclass
from datetime import datetime
from itertools import combinations

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.taste.queries import same_people, seats_taken

# Asked at one time; the rest comes when these are answered.
MOST_ASKED = 20


@dataclass(frozen=True)
class Panelist:
    """Somebody who may be given a seat: how often they sat here, and when last."""

    person: Person
    sat: int
    last: datetime | None


def may_sit(db: Session) -> list[Panelist]:
    """Who has sat here, and who signs in here: by name. What one sat under another name counts as theirs;
    the erased and those from elsewhere are left out.
    """
    taken = seats_taken(db)
    ends = same_people(db, [person for person, _, _ in taken])
    often: Counter[uuid.UUID] = Counter()
    lately: dict[uuid.UUID, datetime] = {}
    for person, n, last in taken:
        end = ends[person]
        often[end] += n
        lately[end] = max(last, lately.get(end, last))
    signing_in = select(Account.person_id).where(Account.active)
    people = db.scalars(
        select(Person).where(
            Person.id.in_(often) & Person.from_elsewhere.is_(False) | Person.id.in_(signing_in),
            Person.erased_at.is_(None),
            Person.same_as.is_(None),
        )
    )
    known = [Panelist(p, often[p.id], lately.get(p.id)) for p in people]
    return sorted(known, key=lambda p: (p.person.name.lower(), str(p.person.id)))


def maybe_the_same(known: list[Panelist]) -> list[tuple[Panelist, Panelist]]:
    """Pairs that share a name and of whom nobody has said yet whether they are one."""
    by_name: dict[str, list[Panelist]] = defaultdict(list)
    for p in known:
        by_name[" ".join(p.person.name.lower().split())].append(p)
    pairs = [
        (a, b)
        for mine in by_name.values()
        for a, b in combinations(mine, 2)
        if str(b.person.id) not in a.person.not_same and str(a.person.id) not in b.person.not_same
    ]
    return pairs[:MOST_ASKED]


def say_whether_same(db: Session, one_id: uuid.UUID, other_id: uuid.UUID, *, same: bool) -> None:
    """Two people are one, or only share a name.

    Raises
    ------
    RuleError : one of them is not here
    Refused : both sign in, each with an account of their own
    """
    one, other = db.get(Person, one_id), db.get(Person, other_id)
    if one is None or other is None or one_id == other_id:
        raise RuleError("person", "is not here", "Reload the page.")
    if not same:
        one.not_same = [*one.not_same, str(other.id)]
        return
    accounts = set(db.scalars(select(Account.person_id).where(Account.person_id.in_([one_id, other_id]))))
    if len(accounts) == 2:
        raise Refused("people", "both sign in here", "Close one of the two accounts first.")
    # Who signs in stays; else the first.
    stays, goes = (other, one) if other.id in accounts else (one, other)
    ends = same_people(db, [stays.id, goes.id])
    if ends[stays.id] == ends[goes.id]:
        return
    goes_end = db.get_one(Person, ends[goes.id])
    goes_end.same_as = ends[stays.id]
    stays.allergies = "; ".join(dict.fromkeys(w for w in (stays.allergies, goes.allergies) if w))


def panelist(db: Session, person_id: uuid.UUID) -> Person:
    """A person who may be given a seat, as themselves.

    Raises
    ------
    RuleError : not here, erased, from elsewhere
    """
    person = db.get(Person, same_people(db, [person_id])[person_id])
    if person is None or person.erased_at is not None or person.from_elsewhere:
        raise RuleError("tasters", "one of them is not here", "Reload and choose again.")
    return person
