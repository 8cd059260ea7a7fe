"""Reading a recipe: schema.org JSON-LD (a file, or the source of a page that holds it) or Markdown.

Nothing is guessed silently: amounts come as mass, volume or count, each line keeps its own words, and
whatever was not understood is listed with what to do about it.
"""

import json
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from html import unescape
from typing import Any

from yeasty.core.kernel.errors import BadQuantity, RuleError
from yeasty.core.kernel.quantities import parse_duration, parse_mass, parse_temperature, parse_volume
from yeasty.core.kernel.steps import Attention, Phase
from yeasty.core.kernel.text import cannot_be_kept
from yeasty.core.kernel.words import plain
from yeasty.core.setup.composition import LIQUIDS

MOST_BYTES = 2_000_000
# A line of a recipe is shorter, and a recipe has fewer; what is beyond is left out and told.
LONGEST_LINE, MOST_LINES = 1000, 2000
# Thin liquids are taken as a kilogram a litre; within about 4 %.
WATERY_KG_M3 = 1000.0


@dataclass(frozen=True)
class Amount:
    """An ingredient as it was read.

    Attributes
    ----------
    text : the line; name : without amount
    kg : mass [kg], where it is one or could be told; volume_m3 : where only that is known; count : where
        pieces
    understood : whether a mass could be told; note : why not, or what was assumed
    """

    text: str
    name: str
    kg: float | None = None
    volume_m3: float | None = None
    count: float | None = None
    understood: bool = True
    note: str = ""


@dataclass(frozen=True)
class ReadStep:
    """A step as it was read; `assumed` names what was not written and was filled in."""

    text: str
    phase: Phase
    attention: Attention
    duration_s: float
    set_point_c: float | None = None
    end_cue: str = ""
    days_before: int = 0
    assumed: tuple[str, ...] = ()


@dataclass(frozen=True)
class Reading:
    """A recipe as it was read.

    Attributes
    ----------
    written_as : JSON-LD or Markdown
    not_understood : lines and fields that were left out or only half read, each with what to do
    """

    title: str
    written_as: str
    yield_text: str
    amounts: tuple[Amount, ...]
    steps: tuple[ReadStep, ...]
    not_understood: tuple[str, ...] = field(default=())


def read_recipe(text: str) -> Reading:
    """Read a recipe from a pasted text or a file's content.

    Raises
    ------
    RuleError : nothing of a recipe was found, or the text is larger than two megabytes

    >>> r = read_recipe("# Buns\\n\\n## Ingredients\\n- 1 lb flour\\n- 2 pinches salt\\n\\n## Method\\n1. Bake for 20 minutes at 200 °C.")
    >>> r.title, round(r.amounts[0].kg, 3), r.steps[0].duration_s, len(r.not_understood)
    ('Buns', 0.454, 1200.0, 1)
    """  # noqa: E501
    if cannot_be_kept(text):
        raise RuleError("recipe", cannot_be_kept(text), "Paste it again without that.")
    if len(text.encode()) > MOST_BYTES:
        raise RuleError("recipe", "is larger than 2 MB", "Paste the recipe’s own part.")
    if not text.strip():
        raise RuleError("recipe", "is empty", "Paste a recipe, or the source of its page.")
    nodes = list(_json_ld(text))
    if nodes:
        recipe = next((n for n in nodes if _is_recipe(n)), None)
        if recipe is None:
            raise RuleError(
                "recipe", "is not in the data that was found", "Paste the page that holds the recipe itself."
            )
        try:
            return _from_json_ld(recipe)
        except RecursionError:
            raise RuleError("recipe", "is nested too deep", "Paste the recipe’s own part.") from None
    if text.lstrip()[:1] in "{[":
        raise RuleError(
            "recipe",
            "looks like JSON, but cannot be read as JSON",
            "Copy all of it, from the first bracket to the last.",
        )
    if re.search(r"<(html|body|script|div)\b", text, re.I):
        raise RuleError(
            "recipe",
            "is a page without recipe data",
            "Copy the recipe’s text and paste it as Markdown, with headings.",
        )
    return _from_markdown(text)


def _scripts(text: str) -> Iterator[str]:
    """The contents of JSON-LD scripts in a page, found in one walk through it."""
    low = text.lower()
    at = 0
    while (begins := low.find("<script", at)) >= 0 and (opened := low.find(">", begins)) >= 0:
        closed = low.find("</script", opened)
        if closed < 0:
            return
        if "application/ld+json" in low[begins:opened]:
            yield text[opened + 1 : closed]
        at = closed


