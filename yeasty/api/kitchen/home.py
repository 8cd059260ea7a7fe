"""Kitchen: what goes on now, and what waits for whom."""

from flask import Response
from pydantic import BaseModel

from yeasty.api.blueprint import blueprint
from yeasty.api.request import answer, db, require, written
from yeasty.operations.kitchen.home import Waiting, home, sentence
from yeasty.store.base import now
from yeasty.store.kitchen.people_tables import Role

home_views = blueprint("home", "home")


class HomeView(BaseModel):
    """One sentence, and what it is made of, each with where it is."""

    sentence: str
    items: list[Waiting]


@home_views.get("/home", responses={200: HomeView})
@require(Role.COOK)
def get_home() -> Response:
    """What is in the heat and what waits for somebody, now."""
    rows = home(db(), now(), written())
    return answer(HomeView(sentence=sentence(rows), items=rows))
