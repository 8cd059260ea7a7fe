"""A page built from a trial's records: which kind it is, what stands on it, and on what."""

import uuid
from collections.abc import Collection, Sequence
from functools import partial

from sqlalchemy.orm import Session

from yeasty.core.ask.deciding import School
from yeasty.core.decide.measured import measure_of
from yeasty.core.decide.outcome import MeasureTold, Outcome, Picture, Stands
from yeasty.core.decide.schools import SCHOOLS
from yeasty.core.kernel.text import capital
from yeasty.core.publish.document import Claimed, Page, WayText
from yeasty.core.publish.kinds import KINDS, PageKind, Recipes, sure_in_words, usual_kind
from yeasty.core.publish.leftovers import leftovers
from yeasty.core.publish.opinion import compares, opinions
from yeasty.core.publish.pictures import Shown
from yeasty.core.publish.recipe import Recipe
from yeasty.operations.ask.hazards import hazards_of_method
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.decide.claims import claims_kept
from yeasty.operations.decide.decisions import outcome_of
from yeasty.operations.publish.evidence import Subject, evidence_of, not_equal
from yeasty.operations.publish.linking import linked_of
from yeasty.operations.publish.photos import beside_troubles, may_be_chosen, shown_on
from yeasty.operations.publish.recipes import any_variety, recipe_of
from yeasty.operations.publish.telling import NEVER_COOKED, Telling, telling
from yeasty.operations.publish.troubles import photos_of_troubles, troubles_of
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.publish.tables import Draft
from yeasty.store.safety.queries import checks, status_of

# So many methods at most are written out on one page.
MOST_WRITTEN = 12
# Hazards of food that is not safe by its core, and is not before it was cooked for long enough.
TOO_LITTLE_HURTS = frozenset({"pulses_boil"})
# What is told of each way where several stand side by side, as far as it was measured.
NUMBERS = ("total_s", "hands_s", "wash_up_s", "can_wait_s", "energy_j", "cost", "cooked_yield")


def chosen_method(
    trial: Trial, draft: Draft, outcome: Outcome | None, unfit: Collection[uuid.UUID] = ()
) -> Method | None:
    """The method the page recommends: the lead's choice, else what the trial's question came to; never one
    that is unfit.
    """
    wanted = draft.method_id
    if wanted is None and outcome and outcome.answer.leader:
        wanted = uuid.UUID(outcome.answer.leader)
    return next((m for m in trial.methods if m.id == wanted and m.id not in unfit), None)


def lines(text: str) -> tuple[str, ...]:
    """Words that stand one below the other.

    >>> lines("brown rim\\n\\n crackles ")
    ('brown rim', 'crackles')
    """
    return tuple(line.strip() for line in text.splitlines() if line.strip())


def kind_of(trial: Trial, draft: Draft, outcome: Outcome | None) -> PageKind:
    """The kind of page: the lead's choice, else what the outcome asks for."""
    chosen = draft.texts.get("kind", "")
    if chosen:
        return PageKind(chosen)
    answer = outcome.answer if outcome else None
    return usual_kind(answer, trial.deciding.school, chosen=draft.method_id is not None)


def build_page(db: Session, trial: Trial, draft: Draft, told: Telling | None = None) -> Page | None:
    """The page as it would be published now; None where its kind needs a method and none is chosen or found,
    and while there is nothing to tell. `told` : what may be told, where that is known already.
    """
    outcome = outcome_of(db, trial.id)
    t = Subject(
        db,
        trial,
        outcome,
        told or telling(db, trial),
        trial_measures(db, trial.id),
        appliances_of(db, trial),
        checks(db),
    )
    kind = KINDS[kind_of(trial, draft, outcome)]
    method = chosen_method(trial, draft, outcome, t.told.unfit)
    if kind.recipes in (Recipes.EACH, Recipes.NONE):
        method = None
    each = kind.recipes is Recipes.EACH or (kind.recipes is Recipes.ONE_OR_EACH and method is None)
    recipes = tuple(recipe_of(t, m) for m in t.fit()[:MOST_WRITTEN]) if each else ()
    any_of = any_variety(t, recipes) if kind.key is PageKind.WHICH_TO_BUY else None
    if method is None and not recipes and kind.recipes is not Recipes.NONE:
        return None
    ways = _ways(t, kind.key, method)
    if kind.key is PageKind.EVERY_WAY and not ways:
        return None
    if kind.key is PageKind.CLAIM and t.answer is None:
        return None
    headline, sure, why = _said(t, method)
    recipe = any_of or (recipe_of(t, method) if method else None)
    recipes = () if any_of else recipes
    written = _methods_of(t, method, recipes, any_of is not None)
    troubles = troubles_of(t.db, t.trial, {m.technique for m in written})
    photos = _photos(t, draft, [recipe, *recipes], ways)
    return Page(
        kind=kind.key,
        title=draft.texts.get("title") or trial.title,
        dish=trial.dish,
        headline=headline,
        how_sure=sure,
        recipe=recipe,
        recipes=recipes,
        ways=ways,
        photos=(*photos, *beside_troubles(photos_of_troubles(t.db, troubles), troubles, len(photos))),
        leftovers=_leftovers(t, written),
        troubles=troubles,
        lessons=lines(draft.texts.get("lessons", "")),
        linked=linked_of(db, draft),
        doneness=_doneness(t, kind.key, method),
        refused=tuple(
            (m.name, t.told.unfit[m.id])
            for m in trial.methods
            if m.id in t.told.warned or (kind.key is PageKind.TONIGHT and m.id in t.told.unfit)
        )
        if "refused" in kind.sections
        else (),
        picture=t.answer.picture if t.answer else Picture(),
        cues=lines(draft.texts.get("signs", "")),
        quotes=lines(draft.texts.get("quotes", "")),
        why=tuple(why),
        claims=_claims(t),
        purposes=_purposes(t),
        opinions=tuple(
            dict.fromkeys(
                [*(w for _, w in opinions(draft.texts)), *(w for _, p in _purposes(t) for w in compares(p))]
            )
        ),
        choose_another=_choose_another(t, method) if "another" in kind.sections else (),
        evidence=evidence_of(t, kind.key),
        not_equal=not_equal(t.db, trial),
        **{
            name: draft.texts.get(name, "")
            for name in ("intro", "normal", "serving", "keeping", "disclosure", "process")
        },
    )


