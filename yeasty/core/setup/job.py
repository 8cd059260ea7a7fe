"""The whole job of a method, not the cook time: from the work of the day before to the washing-up."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.kernel.quantities_said import say_duration
from yeasty.core.kernel.steps import Attention, Phase, Step, chain_of, preheats_beside
from yeasty.core.setup.rounds import in_rounds


@dataclass(frozen=True)
class Stretch:
    """A stretch of the job, from its own start [s]; day-before work stands on a line of its own.

    `kind` is how it is drawn: hands, watched, heat (nobody needed while it heats), waiting, wash_up.
    """

    what: str
    kind: str
    start_s: float
    length_s: float
    days_before: int
    appliance: str | None


@dataclass(frozen=True)
class Job:
    """A method's job.

    Attributes
    ----------
    stretches : in order
    ahead_s : day-before work and waiting [s]; ahead_hands_s : hands in it [s]
    hands_s, watched_s, heat_s, waiting_s, wash_up_s : on the day [s]; hands without washing-up
    total_s : on the day, washing-up counted; called : how often the hands are needed
    appliances : appliance key to seconds in use
    """

    stretches: tuple[Stretch, ...]
    ahead_s: float
    ahead_hands_s: float
    hands_s: float
    watched_s: float
    heat_s: float
    waiting_s: float
    wash_up_s: float
    total_s: float
    called: int
    appliances: Mapping[str, float]


def job(steps: Sequence[Step], rounds: int = 1) -> Job:
    """Lay a method's steps out; what is done while something cooks lies over it and does not add to the
    total.

    Parameters
    ----------
    rounds : how many times the loading, cooking and taking out go round, where the appliance holds fewer
        pieces

    >>> j = job([Step("a", "Load", Attention.HANDS, Phase.LOAD, 60), Step("b", "Bake", Attention.FREE, Phase.COOK, 600),
    ...          Step("c", "Turn", Attention.HANDS, Phase.TURN, 30, during_offset_s=300)], rounds=2)
    >>> j.total_s, j.hands_s, j.heat_s, j.called
    (1320.0, 180.0, 1200.0, 4)
    """  # noqa: E501
    found: list[Stretch] = []
    at = 0.0
    total = {"hands": 0.0, "watched": 0.0, "heat": 0.0, "waiting": 0.0, "wash_up": 0.0}
    ahead = ahead_hands = 0.0
    called = 0
    used: dict[str, float] = {}
    gone_through = in_rounds(steps, rounds)
    side = preheats_beside(gone_through)
    for main, during in chain_of(gone_through):
        kind = _kind(main)
        if main.days_before:
            found.append(Stretch(main.what, kind, 0.0, main.duration_s, main.days_before, main.appliance))
            ahead += main.duration_s
            ahead_hands += main.duration_s if main.attention is Attention.HANDS else 0.0
            continue
        beside = main.key in side
        # A preheat beside the food ends when it is needed, and adds only what the food would have to wait for
        # it.
        begins = max(0.0, at - main.duration_s) if beside else at
        found.append(Stretch(main.what, kind, begins, main.duration_s, 0, main.appliance))
        total[kind] += main.duration_s
        called += main.attention is Attention.HANDS
        if main.appliance:
            used[main.appliance] = used.get(main.appliance, 0.0) + main.duration_s
        for d in during:
            found.append(Stretch(d.what, "hands", at + (d.during_offset_s or 0.0), d.duration_s, 0, None))
            total["hands"] += d.duration_s
            called += 1
        at = max(at, begins + main.duration_s) if beside else at + main.duration_s
    return Job(
        tuple(found),
        ahead,
        ahead_hands,
        total["hands"],
        total["watched"],
        total["heat"],
        total["waiting"],
        total["wash_up"],
        float(at),
        called,
        used,
    )


def _kind(step: Step) -> str:
    if step.phase is Phase.WASH_UP:
        return "wash_up"
    if step.attention is Attention.HANDS:
        return "hands"
    if step.attention is Attention.WATCHED:
        return "watched"
    return "heat" if step.phase in (Phase.COOK, Phase.COME_UP) else "waiting"


def sentence(jobs: Mapping[str, Job]) -> str:
    """Which job is longest and which shortest, cook time beside total.

    >>> sentence({})
    'Nothing to lay out yet.'
    """
    if not jobs:
        return "Nothing to lay out yet."
    by_total = sorted(jobs, key=lambda t: jobs[t].total_s)
    by_heat = sorted(jobs, key=lambda t: jobs[t].heat_s + jobs[t].watched_s)
    short, long = by_total[0], by_total[-1]
    if short == long:
        return f"{short} takes {say_duration(jobs[short].total_s)} in all."
    said = (
        f"On the day {short} is done soonest, {say_duration(jobs[short].total_s)} in all; {long} takes "
        f"longest, "
        f"{say_duration(jobs[long].total_s)}."
    )
    if by_heat[0] != short:
        said += f" By cook time alone it would have seemed to be {by_heat[0]}."
    return said
