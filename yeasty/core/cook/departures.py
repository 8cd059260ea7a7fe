"""Where the work leaves its plan by so much that the rest should be planned again, and what a new plan
moved.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from yeasty.core.cook.bench import RunState, StepRun
from yeasty.core.cook.problem import Chain, PlannedStep, worded
from yeasty.core.kernel.entries import STEP_ENDS, Entry, EntryKind
from yeasty.core.kernel.steps import Phase, Step

# Less than this is a cook's own rhythm, not a departure [s].
RHYTHM_S = 90.0


def departures(
    plan: Sequence[PlannedStep],
    steps: Mapping[tuple[str, str], Step],
    tags: Mapping[str, str],
    entries: Sequence[Entry],
) -> list[str]:
    """Reasons to plan again, in a cook's words; none where all goes as planned.

    Parameters
    ----------
    plan : that counts; steps : by batch and key; tags : of batches
    entries : that have just come, undos among them

    >>> bake = Step("b", "Bake", "free", "cook", 600)  # type: ignore[arg-type]
    >>> late = Entry("1", "x", EntryKind.STARTED, 1000.0, "d", 1, {"step": "b"})
    >>> departures([PlannedStep("x", "b", 700.0, 1300.0)], {("x", "b"): bake}, {"x": "OV"}, [late])
    ['OV: bake 5 min late']
    """
    at = {(p.batch, p.step): p for p in plan}
    found = []
    for e in entries:
        tag = tags.get(e.batch, "")
        match e.kind:
            case EntryKind.VOID:
                found.append(f"{tag} was given up")
            case EntryKind.UNDONE:
                found.append(f"{tag}: something was taken back" if tag else "something was taken back")
            case EntryKind.EXTENDED:
                seconds = float(e.payload["seconds"])
                if abs(seconds) >= RHYTHM_S:
                    found.append(f"{tag} got {worded(abs(seconds))} {'more' if seconds > 0 else 'less'}")
            case EntryKind.FORESEEN:
                step = steps.get((e.batch, str(e.payload["step"])))
                planned = at.get((e.batch, str(e.payload["step"])))
                off = float(e.payload["ends_at"]) - (planned.end if planned else e.when)
                if step is not None and abs(off) > RHYTHM_S:
                    found.append(
                        f"{tag}: {step.what[0].lower() + step.what[1:]} ends "
                        f"{'at least ' if e.payload.get('high') is None else ''}{worded(abs(off))} "
                        f"{'later' if off > 0 else 'earlier'} by its probe"
                    )
            case EntryKind.STARTED | EntryKind.DONE | EntryKind.IN | EntryKind.TURNED | EntryKind.OUT:
                key = (e.batch, str(e.payload.get("step") or ""))
                planned, step = at.get(key), steps.get(key)
                if planned is not None and step is not None:
                    meant = planned.end if e.kind in STEP_ENDS else planned.start
                    off = e.when - meant
                    if abs(off) > RHYTHM_S:
                        what = step.what[0].lower() + step.what[1:]
                        found.append(f"{tag}: {what} {worded(abs(off))} {'late' if off > 0 else 'early'}")
    return list(dict.fromkeys(found))


def held_for_window(chains: Sequence[Chain], runs: Sequence[StepRun], serve_from: float) -> list[StepRun]:
    """Runs of batches that have begun, with what is yet to be plated held until the plates meet.

    Where the serving window was moved later, food that is done waits for it: its plating is asked for one
    after another up to and from the beginning of the window, never before.
    """
    steps = {(c.batch, s.key): s for c in chains for s in c.steps}
    early = sorted(
        (
            r
            for r in runs
            if r.state is RunState.TODO and steps[r.batch, r.step].phase is Phase.PLATE and r.end < serve_from
        ),
        key=lambda r: (r.start, r.batch),
    )
    moved: dict[tuple[str, str], StepRun] = {}
    at = serve_from
    for r in early:
        length = r.end - r.start
        moved[r.batch, r.step] = replace(r, start=at, end=at + length)
        at += length
    return [moved.get((r.batch, r.step), r) for r in runs]


def what_moved(
    before: Sequence[PlannedStep], after: Sequence[PlannedStep], tags: Mapping[str, str], why: str
) -> str:
    """One line on what a new plan moved, and why; "" where nothing moved by a minute.

    >>> what_moved([PlannedStep("x", "a", 0, 60)], [PlannedStep("x", "a", 240, 300)], {"x": "AF"}, "OV: bake 5 min late")
    'Planned again (OV: bake 5 min late): AF begins 4 min later.'
    """  # noqa: E501
    old = _begins(before)
    new = _begins(after)
    told = []
    for batch in sorted(new, key=lambda b: new[b]):
        if batch in old and abs(new[batch] - old[batch]) >= 60:
            by = new[batch] - old[batch]
            told.append(f"{tags.get(batch, '')} begins {worded(abs(by))} {'later' if by > 0 else 'earlier'}")
    if not told:
        return ""
    return f"Planned again ({why}): " + ", ".join(told[:6]) + (" and more" if len(told) > 6 else "") + "."


def _begins(items: Sequence[PlannedStep]) -> dict[str, float]:
    found: dict[str, float] = {}
    for p in items:
        found[p.batch] = min(p.start, found.get(p.batch, p.start))
    return found
