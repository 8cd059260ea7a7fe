"""The workbench: calculators used alone, the kitchen's records that correct them, measurements of
appliances.
"""

from datetime import datetime
from typing import Any
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, each, me, own_words, require, system
from yeasty.api.shown import shown
from yeasty.core.kernel.errors import RuleError, check_range
from yeasty.core.kernel.quantities import read_quantity
from yeasty.core.publish.dialect import spoken
from yeasty.store.base import now
from yeasty.store.kitchen import queries as kitchen
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.tables import MEASUREMENTS, Appliance, Measurement, RuleRecord

workbench = blueprint("workbench", "workbench")


class FieldView(BaseModel):
    """One thing a calculator asks; see `yeasty.core.workbench.spec.Field`."""

    key: str
    label: str
    kind: str
    default: Any
    help: str
    choices: list[list[str]]
    columns: list[list[str]]
    optional: bool
    only_for: list[Any] | None


class CalculatorView(BaseModel):
    """A calculator: what it is for, what it asks, where it holds."""

    key: str
    group: str
    name: str
    what: str
    holds: str
    fields: list[FieldView]


class CalculatorList(BaseModel):
    """All calculators, in the order in which they are offered."""

    items: list[CalculatorView]


class LineView(BaseModel):
    """One answer, with its source."""

    label: str
    text: str
    source: str


class SeriesView(BaseModel):
    """A curve or points."""

    name: str
    points: list[list[float]]
    dots: bool


class ChartMark(BaseModel):
    """A horizontal line with a name."""

    name: str
    value: float


class ChartView(BaseModel):
    """A small chart."""

    x_label: str
    y_label: str
    series: list[SeriesView]
    marks: list[ChartMark]


class ResultView(BaseModel):
    """A calculator's answer."""

    headline: str
    lines: list[LineView]
    notes: list[str]
    charts: list[ChartView]
    rule: str
    predicted: float | None
    predicted_kind: str
    take: float | None = None
    take_kind: str = ""
    records: int = 0


class CalculatorPath(BaseModel):
    """Which calculator."""

    key: str = Field(max_length=40)


class Given(BaseModel):
    """What was filled in, as typed."""

    given: dict[str, Any] = {}


class NewRecord(BaseModel):
    """What was really so, as typed, beside what a rule said."""

    rule: str = Field(min_length=1, max_length=80)
    predicted: float = Field(gt=0)
    kind: str
    observed: str = Field(max_length=40)
    note: str = Field(default="", max_length=300)


class RecordView(BaseModel):
    """A record."""

    rule: str
    predicted: float
    observed: float
    note: str
    added_at: datetime


class RecordList(BaseModel):
    """Records of all rules, oldest first."""

    items: list[RecordView]


class NewMeasurement(Given):
    """A measurement of an appliance: which calculator works it out, and what was read."""

    kind: str


class MeasurementView(BaseModel):
    """A measurement, as given and as worked out."""

    id: str
    kind: str
    given: dict[str, Any]
    result: ResultView
    taken_at: datetime
    struck_why: str


class MeasurementList(BaseModel):
    """Measurements of an appliance, newest first."""

    items: list[MeasurementView]


class AppliancePath(BaseModel):
    """Which appliance."""

    appliance_id: UUID


class MeasurementPath(AppliancePath):
    """Which measurement."""

    measurement_id: UUID


class Strike(BaseModel):
    """Why a measurement does not stand."""

    why: str = Field(min_length=3, max_length=300)


def _run(key: str, given: dict[str, Any]) -> ResultView:
    """A calculator's answer, corrected by the records of the rule it uses."""
    first = reckon("run", key=key, given=given, system=system().value, records=[])
    records = kitchen.records_of(db(), first["rule"]) if first["rule"] else []
    if not records:
        return ResultView(**first)
    pairs = [[r.predicted, r.observed, r.simulated] for r in records]
    return ResultView(
        **reckon("run", key=key, given=given, system=system().value, records=pairs), records=len(pairs)
    )


