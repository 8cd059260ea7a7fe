"""Loads that batches came from; what a load makes of all that it holds cancels between them."""

from collections.abc import Mapping, Sequence

from yeasty.core.cook.measures import BatchMeasures
from yeasty.core.decide.scores import Answer
from yeasty.store.cook.tables import Batch


def methods_tasted(answers: Sequence[Answer]) -> dict[str, str]:
    """Tasted batch to its way."""
    return {a.batch: a.method for a in answers}


def loads_of(cooked: Sequence[tuple[Batch, BatchMeasures]]) -> dict[str, str]:
    """Batch to the load it was part of, in its shift; what was cooked alone is left out."""
    return {str(b.id): f"{b.shift_id} {b.facts['together']}" for b, _ in cooked if b.facts.get("together")}


def beside_loads(
    day_of: Mapping[str, str], loads: Mapping[str, str], method_of: Mapping[str, str]
) -> dict[str, str]:
    """Where every load held every way, the load is what batches are compared within, as the day is: what a
    load makes of all it holds cancels (a split plot). Else the days as they are.
    """
    if len(method_of) < 2 or not method_of.keys() <= loads.keys():
        return dict(day_of)
    held: dict[str, set[str]] = {}
    for batch, method in method_of.items():
        held.setdefault(loads[batch], set()).add(method)
    every = set(method_of.values())
    if len(every) < 2 or any(ways != every for ways in held.values()):
        return dict(day_of)
    in_order = [b for b in dict.fromkeys([*day_of, *method_of]) if b in method_of]
    return {b: f"{day_of.get(b, '')} {loads[b]}" for b in in_order}


def from_one_load(answers: Sequence[Answer], loads: Mapping[str, str]) -> bool:
    """Whether what was tasted came from loads that held every way."""
    method_of = methods_tasted(answers)
    return beside_loads({}, loads, method_of) != {} and len(method_of) > 1
