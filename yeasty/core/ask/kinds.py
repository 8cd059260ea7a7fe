"""The nine kinds of trial: what each varies, how it is set up, what it asks of the later stations, what it
lacks.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from yeasty.core.ask.grid import Grid, check_grid, grid_from_record, need, open_cells
from yeasty.core.ask.ladder import RISES, check_ladder, ladder_from_record
from yeasty.core.ask.screening import check_words
from yeasty.core.ask.trial import Attribute, DoneRule, TrialKind
from yeasty.core.kernel.errors import RuleError

HEAT = (
    "technique",
    "appliance",
    "set point",
    "power",
    "come-up time",
    "cooking time",
    "watched steps",
    "turns",
)


@dataclass(frozen=True)
class Kind:
    """A kind of trial.

    Attributes
    ----------
    name, what : what it is called, and when to choose it
    wants : what a cook who chooses it wants to know
    least, most : methods it needs and takes
    varied : fields that differ by its nature
    single : whether one thing alone is changed between an arm and the one it came from
    asks : station to the question this kind puts to it
    """

    name: str
    what: str
    wants: str
    least: int
    most: int
    varied: tuple[str, ...]
    single: bool
    asks: Mapping[str, str]


def _asks(cook: str, taste: str, decide: str) -> Mapping[str, str]:
    return {"cook": cook, "taste": taste, "decide": decide}


KINDS: Mapping[TrialKind, Kind] = {
    TrialKind.SIDE_BY_SIDE: Kind(
        "Side by side",
        "several ways, one dish",
        "Which way is best?",
        2,
        48,
        HEAT,
        False,
        _asks(
            "All to the table together.",
            "Score every sample on the same attributes.",
            "Which leads, and is it told from the runner-up?",
        ),
    ),
    TrialKind.ONE_CHANGE: Kind(
        "One change",
        "do or skip one thing",
        "Does this one step matter?",
        2,
        2,
        (),
        True,
        _asks(
            "Both the same but for the change.",
            "Can they be told apart; which is preferred?",
            "Is the change worth doing?",
        ),
    ),
    TrialKind.CHAMPION: Kind(
        "Champion and challenger",
        "the last winner meets the next idea",
        "Does a new idea beat our best?",
        2,
        8,
        (),
        True,
        _asks(
            "The champion is cooked again beside it, not remembered.",
            "Champion against each challenger, in pairs.",
            "Does a challenger beat the champion? On a tie the champion stays.",
        ),
    ),
    TrialKind.GRID: Kind(
        "Grid",
        "factors by levels, every cell a method",
        "Which of several things matters, and do they act together?",
        2,
        48,
        (*HEAT, "preparation", "rest", "rests", "factor levels"),
        False,
        _asks(
            "Cells in an order drawn at random, in blocks where they take more than one shift.",
            "Score every cell on the same attributes.",
            "Which factor matters, and do they act together?",
        ),
    ),
    TrialKind.LADDER: Kind(
        "Ladder",
        "pulled at rising times or temperatures, past the right one",
        "How long, how hot or how much?",
        4,
        48,
        ("cooking time", "factor levels", "turns"),
        False,
        _asks(
            "Staged pulls, past the right one on purpose.",
            "Under, right or past, for each rung.",
            "The best point and its range, not the best rung tried.",
        ),
    ),
    TrialKind.BRANCH: Kind(
        "Branch",
        "one shared cook, several finishes",
        "How to finish what is cooked once?",
        2,
        48,
        (*HEAT, "rest", "rests", "factor levels"),
        False,
        _asks(
            "One shared cook, then parted; note when each part leaves it.",
            "Score every finish on the same attributes.",
            "Which finish, given this cook?",
        ),
    ),
    TrialKind.SCREENING: Kind(
        "Screening",
        "20 to 40 ways, one note each",
        "What is worth trying at all?",
        3,
        48,
        (*HEAT, "preparation", "rest", "rests"),
        False,
        _asks(
            "Quickly, one after another.",
            "One word each from an ordered ladder, and a note.",
            "Which few go on to a closer trial?",
        ),
    ),
    TrialKind.CHAIN: Kind(
        "Chain",
        "each version cures the last one’s defect",
        "What cures this defect?",
        2,
        48,
        (),
        True,
        _asks(
            "The version before is cooked again or its sample kept.",
            "Is the defect gone; did another come?",
            "Which version stands, and what is the next change?",
        ),
    ),
    TrialKind.VARIETIES: Kind(
        "Varieties",
        "same method, other ingredient",
        "Which one to buy?",
        2,
        48,
        ("factor levels",),
        False,
        _asks(
            "All by the same steps.",
            "Score every variety on the same attributes.",
            "Which variety, by this method?",
        ),
    ),
}

# What a ladder varies, by what rises.
LADDER_VARIES = {
    "time": "cooking time",
    "core temperature": "end rule",
    "set point": "set point",
    "amount": "amount",
}


@dataclass(frozen=True)
class Arm:
    """What a kind's checks need of a method."""

    tag: str
    has_parent: bool = False
    change: str = ""
    aimed_defect: str = ""
    verdict_word: str = ""


