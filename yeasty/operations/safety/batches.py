"""How batches stand: their cores by piece, their time in the danger zone, what was asked, the gate."""

import uuid
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.bench import RunState, bench_state
from yeasty.core.cook.measures import BatchMeasures, Standing, core_words
from yeasty.core.cook.problem import PlannedStep
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import STEP_ENDS, Entry, EntryKind
from yeasty.core.kernel.steps import Phase
from yeasty.core.safety.asked import Asked, judge_kept, questions
from yeasty.core.safety.cautions import hazards_of
from yeasty.core.safety.clock import Reading, Zone, ZoneTime, strictest_zone, zone_time
from yeasty.core.safety.contact import RISKY_HAZARDS, RISKY_RAW, Use
from yeasty.core.safety.core_minimum import CoreResult, Requirement, food_classes, requirements
from yeasty.core.safety.gate import Gate, gate
from yeasty.core.safety.pieces import Advice, CoreReading, Pieces, advice, judge_pieces
from yeasty.core.safety.unread import Setting
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.cook.unread import (
    BOILS_C,
    METRES_A_DEGREE,
    measured_settings,
    settings_of,
    warmed_unread,
    with_warmth,
)
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.devices import probe_logs, stays
from yeasty.store.cook.queries import entries_of_trial, newest_plans_of_trial
from yeasty.store.cook.tables import Batch, ProbeLogRow, Shift
from yeasty.store.kitchen.library import known_techniques
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.safety.queries import own_figures, owned
from yeasty.store.taste.tables import Tasting

# A probe log is thinned to about this many readings before it is judged; never fewer than one in thirty
# seconds.
MOST_READINGS = 2000


# A probe in food colder than this is in raw food [°C].
RAW_BELOW_C = 60.0


@dataclass(frozen=True)
class BatchSafety:
    """How a batch stands: its core, its time between cold and hot (None where it does not spoil), and the
    gate.

    `advice` : what to do after its last reading; `asked` : questions that somebody can answer, among all that
        are `unanswered`; `low` : low readings
    without a piece, which can be cleared by an act; `out_at` : when it came out of its last heat [s since
    1970];
    `last_c` : the last core reading after that [°C]
    """

    core: CoreResult | None
    zone: ZoneTime | None
    owned: str
    gate: Gate
    advice: Advice | None = None
    asked: tuple[Asked, ...] = ()
    unanswered: tuple[Asked, ...] = ()
    low: tuple[CoreReading, ...] = ()
    out_at: float | None = None
    last_c: float | None = None


def core_readings(entries: Sequence[Entry], logs: Sequence[ProbeLogRow]) -> list[tuple[float, float]]:
    """Core readings of one batch by time: typed ones and those of its probe logs [s since 1970, °C]."""
    return [(r.at, r.celsius) for r in piece_readings(entries, logs)]


