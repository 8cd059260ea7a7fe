"""Rows of an archive, checked field by field by the models that check what is typed: archives come from
strangers.
"""

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Any

from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from yeasty.api.ask.bodies import AttributeIn, MethodChange, StepIn, TrialChange
from yeasty.api.ask.layout import BranchLayout, GridIn, LadderLayout, VarietiesLayout, WordsLayout
from yeasty.api.ask.views import PreparedStep
from yeasty.api.cook.views import BenchStep, CheckView, PlanItem
from yeasty.api.kitchen.endpoints import ApplianceIn
from yeasty.api.setup.endpoints import ControlIn, LotIn
from yeasty.core.ask.marks import MOST_MARKS
from yeasty.core.ask.preparation import check_preparation, preparation
from yeasty.core.ask.trial import attribute_from_record
from yeasty.core.cook.payloads import check_payload
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import check_steps, step_from_record
from yeasty.core.publish.pictures import Chosen, box_of, check_chosen
from yeasty.core.setup.appliances import check_appliance
from yeasty.core.taste.said import Said, checked
from yeasty.core.taste.tests import TESTS, Settings, TestKey
from yeasty.store.kitchen.tables import Appliance

Row = Mapping[str, Any]
Tables = Mapping[str, Sequence[Row]]
# Bounds of what nests, and of what every reader can hold.
DEEPEST, LONGEST_TEXT, MOST_ITEMS, LARGEST = 12, 20_000, 200_000, 1e12
MOST_TOLD = 40
_SAID: TypeAdapter[Said] = TypeAdapter(Said)
_SETTINGS = TypeAdapter(Settings)


class Facts(BaseModel):
    """What a batch keeps of its food and piece."""

    food_class: str = Field(default="", max_length=40)
    technique: str = Field(default="", max_length=60)
    shape: str = Field(default="", max_length=20)
    thickness_m: float | None = Field(default=None, ge=0, le=1)
    food: str = Field(default="", max_length=60)
    start_c: float | None = Field(default=None, ge=-60, le=150)
    hold_limit_s: float | None = Field(default=None, ge=0, le=1e7)
    together: str = Field(default="", max_length=100)
    rescue: str = Field(default="", max_length=500)
    pieces: dict[str, int | bool] = {}
    hazards: list[str] = Field(default=[], max_length=60)
    checklist: list[CheckView] = Field(default=[], max_length=200)


LAYOUTS: Mapping[str, tuple[str, type[BaseModel]]] = {
    "grid": ("factors", GridIn),
    "ladder": ("rungs", LadderLayout),
    "branch": ("finishes", BranchLayout),
    "varieties": ("varieties", VarietiesLayout),
    "screening": ("words", WordsLayout),
}


def problems_of(tables: Tables) -> list[str]:
    """Everything that is wrong with an archive's rows; empty where they could have been typed in here."""
    found = list(_shapes(tables))[:MOST_TOLD]
    if found:
        return found
    for table, check in CHECKS.items():
        for n, row in enumerate(tables.get(table, ())):
            try:
                check(row, tables)
            except ValidationError as wrong:
                found += [
                    f"{table}/{n}/{'/'.join(str(p) for p in e['loc'])}: {e['msg']}"
                    for e in wrong.errors()[:3]
                ]
            except RuleError as wrong:
                found.append(f"{table}/{n}/{wrong.field}: {wrong.message}")
            except (KeyError, TypeError, ValueError, AttributeError, IndexError, OverflowError):
                found.append(f"{table}/{n}: cannot be read")
            if len(found) >= MOST_TOLD:
                return found
    return found + _chains(tables)


def _shapes(tables: Tables) -> Iterator[str]:
    """Values that no reader should be made to hold: endless nests, numbers beyond all measure, texts with a
    zero byte.
    """
    for table, rows in tables.items():
        for n, row in enumerate(rows):
            for column, value in row.items():
                wrong = _wrong_shape(value)
                if wrong:
                    yield f"{table}/{n}/{column}: {wrong}"


