"""Laying a trial out by its kind: cells, rungs, finishes and varieties become methods with their steps."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask import grid as grids
from yeasty.core.ask import ladder as ladders
from yeasty.core.ask.grid import Level
from yeasty.core.ask.kinds import varied_by
from yeasty.core.ask.marks import MOST_MARKS, next_mark, next_tag
from yeasty.core.ask.screening import check_words
from yeasty.core.ask.techniques import Technique
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel import steps as core_steps
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.kernel.steps import EndRule, Phase
from yeasty.operations.ask.chains import LAST, joined, part, shortened, with_values
from yeasty.operations.ask.designs import fitting_appliance, rows_of, touch
from yeasty.store.ask.tables import Ingredient, Method, MethodAmount, Trial
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.tables import Appliance


class Bench:
    """What laying out draws on: known techniques, the kitchen's appliances, and the method that serves as
    pattern.
    """

    def __init__(
        self, trial: Trial, techniques: Mapping[str, Technique], appliances: Sequence[Appliance], base: str
    ) -> None:
        self.trial, self.techniques, self.appliances = trial, techniques, appliances
        self.pattern = trial.methods[0] if trial.methods else None
        self.base = self.technique(base) if base else None

    def technique(self, key: str) -> Technique:
        """A technique by key, or a clear refusal."""
        if key not in self.techniques:
            raise RuleError("technique", f"“{key}” is not known", "Choose one of the library.")
        return self.techniques[key]

    def pattern_steps(self) -> tuple[core_steps.Step, ...]:
        """Steps to start from: of the chosen technique, else of the first method."""
        if self.base is not None:
            return self.base.steps
        if self.pattern is not None:
            return tuple(s.core() for s in self.pattern.steps)
        raise RuleError(
            "technique", "is not chosen", "Choose a technique to start from, or add a method first."
        )

    def key(self) -> str:
        """The technique that a laid-out method is said to be of, where its levels bring none."""
        return self.base.key if self.base else self.pattern.technique if self.pattern else ""


def lay_out(
    db: Session,
    trial: Trial,
    layout: Mapping[str, Any],
    techniques: Mapping[str, Technique],
    appliances: Sequence[Appliance],
    cells: Sequence[grids.Cell] | None = None,
) -> None:
    """Keep a kind's layout and make its methods; those that were laid out alike before keep their row.

    Raises
    ------
    RuleError : what is wrong with the layout; Refused where a method that would go has been cooked
    """
    kind = TrialKind(trial.kind)
    bench = Bench(trial, techniques, appliances, str(layout.get("base_technique") or ""))
    kept = dict(layout)
    match kind:
        case TrialKind.GRID:
            wanted = _grid(bench, layout, cells)
            kept["fraction_said"] = cells is not None
        case TrialKind.LADDER:
            wanted = _ladder(bench, layout)
        case TrialKind.BRANCH:
            wanted = _branch(bench, layout)
        case TrialKind.VARIETIES:
            wanted = _varieties(bench, layout)
        case TrialKind.SCREENING:
            kept["words"] = list(check_words([str(w) for w in layout.get("words", [])]))
            trial.layout, trial.varied = kept, list(varied_by(kind, kept))
            touch(trial)
            return
        case _:
            trial.layout = kept
            touch(trial)
            return
    trial.layout = kept
    trial.varied = list(varied_by(kind, kept))
    if kind is TrialKind.VARIETIES:
        trial.varied += [f"amount of {v}" for v in layout["varieties"]] + [
            f"lot of {v}" for v in layout["varieties"]
        ]
    _replace(db, bench, wanted)
    for m, w in zip(trial.methods, wanted, strict=True):
        for takes, among in w.instead:
            _take_instead(db, trial, m, takes, among)
    if kind is TrialKind.VARIETIES:
        _exchange(db, trial, str(layout["ingredient"]), [str(v) for v in layout["varieties"]])
    if kind is TrialKind.LADDER and layout.get("rises") == "amount":
        _scale_amounts(trial, str(layout.get("ingredient") or ""), [float(r) for r in layout["rungs"]])
    touch(trial)


class Wanted:
    """A method to be: its name, levels, technique and steps."""

    def __init__(
        self,
        name: str,
        levels: Sequence[str],
        technique: str,
        steps: Sequence[core_steps.Step],
        like: Sequence[str],
        *,
        pieces: int | None = None,
        instead: Sequence[tuple[str, Sequence[str]]] = (),
    ) -> None:
        self.name, self.levels, self.technique, self.steps, self.like = (
            name,
            list(levels),
            technique,
            list(steps),
            like,
        )
        # Pieces in a batch where the layout says so; ingredients taken, each with those it stands instead of.
        self.pieces, self.instead = pieces, instead


def _grid(bench: Bench, layout: Mapping[str, Any], cells: Sequence[grids.Cell] | None) -> list[Wanted]:
    grid = grids.grid_from_record(layout)
    for wrong in grids.check_grid(grid):
        raise wrong
    chosen = grids.check_cells(grid, cells if cells is not None else grids.open_cells(grid))
    found = []
    for cell in chosen:
        levels = [f.levels[i] for f, i in zip(grid.factors, cell, strict=True)]
        brought = [v for v in levels if v.technique]
        steps = (
            joined([bench.technique(v.technique).steps for v in brought], bench.trial.food_class)
            if brought
            else list(bench.pattern_steps())
        )
        # A level without a technique sets values on the whole chain, one with a technique on its own part.
        at = 0
        for v in levels:
            if v.technique:
                own = len(
                    part(bench.technique(v.technique).steps, bench.trial.food_class, last=v is brought[-1])
                )
                steps[at : at + own] = with_values(steps[at : at + own], v)
                at += own
            else:
                steps = with_values(steps, v)
        own_steps = [
            grids.step_of(f, v) for f, v in zip(grid.factors, levels, strict=True) if grids.brings_a_step(v)
        ]
        steps = [*own_steps, *steps]
        technique = brought[-1].technique if brought else bench.key()
        hazards = [b.technique for b in brought] or ([bench.key()] if bench.base else [])
        instead = [
            (v.ingredient, [o.ingredient for o in f.levels if o.ingredient])
            for f, v in zip(grid.factors, levels, strict=True)
            if any(o.ingredient for o in f.levels)
        ]
        found.append(
            Wanted(
                grids.cell_name(grid, cell),
                [v.name for v in levels],
                technique,
                steps,
                hazards,
                pieces=grid.pieces_a_cell,
                instead=instead,
            )
        )
    return found


def _ladder(bench: Bench, layout: Mapping[str, Any]) -> list[Wanted]:
    ladder = ladders.ladder_from_record(layout)
    for wrong in ladders.check_ladder(ladder):
        raise wrong
    pulled = {p.rung: p for p in ladders.pulls(ladder)} if ladder.rises == "time" else {}
    found = []
    for n, rung in enumerate(ladder.rungs):
        steps = []
        for s in bench.pattern_steps():
            if s.phase is Phase.COOK and s.during_offset_s is None:
                if ladder.rises == "time":
                    s = replace(s, duration_s=rung, end_rule=EndRule.CLOCK)
                elif ladder.rises == "core temperature":
                    s = replace(s, end_rule=EndRule.CORE, end_core_c=rung)
                elif ladder.rises == "set point":
                    s = replace(s, set_point_c=rung)
            elif s.phase is Phase.OUT and n in pulled and ladder.pots < len(ladder.rungs):
                p = pulled[n]
                s = replace(s, what=ladders.pull_words(p, ladders.say_rung(ladder, rung)))
            steps.append(s)
        said = ladders.say_rung(ladder, rung)
        like = [bench.key()] if bench.base else []
        found.append(Wanted(said, [said], bench.key(), shortened(steps), like, pieces=ladder.pieces_a_rung))
    return found


def _branch(bench: Bench, layout: Mapping[str, Any]) -> list[Wanted]:
    finishes = layout.get("finishes") or []
    if len(finishes) < 2:
        raise RuleError("finishes", f"{len(finishes)}", "Name at least two ways to finish the shared cook.")
    names = [str(f["name"]).strip() for f in finishes]
    if "" in names or len({n.lower() for n in names}) != len(names):
        raise RuleError("finishes", "need a name each, none twice", "Name what is done last, as in “torch”.")
    shared = [s for s in bench.pattern_steps() if s.phase not in LAST]
    found = []
    for f, name in zip(finishes, names, strict=True):
        level = Level(name, f.get("technique") or "", dict(f.get("sets") or {}))
        if level.technique:
            tail = with_values(bench.technique(level.technique).steps, level)
        else:
            tail = [s for s in bench.pattern_steps() if s.phase in LAST]
            if grids.brings_a_step(level):
                # A finish by hand, as “brushed with butter”: a step of its own before the plate.
                tail = [grids.step_of(grids.Factor("finish", (level,)), level), *tail]
        like = ([bench.key()] if bench.base else []) + ([level.technique] if level.technique else [])
        heated = any(s.phase is Phase.COOK for s in tail)
        first = part(shared, bench.trial.food_class, last=not heated)
        found.append(Wanted(name, [name], level.technique or bench.key(), [*first, *tail], like))
    return found


def _varieties(bench: Bench, layout: Mapping[str, Any]) -> list[Wanted]:
    varieties = [str(v).strip() for v in layout.get("varieties") or []]
    if not str(layout.get("ingredient") or "").strip():
        raise RuleError("ingredient", "is not named", "Say which ingredient is exchanged.")
    if len(varieties) < 2 or "" in varieties or len({v.lower() for v in varieties}) != len(varieties):
        raise RuleError("varieties", f"{len(varieties)}", "Name at least two, each once.")
    steps = bench.pattern_steps()
    return [Wanted(v, [v], bench.key(), steps, [bench.key()] if bench.base else []) for v in varieties]


def cooked_methods(db: Session, trial: Trial) -> set[uuid.UUID]:
    """Methods of a trial that stand in a shift."""
    ids = [m.id for m in trial.methods]
    return (
        set(db.scalars(select(Batch.method_id).where(Batch.method_id.in_(ids)).distinct())) if ids else set()
    )


def _replace(db: Session, bench: Bench, wanted: Sequence[Wanted]) -> None:
    trial = bench.trial
    if len(wanted) > MOST_MARKS:
        raise RuleError("methods", f"{len(wanted)}", f"A trial holds {MOST_MARKS}: cook a part of them.")
    old = {tuple(m.levels): m for m in trial.methods if m.levels}
    names = {tuple(w.levels) for w in wanted}
    gone = [m for m in trial.methods if tuple(m.levels) not in names]
    cooked = cooked_methods(db, trial)
    stuck = [m.name for m in gone if m.id in cooked]
    if stuck:
        raise Refused(
            "layout",
            f"{', '.join(stuck)} stand in a shift",
            "Keep them in the layout, or begin a new trial from this one.",
        )
    pattern = _pattern_record(bench.pattern)
    for m in gone:
        trial.methods.remove(m)
    db.flush()
    for position, w in enumerate(wanted):
        before = old.get(tuple(w.levels))
        m = before if before is not None else _like_the_pattern(trial, w.name, pattern)
        if before is None:
            trial.methods.append(m)
        m.name, m.levels, m.position = w.name, w.levels, position
        m.technique = w.technique or m.technique or ""
        brought = [bench.technique(k) for k in w.like]
        if brought:
            m.hazards = list(dict.fromkeys([*(m.hazards or []), *(h for t in brought for h in t.hazards)]))
            m.gear = list(dict.fromkeys([*(m.gear or []), *(g for t in brought for g in t.gear)]))
        if m.id not in cooked:
            if w.pieces is not None:
                resize(m, w.pieces)
            kinds = {t.key: t.appliance_kind for t in brought}
            m.steps = rows_of(w.steps, lambda s, ks=kinds: _appliance_of(bench, s, ks))  # type: ignore[misc]
    trial.methods.sort(key=lambda x: x.position)
    db.flush()


def resize(method: Method, pieces: int) -> None:
    """Another number of pieces in a batch: what goes into a batch goes with it, a piece stays as it is."""
    share = pieces / (method.pieces_per_batch or pieces)
    method.pieces_per_batch = pieces
    if share == 1:
        return
    if method.batch_kg is not None:
        method.batch_kg *= share
    for a in method.amounts:
        a.mass_kg *= share


def _take_instead(db: Session, trial: Trial, method: Method, takes: str, among: Sequence[str]) -> None:
    """Give a method one of several ingredients that stand instead of one another, at the weight of the one it
    had.
    """
    by_name = {i.name.lower(): i for i in trial.ingredients}
    for name in among:
        if name.lower() not in by_name:
            row = Ingredient(trial_id=trial.id, name=name, position=len(trial.ingredients), allergens=[])
            trial.ingredients.append(row)
            by_name[name.lower()] = row
    db.flush()
    rivals = {by_name[n.lower()].id for n in among}
    mine = [a for a in method.amounts if a.ingredient_id in rivals]
    kg = max((a.mass_kg for a in mine), default=0.0)
    for a in mine:
        method.amounts.remove(a)
    db.flush()
    if takes and kg:
        method.amounts.append(MethodAmount(ingredient_id=by_name[takes.lower()].id, mass_kg=kg))
    db.flush()


def _appliance_of(bench: Bench, step: core_steps.Step, kinds: Mapping[str, str]) -> uuid.UUID | None:
    if step.appliance:
        return uuid.UUID(step.appliance)
    key = step.key.rsplit("-", 1)[0]
    return fitting_appliance(step, kinds.get(key, ""), bench.appliances)


def _pattern_record(pattern: Method | None) -> dict[str, Any]:
    if pattern is None:
        return {"columns": {"technique": "", "gear": [], "hazards": []}, "amounts": []}
    columns = (
        "technique",
        "batch_kg",
        "pieces_per_batch",
        "piece_kg",
        "start_c",
        "piece_shape",
        "piece_thickness_m",
        "piece_food",
        "vessel",
        "lid",
        "operator",
    )
    return {
        "columns": {c: getattr(pattern, c) for c in columns}
        | {"gear": list(pattern.gear), "hazards": list(pattern.hazards)},
        "amounts": [(a.ingredient_id, a.mass_kg) for a in pattern.amounts],
    }


def _like_the_pattern(trial: Trial, name: str, pattern: Mapping[str, Any]) -> Method:
    m = Method(
        trial_id=trial.id,
        mark=next_mark([x.mark for x in trial.methods]),
        tag=next_tag(name, [x.tag for x in trial.methods]),
        **pattern["columns"],
    )
    m.amounts = [MethodAmount(ingredient_id=i, mass_kg=kg) for i, kg in pattern["amounts"]]
    return m


def _exchange(db: Session, trial: Trial, ingredient: str, varieties: Sequence[str]) -> None:
    """Give each variety's method its own ingredient in place of the one that is exchanged, at the same
    weight.
    """
    by_name = {i.name.lower(): i for i in trial.ingredients}
    base = by_name.get(ingredient.lower())
    for n, v in enumerate(varieties):
        if v.lower() not in by_name:
            row = Ingredient(
                trial_id=trial.id,
                name=v,
                position=len(trial.ingredients) + n,
                allergens=list(base.allergens) if base else [],
            )
            trial.ingredients.append(row)
            db.flush()
            by_name[v.lower()] = row
    exchanged = {by_name[v.lower()].id for v in varieties} | ({base.id} if base else set())
    for m in trial.methods:
        mine = [a for a in m.amounts if a.ingredient_id in exchanged]
        kg = max((a.mass_kg for a in mine), default=m.batch_kg or 0.0)
        for a in mine:
            m.amounts.remove(a)
        db.flush()
        if kg:
            m.amounts.append(MethodAmount(ingredient_id=by_name[m.levels[0].lower()].id, mass_kg=kg))
    db.flush()


def _scale_amounts(trial: Trial, ingredient: str, rungs: Sequence[float]) -> None:
    """Multiply one ingredient's amount by the rung, starting from the first rung's method."""
    row = next((i for i in trial.ingredients if i.name.lower() == ingredient.lower()), None)
    if row is None:
        raise RuleError(
            "ingredient",
            f"“{ingredient}” is not one of the lots",
            "Enter it at Set up first, with its amount.",
        )
    trial.varied = [f"amount of {row.name}", "total salt", "total fat", "total liquid", "factor levels"]
    first = next((a.mass_kg for a in trial.methods[0].amounts if a.ingredient_id == row.id), None)
    if first is None:
        raise RuleError(
            "ingredient",
            f"“{ingredient}” has no amount in the first method",
            "Enter its amount at Set up first.",
        )
    unit = first / rungs[0]
    for m, r in zip(trial.methods, rungs, strict=True):
        for a in m.amounts:
            if a.ingredient_id == row.id:
                a.mass_kg = unit * r
