"""A page's draft, its versions, and its withdrawal; how it is built from records is in `building`."""

import re
import unicodedata
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import technique_name
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.publish.changes import changes
from yeasty.core.publish.datapackage import WayRow, packed, sheets
from yeasty.core.publish.document import Page, as_record, check_page
from yeasty.core.publish.html import Edition
from yeasty.core.publish.named import unmatched
from yeasty.core.publish.pictures import Chosen
from yeasty.core.safety.cautions import keeps_from_publishing
from yeasty.operations.ask.hazards import hazards_of_method
from yeasty.operations.decide.decisions import decision_of, outcome_of
from yeasty.operations.publish.building import build_page, lines
from yeasty.operations.publish.linking import check_linked, standing
from yeasty.operations.publish.photos import choose
from yeasty.operations.publish.telling import telling
from yeasty.operations.taste.gathered import quotable
from yeasty.store.ask.queries import every_ingredient
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.kitchen.library import known_techniques
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.publish.queries import (
    drop_sheets_that_link,
    free_slug,
    next_version,
    slugs_of_deleted,
    versions_of,
)
from yeasty.store.publish.tables import Draft, Publication, Rendering
from yeasty.store.safety.queries import laxer_for


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


@dataclass(frozen=True)
class Offered:
    """What the lead may pick for a page, none of it public by itself: notes and cues of the bench about the
    method, and tasters' words that may be quoted without a name.
    """

    notes: Sequence[str]
    quotes: Sequence[str]


def offered(db: Session, trial: Trial, told: Sequence[Method]) -> Offered:
    """Words about the methods that a page writes out, as they were written down."""
    outcome = outcome_of(db, trial.id)
    mine = [o for m in told if outcome and (o := outcome.method(str(m.id)))]
    notes = dict.fromkeys(n for o in mine for n in o.notes)
    return Offered(list(notes), [q for m in told for q in quotable(db, trial.id, m.id)])


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


def check_choice(db: Session, trial: Trial, method_id: uuid.UUID | None) -> None:
    """Raise where the lead's choice may not be told to readers."""
    why = telling(db, trial).unfit.get(method_id) if method_id else None
    if why:
        name = next(m.name for m in trial.methods if m.id == method_id)
        raise Refused("method", f"{name} may not be recommended: {why}", "Choose another, or cook it again.")


def write_draft(db: Session, trial: Trial, draft: Draft, given: Mapping[str, Any]) -> None:
    """Write what is given into a draft; what is left out stays.

    Raises
    ------
    RuleError, Refused : a way of another trial, words of no taster, a picture or a link that may not stand
    """
    texts = dict(given)
    if "method_id" in texts:
        check_choice(db, trial, texts["method_id"])
        draft.method_id = texts.pop("method_id")
    if texts.get("quotes"):
        check_quotes(db, trial, texts["quotes"])
    pictures = texts.pop("pictures", None)
    if pictures is not None:
        draft.pictures = choose(db, trial, outcome_of(db, trial.id), [Chosen(**p) for p in pictures])
    if texts.get("linked") is not None:
        texts["linked"] = check_linked(db, trial.id, texts["linked"])
    draft.texts = {**draft.texts, **{k: v for k, v in texts.items() if v is not None}}
    draft.version += 1
    db.flush()


def publish(db: Session, trial: Trial, draft: Draft, *, correction: str, by: uuid.UUID) -> Publication:
    """Freeze the page as a new dated version.

    Raises
    ------
    Refused : a practice trial, no method, a withdrawn page, a verdict that is not of the records as they
        are, or a later version without saying what it corrects
    RuleError : texts or amounts that are missing
    """
    if trial.simulated:
        raise Refused(
            "trial", "is practice: its food was made up", "Cook a question of your own for readers."
        )
    check_choice(db, trial, draft.method_id)
    page = build_page(db, trial, draft)
    if page is None:
        raise Refused(
            "method",
            "none is recommended yet",
            "Choose one, or taste and open the codes first; or choose a kind of page that needs no winner.",
        )
    for problem in check_page(page):
        raise problem
    told = {r.tag for r in (page.recipe, *page.recipes, *page.doneness) if r is not None}
    for method in (m for m in trial.methods if m.tag in told):
        for blocked in keeps_from_publishing(
            hazards_of_method(trial, method), draft.texts.get("process", "")
        ):
            raise blocked
    laxer = laxer_for(db, trial.food_class)
    if laxer:
        raise Refused(
            "method",
            f"was cooked by a figure laxer than its authority's ({laxer[0]})",
            "Withdraw the laxer figure, cook it again.",
        )
    if not decision_of(db, trial.id).fresh:
        raise Refused(
            "verdict",
            "is that of records which have changed since",
            "It is worked out again by itself: wait for it, read the page over, then publish.",
        )
    before = versions_of(db, trial.id)
    page = with_changes(page, before)
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
    outcome = outcome_of(db, trial.id)
    if outcome is not None:
        files = sheets(outcome, way_rows(db, trial))
        data = packed(page.title, row.slug, row.version, files)
        db.add(Rendering(publication_id=row.id, media_type=DATA, data=data, made_at=now()))
        db.flush()
    return row


# The data package of a version, as the records were when it came out.
DATA = "application/zip"


def way_rows(db: Session, trial: Trial) -> list[WayRow]:
    """Every way of a trial by its key, techniques of the kitchen's own by their names."""
    known = known_techniques(db)
    return [WayRow(str(m.id), m.tag, m.name, technique_name(m.technique, known)) for m in trial.methods]


def unmatched_in(db: Session, page: Page) -> list[str]:
    """Where what is done and what is listed do not match, in every recipe that a page writes out."""
    known = every_ingredient(db)
    return [
        line
        for r in (page.recipe, *page.recipes)
        if r is not None
        for line in unmatched(
            r.method, [f"{s.what} {s.until}" for s in r.steps], [i.name for i in r.ingredients], known
        )
    ]


def with_changes(page: Page, versions: Sequence[Publication]) -> Page:
    """The page with what is other than in its newest version that was out, in words."""
    if not versions:
        return page
    return replace(page, changed=changes(versions[0].document, as_record(page)))


def draft_edition(page: Page, trial: Trial, versions: Sequence[Publication]) -> Edition:
    """The page as it would be published now, to be read over."""
    page = with_changes(page, versions)
    slug = versions[0].slug if versions else slug_of(page.title)
    number = versions[0].version + 1 if versions else 1
    day = now()
    return Edition(as_record(page), slug, number, f"{day:%d %B %Y}", day.date().isoformat(), "", number)


def edition(db: Session, row: Publication, newest: Publication) -> Edition:
    """A version as its page tells of it now, dates in the kitchen's time zone."""
    moment = row.published_at.astimezone(ZoneInfo(the_kitchen(db).time_zone))
    return Edition(
        standing(db, row.document),
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
    drop_sheets_that_link(db, {row.slug for row in rows})
    return rows
