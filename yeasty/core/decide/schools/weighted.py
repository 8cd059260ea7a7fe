"""Weighted scores: what counts more weighs more."""

from yeasty.core.ask.deciding import School
from yeasty.core.decide.schools.kind import SchoolKind
from yeasty.core.decide.scores import weighted_scores

WEIGHTED = SchoolKind(
    School.WEIGHTED, "weighted score", "points", "weighted, 0 to 10, mean over tasters", weighted_scores
)
