"""What may be claimed of what differs: of one change, of a chain of versions, of ways side by side."""

from collections.abc import Mapping, Sequence

from yeasty.core.ask.kinds import KINDS
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.setup.differences import MethodFacts, differences


def links(
    methods: Sequence[MethodFacts], came_from: Mapping[str, str], done_rule: DoneRule = DoneRule.BY_CLOCK
) -> dict[str, list[str]]:
    """For each method that came from another one here: the fields in which the two differ.

    Parameters
    ----------
    came_from : tag to the tag it came from

    >>> a, b = MethodFacts("VA", "Griddle", lid="lid on"), MethodFacts("VB", "Griddle", lid="lid off")
    >>> links([a, b], {"VB": "VA"})
    {'VB': ['lid']}
    """
    by_tag = {m.tag: m for m in methods}
    return {
        child: [
            d.field
            for d in differences([by_tag[parent], by_tag[child]], [], done_rule=done_rule)
            if not d.result
        ]
        for child, parent in came_from.items()
        if child in by_tag and parent in by_tag
    }


def the_change(found: Mapping[str, Sequence[str]]) -> list[str]:
    """Fields that are the one thing changed wherever they change: those are what such a trial varies.

    >>> the_change({"VB": ["lid"], "VC": ["rest", "lid"]})
    []
    """
    alone = {fields[0] for fields in found.values() if len(fields) == 1}
    along = {f for fields in found.values() if len(fields) > 1 for f in fields}
    return sorted(alone - along)


def claim_links(found: Mapping[str, Sequence[str]]) -> str:
    """What a chain or a challenge can claim, by what each version changes against the one it came from.

    >>> claim_links({"VB": ["lid"], "VC": ["rest", "turns"]})
    'VC changes two things at once (rest, turns): a difference can be credited to both together, not to either. VB changes one thing: a difference can be credited to the lid.'
    """  # noqa: E501
    said = []
    for tag, fields in found.items():
        if len(fields) > 1:
            count = "two" if len(fields) == 2 else str(len(fields))
            them = "both together, not to either" if len(fields) == 2 else "all together, not to any one"
            said.append(
                f"{tag} changes {count} things at once ({', '.join(fields[:5])}): a difference can be "
                f"credited to {them}."
            )
    none = [t for t, f in found.items() if not f]
    if none:
        said.append(
            f"{', '.join(none)} {'differs' if len(none) == 1 else 'differ'} in nothing that is written: "
            f"write the change down."
        )
    single = {t: f[0] for t, f in found.items() if len(f) == 1}
    if single and len(single) == len(found) and len(found) > 2:
        said.append(
            "Each version changes one thing against the one before: a difference between the two can be "
            "credited to it."
        )
    else:
        said += [
            f"{t} changes one thing: a difference can be credited to the {f}." for t, f in single.items()
        ]
    return " ".join(said)


def sentence(open_fields: Sequence[str], accepted: int, varied: int, results: int = 0) -> str:
    """The one sentence that opens Set up: fields that slipped in, how many are accepted, meant, or results of
    the cooking.

    >>> sentence(["rest"], 0, 2)
    'Not yet fair: 1 difference slipped in (rest). Mend it, or accept it in writing.'
    >>> sentence([], 0, 0)
    'Nothing differs, as far as it is written.'
    """
    if not open_fields:
        if not varied and not accepted and not results:
            return "Nothing differs, as far as it is written."
        stand = f"; {accepted} accepted in writing" if accepted else ""
        return (
            f"Fair as far as it is written: only what is meant to differ differs ({varied} "
            f"field{'' if varied == 1 else 's'}){stand}."
        )
    count = len(open_fields)
    names = ", ".join(open_fields[:4]) + (", …" if count > 4 else "")
    one = count == 1
    return (
        f"Not yet fair: {count} difference{'' if one else 's'} slipped in ({names}). "
        f"Mend {'it' if one else 'them'}, or accept {'it' if one else 'them'} in writing."
    )


