"""A published page as a document: what a stranger needs to cook by it, and what it stands on.

The document is plain data (`as_record`), frozen at publication; every writer (page, PDF, Markdown, linked
data) starts from that record, so that all say the same.
"""

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from typing import Any

from yeasty.core.decide.outcome import Picture
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.kinds import KINDS, PageKind, Recipes
from yeasty.core.publish.pictures import Shown, without_words
from yeasty.core.publish.recipe import Recipe
from yeasty.core.publish.troubles import Trouble
from yeasty.core.safety.cautions import DEFER

DOCUMENT_VERSION = 6


@dataclass(frozen=True)
class WayText:
    """One of the ways that a page tells of.

    Attributes
    ----------
    name, tag, mark : which it is
    word : what it came to, in a word or two
    when : what it is for; notes : what else is told of it
    numbers : what was measured of it, each a name and its words
    values : measure to what its cookings came to, in the measure's own unit, for whoever chooses by them
    picked : whether it is among the best few
    """

    name: str
    tag: str
    mark: int
    word: str = ""
    when: str = ""
    notes: tuple[str, ...] = ()
    numbers: tuple[tuple[str, str], ...] = ()
    values: Mapping[str, tuple[float, ...]] = field(default_factory=dict)
    picked: bool = False


@dataclass(frozen=True)
class Claimed:
    """A claim of the kitchen: the sentence its records carried at publication, what they are, how sure it is,
    and the records in lines that name nobody.
    """

    text: str
    standing: str
    how_sure: str
    records: tuple[str, ...] = ()


@dataclass(frozen=True)
class LinkedPage:
    """Another page of this kitchen that belongs to this one, as it stood when this one came out.

    Attributes
    ----------
    slug, version : where it is
    title, headline, how_sure : what it says
    """

    slug: str
    version: int
    title: str
    headline: str
    how_sure: str


@dataclass(frozen=True)
class Page:
    """What is published.

    Attributes
    ----------
    kind : what sort of page it is
    recipe : of the method it is about, None where it is about none; recipes : of every way that may be told,
        where it insists on none
    ways : what it tells of each way; refused : name of what nobody should cook by this page, and why
    picture : what answers the question, drawn
    why : sentences, each with what it stands on and what kind of record that is
    claims : what the kitchen picked to claim
    purposes : name of a way and what it is for, in the cook's words
    opinions : words of the lead that compare or count, tied to no record
    intro, normal, serving, keeping, disclosure, process : written by the lead
    photos : what is to be seen
    leftovers : what to do with what is left, each a rule and its source
    changed : what is other than in the version before it, in sentences
    troubles : what goes wrong or looks so, as the lead took it up
    lessons : what the lead holds of all methods, in their own words
    linked : pages that belong to this one
    doneness : where it is about how long: every other point that was cooked and may be told, written out
    """

    kind: PageKind
    title: str
    dish: str
    headline: str
    how_sure: str
    evidence: tuple[str, ...]
    not_equal: tuple[str, ...]
    recipe: Recipe | None = None
    recipes: tuple[Recipe, ...] = ()
    ways: tuple[WayText, ...] = ()
    refused: tuple[tuple[str, str], ...] = ()
    picture: Picture = field(default_factory=Picture)
    cues: tuple[str, ...] = ()
    quotes: tuple[str, ...] = ()
    why: tuple[tuple[str, str, str], ...] = ()
    claims: tuple[Claimed, ...] = ()
    purposes: tuple[tuple[str, str], ...] = ()
    choose_another: tuple[tuple[str, str], ...] = ()
    opinions: tuple[str, ...] = ()
    intro: str = ""
    normal: str = ""
    serving: str = ""
    keeping: str = ""
    disclosure: str = ""
    process: str = ""
    photos: tuple[Shown, ...] = ()
    leftovers: tuple[tuple[str, str], ...] = ()
    changed: tuple[str, ...] = ()
    troubles: tuple[Trouble, ...] = ()
    lessons: tuple[str, ...] = ()
    linked: tuple[LinkedPage, ...] = ()
    doneness: tuple[Recipe, ...] = ()
    defer: str = DEFER
    version: int = field(default=DOCUMENT_VERSION)


def check_page(page: Page) -> list[RuleError]:
    """What keeps a page from being published."""
    found = []
    if not page.title.strip():
        found.append(RuleError("title", "is empty", "Give the page a title."))
    kind = KINDS[page.kind]
    written = [page.recipe] if page.recipe else list(page.recipes)
    if not written and kind.recipes is not Recipes.NONE:
        found.append(RuleError("method", "none may be told", "Choose one that was cooked to the end here."))
    for r in written:
        where = "" if len(written) == 1 else f" of {r.method}"
        if not r.steps:
            found.append(RuleError(f"steps{where}", "none", "A method needs at least one step."))
        if not r.ingredients:
            found.append(
                RuleError(
                    f"ingredients{where}", "none", "Enter amounts at Set up, so that a stranger can cook it."
                )
            )
    if page.kind is PageKind.EVERY_WAY and not page.ways:
        found.append(RuleError("ways", "none is judged", "Give each a word at Cook or Decide first."))
    return found + without_words(page.photos)