def _wrong_shape(value: Any) -> str:
    stack, seen = [(value, 0)], 0
    while stack:
        v, depth = stack.pop()
        seen += 1
        if depth > DEEPEST:
            return f"nests deeper than {DEEPEST}"
        if seen > MOST_ITEMS:
            return f"holds more than {MOST_ITEMS} values"
        if isinstance(v, str) and ("\x00" in v or len(v) > LONGEST_TEXT):
            return "holds a zero byte" if "\x00" in v else f"is longer than {LONGEST_TEXT} characters"
        if (
            isinstance(v, int | float)
            and not isinstance(v, bool)
            and not (math.isfinite(v) and abs(v) <= LARGEST)
        ):
            return "is a number beyond all measure"
        if isinstance(v, Mapping):
            stack += [(k, depth + 1) for k in v] + [(x, depth + 1) for x in v.values()]
        elif isinstance(v, list):
            stack += [(x, depth + 1) for x in v]
    return ""


def _by(model: type[BaseModel]) -> Callable[[Row, Tables], None]:
    """A check by a model of typed input, on the fields that it knows."""

    def check(row: Row, _: Tables) -> None:
        model.model_validate({k: v for k, v in row.items() if k in model.model_fields and k != "id"})

    return check


def _appliance(row: Row, tables: Tables) -> None:
    _by(ApplianceIn)(row, tables)
    columns = {c.key for c in Appliance.__mapper__.column_attrs}
    for wrong in check_appliance(Appliance(**{k: v for k, v in row.items() if k in columns}).profile()):
        raise wrong


def _trial(row: Row, tables: Tables) -> None:
    _by(TrialChange)(row, tables)
    _preparation(dict(row["preparation"]))
    key, model = LAYOUTS.get(str(row["kind"]), ("", BaseModel))
    if key and row["layout"].get(key):
        model.model_validate({k: v for k, v in row["layout"].items() if k in model.model_fields})


def _preparation(record: dict[str, Any]) -> None:
    if set(record) - {"steps", "hazards"}:
        raise RuleError("preparation", "holds more than steps and hazards", "Give these two.")
    for step in record.get("steps") or ():
        PreparedStep.model_validate(step)
    found = preparation(record)
    check_preparation(found.steps, found.hazards)


def _method(row: Row, tables: Tables) -> None:
    _by(MethodChange)(row, tables)
    if not 0 <= row["mark"] < MOST_MARKS:
        raise RuleError("mark", f"{row['mark']} is none", f"Marks go from 0 to {MOST_MARKS - 1}.")
    for name in ("struck_hazards", "meant"):
        if not all(isinstance(v, str) for v in dict(row[name]).values()):
            raise RuleError(name, "holds something else than words", "Give words.")


def _batch(row: Row, _: Tables) -> None:
    for step in row["steps"]:
        BenchStep.model_validate(step)
    for wrong in check_steps([step_from_record(s) for s in row["steps"]]):
        raise wrong
    Facts.model_validate(row["facts"])


def _plan(row: Row, _: Tables) -> None:
    for item in row["items"]:
        PlanItem.model_validate(item)
    for name in ("holds", "served"):
        for value in dict(row[name]).values():
            float(value)
    if not all(isinstance(n, str) for n in row["notes"]):
        raise RuleError("notes", "hold something else than words", "Give words.")


def _entry(row: Row, _: Tables) -> None:
    if not isinstance(row["payload"], Mapping):
        raise RuleError("payload", "is not a record", "Give its fields.")
    check_payload(EntryKind(row["kind"]), row["payload"])


def _probe_log(row: Row, _: Tables) -> None:
    times = row["times_s"]
    if any(b < a for a, b in pairwise(times)):
        raise RuleError("times_s", "do not rise", "Give readings in order of time.")
    for name, values in row["channels"].items():
        if not isinstance(name, str) or len(values) != len(times):
            raise RuleError(
                "channels", f"{name} has {len(values)} of {len(times)} readings", "Give one a time."
            )
        if not all(v is None or (isinstance(v, int | float) and -273.15 <= v <= 1500) for v in values):
            raise RuleError("channels", f"{name} holds what is no temperature", "Give °C.")