def claim(
    kind: TrialKind,
    fairness: Fairness,
    done_rule: DoneRule,
    varied: Sequence[str],
    accepted: Sequence[str],
    still_open: Sequence[str],
    credited: str = "",
    cells_tell: bool = True,
    change: str = "",
) -> str:
    """What the trial can then claim, in one sentence.

    Parameters
    ----------
    varied, accepted, still_open : fields that differ, by how they stand
    credited : the one field that the cook means to credit, or ""
    cells_tell : whether a grid's own cells show how its factors act together
    change : what a version is said to change, in the cook's words

    >>> claim(TrialKind.ONE_CHANGE, Fairness.SAME_RECIPE, DoneRule.BY_CLOCK, ["rest"], [], [])
    'For this recipe, a difference can be credited to the rest.'
    >>> claim(TrialKind.ONE_CHANGE, Fairness.SAME_RECIPE, DoneRule.BY_CLOCK, ["rest", "lid"], [], [], "rest")
    'Two things change (rest, lid) and one is credited: a difference can be credited to both together, not to the rest alone.'
    """  # noqa: E501
    differ = [*varied, *accepted]
    if still_open:
        blame = f"the {credited}" if credited else "what is varied"
        others = ", ".join(still_open[:3]) + (" and more" if len(still_open) > 3 else "")
        return f"As it stands nothing can be credited to {blame}: it may as well be {others}."
    if not differ and change:
        return (
            f"“{change}” is to differ, and nothing that is written does: write it into steps, amounts, "
            f"vessel or lid, or no difference can be credited to it."
        )
    if not differ:
        return "Nothing differs: whatever tasters find is chance or the spread between batches."
    at = "For this recipe" if fairness is Fairness.SAME_RECIPE else "With each at its best, as tuned here"
    state = "" if done_rule is DoneRule.BY_CLOCK else "; time is then a result"
    if KINDS[kind].single or credited:
        if len(differ) == 1:
            return f"{at}, a difference can be credited to the {differ[0]}{state}."
        count = "Two" if len(differ) == 2 else f"{len(differ)}"
        together = "both together" if len(differ) == 2 else "all of them together"
        named = ", ".join(differ[:6]) + (" and more" if len(differ) > 6 else "")
        alone = f", not to the {credited} alone" if credited else ", not to any one of them"
        middle = " and one is credited" if credited else ""
        return (
            f"{count} things change ({named}){middle}: a difference can be credited to "
            f"{together}{alone}{state}."
        )
    whole = {
        TrialKind.GRID: "to the factors and how they act together, within these levels"
        if cells_tell
        else "to the factors one by one, within these levels; how they act together these cells cannot tell",
        TrialKind.LADDER: f"to the {differ[0]}, between the first and the last rung",
        TrialKind.BRANCH: "to the finish, given this shared cook",
        TrialKind.VARIETIES: "to the variety, by this method",
        TrialKind.SCREENING: "to nothing yet: one note each shows what to try closer",
    }.get(kind, "to a method as a whole, not to any one thing in it")
    along = (
        f"; {', '.join(accepted[:3])} {'comes' if len(accepted) == 1 else 'come'} with the method"
        if accepted
        else ""
    )
    return f"{at}, a difference can be credited {whole}{along}{state}."


def sentence_as_done(batches: int, open_fields: Sequence[str]) -> str:
    """The sentence above what was really done.

    >>> sentence_as_done(3, ["start temperature"])
    'As cooked, 1 thing differed that was not varied on purpose: start temperature.'
    >>> sentence_as_done(1, [])
    'Fewer than two batches are cooked and judged: there is nothing to compare yet.'
    """
    if batches < 2:
        return "Fewer than two batches are cooked and judged: there is nothing to compare yet."
    if not open_fields:
        return "As cooked, only what was meant to differ differed, as far as the log tells."
    one = len(open_fields) == 1
    return (
        f"As cooked, {len(open_fields)} thing{'' if one else 's'} differed that {'was' if one else 'were'} "
        f"not varied on purpose: {', '.join(open_fields[:4])}."
    )
