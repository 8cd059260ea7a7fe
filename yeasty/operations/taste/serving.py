"""From the last plate to the first bite: what may be served, how old it is, what stands under which code."""

import time
import uuid
from collections.abc import Callable, Mapping, Sequence

from sqlalchemy.orm import Session

from yeasty.core.cook.bench import bench_state
from yeasty.core.cook.measures import Standing
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Phase
from yeasty.core.kernel.text import Written
from yeasty.core.taste.cups import Half, Protocol, how, places, read_off
from yeasty.core.taste.serving import Ready, ServingClock, ages, serving_clock
from yeasty.core.taste.tests import TESTS, TestKey
from yeasty.operations.cook.shifts import evenings
from yeasty.operations.safety.batches import gates_of_trial
from yeasty.operations.taste.panels import RoundPlan, open_codes
from yeasty.store.base import now
from yeasty.store.cook.queries import entries_after, newest_plan
from yeasty.store.cook.tables import Batch, Shift
from yeasty.store.taste.tables import CupRow, Sample, SpoiltSample, Tasting

# What is never tasted, whoever owns it.
NEVER = (Standing.VOID, Standing.SIMULATED)


def bars_of(db: Session, trial_id: uuid.UUID) -> dict[uuid.UUID, str]:
    """Batch to why it may not be served now; those that may are left out."""
    found = {}
    for batch, m, g, _ in gates_of_trial(db, trial_id, time.time()):
        if m.standing in NEVER or not g.open:
            found[batch.id] = " ".join(g.barred_by) or "It is not on record as safe to eat."
        elif not m.complete:
            found[batch.id] = "Not finished."
    return found


def check_served(db: Session, trial_id: uuid.UUID, plans: Sequence[RoundPlan], *, later: bool) -> None:
    """Nothing is served that is void or that is not on record as safe to eat. What is laid ready before the
    heat is asked when it is served.

    Raises
    ------
    RuleError : a batch of another trial, or one that is barred, with the reason
    """
    state = {batch.id: (batch, m, g) for batch, m, g, _ in gates_of_trial(db, trial_id, time.time())}
    for served in (s for p in plans for s in p.served):
        if served.batch_id is None:
            if not served.outside:
                raise RuleError("samples", "name neither a batch nor a thing", "Choose a batch.")
            continue
        if served.batch_id not in state:
            raise RuleError("samples", "name a batch of another trial", "Reload and choose again.")
        batch, m, g = state[served.batch_id]
        if not m.complete and m.standing not in NEVER:
            if later:
                continue
            raise RuleError(
                "samples",
                f"hold {batch.method.tag}, which is not finished",
                "Lay it ready, and serve when it is.",
            )
        if m.standing in NEVER or not g.open:
            raise RuleError(
                "samples",
                f"hold {batch.method.tag}, which may not be tasted: {' '.join(g.barred_by)}",
                "Leave it out.",
            )


def serve(db: Session, tasting: Tasting, *, by: uuid.UUID) -> None:
    """Serve what was laid ready: from now on tasters see codes. What may not be eaten is set aside and never
    shown.

    Raises
    ------
    RuleError : too little is left, or a question that needs every sample has lost one
    """
    if tasting.served_at is not None:
        return
    if tasting.stopped_at is not None or tasting.opened_at is not None:
        raise RuleError("tasting", "is over", "Make a new tasting.")
    barred = bars_of(db, tasting.trial_id)
    if tasting.protocol != Protocol.PLATED.value:
        for cup in tasting.cups:
            if cup.batch_id in barred:
                raise RuleError(
                    "samples",
                    f"hold {cup.batch.method.name}, which may not be tasted: {barred[cup.batch_id]}",
                    "Put it right, or lay the tasting again without it.",
                )
    for row in tasting.rounds:
        out = [s for s in row.samples if s.batch_id in barred and s.spoilt is None]
        left = len(
            {s.batch_id or s.outside or s.code for s in row.samples if s not in out and s.spoilt is None}
        )
        name = TESTS[TestKey(row.test)].name
        if out and (row.test != TestKey.SCORED.value or left < 2):
            batch = out[0].batch
            words = batch.method.name if batch else "a sample"
            raise RuleError(
                f"“{name}”",
                f"cannot do without {words}, which may not be tasted: {barred[out[0].batch_id]}",  # type: ignore[index]
                "Put it right, or lay the tasting again without it.",
            )
        for s in out:
            why = f"not served: {barred[s.batch_id]}"  # type: ignore[index]
            db.add(SpoiltSample(sample_id=s.id, person_id=by, at=now(), why=why[:300]))
    tasting.served_at = now()
    db.flush()
    for s in tasting.samples:
        db.refresh(s)