def _answer(row: Row, tables: Tables) -> None:
    if row["said"] is None or row["refused"]:
        return
    said = _SAID.validate_python(row["said"])
    of = next(r for r in tables["taste_round"] if r["id"] == row["round_id"])
    order = next(
        s["order"]
        for s in tables["serving"]
        if s["seat_id"] == row["seat_id"] and s["round_id"] == row["round_id"]
    )
    if row["sample_id"] is None:
        test = TESTS[TestKey(of["test"])]
        if test.drawn != "labels":
            test.check(said, order, _SETTINGS.validate_python(of["settings"]))
        return
    if row["attribute_id"] is None:
        raise RuleError("attribute_id", "is missing", "Say which question is answered.")
    asked = next(a for a in tables["attribute"] if a["id"] == row["attribute_id"])
    checked(attribute_from_record(asked), said, len(order))


def _serving(row: Row, tables: Tables) -> None:
    codes = {s["code"] for s in tables["sample"] if s["round_id"] == row["round_id"]}
    if len(set(row["order"])) != len(row["order"]) or not set(row["order"]) <= codes:
        raise RuleError("order", "holds a code twice, or one that is not of its round", "Give its samples.")


def _round(row: Row, _: Tables) -> None:
    if TESTS[TestKey(row["test"])].drawn and not all(isinstance(a, str) for a in row["attributes"]):
        raise RuleError("attributes", "are no ids", "Give ids of questions.")
    _SETTINGS.validate_python(row["settings"])
    if not 0 <= row["break_s"] <= 86_400:
        raise RuleError("break_s", "is longer than a day", "Give seconds.")


def _sample(row: Row, _: Tables) -> None:
    if not (len(row["code"]) in (3, 4) and row["code"].isdigit()):
        raise RuleError("code", "is not of three or four digits", "Give a code as 317.")
    unread = row["batch_id"] is None and row["place"] is not None
    if not unread and (row["batch_id"] is None) != (row["outside"] != ""):
        raise RuleError("batch_id", "is neither a batch nor something from outside", "Give one of them.")


def _tasting(row: Row, _: Tables) -> None:
    for asked in row["questions"]:
        attribute_from_record(asked)
    for also in row["served_with"]:
        if not isinstance(also["what"], str) or not all(isinstance(a, str) for a in also["allergens"]):
            raise RuleError("served_with", "cannot be read", "Give what and its allergens.")


def _draft(row: Row, _: Tables) -> None:
    if not all(isinstance(v, str) for v in row["texts"].values()):
        raise RuleError("texts", "hold something else than words", "Give words.")
    chosen = TypeAdapter(tuple[Chosen, ...]).validate_python(row["pictures"])
    check_chosen(chosen)
    for c in chosen:
        box_of(c)


def _amount(row: Row, _: Tables) -> None:
    if not 0 <= row["mass_kg"] <= 1000:
        raise RuleError("mass_kg", f"{row['mass_kg']}", "Give 0 to 1000 kg.")


class ClaimRow(BaseModel):
    """A claim as it was picked."""

    measure: str = Field(min_length=1, max_length=100)


CHECKS: Mapping[str, Callable[[Row, Tables], None]] = {
    "appliance": _appliance,
    "trial": _trial,
    "attribute": _by(AttributeIn),
    "method": _method,
    "step": _by(StepIn),
    "ingredient": _by(LotIn),
    "method_amount": _amount,
    "control": _by(ControlIn),
    "claim": _by(ClaimRow),
    "batch": _batch,
    "plan": _plan,
    "entry": _entry,
    "probe_log": _probe_log,
    "tasting": _tasting,
    "sample": _sample,
    "taste_round": _round,
    "serving": _serving,
    "answer": _answer,
    "draft": _draft,
}


def _chains(tables: Tables) -> list[str]:
    """Methods whose steps do not hang together."""
    found = []
    for n, method in enumerate(tables.get("method", ())):
        rows = sorted(
            (s for s in tables["step"] if s["method_id"] == method["id"]), key=lambda s: s["position"]
        )
        chain = [step_from_record({**s, "key": s["id"], "appliance": s["appliance_id"]}) for s in rows]
        found += [f"method/{n}/steps/{w.field}: {w.message}" for w in check_steps(chain)[:3]]
    return found[:MOST_TOLD]
