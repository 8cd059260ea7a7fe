"""People, accounts and counted sign-ins. Names stand in rows of their own, which can be erased."""

import secrets
import uuid
from collections.abc import Collection
from datetime import timedelta
from hashlib import sha256

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused
from yeasty.store.base import now
from yeasty.store.kitchen.people_tables import Account, Audit, Person, Role, SignInAttempt

TRY_WINDOW = timedelta(minutes=15)

# Of one login from one address, so that a stranger elsewhere locks nobody out; of one address whatever the
# login.
MOST_BY_LOGIN = 8

MOST_BY_ADDRESS = 40

RESET_HOLDS = timedelta(hours=24)

MOST_AUDITS = 500


def account_by_login(db: Session, login: str) -> Account | None:
    """The active account with this login, compared without case."""
    return db.scalar(
        select(Account).where(func.lower(Account.login) == login.strip().lower(), Account.active)
    )


def names_of(db: Session, ids: Collection[uuid.UUID]) -> dict[uuid.UUID, str]:
    """Person to name."""
    return {p.id: p.name for p in db.scalars(select(Person).where(Person.id.in_(ids)))}


def who_sign_in(db: Session) -> list[tuple[uuid.UUID, str]]:
    """Person and name of all who have an account, by name."""
    rows = db.execute(select(Person.id, Person.name).join(Account, Account.person_id == Person.id))
    return sorted(((i, n) for i, n in rows), key=lambda r: (r[1].casefold(), str(r[0])))


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


class TooManyTries(Exception):
    """Too many of late; `wait_s` until the next may be tried [s]."""

    def __init__(self, wait_s: int) -> None:
        super().__init__(f"too many tries; wait {wait_s} s")
        self.wait_s = wait_s


def count_try(db: Session, what: str, about: str, address: str, *, most: int, most_in_all: int) -> None:
    """Count a try before it is looked at, so that a hundred at once are a hundred; `forget_tries` takes it
    back.

    Raises
    ------
    TooManyTries : about that from this address, or of its kind from this address at all
    """
    key = f"{what}:{about.strip().lower()[:200]}"
    since = now() - TRY_WINDOW
    # One after another for an address: who asks at the same moment waits until this one is counted.
    db.execute(select(func.pg_advisory_xact_lock(func.hashtext(f"{what} {address}"))))
    db.execute(delete(SignInAttempt).where(SignInAttempt.at < now() - 4 * TRY_WINDOW))
    tries = db.execute(
        select(SignInAttempt.login, SignInAttempt.at)
        .where(
            SignInAttempt.address == address,
            SignInAttempt.at > since,
            SignInAttempt.login.startswith(f"{what}:", autoescape=True),
        )
        .order_by(SignInAttempt.at)
    ).all()
    mine = [t.at for t in tries if t.login == key]
    for some, limit in ((mine, most), ([t.at for t in tries], most_in_all)):
        if len(some) >= limit:
            free = some[-limit] + TRY_WINDOW
            raise TooManyTries(max(1, round((free - now()).total_seconds())))
    db.add(SignInAttempt(login=key, address=address, at=now()))
    db.flush()


def forget_tries(db: Session, what: str, about: str, address: str) -> None:
    """One that went well: what failed before it from there is forgotten."""
    key = f"{what}:{about.strip().lower()[:200]}"
    db.execute(delete(SignInAttempt).where(SignInAttempt.login == key, SignInAttempt.address == address))


def forget_login(db: Session, login: str) -> None:
    """Take a login out of what was counted and written down."""
    tried = func.split_part(SignInAttempt.login, ":", 2)
    db.execute(delete(SignInAttempt).where(tried == login.strip().lower()))
    db.execute(update(Audit).where(func.lower(Audit.about) == login.strip().lower()).values(about="erased"))


def note(db: Session, what: str, about: str = "", *, by: uuid.UUID | None = None, address: str = "") -> None:
    """Write down for the lead that something was done."""
    db.add(Audit(at=now(), person_id=by, address=address, what=what, about=about[:200]))


def audits(db: Session) -> list[tuple[Audit, str]]:
    """What was done lately, newest first, with names."""
    rows = db.execute(
        select(Audit, Person.name)
        .outerjoin(Person, Audit.person_id == Person.id)
        .order_by(Audit.at.desc(), Audit.id)
        .limit(MOST_AUDITS)
    )
    return [(a, name or "") for a, name in rows]


def _hash(token: str) -> str:
    return sha256(token.encode()).hexdigest()


def make_reset(account: Account) -> str:
    """A token with which an account's password is set anew, once, within a day; one made before is void."""
    token = secrets.token_urlsafe(32)
    account.reset_hash, account.reset_until = _hash(token), now() + RESET_HOLDS
    return token


def account_of_reset(db: Session, token: str) -> Account | None:
    """The account that a reset's token is for, locked; None where it was used, is void or too old."""
    return db.scalar(
        select(Account)
        .where(Account.reset_hash == _hash(token), Account.reset_until > now(), Account.active)
        .with_for_update(of=Account)
    )


def set_password(account: Account, password_hash: str) -> None:
    """A new password: everything that was signed in is signed out, and a link for another is void."""
    account.password_hash = password_hash
    account.session_epoch += 1
    account.reset_hash, account.reset_until = "", None


def keep_a_lead(db: Session, without: Account) -> None:
    """Hold all leads' accounts until the end, so that of two who shut each other out at once one stays.

    Raises
    ------
    Refused : nobody else could sign in as lead
    """
    query = select(Account.id).where(Account.role == Role.LEAD.value, Account.active).order_by(Account.id)
    if set(db.scalars(query.with_for_update(of=Account))) <= {without.id}:
        raise Refused("account", "is the last lead's", "Make someone else a lead first.")


def let_in(db: Session, account: Account, active: bool, *, by: uuid.UUID) -> None:
    """Shut an account, or open it again; either signs it out everywhere.

    Raises
    ------
    Refused : the last lead who can sign in is shut out
    """
    if not active:
        keep_a_lead(db, account)
    account.active = active
    account.session_epoch += 1
    note(db, "let in again" if active else "shut the account", account.login, by=by)


def change_role(db: Session, account: Account, role: Role) -> None:
    """Make a cook a lead, or a lead a cook.

    Raises
    ------
    Refused : the last lead who can sign in
    """
    if role is not Role.LEAD:
        keep_a_lead(db, account)
    if account.role != role.value:
        account.role = role.value
        account.session_epoch += 1


def erase_person(db: Session, person_id: uuid.UUID, reason: str) -> None:
    """Take a person's name and contact away, leaving a tombstone with the reason."""
    person = db.get_one(Person, person_id)
    person.name, person.contact, person.allergies = "erased", "", ""
    person.erased_at, person.erased_reason = now(), reason
