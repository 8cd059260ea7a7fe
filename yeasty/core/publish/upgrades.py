"""Archives of earlier versions brought up to today's, one version at a time. Each step is a function of its
own.

What is malformed is left as it is: the schema tells of it afterwards.
"""

from collections.abc import Callable, Mapping
from typing import Any
from uuid import NAMESPACE_OID, uuid5

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


def from_8(tables: Tables) -> None:
    """Tastings have rounds, one as they were; answers are typed, comments rows of their own; questions may
    list words.
    """
    for row in _rows(tables, "attribute"):
        row.setdefault("words", [])
    rounds = {}
    for n, row in enumerate(_rows(tables, "tasting")):
        rounds[row.get("id")] = {
            "id": str(uuid5(NAMESPACE_OID, f"{row.get('id')} round {n}")),
            "tasting_id": row.get("id"),
            "position": 0,
            "test": "scored",
            "name": "",
            "part": row.pop("part", ""),
            "condition": "",
            "age_words": row.pop("age_words", ""),
            "attributes": [],
            "settings": {"attribute": "", "label": "", "ties": False},
            "break_s": 0,
        }
        row |= {"stopped_at": None, "stopped_why": "", "one_way": False}
    tables["taste_round"] = list(rounds.values())
    tables["spoilt_sample"] = []
    round_of = {}
    for row in _rows(tables, "sample"):
        row |= {
            "round_id": rounds.get(row.get("tasting_id"), {}).get("id"),
            "piece": "",
            "state": "fresh",
            "outside": "",
        }
        round_of[row.get("id")] = row["round_id"]
    tables["serving"] = [
        {
            "seat_id": row.get("id"),
            "round_id": rounds.get(row.get("tasting_id"), {}).get("id"),
            "order": row.pop("order", []),
        }
        for row in _rows(tables, "seat")
    ]
    for row in _rows(tables, "seat"):
        row.setdefault("may_quote", False)
    _typed_answers(tables, round_of)


def _typed_answers(tables: Tables, round_of: Mapping[Any, Any]) -> None:
    comments, answers = [], []
    for row in _rows(tables, "answer"):
        at = round_of.get(row.get("sample_id"))
        value, words = row.pop("value", None), row.pop("comment", "")
        if row.get("attribute_id") is None:
            same = {k: row.get(k) for k in ("id", "seat_id", "sample_id", "given_at")}
            comments.append(same | {"round_id": at, "text": words})
            continue
        said = None if value is None else {"kind": "value", "value": value}
        answers.append(row | {"round_id": at, "said": said, "refused": value is None, "why": ""})
    tables["answer"], tables["comment"] = answers, comments


def from_9(tables: Tables) -> None:
    """Cups have letters; a tasting is laid before it is served; whoever plates may see half a key."""
    for row in _rows(tables, "tasting"):
        row |= {
            "protocol": "plated",
            "served_at": row.get("created_at"),
            "read_off_at": None,
            "read_off_by": None,
        }
    for row in _rows(tables, "sample"):
        row.setdefault("place", None)
    for row in _rows(tables, "key_view"):
        row.setdefault("half", "")
    tables["cup"] = []


def from_10(tables: Tables) -> None:
    """How a trial is decided is said beforehand; before, it was by weighted score."""
    for row in _rows(tables, "trial"):
        row["deciding"] = {
            "school": "weighted_score",
            "ties": ["hands_s", "wash_up_s", "total_s", "energy_j", "cost"],
            "limits": [],
            "claim": "",
            "effort": "total_s",
            "said_at": None,
        }


def from_11(tables: Tables) -> None:
    """Claims are kept as picks; methods say what they are for."""
    tables.setdefault("claim", [])
    for row in _rows(tables, "method"):
        row.setdefault("purpose", "")


def from_12(tables: Tables) -> None:
    """Photos of a page are chosen."""
    for row in _rows(tables, "draft"):
        row.setdefault("pictures", [])


UPGRADES: Mapping[int, Callable[[Tables], None]] = {
    4: from_4,
    5: from_5,
    6: from_6,
    7: from_7,
    8: from_8,
    9: from_9,
    10: from_10,
    11: from_11,
    12: from_12,
}


def upgraded(tables: Any, version: int, to: int) -> Any:
    """Tables of an archive as they are written today; changed in place.

    >>> upgraded({"shift": [{}]}, 4, 5)
    {'shift': [{'same_age': False}]}
    """
    if isinstance(tables, dict):
        for step in range(version, to):
            UPGRADES[step](tables)
    return tables
