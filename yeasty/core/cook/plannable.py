"""Whether something can be planned at all, told before anything is searched."""

import itertools

from yeasty.core.cook.problem import DAY_S, Chain, Problem
from yeasty.core.cook.together import check_loads
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import check_steps


def check_problem(problem: Problem) -> None:
    """Raise where a problem cannot be planned at all: the field, what is wrong, what to do.

    Raises
    ------
    RuleError : no batch, a window turned round, hands that are not 1 to 4, a batch without steps or with bad
        ones, an appliance that a step needs and that is not described while others are, the same batch twice,
        a load that does not go into one appliance at one setting
    """
    if not problem.chains and not problem.fixed:
        raise RuleError("batches", "none to plan", "Add at least one batch to the shift.")
    if problem.serve_until < problem.serve_from:
        raise RuleError("serving window", "ends before it begins", "Give the later time as its end.")
    if not 1 <= problem.people <= 4:
        raise RuleError("people", f"{problem.people}", "Give 1 to 4 pairs of hands.")
    if problem.not_before is not None and problem.serve_until < problem.not_before - 30 * DAY_S:
        raise RuleError("serving window", "lies long in the past", "Give a time to come.")
    keys = [c.batch for c in problem.chains]
    if len(set(keys)) != len(keys):
        raise RuleError("batches", "one is there twice", "Give each batch its own key.")
    for chain in problem.chains:
        _check_chain(problem, chain)
    for wrong in check_loads(problem.chains):
        raise wrong
    for chain in problem.chains:
        _check_days(problem, chain)


def _check_chain(problem: Problem, chain: Chain) -> None:
    """Steps that are there and right, on appliances that are described."""
    if not chain.steps:
        raise RuleError(chain.tag, "has no steps", "Give the method at least one step.")
    for wrong in check_steps(chain.steps):
        raise RuleError(f"{chain.tag}, {wrong.field}", wrong.message, wrong.todo)
    known = {p.key for p in problem.places}
    for step in chain.steps:
        if known and step.appliance and step.appliance not in known:
            raise RuleError(
                f"{chain.tag}, {step.what}",
                "needs an appliance that is missing",
                "Choose one of the kitchen’s.",
            )


def _check_days(problem: Problem, chain: Chain) -> None:
    """Work of days before, in order and with a serving day."""
    days = [s.days_before for s in chain.steps if s.during_offset_s is None]
    if any(later > earlier for earlier, later in itertools.pairwise(days)):
        raise RuleError(f"{chain.tag}", "goes back a day", "Put day-before work first.")
    if any(days) and problem.midnight is None:
        raise RuleError(
            f"{chain.tag}",
            "has day-before work, and the serving day is not known",
            "Give the shift a serving time.",
        )
