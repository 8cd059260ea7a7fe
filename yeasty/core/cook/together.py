"""What several batches go through as one: a load cooked together, the shared preparation, a preheat that
serves several.

A load is one vessel with the food of several batches in it: two treatments on one tray or in one basket, the
rungs of a ladder pulled from one pot, the finishes of one shared cook. It is preheated for, put in and taken
out once, by one tap.
"""

import itertools
from collections import Counter
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, Phase, Step, chain_of, empty_preheats

# One hand puts the load in and takes it out, whatever each method calls it.
BY_ONE_HAND = (Phase.COME_UP, Phase.LOAD, Phase.OUT)
# From here on each has a plate of its own.
APART = (Phase.PLATE, Phase.WASH_UP)
Main = tuple[Step, list[Step]]


@dataclass(frozen=True)
class Together:
    """Deeds that several batches have in common.

    Attributes
    ----------
    word : unlike any other's
    by : the batch whose steps stand for all; of a load the one that is pulled last
    once : batch to its steps (by a name that the same deed has in each batch): one tap, one pair of hands
    begins : the same, for what begins at one moment: all of `once`, and the cooking itself where each takes
        its own time
    """

    word: str
    by: Chain
    once: Mapping[str, Mapping[str, str]]
    begins: Mapping[str, Mapping[str, str]]

    @property
    def others(self) -> list[str]:
        """Batches for which it is done by another."""
        return [b for b in self.begins if b != self.by.batch]


def done_together(chains: Sequence[Chain]) -> list[Together]:
    """All that batches have in common: each load, then the shared preparation."""
    found = [t for word, own in loads(chains).items() for t in _load(word, own)]
    done_by_others = {b for t in found for b in t.others}
    prepared = [c for c in chains if c.prepared]
    if len(prepared) > 1:
        by = next((c for c in prepared if c.batch not in done_by_others), prepared[0])
        steps = {c.batch: {s.key: s.key for s in prepared_steps(c)} for c in prepared}
        found.append(Together("for all", by, steps, steps))
    return found


def loads(chains: Sequence[Chain]) -> dict[str, list[Chain]]:
    """Batches by the load they are part of, the one that is pulled last at the end; what is cooked alone is
    left out.
    """
    found: dict[str, list[Chain]] = {}
    for chain in chains:
        if chain.together:
            found.setdefault(chain.together, []).append(chain)
    return {
        word: sorted(own, key=lambda c: (cooked_s(c), c.batch)) for word, own in found.items() if len(own) > 1
    }


def in_loads(chains: Sequence[Chain]) -> frozenset[str]:
    """Batches that are cooked with another."""
    return frozenset(c.batch for own in loads(chains).values() for c in own)


def cooked_s(chain: Chain) -> float:
    """How long a batch cooks [s]."""
    return sum(s.duration_s for s in chain.steps if s.phase is Phase.COOK and s.during_offset_s is None)


def _load(word: str, own: Sequence[Chain]) -> list[Together]:
    """What all of a load have in common, then what those of it have that cook equally long."""
    mains = [_food(c) for c in own]
    heats = [_first_cook(m) for m in mains]
    # Without heat there is no load to align by: what they have in common from the beginning is done at once.
    at = [h if None not in heats else 0 for h in heats]
    common: list[list[Main]] = []
    preheats = [_preheat_of(c) for c in own]
    if all(p is not None for p in preheats) and len({_alike((p, [])) for p in preheats if p}) == 1:
        common.append([(p, []) for p in preheats if p])
    common += reversed(list(_run(mains, [itertools.count((a or 0) - 1, -1) for a in at])))
    after = list(_run(mains, [itertools.count(a or 0) for a in at]))
    common += after
    once: dict[str, dict[str, str]] = {c.batch: {} for c in own}
    for n, row in enumerate(common):
        for chain, (main, during) in zip(own, row, strict=True):
            once[chain.batch] |= {f"{n}.{k}": s.key for k, s in enumerate((main, *during))}
    cooks = [m[h or 0] for m, h in zip(mains, heats, strict=True)] if not after and None not in heats else []
    # What is cooked for different times is still turned by one hand at one moment.
    for n, step in enumerate(cooks[0][1] if cooks else ()):
        same = [next((d for d in during if _one(d) == _one(step)), None) for _, during in cooks]
        if None not in same:
            for chain, d in zip(own, same, strict=True):
                once[chain.batch][f"in.{n}"] = d.key if d else ""
    begins = {b: dict(keys) for b, keys in once.items()}
    for chain, (cook, _) in zip(own, cooks, strict=False):
        begins[chain.batch]["in"] = cook.key
    found = [Together(word, own[-1], once, begins)]
    equal: dict[tuple[object, ...], list[int]] = {}
    for n, heat in enumerate(cooks):
        equal.setdefault(_alike(heat), []).append(n)
    for part, some in enumerate(s for s in equal.values() if len(s) > 1):
        found.append(_pulled_together(f"{word}, pull {part + 1}", own, mains, heats, some, once))
    return found