def _json_ld(text: str) -> Iterator[dict[str, Any]]:
    sources = [text] if text.lstrip()[:1] in "{[" else []
    if not sources and "ld+json" in text:
        sources = list(_scripts(text))
    for source in sources:
        try:
            yield from _nodes(json.loads(source, strict=False))
        except (ValueError, RecursionError):
            continue


def _nodes(value: Any) -> Iterator[dict[str, Any]]:
    if isinstance(value, list):
        for v in value:
            yield from _nodes(v)
    elif isinstance(value, dict):
        yield value
        for key in ("@graph", "mainEntity", "mainEntityOfPage"):
            yield from _nodes(value.get(key))


def _is_recipe(node: dict[str, Any]) -> bool:
    kinds = node.get("@type")
    return "Recipe" in (kinds if isinstance(kinds, list) else [kinds])


def _bounded(lines: Iterable[str], doubts: list[str]) -> Iterator[str]:
    """Lines that are no longer and no more than a recipe has; what is left out is added to the doubts."""
    for n, line in enumerate(lines):
        if n >= MOST_LINES:
            doubts.append(f"It has more than {MOST_LINES} lines; the rest was left out.")
            return
        if len(line) > LONGEST_LINE:
            doubts.append(f"“{line[:60]}…” is longer than {LONGEST_LINE} characters and was left out.")
            continue
        yield line


