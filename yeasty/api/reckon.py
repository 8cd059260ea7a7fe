"""Asking the reckoner: numbers that need the scientific libraries, which web processes do not load."""

import json
import socket
from typing import Any

from flask import current_app

from yeasty.api.problems import ApiError
from yeasty.core.errors import Refused, RuleError

PATIENCE_S = 60.0


def reckon(ask: str, **given: Any) -> Any:
    """The reckoner's answer.

    Raises
    ------
    RuleError, Refused : what a rule refused, as if it had been raised here
    ApiError : 503 while the reckoner is away, 500 for a fault of its own
    """
    line = json.dumps({"ask": ask, "with": given}).encode() + b"\n"
    try:
        with socket.socket(socket.AF_UNIX) as s:
            s.settimeout(PATIENCE_S)
            s.connect(current_app.config["RECKONER"])
            s.sendall(line)
            with s.makefile("rb") as told:
                answer = json.loads(told.readline())
    except (OSError, ValueError):
        raise ApiError(503, "Not reckoning", "The calculators are starting or busy. Try again in a few seconds.") from None
    if "problem" in answer:
        p = answer["problem"]
        raise (Refused if p["refused"] else RuleError)(p["field"], p["message"], p["todo"])
    if "fault" in answer:
        raise ApiError(500, "Something went wrong", "The fault is ours and is in the log. Nothing was saved.")
    return answer["answer"]
