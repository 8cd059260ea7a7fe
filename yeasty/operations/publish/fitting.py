"""A page's recipes in a reader's kitchen, from the reckoner; what was asked before is not reckoned again."""

import json
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any

from yeasty.core.publish.reader import Kitchen
from yeasty.operations.reckoning import reckon

Rows = Sequence[Mapping[str, Any]]


@lru_cache(maxsize=256)
def _fitted(path: str, recipes: str, kitchen: str) -> str:
    return json.dumps(
        reckon(path, "fitted", {"recipes": json.loads(recipes), "kitchen": json.loads(kitchen)})
    )


def fitted(path: str, recipes: Rows, kitchen: Kitchen) -> list[dict[str, Any]]:
    """Each recipe as it is for this kitchen; see `yeasty.core.publish.fitted.Fitted`.

    Raises
    ------
    ReckonerAwayError, ReckonerFaultError : it cannot be reckoned now
    """
    asked = json.dumps(list(recipes), sort_keys=True)
    found: list[dict[str, Any]] = json.loads(
        _fitted(path, asked, json.dumps(kitchen.numbers(), sort_keys=True))
    )
    return found
