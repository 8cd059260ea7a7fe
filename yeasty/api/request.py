"""What views share: the request's database session, who asks, units, answers, If-Match."""

from collections.abc import Callable, Iterable, Sequence
from datetime import datetime
from functools import wraps
from hashlib import sha256
from typing import Annotated, Any, ParamSpec, TypeVar, cast

import structlog
from flask import Response, current_app, g, jsonify, request
from flask_login import current_user
from pydantic import AfterValidator, BaseModel, BeforeValidator, ValidationError, WithJsonSchema
from sqlalchemy.orm import Session

from yeasty.api.problems import ApiError, lost_update
from yeasty.core.kernel import quantities
from yeasty.core.kernel.errors import BadQuantity, RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.text import Dates, Hours, Written
from yeasty.core.publish.dialect import in_words
from yeasty.core.publish.reader import Words
from yeasty.store.kitchen.people_tables import Account, Role

P = ParamSpec("P")
log = structlog.get_logger()


def db() -> Session:
    """The request's session; committed after a good answer, before it is sent."""
    if "db" not in g:
        g.db = current_app.extensions["yeasty_sessions"]()
    return cast(Session, g.db)


def after_commit(act: Callable[[], None]) -> None:
    """Do something once the request's changes are stored, such as asking the worker for a plan."""
    g.setdefault("after_commit", []).append(act)


def before_commit(act: Callable[[], None]) -> None:
    """Do something last in the request's own transaction, such as writing down what it changed."""
    g.setdefault("before_commit", []).append(act)


def me() -> Account:
    """Who is signed in. Only behind `require`."""
    return cast(Account, current_user._get_current_object())


def system() -> System:
    """The person's units; metric for who is not signed in."""
    return System(current_user.units) if current_user.is_authenticated else System.METRIC


def written() -> Written:
    """How whoever asks writes days and times."""
    if not current_user.is_authenticated:
        return Written()
    return Written(Dates(current_user.dates), Hours(current_user.clock))


def own_side() -> Words:
    """Which words of the kitchen whoever asks says: grill or broiler, hob or stovetop."""
    return Words(current_user.words) if current_user.is_authenticated else Words.WRITTEN


def own_words(text: str) -> str:
    """A text of the program in the words of whoever asks; never for what somebody typed."""
    return in_words(text, own_side())


Row = TypeVar("Row")
View = TypeVar("View")
LEFT_OUT = "Left-Out"


def each(rows: Iterable[Row], view: Callable[[Row], View]) -> list[View]:
    """Rows as a list shows them. What is stored and no longer fits is our fault: it is logged, counted in a
    header that the screen tells of, and the rest comes.
    """
    shown = []
    for row in rows:
        try:
            shown.append(view(row))
        except (ValidationError, RuleError, LookupError, TypeError, ValueError) as wrong:
            left = getattr(row, "id", "")
            log.error("does_not_fit", view=request.endpoint, id=str(left), error=str(wrong)[:300])
            g.left_out = g.get("left_out", 0) + 1
    return shown


def demand(role: Role) -> None:
    """Raise where whoever asks may not.

    Raises
    ------
    ApiError : 401 signed out, 403 a cook where the lead is asked for
    """
    if not current_user.is_authenticated:
        raise ApiError(401, "Sign in first", "Sign in to go on.")
    if role is Role.LEAD and current_user.role != Role.LEAD:
        raise ApiError(403, "For the lead", "Only the lead may do this. Ask them, or sign in as lead.")


def require(role: Role) -> Callable[[Callable[P, Any]], Callable[P, Any]]:
    """Let in leads, or cooks and leads."""

    def wrap(view: Callable[P, Any]) -> Callable[P, Any]:
        @wraps(view)
        def guarded(*args: P.args, **kwargs: P.kwargs) -> Any:
            demand(role)
            return view(*args, **kwargs)

        # Asked by `guard` too, before anything of the request is read.
        guarded.for_role = role  # type: ignore[attr-defined]
        return guarded

    return wrap


def answer(model: BaseModel, status: int = 200, version: int | None = None) -> Response:
    """A model as JSON; never cached; with its version as ETag where edits carry one."""
    response = current_app.response_class(model.model_dump_json(), status=status, mimetype="application/json")
    response.headers["Cache-Control"] = "no-store"
    if version is not None:
        response.headers["ETag"] = f'"{version}"'
    return response


def told(text: str) -> Response:
    """JSON that is written out already; never cached outside."""
    response = current_app.response_class(text, mimetype="application/json")
    response.headers["Cache-Control"] = "no-store"
    return response


def done() -> Response:
    """204."""
    return current_app.response_class(status=204)


def plain(value: Any, status: int = 200) -> Response:
    """Any JSON value; never cached."""
    response = jsonify(value)
    response.status_code = status
    response.headers["Cache-Control"] = "no-store"
    return response


def content_version(shown: Sequence[BaseModel]) -> str:
    """The version of what has no number of its own: a sum of what is shown of it, but for fields named
    `version`.
    """
    text = "".join(m.model_dump_json(exclude={"version"}) for m in shown)
    return sha256(text.encode()).hexdigest()[:16]


def check_if_match(version: int | str) -> None:
    """Refuse an edit that does not carry the version it was made from.

    Raises
    ------
    ApiError : 428 without the header, 412 where someone else was first
    """
    given = request.headers.get("If-Match")
    if not given:
        raise ApiError(428, "Version missing", "Send If-Match with the version you opened.")
    if given.strip().removeprefix("W/").strip('"') != str(version):
        raise lost_update()


def _quantity(kind: str, parse: Callable[..., float]) -> Any:
    def read(value: Any) -> Any:
        if isinstance(value, str):
            if not value.strip():
                raise BadQuantity(kind, "is empty", "Type a value, or leave it out.")
            return quantities.check_si(kind, parse(value, kind, system()), kind)
        if isinstance(value, int | float) and not isinstance(value, bool):
            return quantities.check_si(kind, float(value), kind)
        return value

    schema = {
        "anyOf": [{"type": "string"}, {"type": "number"}],
        "description": f"{kind}: as a cook writes it, or a number in SI",
    }
    return Annotated[float, BeforeValidator(read), WithJsonSchema(schema)]


def _within_reach(value: datetime) -> datetime:
    if not 2000 <= value.year <= 2100:
        raise BadQuantity("time", "is far from any cooking", "Give a date of our time.")
    return value


Moment = Annotated[datetime, AfterValidator(_within_reach)]
Mass = _quantity("weight", quantities.parse_mass)
Duration = _quantity("duration", quantities.parse_duration)
Temperature = _quantity("temperature", quantities.parse_temperature)
Power = _quantity("power", quantities.parse_power)
Energy = _quantity("energy", quantities.parse_energy)
Length = _quantity("length", quantities.parse_length)


def blank_to_none(value: Any) -> Any:
    """An empty text box means: not given."""
    return None if isinstance(value, str) and not value.strip() else value


Blank = BeforeValidator(blank_to_none)
