"""The reckoner: numbers for whoever waits at a screen, in a process of its own, so that web processes stay
small.

Listens on a socket that only the program's user may open. One line of JSON in, one out:
`{"ask": name, "with": {...}}` gives `{"answer": ...}` or `{"problem": {field, message, todo, refused}}`.
"""

import json
import os
import socketserver
import sys
import threading
from base64 import b64encode
from collections.abc import Callable, Mapping
from dataclasses import asdict
from functools import lru_cache
from pathlib import Path
from typing import Any

import structlog

from yeasty.core.ask.fractions import block, choose, what_they_tell
from yeasty.core.ask.grid import check_grid, grid_from_record, open_cells
from yeasty.core.cook.forecast import CoreQuestion, forecast
from yeasty.core.cook.plan import solve
from yeasty.core.cook.plan_words import CALM
from yeasty.core.cook.problem import problem_from_record
from yeasty.core.decide.foretell import can_find
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.steps import step_from_record
from yeasty.core.publish.fitted import fit_recipe
from yeasty.core.setup.allocation import allocate
from yeasty.core.setup.appliances import Appliance
from yeasty.core.setup.offers import Measured, offers
from yeasty.core.taste.tests import TestKey
from yeasty.core.workbench.calculators import calculator, calculators, measured_by
from yeasty.core.workbench.own_records import Record
from yeasty.worker.pdf import pdf_elsewhere

log = structlog.get_logger()
MOST_BYTES = 4 * 1024 * 1024


def _spec(key: str) -> dict[str, Any]:
    c = calculator(key)
    return {
        "key": c.key,
        "group": c.group,
        "name": c.name,
        "what": c.what,
        "holds": c.holds,
        "fields": [asdict(f) for f in c.fields],
    }


def specs() -> list[dict[str, Any]]:
    """What every calculator asks."""
    return [_spec(key) for key in calculators()]


def run(key: str, given: Mapping[str, Any], system: str, records: list[list[Any]]) -> dict[str, Any]:
    """One calculator's answer; `records` are (predicted, observed, simulated)."""
    kept = tuple(Record(float(p), float(o), bool(s)) for p, o, s in records)
    return asdict(calculator(key).run(given, System(system), kept))


@lru_cache(maxsize=256)
def _forecast(question: CoreQuestion) -> dict[str, Any]:
    return asdict(forecast(question))


def forecasts(questions: list[Mapping[str, Any]]) -> list[dict[str, Any]]:
    """A forecast for each batch; an unchanged question is not worked out again."""
    return [
        _forecast(CoreQuestion(**{**q, "readings": tuple((float(t), float(c)) for t, c in q["readings"])}))
        for q in questions
    ]


def step_offers(
    pairs: list[Mapping[str, Any]], altitude_m: float, records: Mapping[str, list[list[Any]]]
) -> list[dict[str, Any]]:
    """Conversions for steps on appliances; each pair holds a step's record, a profile and what was
    measured.
    """
    kept = {
        rule: tuple(Record(float(p), float(o), bool(s)) for p, o, s in rows) for rule, rows in records.items()
    }
    found = []
    for pair in pairs:
        m = pair["measured"]
        known = Measured(m.get("water-test"), m.get("offset"), m.get("preheat"))
        found += offers(
            step_from_record(pair["step"]), Appliance(**pair["appliance"]), known, altitude_m, kept
        )
    return [asdict(o) for o in found]


def measured(kind: str, given: Mapping[str, Any], system: str) -> dict[str, Any]:
    """What a measurement of an appliance comes to, as numbers in SI for its profile."""
    return measured_by(kind, given, System(system))


def allocation(
    weights: list[float],
    groups: int,
    seed: int,
    tolerance: float,
    strata: list[str] | None,
    each: int | None = None,
) -> dict[str, Any]:
    """Pieces dealt out."""
    found = allocate(weights, groups, seed, tolerance, strata, each=each)
    return asdict(found) | {"sentence": found.sentence()}


