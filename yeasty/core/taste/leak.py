"""Whether a tasting that was to be blind was blind: a guess at which is which, asked in the same session."""

from collections.abc import Sequence

from yeasty.core.taste.luck import often
from yeasty.core.taste.rounds import Round, TestKey
from yeasty.core.taste.tests.kind import Found

# Questions that show whether people know what they taste.
CHECKS = (TestKey.GUESS_ONE, TestKey.MATCH_LABELS)
SURE = 0.05


def leak_check(rounds: Sequence[Round], found: Sequence[Found]) -> tuple[bool, list[str]]:
    """Whether people were shown to know which is which, and what to say of it; nothing where nobody asked.

    A guess that luck would give does not show that a tasting was blind: with few people a leak goes unseen.
    """
    known, told = False, []
    for r, f in zip(rounds, found, strict=True):
        if r.test not in CHECKS or f.right is None or f.of is None or f.chance is None:
            continue
        n = len({g.who for g in r.blind()})
        who = "1 person" if n == 1 else f"{n} people"
        if r.test is TestKey.GUESS_ONE:
            name = r.names().get(r.settings.label, "it")
            said = f"Asked which is {name}, {f.right} of {f.of} were right"
        else:
            said = f"Asked which is which, {who} got {f.right} of {f.of} labels right"
        if f.chance <= SURE:
            known = True
            told.append(
                f"{said}; luck gives that {often(f.chance)}. It was not blind in effect: what people think "
                "of a way may have spoken with."
            )
        else:
            told.append(
                f"{said}; luck gives so many {often(f.chance)}. No sign that codes gave themselves away, "
                f"though {who} would not notice a small one."
            )
    return known, told
