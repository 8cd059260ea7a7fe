"""What differs in a trial, how each of it stands, what it sways, and what may be claimed: by the design, and
as it was really done.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.cook.as_done import Departure, in_all
from yeasty.core.kernel.quantities import System
from yeasty.core.setup.claimed import claim, claim_links, sentence, sentence_as_done
from yeasty.core.setup.differences import Difference, compare, results_by
from yeasty.core.setup.sittings import what_shifts_tell
from yeasty.core.setup.sways import Pull, merged, pulls, weight
from yeasty.operations.cook.as_done import facts_as_done
from yeasty.operations.setup.fairness import cells_tell, design_differences, meant
from yeasty.operations.setup.sittings import in_shifts
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen import library


@dataclass(frozen=True)
class Weighed:
    """A difference, the reason for which it was accepted if it was, and what it sways."""

    difference: Difference
    accepted: str | None
    pulls: Sequence[Pull]

    @property
    def still(self) -> bool:
        """Whether it is neither meant nor a result nor accepted."""
        d = self.difference
        return not d.varied and not d.result and self.accepted is None


@dataclass(frozen=True)
class FairAsDesigned:
    """A design's differences, the sentence above them, what may be claimed, what its shifts leave open."""

    sentence: str
    claim: str
    items: Sequence[Weighed]
    shifts: Sequence[str]

    @property
    def open_count(self) -> int:
        """How many are open."""
        return sum(1 for w in self.items if w.still)


@dataclass(frozen=True)
class FairAsDone:
    """The same of what was really done; what only some batches have, and where each left its own plan."""

    sentence: str
    claim: str
    items: Sequence[Weighed]
    batches: Sequence[str]
    not_in_all: Sequence[str]
    departures: Sequence[tuple[str, int, Departure]]


def as_designed(db: Session, trial: Trial, system: System) -> FairAsDesigned:
    """What differs between the methods of a design, and what of it is neither meant nor accepted."""
    accepted = {(a.field, a.signature): a.reason for a in trial.accepted}
    found, steps = design_differences(db, trial, system)
    items = _weighed(db, trial, found, accepted)
    settled = sum(1 for w in items if w.accepted is not None and not w.difference.varied)
    varied = sum(1 for w in items if w.difference.varied)
    results = sum(1 for w in items if w.difference.result)
    by_links = steps and TrialKind(trial.kind) is not TrialKind.ONE_CHANGE
    return FairAsDesigned(
        sentence([w.difference.field for w in items if w.still], settled, varied, results),
        claim_links(steps) if by_links else _claim(trial, items),
        items,
        what_shifts_tell(in_shifts(db, trial)),
    )


def as_done(db: Session, trial: Trial, system: System) -> FairAsDone:
    """The same comparison on what was really done, from the log: batches that are judged."""
    columns, departures = facts_as_done(db, trial, system)
    compared, partly = in_all(columns)
    several = len(columns) > 1
    results = results_by(DoneRule(trial.done_rule))
    found = compare(compared, meant(db, trial), results=results) if several else []
    # What was accepted in the design is accepted here by its field: as cooked its values are never quite
    # those written.
    reasons = {a.field: a.reason for a in trial.accepted}
    accepted = {(d.field, d.signature): reasons[d.field] for d in found if d.field in reasons}
    items = _weighed(db, trial, found, accepted)
    return FairAsDone(
        sentence_as_done(len(columns), [w.difference.field for w in items if w.still]),
        _claim(trial, items) if several else "",
        items,
        list(columns),
        partly if several else [],
        departures,
    )


def _weighed(
    db: Session, trial: Trial, found: Sequence[Difference], accepted: Mapping[tuple[str, str], str]
) -> list[Weighed]:
    """Differences, those that are open and sway most first, results last."""
    lines = merged(library.own_sways(db))
    attributes = [a.spec() for a in trial.attributes]

    def place(w: Weighed) -> tuple[bool, bool, float, str]:
        d = w.difference
        heavy = weight(d.field, attributes, lines)
        return d.result, d.varied or w.accepted is not None, -heavy, d.field

    items = [
        Weighed(d, accepted.get((d.field, d.signature)), pulls(d.field, attributes, lines)) for d in found
    ]
    return sorted(items, key=place)


def _claim(trial: Trial, items: Sequence[Weighed]) -> str:
    ours = [w for w in items if not w.difference.varied and not w.difference.result]
    return claim(
        TrialKind(trial.kind),
        Fairness(trial.fairness),
        DoneRule(trial.done_rule),
        [w.difference.field for w in items if w.difference.varied],
        [w.difference.field for w in ours if w.accepted is not None],
        [w.difference.field for w in ours if w.accepted is None],
        str(trial.layout.get("credited") or ""),
        cells_tell(trial),
        next((m.change for m in trial.methods if m.change), ""),
    )
