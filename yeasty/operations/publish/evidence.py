"""What a page is built from, and the evidence it tells: what was cooked and tasted, set aside, not equal."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.cook.measures import NOT_YET, BatchMeasures, Standing
from yeasty.core.decide.outcome import Answered, Asks, Outcome
from yeasty.core.kernel.quantities import System
from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.operations.cook.shifts import cookings
from yeasty.operations.publish.telling import NEVER_COOKED, Telling
from yeasty.operations.setup.fairness import design_differences
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.safety.tables import LimitCheck

# Where more share a value than that, they are told as the others.
MOST_NAMED = 4


@dataclass(frozen=True)
class Subject:
    """What a page is built from."""

    db: Session
    trial: Trial
    outcome: Outcome | None
    told: Telling
    measured: Sequence[tuple[Batch, BatchMeasures]]
    used: Mapping[uuid.UUID, Appliance]
    checked: Mapping[str, LimitCheck]

    @property
    def answer(self) -> Answered | None:
        """The question, answered."""
        return self.outcome.answer if self.outcome else None

    def fit(self) -> list[Method]:
        """Methods that may be told to readers."""
        return [m for m in self.trial.methods if m.id not in self.told.unfit]


def _by_value(said: Mapping[str, str]) -> str:
    """What each way has, those of one value together.

    >>> _by_value({"Oven": "5 min", "Pan": "2 min", "Pot": "5 min"})
    '5 min (Oven, Pot); 2 min (Pan)'
    """
    ways: dict[str, list[str]] = {}
    for way, value in said.items():
        ways.setdefault(value, []).append(way)
    most = max(len(w) for w in ways.values()) if ways else 0
    return "; ".join(
        f"{value} ({', '.join(w) if len(w) <= MOST_NAMED or len(w) < most else f'the other {len(w)}'})"
        for value, w in ways.items()
    )


def not_equal(db: Session, trial: Trial) -> tuple[str, ...]:
    """What differs between ways besides what is meant to, as Set up has it, with the reason where it was
    accepted.
    """
    accepted = {(a.field, a.signature): a.reason for a in trial.accepted}
    name = {m.tag: m.name for m in trial.methods}
    return tuple(
        f"{d.field}: "
        + _by_value({name.get(tag, tag): said for tag, said in d.values.items()})
        + (f" (accepted: {accepted[d.field, d.signature]})" if (d.field, d.signature) in accepted else "")
        for d in design_differences(db, trial, System.METRIC)[0]
        if not d.varied
    )


def evidence_of(t: Subject, kind: PageKind) -> tuple[str, ...]:
    """What was cooked and tasted, what was set aside, what was not measured, what is not offered and why."""
    cooked = [(b, m) for b, m in t.measured if m.standing is not Standing.SIMULATED]
    name = cookings(t.db, t.trial.id, [b for b, _ in cooked])
    shifts = len({b.shift_id for b, _ in cooked})
    judged = [m for _, m in cooked if m.standing is Standing.JUDGED and m.complete]
    out = [
        f"{len(t.trial.methods)} methods, {len(judged)} cookings in {shifts} "
        f"shift{'' if shifts == 1 else 's'}"
        + (_tasters(t.outcome) if t.outcome and t.outcome.tasters else "")
        + "."
    ]
    out += [
        f"{b.method.name}, {name(b)}: {m.standing.value} ({m.why}); kept, not averaged."
        for b, m in cooked
        if m.standing is not Standing.JUDGED
    ]
    uncooked = [m for m in t.trial.methods if t.told.unfit.get(m.id) == NEVER_COOKED]
    # A screening says so itself.
    screened = t.answer is not None and t.answer.question is Asks.SCREENING
    if uncooked and kind is PageKind.EVERY_WAY and not screened:
        every = len(uncooked) == len(t.trial.methods)
        out.append(
            f"{'None of them is' if every else f'{len(uncooked)} of them are not'} in the log as cooked to "
            "the end here: what is told of them stands on the word that somebody wrote down."
        )
    if kind is PageKind.CLAIM and not (t.outcome and (t.outcome.tasters or t.outcome.beside)):
        out.append("Nothing was tasted for this: it says nothing of how any of them eats.")
    out += [f"Not measured for all: {_by_name(t, g)}." for g in (t.outcome.gaps if t.outcome else [])]
    out += t.told.says
    if "refused" not in KINDS[kind].sections:
        out += [
            f"{m.name} is not offered to readers: {t.told.unfit[m.id]}"
            for m in t.trial.methods
            if m.id in t.told.unfit
        ]
    return tuple(out)


def _by_name(t: Subject, gap: str) -> str:
    """A gap with methods by their names: tags are the bench's own."""
    what, without, tags = gap.partition(f": {NOT_YET} ")
    name = {m.tag: m.name for m in t.trial.methods}
    listed = ", ".join(name.get(tag, tag) for tag in tags.split(", "))
    return f"{what} (not of {listed})" if without else what


def _tasters(outcome: Outcome) -> str:
    how = "blind codes" if outcome.blind else "not blind: all of them knew which was which"
    return f", {outcome.tasters} {'taster' if outcome.tasters == 1 else 'tasters'}, {how}"