@dataclass(frozen=True)
class Design:
    """A trial as its kind checks it.

    Parameters
    ----------
    layout : what the kind's own way of setting up keeps: a grid, a ladder, words, a champion, a variety's
        ingredient
    matches : the sample that a cooking is to match, where that ends it
    claim : a measure of the log that is asked for in place of what people say
    """

    question: str
    attributes: Sequence[Attribute]
    kind: TrialKind
    arms: Sequence[Arm]
    layout: Mapping[str, object] = field(default_factory=dict)
    done_rule: DoneRule = DoneRule.BY_STATE
    matches: str = ""
    claim: str = ""


def check_design(design: Design) -> list[RuleError]:
    """What still keeps a trial from being set up: each with what to do about it.

    >>> [e.field for e in check_design(Design("", [], TrialKind.SIDE_BY_SIDE, []))]
    ['question', 'attributes', 'methods']
    """
    found: list[RuleError] = []
    kind = KINDS[design.kind]
    if not design.question.strip():
        found.append(RuleError("question", "is empty", "Write what you want to find out, in a sentence."))
    if design.kind is not TrialKind.SCREENING and not design.claim:
        if not design.attributes:
            found.append(RuleError("attributes", "none yet", "Name at least one thing tasters judge."))
        elif not any(a.weight > 0 for a in design.attributes):
            found.append(RuleError("weights", "all are zero", "Give at least one attribute a weight."))
    if design.done_rule is DoneRule.UNTIL_MATCH and not design.matches.strip():
        found.append(
            RuleError("sample to match", "is not named", "Name the sample on the table that ends a cooking.")
        )
    own = _OWN.get(design.kind)
    found += own(design) if own else []
    count = len(design.arms)
    if count < kind.least:
        need_more = (
            "Add at least two to compare."
            if kind.least == 2
            else f"A {kind.name.lower()} needs at least {kind.least}."
        )
        found.append(RuleError("methods", f"{count} so far", need_more))
    if count > kind.most:
        found.append(
            RuleError(
                "methods",
                f"{count} in a trial of the kind “{kind.name.lower()}”",
                f"Keep {kind.most}, or choose another kind.",
            )
        )
    return found


def _champion(d: Design) -> list[RuleError]:
    found = []
    if not d.layout.get("champion"):
        found.append(
            RuleError(
                "champion",
                "is not named",
                "Start from a finished trial, or say which method is the champion.",
            )
        )
    for a in d.arms:
        if a.has_parent and not a.aimed_defect.strip():
            found.append(
                RuleError(a.tag, "aims at nothing", "Write the defect this challenger is meant to cure.")
            )
    return found


def _grid(d: Design) -> list[RuleError]:
    grid: Grid = grid_from_record(d.layout)
    if not grid.factors:
        return [
            RuleError(
                "grid",
                "has no factors yet",
                "Name what is varied and its levels; the cells then become methods.",
            )
        ]
    found = check_grid(grid)
    if not found and d.arms:
        short = need(grid, len(d.arms)).short_of
        if short:
            found.append(
                RuleError(
                    "pieces",
                    f"{short} too few for {len(d.arms)} cells",
                    "Cook a fraction, fewer replicates, or get more before the first cut.",
                )
            )
        elif len(d.arms) < len(open_cells(grid)) and not d.layout.get("fraction_said"):
            found.append(
                RuleError(
                    "cells",
                    f"{len(d.arms)} of {len(open_cells(grid))} are methods",
                    "Lay the grid out again.",
                )
            )
    return found


def _ladder(d: Design) -> list[RuleError]:
    if not d.layout.get("rungs"):
        return [
            RuleError(
                "ladder",
                "has no rungs yet",
                "Say what rises, from where to where, and where you expect the right one.",
            )
        ]
    return check_ladder(ladder_from_record(d.layout))


def _screening(d: Design) -> list[RuleError]:
    try:
        words = d.layout.get("words")
        check_words([str(w) for w in words] if isinstance(words, list) else [])
    except RuleError as wrong:
        return [wrong]
    return []


def _chain(d: Design) -> list[RuleError]:
    found = []
    for n, a in enumerate(d.arms):
        if n and not a.has_parent:
            found.append(
                RuleError(a.tag, "has no version before it", "Make it from a version: “Next version”.")
            )
        elif a.has_parent and not a.aimed_defect.strip():
            found.append(
                RuleError(a.tag, "aims at nothing", "Write the defect this version is meant to cure.")
            )
    return found


def _varieties(d: Design) -> list[RuleError]:
    if not str(d.layout.get("ingredient") or "").strip():
        return [RuleError("variety", "the ingredient is not named", "Say which ingredient is exchanged.")]
    return []


_OWN: Mapping[TrialKind, Callable[[Design], list[RuleError]]] = {
    TrialKind.CHAMPION: _champion,
    TrialKind.GRID: _grid,
    TrialKind.LADDER: _ladder,
    TrialKind.SCREENING: _screening,
    TrialKind.CHAIN: _chain,
    TrialKind.VARIETIES: _varieties,
}


def varied_by(kind: TrialKind, layout: Mapping[str, object]) -> tuple[str, ...]:
    """Fields that differ on purpose by the kind and its layout.

    >>> varied_by(TrialKind.LADDER, {"rises": "set point"})[0]
    'set point'
    """
    if kind is TrialKind.LADDER:
        rises = str(layout.get("rises") or "time")
        return (LADDER_VARIES[rises], "factor levels", "turns") if rises in RISES else ()
    return KINDS[kind].varied
