"""Every operation of the API asked with what its description allows, and with what it does not: nobody gets a
500, and none poisons the next. Bounded and seeded; ids are those of the demo, so that requests reach further
than "no such trial".
"""

import functools
import json
import re
from collections import Counter
from pathlib import Path
from typing import Any

import schemathesis
from flask import Flask
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator
from sqlalchemy import select

from tests.api.helpers import Client, handed_over, sitting, trial_id
from yeasty.api.describe import description
from yeasty.store.ask.tables import Trial

EXAMPLES = {"lead": 6, "cook": 2, "taster": 2}
# Of what is written on paper, by a process of its own each time.
ON_PAPER = {"lead": 2, "cook": 1, "taster": 2}
WORDS = {"lead": "flour-water-salt", "cook": "proof-shape-bake"}
# Streams never end; the reckoner's long questions have tests of their own.
LEFT_OUT = ("/stream", "/what-if")


@functools.cache
def told() -> dict[str, Any]:
    """What the API says of itself."""
    return description()


@functools.cache
def schema() -> Any:
    return schemathesis.openapi.from_dict(told())


def operations() -> list[Any]:
    every = [op.ok() for op in schema().get_all_operations()]
    return [op for op in every if not any(word in op.path for word in LEFT_OUT)]


def known_ids(lead: Client, demo_url: str) -> dict[str, str]:
    trial = trial_id(lead)
    t = lead.get(f"/trials/{trial}").json
    shift = lead.get(f"/trials/{trial}/shifts").json["items"][0]["id"]
    tasting = lead.get(f"/trials/{trial}/tastings").json["items"][0]
    return {
        "trial_id": trial,
        "method_id": t["methods"][0]["id"],
        "ingredient_id": t["ingredients"][0]["id"] if t["ingredients"] else trial,
        "shift_id": shift,
        "batch_id": lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"],
        "tasting_id": tasting["id"],
        "seat_id": tasting["seats"][0]["id"],
        "token": handed_over(lead, sitting(lead, demo_url, ["one"])),
        "appliance_id": lead.get("/appliances").json["items"][0]["id"],
    }


def url_of(case: Any, ids: dict[str, str]) -> str:
    path = case.operation.path
    for name, value in (case.path_parameters or {}).items():
        path = path.replace("{" + name + "}", str(ids.get(name, value)).replace("/", "%2F"))
    return str(path)


def ask(client: Client, case: Any, ids: dict[str, str]) -> Any:
    headers = {"X-CSRFToken": client.csrf, "If-Match": f'"{ids["version"]}"'}
    query = {k: v for k, v in (case.query or {}).items() if not isinstance(v, dict)}
    unset = type(case.body).__name__ == "NotSet"
    body = None if unset else case.body
    if isinstance(body, bytes):
        sent: dict[str, Any] = {"data": body}
    elif body is None:
        sent = {}
    else:
        headers["Content-Type"] = "application/json"
        sent = {"data": json.dumps(body)}
    return client.http.open(
        url_of(case, ids), method=case.method, query_string=query, headers=headers, **sent
    )


# Addresses that the generated client does not write: of files, pictures and streams.
WRITTEN = re.compile(r"/api/v1/[^\"'`?\s]*\$\{[^\"'`?\s]*")


def test_every_address_that_a_screen_writes_by_itself_is_one_of_the_description() -> None:
    screens = Path(__file__).parents[2] / "web" / "src"
    written = {
        (address, file.name)
        for file in screens.rglob("*")
        if file.suffix in {".ts", ".vue"} and ".test." not in file.name and ".generated." not in file.name
        for address in WRITTEN.findall(file.read_text())
    }
    assert {"Bench.vue", "useBench.ts", "useTastings.ts"} & {name for _, name in written}
    there = [re.compile(re.sub(r"\{\w+\}", "[^/]+", path)) for path in told()["paths"]]
    # What stands behind the last part without a slash is what is asked of it.
    wanted = {(re.sub(r"(?<=[^/])\$\{\w+\}$", "", a), name) for a, name in written}
    unknown = [
        (a, name) for a, name in wanted if not any(p.fullmatch(re.sub(r"\$\{[^}]*\}", "x", a)) for p in there)
    ]
    assert not unknown


