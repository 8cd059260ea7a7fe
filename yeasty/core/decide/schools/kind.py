"""What a school of judging is."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.scores import Answer

Scores = Callable[[Sequence[Answer], Sequence[Attribute], int], Mapping[tuple[str, str], float]]


@dataclass(frozen=True)
class SchoolKind:
    """One way of judging.

    Attributes
    ----------
    key : what records call it
    name : as it is chosen
    points : what its numbers are called
    axis : what stands beneath its picture
    table : answers, questions and number of samples to a score a taster and method
    rule : its rule and what it stands on, in words; None where the name says it
    on_scale : whether its points lie on the 0 to 10 in which the kitchen says what matters and how batches
        spread
    """

    key: School
    name: str
    points: str
    axis: str
    table: Scores
    rule: Callable[[Sequence[Attribute]], tuple[str, str]] | None = None
    on_scale: bool = True
