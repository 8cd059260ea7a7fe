"""The taster's own page: reached by a personal link, built from codes alone."""

from flask import Response

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError
from yeasty.api.request import answer, db
from yeasty.api.taste.taster_views import AllergensTold, Finish, TasterAnswer, TasterView, TokenPath
from yeasty.api.taste.told import must_not, taster_view
from yeasty.core.kernel.errors import RuleError
from yeasty.operations.taste import answers, panels
from yeasty.store.base import now
from yeasty.store.cook.queries import wake
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.taste.tables import Seat, Tasting

taster = blueprint("taster", "taste")


def _seat(token: str) -> Seat:
    seat = panels.seat_of_token(db(), the_kitchen(db()).secret, token)
    if seat is None:
        raise ApiError(404, "This link is not valid", "Ask whoever invited you for a new link.")
    return seat


def _told(seat: Seat) -> Response:
    """The page as it is now; screens of the kitchen are told that something has changed."""
    wake(db(), db().get_one(Tasting, seat.tasting_id).trial_id)
    return answer(taster_view(seat))


@taster.get("/taste/<string:token>", responses={200: TasterView})
def get_taster(path: TokenPath) -> Response:
    """A taster's page."""
    return answer(taster_view(_seat(path.token)))


@taster.post("/taste/<string:token>/allergens-told", responses={200: TasterView})
def told_allergens(path: TokenPath, body: AllergensTold) -> Response:
    """The taster has read what is on the table and said of each whether they must not eat it. Nothing can be
    answered before, and nothing after a yes.
    """
    seat = _seat(path.token)
    there = {a.what for a in taster_view(seat).allergens}
    if there - set(body.said):
        raise RuleError(
            "allergens",
            f"{', '.join(sorted(there - set(body.said)))} is not answered",
            "Say yes or no to each.",
        )
    seat.allergens_said = {
        "said": {k: v for k, v in body.said.items() if k in there},
        "words": body.words.strip(),
    }
    seat.told_allergens_at = now()
    return _told(seat)


@taster.post("/taste/<string:token>/answers", responses={200: TasterView})
def give_answer(path: TokenPath, body: TasterAnswer) -> Response:
    """Give one answer. A change is kept beside the first."""
    seat = _seat(path.token)
    if seat.told_allergens_at is None:
        raise ApiError(409, "Allergens first", "Read the allergens and confirm before the first bite.")
    if must_not(seat):
        raise ApiError(
            409, "Not for you", f"You said that you must not eat {', '.join(must_not(seat))}. Do not taste."
        )
    answers.take(db(), seat, answers.Telling(**dict(body)))
    return _told(seat)


@taster.post("/taste/<string:token>/finish", responses={200: TasterView})
def finish(path: TokenPath, body: Finish) -> Response:
    """The taster is done."""
    seat = _seat(path.token)
    seat.finished_at, seat.may_quote = seat.finished_at or now(), body.may_quote
    db().flush()
    return _told(seat)
