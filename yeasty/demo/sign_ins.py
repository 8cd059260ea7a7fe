"""The demo's two accounts, told at the start for as long as their passwords are the demo's."""

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy.orm import Session

from yeasty.store.kitchen.people import account_by_login

LEAD, COOK = ("lead", "flour-water-salt"), ("cook", "proof-shape-bake")


def sign_ins(db: Session) -> list[str]:
    """Lines that tell the demo's sign-ins, for as long as they are the demo's."""
    found = []
    for login, password in (LEAD, COOK):
        account = account_by_login(db, login)
        if account is not None and account.active and _is(account.password_hash, password):
            found.append(f"  Sign in as {login} with {password}")
    return found


def _is(hashed: str, password: str) -> bool:
    try:
        return PasswordHasher().verify(hashed, password)
    except VerificationError:
        return False
