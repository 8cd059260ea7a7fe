"""The application on a copy of the demo, and who is signed in."""

from collections.abc import Iterator
from typing import Any

import pytest
import structlog

from tests.api.helpers import Client, cook_all, make_shift, new_trial
from tests.conftest import copy_of
from yeasty.api.app import Settings, create_app, settle
from yeasty.process import cluster


@pytest.fixture(scope="session")
def put_together(server: cluster.Cluster, demo_template: str) -> Any:
    """The application with all its operations, which takes a moment: each test settles it in a database of
    its own. As where it is served, it does not write down each request.
    """
    structlog.configure(wrapper_class=structlog.make_filtering_bound_logger(30))
    return create_app(Settings(copy_of(server, demo_template), testing=True))


@pytest.fixture
def app(put_together: Any, demo_url: str, reckoner: str) -> Iterator[Any]:
    settle(put_together, Settings(demo_url, reckoner=reckoner, testing=True))
    yield put_together
    put_together.extensions["yeasty_engine"].dispose()


@pytest.fixture
def lead(app: Any) -> Client:
    return Client(app.test_client()).known("lead")


@pytest.fixture
def cook(app: Any) -> Client:
    return Client(app.test_client()).known("cook")


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