def _words(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(_words(v) for v in value if v)
    if isinstance(value, dict):
        return _words(value.get("name") or value.get("text") or value.get("value"))
    return re.sub(r"\s+", " ", unescape(re.sub(r"<[^<>]+>", " ", str(value or "")))).strip()


def _from_json_ld(node: dict[str, Any]) -> Reading:
    doubts: list[str] = []
    lines = node.get("recipeIngredient") or node.get("ingredients") or []
    written = lines if isinstance(lines, list) else [lines]
    amounts = tuple(read_amount(line) for line in _bounded(map(_words, written), doubts) if line)
    steps = tuple(read_step(line) for line in _bounded(_instructions(node.get("recipeInstructions")), doubts))
    for name in ("prepTime", "cookTime", "totalTime"):
        if node.get(name) and _iso_duration(str(node[name])) is None:
            doubts.append(f"{name} “{node[name]}” is not a duration; type the times of the steps yourself.")
    cook = _iso_duration(str(node.get("cookTime") or ""))
    steps = _with_cook_time(steps, cook)
    return _reading(
        _words(node.get("name")), "JSON-LD", _words(node.get("recipeYield")), amounts, steps, doubts
    )


def _instructions(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        plain_text = unescape(re.sub(r"<(br|/p|/li)[^<>]*>", "\n", value))
        for line in re.split(r"\n+", re.sub(r"<[^<>]+>", " ", plain_text)):
            if line.strip():
                yield _words(line)
    elif isinstance(value, list):
        for v in value:
            yield from _instructions(v)
    elif isinstance(value, dict):
        if value.get("itemListElement"):
            yield from _instructions(value["itemListElement"])
        elif _words(value.get("text") or value.get("name")):
            yield _words(value.get("text") or value.get("name"))


def _iso_duration(text: str) -> float | None:
    if len(text) > 60:
        return None
    m = re.fullmatch(r"P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:\.\d+)?)S)?)?", text.strip())
    if not m or not any(m.groups()):
        return None
    d, h, minutes, s = (float(g or 0) for g in m.groups())
    return d * 86400 + h * 3600 + minutes * 60 + s


def _with_cook_time(steps: tuple[ReadStep, ...], cook_s: float | None) -> tuple[ReadStep, ...]:
    cooking = [s for s in steps if s.phase is Phase.COOK]
    if cook_s and len(cooking) == 1 and "its length" in cooking[0].assumed:
        better = ReadStep(
            **{
                **cooking[0].__dict__,
                "duration_s": cook_s,
                "assumed": ("its length, from the recipe’s cooking time",),
            }
        )
        return tuple(better if s is cooking[0] else s for s in steps)
    return steps


def _from_markdown(text: str) -> Reading:
    title, yields = "", ""
    amounts: list[Amount] = []
    steps: list[ReadStep] = []
    doubts: list[str] = []
    section = ""
    for line in _bounded(text.splitlines(), doubts):
        heading = re.match(r"^\s*(#{1,6})\s+(.+?)\s*#*$", line) or re.match(
            r"^\s*()\*\*(.+?)\*\*:?\s*$", line
        )
        if heading:
            words = heading[2].lower()
            if "ingredient" in words or "you need" in words:
                section = "amounts"
            elif any(
                w in words for w in ("method", "step", "instruction", "direction", "preparation", "how to")
            ):
                section = "steps"
            elif not title:
                title, section = heading[2].strip(), ""
            else:
                section = section if section in ("amounts", "steps") and len(heading[1]) > 2 else "other"
            continue
        item = re.sub(r"^\s*(?:[-*+•]|\d+[.)])\s+", "", line)
        listed = item != line
        item = re.sub(r"[*_`]|\[([^\]]*)\]\([^)]*\)", r"\1", item).strip()
        if not item:
            continue
        if m := re.match(r"(?i)(serves|makes|yields?|servings)\b[: ]*(.+)", item):
            yields = m[2].strip()
        elif section == "amounts":
            amounts.append(read_amount(item))
        elif section == "steps":
            steps.append(read_step(item))
        elif listed or section == "other":
            doubts.append(
                f"“{item[:80]}” stands under no heading that says ingredients or method, and was left out."
            )
    return _reading(title, "Markdown", yields, tuple(amounts), tuple(steps), doubts)


def _reading(
    title: str,
    written_as: str,
    yields: str,
    amounts: tuple[Amount, ...],
    steps: tuple[ReadStep, ...],
    doubts: list[str],
) -> Reading:
    if not amounts and not steps:
        raise RuleError(
            "recipe",
            "has neither ingredients nor steps",
            "Put “Ingredients” and “Method” as headings above them.",
        )
    if not title:
        doubts.append("It has no title; give the method a name.")
    doubts += [f"“{a.text}”: {a.note}" for a in amounts if not a.understood]
    doubts += [
        f"“{s.text[:80]}”: {', '.join(s.assumed)} was not written; look at it." for s in steps if s.assumed
    ]
    return Reading(title, written_as, yields, amounts, steps, tuple(doubts))


_RANGE = re.compile(r"^(\d+(?:[.,]\d+)?)\s*(?:-|–|to)\s*(\d+(?:[.,]\d+)?)(?=\s)")


def read_amount(line: str) -> Amount:
    """One line of ingredients.

    >>> a = read_amount("1 lb 4 oz strong flour, sifted")
    >>> round(a.kg, 3), a.name
    (0.567, 'strong flour, sifted')
    >>> read_amount("2-3 cups water").note
    'a range: the middle was taken; 1 kg a litre was taken'
    >>> read_amount("a handful of leaves").understood
    False
    """
    text = re.sub(r"\s+", " ", line).strip()
    notes: list[str] = []
    work = text
    if m := _RANGE.match(work):
        middle = (float(m[1].replace(",", ".")) + float(m[2].replace(",", "."))) / 2
        work = f"{middle:g}{work[m.end() :]}"
        notes.append("a range: the middle was taken")
    tokens = work.split(" ")
    for length in range(min(6, len(tokens)), 0, -1):
        head = " ".join(tokens[:length]).rstrip(",")
        name = re.sub(r"^(?:of|,)\s+", "", " ".join(tokens[length:])).strip()
        if not name or not re.search(r"[a-z½-¾⅐-⅞]", head.lower()) or not re.search(r"[A-Za-z]", head):
            continue
        try:
            kg = parse_mass(head)
            if kg > 0:
                return Amount(text, name, kg=kg, note="; ".join(notes))
        except BadQuantity:
            pass
        try:
            volume = parse_volume(head)
        except BadQuantity:
            continue
        if any(plain(w) in plain(name.split(",")[0]).split() for w in LIQUIDS):
            notes.append("1 kg a litre was taken")
            return Amount(text, name, kg=volume * WATERY_KG_M3, volume_m3=volume, note="; ".join(notes))
        return Amount(
            text,
            name,
            volume_m3=volume,
            understood=False,
            note="is a volume; weigh it once and type the weight.",
        )
    if m := re.match(r"^(\d+(?:[.,]\d+)?|[½¼¾⅓⅔])\s+(.+)$", work):
        number = {"½": 0.5, "¼": 0.25, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3}.get(m[1]) or float(
            m[1].replace(",", ".")
        )
        return Amount(
            text, m[2], count=number, understood=False, note="is counted; weigh them and type the weight."
        )
    return Amount(text, text, understood=False, note="has no amount that could be read; type a weight.")


_DURATION = re.compile(
    r"(?P<a>\d+(?:[.,]\d+)?|½)(?:\s*(?:-|–|to)\s*(?P<b>\d+(?:[.,]\d+)?))?\s*(?P<unit>hours?|hrs?|h|minutes?|mins?|min|seconds?|secs?|s)\b",
    re.I,
)
_TEMPERATURE = re.compile(r"(\d{2,3})\s*(?:°|degrees?)?\s*(C|F|celsius|fahrenheit)\b", re.I)
# Words that say what kind of step it is, in the order in which they decide.
_PHASES: tuple[tuple[Phase, Attention, str], ...] = (
    (Phase.WASH_UP, Attention.HANDS, r"wash up|wash the"),
    (Phase.COME_UP, Attention.FREE, r"preheat|pre-heat|heat the oven|bring .*(?:boil|pressure)|heat the oil"),
    (
        Phase.PREPARE,
        Attention.FREE,
        r"soak|marinate|prove|proof|let .*rise|leave .*rise|overnight|refrigerate|chill",
    ),
    (Phase.TURN, Attention.HANDS, r"^(?:turn|flip|shake|stir)\b"),
    (
        Phase.COOK,
        Attention.FREE,
        r"\b(?:bake|roast|steam|simmer|boil|microwave|braise|poach|air-?fry|cook|grill|broil|smoke)",
    ),
    (Phase.COOK, Attention.WATCHED, r"\b(?:fry|saut|sear|brown|deep-?fry|torch)"),
    (Phase.OUT, Attention.HANDS, r"remove from|take out|take .* out|lift out"),
    (Phase.WAIT, Attention.FREE, r"\b(?:rest|cool|stand|drain)\b"),
    (Phase.PLATE, Attention.HANDS, r"\b(?:serve|plate|garnish)\b"),
)


def read_step(line: str) -> ReadStep:
    """One step: its kind by its verb, its length and temperature where they are written.

    >>> s = read_step("Bake at 400 F for 20-25 minutes, until golden.")
    >>> s.phase.value, s.duration_s, round(s.set_point_c), s.end_cue
    ('cook', 1350.0, 204, 'golden')
    >>> read_step("Soak the chickpeas overnight.").days_before
    1
    """
    text = re.sub(r"\s+", " ", line).strip()
    low = text.lower()
    assumed: list[str] = []
    phase, attention = Phase.PREPARE, Attention.HANDS
    for p, a, pattern in _PHASES:
        if re.search(pattern, low):
            phase, attention = p, a
            break
    seconds = None
    if m := _DURATION.search(low):
        low_end = 0.5 if m["a"] == "½" else float(m["a"].replace(",", "."))
        middle = (low_end + float(m["b"].replace(",", "."))) / 2 if m["b"] else low_end
        seconds = parse_duration(
            f"{middle:g} {'h' if m['unit'][0] == 'h' else 'min' if m['unit'][0] == 'm' else 's'}"
        )
        if m["b"]:
            assumed.append("the middle of a range")
    ahead = 1 if re.search(r"overnight|the day before|the night before", low) else 0
    if seconds is None and ahead:
        seconds = 12 * 3600.0
        assumed.append("the length of the night")
    if seconds is None:
        seconds = {Phase.COOK: 900.0, Phase.COME_UP: 600.0, Phase.WAIT: 300.0}.get(phase, 120.0)
        assumed.append("its length")
    point = None
    if (m2 := _TEMPERATURE.search(text)) and phase in (Phase.COOK, Phase.COME_UP):
        point = parse_temperature(f"{m2[1]} {m2[2][0].upper()}")
    cue = re.search(r"until (?:it is |they are |just )?([^.;,]{3,80})", low) if phase is Phase.COOK else None
    return ReadStep(
        text[:200],
        phase,
        attention,
        max(1.0, seconds),
        point,
        cue[1].strip() if cue else "",
        ahead,
        tuple(assumed),
    )
