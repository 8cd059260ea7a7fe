"""A method written out, or every method that may be told."""

from collections.abc import Mapping
from typing import Any

from yeasty.core.publish.recipe import for_readers
from yeasty.core.publish.sections.kind import Record, Section, md

NOT_WRITTEN = "What went into it was not written down."


def _lines(r: Mapping[str, Any], level: str) -> list[str]:
    out = [
        f"**Makes** {md(r['yield_text'])} · **from start to plate** {for_readers(r['total_s'])}",
        "",
        f"{level} Ingredients",
        "",
    ]
    out += [f"- {i['text']} {md(i['name'])}" for i in r["ingredients"]] or [NOT_WRITTEN]
    out += ["", "**Allergens:** " + (", ".join(r["allergens"]) or "not checked; check every label")]
    if r["allergens_unchecked"]:
        out += ["", "**Not checked for allergens:** " + ", ".join(md(n) for n in r["allergens_unchecked"])]
    out += ["", f"{level} Gear", "", ", ".join(md(g) for g in r["gear"]) or "—", "", f"{level} Method", ""]
    for n, s in enumerate(r["steps"], 1):
        facts = " · ".join(x for x in (_timed(s), s["temperature"], md(s["until"]), s["during"]) if x)
        out.append(f"{n}. **{md(s['what'])}** ({facts})")
        out += [
            f"   > Caution: {md(c['text'])} *({md(c['source'])})*" for c in s["cautions"] if not c["first"]
        ]
        out += [
            f"   > Caution as at step {c['first']}: {md(c['brief'])}" for c in s["cautions"] if c["first"]
        ]
    return out + [line for said in r["says"] for line in ("", md(said))]


def _timed(step: Mapping[str, Any]) -> str:
    """How long a step takes, with the plan beside it."""
    return f"{step['duration']} ({step['beside']})" if step["beside"] else str(step["duration"])


def _every(record: Record) -> list[str]:
    out: list[str] = []
    for r in record["recipes"]:
        out += [f"## {md(r['method'])}", "", *_lines(r, "###"), ""]
    return out[:-1]


RECIPE = Section("recipe", lambda r: r["recipe"] is not None, lambda r: _lines(r["recipe"], "##"))
RECIPES = Section("recipes", lambda r: bool(r["recipes"]), _every)