def _pulled_together(
    word: str,
    own: Sequence[Chain],
    mains: Sequence[list[Main]],
    heats: Sequence[int | None],
    some: Sequence[int],
    done: Mapping[str, Mapping[str, str]],
) -> Together:
    keys: dict[str, dict[str, str]] = {own[n].batch: {} for n in some}
    for k, row in enumerate(_run([mains[n] for n in some], [itertools.count(heats[n] or 0) for n in some])):
        for n, (main, during) in zip(some, row, strict=True):
            mine = own[n].batch
            keys[mine] |= {
                f"{k}.{i}": s.key for i, s in enumerate((main, *during)) if s.key not in done[mine].values()
            }
    return Together(word, own[some[-1]], keys, keys)


def _food(chain: Chain) -> list[Main]:
    """Its main steps after the shared preparation, without preheats of an empty appliance and washing-up."""
    empty = empty_preheats(chain.steps)
    own = [s for s in chain.steps[chain.prepared :] if s.phase is not Phase.WASH_UP]
    return [(m, d) for m, d in chain_of(own) if m.key not in empty]


def _first_cook(mains: Sequence[Main]) -> int | None:
    return next((n for n, (m, _) in enumerate(mains) if m.phase is Phase.COOK), None)


def _preheat_of(chain: Chain) -> Step | None:
    """The preheat for its first heat, where there is just one and nothing is done during it."""
    empty = empty_preheats(chain.steps)
    found: list[Step] = []
    for main, during in chain_of(chain.steps):
        if main.phase is Phase.COOK:
            return found[0] if len(found) == 1 and found[0].appliance == main.appliance else None
        if main.key in empty:
            found.append(main)
            if during:
                return None
    return None


def _run(mains: Sequence[list[Main]], ways: Sequence[Iterator[int]]) -> Iterator[list[Main]]:
    """Steps that are alike in all, along a way through each, until one is not, one ends, or each goes to a
    plate of its own.
    """
    for places in zip(*ways, strict=True):
        if any(not 0 <= n < len(m) for n, m in zip(places, mains, strict=True)):
            return
        row = [m[n] for n, m in zip(places, mains, strict=True)]
        if len({_alike(r) for r in row}) > 1 or row[0][0].phase in APART:
            return
        yield row


def _alike(main: Main) -> tuple[object, ...]:
    return (_one(main[0]), *(_one(d) for d in main[1]))


def _one(s: Step) -> tuple[object, ...]:
    words = "" if s.phase in BY_ONE_HAND else s.what
    place = None if s.phase in (Phase.LOAD, Phase.OUT) else (s.appliance, s.set_point_c)
    ends = (s.end_rule, s.end_core_c, s.end_cue, s.end_kg)
    lasts = (s.duration_s, s.longest_s, s.during_offset_s, s.days_before)
    return (words, s.phase, s.attention, place, ends, lasts)


def check_loads(chains: Sequence[Chain]) -> list[RuleError]:
    """What keeps batches from being one load, each with what to do."""
    found = []
    for own in loads(chains).values():
        together = _load("", own)[0]
        tags = ", ".join(dict.fromkeys(c.tag for c in own))
        mains = [_food(c) for c in own]
        heats = [_first_cook(m) for m in mains]
        if any(h is None for h in heats):
            if any(h is not None for h in heats):
                found.append(
                    RuleError(
                        tags,
                        "are cooked together, and not all are heated",
                        "Take the cold one out of the load.",
                    )
                )
            continue
        cooks = [m[h or 0][0] for m, h in zip(mains, heats, strict=True)]
        if len({(s.appliance, s.set_point_c, s.power_w) for s in cooks}) > 1:
            found.append(
                RuleError(
                    tags,
                    "are cooked together, and do not go into one appliance at one setting",
                    "Give their first heat the same appliance and setting, or cook each by itself.",
                )
            )
            continue
        done = {s for keys in together.once.values() for s in keys.values()}
        for chain, steps, h in zip(own, mains, heats, strict=True):
            loaded = steps[h - 1][0] if h else None
            if loaded is not None and loaded.phase in (Phase.LOAD, Phase.COME_UP) and loaded.key not in done:
                found.append(
                    RuleError(
                        f"{chain.tag}, {loaded.what}",
                        f"goes in otherwise than the rest of its load ({tags})",
                        "Give all that are cooked together the same step for going in, as long and for the "
                        "same hands.",
                    )
                )
                break
    return found


