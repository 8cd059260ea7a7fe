"""What a bench starts from: columns, plan, log, curves, and the mains they hang on."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.cook.together import preheated_together, share_groups
from yeasty.store.ask import queries as trials
from yeasty.store.ask.tables import Trial
from yeasty.store.cook import queries as store
from yeasty.store.cook.tables import EntryRow, PlanRow, ProbeLogRow, Shift
from yeasty.store.kitchen.queries import circuits
from yeasty.store.kitchen.tables import Appliance, Circuit

MOST_ENTRIES = 100_000


@dataclass(frozen=True)
class BenchNow:
    """A shift with all that its bench shows; `shared` leads from a batch and a step to a word in common with
    the steps that are done together with it.
    """

    shift: Shift
    trial: Trial
    plan: PlanRow | None
    entries: Sequence[EntryRow]
    logs: Sequence[ProbeLogRow]
    shared: Mapping[tuple[str, str], str]
    circuits: Sequence[Circuit]
    appliances: Sequence[Appliance]

    @property
    def number(self) -> int:
        """The newest number there is: where the stream goes on."""
        return max([e.number for e in self.entries] + [self.plan.number if self.plan else 0])


def bench_now(db: Session, shift: Shift) -> BenchNow:
    """All that a bench shows, read at once."""
    trial = db.get_one(Trial, shift.trial_id)
    plan = store.newest_plan(db, shift.id)
    return BenchNow(
        shift,
        trial,
        plan,
        store.entries_after(db, shift.id, 0, MOST_ENTRIES),
        store.probe_logs_of_shift(db, shift.id),
        _done_together(shift, plan),
        circuits(db),
        list(trials.appliances_of(db, trial).values()),
    )


def _done_together(shift: Shift, plan: PlanRow | None) -> dict[tuple[str, str], str]:
    """One tap for what is done once: in a vessel in common, or a preheat that serves several."""
    chains = [b.chain() for b in shift.batches]
    hobs = {str(s["appliance"]) for b in shift.batches for s in b.steps if s.get("appliance_kind") == "hob"}
    return {**(preheated_together(chains, plan.planned(), hobs) if plan else {}), **share_groups(chains)}
