"""Text that can be kept: whole characters, none that a database or a file refuses."""

import re

_BAD = re.compile("[\x00\ud800-\udfff]")


def cannot_be_kept(text: str) -> str:
    """Why a text can be written nowhere, in words; "" where it can.

    >>> cannot_be_kept("crisp"), cannot_be_kept("cut \\ud83d")
    ('', 'holds half a character')
    """
    found = _BAD.search(text)
    if not found:
        return ""
    return "holds a character without a meaning (code 0)" if found[0] == "\x00" else "holds half a character"