def grid_plan(layout: Mapping[str, Any], cells: int | None, shifts: int | None) -> dict[str, Any]:
    """A part of a grid with what it can tell, and its split over shifts."""
    grid = grid_from_record(layout)
    for wrong in check_grid(grid):
        raise wrong
    chosen = choose(grid, cells) if cells else what_they_tell(grid, open_cells(grid))
    told: dict[str, Any] = asdict(chosen) | {"sentence": chosen.sentence(), "blocks": None}
    if shifts and shifts > 1:
        split = block(grid, chosen.cells, shifts)
        told["blocks"] = asdict(split) | {"sentence": split.sentence()}
    return told


def place_draw(
    heats: list[float], groups: int, seed: int, balanced: bool, finest: float = 1.0
) -> dict[str, Any]:
    """Places dealt to methods: at random among dealings whose mean heat lies within `finest`, or wholly at
    random.
    """
    low = min(heats)
    # A hundred of the finest under the coolest place: then a hundredth of the mean is about one of them.
    weights = [100.0 + (h - low) / finest for h in heats] if balanced else [100.0] * len(heats)
    found = allocate(weights, groups, seed, 0.01)
    return {"groups": found.groups, "few": found.few, "within": found.within}


def plan_summary(problem: Mapping[str, Any], time_limit_s: float) -> dict[str, Any]:
    """What a plan of a problem would come to: for comparing before it is taken."""
    plan = solve(problem_from_record(problem), min(4.0, time_limit_s))
    return {
        "begins": min((p.start for p in plan.items), default=None),
        "served_from": min((t for _, t in plan.served), default=None),
        "served_until": max((t for _, t in plan.served), default=None),
        "longest_hold_s": plan.longest_hold_s,
        "proof": plan.proof,
        "notes": list(plan.notes),
        "hurried": next((r.value for r in plan.ranks if r.name == CALM), None),
    }


def panels_can_find(rounds: list[dict[str, Any]]) -> list[list[str]]:
    """What each round's panel can find out, in sentences."""
    return [can_find(TestKey(r["test"]), r["tasters"], r["methods"], r["batches"]) for r in rounds]


def fitted(recipes: list[Mapping[str, Any]], kitchen: Mapping[str, Any]) -> list[dict[str, Any]]:
    """Recipes of a page in a reader's kitchen."""
    return [asdict(fit_recipe(r, **kitchen)) for r in recipes]


def pdf(html: str) -> str:
    """A page as PDF, as text that fits a line."""
    return b64encode(pdf_elsewhere(html)).decode()


ASKED: Mapping[str, Callable[..., Any]] = {
    "specs": specs,
    "run": run,
    "forecasts": forecasts,
    "measured": measured,
    "step_offers": step_offers,
    "allocation": allocation,
    "grid_plan": grid_plan,
    "place_draw": place_draw,
    "plan_summary": plan_summary,
    "can_find": panels_can_find,
    "fitted": fitted,
    "pdf": pdf,
}


def answer(line: bytes) -> dict[str, Any]:
    """The answer to one line; a rule that refuses is an answer, a fault of ours is logged and told as one."""
    try:
        request = json.loads(line)
        return {"answer": ASKED[request["ask"]](**request.get("with", {}))}
    except RuleError as wrong:
        refused = isinstance(wrong, Refused)
        return {
            "problem": {
                "field": wrong.field,
                "message": wrong.message,
                "todo": wrong.todo,
                "refused": refused,
            }
        }
    except Exception as fault:
        log.exception("reckoner", error=type(fault).__name__)
        return {"fault": type(fault).__name__}


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        line = self.rfile.readline(MOST_BYTES)
        if line:
            self.wfile.write(json.dumps(answer(line), ensure_ascii=False).encode() + b"\n")


class _Server(socketserver.ThreadingUnixStreamServer):
    daemon_threads = True
    request_queue_size = 64


def warm() -> None:
    """Load what is slow the first time, so that the first cook does not wait for it."""
    from yeasty.core.heat.curve_library import tables
    from yeasty.core.heat.moist_air import latent_heat

    tables()
    latent_heat(100)


def main(path: str) -> None:
    """Serve until told to stop."""
    os.nice(5)
    Path(path).unlink(missing_ok=True)
    with _Server(path, _Handler) as server:
        os.chmod(path, 0o600)
        threading.Thread(target=warm, daemon=True).start()
        server.serve_forever()


if __name__ == "__main__":
    main(sys.argv[1])
