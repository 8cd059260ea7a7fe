"""How a bench is told."""

import time
from collections.abc import Mapping

from yeasty.api.ask.views import mark_view
from yeasty.api.cook.views import (
    BenchBatch,
    BenchStep,
    BenchView,
    CheckView,
    CircuitLimit,
    CurveView,
    EntryView,
    MainsView,
    PieceFacts,
    PlanView,
    shift_view,
)
from yeasty.api.live import entry_record, plan_record
from yeasty.api.shown import shown
from yeasty.core.cook.probe_log import thin
from yeasty.core.safety.circuits import Circuit
from yeasty.operations.cook.at_the_bench import BenchNow
from yeasty.store.cook.tables import Batch, ProbeLogRow
from yeasty.store.kitchen.queries import rings_of

CURVE_POINTS = 240


def bench_view(b: BenchNow, *, incarnation: str) -> BenchView:
    """A bench as its screens start from it."""
    return BenchView(
        shift=shift_view(b.shift, len(b.shift.batches), begun=bool(b.entries)),
        trial_title=b.trial.title,
        question=b.trial.question,
        batches=[batch_view(x, b.shared) for x in b.shift.batches],
        plan=PlanView(**plan_record(b.plan)) if b.plan else None,
        entries=[EntryView(**entry_record(e)) for e in b.entries],
        curves=[c for row in b.logs for c in curves(row)],
        number=b.number,
        server_now=time.time(),
        incarnation=incarnation,
        circuits=[
            shown(CircuitLimit, c, limit_w=Circuit(c.name, c.breaker_a, c.voltage_v, c.base_w).usable_w())
            for c in b.circuits
        ],
        mains={
            str(a.id): MainsView(circuit=a.circuit, input_w=a.input_w, rings=rings_of(a))
            for a in b.appliances
            if a.circuit and a.input_w
        },
    )


def batch_view(b: Batch, shared: Mapping[tuple[str, str], str]) -> BenchBatch:
    """A column, with what of it is done together with others."""
    return shown(
        BenchBatch,
        b.method,
        id=str(b.id),
        method_id=str(b.method_id),
        replicate=b.replicate,
        mark=mark_view(b.method.mark),
        steps=[BenchStep(**s) for s in b.steps],
        checklist=[CheckView(**c) for c in b.facts.get("checklist", [])],
        together=str(b.facts.get("together") or ""),
        shared={k: g for (batch, k), g in shared.items() if batch == str(b.id)},
        parent=str(b.parent_batch_id) if b.parent_batch_id else None,
        rescue=str(b.facts.get("rescue") or ""),
        technique=str(b.facts.get("technique") or ""),
        hold_limit_s=b.facts.get("hold_limit_s"),
        piece=PieceFacts(
            shape=str(b.facts.get("shape") or ""),
            thickness_m=b.facts.get("thickness_m"),
            food=str(b.facts.get("food") or ""),
            start_c=b.facts.get("start_c"),
        ),
    )


def curves(row: ProbeLogRow) -> list[CurveView]:
    """The curves of a log, thinned for drawing."""
    start = row.starts_at.timestamp()
    return [
        CurveView(
            batch=str(row.batch_id),
            name=name,
            points=[[start + t, v] for t, v in thin(tuple(row.times_s), tuple(values), CURVE_POINTS)],
        )
        for name, values in row.channels.items()
    ]
