"""What is served at what age, and when each has to leave for the table so that all are of one age."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

# Samples whose ages lie so far apart are not the same food any more [s]: a crust softens within minutes.
APART_S = 300.0
# Warm food that lies so far apart tastes of its temperature [K].
APART_K = 10.0
# The quickest that a plate is cut and carried [s].
LEAST_AGE_S = 120.0


@dataclass(frozen=True)
class Ready:
    """A batch on its way to the table.

    Attributes
    ----------
    name : as it is told
    out_at : when it came out of its last heat [s since 1970], None where that is not on record
    celsius : last reading after that, None without one
    state : "fresh", "kept", "reheated", "from memory"
    """

    name: str
    out_at: float | None
    celsius: float | None = None
    state: str = "fresh"


def _minutes(seconds: float) -> str:
    if seconds >= 36 * 3600:
        return f"{seconds / 86400:.0f} days"
    return f"{seconds / 3600:.0f} h" if seconds >= 5400 else f"{seconds / 60:.0f} min"


def ages(served_at: float, batches: Sequence[Ready]) -> list[str]:
    """How old each is when served, how warm if that was read, and what differs.

    >>> ages(1000.0, [Ready("Oven", 880.0), Ready("Pan", 280.0, 61.0)])[0]
    'Oven: 2 min out of the heat. Pan: 12 min out of the heat, 61 °C when last read.'
    """
    if not batches:
        return []
    told = " ".join(_one(served_at, b) for b in batches)
    return [told, *apart(served_at, batches)]


def _one(served_at: float, b: Ready) -> str:
    if b.state != "fresh":
        return f"{b.name}: {b.state}."
    if b.out_at is None:
        return f"{b.name}: when it came out of the heat is not on record."
    warm = f", {b.celsius:.0f} °C when last read" if b.celsius is not None else ""
    return f"{b.name}: {_minutes(max(0.0, served_at - b.out_at))} out of the heat{warm}."


def apart(served_at: float, batches: Sequence[Ready]) -> list[str]:
    """What differs between samples that are served together, in sentences; empty where nothing does.

    >>> apart(1000.0, [Ready("Oven", 880.0), Ready("Pan", 280.0)])
    ['Pan has waited 10 min longer than Oven: what differs may be the waiting.']
    """
    found = []
    fresh = [b for b in batches if b.state == "fresh" and b.out_at is not None]
    if len(fresh) > 1:
        old = min(fresh, key=lambda b: (b.out_at, b.name))
        new = max(fresh, key=lambda b: (b.out_at, b.name))
        gap = (new.out_at or 0.0) - (old.out_at or 0.0)
        if gap >= APART_S:
            found.append(
                f"{old.name} has waited {_minutes(gap)} longer than {new.name}: what differs may be the "
                f"waiting."
            )
    warm = [b for b in batches if b.celsius is not None]
    if len(warm) > 1:
        cold = min(warm, key=lambda b: (b.celsius, b.name))
        hot = max(warm, key=lambda b: (b.celsius, b.name))
        gap = (hot.celsius or 0.0) - (cold.celsius or 0.0)
        if gap >= APART_K:
            found.append(
                f"{cold.name} was {gap:.0f} °C cooler than {hot.name} when last read: warmth may be "
                f"what is tasted."
            )
    other = [b.name for b in batches if b.state != "fresh"]
    if other and len(other) < len(batches):
        found.append(
            f"{', '.join(other)} did not come fresh from the heat: compared among themselves only, and "
            f"told beside "
            "the others."
        )
    return found


@dataclass(frozen=True)
class Leaves:
    """When one way leaves for the table. `foretold` : not out of the heat yet, its time is the plan's."""

    name: str
    at: float
    foretold: bool


@dataclass(frozen=True)
class ServingClock:
    """When each leaves for the table so that all are of one age.

    Attributes
    ----------
    age_s : the age at which each is served [s]
    leaves : in order of time
    meet_at : when all could be served at once instead [s since 1970]
    gap_s : by how much their ages would then differ [s]
    """

    age_s: float
    leaves: tuple[Leaves, ...]
    meet_at: float
    gap_s: float

    def words(self, clock: Callable[[float], str]) -> list[str]:
        """What the cook's side is told. `clock` : a moment as the kitchen's clock shows it."""
        each = ", ".join(
            f"{x.name} at {clock(x.at)}" + (" (by the plan)" if x.foretold else "") for x in self.leaves
        )
        told = [f"All are {_minutes(self.age_s)} old if they leave for the table so: {each}."]
        if self.gap_s >= APART_S:
            first, last = self.leaves[0].name, self.leaves[-1].name
            told.append(
                f"All at once at {clock(self.meet_at)}, {first} would have waited {_minutes(self.gap_s)} "
                f"longer than {last}."
            )
        return told


def serving_clock(now: float, out: Mapping[str, float], foretold: Mapping[str, float]) -> ServingClock | None:
    """The least age that all can have when they leave for the table; None where only one is there.

    Parameters
    ----------
    now : the moment of asking [s since 1970]
    out : way to when it came out of its last heat [s since 1970]
    foretold : way to when it will, by the plan as it stands

    What is out and waits ages while it waits: nobody can serve it younger than it is now. What was planned to
    be out by now and is not comes out now at the soonest.

    >>> serving_clock(0.0, {"Oven": -600.0}, {"Pan": 300.0}).words(lambda at: f"{at / 60:.0f}'")
    ["All are 10 min old if they leave for the table so: Oven at 0', Pan at 15' (by the plan).", \
"All at once at 7', Oven would have waited 15 min longer than Pan."]
    """
    ready = {**{name: max(now, at) for name, at in foretold.items()}, **out}
    if len(ready) < 2:
        return None
    age = max(LEAST_AGE_S, *(now - at for at in out.values())) if out else LEAST_AGE_S
    order = sorted(ready, key=lambda name: (ready[name], name))
    leaves = tuple(Leaves(name, ready[name] + age, name not in out) for name in order)
    first, last = ready[order[0]], ready[order[-1]]
    return ServingClock(age, leaves, last + LEAST_AGE_S, last - first)
