"""Building a method page from records, freezing it, withdrawing it."""

import re
import unicodedata
import uuid
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from functools import partial
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from yeasty.core.cook.measures import BatchMeasures, Standing
from yeasty.core.decide.outcome import MethodOutcome, Outcome
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.publish.document import MethodPage, as_record, check_page, ingredients, step_texts
from yeasty.core.publish.html import Edition
from yeasty.core.safety.cautions import keeps_from_publishing
from yeasty.core.setup.differences import differences
from yeasty.operations.ask import facts
from yeasty.operations.ask.hazards import hazards_of_method
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.decide.decisions import outcome_of
from yeasty.operations.publish.as_cooked import as_cooked
from yeasty.operations.publish.telling import telling
from yeasty.operations.taste.answers import quotable
from yeasty.operations.taste.panels import allergens_of, allergens_unchecked
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Batch
from yeasty.store.publish.queries import free_slug, next_version, slugs_of_deleted, versions_of
from yeasty.store.publish.tables import Draft, Publication
from yeasty.store.safety.queries import checks, laxer_for, status_of

TEXTS = ("title", "intro", "normal", "serving", "keeping", "disclosure", "process", "signs", "quotes")


def slug_of(title: str) -> str:
    """A public address from a title.

    >>> slug_of("Gefüllte Brötchen, 60 g!")
    'gefullte-brotchen-60-g'
    """
    flat = unicodedata.normalize("NFKD", title).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "-", flat).strip("-")[:60] or "method"


def draft_of(db: Session, trial: Trial, *, lock: bool = False) -> Draft:
    """The draft of a trial's page, made on first sight; with `lock` nobody else edits it until this is
    written.
    """
    db.execute(
        insert(Draft)
        .values(trial_id=trial.id, method_id=None, texts={"title": trial.title}, version=1)
        .on_conflict_do_nothing()
    )
    query = select(Draft).where(Draft.trial_id == trial.id).execution_options(populate_existing=True)
    return db.scalars(query.with_for_update() if lock else query).one()


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


@dataclass(frozen=True)
class Offered:
    """What the lead may pick for a page, none of it public by itself: notes and cues of the bench about the
    method, and tasters' words that may be quoted without a name.
    """

    notes: Sequence[str]
    quotes: Sequence[str]


def offered(db: Session, trial: Trial, method: Method | None) -> Offered:
    """Words about a method that were written down."""
    if method is None:
        return Offered([], [])
    outcome = outcome_of(db, trial.id)
    mine = outcome.method(str(method.id)) if outcome else None
    notes = list(dict.fromkeys(mine.notes)) if mine else []
    return Offered(notes, quotable(db, trial.id, method.id))


def check_quotes(db: Session, trial: Trial, text: str) -> None:
    """Only words whose taster agreed are told, as they were written.

    Raises
    ------
    RuleError : a line that nobody agreed to be quoted with
    """
    may = {q for m in trial.methods for q in quotable(db, trial.id, m.id)}
    for line in lines(text):
        if line not in may:
            raise RuleError(
                "quotes",
                f"“{line[:60]}” may not be told",
                "Pick words whose taster agreed, as they wrote them.",
            )


def build_page(db: Session, trial: Trial, draft: Draft) -> MethodPage | None:
    """The page as it would be published now; None while no method is chosen or found."""
    outcome = outcome_of(db, trial.id)
    told = telling(db, trial)
    method = chosen_method(trial, draft, outcome, told.unfit)
    if method is None:
        return None
    names = {str(m.id): m.name for m in trial.methods}
    measured = trial_measures(db, trial.id)
    said = outcome.answer if outcome else None
    ingredient_names = {i.id: i.name for i in trial.ingredients}
    mine = outcome.method(str(method.id)) if outcome else None
    cooked = as_cooked(db, trial, method, measured)
    used = appliances_of(db, trial)
    gear = [used[s.appliance_id].name for s in method.steps if s.appliance_id in used]
    accepted = {(a.field, a.signature): a.reason for a in trial.accepted}
    unequal = [
        f"{d.field}: "
        + "; ".join(f"{tag} {said}" for tag, said in d.values.items())
        + (f" (accepted: {accepted[d.field, d.signature]})" if (d.field, d.signature) in accepted else "")
        for d in differences(facts.method_facts(trial, used), trial.varied)
        if not d.varied
    ]
    headline, sure, why = (
        f"{method.name}, as cooked in this kitchen.",
        "No tasting yet: nothing is claimed.",
        [],
    )
    if said and outcome:
        is_leader = said.leader == str(method.id)
        headline = said.headline if is_leader else f"{method.name}: the lead's choice. {said.headline}"
        sure = f"How sure: {said.how_sure.value}."
        why = [(s.text, s.stands_on) for s in said.sentences]
        why += [
            (f"{b.name[:1].upper()}{b.name[1:]}: {b.headline}.", "a round of its own") for b in outcome.beside
        ]
        why += [(line, "how codes were kept") for line in outcome.blindness]
    steps = step_texts(
        cooked.steps, hazards_of_method(trial, method), partial(status_of, checked=checks(db)), cooked.times
    )
    total = sum(s.duration_s for s in steps if not s.during)
    return MethodPage(
        title=draft.texts.get("title") or trial.title,
        dish=trial.dish,
        method=method.name,
        tag=method.tag,
        mark=method.mark,
        headline=headline,
        pieces=method.pieces_per_batch,
        yield_text=_yield(method, mine),
        total_s=total,
        ingredients=ingredients(
            {ingredient_names[a.ingredient_id]: a.mass_kg for a in method.amounts},
            {i.name: i.allergens for i in trial.ingredients},
            1.0,
        ),
        allergens=allergens_of(trial),
        allergens_unchecked=allergens_unchecked(trial),
        gear=tuple(dict.fromkeys([*gear, *method.gear])),
        steps=steps,
        cues=lines(draft.texts.get("signs", "")),
        quotes=lines(draft.texts.get("quotes", "")),
        why=tuple(why),
        choose_another=tuple(
            (names[c.method], c.when)
            for c in outcome.choose_another
            if c.method != str(method.id) and uuid.UUID(c.method) not in told.unfit
        )
        if outcome
        else (),
        how_sure=sure,
        evidence=(
            *_evidence(trial, [(b, m) for b, m in measured if m.standing is not Standing.SIMULATED], outcome),
            *told.says,
            *cooked.says,
            *(
                f"{m.name} is not offered to readers: {told.unfit[m.id]}"
                for m in trial.methods
                if m.id in told.unfit
            ),
        ),
        not_equal=tuple(unequal),
        **{
            name: draft.texts.get(name, "")
            for name in ("intro", "normal", "serving", "keeping", "disclosure", "process")
        },
    )


