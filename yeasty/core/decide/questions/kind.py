"""What a question is given, and what it makes of it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from yeasty.core.ask.deciding import Deciding
from yeasty.core.decide.curves import Points
from yeasty.core.decide.measured import Measured
from yeasty.core.decide.nested import CLEAR_LEVEL, Fit, Range, told_range
from yeasty.core.decide.outcome import Answered, HowSure, Verdict
from yeasty.core.decide.scores import Table
from yeasty.core.decide.tallies import Counts


@dataclass(frozen=True)
class Way:
    """A method as a question sees it.

    Attributes
    ----------
    key, tag, name : identity and words
    fit : whether it may be recommended: judged, and not failed at its core
    rung : where it stands on a ladder, None on none; `rung_words` : the same as a cook says it
    levels : of a grid, one a factor
    parent : the way it came from, of this trial; `change`, `aimed_defect`, `outcome`, `failed_tries` as
    written
    word, note : of a screening; family : what it is a variant of, as its technique
    cooked : whether it was cooked to the end here
    """

    key: str
    tag: str
    name: str
    fit: bool
    rung: float | None = None
    rung_words: str = ""
    levels: tuple[str, ...] = ()
    parent: str | None = None
    change: str = ""
    aimed_defect: str = ""
    outcome: str = ""
    failed_tries: int = 0
    word: str = ""
    note: str = ""
    family: str = ""
    cooked: bool = True


@dataclass(frozen=True)
class Rescued:
    """What a way was rescued by, and the word that was given to what came of it."""

    way: str
    finish: str
    word: str
    note: str = ""


@dataclass(frozen=True)
class Asked:
    """A trial as it was designed and done.

    Attributes
    ----------
    ways : its methods, in their order
    champion : the one that stays on a tie
    factors : names of what a grid varies
    rises : what rises along a ladder
    words : of a screening, from worst to best; `few` : how many go on
    matters : the smallest difference that matters, set beforehand [points]
    along : of a grid, the factor that rises and the value of each of its levels [SI], None where none does
    one_load : whether all of a round came from one pot, tray or cook
    slipped : what differed besides what was to differ, in words
    rescued : of a screening, finishes that were given a word of their own
    change : what is done or skipped, in words
    deciding : school, ties, limits, claim, as said beforehand
    """

    ways: Sequence[Way]
    champion: str | None = None
    factors: Sequence[str] = ()
    rises: str = ""
    words: Sequence[str] = ()
    few: int = 3
    matters: float = 0.0
    along: tuple[int, Mapping[str, float]] | None = None
    one_load: bool = False
    slipped: Sequence[str] = ()
    rescued: Sequence[Rescued] = ()
    change: str = ""
    deciding: Deciding = field(default_factory=Deciding)


@dataclass(frozen=True)
class Look:
    """What was seen of a face, in the cook's words with the hour."""

    face: str
    words: str


@dataclass(frozen=True)
class Basis:
    """What was tasted: the verdict of the school in front, the scores it stands on, the fit (None where
    nothing can be compared), whether it was blind; `measured`: what judged batches came to, `counts` what was
    counted of them, `curves` what was read over time (measure, way, batches), `looks` what was seen,
    `contradicted` records that cannot both be so; `day_of` batch to the sitting or the load it lies in.
    """

    verdict: Verdict
    table: Table
    method_of: Mapping[str, str]
    fit: Fit | None
    blind: bool = True
    names: Mapping[str, str] = field(default_factory=dict)
    measured: Measured = field(default_factory=dict)
    counts: Counts = field(default_factory=dict)
    curves: Mapping[str, Mapping[str, Sequence[Points]]] = field(default_factory=dict)
    looks: Mapping[str, Sequence[Look]] = field(default_factory=dict)
    contradicted: Sequence[str] = ()
    day_of: Mapping[str, str] = field(default_factory=dict)

    def range(self, first: str, second: str) -> Range | None:
        """First minus second with its range: by batches where both were tasted twice, else with a spread
        that is assumed; None where they cannot be compared.
        """
        if self.fit is None or self.fit.f_person == 0 or not {first, second} <= set(self.fit.means):
            return None
        return told_range(self.fit, first, second)


Question = Callable[[Asked, Basis], Answered]


def sure_of(r: Range, verdict: Verdict) -> HowSure:
    """The word for one difference: clear only by batches tasted twice and a verdict that may be clear."""
    if not r.off_nought:
        return HowSure.LEVEL
    by_batches = r.level == CLEAR_LEVEL
    return HowSure.CLEAR if by_batches and verdict.how_sure is HowSure.CLEAR else HowSure.LEANING


def points(value: float) -> str:
    """A number of points as it is said.

    >>> points(1.04), points(-0.5)
    ('1.0', '−0.5')
    """
    return f"{value:.1f}".replace("-", "−")


def spoken(r: Range) -> str:
    """A range as it is said.

    >>> spoken(Range(1.0, 0.2, 1.8, 0.9))
    '1.0 points (90 % range 0.2 to 1.8)'
    """
    return f"{points(r.difference)} points ({r.level * 100:.0f} % range {points(r.low)} to {points(r.high)})"
