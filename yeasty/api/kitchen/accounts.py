"""Sign-in, accounts, and the first-time page's lead."""

from collections.abc import Callable
from datetime import datetime
from uuid import UUID

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from flask import Response, current_app, request
from flask_login import current_user, login_user, logout_user
from flask_wtf.csrf import generate_csrf
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import answer, db, done, each, me, require
from yeasty.api.shown import shown
from yeasty.api.tries import count_try
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.text import Dates, Hours
from yeasty.core.publish.reader import Words
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Account, Person, Role
from yeasty.store.kitchen.queries import the_kitchen

accounts = blueprint("accounts", "accounts")
hasher = PasswordHasher(time_cost=2, memory_cost=19456, parallelism=1)
SHORTEST_PASSWORD = 10
# Of 4: from here on guessing takes more than a hundred million tries.
LEAST_SCORE = 2


class Me(BaseModel):
    """Who is signed in, with their choices."""

    id: str
    person_id: str
    name: str
    login: str
    role: Role
    units: System
    dark: bool
    dates: Dates
    clock: Hours
    words: Words


class SessionView(BaseModel):
    """The state a page starts from."""

    me: Me | None
    csrf: str
    first_time: bool
    kitchen: str
    time_zone: str
    currency: str
    incarnation: str


class SignIn(BaseModel):
    """A sign-in."""

    login: str = Field(min_length=1, max_length=200)
    password: str = Field(min_length=1, max_length=500)


class NewAccount(BaseModel):
    """A new lead or cook."""

    name: str = Field(min_length=1, max_length=200)
    login: str = Field(min_length=2, max_length=200)
    password: str = Field(max_length=500)
    role: Role = Role.COOK


class FirstLead(BaseModel):
    """The lead of a new kitchen, and its name."""

    kitchen: str = Field(min_length=1, max_length=200)
    name: str = Field(min_length=1, max_length=200)
    login: str = Field(min_length=2, max_length=200)
    password: str = Field(max_length=500)


class Preferences(BaseModel):
    """What a person chooses."""

    units: System | None = None
    dark: bool | None = None
    dates: Dates | None = None
    clock: Hours | None = None
    words: Words | None = None


class AccountView(BaseModel):
    """An account as the lead sees it."""

    id: str
    name: str
    login: str
    role: Role
    active: bool


class AccountList(BaseModel):
    """All accounts."""

    items: list[AccountView]


class AccountPath(BaseModel):
    """Which account."""

    account_id: UUID


class AccountChange(BaseModel):
    """Sign someone out everywhere, or let them in again; what they may do."""

    active: bool | None = None
    role: Role | None = None


class PasswordChange(BaseModel):
    """A new password of one's own."""

    current: str = Field(min_length=1, max_length=500)
    new: str = Field(max_length=500)


class ResetMade(BaseModel):
    """A link with which a password is set anew, shown this once."""

    link: str
    holds_h: int


class ResetIn(BaseModel):
    """A new password by a link."""

    token: str = Field(min_length=20, max_length=200)
    new: str = Field(max_length=500)


class AuditView(BaseModel):
    """Something that was done: when, by whom, from where."""

    at: datetime
    who: str
    address: str
    what: str
    about: str


class AuditList(BaseModel):
    """What was done lately, newest first."""

    items: list[AuditView]


def me_view(account: Account) -> Me:
    """An account as its owner sees it."""
    return shown(
        Me,
        account,
        id=str(account.id),
        person_id=str(account.person_id),
        name=account.person.name,
        role=Role(account.role),
        units=System(account.units),
        dates=Dates(account.dates),
        clock=Hours(account.clock),
        words=Words(account.words),
    )


def checked_password(password: str, *about: str) -> str:
    """Its hash, or what is wrong with it; `about` are words of its owner that anybody would try."""
    # Its word lists are 12 MB, and passwords are set rarely.
    from zxcvbn import zxcvbn

    if len(password) < SHORTEST_PASSWORD:
        raise RuleError(
            "password",
            f"has {len(password)} characters",
            f"Use {SHORTEST_PASSWORD} or more; a few words do well.",
        )
    if zxcvbn(password[:72], user_inputs=[a for a in about if a])["score"] < LEAST_SCORE:
        raise RuleError(
            "password",
            "is among those that are tried first",
            "Take three or four words that do not belong together.",
        )
    return hasher.hash(password)