def _doneness(t: Subject, kind: PageKind, method: Method | None) -> tuple[Recipe, ...]:
    """Every other point of a page about how long that was cooked and may be told; none before the recommended
    one where too little is what hurts.
    """
    if kind is not PageKind.HOW_LONG or method is None:
        return ()
    fit = t.fit()
    if TOO_LITTLE_HURTS & set(hazards_of_method(t.trial, method)):
        fit = fit[fit.index(method) :]
    return tuple(recipe_of(t, m) for m in fit[:MOST_WRITTEN] if m is not method)


def _methods_of(t: Subject, method: Method | None, recipes: Sequence[Recipe], any_of: bool) -> list[Method]:
    """The methods that a page writes out; any of some where they are one recipe."""
    if any_of:
        return t.fit()
    tags = {r.tag for r in recipes}
    return [m for m in t.trial.methods if m is method or m.tag in tags]


def _photos(
    t: Subject, draft: Draft, recipes: Sequence[Recipe | None], ways: Sequence[WayText]
) -> tuple[Shown, ...]:
    """Photos of ways that the page tells: those it lists, else all that may be told."""
    listed = {w.tag for w in ways} or {m.tag for m in t.fit()}
    steps = {r.tag: {s.key for s in r.steps} for r in recipes if r is not None}
    may = may_be_chosen(t.outcome, t.trial)
    return shown_on(draft.pictures, may, t.trial.methods, steps, {*listed, *steps})


def _leftovers(t: Subject, written: Sequence[Method]) -> tuple[tuple[str, str], ...]:
    """What to do with what is left of the methods that are written out."""
    if not written:
        return ()
    hazards = {h for m in written for h in hazards_of_method(t.trial, m)}
    status = partial(status_of, checked=t.checked)
    return leftovers(t.trial.food_class, hazards, status, profile=the_kitchen(t.db).safety_profile)


def _said(t: Subject, method: Method | None) -> tuple[str, str, list[tuple[str, str, str]]]:
    """The headline, how sure it is, and sentences with what they stand on."""
    said, outcome = t.answer, t.outcome
    if said is None or outcome is None:
        what = f"{method.name}, as cooked in this kitchen." if method else "As cooked in this kitchen."
        return what, "No tasting yet: nothing is claimed.", []
    own = method is None or said.leader == str(method.id) or _names_itself(t, method)
    headline = said.headline if own else f"{method.name}: the lead's choice. {said.headline}"  # type: ignore[union-attr]
    why = [(capital(s.text), s.stands_on, s.standing.value) for s in said.sentences]
    why += [
        (f"{capital(b.name)}: {b.headline}.", "a round of its own", Stands.JUDGED.value)
        for b in outcome.beside
    ]
    why += [(line, "how codes were kept", Stands.LAID_OUT.value) for line in outcome.blindness]
    return capital(headline), sure_in_words(said, outcome.tasters), why


def _claims(t: Subject) -> tuple[Claimed, ...]:
    """What was picked and still stands, about ways that may be told."""
    if t.outcome is None:
        return ()
    warned = {str(m) for m in t.told.unfit}
    return tuple(
        Claimed(c.said.text, c.said.standing.value, c.said.how_sure.value, tuple(c.records))
        for c in claims_kept(t.db, t.trial.id, t.outcome)
        if c.said.stands and not warned & {c.said.subject, c.said.other}
    )


def _purposes(t: Subject) -> tuple[tuple[str, str], ...]:
    """What ways that may be told are for, in the cook's words."""
    return tuple((m.name, m.purpose) for m in t.fit() if m.purpose)