@workbench.get("/workbench", responses={200: CalculatorList})
@require(Role.COOK)
def list_calculators() -> Response:
    """What every calculator asks."""
    return answer(CalculatorList(items=spoken(reckon("specs"), own_words)))


@workbench.post("/workbench/<key>", responses={200: ResultView})
@require(Role.COOK)
def run_calculator(path: CalculatorPath, body: Given) -> Response:
    """A calculator's answer."""
    return answer(_run(path.key, body.given))


@workbench.post("/rule-records", responses={201: RecordView})
@require(Role.COOK)
def add_record(body: NewRecord) -> Response:
    """Keep what was really so; from now on it corrects the rule."""
    observed = read_quantity(body.kind, body.observed, "what it really was", system())
    check_range("what it really was, against the rule", observed / body.predicted, 0.1, 10, "times")
    row = RuleRecord(
        rule=body.rule,
        predicted=body.predicted,
        observed=observed,
        note=body.note.strip(),
        added_at=now(),
        added_by=me().person_id,
    )
    db().add(row)
    db().flush()
    return answer(_record(row), 201)


def _record(r: RuleRecord) -> RecordView:
    return shown(RecordView, r)


@workbench.get("/rule-records", responses={200: RecordList})
@require(Role.COOK)
def list_records() -> Response:
    """The kitchen's records."""
    return answer(RecordList(items=each(kitchen.records_of(db()), _record)))


def _appliance(appliance_id: UUID) -> Appliance:
    row = db().get(Appliance, appliance_id)
    if row is None:
        raise not_found("appliance")
    return row


def _measurement(m: Measurement) -> MeasurementView:
    return shown(MeasurementView, m, id=str(m.id), result=ResultView(**m.result))


@workbench.get("/appliances/<uuid:appliance_id>/measurements", responses={200: MeasurementList})
@require(Role.COOK)
def list_measurements(path: AppliancePath) -> Response:
    """Measurements of an appliance, newest first; those struck out say why."""
    _appliance(path.appliance_id)
    rows = kitchen.measurements_of(db(), [path.appliance_id])
    return answer(MeasurementList(items=each(rows, _measurement)))


@workbench.post("/appliances/<uuid:appliance_id>/measurements", responses={201: MeasurementView})
@require(Role.COOK)
def add_measurement(path: AppliancePath, body: NewMeasurement) -> Response:
    """Keep a measurement; the water test and the offset go into the profile, where conversions take them
    from.
    """
    appliance = _appliance(path.appliance_id)
    if body.kind not in MEASUREMENTS:
        raise RuleError(
            "kind", f"{body.kind} is no measurement", "Use one of: " + ", ".join(MEASUREMENTS) + "."
        )
    result = _run(body.kind, body.given)
    measured = reckon("measured", kind=body.kind, given=body.given, system=system().value)
    row = kitchen.keep_measurement(
        db(), appliance, body.kind, body.given, result.model_dump(), measured, by=me().person_id
    )
    return answer(_measurement(row), 201)


@workbench.post(
    "/appliances/<uuid:appliance_id>/measurements/<uuid:measurement_id>/strike",
    responses={200: MeasurementView},
)
@require(Role.COOK)
def strike_measurement(path: MeasurementPath, body: Strike) -> Response:
    """Strike out a measurement that was wrong; it stays, with the reason, and what stood before it counts
    again.
    """
    appliance = _appliance(path.appliance_id)
    row = db().get(Measurement, path.measurement_id)
    if row is None or row.appliance_id != appliance.id:
        raise not_found("measurement")
    row.struck_at, row.struck_why = row.struck_at or now(), body.why.strip()
    db().flush()
    kitchen.take_over(appliance, row.kind, kitchen.what_stands(db(), appliance, row.kind))
    return answer(_measurement(row))
