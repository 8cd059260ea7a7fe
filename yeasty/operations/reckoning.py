"""Asking the reckoner: numbers that need the scientific libraries, which neither web processes nor the store
load.
"""

import json
import socket
from typing import Any

from yeasty.core.kernel.errors import Refused, RuleError

PATIENCE_S = 60.0


class ReckonerAwayError(Exception):
    """It is starting, or busy."""


class ReckonerFaultError(Exception):
    """A fault of its own, which is in its log."""


def reckon(path: str, ask: str, given: dict[str, Any]) -> Any:
    """The reckoner's answer, by the socket it listens on.

    Raises
    ------
    RuleError, Refused : what a rule refused, as if it had been raised here
    ReckonerAwayError, ReckonerFaultError : see there
    """
    line = json.dumps({"ask": ask, "with": given}).encode() + b"\n"
    try:
        with socket.socket(socket.AF_UNIX) as s:
            s.settimeout(PATIENCE_S)
            s.connect(path)
            s.sendall(line)
            with s.makefile("rb") as told:
                answer = json.loads(told.readline())
    except (OSError, ValueError) as away:
        raise ReckonerAwayError from away
    if "problem" in answer:
        p = answer["problem"]
        raise (Refused if p["refused"] else RuleError)(p["field"], p["message"], p["todo"])
    if "fault" in answer:
        raise ReckonerFaultError
    return answer["answer"]
