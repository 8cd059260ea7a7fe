"""The web application: blueprints, sign-in, security headers, the front end's files."""

import time
from dataclasses import dataclass
from typing import Any

import structlog
from flask import Flask, Response, g, request
from flask_login import AnonymousUserMixin, LoginManager
from flask_openapi3 import Info, OpenAPI
from flask_wtf.csrf import CSRFProtect

from yeasty import __version__
from yeasty.api import guard, problems
from yeasty.api.describe import BLUEPRINTS
from yeasty.api.front import front
from yeasty.api.kitchen.accounts import load_user
from yeasty.api.live import Hub
from yeasty.api.publish.public import public
from yeasty.api.request import LEFT_OUT
from yeasty.api.trust import trust
from yeasty.core.kernel.quantities import System
from yeasty.store.database import make_engine, plain_url, session_factory
from yeasty.store.jobs import Jobs
from yeasty.store.kitchen.queries import the_kitchen

MOST_REQUEST_BYTES = 210 * 1024 * 1024
CSP = (
    "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self'; "
    "connect-src 'self'; worker-src 'self'; manifest-src 'self'; object-src 'none'; base-uri 'none'; "
    "form-action 'self'; frame-ancestors 'none'"
)


@dataclass(frozen=True)
class Settings:
    """What a web process is told.

    `tls` : cookies are Secure; `https_only` : browsers may keep to HTTPS for this name from now on;
        `authority` : folder of the local authority, None without TLS of our own;
    `reckoner` : socket of the reckoner; `public_address` : where other devices reach the kitchen, "" for as
        asked.
    """

    database_url: str
    tls: bool = False
    https_only: bool = False
    authority: str = ""
    public_address: str = ""
    reckoner: str = ""
    testing: bool = False


class Anonymous(AnonymousUserMixin):
    """Nobody: metric."""

    units = System.METRIC.value


def create_app(settings: Settings) -> OpenAPI:
    """The application. It holds nothing between requests but the database pool and the live hub."""
    app = OpenAPI(
        "yeasty.api",
        info=Info(title="Yeasty Trial", version=__version__),
        doc_ui=False,
        static_folder=None,
        validation_error_status=422,
        validation_error_model=problems.Problem,
        validation_error_callback=problems.from_validation,
    )
    log = structlog.get_logger()
    settle(app, settings)
    for blueprint in BLUEPRINTS:
        app.register_api(blueprint)
    app.register_blueprint(public)
    app.register_blueprint(trust)
    problems.register(app, log)
    _requests(app, log)
    guard.register(app)
    csrf = CSRFProtect(app)
    for name in (
        "told_allergens",
        "give_answer",
        "finish",
    ):  # a taster's link is its own proof; there is no cookie
        csrf.exempt(app.view_functions[f"taster.{name}"])
    for name in ("public_guess", "reader_asks"):  # open to everyone: there is nothing to borrow
        csrf.exempt(app.view_functions[f"promises.{name}"])
    csrf.exempt(app.view_functions["readers.reader_cooked"])
    csrf.exempt(
        app.view_functions["devices.take_lines"]
    )  # a device's token is its own proof; there is no cookie
    login = LoginManager(app)
    login.anonymous_user = Anonymous
    login.user_loader(load_user)
    app.register_blueprint(front)
    return app


def settle(app: Flask, settings: Settings) -> None:
    """Have the application answer from this database and by these settings from now on; nothing is left of
    those it had.
    """
    engine = make_engine(settings.database_url)
    sessions = session_factory(engine)
    with sessions() as db:
        kitchen = the_kitchen(db)
        # With the incarnation in it, what was signed before a restore is void; links of tasters stand.
        secret = f"{kitchen.secret}.{kitchen.incarnation}"
    engine.dispose()
    app.config.update(
        SECRET_KEY=secret,
        SESSION_COOKIE_NAME="yeasty",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_SECURE=settings.tls,
        PERMANENT_SESSION_LIFETIME=30 * 86400,
        WTF_CSRF_TIME_LIMIT=None,
        WTF_CSRF_HEADERS=["X-CSRFToken"],
        MAX_CONTENT_LENGTH=MOST_REQUEST_BYTES,
        PUBLIC_ADDRESS=settings.public_address,
        RECKONER=settings.reckoner,
        TLS=settings.tls,
        HTTPS_ONLY=settings.https_only,
        AUTHORITY=settings.authority,
        TESTING=settings.testing,
    )
    app.extensions["yeasty_engine"] = engine
    app.extensions["yeasty_sessions"] = sessions
    app.extensions["yeasty_jobs"] = Jobs(plain_url(settings.database_url))
    app.extensions["yeasty_hub"] = Hub(plain_url(settings.database_url))


def _requests(app: Flask, log: Any) -> None:
    @app.before_request
    def begin() -> None:
        g.began = time.monotonic()

    @app.after_request
    def finish(response: Response) -> Response:
        if "db" in g:
            if response.status_code < 400:
                for act in g.pop("before_commit", []):
                    act()
                g.db.commit()
                for act in g.pop("after_commit", []):
                    act()
            else:
                g.db.rollback()
        response.headers.setdefault("Content-Security-Policy", CSP)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
        if left := g.get("left_out"):
            response.headers[LEFT_OUT] = str(left)
        if app.config["HTTPS_ONLY"]:
            # A local authority's certificate may be made anew, and an address go to another machine: never
            # for those.
            response.headers["Strict-Transport-Security"] = "max-age=31536000"
        if response.mimetype != "text/event-stream":
            log.info(
                "request",
                method=request.method,
                path=_quiet(request.path),
                status=response.status_code,
                ms=round((time.monotonic() - g.get("began", time.monotonic())) * 1000, 1),
            )
        return response

    @app.teardown_request
    def close(_: BaseException | None) -> None:
        db = g.pop("db", None)
        if db is not None:
            db.close()


def _quiet(path: str) -> str:
    """A path for the log, without a taster's link."""
    for prefix in ("/t/", "/g/", "/api/v1/taste/", "/api/v1/guess-pages/"):
        if path.startswith(prefix):
            return prefix + "…" + path.removeprefix(prefix).partition("/")[1]
    return path