def piece_readings(entries: Sequence[Entry], logs: Sequence[ProbeLogRow]) -> list[CoreReading]:
    """Core readings of one batch by time, each with its piece; a probe stays in one piece and is called by
    its name.
    """
    found = [
        CoreReading(
            e.when,
            float(e.payload["celsius"]),
            str(e.payload.get("piece") or ""),
            str(e.payload.get("place") or ""),
            e.id,
        )
        for e in entries
        if _is_core(e)
    ]
    for log in logs:
        start = log.starts_at.timestamp()
        values = log.channels.get("core")
        if not values:
            continue
        step = max(1, len(values) // MOST_READINGS)
        found += [
            CoreReading(start + t, float(v), log.name)
            for t, v in list(zip(log.times_s, values, strict=True))[::step]
            if v is not None
        ]
    return sorted(found, key=lambda r: (r.at, r.celsius))


def pieces_of(batch: Batch) -> Pieces:
    """How a batch's food is divided; batches from before pieces could be named are judged as they were."""
    kept = batch.facts.get("pieces")
    return Pieces(int(kept["count"]), bool(kept["one"]), True) if isinstance(kept, dict) else Pieces()


def _is_core(e: Entry) -> bool:
    return e.kind is EntryKind.TEMPERATURE and e.payload.get("where") == "core"


def life_of(
    food: str,
    entries: Sequence[Entry],
    readings: Sequence[tuple[float, float]],
    out_at: float | None,
    hot_c: float,
) -> list[Reading]:
    """What is known of a batch's temperature over its life.

    Food that is risky raw counts from its first entry (out of the cold, no temperature known); other food
    from when it is taken out of the heat. Once out, what is not read is not known: food that was read hot
    cools from then on, and how fast nobody has seen.
    """
    raw_counts = food in RISKY_RAW
    begins = min((e.when for e in entries), default=None) if raw_counts else out_at
    if begins is None:
        return []
    life = [Reading(begins, None)] + [Reading(t, c) for t, c in readings if t >= begins]
    if out_at is not None:
        after = [r for r in life if r.at > out_at]
        life = [r for r in life if r.at <= out_at] + [Reading(out_at + 1, None)] + after
        last = max(after, key=lambda r: r.at, default=None)
        if last is not None and last.celsius is not None and last.celsius >= hot_c:
            life.append(Reading(last.at + 1, None))
    return sorted(life, key=lambda r: r.at)


def safety_of_batches(
    db: Session,
    batches: Sequence[Batch],
    shifts: Mapping[uuid.UUID, Shift],
    entries: Mapping[uuid.UUID, Sequence[Entry]],
    plans: Mapping[uuid.UUID, Sequence[PlannedStep]],
    now_s: float,
    logs: Mapping[uuid.UUID, Sequence[ProbeLogRow]] | None = None,
) -> dict[uuid.UUID, BatchSafety]:
    """How each batch stands at a moment; a handful of queries whatever their number.

    `logs` : what probes have read, where it has been asked for already
    """
    ids = [b.id for b in batches]
    logs = probe_logs(db, list(shifts.values()), entries) if logs is None else logs
    words = owned(db, ids)
    own, kitchen = own_figures(db), the_kitchen(db)
    zone = strictest_zone(kitchen.zone_use_s)
    library = set(known_techniques(db))
    stated_at_trial = foods_of_trials(db, {s.trial_id for s in shifts.values()})
    by_id = {b.id: b for s in shifts.values() for b in s.batches} | {b.id: b for b in batches}
    settings = measured_settings(db, batches)
    stand = {id: effective(entries.get(id, ())) for id in {b.shift_id for b in batches}}
    found = {}
    for batch in batches:
        shift = shifts[batch.shift_id]
        # A kind of food that was stated only after the shift was made counts from then on.
        food = str(batch.facts.get("food_class") or stated_at_trial.get(shift.trial_id, ""))
        # A rescue goes on with the life of the batch it was made from.
        line = _line(batch, by_id)
        of_line = {str(i) for i in line}
        mine = [e for e in stand[batch.shift_id] if e.batch in of_line]
        own_words = words.get(batch.id, "")
        if food not in food_classes():
            out = _out_at(batch, [e for e in mine if e.batch == str(batch.id)], plans.get(batch.shift_id, ()))
            barred = gate(False, None, None, own_words)
            found[batch.id] = BatchSafety(None, None, own_words, barred, out_at=out)
            continue
        found[batch.id] = _judged(
            batch,
            food,
            mine,
            piece_readings(mine, [log for i in line for log in logs.get(i, [])]),
            requirements(food, kitchen.safety_profile, own),
            zone,
            _out_at(batch, [e for e in mine if e.batch == str(batch.id)], plans.get(batch.shift_id, ())),
            now_s,
            own_words,
            not batch.method.technique or batch.method.technique in library,
            BOILS_C - kitchen.altitude_m / METRES_A_DEGREE,
            settings_of(batch, settings),
        )
    return found


def _judged(
    batch: Batch,
    food: str,
    entries: Sequence[Entry],
    readings: Sequence[CoreReading],
    asked: Sequence[Requirement],
    zone: Zone,
    out_at: float | None,
    now_s: float,
    own_words: str,
    technique_known: bool,
    boils_c: float,
    settings: Mapping[str, Setting],
) -> BatchSafety:
    """How one batch stands, from its own records."""
    cleared = {str(e.payload["reading"]) for e in entries if e.kind is EntryKind.CLEARED}
    pieces = pieces_of(batch)
    core = judge_pieces(asked, readings, pieces, cleared)
    time = None
    notes: tuple[str, ...] = ()
    plain = [(r.at, r.celsius) for r in readings]
    if food_classes()[food].perishable:
        life = life_of(food, entries, plain, out_at, zone.hot_c)
        sure = warmed_unread(batch, entries, out_at, zone.hot_c, boils_c, settings)
        if sure is not None and life and sure.hot_from > life[0].at:
            life = with_warmth(life, sure, zone.hot_c)
            notes = (sure.sentence,)
        time = zone_time(life, max(now_s, *(r.at for r in life)), zone) if life else None
    hazards = hazards_of_batch(batch, food)
    stated = {
        str(e.payload["question"]): str(e.payload["answer"]) for e in entries if e.kind is EntryKind.STATED
    }
    open_questions = questions(
        hazards,
        food=food,
        techniques_known=technique_known,
        appliance_kinds={str(s.get("appliance_kind") or "") for s in batch.steps} | {batch.method.technique},
        cooked=out_at is not None,
        stated=stated,
    )
    after = [(t, c) for t, c in plain if out_at is not None and t >= out_at]
    kept = judge_kept([t for t, _ in after], [c for _, c in after], now=now_s, rice="rice_cooling" in hazards)
    meant = batch.method.meant or {}
    words = f"{meant['rule']} Not for: {meant['not_for']}." if meant.get("rule") else ""
    found = gate(
        True,
        core,
        time,
        own_words,
        [*(a.bar for a in open_questions if not a.final), *kept.bars],
        never=[a.bar for a in open_questions if a.final],
        tells=(*kept.tells, *notes),
        meant=words,
    )
    low = tuple(
        r
        for r in readings
        if pieces.strict
        and not pieces.one
        and not r.piece
        and r.id
        and r.id not in cleared
        and any(r.celsius < a.temperature_c for a in asked if not a.equivalent)
    )
    return BatchSafety(
        core,
        time,
        own_words,
        found,
        advice(asked, readings, pieces, cleared),
        tuple(a for a in open_questions if a.key),
        tuple(open_questions),
        low,
        out_at,
        after[-1][1] if after else None,
    )


def hazards_of_batch(batch: Batch, food: str) -> tuple[str, ...]:
    """Hazards of a batch: those its shift was made with, else its method's as they are now."""
    kept = batch.facts.get("hazards")
    if isinstance(kept, list):
        return tuple(h for h in kept if h not in (batch.method.struck_hazards or {}))
    return hazards_of(batch.method.hazards, food, [], batch.method.struck_hazards or {})


def foods_of_trials(db: Session, trial_ids: Collection[uuid.UUID]) -> dict[uuid.UUID, str]:
    """Kinds of food as trials state them now."""
    rows = db.execute(select(Trial.id, Trial.food_class).where(Trial.id.in_(trial_ids)))
    return {row.id: row.food_class for row in rows}


def _line(batch: Batch, by_id: Mapping[uuid.UUID, Batch]) -> list[uuid.UUID]:
    """A batch and those it was rescued from."""
    found, at = [batch.id], batch
    while at.parent_batch_id is not None and at.parent_batch_id in by_id and at.parent_batch_id not in found:
        at = by_id[at.parent_batch_id]
        found.append(at.id)
    return found


def _out_at(batch: Batch, entries: Sequence[Entry], plan: Sequence[PlannedStep]) -> float | None:
    """When the batch came out of its last heat, None while it has not."""
    chain = batch.chain()
    heats = {s.key for s in chain.steps if s.phase is Phase.COOK}
    ends = [
        r.end
        for r in bench_state([chain], plan, entries).runs
        if r.step in heats and r.state is RunState.DONE
    ]
    return max(ends) if heats and len(ends) == len(heats) else None


def safety_of_trial(
    db: Session,
    trial_id: uuid.UUID,
    batches: Sequence[Batch],
    now_s: float,
    known_at: Mapping[uuid.UUID, datetime] | None = None,
) -> dict[uuid.UUID, BatchSafety]:
    """How the batches of a trial stand; with `known_at` by what was logged of a batch until then, and no
    later.
    """
    shifts = {s.id: s for s in db.scalars(select(Shift).where(Shift.trial_id == trial_id))}
    entries: dict[uuid.UUID, list[Entry]] = {}
    for row in entries_of_trial(db, trial_id):
        until = known_at.get(row.batch_id) if known_at and row.batch_id else None
        entry = row.core()
        if until is None or entry.at <= until.timestamp():
            entries.setdefault(row.shift_id, []).append(entry)
    plans = {k: p.planned() for k, p in newest_plans_of_trial(db, trial_id).items()}
    return safety_of_batches(db, batches, shifts, entries, plans, now_s)


def uses_of_probe(
    batches: Sequence[Batch], entries: Sequence[Entry]
) -> tuple[list[Use], list[tuple[float, str]]]:
    """Every core reading as a use of the probe, and every washing."""
    foods = {str(b.id): str(b.facts.get("food_class", "")) for b in batches}
    standing = effective(entries)
    uses = [
        Use(e.when, "probe", e.batch, float(e.payload["celsius"]) >= RAW_BELOW_C, foods.get(e.batch, ""))
        for e in standing
        if _is_core(e)
    ]
    # A probe that was put into raw food carries it until it is washed, also where the food was cooked around
    # it.
    uses += uses_by_hand(batches, standing)
    for s in stays(standing):
        name = f"probe {s.name or s.channel}"
        raw = foods.get(s.batch, "") in RISKY_RAW and not _was_cooked(standing, s.batch, s.since)
        if s.where == "core" and s.until is not None and raw:
            uses.append(Use(s.until, name, s.batch, False, foods.get(s.batch, "")))
    return uses, [(e.when, str(e.payload["thing"])) for e in standing if e.kind is EntryKind.WASHED]


# What hands work with where raw food is prepared and put in.
BY_HAND = ("hands", "board", "tongs")


def uses_by_hand(batches: Sequence[Batch], entries: Sequence[Entry]) -> list[Use]:
    """Hands, board and tongs on raw food, by the steps that were done: its preparing and its loading."""
    found = []
    for batch in batches:
        food = str(batch.facts.get("food_class", ""))
        if food not in RISKY_RAW and not RISKY_HAZARDS & set(hazards_of_batch(batch, food)):
            continue
        raw = {
            str(s["key"])
            for s in batch.steps
            if s["phase"] in (Phase.PREPARE, Phase.LOAD)
            and s["attention"] == "hands"
            and not s["days_before"]
        }
        for e in entries:
            if e.batch == str(batch.id) and e.payload.get("step") in raw and e.kind in STEP_ENDS:
                found += [Use(e.when, thing, e.batch, False, food, raw=True) for thing in BY_HAND]
    return found


def _was_cooked(entries: Sequence[Entry], batch: str, at: float) -> bool:
    """Whether a batch had come out of its heat by a moment."""
    return any(e.batch == batch and e.kind is EntryKind.OUT and e.when <= at for e in entries)


def gates_of_trial(
    db: Session, trial_id: uuid.UUID, now_s: float
) -> list[tuple[Batch, BatchMeasures, Gate, BatchSafety]]:
    """Every batch of a trial with its measures and whether it may be tasted: void, target and safety
    together.
    """
    measured = trial_measures(db, trial_id)
    standing = safety_of_trial(db, trial_id, [b for b, _ in measured], now_s)
    found = []
    for batch, m in measured:
        bars = []
        if m.standing is Standing.VOID:
            bars.append(f"Void: {m.why}.")
        if m.standing is Standing.SIMULATED:
            bars.append("Cooked on simulated time: there is nothing to eat.")
        if m.core_met is False:
            bars.append(f"Its core target of {m.core_target_c:g} °C is not on record, {core_words(m)}.")
        s = standing[batch.id]
        found.append((batch, m, with_bars(s, bars), s))
    return found


def with_bars(s: BatchSafety, bars: Sequence[str]) -> Gate:
    """A batch's gate with further reasons that bar it; what the lead owned stands for these too."""
    if not bars:
        return s.gate
    if s.owned and s.gate.open:
        return Gate(True, (), s.owned, (*bars, *s.gate.tells))
    return Gate(False, (*bars, *s.gate.barred_by), "", s.gate.tells, s.gate.may_be_owned)


def _on_the_table(db: Session, tasting: Tasting, now_s: float) -> list[tuple[Batch, ZoneTime]]:
    # Where nobody plates, no sample holds a batch before the cups are turned over; what is on the table is
    # known.
    there = {c.batch_id: c.batch for c in tasting.cups}
    batches = list((there | {s.batch.id: s.batch for s in tasting.samples if s.batch}).values())
    standing = safety_of_trial(db, tasting.trial_id, batches, now_s)
    return [(b, z) for b in batches if (z := standing[b.id].zone) is not None]


def clock_of(db: Session, tasting: Tasting, now_s: float) -> list[str]:
    """How long what is on the table has been between cold and hot, and for how long it may be eaten; for cook
    and lead.
    """
    found = []
    for batch, zone in _on_the_table(db, tasting, now_s):
        left = f" {max(0.0, zone.use_by - now_s) / 60:.0f} min left." if zone.use_by and not zone.late else ""
        if zone.spent_s:
            found.append(f"{batch.method.tag}: {zone.sentence}{left}")
    return found


def too_late(db: Session, tasting: Tasting, now_s: float) -> bool:
    """Whether anything on the table is past the time for throwing it away."""
    return any(zone.late == "discard" for _, zone in _on_the_table(db, tasting, now_s))
