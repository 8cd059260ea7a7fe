"""Rank points: how far apart two are does not count, only which comes before."""

from collections.abc import Sequence

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.schools.kind import SchoolKind
from yeasty.core.decide.scores import rank_points, ranked_directly


def rule(attributes: Sequence[Attribute]) -> tuple[str, str]:
    """How points come about, and from what."""
    names = ", ".join(a.name for a in ranked_directly(attributes))
    return (
        "Rank points: last place 0, each place one more, ties shared.",
        f"tasters' own order ({names})" if names else "places worked out from the weighted scores",
    )


RANK = SchoolKind(
    School.RANK, "rank points", "rank points", "points, mean over tasters", rank_points, rule, on_scale=False
)
