"""Errors as problem documents (RFC 9457) that name the field and say what to do."""

from collections.abc import Mapping
from typing import Any

from flask import Flask, Response, jsonify
from flask_wtf.csrf import CSRFError
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import DataError, IntegrityError, OperationalError
from sqlalchemy.orm.exc import StaleDataError
from werkzeug.exceptions import HTTPException

from yeasty.api.shown import shown
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.publish.archive import BadArchive


class FieldProblem(BaseModel):
    """One thing that is wrong: where, what, and what to do."""

    field: str
    message: str
    todo: str = ""


class Problem(BaseModel):
    """A problem document."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str = ""
    errors: list[FieldProblem] = []


class ApiError(Exception):
    """Raised by a view to answer with a problem document."""

    def __init__(
        self,
        status: int,
        title: str,
        detail: str = "",
        errors: list[FieldProblem] | None = None,
        headers: Mapping[str, str] | None = None,
    ) -> None:
        super().__init__(title)
        self.headers = dict(headers or {})
        self.problem = Problem(title=title, status=status, detail=detail, errors=errors or [])


def not_found(what: str) -> ApiError:
    """404 for a thing that is not there, or is not for this person."""
    return ApiError(404, f"No such {what}", f"There is no such {what} here. It may have been removed.")


def as_response(problem: Problem) -> Response:
    """A problem as its HTTP answer."""
    response = jsonify(problem.model_dump(exclude_defaults=False))
    response.status_code = problem.status
    response.content_type = "application/problem+json"
    response.headers["Cache-Control"] = "no-store"
    return response


def from_validation(error: ValidationError) -> Response:
    """422 from a request that does not fit its model, each error at its field."""
    found = []
    for e in error.errors(include_url=False):
        cause = (e.get("ctx") or {}).get("error")
        path = ".".join(str(p) for p in e["loc"])
        if isinstance(cause, RuleError):
            found.append(FieldProblem(field=path, message=cause.message, todo=cause.todo))
        else:
            found.append(FieldProblem(field=path, message=e["msg"], todo="Mend this field and send again."))
    names = ", ".join(f.field for f in found[:3])
    return as_response(
        Problem(title="Not understood", status=422, detail=f"Please look at: {names}.", errors=found)
    )


def _rule(error: RuleError) -> Response:
    status = 409 if isinstance(error, Refused) else 422
    fields = [shown(FieldProblem, error)]
    if isinstance(error, BadArchive):
        fields = [FieldProblem(field="archive", message=p) for p in error.problems]
    detail = f"{error.field}: {error.message}. {error.todo}"
    return as_response(Problem(title="Not possible", status=status, detail=detail, errors=fields))


def register(app: Flask, log: Any) -> None:
    """Answer every error of the API as a problem document."""

    @app.errorhandler(ApiError)
    def api_error(error: ApiError) -> Response:
        response = as_response(error.problem)
        response.headers.update(error.headers)
        return response

    @app.errorhandler(RuleError)
    def rule_error(error: RuleError) -> Response:
        return _rule(error)

    @app.errorhandler(CSRFError)
    def csrf(error: CSRFError) -> Response:
        return as_response(Problem(title="Page too old", status=403, detail="Reload the page and try again."))

    @app.errorhandler(StaleDataError)
    def stale(error: StaleDataError) -> Response:
        return as_response(lost_update().problem)

    @app.errorhandler(OperationalError)
    def database(error: OperationalError) -> Response:
        log.warning("database_unreachable", reason=str(error.orig)[:200])
        return as_response(
            Problem(
                title="Database away",
                status=503,
                detail="The database does not answer. What you tap is kept here and sent later.",
            )
        )

    @app.errorhandler(IntegrityError)
    def integrity(error: IntegrityError) -> Response:
        log.warning("integrity", reason=str(error.orig)[:300])
        return as_response(
            Problem(
                title="Does not fit",
                status=409,
                detail="This does not fit what is stored. Reload and try again.",
            )
        )

    @app.errorhandler(DataError)
    def unkeepable(error: DataError) -> Response:
        log.warning("unkeepable", reason=str(error.orig)[:300])
        return as_response(
            Problem(
                title="Not understood",
                status=422,
                detail="A number is too large or a time too far away to be kept. Look at what you typed.",
            )
        )

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        return as_response(
            Problem(title=error.name, status=error.code or 500, detail=error.description or "")
        )

    @app.errorhandler(Exception)
    def unexpected(error: Exception) -> Response:
        log.exception("unexpected", error=type(error).__name__)
        return as_response(
            Problem(
                title="Something went wrong",
                status=500,
                detail="The fault is ours and is in the log. Nothing was saved.",
            )
        )


def lost_update() -> ApiError:
    """412 when someone else changed the same thing first."""
    return ApiError(
        412,
        "Changed meanwhile",
        "Someone changed this after you opened it. Reload, then make your change again.",
    )
