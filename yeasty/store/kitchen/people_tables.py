"""People, their accounts, tries to sign in, and what they did."""

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import Connection, ForeignKey, Index, event, func, inspect, select
from sqlalchemy.orm import Mapped, mapped_column, relationship

from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.text import Dates, Hours
from yeasty.core.publish.reader import Words
from yeasty.store.base import ACCOUNTS, CHANNEL, Base, Id, one_of


class Role(StrEnum):
    """What an account may do: a lead all, a cook set up and log."""

    LEAD = "lead"
    COOK = "cook"


class Person(Base):
    """A name and a contact; erased ones keep a tombstone with the reason. One from elsewhere came with an
    archive.

    `allergies` : in their own words. `same_as` : a lead has said that this is that person too; `not_same` :
    ids of those of whom a lead has said that they only share the name.
    """

    __tablename__ = "person"
    id: Mapped[Id]
    name: Mapped[str]
    contact: Mapped[str] = mapped_column(default="")
    erased_at: Mapped[datetime | None]
    erased_reason: Mapped[str | None]
    from_elsewhere: Mapped[bool] = mapped_column(default=False)
    allergies: Mapped[str] = mapped_column(default="")
    same_as: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    not_same: Mapped[list[str]] = mapped_column(default=list)


class Account(Base):
    """A lead or a cook who signs in."""

    __tablename__ = "account"
    id: Mapped[Id]
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"), unique=True)
    login: Mapped[str] = mapped_column(unique=True)
    password_hash: Mapped[str]
    role: Mapped[str]
    units: Mapped[str] = mapped_column(default=System.METRIC.value)
    dark: Mapped[bool] = mapped_column(default=False)
    # How they write days and times, and which words of the kitchen they say.
    dates: Mapped[str] = mapped_column(default=Dates.DAY_FIRST)
    clock: Mapped[str] = mapped_column(default=Hours.HOURS_24)
    words: Mapped[str] = mapped_column(default=Words.WRITTEN)
    session_epoch: Mapped[int] = mapped_column(default=1)
    active: Mapped[bool] = mapped_column(default=True)
    # A link for a new password: its hash and until when it holds; empty where there is none.
    reset_hash: Mapped[str] = mapped_column(default="")
    reset_until: Mapped[datetime | None]
    person: Mapped[Person] = relationship(lazy="joined")
    __table_args__ = (
        one_of("role", Role),
        one_of("units", System),
        one_of("dates", Dates),
        one_of("clock", Hours),
        one_of("words", Words),
    )


@event.listens_for(Account, "after_update")
def _say_who_may_stay(_: object, connection: Connection, account: Account) -> None:
    """Whoever is signed out or shut out is so for what they have open, too: streams look again."""
    was = inspect(account).attrs
    if was.session_epoch.history.has_changes() or was.active.history.has_changes():
        connection.execute(select(func.pg_notify(CHANNEL, ACCOUNTS)))


class SignInAttempt(Base):
    """A try, as to sign in or to ask by a public form: counted by what it is about (in `login`) and by
    address.
    """

    __tablename__ = "sign_in_attempt"
    id: Mapped[Id]
    login: Mapped[str]
    address: Mapped[str]
    at: Mapped[datetime]
    __table_args__ = (
        Index("ix_sign_in_attempt_login_at", "login", "at"),
        Index("ix_sign_in_attempt_address_at", "address", "at"),
    )


class Audit(Base):
    """Something that was done and that the lead may want to know of: who, from where, what, about what."""

    __tablename__ = "audit"
    id: Mapped[Id]
    at: Mapped[datetime] = mapped_column(index=True)
    person_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    address: Mapped[str] = mapped_column(default="")
    what: Mapped[str]
    about: Mapped[str] = mapped_column(default="")


class TakenAway(Base):
    """What somebody took away or wrote over a moment ago, so that it can be put back by name.

    Kept for minutes and part of no record. `what` : in words; `rows` : table and row, as they were, in the
    order in which they can be written; `version` : the trial's design after the edit, None where it was no
    edit of a design
    """

    __tablename__ = "taken_away"
    id: Mapped[Id]
    account_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"), index=True)
    trial_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    version: Mapped[int | None]
    what: Mapped[str]
    deed: Mapped[str]
    rows: Mapped[list[Any]]
    at: Mapped[datetime] = mapped_column(index=True)
