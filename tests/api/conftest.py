"""The application on a copy of the demo, and who is signed in."""

from collections.abc import Iterator
from typing import Any

import pytest

from tests.api.helpers import Client, cook_all, make_shift, new_trial
from yeasty.api.app import Settings, create_app


@pytest.fixture
def app(demo_url: str, reckoner: str) -> Iterator[Any]:
    made = create_app(Settings(demo_url, reckoner=reckoner, testing=True))
    yield made
    made.extensions["yeasty_engine"].dispose()


@pytest.fixture
def lead(app: Any) -> Client:
    return Client(app.test_client()).sign_in("lead", "flour-water-salt")


@pytest.fixture
def cook(app: Any) -> Client:
    return Client(app.test_client()).sign_in("cook", "proof-shape-bake")


@pytest.fixture
def table(lead: Client, demo_url: str) -> dict[str, Any]:
    """Three ways cooked, ready to be tasted: the trial, its batches, method of each."""
    t = new_trial(lead, ("oven", "microwave", "steamer"))
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    found = lead.get(f"/trials/{t['id']}/tastings").json
    batches = [c["batch_id"] for c in found["candidates"]]
    return {
        "trial": t,
        "batches": batches,
        "method": {c["batch_id"]: c["method_id"] for c in found["candidates"]},
    }
