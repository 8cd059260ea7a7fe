"""The application on a copy of the demo, and who is signed in."""

from collections.abc import Iterator
from typing import Any

import pytest

from tests.api.helpers import Client
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
