"""Kitchen: the user's guide."""

from flask import Response, send_file
from pydantic import BaseModel, Field

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.request import answer
from yeasty.operations.kitchen.guide import GuidePage, glossary, guide, picture

guide_views = blueprint("guide", "kitchen")


class Guide(BaseModel):
    """All pages of the guide, in the order in which they are read."""

    items: list[GuidePage]
    words: dict[str, str] = Field(description="words of the trade, each with what it means")


class PicturePath(BaseModel):
    """A picture of the guide."""

    name: str = Field(max_length=60)


@guide_views.get("/guide", responses={200: Guide})
def get_guide() -> Response:
    """The user's guide; open to everybody, since whoever can't sign in may need it."""
    return answer(Guide(items=list(guide()), words=glossary()))


@guide_views.get("/guide/pictures/<name>")
def get_guide_picture(path: PicturePath) -> Response:
    """A picture of the guide."""
    found = picture(path.name)
    if found is None:
        raise not_found("picture")
    return send_file(found, mimetype="image/png", max_age=3600)
