"""The API's description without a database: for generating the front end's client."""

from typing import Any

from flask_openapi3 import Info, OpenAPI

from yeasty import __version__
from yeasty.api.accounts import accounts
from yeasty.api.ask import ask
from yeasty.api.cook import cook
from yeasty.api.decide import decide
from yeasty.api.devices import devices
from yeasty.api.evidence import evidence
from yeasty.api.fairness import fairness
from yeasty.api.family import family
from yeasty.api.inout import inout
from yeasty.api.kitchen import kitchen_views
from yeasty.api.labels import labels
from yeasty.api.layout import layout
from yeasty.api.library import library
from yeasty.api.outlook import outlook
from yeasty.api.pieces import pieces
from yeasty.api.places import places
from yeasty.api.promises import promises
from yeasty.api.publish import publish
from yeasty.api.safety import safety
from yeasty.api.setup import setup
from yeasty.api.sheets import sheets
from yeasty.api.shift_acts import shift_acts
from yeasty.api.stations import stations
from yeasty.api.taste import taste
from yeasty.api.what_if import what_if
from yeasty.api.workbench import workbench

BLUEPRINTS = (
    accounts,
    stations,
    kitchen_views,
    library,
    ask,
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
    sheets,
    what_if,
    outlook,
    devices,
    evidence,
    taste,
    decide,
    publish,
    inout,
)


# Who asks is known by a cookie; what changes something carries a token too. Devices and tasters have a token of their own.
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