def batches_of(tasting: Tasting) -> list[Batch]:
    """What a tasting serves, each once."""
    found = {c.batch_id: c.batch for c in tasting.cups}
    found |= {s.batch.id: s.batch for s in tasting.samples if s.batch}
    return list(found.values())


def called(db: Session, tasting: Tasting, written: Written) -> Callable[[Batch], str]:
    """What whoever serves calls a batch of a tasting: with its evening where there is more than one."""
    several = len({b.shift_id for b in batches_of(tasting)}) > 1
    evening = evenings(db, tasting.trial_id, written) if several else {}

    def words(b: Batch) -> str:
        when = f", {evening[b.shift_id]}" if several else ""
        return f"{b.method.tag} {b.method.name}, batch {b.replicate}{when}"

    return words


def ready_of(db: Session, tasting: Tasting) -> dict[uuid.UUID, Ready]:
    """How each batch of a tasting comes to the table, by its log; before serving without what is void."""
    states = {s.batch_id: s.state for s in tasting.samples if s.batch_id}
    every = {s.state for s in tasting.samples}
    mine = {b.id for b in batches_of(tasting)}
    at = tasting.served_at.timestamp() if tasting.served_at else time.time()
    return {
        batch.id: Ready(
            batch.method.name,
            s.out_at if s.out_at is not None and s.out_at <= at else None,
            s.last_c,
            states.get(batch.id, next(iter(every)) if len(every) == 1 else "fresh"),
        )
        for batch, m, _, s in gates_of_trial(db, tasting.trial_id, at)
        if batch.id in mine and (tasting.served_at is not None or m.standing not in NEVER)
    }


def ages_told(db: Session, tasting: Tasting) -> list[str]:
    """How old and how warm what was served is, what differs; by way, never by code."""
    at = tasting.served_at.timestamp() if tasting.served_at else time.time()
    ready = ready_of(db, tasting)
    return ages(at, sorted(ready.values(), key=lambda r: r.name))


def clock_of_serving(db: Session, tasting: Tasting, at: float) -> ServingClock | None:
    """When each way leaves for the table so that all are of one age: by the log where it is out of the heat,
    by the plan as it stands where it is not. None where one has neither, and where only one comes fresh.
    """
    ready = ready_of(db, tasting)
    fresh = {b: r for b, r in ready.items() if r.state == "fresh"}
    out = {b: r.out_at for b, r in fresh.items() if r.out_at is not None}
    foretold = _coming_out(db, [b for b in batches_of(tasting) if b.id in fresh and b.id not in out])
    if len(out) + len(foretold) < len(fresh):
        return None
    # Of a way with several batches the one that is out last sets when it can be served.
    return serving_clock(at, _latest(fresh, out), _latest(fresh, foretold))


def _latest(fresh: Mapping[uuid.UUID, Ready], when: Mapping[uuid.UUID, float]) -> dict[str, float]:
    found: dict[str, float] = {}
    for b, at in when.items():
        found[fresh[b].name] = max(at, found.get(fresh[b].name, at))
    return found


