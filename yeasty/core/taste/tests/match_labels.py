"""All labels to all samples: which is which?

Not the same as guessing one: here every right label takes one away from the others.
"""

from collections.abc import Sequence

from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.luck import at_least_hits, beside_luck, hits_by_luck, often
from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidLabels
from yeasty.core.taste.tests.kind import Bar, Found, TasteTest, knowing, refused
from yeasty.core.taste.tests.pairs import people
from yeasty.core.taste.tests.scored import serve


def check(said: Said, order: Sequence[str], _settings: Settings) -> Said:
    """Every sample a label, every label once."""
    if not isinstance(said, SaidLabels) or sorted(said.labels) != sorted(order):
        raise RuleError("answer", "does not label every sample", "Give each sample a label.")
    if len(set(said.labels.values())) != len(order):
        raise RuleError("answer", "uses a label twice", "Give each label once.")
    return said


def analyse(r: Round) -> Found:
    """Hits in all, beside one a person that luck gives."""
    answers = [g.said for g in r.blind() if isinstance(g.said, SaidLabels)]
    if not answers:
        return Found("Nobody has answered blind.", (*refused(r), *knowing(r)))
    hit = {c.code: sum(a.labels.get(c.code) == c.method for a in answers) for c in r.cups}
    hits, of, k = sum(hit.values()), len(answers), len(r.cups)
    chance = at_least_hits(hits, k, of)
    two = sum(hits_by_luck(k)[2:])
    lines = (
        f"{hits} of {of * k} labels right, by {people(of)}. Luck gives one a person, whatever their number, "
        f"and {hits} or more in all {often(chance)}: {beside_luck(chance)}.",
        f"Of {k} labels one person gets two or more right by luck {often(two)}.",
    )
    bars = tuple(
        Bar(c.name, hit[c.code], of, f"{hit[c.code]} of {of}", luck=of / k)
        for c in sorted(r.cups, key=lambda c: (-hit[c.code], c.name))
    )
    sure = chance <= 0.05
    headline = (
        f"They know which is which more often than luck: {hits} of {of * k} labels right."
        if sure
        else f"Nobody could be shown to know which is which: {hits} of {of * k} labels right."
    )
    settle = "" if sure else "More people settle it; a label that all get right is worth a look by itself."
    return Found(headline, (*lines, *refused(r), *knowing(r)), settle, bars, hits, of * k, float(chance))


MATCH_LABELS = TasteTest(
    TestKey.MATCH_LABELS,
    "Which is which? (all labels to all samples)",
    "Each of these labels belongs to one sample. Which is which?",
    "Whether people know the ways apart by taste and look. It says nothing of which is better.",
    front=True,
    fewest=2,
    most=8,
    cups=1,
    drawn="labels",
    serve=serve,
    check=check,
    analyse=analyse,
)
