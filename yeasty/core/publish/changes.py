"""What changed from one version of a page to the next, in words that a reader of the earlier one needs."""

from collections.abc import Mapping, Sequence
from itertools import zip_longest
from typing import Any

from yeasty.core.publish.document import as_now
from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.core.publish.recipe import for_readers

Record = Mapping[str, Any]
# So many changes of a kind are told one by one; more are counted.
MOST_TOLD = 8
_TEXTS = {
    "intro": "the introduction",
    "normal": "what looks wrong but is normal",
    "serving": "serving",
    "keeping": "keeping",
    "process": "the process stated",
    "disclosure": "what is disclosed",
}


def changes(before: Record, after: Record) -> tuple[str, ...]:
    """Sentences, what a cook must know first: what may no longer be cooked, amounts, steps; then what is
    said.

    Both records may be of any version of the document.
    """
    a, b = as_now(before), as_now(after)
    found: list[str] = []
    if a["kind"] != b["kind"]:
        found.append(f"It was told as “{_kind(a)}”, and is now “{_kind(b)}”.")
    found += _refused(a, b)
    found += _recipes(a, b)
    if a["title"] != b["title"]:
        found.append(f"It was called “{a['title']}”.")
    if a["headline"] != b["headline"]:
        found.append(f"Its answer was: {_stop(a['headline'])}")
    if a["how_sure"] != b["how_sure"]:
        found.append(f"How sure it is was told as: {_stop(a['how_sure'])}")
    found += _sets(
        [c["text"] for c in a["claims"]], [c["text"] for c in b["claims"]], "Claimed", "No longer claimed"
    )
    found += _sets(a["evidence"], b["evidence"], "New in the evidence", "No longer in the evidence")
    found += _sets(a["lessons"], b["lessons"], "Learned since", "No longer held")
    was, now = ([p["title"] for p in r["linked"]] for r in (a, b))
    found += _sets(was, now, "Belongs to it now", "No longer belongs to it")
    touched = [name for key, name in _TEXTS.items() if a[key] != b[key]]
    if touched:
        found.append(f"Reworded: {', '.join(touched)}.")
    if len(a["photos"]) != len(b["photos"]):
        found.append(f"{len(b['photos'])} photos, where there were {len(a['photos'])}.")
    return tuple(found)


def _kind(r: Record) -> str:
    return KINDS[PageKind(r["kind"])].name


def _stop(text: str) -> str:
    return text if text.endswith((".", "!", "?")) else f"{text}."


def _refused(a: Record, b: Record) -> list[str]:
    was, now = dict(a["refused"]), dict(b["refused"])
    found = [
        f"Not to be cooked from this page any more: {name}. {why}"
        for name, why in now.items()
        if name not in was
    ]
    return found + [f"{name} is no longer refused." for name in was if name not in now]


def _recipes(a: Record, b: Record) -> list[str]:
    was = {r["method"]: r for r in (a["recipe"], *a["recipes"]) if r}
    now = {r["method"]: r for r in (b["recipe"], *b["recipes"]) if r}
    if len(was) == 1 and len(now) == 1 and set(was) != set(now):
        return [f"It told {next(iter(was))}; it now tells {next(iter(now))}, with its own amounts and steps."]
    found = _sets(list(was), list(now), "Now told too", "No longer told")
    for name in was:
        if name in now:
            told = _recipe(was[name], now[name])
            found += [f"{name}: {line}" if len(now) > 1 else line[:1].upper() + line[1:] for line in told]
    return found


def _recipe(a: Record, b: Record) -> list[str]:
    found = []
    if a["yield_text"] != b["yield_text"]:
        found.append(f"it makes {b['yield_text']}, where it said {a['yield_text']}.")
    was = {i["name"]: i["text"] for i in a["ingredients"]}
    now = {i["name"]: i["text"] for i in b["ingredients"]}
    found += [f"{n} is new, {t}." for n, t in now.items() if n not in was]
    found += [f"{n} is gone." for n in was if n not in now]
    found += [f"{n} {t}, where it said {was[n]}." for n, t in now.items() if n in was and was[n] != t]
    more = sorted({*b["allergens"]} - {*a["allergens"]})
    less = sorted({*a["allergens"]} - {*b["allergens"]})
    if more:
        found.append(f"allergens added: {', '.join(more)}.")
    if less:
        found.append(f"allergens no longer named: {', '.join(less)}.")
    steps = _steps(a["steps"], b["steps"])
    found += steps[:MOST_TOLD]
    if len(steps) > MOST_TOLD:
        found.append(f"and {len(steps) - MOST_TOLD} more changes of steps.")
    took, takes = for_readers(a["total_s"]), for_readers(b["total_s"])
    if took != takes:
        found.append(f"from start to plate {takes}, where it said {took}.")
    return _cautions(a["steps"], b["steps"]) + found


def _cautions(a: Sequence[Record], b: Sequence[Record]) -> list[str]:
    """Cautions that were not there before; never cut short."""
    was, now = ([c["text"] for s in steps for c in s["cautions"]] for steps in (a, b))
    found = [f"a caution more: {text}" for text in dict.fromkeys(now) if text not in was]
    return found + [f"no longer a caution: {text}" for text in dict.fromkeys(was) if text not in now]


def _steps(a: Sequence[Record], b: Sequence[Record]) -> list[str]:
    """Steps by what is done in them; those that are only told otherwise, by what is told."""
    was, now = [s["what"] for s in a], [s["what"] for s in b]
    found = [f"the step “{w}” is gone." for w in was if w not in now]
    found += [f"the step “{w}” is new." for w in now if w not in was]
    kept = [w for w in was if w in now]
    if kept != [w for w in now if w in was]:
        found.append("steps stand in another order.")
    for what in dict.fromkeys(kept):
        old, new = [s for s in a if s["what"] == what], [s for s in b if s["what"] == what]
        for x, y in zip_longest(old, new):
            if x is None or y is None:
                found.append(f"“{what}” {'once more' if x is None else 'once less'}.")
                continue
            told = [
                f"{y[key] or 'no ' + name}, where it said {x[key] or 'none'}"
                for key, name in (("duration", "time"), ("temperature", "temperature"), ("until", "end"))
                if x[key] != y[key]
            ]
            if told:
                found.append(f"“{what}”: {'; '.join(told)}.")
    return found


def _sets(was: Sequence[str], now: Sequence[str], more: str, less: str) -> list[str]:
    """Lines that came and went."""
    came, went = [x for x in now if x not in was], [x for x in was if x not in now]
    told = [(more, came), (less, went)]
    return [_stop(f"{word}: {'; '.join(x.rstrip('.') for x in lines)}") for word, lines in told if lines]
