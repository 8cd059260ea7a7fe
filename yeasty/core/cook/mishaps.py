"""Mishaps of a rehearsal: what can go wrong in a kitchen, and whether it can in this shift."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.kernel.steps import Phase, Step

PRESSURE = "pressure_cooker"
# Pressure comes later by this share, and by no less than so long [s]; a turn is forgotten for so long [s];
# a breaker is put in again after so long [s]; a probe lies beside the food for so long [s].
PRESSURE_SHARE, PRESSURE_LEAST_S = 0.6, 240.0
FORGOTTEN_S = 360.0
BREAKER_S = 180.0
OUT_OF_FOOD_S = 240.0


class Mishap(StrEnum):
    """Something that goes wrong."""

    LATE_PRESSURE = "late_pressure"
    FORGOTTEN_TURN = "forgotten_turn"
    APPLIANCE_GONE = "appliance_gone"
    PROBE_OUT = "probe_out"
    BREAKER = "breaker"


NAMES = {
    Mishap.LATE_PRESSURE: "Pressure comes late",
    Mishap.FORGOTTEN_TURN: "A turn is forgotten",
    Mishap.APPLIANCE_GONE: "An appliance goes out for good",
    Mishap.PROBE_OUT: "A probe slips out of the food",
    Mishap.BREAKER: "Two appliances on one circuit throw its breaker",
}


@dataclass(frozen=True)
class LaidMishap:
    """A mishap of one shift.

    Attributes
    ----------
    what : which; batch, step : where it shows, "" where it is of no one batch
    begin, end : [s since 1970]; `end` infinite where it stays
    appliances : keys of those that are dead meanwhile
    say : what somebody in the kitchen would see; after : what they would see at its end
    """

    what: Mishap
    batch: str
    step: str
    begin: float
    end: float
    appliances: tuple[str, ...]
    say: str
    after: str = ""


@dataclass(frozen=True)
class Setting:
    """What the mishaps of a shift are laid out from.

    Attributes
    ----------
    chains, plan : batches and the first plan
    techniques : batch to its technique; names : appliance to name; circuits : appliance to its circuit, ""
        where it is not known
    """

    chains: Sequence[Chain]
    plan: Sequence[PlannedStep]
    techniques: Mapping[str, str]
    names: Mapping[str, str]
    circuits: Mapping[str, str]

    def planned(self, batch: str, step: str) -> PlannedStep | None:
        """Where a step stands in the plan."""
        return next((p for p in self.plan if (p.batch, p.step) == (batch, step)), None)


def lay_mishap(what: Mishap, s: Setting) -> LaidMishap | str:
    """A mishap laid into a shift, or why it can't happen there."""
    return {
        Mishap.LATE_PRESSURE: _late_pressure,
        Mishap.FORGOTTEN_TURN: _forgotten_turn,
        Mishap.APPLIANCE_GONE: _appliance_gone,
        Mishap.PROBE_OUT: _probe_out,
        Mishap.BREAKER: _breaker,
    }[what](s)


def _of_phase(s: Setting, phase: Phase) -> list[tuple[Chain, Step, PlannedStep]]:
    found = []
    for c in s.chains:
        for step in c.steps:
            p = s.planned(c.batch, step.key) if step.phase is phase else None
            if p is not None:
                found.append((c, step, p))
    return sorted(found, key=lambda x: x[2].start)


def _late_pressure(s: Setting) -> LaidMishap | str:
    ups = [x for x in _of_phase(s, Phase.COME_UP) if s.techniques.get(x[0].batch) == PRESSURE]
    if not ups:
        return "nothing here comes up to pressure"
    chain, step, p = ups[0]
    more = max(PRESSURE_LEAST_S, PRESSURE_SHARE * (p.end - p.start))
    return LaidMishap(
        Mishap.LATE_PRESSURE,
        chain.batch,
        step.key,
        p.end,
        p.end + more,
        (),
        f"{chain.tag}: no pressure yet, steam still comes from the valve",
        f"{chain.tag}: the pressure is up",
    )


def _forgotten_turn(s: Setting) -> LaidMishap | str:
    turns = _of_phase(s, Phase.TURN)
    if not turns:
        return "nothing here is turned"
    chain, step, p = turns[0]
    return LaidMishap(
        Mishap.FORGOTTEN_TURN,
        chain.batch,
        step.key,
        p.start,
        p.start + FORGOTTEN_S,
        (),
        f"{chain.tag}: nobody thinks of “{step.what}”",
    )


def _appliance_gone(s: Setting) -> LaidMishap | str:
    cooks = [x for x in _of_phase(s, Phase.COOK) if x[1].appliance]
    if not cooks:
        return "no appliance cooks here"
    chain, step, p = max(cooks, key=lambda x: (x[2].end - x[2].start, -x[2].start))
    key = str(step.appliance)
    return LaidMishap(
        Mishap.APPLIANCE_GONE,
        chain.batch,
        step.key,
        p.start + 0.4 * (p.end - p.start),
        float("inf"),
        (key,),
        f"{s.names.get(key, 'the appliance')} has gone out and does not come on again",
    )


def _probe_out(s: Setting) -> LaidMishap | str:
    cooks = _of_phase(s, Phase.COOK)
    if not cooks:
        return "nothing cooks here"
    chain, step, p = cooks[0]
    begin = p.start + 0.5 * (p.end - p.start)
    # Nobody sees it: it is for the bench to notice by what the probe says.
    return LaidMishap(Mishap.PROBE_OUT, chain.batch, step.key, begin, begin + OUT_OF_FOOD_S, (), "")


def _breaker(s: Setting) -> LaidMishap | str:
    heats = [x for x in (*_of_phase(s, Phase.COOK), *_of_phase(s, Phase.COME_UP)) if x[1].appliance]
    for a, one, p in sorted(heats, key=lambda x: x[2].start):
        for _, other, q in heats:
            circuit = s.circuits.get(str(one.appliance), "")
            begin = max(p.start, q.start)
            if (
                one.appliance != other.appliance
                and circuit
                and circuit == s.circuits.get(str(other.appliance), "")
                and begin < min(p.end, q.end)
            ):
                two = tuple(sorted({str(one.appliance), str(other.appliance)}))
                names = " and ".join(s.names.get(k, "an appliance") for k in two)
                return LaidMishap(
                    Mishap.BREAKER,
                    a.batch,
                    one.key,
                    begin + 30,
                    begin + 30 + BREAKER_S,
                    two,
                    f"the breaker of circuit {circuit} is out: {names} are cold",
                    f"the breaker of circuit {circuit} is in again",
                )
    return "no two appliances on one circuit heat here at once"
