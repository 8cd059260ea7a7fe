"""Archives of earlier versions brought up to today's, one version at a time. Each step is a function of its
own.

What is malformed is left as it is: the schema tells of it afterwards.
"""

from collections.abc import Callable, Mapping
from typing import Any

Tables = dict[str, Any]


def _rows(tables: Tables, name: str) -> list[dict[str, Any]]:
    rows = tables.get(name)
    return [r for r in rows if isinstance(r, dict)] if isinstance(rows, list) else []


def from_4(tables: Tables) -> None:
    """Shifts may serve each batch at the same age."""
    for row in _rows(tables, "shift"):
        row.setdefault("same_age", False)


def from_5(tables: Tables) -> None:
    """Tastings keep their questions as they were at the opening, and no seed; methods keep struck hazards and
    a written rule.
    """
    asked = ("id", "name", "scale", "weight", "low_words", "high_words", "high_is_better")
    questions = [{k: a.get(k) for k in asked} for a in _rows(tables, "attribute")]
    for row in _rows(tables, "tasting"):
        row.pop("seed", None)
        row.setdefault("questions", questions if row.get("opened_at") else [])
        row.setdefault("served_with", [])
    for row in _rows(tables, "method"):
        row.setdefault("struck_hazards", {})
        row.setdefault("meant", {})


def from_6(tables: Tables) -> None:
    """Room and weather belong to shifts, which say too whether room was left (it always was) and whether they
    were written up.
    """
    room, weather = None, ""
    for row in _rows(tables, "trial"):
        room, weather = row.pop("room_c", None), row.pop("weather", "") or ""
        row.setdefault("put_away_at", None)
        row.setdefault("preparation", {})
    for row in _rows(tables, "shift"):
        row.setdefault("leave_room", True)
        row.setdefault("written_up", False)
        row.setdefault("room_c", room)
        row.setdefault("weather", weather)
        row.setdefault("cooks", "")


def from_7(tables: Tables) -> None:
    """What is cooked together has one word; methods may be one load; pieces say whether their weight is made
    up.
    """
    for row in _rows(tables, "piece"):
        row.setdefault("simulated", False)
    for row in _rows(tables, "method"):
        row.setdefault("together", "")
    for row in _rows(tables, "batch"):
        facts = row.get("facts")
        if isinstance(facts, dict) and "pot" in facts:
            facts["together"] = facts.pop("pot")


UPGRADES: Mapping[int, Callable[[Tables], None]] = {4: from_4, 5: from_5, 6: from_6, 7: from_7}


def upgraded(tables: Any, version: int, to: int) -> Any:
    """Tables of an archive as they are written today; changed in place.

    >>> upgraded({"shift": [{}]}, 4, 5)
    {'shift': [{'same_age': False}]}
    """
    if isinstance(tables, dict):
        for step in range(version, to):
            UPGRADES[step](tables)
    return tables
