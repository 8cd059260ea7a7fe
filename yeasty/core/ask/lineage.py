"""A family tree of methods: who came from whom, and where each is drawn."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.kernel.errors import RuleError


@dataclass(frozen=True)
class Member:
    """A method in its family.

    Parameters
    ----------
    key : identity; parents : keys of those it came from, a by-product's maker among them
    group : the trial it belongs to; order : its place in that trial
    """

    key: str
    parents: tuple[str, ...]
    group: str
    order: int


@dataclass(frozen=True)
class Place:
    """Where a member is drawn: generation counts columns from the left, row counts from the top."""

    key: str
    generation: int
    row: int


def generations(members: Sequence[Member]) -> dict[str, int]:
    """How many steps each member is from the first: one more than its latest parent.

    Raises
    ------
    RuleError : a member that is its own forebear
    """
    by_key = {m.key: m for m in members}
    found: dict[str, int] = {}
    for start in by_key:
        path: list[str] = [start]
        while path:
            key = path[-1]
            if key in found:
                path.pop()
                continue
            missing = [p for p in by_key[key].parents if p in by_key and p not in found]
            if any(p in path for p in missing):
                raise RuleError("family", "a method would be its own forebear", "Choose another parent.")
            if missing:
                path.append(missing[0])
            else:
                found[key] = 1 + max((found[p] for p in by_key[key].parents if p in by_key), default=-1)
                path.pop()
    return found


def places(members: Sequence[Member]) -> list[Place]:
    """A place for each member: generations as columns, rows so that children stand beside their parents.

    The members of a trial stay together in a column; lines cross as little as a few sweeps can bring about. A
    row is never used twice in a column, so nothing overlaps however many there are.

    >>> [(p.key, p.generation, p.row) for p in places([Member("a", (), "t", 0), Member("b", ("a",), "u", 0)])]
    [('a', 0, 0), ('b', 1, 0)]
    """
    level = generations(members)
    columns: dict[int, list[Member]] = {}
    for m in sorted(members, key=lambda m: (level[m.key], m.group, m.order, m.key)):
        columns.setdefault(level[m.key], []).append(m)
    row: dict[str, float] = {m.key: float(i) for column in columns.values() for i, m in enumerate(column)}
    children: dict[str, list[str]] = {}
    for m in members:
        for p in m.parents:
            children.setdefault(p, []).append(m.key)
    for sweep in range(6):
        forward = sweep % 2 == 0
        for g in sorted(columns, reverse=not forward):
            column = columns[g]
            near = {
                m.key: [row[k] for k in (m.parents if forward else children.get(m.key, [])) if k in row]
                for m in column
            }
            pull = {k: sum(v) / len(v) if v else row[k] for k, v in near.items()}
            in_group: dict[str, list[float]] = {}
            for m in column:
                in_group.setdefault(m.group, []).append(pull[m.key])
            middle = {group: sum(v) / len(v) for group, v in in_group.items()}
            column.sort(key=lambda m: (middle[m.group], m.group, pull[m.key], m.order, m.key))
            _set_rows(column, pull, row)
    return sorted(
        (Place(m.key, level[m.key], round(row[m.key])) for m in members), key=lambda p: (p.generation, p.row)
    )


def _set_rows(column: Sequence[Member], pull: Mapping[str, float], row: dict[str, float]) -> None:
    last = -1
    for m in column:
        last = max(last + 1, round(pull[m.key]))
        row[m.key] = float(last)
