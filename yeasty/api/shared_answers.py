"""Answers that many screens ask for at once: worked out once, told to all for a moment.

Only what is the same for everyone who may ask; nothing is lost with it. A key carries what the answer depends
on (as the last number of a shift), so that a new entry is never answered with what was before it.
"""

import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from contextlib import suppress

from flask import current_app

MOST = 64


class SharedAnswers:
    """The newest answers by key, each for a few seconds [s]. What is being worked out is waited for."""

    def __init__(self, keep_s: float) -> None:
        self._keep_s = keep_s
        self._lock = threading.Lock()
        self._kept: OrderedDict[Hashable, tuple[float, str]] = OrderedDict()
        self._making: dict[Hashable, Future[str]] = {}

    def get(self, key: Hashable, make: Callable[[], str]) -> str:
        """What was answered a moment ago, else what `make` gives.

        >>> shared = SharedAnswers(60.0)
        >>> shared.get("a", lambda: "first"), shared.get("a", lambda: "second"), shared.get("b", lambda: "other")
        ('first', 'first', 'other')
        """  # noqa: E501
        with self._lock:
            kept = self._kept.get(key)
            if kept is not None and time.monotonic() - kept[0] < self._keep_s:
                return kept[1]
            awaited = self._making.get(key)
            mine: Future[str] = self._making.setdefault(key, Future())
        if awaited is not None:
            with suppress(Exception):
                return awaited.result()
            # What failed for one may do for another, and tells them in any case what is wrong.
            return make()
        try:
            made = make()
        except BaseException as failed:
            self._over(key)
            mine.set_exception(failed)
            raise
        with self._lock:
            self._kept[key] = (time.monotonic(), made)
            self._kept.move_to_end(key)
            while len(self._kept) > MOST:
                self._kept.popitem(last=False)
        self._over(key)
        mine.set_result(made)
        return made

    def _over(self, key: Hashable) -> None:
        with self._lock:
            self._making.pop(key, None)


def shared(name: str, keep_s: float) -> SharedAnswers:
    """The answers of a kind that this application shares; another one, on another database, has its own."""
    found: SharedAnswers = current_app.extensions.setdefault(f"yeasty_shared_{name}", SharedAnswers(keep_s))
    return found
