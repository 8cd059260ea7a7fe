"""A page as linked data that other programs read: schema.org."""

from collections.abc import Mapping
from typing import Any

from yeasty.core.publish.document import as_now
from yeasty.core.publish.pictures import PageSpot, at, file_of


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


def linked(record: Mapping[str, Any], *, published_iso: str, url: str) -> dict[str, Any]:
    """The page as schema.org: a Recipe where it is about one method, a list of them where it offers several,
    an article where it is about none.

    Parameters
    ----------
    record : from `as_record`, of any version
    published_iso : date as 2026-01-31; url : public address of the page
    """
    r = as_now(record)
    about = {
        "@context": "https://schema.org",
        "name": r["title"],
        "url": url,
        "datePublished": published_iso,
        "description": r["headline"],
    }
    first = at(r["photos"], PageSpot.FIRST)
    if first:
        about["image"] = f"{url}/photos/{file_of(first['number'], first['width'])}"
    if r["recipe"]:
        return {**about, "@type": "Recipe", **_recipe(r["recipe"])}
    if r["recipes"]:
        each = [{"@type": "Recipe", "name": x["method"], **_recipe(x)} for x in r["recipes"]]
        items = [{"@type": "ListItem", "position": n, "item": x} for n, x in enumerate(each, 1)]
        return {**about, "@type": "ItemList", "itemListElement": items}
    return {**about, "@type": "Article", "headline": r["title"], "about": r["dish"]}


def _recipe(r: Mapping[str, Any]) -> dict[str, Any]:
    return {
        "recipeYield": r["yield_text"],
        "cookingMethod": r["method"],
        "totalTime": _iso_duration(r["total_s"]),
        "recipeIngredient": [f"{i['text']} {i['name']}" for i in r["ingredients"]],
        "tool": list(r["gear"]),
        "recipeInstructions": [
            {"@type": "HowToStep", "position": n, "text": _step(s)} for n, s in enumerate(r["steps"], 1)
        ],
    }


def _step(s: Mapping[str, Any]) -> str:
    said = (
        s["what"] + ",",
        s["duration"] + ("," if s["temperature"] else "."),
        s["temperature"] + ("." if s["temperature"] else ""),
        (s["until"][:1].upper() + s["until"][1:] + ".") if s["until"] else "",
        *(f"Caution: {c['text']}" for c in s["cautions"] if not c["first"]),
    )
    return " ".join(x for x in said if x)
