"""Sections of published pages: one row each; which stand on a page, and in what order, its kind says."""

from collections.abc import Mapping

from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.core.publish.sections import recipes, seen, stands_on, texts, troubles, ways
from yeasty.core.publish.sections.kind import Record, Section

SECTIONS: Mapping[str, Section] = {
    s.key: s
    for s in (
        texts.INTRO,
        troubles.NORMAL,
        troubles.TROUBLES,
        texts.SERVING,
        texts.KEEPING,
        texts.LEFTOVERS,
        texts.LESSONS,
        texts.LINKED,
        texts.CHANGED,
        texts.SIGNS,
        texts.QUOTES,
        recipes.RECIPE,
        recipes.RECIPES,
        ways.WAYS,
        ways.REFUSED,
        seen.SEEN,
        stands_on.ANSWER,
        stands_on.WHY,
        stands_on.CLAIMS,
        stands_on.PURPOSES,
        stands_on.ANOTHER,
        stands_on.SURE,
    )
}


def sections_of(record: Record) -> list[Section]:
    """The sections of a page that have anything to say, in their order; pages that belong to it and what
    changed stand last on all.
    """
    order = (*KINDS[PageKind(record["kind"])].sections, texts.LINKED.key, texts.CHANGED.key)
    return [s for s in (SECTIONS[key] for key in order) if s.there(record)]
