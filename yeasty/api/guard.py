"""What is looked at before a request is read into a model: who asks, how large it is, how deep, whether its
text can be kept.

A stranger's request is refused by who asks before its body is read. Everything here is linear in what was
sent.
"""

import json
import re
from typing import Any

from flask import Flask, current_app, request
from flask.sessions import SecureCookieSessionInterface
from flask_login import current_user
from itsdangerous import BadSignature
from werkzeug.http import parse_cookie

from yeasty.api.problems import ApiError, FieldProblem
from yeasty.api.request import demand
from yeasty.core.kernel.text import cannot_be_kept
from yeasty.store.cook.pictures import MOST_BYTES as MOST_PHOTO_BYTES
from yeasty.store.kitchen.people_tables import Role

KB, MB = 1024, 1024 * 1024
# What may be sent to an address [bytes]; everything else is a form and holds less.
LIMITS = {
    "inout.add_archive": 210 * MB,
    "evidence.add_probe_log": 24 * MB,
    "evidence.put_photo": MOST_PHOTO_BYTES,
    "devices.take_lines": 2 * MB,
    "cook.add_entries": 8 * MB,
    "family.read": 3 * MB,
    "family.take_recipe": 3 * MB,
}
FORM = 1 * MB
# Of those who are not signed in: a taster's words, a guess, a reader's question.
STRANGER = 16 * KB
DEEPEST = 32
# Entries are judged one by one, so that a bad one holds up none of the others.
ONE_BY_ONE = frozenset({"cook.add_entries"})
# A text that never ends is taken whole, so that nothing is looked at twice.
_NESTS = re.compile(rb'"(?:[^"\\]|\\.)*+(?:"|\\?\Z)|[\[{]|[\]}]', re.S)


def register(app: Flask) -> None:
    """Look at every request before its view and its models do."""
    app.before_request(look)


def look() -> None:
    """Refuse what may not be asked, or cannot be read; nothing is read of a body that is too large.

    Raises
    ------
    ApiError : 401, 403, 413, 422
    """
    view = current_app.view_functions.get(request.endpoint or "")
    role: Role | None = getattr(view, "for_role", None)
    if role is not None:
        demand(role)
    if not request.content_length and "Transfer-Encoding" not in request.headers:
        # Whoever sends nothing is not looked up: files of the front end are asked for fifty at a time.
        _addressed()
        return
    known = current_user.is_authenticated or request.endpoint in ("devices.take_lines",)
    limit = LIMITS.get(request.endpoint or "", FORM) if known else STRANGER
    request.max_content_length = limit
    if (request.content_length or 0) > limit:
        raise ApiError(
            413, "Too large", f"At most {_size(limit)} can be sent here. Send less, or in several parts."
        )
    _addressed()
    if request.mimetype == "application/json" or request.mimetype.endswith("+json"):
        _json(request.get_data(cache=True))


def most_bytes(app: Flask, cookies: str, bearer: bool) -> int:
    """What is received at all of a request, before anybody knows what it asks for [bytes].

    Whoever shows a session that we signed may send the largest thing there is, a device its lines, a stranger
    a form. Whether the session still stands, and what may be sent where, is looked at by `look`.
    """
    if bearer:
        return LIMITS["devices.take_lines"]
    shown = parse_cookie(cookies).get(app.config["SESSION_COOKIE_NAME"], "")
    signer = SecureCookieSessionInterface().get_signing_serializer(app)
    try:
        signed_in = bool(signer and shown and "_user_id" in signer.loads(shown))
    except (BadSignature, TypeError):
        signed_in = False
    return max(LIMITS.values()) if signed_in else STRANGER


def _size(count: int) -> str:
    return f"{count // MB} MB" if count >= MB else f"{count // KB} KB"


def _addressed() -> None:
    """Nothing in path or query that no column can hold."""
    texts = [("address", request.path), *((k, v) for k, v in request.args.items(multi=True))]
    for name, text in texts:
        if why := cannot_be_kept(text):
            raise _unreadable(name if not cannot_be_kept(name) else "address", why)


def _json(raw: bytes) -> None:
    depth = deepest(raw)
    if depth > DEEPEST:
        raise _unreadable("body", f"is nested {depth} deep")
    if request.endpoint in ONE_BY_ONE:
        return
    try:
        value = json.loads(raw, parse_constant=_not_a_number) if raw.strip() else None
    except _NotANumber as wrong:
        raise _unreadable("body", f"holds {wrong}, which is no number") from None
    except ValueError:
        # What is no JSON is told by the model that was to be read, as are numbers that are too long.
        return
    if found := _bad_text(value, ""):
        raise _unreadable(*found)


def _unreadable(field: str, why: str) -> ApiError:
    problem = FieldProblem(field=field, message=why, todo="Type it again without that.")
    return ApiError(422, "Not understood", f"Please look at: {field}.", [problem])


class _NotANumber(ValueError):
    pass


def _not_a_number(word: str) -> float:
    raise _NotANumber(word)


def deepest(raw: bytes) -> int:
    """How deep brackets nest in a JSON text; those in strings do not count.

    >>> deepest(b'{"a": [1, "[[[", [2]]}')
    3
    """
    depth = most = 0
    for m in _NESTS.finditer(raw):
        match m[0][:1]:
            case b"[" | b"{":
                depth += 1
                most = max(most, depth)
            case b"]" | b"}":
                depth -= 1
    return most


def _bad_text(value: Any, where: str) -> tuple[str, str] | None:
    """The first text that cannot be kept: its field and why; with a stack of its own, whatever the depth."""
    left: list[tuple[str, Any]] = [(where, value)]
    while left:
        name, one = left.pop()
        if isinstance(one, str):
            if why := cannot_be_kept(one):
                return name or "body", why
        elif isinstance(one, dict):
            for k, v in one.items():
                if why := cannot_be_kept(k):
                    return name or "body", why
                left.append((f"{name}.{k}" if name else k, v))
        elif isinstance(one, list):
            left += [(f"{name}.{n}" if name else f"{n}", v) for n, v in enumerate(one)]
    return None
