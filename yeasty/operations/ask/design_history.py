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


def changes(before: Mapping[str, Any], after: Mapping[str, Any]) -> list[dict[str, Any]]:
    """Each value that is not the same, with what it was and what it is.

    >>> changes({"a": 1, "b": 2}, {"a": 1, "b": 3})
    [{'path': 'b', 'before': 2, 'after': 3}]
    """
    old, new = flat(before), flat(after)
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