def test_the_description_is_valid_openapi_3_1() -> None:
    assert told()["openapi"].startswith("3.1")
    schema().validate()
    for name, part in told()["components"]["schemas"].items():
        Draft202012Validator.check_schema(part), name


class Asker:
    """Someone who asks, signed in anew whenever a request signed them out; what went wrong is kept for the
    end.
    """

    def __init__(self, app: Flask, role: str, ids: dict[str, str]) -> None:
        self.app, self.role, self.ids = app, role, ids
        self.wrong: list[tuple[Any, ...]] = []
        self.told: Counter[int] = Counter()
        self.read: set[str] = set()
        self.client = self.signed_in()

    def signed_in(self) -> Client:
        client = Client(self.app.test_client())
        return client.sign_in(self.role, WORDS[self.role]) if self.role in WORDS else client

    def has_read(self, case: Any) -> bool:
        """Whether this was read before: what is asked for by the ids of the demo alone is the same again,
        whatever stands in the query that the operation does not know.
        """
        known_names = {p.name for p in case.operation.query}
        query = {k: v for k, v in (case.query or {}).items() if k in known_names}
        what = repr((url_of(case, self.ids), query, case.body))
        known = case.method == "GET" and what in self.read
        self.read.add(what)
        return known

    def ask(self, case: Any) -> None:
        if self.has_read(case):
            return
        # What changes something says what it has seen of the trial.
        version = "1" if case.method == "GET" else self.version()
        got = ask(self.client, case, {**self.ids, "version": version})
        if got.status_code == 401 and self.role in WORDS and self.let_in_again():
            got = ask(self.client, case, {**self.ids, "version": version})
        self.told[got.status_code] += 1
        # 503 is a part that is away, as the reckoner is in the middle of a long question.
        if got.status_code >= 500 and got.status_code != 503:
            body = repr(case.body)[:500]
            self.wrong.append((case.method, case.operation.path, case.path_parameters, case.query, body))

    def version(self) -> str:
        with self.app.extensions["yeasty_sessions"]() as db:
            found = db.scalar(select(Trial.version).where(Trial.id == self.ids["trial_id"]))
        return str(found or 1)

    def let_in_again(self) -> bool:
        """Whether a request had signed them out: then they are signed in anew."""
        if self.client.get("/session").json["me"]:
            return False
        self.client = self.signed_in()
        return True


def go_through(operation: Any, askers: list[Asker]) -> None:
    """Have everybody ask an operation what it allows and what it does not, the same each time."""
    negative = operation.as_strategy(schemathesis.GenerationMode.NEGATIVE)
    made: Counter[str] = Counter()
    most = ON_PAPER if operation.path.endswith(".pdf") else EXAMPLES

    @settings(
        max_examples=max(EXAMPLES.values()),
        derandomize=True,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=st.one_of(operation.as_strategy(), negative))
    def asked(case: Any) -> None:
        for asker in askers:
            if made[asker.role] < most[asker.role]:
                asker.ask(case)
                made[asker.role] += 1

    asked()


def test_nobody_gets_a_500(app: Flask, demo_url: str) -> None:
    lead = Client(app.test_client()).sign_in("lead", WORDS["lead"])
    ids = known_ids(lead, demo_url)
    askers = [Asker(app, role, ids) for role in EXAMPLES]
    for operation in operations():
        go_through(operation, askers)
    assert {a.role: a.wrong for a in askers if a.wrong} == {}
    # It was not all refused at the door, and nobody poisoned anything for those who come after.
    assert all(a.told[200] > (2 if a.role == "taster" else 50) for a in askers)
    assert Client(app.test_client()).get("/clock").status_code == 200