def still_apart(chains: Sequence[Chain], going: Collection[tuple[str, str]]) -> frozenset[tuple[str, str]]:
    """Steps (batch, key) of loads that have not gone in yet, by which a batch was prepared for its own.

    Begun, they say nothing yet of when the load goes in: it waits for whoever is ready last.
    """
    found: set[tuple[str, str]] = set()
    empty = {(c.batch, key) for c in chains for key in empty_preheats(c.steps)}
    own = {c.batch: c for c in chains}
    for t in done_together(chains):
        deeds = {(b, key) for b, keys in t.begins.items() for key in keys.values()} - empty
        if t.by.together and not deeds & set(going):
            for b, keys in t.begins.items():
                first = next(n for n, s in enumerate(own[b].steps) if (b, s.key) in deeds) if keys else 0
                found |= {(b, s.key) for s in own[b].steps[:first]}
    return frozenset(found)


def prepared_steps(chain: Chain) -> tuple[Step, ...]:
    """The steps of a batch that are the shared preparation."""
    return chain.steps[: chain.prepared]


def prepared_by(chains: Sequence[Chain]) -> Chain | None:
    """The batch whose steps stand for the shared preparation of all; None where nothing is prepared for
    several.
    """
    return next((t.by for t in done_together(chains) if t.word == "for all"), None)


def shared_steps(chains: Sequence[Chain]) -> frozenset[tuple[str, str]]:
    """Steps (batch, key) that another batch does for them, in a load or for all: its hands are counted
    once.
    """
    return frozenset((b, key) for t in done_together(chains) for b in t.others for key in t.once[b].values())


def share_groups(chains: Sequence[Chain]) -> dict[tuple[str, str], str]:
    """Step (batch, key) to a word that it has in common with the steps done together with it."""
    return {
        (b, key): f"{t.word}|{name}"
        for t in done_together(chains)
        for b, keys in t.once.items()
        for name, key in keys.items()
    }


def without_begun(chain: Chain, begun: Mapping[str, PlannedStep]) -> Chain:
    """What is left to plan of a batch of which only something was begun that says nothing of its food (a
    preheat).

    The step that follows each waits until it is over; limits that count from a step that is gone count from
    its end.
    """
    ready = list(chain.ready)
    mains = [m for m, _ in chain_of(chain.steps)]
    for n, main in enumerate(mains):
        if main.key in begun:
            taker = next((m.key for m in mains[n + 1 :] if m.key not in begun), None)
            if taker is not None:
                ready.append((taker, begun[main.key].end))
    gone = set(begun) | {d.key for m, during in chain_of(chain.steps) if m.key in begun for d in during}
    left = tuple(s for s in chain.steps if s.key not in gone)
    waits = tuple(
        replace(
            w,
            since=begun[w.after].end if w.after in begun else w.since,
            between=tuple(k for k in w.between if k not in gone),
        )
        for w in chain.waits
        if w.until not in gone
    )
    prepared = sum(1 for s in prepared_steps(chain) if s.key not in gone)
    heats = {s.appliance for s in left if s.phase is Phase.COOK}
    hot = tuple(
        (s.appliance, s.set_point_c, begun[s.key].end)
        for s in chain.steps
        if s.key in begun and s.phase is Phase.COME_UP and s.appliance in heats
    )
    return replace(
        chain,
        steps=left,
        waits=waits,
        ready=tuple(ready),
        prepared=prepared,
        hot=tuple((k, point, since) for k, point, since in hot if k is not None),
    )


def preheated_together(
    chains: Sequence[Chain], items: Sequence[PlannedStep], hobs: Collection[str] = ()
) -> Mapping[tuple[str, str], str]:
    """Step (batch, key) to a word in common with the preheats that are the same one: one appliance, set point
    and moment.

    Only of an empty appliance that nobody has to watch; `hobs` : appliances whose rings are set for
    themselves.
    """
    at = {(p.batch, p.step): p for p in items}
    found: dict[tuple[str, str], str] = {}
    for chain in chains:
        empty = empty_preheats(chain.steps)
        for step in chain.steps:
            p = at.get((chain.batch, step.key))
            alone = step.key in empty and step.attention is Attention.FREE
            if p is None or not alone or step.appliance is None or step.appliance in hobs:
                continue
            if step.set_point_c is not None:
                word = f"preheat|{step.appliance}|{step.set_point_c:g}|{p.start:.0f}|{p.end:.0f}"
                found[chain.batch, step.key] = word
    count = Counter(found.values())
    return {k: w for k, w in found.items() if count[w] > 1}
