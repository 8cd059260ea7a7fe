"""What is typed from paper or stands in a table: “7”, “7 to 8”, “6 of 8”, a word, codes.

A dash is a refusal.
"""

import csv
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from io import StringIO

from yeasty.core.ask.trial import Attribute
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import SCALES
from yeasty.core.taste.said import (
    Said,
    SaidChoice,
    SaidGroups,
    SaidLabels,
    SaidOrder,
    SaidRange,
    SaidTally,
    SaidValue,
    SaidWords,
)
from yeasty.core.taste.tests.kind import TasteTest

LONGEST, MOST_ROWS = 400, 4000
REFUSALS = ("-", "–", "—")
COLUMNS = ("seat", "round", "code", "question", "answer", "words")


def _number(text: str, field: str) -> float:
    if not re.fullmatch(r"\d{1,6}(?:[.,]\d{1,4})?", text.strip()):
        raise RuleError(
            field, f"“{text[:40]}” cannot be read", "Type a number, a range or a word of the scale."
        )
    return float(text.strip().replace(",", "."))


def _parts(text: str, signs: str) -> list[str]:
    return [p.strip() for p in re.split(f"[{signs}]", text) if p.strip()]


def on_scale(text: str, asked: Attribute) -> Said | None:
    """An answer to one question about one sample; None is a refusal. Whether the scale takes it is checked
    elsewhere.

    Raises
    ------
    RuleError : what cannot be read

    >>> from yeasty.core.kernel.scales import Scale
    >>> on_scale("7 to 8", Attribute("c", "crust", Scale.INTENSITY)).high
    8.0
    >>> on_scale("just right", Attribute("s", "salt", Scale.JUST_RIGHT)).value
    3
    >>> on_scale("-", Attribute("s", "salt", Scale.JUST_RIGHT)) is None
    True
    """
    said = text.strip()[:LONGEST]
    if said in REFUSALS:
        return None
    scale = SCALES[asked.scale]
    if scale.shape == "words":
        return SaidWords(_parts(said, ",;"))
    if scale.shape == "tally":
        two = re.split(r"\s*(?:of|/)\s*", said)
        if len(two) != 2:
            raise RuleError(asked.name, f"“{said[:40]}” cannot be read", "Type as “6 of 8”.")
        return SaidTally(int(_number(two[0], asked.name)), int(_number(two[1], asked.name)))
    words = [w.lower() for w in (asked.words if scale.own_words else scale.words)]
    if said.lower() in words:
        return SaidValue(scale.low + words.index(said.lower()))
    ends = re.split(r"\s*(?:to|–)\s*", said)
    if len(ends) == 2:
        return SaidRange(_number(ends[0], asked.name), _number(ends[1], asked.name))
    return SaidValue(_number(said, asked.name))


def of_round(
    text: str, test: TasteTest, order: Sequence[str], labels: Mapping[str, str] | None = None
) -> Said | None:
    """An answer to a whole round; None is a refusal.

    `labels` : key of a label to its words, for a test that asks which is which

    >>> from yeasty.core.taste.tests import TESTS, TestKey
    >>> of_round("317 = 402, 588", TESTS[TestKey.RANKING], ["317", "402", "588"]).places
    [['317', '402'], ['588']]
    >>> of_round("317 + 588", TESTS[TestKey.TETRAD], ["317", "402", "588", "203"]).groups
    [['317', '588'], ['402', '203']]
    """
    said = text.strip()[:LONGEST]
    if said in REFUSALS:
        return None
    match test.drawn:
        case "one":
            return SaidChoice("" if said.lower() in ("none", "no preference") else said)
        case "order":
            return SaidOrder([_parts(p, "=") for p in _parts(said, ",;>→")])
        case "groups":
            pair = _parts(said, ",;+ ")
            return SaidGroups([pair, [c for c in order if c not in pair]])
        case _:
            keys = {w.lower(): k for k, w in (labels or {}).items()}
            pairs = [p.partition("=") for p in _parts(said, ",;")]
            return SaidLabels({c.strip(): keys.get(w.strip().lower(), w.strip()) for c, _, w in pairs})


@dataclass(frozen=True)
class Row:
    """A row of a table of answers: whose seat, which round (1, 2 …), which code and question, what."""

    seat: str
    round: int
    code: str
    question: str
    answer: str
    words: str
    line: int


def rows_of(text: str) -> list[Row]:
    """A table of answers as CSV, with a header of seat, round, code, question, answer, words.

    Raises
    ------
    RuleError : no such header, too many rows, a round that is no number
    """
    lines = csv.DictReader(StringIO(text.lstrip("\ufeff")))
    names = {n.strip().lower(): n for n in lines.fieldnames or ()}
    missing = [c for c in ("seat", "answer") if c not in names]
    if missing:
        raise RuleError(
            "table", f"has no column {' and '.join(missing)}", f"Give a header of {', '.join(COLUMNS)}."
        )
    found = []
    for n, row in enumerate(lines, 2):
        if n > MOST_ROWS:
            raise RuleError("table", f"has more than {MOST_ROWS} rows", "Bring it in parts.")
        cell = {c: (row.get(names[c]) or "").strip() if c in names else "" for c in COLUMNS}
        if not any(cell.values()):
            continue
        at = cell["round"] or "1"
        if not at.isdigit() or not 1 <= int(at) <= 50:
            raise RuleError("table", f"line {n}: round “{at[:20]}” is no number", "Count rounds from 1.")
        found.append(
            Row(cell["seat"], int(at), cell["code"], cell["question"], cell["answer"], cell["words"], n)
        )
    return found
