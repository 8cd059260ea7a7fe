"""A round as it was laid and tasted: what stood under its codes, and what each person said."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from yeasty.core.ask.trial import Attribute
from yeasty.core.taste.said import Said


class TestKey(StrEnum):
    """What records call a taste test."""

    __test__ = False

    SCORED = "scored"
    RANKING = "ranking"
    PREFERENCE = "preference"
    DIRECTED_PAIR = "directed_pair"
    MATCH_LABELS = "match_labels"
    GUESS_ONE = "guess_one"
    TETRAD = "tetrad"
    TRIANGLE = "triangle"
    DUO_TRIO = "duo_trio"


@dataclass(frozen=True)
class Settings:
    """What a round says of its test beyond what is served.

    Attributes
    ----------
    attribute : what a directed pair asks for more of
    label : the method that is to be picked out
    ties : whether places may be shared, or no preference said
    most_each : samples one person gets, where all are too many for a palate; 0 for all
    """

    attribute: str = ""
    label: str = ""
    ties: bool = False
    most_each: int = 0


@dataclass(frozen=True)
class Cup:
    """What stands under a code: its batch, its method and that in words."""

    code: str
    batch: str
    method: str
    name: str


@dataclass(frozen=True)
class Given:
    """An answer to a whole round, or to one question about one sample; `said` None is a refusal."""

    who: str
    blind: bool
    order: Sequence[str]
    said: Said | None
    code: str = ""
    attribute: str = ""


@dataclass(frozen=True)
class Round:
    """A round as it was tasted. `rising` : methods in the order of their rungs, where they are a ladder's;
    `named` : pairs of methods whose comparison was asked for before anybody tasted.
    """

    test: TestKey
    cups: Sequence[Cup]
    given: Sequence[Given]
    attributes: Sequence[Attribute]
    settings: Settings = field(default_factory=Settings)
    rising: Sequence[str] = ()
    named: Sequence[tuple[str, str]] = ()

    def cup(self, code: str) -> Cup:
        """What stands under a code."""
        return next(c for c in self.cups if c.code == code)

    def blind(self) -> list[Given]:
        """Answers of those who did not know which is which, refusals left out."""
        return [g for g in self.given if g.blind and g.said is not None]

    def names(self) -> dict[str, str]:
        """Method to its words."""
        return {c.method: c.name for c in self.cups}
