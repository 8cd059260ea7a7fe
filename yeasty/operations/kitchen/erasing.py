"""What is taken away for good: a trial with all that was recorded in it, and a person's name and words about
themselves.

Records are append-only and pages frozen by triggers. A deletion says so to the database for its own
transaction only, and leaves behind that it happened: when, by whom, why, and at which public addresses there
was something.
"""

import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, Table, delete, func, select, text
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused
from yeasty.store.ask.tables import Trial
from yeasty.store.base import Base, now
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.publish.queries import drop_sheets_that_link, versions_of
from yeasty.store.publish.tables import Deletion, Publication
from yeasty.store.taste.tables import Seat, Tasting


def delete_trial(db: Session, trial: Trial, *, by: uuid.UUID, reason: str) -> None:
    """Delete a trial and everything recorded in it, for good. Panelists whom nothing else names go with it.

    Raises
    ------
    Refused : a page of it is out
    """
    versions = versions_of(db, trial.id)
    if any(v.withdrawn_at is None for v in versions):
        raise Refused(
            "trial", "has a page that is out", "Withdraw the page first, with words for its readers."
        )
    everything = select(Publication.slug).where(Publication.trial_id == trial.id).distinct()
    slugs = sorted(db.scalars(everything))
    db.add(Deletion(at=now(), by=by, reason=reason, slugs=slugs))
    drop_sheets_that_link(db, slugs)
    people.note(db, "deleted a trial for good", f"{trial.dish}: {reason}", by=by)
    tasters = set(db.scalars(select(Seat.person_id).join(Tasting).where(Tasting.trial_id == trial.id)))
    trial_id = trial.id
    db.flush()
    db.expunge_all()
    db.execute(text("set local yeasty.deletes = 'for good'"))
    table = Trial.__table__
    assert isinstance(table, Table)
    _delete(db, table, table.c.id == trial_id)
    for person_id in tasters:
        if not _is_named(db, person_id):
            db.execute(delete(Person).where(Person.id == person_id))
    db.execute(text("set local yeasty.deletes = ''"))


def erase(db: Session, person: Person, *, by: uuid.UUID, reason: str) -> None:
    """Take a person's name, contact and login away; what they did stands, by somebody whose name is gone.

    Raises
    ------
    Refused : the last lead who can sign in, or erased already
    """
    if person.erased_at is not None:
        raise Refused("person", "is erased already", "There is nothing left to take away.")
    account = db.scalar(select(Account).where(Account.person_id == person.id))
    if account is not None:
        people.keep_a_lead(db, account)
        people.forget_login(db, account.login)
        account.login, account.password_hash = f"erased-{account.id.hex[:12]}", ""
        account.active, account.session_epoch = False, account.session_epoch + 1
        account.reset_hash, account.reset_until = "", None
    db.flush()
    people.erase_person(db, person.id, reason)
    people.note(db, "erased a person", reason, by=by)


@dataclass(frozen=True)
class Named:
    """A person who has a name here, how they sign in ("" where they do not), and at how many seats they
    tasted.
    """

    person: Person
    login: str
    seats: int


def people_of_kitchen(db: Session, most: int = 500) -> list[Named]:
    """Everybody who has a name here, those who sign in first, then by name."""
    seats = select(func.count(Seat.id)).where(Seat.person_id == Person.id).scalar_subquery()
    query = (
        select(Person, Account.login, seats)
        .outerjoin(Account, Account.person_id == Person.id)
        .where(Person.erased_at.is_(None))
        .order_by(Account.login.is_(None), func.lower(Person.name), Person.id)
        .limit(most)
    )
    return [Named(p, login or "", count) for p, login, count in db.execute(query)]


def _delete(db: Session, table: Table, which: ColumnElement[bool], above: tuple[str, ...] = ()) -> None:
    """Delete rows of a table, and before them all that cannot be without them.

    Column by column as the foreign keys say: what may be without is left or goes blank by the database.
    """
    for child, column in _children(table):
        if child.name in (*above, table.name):
            continue
        parent = next(iter(column.foreign_keys)).column
        below = column.in_(select(parent).where(which))
        if next(iter(column.foreign_keys)).ondelete == "SET NULL":
            continue
        if column.nullable and child.name not in _OWN:
            db.execute(child.update().where(below).values({column.name: None}))
        else:
            _delete(db, child, below, (*above, table.name))
    db.execute(table.delete().where(which))


# Rows that point to what they belong to by a column that may be empty.
_OWN = frozenset({"entry", "answer", "comment", "sample"})


def _children(table: Table) -> Iterator[tuple[Table, Any]]:
    for child in Base.metadata.tables.values():
        for column in child.columns:
            if any(key.column.table is table for key in column.foreign_keys):
                yield child, column


def _is_named(db: Session, person_id: uuid.UUID) -> bool:
    table = Person.__table__
    assert isinstance(table, Table)
    return any(
        db.scalar(select(func.count()).select_from(child).where(column == person_id))
        for child, column in _children(table)
    )
