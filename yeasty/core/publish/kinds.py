"""Kinds of page: what an outcome asks of its page, which insists on one winner only where there is one."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from yeasty.core.ask.deciding import School
from yeasty.core.decide.outcome import Answered, Asks, HowSure


class PageKind(StrEnum):
    """What a page is about."""

    ONE_METHOD = "one_method"
    TONIGHT = "tonight"
    EVERY_WAY = "every_way"
    HOW_LONG = "how_long"
    DOES_IT_MATTER = "does_it_matter"
    STORY = "story"
    WHICH_TO_BUY = "which_to_buy"
    FINISHES = "finishes"
    WHAT_MATTERS = "what_matters"
    TITLE = "title"
    CLAIM = "claim"


class Recipes(StrEnum):
    """Which methods a page writes out."""

    ONE = "one"
    ONE_OR_EACH = "one or each"
    EACH = "each"
    NONE = "none"


@dataclass(frozen=True)
class KindOfPage:
    """A kind of page.

    Attributes
    ----------
    key, name : identity, and what the lead chooses it by
    sections : what stands on it, in order; a section without anything to say is left out
    why : heading over what the page stands on
    recipes : which methods it writes out: the one that was chosen or leads; the same, or each of the few that
        may be told where none does; each; or none
    """

    key: PageKind
    name: str
    sections: tuple[str, ...]
    why: str
    recipes: Recipes = Recipes.ONE_OR_EACH


WORDS = ("seen", "signs", "lessons", "normal", "troubles", "serving", "keeping", "leftovers", "quotes")
STANDS_ON = ("why", "claims", "purposes", "another", "sure")

KINDS: Mapping[PageKind, KindOfPage] = {
    k.key: k
    for k in (
        KindOfPage(
            PageKind.ONE_METHOD,
            "One method",
            ("intro", "recipe", *WORDS, "answer", *STANDS_ON),
            "Why this one",
            Recipes.ONE,
        ),
        KindOfPage(
            PageKind.TONIGHT,
            "Which one tonight: no winner",
            ("intro", "ways", "recipes", *WORDS, "refused", *STANDS_ON),
            "What stands between them",
            Recipes.EACH,
        ),
        KindOfPage(
            PageKind.EVERY_WAY,
            "Every way we tried",
            ("intro", "ways", "refused", *WORDS, "why", "claims", "purposes", "sure"),
            "What this look came to",
            Recipes.NONE,
        ),
        KindOfPage(
            PageKind.HOW_LONG,
            "How long",
            ("intro", "answer", "recipe", "recipes", *WORDS, "why", "claims", "sure"),
            "What it stands on",
        ),
        KindOfPage(
            PageKind.DOES_IT_MATTER,
            "Does it matter",
            ("intro", "answer", "why", "claims", "recipe", "recipes", *WORDS, "purposes", "another", "sure"),
            "What was found",
        ),
        KindOfPage(
            PageKind.STORY,
            "The story, version by version",
            ("intro", "answer", "ways", "recipe", "recipes", *WORDS, *STANDS_ON),
            "What changed from one to the next",
        ),
        KindOfPage(
            PageKind.WHICH_TO_BUY,
            "Which to buy",
            ("intro", "answer", "why", "claims", "recipe", "recipes", *WORDS, "purposes", "another", "sure"),
            "What was found",
        ),
        KindOfPage(
            PageKind.FINISHES,
            "Choose a finish",
            ("intro", "answer", "recipe", "recipes", "ways", *WORDS, *STANDS_ON),
            "What stands between the finishes",
        ),
        KindOfPage(
            PageKind.WHAT_MATTERS,
            "What matters",
            ("intro", "answer", "why", "claims", "recipe", "recipes", *WORDS, "sure"),
            "What was found",
        ),
        KindOfPage(
            PageKind.TITLE,
            "Defend or fall",
            ("intro", "answer", "recipe", "recipes", *WORDS, *STANDS_ON),
            "Why it holds the title",
        ),
        KindOfPage(
            PageKind.CLAIM,
            "The claim",
            ("intro", "answer", "seen", "why", "claims", "sure"),
            "What was measured",
            Recipes.NONE,
        ),
    )
}

USUAL: Mapping[Asks, PageKind] = {
    Asks.BEST: PageKind.ONE_METHOD,
    Asks.CHANGE: PageKind.DOES_IT_MATTER,
    Asks.CHAMPION: PageKind.TITLE,
    Asks.GRID: PageKind.WHAT_MATTERS,
    Asks.LADDER: PageKind.HOW_LONG,
    Asks.BRANCH: PageKind.FINISHES,
    Asks.SCREENING: PageKind.EVERY_WAY,
    Asks.CHAIN: PageKind.STORY,
    Asks.VARIETIES: PageKind.WHICH_TO_BUY,
    Asks.CLAIM: PageKind.CLAIM,
}


def sure_in_words(answer: Answered, tasters: int) -> str:
    """How sure an answer is, as a reader is told. `tasters` : people who judged it."""
    if answer.question is Asks.SCREENING:
        return "A first look, one note each and not blind: it says what to try closer, and settles nothing."
    if tasters == 1 and answer.how_sure is HowSure.NOT_COMPARABLE:
        return "One person's answers: their taste, which says nothing of what others would like."
    return f"How sure: {answer.how_sure.value}."


def usual_kind(answer: Answered | None, school: School, *, chosen: bool) -> PageKind:
    """The kind of page that an outcome asks for: by its question; *which one tonight* where the question was
    which is best and people could not tell, and where no winner was wanted.

    `chosen` : whether the lead named a method
    """
    if answer is None:
        return PageKind.ONE_METHOD
    level = answer.leader is None and answer.how_sure is HowSure.LEVEL
    if answer.question is Asks.BEST and not chosen and (school is School.NO_WINNER or level):
        return PageKind.TONIGHT
    return USUAL[answer.question]
