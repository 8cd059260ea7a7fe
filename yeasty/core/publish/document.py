"""The method page as a document: what a stranger needs to cook it, and what it stands on.

The document is plain data (`as_record`), frozen at publication; every writer (page, PDF, Markdown, JSON-LD)
starts from that record, so that all say the same.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import fahrenheit, say_duration, say_mass_both, say_temperature_both
from yeasty.core.kernel.steps import EndRule, Phase, Step, chain_of
from yeasty.core.safety.cautions import DEFER, Limit, at_phase

DOCUMENT_VERSION = 2


@dataclass(frozen=True)
class Ingredient:
    """An ingredient with its mass [kg] for the stated yield and its allergens."""

    name: str
    mass_kg: float
    text: str
    allergens: tuple[str, ...]


@dataclass(frozen=True)
class CautionText:
    """A caution as it is shown, with its source and the status of its figure.

    `first` : number of the step that says it in full, where this is a later one; `brief` : what is then said
    in its place. `danger` : it can maim or kill, and stands whole on paper at every step
    """

    text: str
    source: str
    first: int = 0
    brief: str = ""
    danger: bool = False


@dataclass(frozen=True)
class StepText:
    """A step as a reader cooks it. `duration_s` is kept for files that want numbers; `beside` says where a
    time was planned and not logged, or was planned otherwise.
    """

    what: str
    duration_s: float
    duration: str
    temperature: str
    until: str
    during: str
    cautions: tuple[CautionText, ...]
    beside: str = ""
    days_before: int = 0


@dataclass(frozen=True)
class MethodPage:
    """What is published. Texts the lead writes: intro, normal, serving, keeping, disclosure, process (where a
    hazard asks for one).
    """

    title: str
    dish: str
    method: str
    tag: str
    mark: int
    headline: str
    pieces: int
    yield_text: str
    total_s: float
    ingredients: tuple[Ingredient, ...]
    allergens: tuple[str, ...]
    gear: tuple[str, ...]
    steps: tuple[StepText, ...]
    cues: tuple[str, ...]
    why: tuple[tuple[str, str], ...]
    choose_another: tuple[tuple[str, str], ...]
    how_sure: str
    evidence: tuple[str, ...]
    not_equal: tuple[str, ...]
    intro: str = ""
    normal: str = ""
    serving: str = ""
    keeping: str = ""
    disclosure: str = ""
    process: str = ""
    allergens_unchecked: tuple[str, ...] = ()
    quotes: tuple[str, ...] = ()
    defer: str = DEFER
    version: int = field(default=DOCUMENT_VERSION)


Times = Mapping[str, Sequence[float]]
# Beside the log the plan is told where it differs by more than a tap leaves open and a twentieth.
RHYTHM_S, RHYTHM_SHARE = 30.0, 0.05


def step_texts(
    steps: Sequence[Step],
    hazards: Sequence[str],
    status: Callable[[Limit], str] = lambda row: row.status,
    times: Times | None = None,
) -> tuple[StepText, ...]:
    """Steps as a reader cooks them, each with its cautions; `status` says how far a figure was checked.

    Washing-up is left out: it is counted in the evidence, not told as a step. A caution stands in full at the
    first step it belongs to and in brief, with where it stood, at the later ones.

    Parameters
    ----------
    times : step to how long it took in each judged batch [s]; a step that is not among them is told as it was
        planned, and says so. None where nothing was cooked
    """
    told: list[StepText] = []
    said: dict[str, int] = {}
    for main, during in chain_of([s for s in steps if s.phase is not Phase.WASH_UP]):
        for step in (main, *during):
            took = (times or {}).get(step.key, ())
            seconds = sum(took) / len(took) if took else step.duration_s
            temperature = say_temperature_both(step.set_point_c) if step.set_point_c is not None else ""
            if step.power_w is not None:
                temperature = temperature if temperature else f"{step.power_w:g} W into the food"
            offset = (
                f"{say_duration(step.during_offset_s)} into it" if step.during_offset_s is not None else ""
            )
            told.append(
                StepText(
                    step.what,
                    seconds,
                    _took(took) if took else say_duration(step.duration_s),
                    temperature,
                    _until(step),
                    offset,
                    _cautions(step, hazards, status, said, len(told) + 1),
                    _beside(step, took, cooked=times is not None),
                    step.days_before,
                )
            )
    return tuple(told)


def for_readers(seconds: float) -> str:
    """A time from a log, no finer than a reader can keep to.

    >>> for_readers(1751), for_readers(437), for_readers(47)
    ('29 min', '7 min 30 s', '45 s')
    """
    grain = 5 if seconds < 120 else 30 if seconds < 600 else 60
    return say_duration(max(grain, round(seconds / grain) * grain))


def _took(times: Sequence[float]) -> str:
    """Times of one step as they are said.

    >>> _took([600.0, 600.0]), _took([600.0, 720.0])
    ('10 min', '10 min to 12 min')
    """
    low, high = for_readers(min(times)), for_readers(max(times))
    return low if low == high else f"{low} to {high}"


def _beside(step: Step, took: Sequence[float], *, cooked: bool) -> str:
    if not cooked or step.duration_s <= 0:
        return ""
    if not took:
        return "as planned"
    off = abs(sum(took) / len(took) - step.duration_s)
    return (
        f"planned {say_duration(step.duration_s)}"
        if off > max(RHYTHM_S, RHYTHM_SHARE * step.duration_s)
        else ""
    )


def _until(step: Step) -> str:
    if step.end_rule is EndRule.CORE and step.end_core_c is not None:
        return f"until the core reads {step.end_core_c:g} °C ({fahrenheit(step.end_core_c):.0f} °F)"
    if step.end_rule is EndRule.CUE:
        return f"until {step.end_cue}"
    if step.end_rule is EndRule.WEIGHT and step.end_kg is not None:
        return f"until it weighs {say_mass_both(step.end_kg)}"
    if step.end_rule is EndRule.MATCH:
        return f"until it matches {step.end_cue}"
    return ""


def _cautions(
    step: Step,
    hazards: Sequence[str],
    status: Callable[[Limit], str],
    said: dict[str, int],
    number: int,
) -> tuple[CautionText, ...]:
    """Cautions of a step; `said` keeps which step said each in full."""
    found = []
    for c in at_phase(hazards, step.phase):
        first = said.setdefault(c.key, number)
        found.append(
            CautionText(
                c.text,
                c.source + (f"; figure {status(c.limit)}" if c.limit is not None else ""),
                0 if first == number else first,
                "" if first == number else _brief(c.text),
                c.severity == "danger",
            )
        )
    return tuple(found)


def _brief(text: str) -> str:
    """The first thing a caution says.

    >>> _brief("Hot oil: keep water away. Lower food slowly.")
    'Hot oil: keep water away.'
    """
    end = text.find(". ")
    return text if end < 0 else text[: end + 1]


def ingredients(
    amounts: Mapping[str, float], allergens: Mapping[str, Sequence[str]], scale: float
) -> tuple[Ingredient, ...]:
    """Ingredients for the stated yield: measured amounts [kg] times `scale`, largest first, in metric and US
    units.
    """
    rows = sorted(amounts.items(), key=lambda r: (-r[1], r[0]))
    return tuple(
        Ingredient(name, kg * scale, say_mass_both(kg * scale), tuple(allergens.get(name, ())))
        for name, kg in rows
    )


def check_page(page: MethodPage) -> list[RuleError]:
    """What keeps a page from being published."""
    found = []
    if not page.title.strip():
        found.append(RuleError("title", "is empty", "Give the page a title."))
    if not page.steps:
        found.append(RuleError("steps", "none", "The recommended method needs at least one step."))
    if not page.ingredients:
        found.append(
            RuleError("ingredients", "none", "Enter amounts at Set up, so that a stranger can cook it.")
        )
    return found


def as_record(page: MethodPage) -> dict[str, Any]:
    """The page as plain data for the database and the files."""
    return asdict(page)


def markdown(record: Mapping[str, Any], *, published: str, version: int, correction: str = "") -> str:
    """The page as Markdown (CommonMark with tables).

    Parameters
    ----------
    record : from `as_record`
    published : date in words; version : number of the publication; correction : what this version corrects
    """
    out = [f"# {_md(record['title'])}", "", f"{_md(record['headline'])}", ""]
    out.append(f"Version {version}, {published}." + (f" Corrected: {_md(correction)}" if correction else ""))
    if record["intro"]:
        out += ["", _md(record["intro"])]
    out += [
        "",
        f"**Makes** {_md(record['yield_text'])} · **from start to plate** {for_readers(record['total_s'])}",
    ]
    out += ["", "## Ingredients", ""]
    out += [f"- {i['text']} {_md(i['name'])}" for i in record["ingredients"]]
    out += ["", "**Allergens:** " + (", ".join(record["allergens"]) or "not checked; check every label")]
    if record.get("allergens_unchecked"):
        out += [
            "",
            "**Not checked for allergens:** " + ", ".join(_md(n) for n in record["allergens_unchecked"]),
        ]
    out += ["", "## Gear", "", ", ".join(_md(g) for g in record["gear"]) or "—", "", "## Method", ""]
    for n, s in enumerate(record["steps"], 1):
        facts = " · ".join(x for x in (_timed(s), s["temperature"], _md(s["until"]), s["during"]) if x)
        out.append(f"{n}. **{_md(s['what'])}** ({facts})")
        out += [
            f"   > Caution: {_md(c['text'])} *({_md(c['source'])})*" for c in s["cautions"] if not _again(c)
        ]
        out += [
            f"   > Caution as at step {c['first']}: {_md(c['brief'])}" for c in s["cautions"] if _again(c)
        ]
    for title, key in (
        ("Looks wrong but is normal", "normal"),
        ("Serving", "serving"),
        ("Keeping", "keeping"),
    ):
        if record[key]:
            out += ["", f"## {title}", "", _md(record[key])]
    if record["cues"]:
        out += ["", "## Signs to look for", ""] + [f"- {_md(c)}" for c in record["cues"]]
    if record.get("quotes"):
        out += ["", "## In tasters' words", ""] + [f"- “{_md(c)}”" for c in record["quotes"]]
    out += ["", "## Why this one", ""] + [f"- {_md(t)} *({_md(on)})*" for t, on in record["why"]]
    if record["choose_another"]:
        out += ["", "## Choose another when", "", "| method | when |", "|---|---|"]
        out += [f"| {_md(m)} | {_md(when)} |" for m, when in record["choose_another"]]
    out += ["", "## How sure", "", _md(record["how_sure"]), ""] + [f"- {_md(e)}" for e in record["evidence"]]
    if record["not_equal"]:
        out += ["", "Not equal between methods:", ""] + [f"- {_md(e)}" for e in record["not_equal"]]
    if record.get("process"):
        out += ["", f"Process: {_md(record['process'])}"]
    if record["disclosure"]:
        out += ["", f"Disclosure: {_md(record['disclosure'])}"]
    return "\n".join([*out, "", f"*{_md(record['defer'])}*", ""])


def _again(caution: Mapping[str, Any]) -> bool:
    """Whether another step says it in full. Records of earlier documents say all in full."""
    return bool(caution.get("first"))


def _caution_md(c: Mapping[str, Any]) -> str:
    if _again(c):
        return f"Caution as at step {c['first']}: {_md(c['brief'])}"
    return f"Caution: {_md(c['text'])} *({_md(c['source'])})*"


def _timed(step: Mapping[str, Any]) -> str:
    """How long a step takes, with the plan beside it."""
    beside = step.get("beside")
    return f"{step['duration']} ({beside})" if beside else str(step["duration"])


def _md(text: str) -> str:
    """Text with the signs that Markdown would take for its own escaped, on one line."""
    flat = " ".join(str(text).split())
    return "".join("\\" + c if c in "\\`*_[]<>|#" else c for c in flat)


def _iso_duration(seconds: float) -> str:
    minutes, rest = divmod(round(seconds), 60)
    hours, minutes = divmod(minutes, 60)
    return (
        "PT"
        + (f"{hours}H" if hours else "")
        + (f"{minutes}M" if minutes else "")
        + (f"{rest}S" if rest else "")
        if (seconds >= 1)
        else "PT0S"
    )


def recipe_json_ld(record: Mapping[str, Any], *, published_iso: str, url: str) -> dict[str, Any]:
    """The page as a schema.org Recipe.

    Parameters
    ----------
    record : from `as_record`; published_iso : date as 2026-01-31; url : public address of the page
    """
    return {
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": record["title"],
        "url": url,
        "datePublished": published_iso,
        "description": record["headline"],
        "recipeYield": record["yield_text"],
        "cookingMethod": record["method"],
        "totalTime": _iso_duration(record["total_s"]),
        "recipeIngredient": [f"{i['text']} {i['name']}" for i in record["ingredients"]],
        "tool": list(record["gear"]),
        "recipeInstructions": [
            {
                "@type": "HowToStep",
                "position": n,
                "text": " ".join(
                    x
                    for x in (
                        s["what"] + ",",
                        s["duration"] + ("," if s["temperature"] else "."),
                        s["temperature"] + ("." if s["temperature"] else ""),
                        (s["until"][:1].upper() + s["until"][1:] + ".") if s["until"] else "",
                        *(f"Caution: {c['text']}" for c in s["cautions"] if not _again(c)),
                    )
                    if x
                ),
            }
            for n, s in enumerate(record["steps"], 1)
        ],
    }
