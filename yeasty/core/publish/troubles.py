"""What goes wrong with a dish, how it looks, why, and what cures it.

What ships follows from this program's own reckoning of heat alone (`stands_on` says which part of it), and
each is off until a lead takes it up: nobody is advised by what no kitchen here has owned.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.kernel.errors import RuleError


@dataclass(frozen=True)
class Trouble:
    """A defect as a page tells it, or what only looks like one.

    Attributes
    ----------
    name, looks : what it is and how it looks; causes, cure : why, and what to do; of what is normal the cure
        may be empty
    normal : it looks wrong and is not
    stands_on : what the kitchen knows it from
    key : by which its picture finds it, "" where it has none
    """

    name: str
    looks: str
    causes: str
    cure: str
    normal: bool
    stands_on: str
    key: str = ""


@dataclass(frozen=True)
class Shipped:
    """A trouble that comes with the program: its key, and techniques it belongs to."""

    key: str
    techniques: tuple[str, ...]
    trouble: Trouble


def _shipped(key: str, techniques: str, name: str, looks: str, causes: str, cure: str, on: str) -> Shipped:
    return Shipped(
        key, tuple(techniques.split()), Trouble(name, looks, causes, cure, normal=False, stands_on=on)
    )


SHIPPED: Mapping[str, Shipped] = {
    s.key: s
    for s in (
        _shipped(
            "cold_middle",
            "microwave",
            "Hot at the edge, cold in the middle",
            "The rim bubbles or dries while the middle is cool to touch.",
            "A microwave heats the outer part; the middle waits for what is led into it.",
            "Less power for longer, turned halfway, then let it stand covered; read the middle.",
            "conduction, and the time that a load needs to even out",
        ),
        _shipped(
            "thick_piece",
            "oven fan_oven air_fryer toaster_oven pan griddle deep_fryer grill_element",
            "Brown outside, not done inside",
            "Colour as it should be, the core far below its temperature.",
            "The piece is thicker: twice as thick takes up to four times as long, and colour does not wait.",
            "Thinner or smaller pieces, or less heat for longer; go by the core.",
            "conduction into a slab",
        ),
        _shipped(
            "wet_surface",
            "oven fan_oven air_fryer toaster_oven pan griddle deep_fryer grill_element",
            "Pale and wet on top",
            "No colour after the time that was written.",
            "A wet surface stays far cooler than the air around it until it has dried, and browns only then.",
            "Dry it before, space it out, let the steam away; more fan before more heat.",
            "wet-bulb temperature of hot air",
        ),
        _shipped(
            "cold_oil",
            "deep_fryer",
            "Greasy and pale from the fryer",
            "Oil falls quiet as the food goes in and takes long to come back.",
            "Too much at once: the more goes in, the further the oil cools.",
            "Smaller loads, dry and not from the fridge; wait until the oil is back before the next.",
            "heat taken from the oil by a load",
        ),
        _shipped(
            "high_up",
            "hob_boil steamer braise poach",
            "Still hard after the time that was written",
            "Pulses and roots do not soften, though it boils all the time.",
            "Water boils cooler the higher the kitchen lies.",
            "Longer, or under pressure; go by the bite.",
            "boiling point by altitude",
        ),
        _shipped(
            "fuller_pot",
            "pressure_cooker",
            "Later at pressure than last time",
            "The time runs from closing the lid, and the food is not done.",
            "More water and food take longer to come to pressure.",
            "Count the time from pressure on, not from the lid; keep within the fill line.",
            "heat that a load takes up until it boils under pressure",
        ),
        _shipped(
            "more_in",
            "microwave",
            "Not hot through with more in it",
            "The same time as before, a larger amount, and it is lukewarm.",
            "The same power is shared by more food.",
            "Longer by about as much as there is more, in turns, stirred between.",
            "time by load at one power",
        ),
        _shipped(
            "went_on",
            "oven fan_oven air_fryer grill_element pan",
            "Overdone after it rested",
            "Right when it came out, past it on the plate.",
            "The outside is hotter than the core and goes on heating it.",
            "Take it out sooner, thin pieces excepted; what keeps people safe is still read at its highest.",
            "heat that flows inward after the pull",
        ),
    )
}


def check_trouble(t: Trouble) -> None:
    """Raise for what could not be told.

    Raises
    ------
    RuleError : no name, no look, or a defect without a cause or a cure
    """
    for field, words, what in (
        ("name", t.name, "what it is called"),
        ("looks", t.looks, "how it looks"),
        ("causes", t.causes, "why it comes"),
    ):
        if not words.strip():
            raise RuleError(field, "is empty", f"Say {what}.")
    if not t.normal and not t.cure.strip():
        raise RuleError("cure", "is empty", "Say what to do, or that it is normal.")


def for_page(
    known: Sequence[tuple[Trouble, Collection[str], bool]], techniques: Collection[str]
) -> tuple[Trouble, ...]:
    """Troubles of a page: those of the techniques it writes out, those seen in its own trial first; and what
    its trial saw that belongs to no technique.

    Parameters
    ----------
    known : troubles that a lead took up, with their techniques and whether the page's own trial saw it
    """
    mine = [t for t, of, here in known if here and (not of or set(of) & set(techniques))]
    others = [t for t, of, here in known if not here and set(of) & set(techniques)]
    return (*mine, *others)