@accounts.get("/session", responses={200: SessionView})
def get_session() -> Response:
    """Who I am, the kitchen, and the token that changes carry."""
    kitchen = the_kitchen(db())
    return answer(
        shown(
            SessionView,
            kitchen,
            me=me_view(me()) if current_user.is_authenticated else None,
            csrf=generate_csrf(),
            first_time=not people.any_account(db()),
            kitchen=kitchen.name,
            incarnation=str(kitchen.incarnation),
        )
    )


def _by_password(given: SignIn) -> Account | None:
    """The account whose password was given. Where there is none of that login it takes as long to say so."""
    account = people.account_by_login(db(), given.login)
    try:
        hasher.verify(account.password_hash if account else DUMMY_HASH, given.password)
    except (VerifyMismatchError, InvalidHashError):
        return None
    return account


@accounts.post("/session", responses={200: Me})
def sign_in(body: SignIn) -> Response:
    """Sign in. Failed tries are counted in the database, by login and by address."""
    address = request.remote_addr or ""
    count_try("sign-in", body.login, most=people.MOST_BY_LOGIN, most_in_all=people.MOST_BY_ADDRESS)
    account = _by_password(body)
    if account is None:
        people.note(db(), "failed sign-in", body.login, address=address)
        db().commit()
        raise ApiError(
            401, "Not signed in", "Login and password do not go together. Check both and try again."
        )
    people.forget_tries(db(), "sign-in", body.login, address)
    login_user(account_user(account))
    return answer(me_view(account))


@accounts.delete("/session", responses={204: None})
def sign_out() -> Response:
    """Sign out, here and everywhere else."""
    if current_user.is_authenticated:
        db().get_one(Account, me().id).session_epoch += 1
    logout_user()
    return done()


@accounts.put("/me/password", responses={200: Me})
@require(Role.COOK)
def change_password(body: PasswordChange) -> Response:
    """A new password of one's own; every other device is signed out."""
    account = db().get_one(Account, me().id)
    try:
        hasher.verify(account.password_hash, body.current)
    except (VerifyMismatchError, InvalidHashError):
        raise RuleError("current", "is not your password", "Type the one you signed in with.") from None
    people.set_password(account, checked_password(body.new, account.login, account.person.name))
    people.note(db(), "changed the password", by=account.person_id, address=request.remote_addr or "")
    db().flush()
    login_user(account_user(account))
    return answer(me_view(account))


@accounts.post("/accounts/<uuid:account_id>/resets", responses={201: ResetMade})
@require(Role.LEAD)
def make_reset(path: AccountPath) -> Response:
    """A link with which someone sets a new password, once, within a day. It is shown this once."""
    account = db().get(Account, path.account_id)
    if account is None:
        raise not_found("account")
    token = people.make_reset(account)
    people.note(db(), "made a link for a new password", account.login, by=me().person_id)
    base = current_app.config["PUBLIC_ADDRESS"] or request.host_url.rstrip("/")
    hours = round(people.RESET_HOLDS.total_seconds() / 3600)
    return answer(ResetMade(link=f"{base}/reset/{token}", holds_h=hours), 201)


@accounts.post("/password-resets", responses={204: None})
def reset_password(body: ResetIn) -> Response:
    """Set a new password by a link that a lead made."""
    count_try("reset", "", most=20, most_in_all=20)
    account = people.account_of_reset(db(), body.token)
    if account is None:
        raise ApiError(
            404, "This link is not valid", "It was used, or is older than a day. Ask a lead for another."
        )
    people.set_password(account, checked_password(body.new, account.login, account.person.name))
    people.note(db(), "set a new password by a link", by=account.person_id, address=request.remote_addr or "")
    return done()


@accounts.get("/audit", responses={200: AuditList})
@require(Role.LEAD)
def get_audit() -> Response:
    """What was done lately that a lead may want to know of."""
    return answer(AuditList(items=[shown(AuditView, a, who=name) for a, name in people.audits(db())]))


