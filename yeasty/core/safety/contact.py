"""Raw to cooked: what carries over from what is raw to what is ready, seen from who used which thing when."""

from collections.abc import Sequence
from dataclasses import dataclass

# Kinds of food whose raw state must not reach what is ready to eat.
RISKY_RAW = frozenset({"poultry", "mince", "whole_cut", "fish", "egg_dish", "stuffed"})
# Hazards that make any food risky raw, whatever its kind: raw flour and dough.
RISKY_HAZARDS = frozenset({"raw_dough", "raw_contact"})


@dataclass(frozen=True)
class Use:
    """A thing (probe, tongs, board, plate, hands) touching food at a moment [s].

    `cooked` : whether the food had been through its heat by then; `food` : its kind; `raw` : it is risky raw
        whatever its
    kind, as flour and dough are
    """

    at: float
    thing: str
    batch: str
    cooked: bool
    food: str
    raw: bool = False

    @property
    def risky(self) -> bool:
        """Whether it leaves the thing unfit for what is ready: raw meat, fish and egg, and raw flour and
        dough.
        """
        return not self.cooked and (self.raw or self.food in RISKY_RAW)


@dataclass(frozen=True)
class ContactPrompt:
    """What to do before a use: wash or change a thing that was on raw food."""

    at: float
    thing: str
    batch: str
    text: str


def contact_prompts(uses: Sequence[Use], washed: Sequence[tuple[float, str]] = ()) -> list[ContactPrompt]:
    """Prompts where a thing goes from raw food to food that is ready, with no washing between.

    Parameters
    ----------
    uses : in any order; washed : (moment [s], thing)

    >>> raw, ready = Use(0, "probe", "a", False, "poultry"), Use(60, "probe", "b", True, "poultry")
    >>> [p.thing for p in contact_prompts([raw, ready])], contact_prompts([raw, ready], [(30, "probe")])
    (['probe'], [])
    """
    found = []
    dirty: dict[str, tuple[float, str]] = {}
    events: list[tuple[float, int, object]] = [(at, 0, thing) for at, thing in washed]
    events += [(u.at, 1, u) for u in uses]
    for _, _, event in sorted(events, key=lambda e: (e[0], e[1])):
        if isinstance(event, str):
            dirty.pop(event, None)
        elif isinstance(event, Use):
            if event.cooked and event.thing in dirty:
                found.append(
                    ContactPrompt(
                        event.at,
                        event.thing,
                        event.batch,
                        f"The {event.thing} was on raw food: wash it hot, or take another, before it "
                        f"touches what is ready.",
                    )
                )
                dirty.pop(event.thing)
            elif event.risky:
                dirty[event.thing] = (event.at, event.batch)
    return found


def carrying(uses: Sequence[Use], washed: Sequence[tuple[float, str]] = ()) -> list[str]:
    """Things that were last on raw food and have not been washed since.

    >>> carrying([Use(0, "probe", "a", False, "poultry")]), carrying([Use(0, "probe", "a", False, "poultry")], [(9, "probe")])
    (['probe'], [])
    """  # noqa: E501
    last_washed = {thing: at for at, thing in sorted(washed)}
    dirty = {u.thing for u in uses if u.risky and u.at > last_washed.get(u.thing, float("-inf"))}
    return sorted(dirty)
