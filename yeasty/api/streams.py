"""Holding a stream open for a screen: it takes a place, and gives its database session back."""

from collections.abc import Callable, Iterator

from flask import Response, current_app
from sqlalchemy.orm import Session, sessionmaker

from yeasty.api.kitchen.accounts import still_signed_in
from yeasty.api.live import Hub
from yeasty.api.problems import ApiError
from yeasty.api.request import db, me

Events = Callable[[Hub, sessionmaker[Session], Callable[[Session], bool], str], Iterator[str]]


def streamed(events: Events) -> Response:
    """Server-sent events to whoever is signed in, while they are.

    Raises
    ------
    ApiError : 503 where all places are taken
    """
    hub, sessions = current_app.extensions["yeasty_hub"], current_app.extensions["yeasty_sessions"]
    hub.start()
    who = str(me().id)
    if not hub.take_place(who):
        raise ApiError(
            503, "Too many screens", "This server streams to as many screens as it can. Close one."
        )
    still_in = still_signed_in(me().id, me().session_epoch)
    db().close()
    response = current_app.response_class(events(hub, sessions, still_in, who), mimetype="text/event-stream")
    response.headers["Cache-Control"] = "no-store"
    response.headers["X-Accel-Buffering"] = "no"
    return response
