"""How a made-up trial is cooked, tasted and decided on: laid out by the same deeds as a real one."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from random import Random
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.ask.deciding import Deciding, School
from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.steps import Attention, Phase, Step
from yeasty.core.taste.cups import Protocol
from yeasty.core.taste.said import SaidChoice, SaidLabels, SaidValue
from yeasty.core.taste.tests import Settings, TestKey
from yeasty.demo.asked import ask, asks
from yeasty.demo.cooking import Log, Story, cook_batch, planned_at
from yeasty.operations.ask import designs, layouts, lots, versions
from yeasty.operations.cook.shifts import batch_of
from yeasty.operations.decide import claims
from yeasty.operations.decide.analysis import analyse
from yeasty.operations.setup.fairness import open_differences
from yeasty.operations.taste import panels, serving
from yeasty.operations.taste.panels import RoundPlan, Served
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import AcceptedDifference, Method, Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Batch, Shift
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.taste.tables import AnswerRow, Sample, Seat, TasteRound, Tasting

PEOPLE = ("Seat A", "Seat B", "Seat C", "Seat D", "Seat E", "Seat F", "Seat G", "Seat H")
# How far people, batches and answers of these made-up panels spread [points].
PERSON_SD, BATCH_SD, ANSWER_SD = 0.7, 0.25, 0.6


@dataclass(frozen=True)
class Ask:
    """One thing that is asked: its name, weight, ends, and what each way truly is [0 to 10], by position."""

    name: str
    weight: float
    low: str
    high: str
    truth: Sequence[float]


@dataclass(frozen=True)
class Evening:
    """A trial as it is told here.

    Attributes
    ----------
    ways : technique, name and tag of each; of a layout the first alone
    layout : of its kind
    turned : condition of a second round to what it adds to each way
    guess : whether a last round asks which is the first way; `labels` : which is which
    parts : part to the question that is asked of it, each in a round of its own
    days : evenings on which each way was cooked once
    alone : whether the lead tastes alone, from cups that nobody plated
    shows : what no cup can hide of each way, by position
    versions : of a chain: change, the defect it aims at, how it came out, failed tries; the first way is
    where it begins
    lots : ingredient to its mass in a batch [kg] and its allergens
    amounts : of the way at a position, what its batch holds of an ingredient where that is another mass [kg]
    rests : the way at a position begins with its dough at rest, for so long [s]
    school : by which it is decided
    kept : share of its weight that each way keeps in the heat, by position; weighed before and after
    claim : measure of the log that is the question; "" for the kind's own
    counted : a word, and of how many pieces how many were it of each way, by position
    claimed : measures that the lead claims: of which way against which, by position, None for all others
    purposes : what each way is for, by position
    camps : by how much every second person likes the first way better, and the others the last [points]
    here : of a tasting that is not opened yet, how many of its people have tasted; None of one that is over
    food : its kind, for safety
    moods : what an evening adds to everything that was tasted on it, by its number [points]
    """

    title: str
    dish: str
    kind: TrialKind
    question: str
    rule: str
    ways: Sequence[tuple[str, str, str]]
    asks: Sequence[Ask]
    layout: Mapping[str, Any] = field(default_factory=dict)
    turned: Mapping[str, Sequence[float]] = field(default_factory=dict)
    guess: bool = False
    labels: bool = False
    parts: Mapping[str, int] = field(default_factory=dict)
    days: int = 1
    people: int = 8
    matters: float = 0.5
    change: str = ""
    alone: bool = False
    shows: Mapping[int, str] = field(default_factory=dict)
    versions: Sequence[tuple[str, str, str, int]] = ()
    lots: Mapping[str, tuple[float, tuple[str, ...]]] = field(default_factory=dict)
    amounts: Mapping[int, Mapping[str, float]] = field(default_factory=dict)
    rests: Mapping[int, float] = field(default_factory=dict)
    school: School = School.WEIGHTED
    kept: Sequence[float] = ()
    claim: str = ""
    counted: tuple[str, int, Sequence[int]] | None = None
    claimed: Sequence[tuple[str, int, int | None]] = ()
    purposes: Sequence[str] = ()
    camps: float = 0.0
    moods: Sequence[float] = ()
    here: int | None = None
    food: str = "plant"


def finish(
    db: Session,
    e: Evening,
    appliances: dict[str, Appliance],
    who: tuple[Account, Sequence[Person]],
    at: datetime,
    seed: int,
) -> None:
    lead, people = who
    trial = _trial(db, e, appliances)
    chance = Random(seed)
    for day in range(e.days):
        serve = (at + timedelta(days=day)).replace(second=0, microsecond=0)
        if e.here is None:
            serve = serve.replace(hour=18, minute=30)
        shift = _cook(db, e, trial, lead, serve, day, seed + day)
        if e.asks:
            mood = e.moods[day] if e.moods else 0.0
            _taste(db, e, trial, shift, people[: e.people], lead, chance, mood)
    trial.updated_at = at + (timedelta(days=e.days) if e.here is None else timedelta())
    db.flush()
    analyse(db, trial.id)
    if e.claimed:
        ways = [m.id for m in trial.methods]
        for measure, subject, other in e.claimed:
            claims.pick(db, trial, measure, ways[subject], None if other is None else ways[other])
        analyse(db, trial.id)


def _trial(db: Session, e: Evening, appliances: dict[str, Appliance]) -> Trial:
    trial = designs.new_trial(db, title=e.title, dish=e.dish, kind=e.kind, question=e.question)
    trial.food_class, trial.matters, trial.answer_rule = e.food, e.matters, e.rule
    ask(db, trial, *(asks(a.name, a.weight, a.low, a.high) for a in e.asks))
    here = list(appliances.values())
    for technique, name, tag in e.ways:
        m = designs.add_method(db, trial, techniques()[technique], name, here)
        m.tag, m.batch_kg, m.pieces_per_batch, m.piece_kg, m.start_c = tag, 0.24, 8, 0.03, 20.0
        m.vessel, m.change = "griddle" if technique == "griddle" else "basket", ""
    db.flush()
    if e.lots:
        rows = [
            lots.Lot(n, "one sack", allergens=al, amounts={m.id: kg for m in trial.methods})
            for n, (kg, al) in e.lots.items()
        ]
        lots.set_ingredients(db, trial, rows)
        db.flush()
    for change, defect, outcome, tries in e.versions:
        m = versions.add_version(db, trial, m, name="", change=change, aimed_defect=defect)
        m.name, m.tag = f"Version {len(trial.methods)}", f"V{len(trial.methods)}"
        m.outcome, m.failed_tries = outcome, tries
        db.flush()
    if e.layout:
        layouts.lay_out(db, trial, dict(e.layout), techniques(), here)
    if e.kind is TrialKind.CHAMPION:
        trial.layout = {"champion": str(trial.methods[0].id)}
    if e.claim or e.school is not School.WEIGHTED:
        trial.deciding = Deciding(school=e.school, claim=e.claim)
    _own_ways(e, trial)
    for m, purpose in zip(trial.methods, e.purposes, strict=False):
        m.purpose = purpose
    if e.change:
        trial.methods[-1].change = e.change
    db.flush()
    for d in open_differences(db, trial):
        reason = "what the question is about, and what follows from it"
        trial.accepted.append(
            AcceptedDifference(
                field=d.field, signature=d.signature, reason=reason, accepted_at=trial.created_at
            )
        )
    db.flush()
    return trial


def _own_ways(e: Evening, trial: Trial) -> None:
    """What one way has that the others have not: another amount, a rest."""
    names = {i.id: i.name for i in trial.ingredients}
    for position, m in enumerate(trial.methods):
        for a in m.amounts:
            a.mass_kg = e.amounts.get(position, {}).get(names[a.ingredient_id], a.mass_kg)
        if position in e.rests:
            what = "Let the dough rest under a cloth"
            rest = Step("rest", what, Attention.FREE, Phase.PREPARE, e.rests[position])
            m.steps.insert(0, designs.rows_of([rest], lambda _: None)[0])
            for n, step in enumerate(m.steps):
                step.position = n


def _cook(
    db: Session, e: Evening, trial: Trial, lead: Account, serve: datetime, day: int, seed: int
) -> Shift:
    def facts(n: int, batch: Batch) -> list[Fact]:
        return [*_weighed(e, trial, batch, Random(seed + 50 + n)), *_counted(e, trial, batch)]

    name = "First evening" if day == 0 else "Second evening"
    return cook_once(db, trial, trial.methods, lead, serve, (name, day + 1, seed), facts)


# From the middle of a piece to its nearest face, where it is not that of a bun or a wedge [m].
HALF_M = {"flatbread": 0.004, "chickpeas": 0.005}
# Seconds after going in, what happened, and what belongs to it.
Fact = tuple[float, EntryKind, dict[str, Any]]


def cook_once(
    db: Session,
    trial: Trial,
    ways: Sequence[Method],
    lead: Account,
    serve: datetime,
    named: tuple[str, int, int],
    facts: Callable[[int, Batch], Sequence[Fact]] = lambda _n, _b: (),
) -> Shift:
    """A finished shift with one batch of each way; `named` : its name, which cooking it is, a seed."""
    name, replicate, seed = named
    used = appliances_of(db, trial)
    shift = Shift(
        trial_id=trial.id,
        name=name,
        serve_from=serve,
        serve_until=serve + timedelta(minutes=10),
        people=2,
        created_at=serve - timedelta(hours=6),
    )
    db.add(shift)
    db.flush()
    for position, method in enumerate(ways):
        shift.batches.append(batch_of(trial, method, shift, position, replicate, used))
    db.flush()
    plan = planned_at(db, shift, serve - timedelta(hours=6))
    until = min(serve + timedelta(hours=3), now()).timestamp()
    log = Log(shift, lead, seed)
    for n, batch in enumerate(shift.batches):
        story = Story(facts=facts(n, batch), effort={"wash_items": 1, "wash_s": 180}, read_every_s=600)
        story.radius_m = HALF_M.get(trial.dish, story.radius_m)
        cook_batch(db, log, batch, plan, story, until, seed + n)
    log.write(db, until)
    shift.ended_at = min(serve + timedelta(hours=1), now())
    return shift


# How far two weighings of one way lie apart from evening to evening, as a share.
WEIGHED_SD = 0.008


def _weighed(e: Evening, trial: Trial, batch: Batch, chance: Random) -> list[Fact]:
    """On the scale before it goes in, and once it is out."""
    if not e.kept:
        return []
    way = next(n for n, m in enumerate(trial.methods) if m.id == batch.method_id)
    in_heat = sum(s.duration_s for s in batch.method.steps if s.phase == "cook")
    raw = round(0.24 + chance.uniform(-0.004, 0.004), 3)
    cooked = round(raw * (e.kept[way] + chance.gauss(0, WEIGHED_SD)), 3)
    return [
        (-120.0, EntryKind.WEIGHT, {"kg": raw, "of": "raw"}),
        (in_heat + 150.0, EntryKind.WEIGHT, {"kg": cooked, "of": "cooked"}),
    ]


def _counted(e: Evening, trial: Trial, batch: Batch) -> list[Fact]:
    """Pieces looked at once they are out."""
    if e.counted is None:
        return []
    word, out_of, each = e.counted
    way = next(n for n, m in enumerate(trial.methods) if m.id == batch.method_id)
    in_heat = sum(s.duration_s for s in batch.method.steps if s.phase == "cook")
    return [(in_heat + 120.0, EntryKind.TALLY, {"of": word, "count": each[way], "out_of": out_of})]


def _rounds(e: Evening, trial: Trial, batches: Sequence[Batch]) -> list[RoundPlan]:
    served = [Served(b.id) for b in batches]
    asked = [str(a.id) for a in trial.attributes]
    rounds = [RoundPlan(served, part=part, attributes=[asked[n]]) for part, n in e.parts.items()]
    if not rounds:
        rounds = [RoundPlan(served, condition="plain" if e.turned else "")]
    rounds += [RoundPlan(served, condition=c, break_s=300) for c in e.turned]
    if e.guess:
        settings = Settings(label=str(batches[0].method_id))
        rounds.append(RoundPlan(served, TestKey.GUESS_ONE, settings=settings))
    if e.labels:
        rounds.append(RoundPlan(served, TestKey.MATCH_LABELS))
    return rounds


def _taste(
    db: Session,
    e: Evening,
    trial: Trial,
    shift: Shift,
    people: Sequence[Person],
    lead: Account,
    chance: Random,
    mood: float = 0.0,
) -> None:
    # When the last plate is out: two ways on one griddle come one after the other.
    at = shift.serve_from + timedelta(minutes=16)
    tasting = panels.make_tasting(
        db,
        trial,
        name=shift.name,
        rounds=_rounds(e, trial, shift.batches),
        tasters=[lead.person] if e.alone else people,
        served_with=[{"what": "water", "allergens": [], "checked": True}],
        protocol=Protocol.ALONE if e.alone else Protocol.PLATED,
        shows={shift.batches[n].id: words for n, words in e.shows.items()},
        chance=chance,
    )
    tasting.created_at, tasting.served_at = at - timedelta(minutes=30), at
    db.flush()
    db.refresh(tasting)
    way_of, under = _under(tasting, trial, chance)
    bent = {b.id: chance.gauss(0, BATCH_SD) for b in shift.batches}
    for seat in tasting.seats[: e.here]:
        seat.told_allergens_at, seat.finished_at = at, at + timedelta(minutes=12)
        level = mood + chance.gauss(0, PERSON_SD)
        for row in tasting.rounds:
            _answer(db, e, trial, row, seat, (level, bent, way_of), chance, at)
    if e.here is not None:
        db.flush()
        return
    if under:
        serving.turn_over(db, tasting, under, by=lead.person_id)
        tasting.read_off_at = at + timedelta(minutes=19)
    else:
        panels.open_codes(db, tasting, by=lead.person_id)
    tasting.opened_at = at + timedelta(minutes=20)
    db.flush()


def _under(
    tasting: Tasting, trial: Trial, chance: Random
) -> tuple[dict[Any, tuple[int, Any]], dict[int, str]]:
    """Sample to its way's position and its batch, and place to the letter underneath where nobody plated:
    what the shuffle did, which the program does not know before it is read off.
    """
    position = {m.id: n for n, m in enumerate(trial.methods)}
    stands = list(tasting.cups)
    stands.sort(key=lambda c: position[c.batch.method_id])
    chance.shuffle(stands)
    spots = sorted({s.place for s in tasting.samples if s.place is not None})
    at = dict(zip(spots, stands, strict=True)) if spots else {}
    batch_of = {s.id: at[s.place].batch if s.place is not None else s.batch for s in tasting.samples}
    ways = {k: (position[b.method_id], b.id) for k, b in batch_of.items() if b}
    return ways, {place: cup.letter for place, cup in at.items()}


def _answer(
    db: Session,
    e: Evening,
    trial: Trial,
    row: TasteRound,
    seat: Seat,
    who: tuple[float, Mapping[Any, float], Mapping[Any, tuple[int, Any]]],
    chance: Random,
    at: datetime,
) -> None:
    """What one person says in one round."""
    level, bent, way_of = who
    if row.test == TestKey.GUESS_ONE.value:
        by_way = sorted(row.samples, key=lambda s: way_of[s.id][0])
        picked = SaidChoice(chance.choice([s.code for s in by_way]))
        db.add(AnswerRow(seat_id=seat.id, round_id=row.id, said=picked, given_at=at + timedelta(minutes=10)))
        return
    if row.test == TestKey.MATCH_LABELS.value:
        ways = [str(m.id) for m in trial.methods]
        chance.shuffle(ways)
        codes = [s.code for s in sorted(row.samples, key=lambda s: way_of[s.id][0])]
        named = SaidLabels(dict(zip(codes, ways, strict=True)))
        db.add(AnswerRow(seat_id=seat.id, round_id=row.id, said=named, given_at=at + timedelta(minutes=10)))
        return
    adds = e.turned.get(row.condition, [0.0] * len(trial.methods))
    samples: list[Sample] = sorted(row.samples, key=lambda s: way_of[s.id][0])
    likes = 0 if seat.position % 2 == 0 else len(trial.methods) - 1
    for s in samples:
        n, batch = way_of[s.id]
        for asked, attribute in zip(e.asks, trial.attributes, strict=True):
            if row.attributes and str(attribute.id) not in row.attributes:
                continue
            own = e.camps if n == likes else 0.0
            raw = asked.truth[n] + own + adds[n] + level + bent[batch] + chance.gauss(0, ANSWER_SD)
            value = min(10.0, max(0.0, round(2 * raw) / 2))
            db.add(
                AnswerRow(
                    seat_id=seat.id,
                    round_id=row.id,
                    sample_id=s.id,
                    attribute_id=attribute.id,
                    said=SaidValue(value),
                    given_at=at + timedelta(minutes=4),
                )
            )
