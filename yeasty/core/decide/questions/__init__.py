"""The questions there are, by the kind of trial that usually asks them. Adding one touches its own file,
this list, its word and its picture.
"""

from collections.abc import Mapping

from yeasty.core.ask.trial import TrialKind
from yeasty.core.decide.outcome import Asks
from yeasty.core.decide.questions.best import best, branch, varieties
from yeasty.core.decide.questions.chain import chain
from yeasty.core.decide.questions.champion import champion
from yeasty.core.decide.questions.change import change
from yeasty.core.decide.questions.claim import claim
from yeasty.core.decide.questions.grid import grid
from yeasty.core.decide.questions.kind import Question
from yeasty.core.decide.questions.ladder import ladder
from yeasty.core.decide.questions.screening import screening

QUESTIONS: Mapping[Asks, Question] = {
    Asks.BEST: best,
    Asks.CHANGE: change,
    Asks.CHAMPION: champion,
    Asks.GRID: grid,
    Asks.LADDER: ladder,
    Asks.BRANCH: branch,
    Asks.SCREENING: screening,
    Asks.CHAIN: chain,
    Asks.VARIETIES: varieties,
    Asks.CLAIM: claim,
}
USUAL: Mapping[TrialKind, Asks] = {
    TrialKind.SIDE_BY_SIDE: Asks.BEST,
    TrialKind.ONE_CHANGE: Asks.CHANGE,
    TrialKind.CHAMPION: Asks.CHAMPION,
    TrialKind.GRID: Asks.GRID,
    TrialKind.LADDER: Asks.LADDER,
    TrialKind.BRANCH: Asks.BRANCH,
    TrialKind.SCREENING: Asks.SCREENING,
    TrialKind.CHAIN: Asks.CHAIN,
    TrialKind.VARIETIES: Asks.VARIETIES,
}
