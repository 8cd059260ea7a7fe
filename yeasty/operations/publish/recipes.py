"""A method of a trial written out for its page: what was cooked, with its own amounts, allergens and gear."""

import uuid
from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from yeasty.core.decide.outcome import MethodOutcome
from yeasty.core.kernel.text import capital
from yeasty.core.kernel.words import plain
from yeasty.core.publish.recipe import Recipe, ingredients, step_texts
from yeasty.core.safety.core_minimum import food_classes
from yeasty.core.setup.allergens import union
from yeasty.core.setup.appliances import setting_of
from yeasty.operations.ask.hazards import hazards_of_method
from yeasty.operations.publish.as_cooked import as_cooked
from yeasty.operations.publish.evidence import Subject
from yeasty.operations.taste.panels import allergens_unchecked
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.kitchen.library import known_techniques
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.safety.queries import status_of


def recipe_of(t: Subject, method: Method) -> Recipe:
    """A method written out: what was cooked, with its own amounts, allergens and gear."""
    cooked = as_cooked(t.db, t.trial, method, t.measured)
    status = partial(status_of, checked=t.checked)
    hazards = hazards_of_method(t.trial, method)
    steps = step_texts(cooked.steps, hazards, status, cooked.times, partial(_kind, t), partial(_word, t))
    gear = [t.used[s.appliance_id].name for s in method.steps if s.appliance_id and s.appliance_id in t.used]
    name = {i.id: i.name for i in t.trial.ingredients}
    mine = t.outcome.method(str(method.id)) if t.outcome else None
    return Recipe(
        method=method.name,
        tag=method.tag,
        mark=method.mark,
        pieces=method.pieces_per_batch,
        yield_text=_makes(method, mine),
        total_s=sum(s.duration_s for s in steps if not s.during),
        ingredients=ingredients(
            {name[a.ingredient_id]: a.mass_kg for a in method.amounts},
            {i.name: i.allergens for i in t.trial.ingredients},
            1.0,
        ),
        allergens=_allergens(t.trial, method),
        allergens_unchecked=tuple(sorted({*allergens_unchecked(t.trial), *_elsewhere(t.trial, method)})),
        gear=tuple(dict.fromkeys([*(gear or _heated_by(t, method)), *_held_in(method)])),
        steps=steps,
        says=cooked.says,
        technique=method.technique,
        thickness_m=method.piece_thickness_m,
        altitude_m=the_kitchen(t.db).altitude_m,
        by_core=_by_core(t.trial),
        start_c=method.start_c,
    )


def _heated_by(t: Subject, method: Method) -> list[str]:
    """What a way is cooked on, where no appliance of the kitchen was named for it."""
    technique = known_techniques(t.db).get(method.technique)
    if technique is None:
        return [capital(method.vessel)] if method.vessel else []
    return [capital(technique.appliance_kind.replace("_", " "))]


def _held_in(method: Method) -> list[str]:
    """What it stands in and where, covered or not, and what else is taken in hand."""
    lines = [", ".join(x for x in (method.vessel, method.lid) if x), method.place]
    said = [capital(line) for line in lines if line]
    return [*said, *(g for g in method.gear if plain(g) != plain(method.vessel))]


def _kind(t: Subject, appliance: str) -> str:
    found = t.used.get(uuid.UUID(appliance))
    return found.kind if found else ""


def _word(t: Subject, appliance: str, set_c: float) -> str:
    """The word of an appliance's dial that it was set to, where what the word gives was measured."""
    found = t.used.get(uuid.UUID(appliance))
    setting = setting_of(found.profile(), set_c) if found else None
    return "" if setting is None or setting.words[:1].isdigit() else setting.words


def _by_core(trial: Trial) -> bool:
    """Whether this kind of food is safe by its core; where nobody said what it is, it is taken to be."""
    known = food_classes().get(trial.food_class)
    return known is None or bool(known.limits)


def any_variety(t: Subject, recipes: Sequence[Recipe]) -> Recipe | None:
    """Of varieties that nobody could tell apart: one recipe with any of them; None where they are not cooked
    alike.
    """
    what = str(t.trial.layout.get("ingredient") or "")
    cooked = {(r.gear, *((s.what, s.temperature, s.until, s.cautions) for s in r.steps)) for r in recipes}
    if len(recipes) < 2 or not what or len(cooked) > 1:
        return None
    names = [r.method for r in recipes]
    listed = f"{', '.join(names[:-1])} or {names[-1]}"
    first = recipes[0]
    rows = tuple(
        replace(i, name=f"{what}: {listed}") if i.name == first.method else i for i in first.ingredients
    )
    return replace(
        first,
        method=listed,
        ingredients=rows,
        # Whichever of them a reader takes: what any holds is told.
        allergens=union([r.allergens for r in recipes]),
        allergens_unchecked=tuple(sorted({n for r in recipes for n in r.allergens_unchecked})),
    )


def _allergens(trial: Trial, method: Method) -> tuple[str, ...]:
    """Of what goes into a method; an ingredient that is weighed into none may be in any, and counts."""
    weighed = {a.ingredient_id for m in trial.methods for a in m.amounts}
    mine = {a.ingredient_id for a in method.amounts}
    return union([i.allergens for i in trial.ingredients if i.id in mine or i.id not in weighed])


def _elsewhere(trial: Trial, method: Method) -> list[str]:
    """Ingredients whose allergens a method does not have by what was weighed into it. An amount may have been
    forgotten, so they are named as not checked and not left out in silence.
    """
    mine = set(_allergens(trial, method))
    return [f"{i.name} (weighed into other ways only)" for i in trial.ingredients if set(i.allergens) - mine]


def _makes(method: Method, outcome: MethodOutcome | None) -> str:
    text = f"{method.pieces_per_batch} pieces"
    if outcome and outcome.cooked_yield:
        text += f", {100 * outcome.cooked_yield:.0f} % of the raw weight"
    return text
