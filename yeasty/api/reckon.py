"""Numbers that need the scientific libraries, from the reckoner; its being away is a problem document."""

from typing import Any

from flask import current_app

from yeasty.api.problems import ApiError
from yeasty.operations import reckoning


def reckon(ask: str, **given: Any) -> Any:
    """The reckoner's answer.

    Raises
    ------
    RuleError, Refused : what a rule refused, as if it had been raised here
    ApiError : 503 while the reckoner is away, 500 for a fault of its own
    """
    try:
        return reckoning.reckon(current_app.config["RECKONER"], ask, given)
    except reckoning.ReckonerAwayError:
        raise ApiError(
            503, "Not reckoning", "The calculators are starting or busy. Try again in a few seconds."
        ) from None
    except reckoning.ReckonerFaultError:
        raise ApiError(
            500, "Something went wrong", "The fault is ours and is in the log. Nothing was saved."
        ) from None