@accounts.post("/first-lead", responses={201: Me})
def first_lead(body: FirstLead) -> Response:
    """Make the lead's account of a kitchen that has none yet."""
    if people.any_account(db()):
        raise ApiError(409, "There is a lead already", "Sign in instead, or ask the lead for an account.")
    hashed = checked_password(body.password, body.login, body.name)
    the_kitchen(db()).name = body.kitchen.strip()
    account = people.add_account(db(), name=body.name, login=body.login, password_hash=hashed, role=Role.LEAD)
    db().refresh(account)
    login_user(account_user(account))
    return answer(me_view(account), 201)


@accounts.patch("/me", responses={200: Me})
@require(Role.COOK)
def change_preferences(body: Preferences) -> Response:
    """Choose units, how days and times are written, words of the kitchen, and the bench's dark look."""
    account = db().get_one(Account, me().id)
    for name, chosen in body.model_dump(exclude_none=True).items():
        setattr(account, name, chosen)
    return answer(me_view(account))


@accounts.get("/accounts", responses={200: AccountList})
@require(Role.LEAD)
def list_accounts() -> Response:
    """Leads and cooks of this kitchen."""
    rows = db().scalars(
        select(Account).join(Account.person).where(Person.erased_at.is_(None)).order_by(Account.login)
    )
    return answer(AccountList(items=each(rows, _view)))


def _view(a: Account) -> AccountView:
    return shown(AccountView, a, id=str(a.id), name=a.person.name, role=Role(a.role))


@accounts.post("/accounts", responses={201: AccountView})
@require(Role.LEAD)
def add_account(body: NewAccount) -> Response:
    """A new account, made by the lead."""
    hashed = checked_password(body.password, body.login, body.name)
    account = people.add_account(db(), name=body.name, login=body.login, password_hash=hashed, role=body.role)
    people.note(db(), f"added as {body.role}", body.login, by=me().person_id)
    db().refresh(account)
    return answer(_view(account), 201)


@accounts.patch("/accounts/<uuid:account_id>", responses={200: AccountView})
@require(Role.LEAD)
def change_account(path: AccountPath, body: AccountChange) -> Response:
    """Shut an account, or open it again. Shutting signs it out everywhere."""
    account = db().get(Account, path.account_id)
    if account is None:
        raise not_found("account")
    if account.person.erased_at is not None:
        raise ApiError(409, "Erased", "Whoever this was is erased. Make a new account.")
    if body.active is not None:
        if account.id == me().id and not body.active:
            raise ApiError(409, "That is you", "Another lead has to shut your account.")
        people.let_in(db(), account, body.active, by=me().person_id)
    if body.role is not None:
        people.change_role(db(), account, body.role)
        people.note(db(), f"made {body.role}", account.login, by=me().person_id)
    return answer(_view(account))


DUMMY_HASH = hasher.hash("a password nobody has, so that unknown logins take as long")


class SignedIn:
    """An account as Flask-Login carries it: the cookie holds id and epoch, and an older epoch is signed
    out.
    """

    is_active = True
    is_authenticated = True
    is_anonymous = False

    def __init__(self, account: Account) -> None:
        self._account = account

    def get_id(self) -> str:
        """What the cookie holds."""
        return f"{self._account.id}:{self._account.session_epoch}"

    def __getattr__(self, name: str) -> object:
        return getattr(self._account, name)


def account_user(account: Account) -> SignedIn:
    """An account ready to be signed in."""
    return SignedIn(account)


def still_signed_in(account_id: UUID, epoch: int) -> Callable[[Session], bool]:
    """Whether a sign-in still holds, asked of a session: a stream outlives the request that opened it."""

    def holds(db: Session) -> bool:
        row = db.execute(
            select(Account.active, Account.session_epoch).where(Account.id == account_id)
        ).one_or_none()
        return row is not None and row.active and row.session_epoch == epoch

    return holds


def load_user(cookie: str) -> SignedIn | None:
    """Whom a cookie stands for, None where it is void."""
    try:
        account_id, epoch = cookie.split(":")
        account = db().get(Account, UUID(account_id))
    except ValueError:
        return None
    if account is None or not account.active or str(account.session_epoch) != epoch:
        return None
    return SignedIn(account)
