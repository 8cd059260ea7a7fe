"""The API's description without a database: for generating the front end's client."""

from typing import Any

from flask_openapi3 import Info, OpenAPI

from yeasty import __version__
from yeasty.api.ask.endpoints import ask
from yeasty.api.ask.family import family
from yeasty.api.ask.layout import layout
from yeasty.api.ask.methods import methods
from yeasty.api.ask.promises import promises
from yeasty.api.cook.endpoints import cook
from yeasty.api.cook.evidence import evidence
from yeasty.api.cook.outlook import outlook
from yeasty.api.cook.rehearsals import rehearsals
from yeasty.api.cook.sheets import sheets
from yeasty.api.cook.shift_acts import shift_acts
from yeasty.api.cook.what_if import what_if
from yeasty.api.decide.claims import claimed
from yeasty.api.decide.endpoints import decide
from yeasty.api.kitchen.accounts import accounts
from yeasty.api.kitchen.devices import devices
from yeasty.api.kitchen.endpoints import kitchen_views
from yeasty.api.kitchen.erasing import erasing
from yeasty.api.kitchen.guide import guide_views
from yeasty.api.kitchen.home import home_views
from yeasty.api.kitchen.library import library
from yeasty.api.kitchen.practice import practice
from yeasty.api.kitchen.slow_work import slow
from yeasty.api.kitchen.taken_away import taken
from yeasty.api.kitchen.workbench import workbench
from yeasty.api.publish.endpoints import publish
from yeasty.api.publish.inout import inout
from yeasty.api.publish.readers import readers
from yeasty.api.safety.endpoints import safety
from yeasty.api.setup.endpoints import setup
from yeasty.api.setup.fairness import fairness
from yeasty.api.setup.labels import labels
from yeasty.api.setup.pieces import pieces
from yeasty.api.setup.places import places
from yeasty.api.stations import stations
from yeasty.api.taste.endpoints import taste
from yeasty.api.taste.seats import seats
from yeasty.api.taste.sitting import sitting
from yeasty.api.taste.taster import taster

BLUEPRINTS = (
    accounts,
    erasing,
    stations,
    kitchen_views,
    home_views,
    guide_views,
    taken,
    slow,
    library,
    ask,
    methods,
    layout,
    family,
    promises,
    setup,
    fairness,
    pieces,
    places,
    labels,
    safety,
    workbench,
    cook,
    shift_acts,
    rehearsals,
    practice,
    sheets,
    what_if,
    outlook,
    devices,
    evidence,
    taste,
    seats,
    sitting,
    taster,
    decide,
    claimed,
    publish,
    readers,
    inout,
)


# Who asks is known by a cookie; what changes something carries a token too. Devices and tasters have a token
# of their own.
SECURITY: dict[str, Any] = {
    "session": {"type": "apiKey", "in": "cookie", "name": "yeasty"},
    "csrf": {"type": "apiKey", "in": "header", "name": "X-CSRFToken"},
    "device": {"type": "http", "scheme": "bearer"},
}


def description() -> dict[str, Any]:
    """OpenAPI 3.1, made from the models."""
    app = OpenAPI(
        "describe",
        info=Info(title="Yeasty Trial", version=__version__),
        doc_ui=False,
        security_schemes=SECURITY,
    )
    for blueprint in BLUEPRINTS:
        app.register_api(blueprint)
    return dict(app.api_doc)
