"""What a published page stands on as a data package: CSV files and a `datapackage.json` that says what each
column is, in which unit. People are numbers; nothing that somebody wrote at the bench is in it.

The format is the open one of Frictionless Data: a descriptor with resources and their fields.
"""

import csv
import json
from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO, StringIO
from typing import Any
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

from yeasty.core.decide.outcome import Outcome

# A name, a type of the format, what it means.
Field = tuple[str, str, str]


@dataclass(frozen=True)
class WayRow:
    """A way as the package names it: its tag and key, its words."""

    key: str
    tag: str
    name: str
    technique: str


@dataclass(frozen=True)
class Sheet:
    """One file: what it holds, its columns, its rows."""

    name: str
    about: str
    fields: Sequence[Field]
    rows: Sequence[Sequence[Any]]

    def csv(self) -> str:
        """As text; a value that a spreadsheet would take for a formula is told as a word."""
        out = StringIO()
        write = csv.writer(out, lineterminator="\r\n")
        write.writerow([name for name, _, _ in self.fields])
        write.writerows([[_plain(v) for v in row] for row in self.rows])
        return out.getvalue()


def _plain(value: Any) -> Any:
    if value is None:
        return ""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return f"'{value}"
    return value


WAY: Field = ("way", "string", "tag of the way, as in ways.csv")


def sheets(outcome: Outcome, ways: Sequence[WayRow]) -> list[Sheet]:
    """The files of a package."""
    tag = {w.key: w.tag for w in ways}
    asked = {a.key: a.name for a in outcome.attributes}
    people = {t: n for n, t in enumerate(sorted({d.taster for d in outcome.dots}), 1)}
    return [
        Sheet(
            "ways",
            "what was compared",
            (WAY, ("name", "string", "in words"), ("technique", "string", "how it is cooked")),
            [(w.tag, w.name, w.technique) for w in ways],
        ),
        Sheet(
            "batches",
            "every batch, judged or set aside",
            (
                WAY,
                ("batch", "integer", "which cooking of it"),
                ("shift", "string", "the shift it was cooked in"),
                ("stands_as", "string", "judged, or why it is not"),
                ("finished", "boolean", "whether every step ended"),
                ("highest_core_c", "number", "highest core reading, in °C; empty where none was taken"),
                ("core_target_c", "number", "what the core was to reach, in °C; empty where nothing was set"),
            ),
            [
                (
                    tag[m.method],
                    b.replicate,
                    n,
                    b.standing,
                    str(b.complete).lower(),
                    b.highest_core_c,
                    b.core_target_c,
                )
                for m in outcome.methods
                if m.method in tag
                for b in m.batches
                for n in (_shift(outcome, b.shift),)
            ],
        ),
        Sheet(
            "measures",
            f"what judged batches came to by the log, for {outcome.pieces} pieces where that matters",
            (
                WAY,
                ("measure", "string", "what was measured"),
                ("unit", "string", "of the value: s, J, kg, 1 (a share), °C or a count"),
                ("cooking", "integer", "which judged cooking of the way, in order"),
                ("value", "number", "in that unit"),
            ),
            [
                (tag[w], m.name, _unit(m.key), n, value)
                for m in outcome.measures
                for w, values in m.values.items()
                if w in tag
                for n, value in enumerate(values, 1)
            ],
        ),
        Sheet(
            "answers",
            "what each person gave each way, the mean over its cookings",
            (
                ("person", "integer", "a person of the panel, by a number of this package"),
                WAY,
                ("question", "string", "what was asked"),
                ("value", "number", "on the question's own scale"),
            ),
            [
                (people[d.taster], tag[d.method], asked.get(d.attribute, ""), d.value)
                for d in outcome.dots
                if d.method in tag
            ],
        ),
        Sheet(
            "claims",
            "what the kitchen claims, as its records carry it",
            (
                ("text", "string", "the sentence"),
                ("standing", "string", "what kind of record it stands on"),
                ("how_sure", "string", "how surely"),
            ),
            [
                (c.said.text, c.said.standing.value, c.said.how_sure.value)
                for c in outcome.claims
                if c.said.stands
            ],
        ),
    ]


def _shift(outcome: Outcome, name: str) -> str:
    """A shift by its number: its name is the kitchen's own."""
    known = dict.fromkeys(b.shift for m in outcome.methods for b in m.batches)
    return f"shift {list(known).index(name) + 1}"


_UNITS = (("_s", "s"), ("_j", "J"), ("_c", "°C"))
_SHARES = ("loss:", "shrink:", "tally:", "curve:weight", "cooked_yield")


def _unit(key: str) -> str:
    """What a value of a measure is in.

    >>> _unit("hands_s"), _unit("loss:drip"), _unit("call_backs"), _unit("weight:drip")
    ('s', '1', 'count', 'kg')
    """
    if key.startswith("weight:"):
        return "kg"
    if key.startswith(_SHARES):
        return "1"
    if key.startswith("curve:"):
        return "°C"
    if key == "cost":
        return "money"
    return next((unit for end, unit in _UNITS if key.endswith(end)), "count")


def descriptor(title: str, slug: str, version: int, files: Sequence[Sheet]) -> dict[str, Any]:
    """What the files hold."""
    return {
        "profile": "tabular-data-package",
        "name": slug,
        "title": title,
        "version": str(version),
        "description": "What the page of this name stands on. People are numbers; values are in SI.",
        "resources": [
            {
                "name": f.name,
                "path": f"{f.name}.csv",
                "profile": "tabular-data-resource",
                "description": f.about,
                "encoding": "utf-8",
                "schema": {
                    "fields": [{"name": n, "type": t, "description": about} for n, t, about in f.fields]
                },
            }
            for f in files
        ],
    }


def packed(title: str, slug: str, version: int, files: Sequence[Sheet]) -> bytes:
    """All of it as one ZIP, the same bytes for the same records."""
    out = BytesIO()
    told = json.dumps(descriptor(title, slug, version, files), ensure_ascii=False, indent=1)
    with ZipFile(out, "w", ZIP_DEFLATED) as z:
        for name, text in (("datapackage.json", told), *((f"{f.name}.csv", f.csv()) for f in files)):
            z.writestr(ZipInfo(name, (1980, 1, 1, 0, 0, 0)), text.encode())
    return out.getvalue()
