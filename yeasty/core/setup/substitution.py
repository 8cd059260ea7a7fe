"""What another lot does to the design: worked out, not just noted."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.setup.composition import shares_of


@dataclass(frozen=True)
class LotFacts:
    """A lot as it is compared with the one it stands in for; texts "" and shares {} where not said."""

    name: str
    grade: str = ""
    source: str = ""
    age_days: float | None = None
    label: Mapping[str, float] = ()  # type: ignore[assignment]
    allergens: Sequence[str] = ()
    price_per_kg: float | None = None


@dataclass(frozen=True)
class Effect:
    """One consequence of a substitution: what, and how hard it bears on the trial ("note", "check",
    "redo").
    """

    text: str
    weight: str


def effects(
    planned: LotFacts,
    bought: LotFacts,
    kg_by_tag: Mapping[str, float],
    tags_without: Sequence[str],
    batch_kg: float | None,
) -> list[Effect]:
    """Consequences of cooking with `bought` where `planned` was designed in.

    Parameters
    ----------
    kg_by_tag : method to mass of this ingredient in a batch [kg], for the methods that take the new lot
    tags_without : methods that keep the old lot
    batch_kg : food in a batch [kg], for shares of the whole

    >>> e = effects(LotFacts("butter", label={"fat": 0.82}), LotFacts("butter", label={"fat": 0.60}), {"OV": 0.1}, ["AF"], 0.5)
    >>> e[0].weight, e[1].text
    ('redo', 'Fat: 22 g less a batch of OV (82 % → 60 %).')
    """  # noqa: E501
    found: list[Effect] = []
    if tags_without and kg_by_tag:
        found.append(
            Effect(
                f"{', '.join(kg_by_tag)} and {', '.join(tags_without)} would not be cooked from one lot: "
                f"the lot becomes a difference. "
                "Use it in all, or in none.",
                "redo",
            )
        )
    before, after = shares_of(planned.name, planned.label), shares_of(bought.name, bought.label)
    if before and after:
        for part, word in (("fat", "Fat"), ("salt", "Salt"), ("water", "Water")):
            share = after.get(part, 0.0) - before.get(part, 0.0)
            if abs(share) < 0.005:
                continue
            for tag, kg in kg_by_tag.items():
                grams = share * kg * 1000
                of_whole = abs(share * kg) / batch_kg if batch_kg else 0.0
                found.append(
                    Effect(
                        f"{word}: {abs(grams):.3g} g {'more' if grams > 0 else 'less'} a batch of {tag} "
                        f"({before.get(part, 0.0):.0%} → {after.get(part, 0.0):.0%}).".replace("%", " %"),
                        "check" if of_whole > 0.01 or part == "salt" else "note",
                    )
                )
    elif bought.name.lower() != planned.name.lower() or bought.grade != planned.grade:
        found.append(
            Effect(
                "What it is made of is not on record: type its label, or the change cannot be worked out.",
                "check",
            )
        )
    new = sorted(set(bought.allergens) - set(planned.allergens))
    if new:
        found.append(
            Effect(f"New allergen: {', '.join(new)}. Tell the tasters before the first bite.", "redo")
        )
    gone = sorted(set(planned.allergens) - set(bought.allergens))
    if gone:
        found.append(
            Effect(
                f"No longer listed: {', '.join(gone)}. Read the new label; what was told to tasters stays "
                f"told.",
                "check",
            )
        )
    if planned.grade and bought.grade and planned.grade.lower() != bought.grade.lower():
        found.append(
            Effect(
                f"Grade {planned.grade} → {bought.grade}: what is published must name the grade that was "
                f"cooked.",
                "note",
            )
        )
    if (
        planned.age_days is not None
        and bought.age_days is not None
        and abs(planned.age_days - bought.age_days) >= 2
    ):
        found.append(
            Effect(
                f"Age {planned.age_days:.0f} → {bought.age_days:.0f} days: moisture and flavour may differ.",
                "note",
            )
        )
    if (
        planned.price_per_kg
        and bought.price_per_kg
        and abs(bought.price_per_kg / planned.price_per_kg - 1) >= 0.1
    ):
        found.append(
            Effect(
                f"Price × {bought.price_per_kg / planned.price_per_kg:.2f}: cost a serving changes with it.",
                "note",
            )
        )
    order = {"redo": 0, "check": 1, "note": 2}
    return sorted(found, key=lambda e: order[e.weight])
