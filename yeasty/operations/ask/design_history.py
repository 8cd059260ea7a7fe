"""The history of a trial's design: what it was before an edit and after it, value by value."""

import uuid
from collections.abc import Mapping
from typing import Any

from sqlalchemy.orm import Session

from yeasty.store.ask.tables import DesignChange
from yeasty.store.base import now

# An edit that changes more than this many values is kept as this many and a count.
MOST_VALUES = 400
# Raised by every edit, and not a value of the design.
OWN_TO_AN_EDIT = frozenset({"version", "updated_at", "created_at"})


def flat(value: Any, path: str = "") -> dict[str, Any]:
    """A nested record as path to value; rows of a list that have an id go by it, so that moving one changes
    nothing else.

    >>> flat({"a": [{"id": "x", "n": 1}], "b": 2})
    {'a.x.id': 'x', 'a.x.n': 1, 'b': 2}
    """
    if isinstance(value, Mapping):
        items = [(str(k), v) for k, v in value.items() if k not in OWN_TO_AN_EDIT]
    elif isinstance(value, list):
        items = [
            (str(v["id"]) if isinstance(v, Mapping) and v.get("id") else str(n), v)
            for n, v in enumerate(value)
        ]
    else:
        return {path: value}
    found: dict[str, Any] = {}
    for key, v in items:
        found |= flat(v, f"{path}.{key}" if path else key)
    return found


def _by_id(rows: list[Any]) -> dict[str, Any] | None:
    """Rows of a list by their ids; None where not each has one of its own."""
    found = {str(v["id"]): v for v in rows if isinstance(v, Mapping) and v.get("id")}
    return found if len(found) == len(rows) else None


def _apart(before: Any, after: Any) -> tuple[Any, Any]:
    """Both without most of what is the same in both: a design of forty ways is twenty thousand values, of
    which an edit changes one.
    """
    if isinstance(before, list) and isinstance(after, list):
        old, new = _by_id(before), _by_id(after)
        return _apart(old, new) if old is not None and new is not None else (before, after)
    if not isinstance(before, Mapping) or not isinstance(after, Mapping):
        return before, after
    left, right = dict(before), dict(after)
    for key, value in before.items():
        if key not in after:
            continue
        if value == after[key]:
            del left[key], right[key]
        else:
            left[key], right[key] = _apart(value, after[key])
    return left, right


def changes(before: Mapping[str, Any], after: Mapping[str, Any]) -> list[dict[str, Any]]:
    """Each value that is not the same, with what it was and what it is.

    >>> changes({"a": 1, "b": 2}, {"a": 1, "b": 3})
    [{'path': 'b', 'before': 2, 'after': 3}]
    """
    old, new = (flat(side) for side in _apart(before, after))
    return [
        {"path": path, "before": old.get(path), "after": new.get(path)}
        for path in dict.fromkeys([*old, *new])
        if old.get(path) != new.get(path)
    ]


def keep(
    db: Session,
    trial_id: uuid.UUID,
    version: int,
    *,
    by: uuid.UUID | None,
    what: str,
    before: Mapping[str, Any],
    after: Mapping[str, Any],
) -> DesignChange | None:
    """Keep an edit; nothing is kept where nothing changed."""
    found = changes(before, after)
    if not found:
        return None
    row = DesignChange(
        trial_id=trial_id, version=version, at=now(), by=by, what=what, changes=found[:MOST_VALUES]
    )
    db.add(row)
    return row
