"""The whole job of each method, before anything is hot."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.ask.preparation import preparation
from yeasty.core.kernel.steps import Step
from yeasty.core.setup.job import Job, job, sentence
from yeasty.operations.ask import facts
from yeasty.store.ask import queries as trials
from yeasty.store.ask.tables import Method, Trial


@dataclass(frozen=True)
class Jobs:
    """Each method's job with the rounds it takes, and the names of the appliances in them by their ids."""

    items: Sequence[tuple[Method, Job, int]]
    appliances: dict[str, str]

    @property
    def sentence(self) -> str:
        """How they compare, in one sentence."""
        return sentence({m.tag: j for m, j, _ in self.items})

    @property
    def longest_s(self) -> float:
        """The longest of them [s]."""
        return max((j.total_s for _, j, _ in self.items), default=0.0)


def jobs_of(db: Session, trial: Trial) -> Jobs:
    """The job of each method of a trial, what is prepared for all in it."""
    used = trials.appliances_of(db, trial)
    items = []
    for m in trial.methods:
        steps: list[Step] = [*preparation(trial.preparation).steps, *(s.core() for s in m.steps)]
        rounds = facts.rounds_of(m, used)
        items.append((m, job(steps, rounds), rounds))
    return Jobs(items, {str(a.id): a.name for a in used.values()})
