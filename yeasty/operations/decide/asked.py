"""What a trial asks of Decide, from how it was laid out and cooked."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.ask.screening import WORDS
from yeasty.core.ask.techniques import Technique, technique_name
from yeasty.core.ask.trial import TrialKind
from yeasty.core.decide.outcome import Answered, Asks, RescueSample, Sentence, Stands
from yeasty.core.decide.questions import QUESTIONS, USUAL
from yeasty.core.decide.questions.kind import Asked, Basis, Rescued, Way
from yeasty.core.decide.scored import Arm
from yeasty.operations.setup.fairness import open_differences
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.kitchen.library import known_techniques
from yeasty.store.taste.queries import opened_tastings


def slipped_in(db: Session, trial: Trial) -> list[str]:
    """Fields that differ and are neither meant to, nor a result, nor accepted in writing."""
    return [d.field for d in open_differences(db, trial)]


def _rising(layout: Mapping[str, Any]) -> tuple[int, Mapping[str, float]] | None:
    """The one factor of a grid whose levels set one and the same thing to rising values."""
    found = []
    for n, factor in enumerate(layout.get("factors", [])):
        sets = [dict(level.get("sets") or {}) for level in factor["levels"]]
        keys = {tuple(s) for s in sets}
        if len(keys) != 1 or len(next(iter(keys))) != 1:
            continue
        key = next(iter(keys))[0]
        values = [float(s[key]) for s in sets]
        if len(values) > 1 and all(a < b for a, b in pairwise(values)):
            names = [str(level["name"]) for level in factor["levels"]]
            found.append((n, dict(zip(names, values, strict=True))))
    return found[0] if len(found) == 1 else None


def asked_of(
    db: Session,
    trial: Trial,
    arms: Sequence[Arm],
    rescues: Sequence[RescueSample] = (),
    *,
    one_load: bool = False,
) -> Asked:
    """A trial as its question is given it; `one_load` : whether a round of all ways is one load."""
    layout = trial.layout
    kind = TrialKind(trial.kind)
    rungs = [float(r) for r in layout.get("rungs", [])] if kind is TrialKind.LADDER else []
    on_ladder = rungs if len(rungs) == len(trial.methods) else []
    by_key = {a.key: a for a in arms}
    name = {str(m.id): m.name for m in trial.methods}
    screened = kind is TrialKind.SCREENING
    known = known_techniques(db)
    return Asked(
        [
            _way(
                m,
                by_key[str(m.id)],
                on_ladder[n] if on_ladder else None,
                {str(x.id) for x in trial.methods},
                screened,
                known,
            )
            for n, m in enumerate(trial.methods)
        ],
        champion=str(layout["champion"]) if layout.get("champion") else None,
        factors=[str(f["name"]) for f in layout.get("factors", [])],
        rises=str(layout.get("rises") or ""),
        words=[str(w) for w in layout.get("words", [])] or list(WORDS),
        along=_rising(layout) if kind is TrialKind.GRID else None,
        one_load=one_load,
        matters=trial.matters,
        slipped=slipped_in(db, trial),
        rescued=[Rescued(name[r.method], r.finish, r.word, r.note) for r in rescues if r.word],
        change=next((m.change for m in trial.methods if m.change), ""),
        deciding=trial.deciding,
    )


def _way(
    m: Method,
    arm: Arm,
    rung: float | None,
    here: set[str],
    screened: bool,
    known: Mapping[str, Technique],
) -> Way:
    cooked = arm.batches > 0 or (screened and not arm.set_aside)
    return Way(
        str(m.id),
        m.tag,
        m.name,
        cooked and arm.may_lead,
        rung,
        m.levels[0] if rung is not None and m.levels else "",
        tuple(m.levels),
        str(m.parent_method_id) if m.parent_method_id and str(m.parent_method_id) in here else None,
        m.change,
        m.aimed_defect,
        m.outcome,
        m.failed_tries,
        m.verdict_word,
        m.verdict_note,
        technique_name(m.technique, known),
        arm.batches > 0,
    )


def answer_of(db: Session, trial: Trial, asked: Asked, basis: Basis) -> Answered:
    """The trial's own question, answered from what was tasted; a claim from what was measured."""
    question = QUESTIONS[Asks.CLAIM if trial.deciding.claim else USUAL[TrialKind(trial.kind)]]
    found = question(asked, basis)
    late = _said_late(db, trial)
    return replace(found, sentences=(*late, *found.sentences)) if late else found


def _said_late(db: Session, trial: Trial) -> list[Sentence]:
    """What is said of rules that came after codes were opened: whoever had seen the scores set them."""
    at = trial.deciding.said_at
    opened = [t.opened_at for t in opened_tastings(db, trial.id) if t.opened_at]
    if at is None or not opened or at <= min(opened).timestamp():
        return []
    return [
        Sentence(
            "How this is decided was changed after codes had been opened, so it was not said beforehand.",
            "when rules were kept, and when codes were opened",
            Stands.LAID_OUT,
        )
    ]
