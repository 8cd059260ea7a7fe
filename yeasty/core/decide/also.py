"""What else was measured of a method, in words: losses, shrink, call-backs, nuisance; each with how many
batches say so.
"""

from collections.abc import Callable, Mapping, Sequence

from yeasty.core.cook.measures import BatchMeasures


def also_measured(batches: Sequence[BatchMeasures]) -> tuple[str, ...]:
    """Sentences about the judged batches of a method; what no batch tells is left out, nought is told as
    nought.

    >>> also_measured([])
    ()
    """
    found = []
    losses = _by_name(batches, lambda m: dict(m.losses))
    shrink = _by_name(batches, lambda m: dict(m.shrink))
    for name, values in losses.items():
        found.append(f"{name} {_shares(values)}{_of(values, batches)}")
    for name, values in shrink.items():
        grew = max(values) < 0
        told = _shares([abs(v) for v in values] if grew else values)
        found.append(f"{'grew' if grew else 'shrank'} in {name} by {told}{_of(values, batches)}")
    done = [m for m in batches if m.complete]
    if done:
        calls = [m.call_backs for m in done]
        low, high = min(calls), max(calls)
        times = f"{low}" if low == high else f"{low} to {high}"
        found.append(f"called back {times} time{'' if times == '1' else 's'} while it cooked")
    for word in sorted({w for m in batches for w in m.nuisance}):
        count = sum(word in m.nuisance for m in batches)
        found.append(f"{word} noted at {count} of {len(batches)}")
    return tuple(found)


def _by_name(
    batches: Sequence[BatchMeasures], of: Callable[[BatchMeasures], Mapping[str, float]]
) -> dict[str, list[float]]:
    found: dict[str, list[float]] = {}
    for m in batches:
        for name, value in of(m).items():
            found.setdefault(name, []).append(value)
    return found


def _shares(values: Sequence[float]) -> str:
    low, high = (f"{100 * v:.1f}" for v in (min(values), max(values)))
    return f"{low} %" if low == high else f"{low} to {high} %"


def _of(values: Sequence[float], batches: Sequence[BatchMeasures]) -> str:
    return f" ({len(values)} of {len(batches)} cookings)" if len(batches) > 1 else ""
