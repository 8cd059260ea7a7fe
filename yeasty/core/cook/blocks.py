"""What a plan moves: stretches of a batch that follow each other at once."""

from collections.abc import Sequence
from dataclasses import dataclass

from yeasty.core.cook.problem import Chain
from yeasty.core.kernel.steps import Phase, Step, chain_of, contiguous, preheats_beside


@dataclass(frozen=True)
class Block:
    """Steps that follow each other at once, with their offsets from the block's start [s]."""

    batch: str
    parts: tuple[tuple[Step, float], ...]
    length: float
    days_before: int = 0

    @property
    def slack_s(self) -> float:
        """By how much the wait at its end may be drawn out [s]."""
        return self.last_main.slack_s

    @property
    def last_main(self) -> Step:
        """The step of the chain that ends it."""
        return max((p for p in self.parts if p[0].during_offset_s is None), key=lambda p: p[1])[0]


def blocks_of(chain: Chain) -> list[Block]:
    """What the food goes through, as blocks that may be moved against each other; washing-up is counted and
    not planned.

    Preheats beside it are blocks of their own, see `side_blocks`.
    """
    blocks: list[list[tuple[Step, float]]] = []
    lengths: list[float] = []
    before: Step | None = None
    for main, during in food_steps(chain):
        if before is None or not contiguous(before, main) or before.days_before != main.days_before:
            blocks.append([])
            lengths.append(0.0)
        at = lengths[-1]
        blocks[-1].append((main, at))
        blocks[-1].extend((d, at + (d.during_offset_s or 0.0)) for d in during)
        lengths[-1] += main.duration_s
        before = main
    return [
        Block(chain.batch, tuple(parts), length, parts[0][0].days_before)
        for parts, length in zip(blocks, lengths, strict=True)
    ]


def food_steps(chain: Chain) -> list[tuple[Step, list[Step]]]:
    """The main steps that the food goes through, each with those done meanwhile: no preheat beside it, no
    washing-up.
    """
    side = preheats_beside(chain.steps)
    return [
        (m, d)
        for m, d in chain_of([s for s in chain.steps if s.phase is not Phase.WASH_UP])
        if m.key not in side
    ]


def side_blocks(chain: Chain) -> list[tuple[Block, str]]:
    """Preheats beside the food, each with the key of the step that it must be over for."""
    side = preheats_beside(chain.steps)
    found = []
    mains = chain_of(chain.steps)
    for n, (main, during) in enumerate(mains):
        if main.key in side:
            later = (m for m, _ in mains[n + 1 :] if m.key not in side and m.phase is not Phase.WASH_UP)
            taker = next(later, None)
            if taker is not None:
                parts = ((main, 0.0), *((d, d.during_offset_s or 0.0) for d in during))
                found.append((Block(chain.batch, parts, main.duration_s, main.days_before), taker.key))
    return found


def hold_after(blocks: Sequence[Block], n: int) -> bool:
    """Whether the gap before block `n` is a hold: the food is done and waits to be served."""
    return (
        n > 0
        and blocks[n - 1].days_before == blocks[n].days_before
        and blocks[n - 1].last_main.phase in (Phase.WAIT, Phase.OUT)
        and any(s.phase in (Phase.COOK,) for b in blocks[:n] for s, _ in b.parts)
    )
