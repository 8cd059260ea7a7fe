"""Food that nobody read while it warmed: what the log and the kitchen's measured settings say of its
surroundings.
"""

import uuid
from collections.abc import Mapping, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.steps import Phase
from yeasty.core.safety.clock import Reading
from yeasty.core.safety.unread import Seen, Setting, Warmed, seen_by_setting, warmed
from yeasty.core.setup.appliances import setting_of
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.tables import Appliance

# Water that is seen boiling is at least so hot at sea level, with a margin for where it is not [°C]; it boils
# about a degree lower each 300 m up. Kitchen practice; `core/heat/steam.py` has the figures of the water
# itself.
BOILS_C, METRES_A_DEGREE = 97.0, 285.0
BOILING = ("boil", "bubbl", "simmer")


def warmed_unread(
    batch: Batch,
    entries: Sequence[Entry],
    out_at: float | None,
    hot_c: float,
    boils_c: float,
    settings: Mapping[str, Setting],
) -> Warmed | None:
    """By when a batch was hot though nobody read it: seen boiling, looked in on, its chamber read, on a
    measured setting.
    """
    seen = []
    boiling = False
    for e in sorted(entries, key=lambda x: x.when):
        said = str(e.payload.get("sign") or e.payload.get("text") or "").lower()
        # Simmering is not yet boiling, but it is hot: ten degrees less.
        if e.kind in (EntryKind.CONFIRMED, EntryKind.LOOKED, EntryKind.CUE) and any(
            w in said for w in BOILING
        ):
            boiling = True
            at_least = boils_c - (10.0 if "simmer" in said else 0.0)
            seen.append(Seen(e.when, at_least, "liquid", f"Seen: {said}"))
        elif e.kind is EntryKind.LOOKED and boiling and e.payload.get("water") in ("right", "topped up"):
            seen.append(Seen(e.when, boils_c - 10.0, "liquid", "Looked in"))
        elif e.kind is EntryKind.TEMPERATURE and e.payload.get("where") == "chamber":
            seen.append(Seen(e.when, float(e.payload["celsius"]), "air", "Its chamber was read"))
    ways = [seen, *(_by_setting(batch, entries, step, setting, hot_c) for step, setting in settings.items())]
    found = [
        warmed(
            [s for s in way if out_at is None or s.at < out_at],
            start_c=batch.facts.get("start_c"),
            thickness_m=batch.facts.get("thickness_m"),
            mass_kg=batch.method.batch_kg,
            vessel=batch.method.vessel,
            out_at=out_at,
            hot_c=hot_c,
        )
        for way in ways
    ]
    return min((w for w in found if w is not None), key=lambda w: w.hot_from, default=None)


def _by_setting(
    batch: Batch, entries: Sequence[Entry], step: str, setting: Setting, hot_c: float
) -> list[Seen]:
    """What a step's measured setting tells, where its start was confirmed; all that is in the vessel heats up
    with it.
    """
    confirmed = [e.when for e in entries if e.kind is EntryKind.CONFIRMED and e.payload.get("step") == step]
    loads = {s["key"] for s in batch.steps if s["phase"] == Phase.LOAD.value}
    went_in = [
        e.when
        for e in entries
        if e.kind is EntryKind.IN or (e.kind is EntryKind.DONE and e.payload.get("step") in loads)
    ]
    if not confirmed or not went_in:
        return []
    begun = max(confirmed[0], went_in[0])
    if setting.power_w is None:
        # Hot before the food went in: only where its preheat had its time between its start and the food.
        heats_up = next(s for s in batch.steps if s["key"] == step)
        if heats_up["phase"] != Phase.COME_UP.value or begun - confirmed[0] < heats_up["duration_s"]:
            return []
    added = sum(
        float(e.payload["kg"])
        for e in entries
        if e.kind is EntryKind.WEIGHT and e.payload.get("of") == "liquid added"
    ) + sum(float(e.payload.get("added_kg") or 0.0) for e in entries if e.kind is EntryKind.LOOKED)
    entered = sum(a.mass_kg for a in batch.method.amounts)
    mass = max(batch.method.batch_kg or 0.0, entered) + added
    return seen_by_setting(
        setting,
        confirmed_at=begun,
        looked_at=[e.when for e in entries if e.kind is EntryKind.LOOKED],
        start_c=batch.facts.get("start_c"),
        mass_kg=mass or None,
        hot_c=hot_c,
    )


def measured_settings(db: Session, batches: Sequence[Batch]) -> dict[tuple[str, str], Setting]:
    """By appliance and set point [°C, as text] what a setting was measured to give, where anybody measured
    it.
    """
    heats = {
        (str(s["appliance"]), float(s["set_point_c"]))
        for b in batches
        for s in b.steps
        if s.get("appliance") and s.get("set_point_c") is not None and s["phase"] == Phase.COOK.value
    }
    ids = {uuid.UUID(a) for a, _ in heats}
    rows = {str(a.id): a for a in db.scalars(select(Appliance).where(Appliance.id.in_(ids)))} if ids else {}
    found = {}
    for key, set_point in heats:
        row = rows.get(key)
        known = setting_of(row.profile(), set_point) if row else None
        if known:
            found[key, f"{set_point:g}"] = known
    return found


def settings_of(batch: Batch, known: Mapping[tuple[str, str], Setting]) -> dict[str, Setting]:
    """Measured settings by the batch's step."""
    return {
        str(s["key"]): found
        for s in batch.steps
        if s.get("set_point_c") is not None
        and (found := known.get((str(s.get("appliance")), f"{float(s['set_point_c']):g}")))
    }


def with_warmth(life: Sequence[Reading], sure: Warmed, hot_c: float) -> list[Reading]:
    """A life with the stretch in which the food was hot without being read; what was read there stands above
    it.
    """
    inside = any(sure.hot_from <= r.at <= sure.hot_until and r.celsius is not None for r in life)
    added = [] if inside else [Reading(sure.hot_from, hot_c), Reading(sure.hot_until, hot_c)]
    if inside:
        first = min(r.at for r in life if r.at >= sure.hot_from and r.celsius is not None)
        added = [Reading(sure.hot_from, hot_c), Reading(first - 1e-3, hot_c)]
    return sorted([*life, *added], key=lambda r: r.at)