def _yield(method: Method, outcome: MethodOutcome | None) -> str:
    text = f"{method.pieces_per_batch} pieces"
    if outcome and outcome.cooked_yield:
        text += f", {outcome.cooked_yield:.0%} of the raw weight"
    return text


def _evidence(
    trial: Trial, measured: list[tuple[Batch, BatchMeasures]], outcome: Outcome | None
) -> list[str]:
    shifts = len({b.shift_id for b, _ in measured})
    judged = [m for _, m in measured if m.standing is Standing.JUDGED and m.complete]
    aside = [(b, m) for b, m in measured if m.standing is not Standing.JUDGED]
    lines = [
        f"{len(trial.methods)} methods, {len(judged)} batches cooked in {shifts} "
        f"shift{'' if shifts == 1 else 's'}"
        + (_tasters(outcome) if outcome and outcome.tasters else "")
        + "."
    ]
    for b, m in aside:
        lines.append(
            f"{b.method.name}, batch {b.replicate}: {m.standing.value} ({m.why}); kept, not averaged."
        )
    if outcome:
        lines += [f"Not measured for all: {g}." for g in outcome.gaps]
    return lines


def _tasters(outcome: Outcome) -> str:
    how = "blind codes" if outcome.blind else "not blind: all of them knew which was which"
    return f", {outcome.tasters} {'taster' if outcome.tasters == 1 else 'tasters'}, {how}"


def check_choice(db: Session, trial: Trial, method_id: uuid.UUID | None) -> None:
    """Raise where the lead's choice may not be told to readers."""
    why = telling(db, trial).unfit.get(method_id) if method_id else None
    if why:
        name = next(m.name for m in trial.methods if m.id == method_id)
        raise Refused("method", f"{name} may not be recommended: {why}", "Choose another, or cook it again.")


def publish(db: Session, trial: Trial, draft: Draft, *, correction: str, by: uuid.UUID) -> Publication:
    """Freeze the page as a new dated version.

    Raises
    ------
    Refused : no method, a simulated trial, a withdrawn page, or a later version without saying what it
        corrects
    RuleError : texts or amounts that are missing
    """
    check_choice(db, trial, draft.method_id)
    page = build_page(db, trial, draft)
    if page is None:
        raise Refused("method", "none is recommended yet", "Choose one, or taste and open the codes first.")
    if trial.simulated:
        raise Refused("trial", "was cooked on simulated time", "Cook it for real before publishing.")
    for problem in check_page(page):
        raise problem
    method = next(m for m in trial.methods if m.name == page.method and m.tag == page.tag)
    for blocked in keeps_from_publishing(hazards_of_method(trial, method), draft.texts.get("process", "")):
        raise blocked
    laxer = laxer_for(db, trial.food_class)
    if laxer:
        raise Refused(
            "method",
            f"was cooked by a figure laxer than its authority's ({laxer[0]})",
            "Withdraw the laxer figure, cook it again.",
        )
    before = versions_of(db, trial.id)
    if before and not correction.strip():
        raise Refused(
            "correction", "says nothing", f"Version {before[0].version} is out; say what this one corrects."
        )
    row = Publication(
        trial_id=trial.id,
        slug=before[0].slug if before else free_slug(db, slug_of(page.title), slugs_of_deleted(db)),
        version=next_version(db, trial.id),
        document=as_record(page),
        correction=correction.strip(),
        published_at=now(),
        published_by=by,
    )
    db.add(row)
    db.flush()
    return row


def draft_edition(page: MethodPage, trial: Trial, versions: Sequence[Publication]) -> Edition:
    """The page as it would be published now, to be read over."""
    slug = versions[0].slug if versions else slug_of(page.title)
    number = versions[0].version + 1 if versions else 1
    day = now()
    return Edition(as_record(page), slug, number, f"{day:%d %B %Y}", day.date().isoformat(), "", number)


def edition(row: Publication, newest: Publication, zone: str) -> Edition:
    """A version as its page tells of it, dates in the kitchen's time zone."""
    moment = row.published_at.astimezone(ZoneInfo(zone))
    return Edition(
        row.document,
        row.slug,
        row.version,
        f"{moment:%d %B %Y}",
        moment.date().isoformat(),
        row.correction,
        newest.version,
    )


def withdraw(db: Session, trial_id: uuid.UUID, why: str) -> list[Publication]:
    """Withdraw every version of a page for safety: only the notice shows from now on."""
    rows = versions_of(db, trial_id)
    for row in rows:
        if row.withdrawn_at is None:
            row.withdrawn_at, row.withdrawn_why = now(), why.strip()
    db.flush()
    return rows
