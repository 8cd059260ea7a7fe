"""Families of trials: copying one into the next, and who came from whom."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy import insert, select
from sqlalchemy.orm import Session, selectinload

from yeasty.core.ask.kinds import varied_by
from yeasty.core.ask.lineage import Member, Place, places
from yeasty.core.ask.techniques import Technique
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.setup.differences import differences
from yeasty.operations.ask import designs
from yeasty.operations.ask.facts import method_facts
from yeasty.operations.ask.versions import add_version, step_values, twin
from yeasty.operations.decide.decisions import outcome_of, outcomes_of
from yeasty.store.ask.queries import steps_of_methods
from yeasty.store.ask.tables import Ingredient, Method, MethodAmount, Step, Trial
from yeasty.store.base import now
from yeasty.store.kitchen import library
from yeasty.store.kitchen.tables import Appliance

MOST_OF_A_FAMILY = 400
_OWN_TO_A_TRIAL = {
    "id",
    "title",
    "question",
    "kind",
    "varied",
    "layout",
    "matches",
    "hunch",
    "parent_trial_id",
    "parent_words",
    "put_away_at",
    "guess_token",
    "guesses_closed_at",
    "simulated",
    "created_at",
    "updated_at",
    "version",
}


def copy_trial(
    db: Session,
    of: Trial,
    *,
    kind: TrialKind,
    title: str,
    question: str,
    methods: Sequence[uuid.UUID] | None = None,
) -> Trial:
    """A new trial with everything of the design copied: attributes, lots, controls and the methods that are
    named (or all).

    Results are not copied. Each method knows which one it came from.
    """
    moment = now()
    trial = Trial(
        title=title.strip() or of.title,
        question=question.strip() or of.question,
        kind=kind.value,
        varied=list(of.varied) if kind.value == of.kind else list(varied_by(kind, {})),
        layout=dict(of.layout) if kind.value == of.kind else {},
        parent_trial_id=of.id,
        parent_words=of.title,
        created_at=moment,
        updated_at=moment,
        **{c.key: getattr(of, c.key) for c in Trial.__mapper__.column_attrs if c.key not in _OWN_TO_A_TRIAL},
    )
    db.add(trial)
    db.flush()
    _copy_rows(of.attributes, trial.attributes, trial)
    _copy_rows(of.controls, trial.controls, trial)
    lots = _copy_rows(of.ingredients, trial.ingredients, trial)
    db.flush()
    chosen = [m for m in of.methods if methods is None or m.id in set(methods)]
    if methods is not None and len(chosen) != len(set(methods)):
        raise RuleError("methods", "one is not of that trial", "Choose among its methods.")
    steps: list[dict[str, Any]] = []
    amounts: list[dict[str, Any]] = []
    for m in chosen:
        copy = twin(m, trial, m.name, with_steps=False)
        copy.id = uuid.uuid4()
        copy.mark, copy.tag, copy.levels = m.mark, m.tag, list(m.levels) if kind.value == of.kind else []
        copy.parent_method_id, copy.parent_words = m.id, f"{of.title}: {m.name}"
        steps += [{"id": uuid.uuid4(), "method_id": copy.id, **step_values(s)} for s in m.steps]
        amounts += [
            {"method_id": copy.id, "ingredient_id": lots[a.ingredient_id], "mass_kg": a.mass_kg}
            for a in m.amounts
        ]
        trial.methods.append(copy)
    db.flush()
    # Hundreds of rows in one go: a copy of forty methods is made while the cook looks on.
    for model, rows in ((Step, steps), (MethodAmount, amounts)):
        if rows:
            db.execute(insert(model), rows)
    for copy in trial.methods:
        db.expire(copy, ["steps", "amounts"])
    db.flush()
    return trial


def _copy_rows(rows: Sequence[Any], target: list[Any], trial: Trial) -> dict[uuid.UUID, uuid.UUID]:
    """Copies of rows into a trial; old id to new."""
    found = {}
    for row in rows:
        names = [c.key for c in type(row).__mapper__.column_attrs if c.key not in ("id", "trial_id")]
        new = uuid.uuid4()
        target.append(type(row)(id=new, trial_id=trial.id, **{n: getattr(row, n) for n in names}))
        found[row.id] = new
    return found


def challenge(
    db: Session, of: Trial, champion: Method | None, *, change: str, aimed_defect: str, question: str
) -> Trial:
    """A champion-and-challenger trial from a method that stands: the champion and its copy with the change to
    be made.

    Raises
    ------
    Refused : no champion is named and nothing leads yet
    RuleError : no change or no defect is said
    """
    if champion is None:
        raise Refused(
            "champion",
            "is not known: nothing leads this trial yet",
            "Choose the method that is to be challenged.",
        )
    if len(change.strip()) < 3:
        raise RuleError("change", "is empty", "Say what the challenger does differently.")
    if len(aimed_defect.strip()) < 3:
        raise RuleError(
            "defect", "is empty", "Say which defect of the champion the challenger is meant to cure."
        )
    trial = copy_trial(
        db,
        of,
        kind=TrialKind.CHAMPION,
        title=f"{of.title}, next round"[:200],
        question=question
        or f"Does {change.strip()} cure “{aimed_defect.strip()}” without spoiling the rest?",
        methods=[champion.id],
    )
    mine = trial.methods[0]
    add_version(
        db, trial, mine, name=f"{mine.name}, {change.strip()}"[:100], change=change, aimed_defect=aimed_defect
    )
    trial.layout = {"champion": str(mine.id)}
    return trial


def leader_of(db: Session, of: Trial) -> Method | None:
    """The method that a finished trial recommends, if there is one."""
    outcome = outcome_of(db, of.id)
    leader = outcome.answer.leader if outcome else None
    return next((m for m in of.methods if str(m.id) == leader), None)


@dataclass(frozen=True)
class Relative:
    """A method in its family as it is shown, and what became of it."""

    method: Method
    trial: Trial
    place: Place
    parents: tuple[str, ...]
    changed: tuple[str, ...]
    by_products: tuple[str, ...]
    outcome: str


@dataclass(frozen=True)
class Family:
    """The methods of a family by generations and rows."""

    items: Sequence[Relative]

    @property
    def sentence(self) -> str:
        """How many there are, in how many trials and generations, and how many tries failed."""
        trials = len({r.trial.id for r in self.items})
        tries = sum(r.method.failed_tries for r in self.items)
        generations = 1 + max((r.place.generation for r in self.items), default=0)
        return (
            f"{len(self.items)} methods in {trials} trial{'' if trials == 1 else 's'}, "
            f"{generations} generations"
        ) + (f"; {tries} failed {'try' if tries == 1 else 'tries'} counted." if tries else ".")


def family_trials(db: Session, trial_id: uuid.UUID) -> list[Trial]:
    """Every trial tied to one by descent or by a by-product, oldest first."""
    seen: set[uuid.UUID] = set()
    wave = {trial_id}
    while wave and len(seen) < MOST_OF_A_FAMILY:
        seen |= wave
        up = select(Trial.parent_trial_id).where(Trial.id.in_(wave), Trial.parent_trial_id.is_not(None))
        down = select(Trial.id).where(Trial.parent_trial_id.in_(wave))
        mine = select(Method.id).where(Method.trial_id.in_(wave))
        made_of = (
            select(Method.trial_id)
            .join(Ingredient, Ingredient.from_method_id == Method.id)
            .where(Ingredient.trial_id.in_(wave))
        )
        fed = select(Ingredient.trial_id).where(Ingredient.from_method_id.in_(mine))
        raised = select(Method.trial_id).where(Method.parent_method_id.in_(mine))
        found: set[uuid.UUID] = set()
        for query in (up, down, made_of, fed, raised):
            found |= {i for i in db.scalars(query) if i is not None}
        wave = found - seen
    whole = select(Trial).where(Trial.id.in_(seen)).order_by(Trial.created_at, Trial.id)
    return list(
        db.scalars(
            whole.options(
                selectinload(Trial.methods).selectinload(Method.amounts),
                selectinload(Trial.ingredients),
            )
        )
    )


def family_of(db: Session, trial: Trial) -> Family:
    """The family of a trial."""
    return Family(_relatives(db, trial.id, library.known_techniques(db)))


def _relatives(db: Session, trial_id: uuid.UUID, known: Mapping[str, Technique]) -> list[Relative]:
    """The whole family with places, and what changed between each method and its parent, worked out and not
    typed.
    """
    trials = family_trials(db, trial_id)
    by_id = {m.id: (m, t) for t in trials for m in t.methods}
    steps = steps_of_methods(db, list(by_id))
    used = {uuid.UUID(s.appliance) for mine in steps.values() for s in mine if s.appliance}
    appliances = (
        {a.id: a for a in db.scalars(select(Appliance).where(Appliance.id.in_(used)))} if used else {}
    )
    facts = {}
    for t in trials:
        for m, f in zip(t.methods, method_facts(t, appliances, known, steps=steps), strict=True):
            facts[m.id] = f
    lots: dict[uuid.UUID, list[tuple[str, Trial]]] = {}
    eaten: dict[uuid.UUID, list[uuid.UUID]] = {}
    for t in trials:
        for i in t.ingredients:
            if i.from_method_id in by_id:
                lots.setdefault(i.from_method_id, []).append((i.name, t))
                eaten[i.id] = [i.from_method_id]
    members = []
    parents: dict[uuid.UUID, tuple[str, ...]] = {}
    for m, t in by_id.values():
        own = [m.parent_method_id] if m.parent_method_id in by_id and m.parent_method_id != m.id else []
        fed = [p for a in m.amounts for p in eaten.get(a.ingredient_id, []) if p != m.id]
        parents[m.id] = tuple(str(p) for p in dict.fromkeys([*own, *fed]))
        members.append(Member(str(m.id), parents[m.id], str(t.id), m.position))
    at = {p.key: p for p in places(members)}
    words = _outcomes(db, [t.id for t in trials])
    found = []
    for m, t in by_id.values():
        changed: tuple[str, ...] = ()
        if m.parent_method_id in by_id:
            before = replace(facts[m.parent_method_id], tag="before", levels=())
            now_ = replace(facts[m.id], tag="now", levels=())
            changed = tuple(
                f"{d.field}: {d.values['before']} → {d.values['now']}"
                for d in differences([before, now_], [])
            )
        found.append(
            Relative(
                m,
                t,
                at[str(m.id)],
                parents[m.id],
                changed,
                tuple(f"{n} ({x.title})" for n, x in lots.get(m.id, [])),
                m.outcome or m.verdict_word or words.get(t.id, {}).get(str(m.id), ""),
            )
        )
    return sorted(found, key=lambda r: (r.place.generation, r.place.row))


def _outcomes(db: Session, trial_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, dict[str, str]]:
    """For each trial what became of its methods by the kept analysis: method id to a word."""
    return {
        trial_id: {v.leader: f"leads: {v.how_sure.value}"} if v.leader else {}
        for trial_id, outcome in outcomes_of(db, trial_ids).items()
        for v in (outcome.answer,)
    }


def failed_try(method: Method, note: str) -> None:
    """Count a failed try at a version; what went wrong is kept with it."""
    if len(note.strip()) < 3:
        raise RuleError("what went wrong", "is empty", "Say it in a few words: it is kept with the version.")
    method.failed_tries += 1
    method.outcome = (
        method.outcome + "; " if method.outcome else ""
    ) + f"try {method.failed_tries} failed: {note.strip()}"


def by_product(db: Session, maker: Method, of: Trial, into: Trial, name: str) -> Ingredient:
    """Make a lot in a trial of what another method left over."""
    if into.id == of.id:
        raise Refused("lot", "would feed the trial it comes from", "Choose another trial for it.")
    if any(i.name.lower() == name.strip().lower() for i in into.ingredients):
        raise RuleError("lot", f"“{name}” is there already", "Give it a name of its own.")
    row = Ingredient(
        trial_id=into.id,
        name=name.strip(),
        position=len(into.ingredients),
        allergens=sorted({a for i in of.ingredients for a in i.allergens}),
        lot=f"left from {maker.name}, {of.title}",
        from_method_id=maker.id,
    )
    into.ingredients.append(row)
    designs.touch(into)
    db.flush()
    return row
