"""Cores belong to pieces: what decides is the lowest among the pieces, each by its own best hold.

A hand thermometer gives points, not curves. Between two readings of a piece the lower of them counts, and the
hold asked for is that of the table at this lower one; what was not read is not known, and what is not known
is not met.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from math import ceil

from yeasty.core.safety.core_minimum import CoreResult, CoreStanding, PieceResult, Requirement, judge_core
from yeasty.core.safety.lethality import equivalents, hold_needed

UNNAMED = ""
# A hand needs this long to read again and trust it [s]; kitchen practice, not a figure of an authority.
LEAST_WAIT_S = 30.0
# How many pieces of a batch are read before any is served: the largest, and the one in the coldest place.
PIECES_READ = 2
_WORST = (CoreStanding.BELOW, CoreStanding.UNKNOWN, CoreStanding.MEETS, CoreStanding.NOT_NEEDED)


@dataclass(frozen=True)
class CoreReading:
    """One core reading.

    Attributes
    ----------
    at : moment [s]; celsius : what was read [°C]
    piece : which piece, "" where none was named; place : where in it, in the cook's words
    id : of its entry, "" where a probe wrote it
    """

    at: float
    celsius: float
    piece: str = UNNAMED
    place: str = ""
    id: str = ""


@dataclass(frozen=True)
class Pieces:
    """How the food of a batch is divided.

    Attributes
    ----------
    count : pieces in the batch
    one : it counts as one piece, as a pot or grains do: then a later reading stands for the whole
    strict : unnamed low readings stay, and the largest and the coldest are asked for; not so for batches from
        before pieces could be named, which stay as they were judged
    """

    count: int = 1
    one: bool = True
    strict: bool = False


def judge_pieces(
    asked: Sequence[Requirement],
    readings: Sequence[CoreReading],
    pieces: Pieces,
    cleared: Collection[str] = (),
) -> CoreResult:
    """How a batch stands: the lowest among its pieces' best-held readings.

    Parameters
    ----------
    readings : in any order; cleared : ids of low readings without a piece that somebody put aside by an act

    >>> from yeasty.core.safety.core_minimum import requirements
    >>> asked, six = requirements("poultry"), Pieces(6, one=False, strict=True)
    >>> held = [CoreReading(t, 79, p) for p in ("1", "2") for t in (0, 30)]
    >>> judge_pieces(asked, held, six).standing.value
    'meets the figure entered'
    >>> judge_pieces(asked, [*held, CoreReading(60, 61, "3")], six).standing.value
    'below the figure entered'
    >>> judge_pieces(asked, [*held, CoreReading(60, 61, "3"), CoreReading(400, 79, "3"), CoreReading(430, 79, "3")], six).standing.value
    'meets the figure entered'
    """  # noqa: E501
    ordered = sorted(readings, key=lambda r: (r.at, r.id))
    if not asked or not ordered or pieces.one or not pieces.strict:
        return judge_core(asked, [r.at for r in ordered], [r.celsius for r in ordered])
    groups: dict[str, list[CoreReading]] = {}
    for r in ordered:
        groups.setdefault(r.piece.strip().lower(), []).append(r)
    floor = max((r.temperature_c for r in asked if not r.equivalent), default=equivalents()[0][0])
    found = []
    for name, mine in groups.items():
        kept = [r for r in mine if not (name == UNNAMED and r.id in cleared)]
        if not kept:
            continue
        result = judge_core(asked, [r.at for r in kept], [r.celsius for r in kept])
        standing, sentence = result.standing, result.sentence
        low = [r for r in kept if r.celsius < floor] if name == UNNAMED else []
        if low:
            standing = CoreStanding.BELOW
            sentence = (
                f"{min(r.celsius for r in low):.1f} °C was read without naming a piece: it stays until it "
                f"is cleared "
                "by an act, or that piece is named and read again."
            )
        called = mine[0].piece.strip() or "unnamed piece"
        found.append(PieceResult(called, standing, sentence, max(r.celsius for r in kept)))
    if not found:
        return judge_core(asked, [], [])
    worst = min(found, key=lambda p: (_WORST.index(p.standing), p.highest_c))
    laxer = any(r.laxer for r in asked)
    lowest = min(p.highest_c for p in found)
    if worst.standing is not CoreStanding.MEETS:
        again = "" if worst.piece == "unnamed piece" else " Read that piece again, under this name."
        said = f"{worst.piece}: {worst.sentence}{again}"
        return CoreResult(worst.standing, said, tuple(asked), lowest, laxer, tuple(found))
    least = min(PIECES_READ, pieces.count)
    if len(found) < least:
        return CoreResult(
            CoreStanding.UNKNOWN,
            f"Not met: {len(found)} of at least {least} pieces read. Read the largest and the one in the "
            f"coldest place, "
            "and name them; then every piece that is served.",
            tuple(asked),
            lowest,
            laxer,
            tuple(found),
        )
    said = (
        f"{len(found)} pieces read, the lowest highest {lowest:.1f} °C. {worst.sentence} Serve from "
        f"these pieces only."
    )
    return CoreResult(CoreStanding.MEETS, said, tuple(asked), lowest, laxer, tuple(found))


@dataclass(frozen=True)
class Advice:
    """What to do after a reading: words, and when to read again [s since 1970], None where nothing is to be
    timed.
    """

    text: str
    again_at: float | None


def advice(
    asked: Sequence[Requirement],
    readings: Sequence[CoreReading],
    pieces: Pieces,
    cleared: Collection[str] = (),
) -> Advice | None:
    """What is wanted after the last core reading of a batch, None where nothing is.

    >>> from yeasty.core.safety.core_minimum import requirements
    >>> advice(requirements("poultry"), [CoreReading(100, 79, "1")], Pieces(6, False, True))
    Advice(text='79.0 °C in 1: leave the probe in, read again in 30 s (the lower of the two has to be held for about 8 s).', again_at=130.0)
    >>> advice(requirements("poultry"), [CoreReading(100, 61, "1")], Pieces(6, False, True)).text
    '61.0 °C in 1 is too low: cook on, and wipe the probe before it goes into another piece.'
    """  # noqa: E501
    if not asked or not readings:
        return None
    last = max(readings, key=lambda r: (r.at, r.id))
    whole = judge_pieces(asked, readings, pieces, cleared)
    if whole.standing is CoreStanding.MEETS:
        return None
    named = f" in {last.piece.strip()}" if last.piece.strip() else ""
    mine = [r for r in readings if pieces.one or r.piece.strip().lower() == last.piece.strip().lower()]
    ordered = sorted(mine, key=lambda r: (r.at, r.id))
    alone = judge_core(asked, [r.at for r in ordered], [r.celsius for r in ordered])
    if alone.standing is CoreStanding.MEETS:
        return Advice(whole.sentence, None)
    needs = max((r.temperature_c for r in asked if not r.equivalent), default=equivalents()[0][0])
    if last.celsius < needs:
        return Advice(
            f"{last.celsius:.1f} °C{named} is too low: cook on, and wipe the probe before it goes into "
            f"another piece.",
            None,
        )
    holds = [r.hold_s for r in asked if not r.equivalent and r.hold_s]
    if any(r.equivalent for r in asked):
        holds.append(hold_needed(last.celsius))
    hold = max(holds, default=0.0)
    wait = max(LEAST_WAIT_S, 10.0 * ceil(hold / 10.0))
    said = f"{wait:.0f} s" if wait < 120 else f"{wait / 60:.0f} min"
    return Advice(
        f"{last.celsius:.1f} °C{named}: leave the probe in, read again in {said} "
        f"(the lower of the two has to be held for about {hold:.0f} s).",
        last.at + wait,
    )