def _coming_out(db: Session, batches: Sequence[Batch]) -> dict[uuid.UUID, float]:
    """When batches that are still to cook will be out of their last heat, by the newest plan and what was
    tapped; one without a plan or without a heat is left out, and so is one whose shift is over.
    """
    found: dict[uuid.UUID, float] = {}
    for shift_id in {b.shift_id for b in batches}:
        plan = newest_plan(db, shift_id)
        if plan is None or db.get_one(Shift, shift_id).ended_at is not None:
            continue
        mine = {str(b.id): b for b in batches if b.shift_id == shift_id}
        entries = [e.core() for e in entries_after(db, shift_id, 0, 1_000_000)]
        state = bench_state([b.chain() for b in mine.values()], plan.planned(), entries)
        for key, batch in mine.items():
            heats = {s.key for s in batch.chain().steps if s.phase is Phase.COOK}
            ends = [r.end for r in state.runs if r.batch == key and r.step in heats]
            if heats and len(ends) == len(heats):
                found[batch.id] = max(ends)
    return found


def cards_of(tasting: Tasting) -> dict[int, list[str]]:
    """Place to the codes that lie there, one a round."""
    found: dict[int, list[str]] = {}
    position = {r.id: r.position for r in tasting.rounds}
    for s in sorted(tasting.samples, key=lambda s: position[s.round_id]):
        if s.place is not None:
            found.setdefault(s.place, []).append(s.code)
    return dict(sorted(found.items()))


def steps_of(tasting: Tasting, words: Callable[[Batch], str]) -> list[str]:
    """What to do where nobody plates by a key; `words` : see `called`. The draw is the tasting's own: asked
    twice it is the same.
    """
    from random import Random

    cards = [" / ".join(c) for c in cards_of(tasting).values()]
    dealt = [(c.letter, words(c.batch)) for c in tasting.cups]
    # The draw hides nothing by itself: the shuffle does. It only keeps hands from their habits.
    draw = places(len(cards), Random(tasting.id.int)) if cards else []
    return how(Protocol(tasting.protocol), dealt, cards, draw)


def half_of_key(tasting: Tasting, half: Half, words: Callable[[Batch], str]) -> dict[str, str]:
    """Half of a key: letter to what belongs into its cups (`words` : see `called`), or letter to its codes.
    Neither tells which code is which way.
    """
    if half is Half.LETTERS:
        return {c.letter: words(c.batch) for c in tasting.cups}
    letter = {c.batch_id: c.letter for c in tasting.cups}
    found: dict[str, list[str]] = {}
    for s in tasting.samples:
        found.setdefault(letter[s.batch_id] if s.batch_id else s.outside, []).append(s.code)
    return {k: "  ".join(sorted(v)) for k, v in sorted(found.items())}


def turn_over(db: Session, tasting: Tasting, said: Mapping[int, str], *, by: uuid.UUID) -> None:
    """Read off what stands under which code, once every answer is sealed, and open the codes.

    `said` : place to the letter underneath, or to the id of the batch where a helper placed them

    Raises
    ------
    RuleError : a tasting by key, one that was not served or is over; a cup that was not read or cannot be so
    """
    if tasting.protocol == Protocol.PLATED.value:
        raise RuleError("tasting", "was plated by a key", "Open its codes instead.")
    if tasting.served_at is None or tasting.stopped_at is not None or tasting.opened_at is not None:
        raise RuleError("tasting", "is not being tasted", "Serve it first; what is over stays closed.")
    cards = {place: codes[0] for place, codes in cards_of(tasting).items()}
    if tasting.protocol == Protocol.HELPER.value:
        by_letter = {c.letter: c for c in tasting.cups}
        batch_letter = {str(c.batch_id): c.letter for c in tasting.cups}
        said = {place: batch_letter.get(v, v) for place, v in said.items()}
    else:
        by_letter = {c.letter: c for c in tasting.cups}
    found = read_off(said, by_letter, cards)
    _set_batches(db, tasting, {place: by_letter[letter] for place, letter in found.items()})
    tasting.read_off_at, tasting.read_off_by = now(), by
    open_codes(db, tasting, by=by)


def _set_batches(db: Session, tasting: Tasting, found: Mapping[int, CupRow]) -> None:
    samples: list[Sample] = [s for s in tasting.samples if s.place is not None]
    for s in samples:
        s.batch_id = found[s.place].batch_id  # type: ignore[index]
    db.flush()
    for s in samples:
        db.refresh(s)
