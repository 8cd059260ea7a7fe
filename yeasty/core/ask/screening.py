"""A screening: many ways, one note each, judged quickly on an ordered ladder of words."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.ask.marks import MOST_MARKS
from yeasty.core.ask.techniques import OWN
from yeasty.core.kernel.errors import RuleError

# From worst to best; a kitchen's trial may use others.
WORDS = ("leave it", "weak", "fair", "good", "better than any yet")


@dataclass(frozen=True)
class Row:
    """A way to cook as it was typed: name, technique as its key ("" where not named), note; `called` is what
    it is cooked in or on where no library knows that.
    """

    name: str
    technique: str
    note: str
    called: str = ""


def own_key(called: str) -> str:
    """What records call a technique that no library holds.

    >>> own_key("Clay pot (big)"), own_key("—")
    ('own_clay_pot_big', '')
    """
    words = re.sub(r"\W+", "_", called.lower()).strip("_")
    return f"{OWN}{words}"[:60] if words else ""


def read_table(text: str, techniques: Mapping[str, str], taken: Sequence[str] = ()) -> list[Row]:
    """Rows of a pasted or typed table: name, technique, note, parted by tabs, semicolons or vertical bars.

    Parameters
    ----------
    techniques : key to name; either is understood, in any case
    taken : names that are in the trial already

    Raises
    ------
    RuleError : naming the row: an empty name, one twice, a technique without letters; or more than a trial
        holds

    >>> rows = read_table("Milk first\\tHob\\nRice first; hob; slower", {"hob": "Hob"})
    >>> [(r.technique, r.note) for r in rows]
    [('hob', ''), ('hob', 'slower')]
    >>> read_table("Under a lid of dough; clay pot", {"hob": "Hob"})[0].called
    'clay pot'
    """
    known = {k.lower(): k for k in techniques} | {n.lower(): k for k, n in techniques.items()}
    rows: list[Row] = []
    seen = {t.lower() for t in taken}
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        mark = next((m for m in ("\t", ";", "|") if m in line), "\t")
        cells = [c.strip() for c in line.strip().strip("|").split(mark)]
        name, technique, note = ([*cells, "", "", ""])[:3]
        if number == 1 and name.lower() in ("name", "way", "method"):
            continue
        if not name:
            raise RuleError(
                f"line {number}", "has no name", "Write what is done differently, first on the line."
            )
        if name.lower() in seen:
            raise RuleError(
                f"line {number}", f"“{name}” is there already", "Give each way a name of its own."
            )
        key = known.get(technique.lower(), "")
        if technique and not key and not own_key(technique):
            raise RuleError(
                f"line {number}",
                f"the technique “{technique}” has no letters",
                "Write what it is cooked in or on, or leave it out.",
            )
        seen.add(name.lower())
        rows.append(Row(name, key, note, "" if key else technique))
    if not rows:
        raise RuleError("table", "is empty", "Write one way a line: name, technique, note.")
    if len(rows) + len(taken) > MOST_MARKS:
        raise RuleError(
            "table", f"{len(rows) + len(taken)} ways", f"A trial holds {MOST_MARKS}: split it in two."
        )
    return rows


def check_words(words: Sequence[str]) -> tuple[str, ...]:
    """The ladder of words, if it is one.

    Raises
    ------
    RuleError : fewer than three, more than nine, empty or twice
    """
    clean = tuple(w.strip() for w in words)
    if not 3 <= len(clean) <= 9 or "" in clean or len({w.lower() for w in clean}) != len(clean):
        raise RuleError("words", "are not 3 to 9 different ones", "Write them from worst to best.")
    return clean


def best_few(verdicts: Mapping[str, str], words: Sequence[str], few: int) -> tuple[tuple[str, ...], str]:
    """The best of a screening and a sentence; nobody who stands equal with the last is left out.

    >>> best_few({"a": "good", "b": "fair", "c": "good", "d": "weak"}, WORDS, 1)
    (('a', 'c'), '2 stand at “good”: one note each, not blind, so this chooses what to try closer and settles nothing.')
    """  # noqa: E501
    rank = {w: i for i, w in enumerate(words)}
    judged = sorted(((rank[w], k) for k, w in verdicts.items() if w in rank), key=lambda r: (-r[0], r[1]))
    if not judged:
        return (), "None is judged yet."
    last = judged[min(few, len(judged)) - 1][0]
    chosen = tuple(k for r, k in judged if r >= last)
    stand = "stands" if len(chosen) == 1 else "stand"
    at = f"“{words[last]}”" + ("" if judged[0][0] == last else " or above")
    return chosen, (
        f"{len(chosen)} {stand} at {at}: one note each, not blind, so this chooses what to try "
        "closer and settles nothing."
    )
