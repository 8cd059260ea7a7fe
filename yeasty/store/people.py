"""People, accounts and counted sign-ins. Names stand in rows of their own, which can be erased."""

import uuid
from collections.abc import Collection
from datetime import datetime, timedelta
from enum import StrEnum

from sqlalchemy import ForeignKey, Index, delete, func, select
from sqlalchemy.orm import Mapped, Session, mapped_column, relationship

from yeasty.core.errors import Refused
from yeasty.core.quantities import System
from yeasty.store.base import Base, Id, now, one_of


class Role(StrEnum):
    """What an account may do: a lead all, a cook set up and log."""

    LEAD = "lead"
    COOK = "cook"


class Person(Base):
    """A name and a contact; erased ones keep a tombstone with the reason. One from elsewhere came with an archive."""

    __tablename__ = "person"
    id: Mapped[Id]
    name: Mapped[str]
    contact: Mapped[str] = mapped_column(default="")
    erased_at: Mapped[datetime | None]
    erased_reason: Mapped[str | None]
    from_elsewhere: Mapped[bool] = mapped_column(default=False)


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
    session_epoch: Mapped[int] = mapped_column(default=1)
    active: Mapped[bool] = mapped_column(default=True)
    person: Mapped[Person] = relationship(lazy="joined")
    __table_args__ = (one_of("role", Role), one_of("units", System))


class SignInAttempt(Base):
    """A failed sign-in, counted by login and by address."""

    __tablename__ = "sign_in_attempt"
    id: Mapped[Id]
    login: Mapped[str]
    address: Mapped[str]
    at: Mapped[datetime]
    __table_args__ = (
        Index("ix_sign_in_attempt_login_at", "login", "at"),
        Index("ix_sign_in_attempt_address_at", "address", "at"),
    )


SIGN_IN_WINDOW = timedelta(minutes=15)
MOST_BY_LOGIN = 8
MOST_BY_ADDRESS = 40


def account_by_login(db: Session, login: str) -> Account | None:
    """The active account with this login, compared without case."""
    return db.scalar(
        select(Account).where(func.lower(Account.login) == login.strip().lower(), Account.active)
    )


def names_of(db: Session, ids: Collection[uuid.UUID]) -> dict[uuid.UUID, str]:
    """Person to name."""
    return {p.id: p.name for p in db.scalars(select(Person).where(Person.id.in_(ids)))}


def any_account(db: Session) -> bool:
    """Whether anyone can sign in; where not, the first-time page makes the lead's account."""
    return db.scalar(select(Account.id).limit(1)) is not None


def add_account(db: Session, *, name: str, login: str, password_hash: str, role: Role) -> Account:
    """A new account with its person.

    Raises
    ------
    Refused : the login is taken
    """
    if account_by_login(db, login) is not None:
        raise Refused("login", f"“{login}” is taken", "Choose another.")
    person = Person(name=name.strip())
    db.add(person)
    db.flush()
    account = Account(person_id=person.id, login=login.strip(), password_hash=password_hash, role=role.value)
    db.add(account)
    db.flush()
    return account


def check_sign_in_allowed(db: Session, login: str, address: str) -> None:
    """Raise when too many sign-ins failed lately for this login or from this address."""
    since = now() - SIGN_IN_WINDOW
    by_login = db.scalar(
        select(func.count()).where(SignInAttempt.login == login.strip().lower(), SignInAttempt.at > since)
    )
    by_address = db.scalar(
        select(func.count()).where(SignInAttempt.address == address, SignInAttempt.at > since)
    )
    if (by_login or 0) >= MOST_BY_LOGIN or (by_address or 0) >= MOST_BY_ADDRESS:
        raise Refused("sign-in", "too many failed tries", "Wait a quarter of an hour, then try again.")


def count_failed_sign_in(db: Session, login: str, address: str) -> None:
    """Count a failed sign-in and forget those older than the window."""
    db.execute(delete(SignInAttempt).where(SignInAttempt.at < now() - 4 * SIGN_IN_WINDOW))
    db.add(SignInAttempt(login=login.strip().lower(), address=address, at=now()))


def erase_person(db: Session, person_id: uuid.UUID, reason: str) -> None:
    """Take a person's name and contact away, leaving a tombstone with the reason."""
    person = db.get_one(Person, person_id)
    person.name, person.contact = "erased", ""
    person.erased_at, person.erased_reason = now(), reason