def _names_itself(t: Subject, method: Method) -> bool:
    """Whether nothing leads and the trial has one method only: nobody chose it from among others."""
    return t.answer is not None and t.answer.leader is None and t.fit() == [method]


def _choose_another(t: Subject, method: Method | None) -> tuple[tuple[str, str], ...]:
    if t.outcome is None or method is None:
        return ()
    name = {str(m.id): m.name for m in t.trial.methods}
    return tuple(
        (name[c.method], c.when)
        for c in t.outcome.choose_another
        if c.method in name and c.method != str(method.id) and uuid.UUID(c.method) not in t.told.unfit
    )


def _ways(t: Subject, kind: PageKind, method: Method | None) -> tuple[WayText, ...]:
    """Each way as a page of this kind tells it; none where the kind tells of no ways."""
    if "ways" not in KINDS[kind].sections:
        return ()
    rows = t.trial.methods if kind in (PageKind.EVERY_WAY, PageKind.STORY) else t.fit()
    rows = [m for m in rows if m.id not in t.told.warned]
    if kind is PageKind.EVERY_WAY:
        rows = _best_first(t, [m for m in rows if m.verdict_word])
    return tuple(_way(t, kind, m, method) for m in rows)


def _best_first(t: Subject, rows: Sequence[Method]) -> list[Method]:
    order = [m.label for m in t.answer.picture.marks] if t.answer else []
    return sorted(rows, key=lambda m: order.index(m.name) if m.name in order else len(order))


def _way(t: Subject, kind: PageKind, m: Method, chosen: Method | None) -> WayText:
    key = str(m.id)
    known = [x for k in NUMBERS if (x := _told(t, k)) is not None and x.values.get(key)]
    told = [x for x in known if _differs(x)]
    best = [_ahead(x) for x in (t.outcome.measures if t.outcome else []) if x.best == key]
    picked = bool(t.answer) and any(p.label == m.name and p.picked for p in t.answer.picture.marks)  # type: ignore[union-attr]
    word, notes = _word_of(t, m), []
    match kind:
        case PageKind.EVERY_WAY:
            word, notes = m.verdict_word, [m.verdict_note]
            notes += [
                f"rescued by “{r.finish}”: {'; '.join(x for x in (r.word, r.note) if x)}"
                for r in (t.outcome.rescues if t.outcome else ())
                if r.method == key and r.word
            ]
            if t.told.unfit.get(m.id, NEVER_COOKED) != NEVER_COOKED:
                notes.append(t.told.unfit[m.id])
        case PageKind.STORY:
            word = m.outcome
            tries = f"{m.failed_tries} failed {'try' if m.failed_tries == 1 else 'tries'} before it"
            notes = [
                f"changed: {m.change}" if m.change else "",
                f"meant to cure: {m.aimed_defect}" if m.aimed_defect else "",
                tries if m.failed_tries else "",
                _word_of(t, m),
            ]
        case PageKind.FINISHES:
            picked = chosen is not None and m.id == chosen.id
            notes = [_own_steps(t, m, chosen)]
        case _:
            pass
    return WayText(
        name=m.name,
        tag=m.tag,
        mark=m.mark,
        word=word,
        when="; ".join(best) if kind is PageKind.TONIGHT else "",
        notes=tuple(n for n in notes if n),
        numbers=tuple((x.name, x.words[key]) for x in told),
        values={x.key: tuple(x.values[key]) for x in known},
        picked=picked,
    )


def _told(t: Subject, key: str) -> MeasureTold | None:
    return next((m for m in t.outcome.measures if m.key == key), None) if t.outcome else None


def _differs(x: MeasureTold) -> bool:
    """Whether ways differ in it as it is told: what is the same for all is told of none."""
    return len(set(x.words.values())) > 1


def _ahead(x: MeasureTold) -> str:
    """What the one that is best in a measure is for."""
    m = measure_of(x.key)
    return f"{'least' if m is None or m.less_is_better else 'most'} {x.name}"


def _word_of(t: Subject, m: Method) -> str:
    """What people gave it, where there is a scale for that."""
    if t.outcome is None:
        return ""
    school = t.trial.deciding.school if t.trial.deciding.school in t.outcome.verdicts else School.WEIGHTED
    score = t.outcome.verdicts[school].scores.get(str(m.id)) if SCHOOLS[school].on_scale else None
    return "" if score is None else f"{score:.1f} of 10, as tasted"


def _own_steps(t: Subject, m: Method, chosen: Method | None) -> str:
    """What is done to one finish and not to the one that is written out."""
    if chosen is None or m.id == chosen.id:
        return "as written above" if chosen is not None else ""
    above = {s.what for s in recipe_of(t, chosen).steps}
    own = [s for s in recipe_of(t, m).steps if s.what not in above]
    return "; ".join(f"{s.what}, {s.duration}" for s in own) or "the same steps, without what is done last"
