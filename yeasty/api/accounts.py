"""Sign-in, accounts, and the first-time page's lead."""

from uuid import UUID

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from flask import Response, request
from flask_login import current_user, login_user, logout_user
from flask_openapi3 import APIBlueprint, Tag
from flask_wtf.csrf import generate_csrf
from pydantic import BaseModel, Field
from sqlalchemy import select

from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import answer, db, done, me, require
from yeasty.core.errors import RuleError
from yeasty.core.quantities import System
from yeasty.store import people
from yeasty.store.kitchen import the_kitchen
from yeasty.store.people import Account, Role

accounts = APIBlueprint("accounts", __name__, url_prefix="/api/v1", abp_tags=[Tag(name="accounts")])
hasher = PasswordHasher(time_cost=2, memory_cost=19456, parallelism=1)
SHORTEST_PASSWORD = 10


class Me(BaseModel):
    """Who is signed in, with their choices."""

    id: str
    name: str
    login: str
    role: Role
    units: System
    dark: bool


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
    """Sign someone out everywhere, or let them in again."""

    active: bool


def me_view(account: Account) -> Me:
    """An account as its owner sees it."""
    return Me(
        id=str(account.id),
        name=account.person.name,
        login=account.login,
        role=Role(account.role),
        units=System(account.units),
        dark=account.dark,
    )


def checked_password(password: str) -> str:
    """Its hash, or what is wrong with it."""
    if len(password) < SHORTEST_PASSWORD:
        raise RuleError(
            "password",
            f"has {len(password)} characters",
            f"Use {SHORTEST_PASSWORD} or more; a few words do well.",
        )
    return hasher.hash(password)


@accounts.get("/session", responses={200: SessionView})
def get_session() -> Response:
    """Who I am, the kitchen, and the token that changes carry."""
    kitchen = the_kitchen(db())
    return answer(
        SessionView(
            me=me_view(me()) if current_user.is_authenticated else None,
            csrf=generate_csrf(),
            first_time=not people.any_account(db()),
            kitchen=kitchen.name,
            time_zone=kitchen.time_zone,
            currency=kitchen.currency,
            incarnation=str(kitchen.incarnation),
        )
    )


@accounts.post("/session", responses={200: Me})
def sign_in(body: SignIn) -> Response:
    """Sign in. Failed tries are counted in the database, by login and by address."""
    address = request.remote_addr or ""
    people.check_sign_in_allowed(db(), body.login, address)
    account = people.account_by_login(db(), body.login)
    try:
        hasher.verify(account.password_hash if account else DUMMY_HASH, body.password)
    except (VerifyMismatchError, InvalidHashError):
        account = None
    if account is None:
        people.count_failed_sign_in(db(), body.login, address)
        db().commit()
        raise ApiError(
            401, "Not signed in", "Login and password do not go together. Check both and try again."
        )
    login_user(account_user(account))
    return answer(me_view(account))


@accounts.delete("/session", responses={204: None})
def sign_out() -> Response:
    """Sign out on this device."""
    logout_user()
    return done()


@accounts.post("/first-lead", responses={201: Me})
def first_lead(body: FirstLead) -> Response:
    """Make the lead's account of a kitchen that has none yet."""
    if people.any_account(db()):
        raise ApiError(409, "There is a lead already", "Sign in instead, or ask the lead for an account.")
    hashed = checked_password(body.password)
    the_kitchen(db()).name = body.kitchen.strip()
    account = people.add_account(db(), name=body.name, login=body.login, password_hash=hashed, role=Role.LEAD)
    db().refresh(account)
    login_user(account_user(account))
    return answer(me_view(account), 201)


@accounts.patch("/me", responses={200: Me})
@require(Role.COOK)
def change_preferences(body: Preferences) -> Response:
    """Choose units, and the bench's dark look."""
    account = db().get_one(Account, me().id)
    if body.units is not None:
        account.units = body.units.value
    if body.dark is not None:
        account.dark = body.dark
    return answer(me_view(account))


@accounts.get("/accounts", responses={200: AccountList})
@require(Role.LEAD)
def list_accounts() -> Response:
    """Leads and cooks of this kitchen."""
    rows = db().scalars(select(Account).order_by(Account.login))
    return answer(AccountList(items=[_view(a) for a in rows]))


def _view(a: Account) -> AccountView:
    return AccountView(id=str(a.id), name=a.person.name, login=a.login, role=Role(a.role), active=a.active)


@accounts.post("/accounts", responses={201: AccountView})
@require(Role.LEAD)
def add_account(body: NewAccount) -> Response:
    """A new account, made by the lead."""
    account = people.add_account(
        db(), name=body.name, login=body.login, password_hash=checked_password(body.password), role=body.role
    )
    db().refresh(account)
    return answer(_view(account), 201)


@accounts.patch("/accounts/<uuid:account_id>", responses={200: AccountView})
@require(Role.LEAD)
def change_account(path: AccountPath, body: AccountChange) -> Response:
    """Shut an account, or open it again. Shutting signs it out everywhere."""
    account = db().get(Account, path.account_id)
    if account is None:
        raise not_found("account")
    if account.id == me().id and not body.active:
        raise ApiError(409, "That is you", "Another lead has to shut your account.")
    account.active = body.active
    account.session_epoch += 1
    return answer(_view(account))


DUMMY_HASH = hasher.hash("a password nobody has, so that unknown logins take as long")


class SignedIn:
    """An account as Flask-Login carries it: the cookie holds id and epoch, and an older epoch is signed out."""

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