def as_record(page: Page) -> dict[str, Any]:
    """The page as plain data for the database and the files."""
    return asdict(page)


def at_doneness(record: Mapping[str, Any], tag: str) -> Mapping[str, Any]:
    """A record of this version with another of its points written out, as a reader wants it; as it is where
    it has no such point.
    """
    other = next((r for r in record["doneness"] if r["tag"] == tag), None)
    if other is None or record["recipe"] is None:
        return record
    rest = [r for r in (record["recipe"], *record["doneness"]) if r["tag"] != tag]
    return {**record, "recipe": other, "doneness": rest}


# What documents before the third held of their one method, in the order of `Recipe`.
_OF_RECIPE = (
    "method",
    "tag",
    "mark",
    "pieces",
    "yield_text",
    "total_s",
    "ingredients",
    "allergens",
    "gear",
    "steps",
)
_LATER = {"cautions": {"first": 0, "brief": "", "danger": False}, "steps": {"beside": "", "days_before": 0}}


def as_now(record: Mapping[str, Any]) -> dict[str, Any]:
    """A record of any version as one of this version: what is out was frozen as it was written then."""
    version = record.get("version", 1)
    if version >= DOCUMENT_VERSION:
        return dict(record)
    if version == 5:
        return _from_5(record)
    if version == 4:
        return _from_5(_from_4(record))
    if version == 3:
        return _from_5(_from_4(_from_3(record)))
    recipe = {k: record[k] for k in _OF_RECIPE}
    recipe["allergens_unchecked"] = record.get("allergens_unchecked", [])
    recipe["says"] = []
    recipe["steps"] = [
        {
            **_LATER["steps"],
            **s,
            "cautions": [{**_LATER["cautions"], **c} for c in s["cautions"]],
        }
        for s in record["steps"]
    ]
    rest = {k: v for k, v in record.items() if k not in {*_OF_RECIPE, "allergens_unchecked"}}
    fresh: dict[str, Any] = {
        "kind": PageKind.ONE_METHOD.value,
        "recipes": [],
        "ways": [],
        "refused": [],
        "picture": asdict(Picture()),
        "quotes": [],
        "opinions": [],
        "process": "",
    }
    return _from_5(_from_4(_from_3({**fresh, **rest, "recipe": recipe})))


def _from_3(record: Mapping[str, Any]) -> dict[str, Any]:
    """Sentences did not say what kind of record they stand on, and nothing was picked to be claimed."""
    why = [[text, on, ""] for text, on, *_ in record["why"]]
    recipe = _of_3(record["recipe"]) if record["recipe"] else None
    recipes = [_of_3(r) for r in record["recipes"]]
    return {**record, "why": why, "claims": [], "purposes": [], "recipe": recipe, "recipes": recipes}


_SINCE_5: Mapping[str, list[Any]] = {"photos": [], "leftovers": [], "changed": [], "troubles": []}


def _from_4(record: Mapping[str, Any]) -> dict[str, Any]:
    """Nothing was to be seen, leftovers had no rules, versions were not compared, and nothing went wrong."""
    recipe = _of_4(record["recipe"]) if record["recipe"] else None
    recipes = [_of_4(r) for r in record["recipes"]]
    return {**record, "recipe": recipe, "recipes": recipes, **_SINCE_5}


def _from_5(record: Mapping[str, Any]) -> dict[str, Any]:
    """Recipes did not say how warm food was, troubles had no pictures, no page belonged to another."""
    recipe = {"start_c": None, **record["recipe"]} if record["recipe"] else None
    recipes = [{"start_c": None, **r} for r in record["recipes"]]
    troubles = [{"key": "", **t} for t in record["troubles"]]
    more: dict[str, Any] = {"lessons": [], "linked": [], "doneness": [], "troubles": troubles}
    return {**record, "recipe": recipe, "recipes": recipes, **more, "version": DOCUMENT_VERSION}


def _of_4(recipe: Mapping[str, Any]) -> dict[str, Any]:
    """Steps had no key of their own."""
    return {**recipe, "steps": [{"key": "", **s} for s in recipe["steps"]]}


def _of_3(recipe: Mapping[str, Any]) -> dict[str, Any]:
    """It did not say what another kitchen could be reckoned from, so none is."""
    unsaid = {
        "phase": "",
        "appliance": "",
        "set_point_c": None,
        "power_w": None,
        "core_c": None,
        "during_s": None,
    }
    steps = [{"low_s": s["duration_s"], "high_s": s["duration_s"], **unsaid, **s} for s in recipe["steps"]]
    how = {"technique": "", "thickness_m": None, "altitude_m": 0.0, "by_core": True}
    return {**how, **recipe, "steps": steps}
