"""Finished trials: cooked, tasted and decided on made-up evenings, one for a kind of question."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from random import Random
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import TrialKind
from yeasty.core.setup.differences import differences
from yeasty.core.taste.said import SaidChoice, SaidLabels, SaidValue
from yeasty.core.taste.tests import Settings, TestKey
from yeasty.demo.cooking import Log, Story, cook_batch
from yeasty.operations.ask import designs, layouts
from yeasty.operations.cook.replanning import replan
from yeasty.operations.cook.shifts import batch_of
from yeasty.operations.decide.analysis import analyse
from yeasty.operations.taste import panels
from yeasty.operations.taste.panels import RoundPlan, Served
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import AcceptedDifference, Trial
from yeasty.store.cook.tables import Batch, Shift
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.taste.tables import AnswerRow, Sample, Seat, TasteRound

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


EVENINGS = (
    Evening(
        "Beetroot in the steamer, how long",
        "beetroot wedges",
        TrialKind.LADDER,
        "How long must wedges steam until they are tender and their edge still stands?",
        "The point at which the bite is best, with its range.",
        (("steamer", "Steamer", "ST"),),
        (Ask("Bite", 1.0, "hard or mushy", "tender, edge stands", (2.2, 4.6, 6.6, 7.6, 7.4, 5.6)),),
        {
            "rises": "time",
            "rungs": [900.0, 1200.0, 1500.0, 1800.0, 2100.0, 2400.0],
            "guess": 1800.0,
            "pots": 1,
            "pieces_a_rung": 4,
            "pull_s": 45.0,
        },
    ),
    Evening(
        "Flatbread, rested or not",
        "flatbread",
        TrialKind.ONE_CHANGE,
        "Does half an hour under a cloth make a flatbread softer, or is it waiting for nothing?",
        "Softness; the wait must be worth a point.",
        (("griddle", "Rolled at once", "AT"), ("griddle", "After half an hour", "HH")),
        (Ask("Softness", 2.0, "tough", "soft", (4.4, 7.0)), Ask("Blisters", 1.0, "few", "many", (5.2, 5.8))),
        turned={"with butter": (3.6, -1.4)},
        guess=True,
        days=2,
        matters=1.0,
        change="half an hour under a cloth",
    ),
    Evening(
        "Cauliflower, a new coat against the old",
        "cauliflower florets",
        TrialKind.CHAMPION,
        "Does semolina in the coat beat plain rice flour?",
        "The title goes to a coat that is ahead by a point.",
        (("air_fryer", "Rice flour", "RF"), ("air_fryer", "Rice flour and semolina", "SE")),
        (
            Ask("Crackle", 2.0, "leathery", "crackles", (7.2, 7.4)),
            Ask("Stalk", 1.0, "dry", "moist", (6.6, 6.5)),
        ),
        parts={"crust": 0, "stalk": 1},
        days=2,
        matters=1.0,
    ),
    Evening(
        "Beetroot wedges, oil by heat",
        "beetroot wedges",
        TrialKind.GRID,
        "Which matters more for a brown edge: how hot, or whether it is oiled?",
        "Browning first.",
        (("oven", "Oven", "OV"),),
        (Ask("Edge", 1.0, "pale", "brown, sticky", (3.0, 4.6, 5.2, 5.4, 7.2, 8.0)),),
        {
            "factors": [
                {"name": "oil", "levels": [{"name": "none"}, {"name": "a spoon"}]},
                {
                    "name": "heat",
                    "levels": [
                        {"name": "180 °C", "sets": {"set_point_c": 180}},
                        {"name": "200 °C", "sets": {"set_point_c": 200}},
                        {"name": "220 °C", "sets": {"set_point_c": 220}},
                    ],
                },
            ],
            "barred": [],
            "pieces_a_cell": 4,
            "replicates": 1,
            "cookings_a_shift": 6,
        },
        labels=True,
    ),
)


def lay_out(db: Session, appliances: dict[str, Appliance], lead: Account, moment: datetime) -> None:
    """All of them, each some days before `moment`."""
    people = [Person(name=name) for name in PEOPLE]
    db.add_all(people)
    db.flush()
    for n, evening in enumerate(EVENINGS):
        at = moment - timedelta(days=9 + 3 * n)
        _finish(db, evening, appliances, (lead, people), at, 81_000 + 100 * n)


def _finish(
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
        serve = (at + timedelta(days=day)).replace(hour=18, minute=30, second=0, microsecond=0)
        shift = _cook(db, trial, lead, serve, day, seed + day)
        _taste(db, e, trial, shift, people[: e.people], lead, chance)
    trial.updated_at = at + timedelta(days=e.days)
    db.flush()
    analyse(db, trial.id)


def _trial(db: Session, e: Evening, appliances: dict[str, Appliance]) -> Trial:
    trial = designs.new_trial(db, title=e.title, dish=e.dish, kind=e.kind, question=e.question)
    trial.food_class, trial.matters, trial.answer_rule = "plant", e.matters, e.rule
    designs.set_attributes(
        db,
        trial,
        [
            {
                "id": None,
                "name": a.name,
                "scale": "intensity",
                "weight": a.weight,
                "low_words": a.low,
                "high_words": a.high,
                "high_is_better": True,
            }
            for a in e.asks
        ],
    )
    here = list(appliances.values())
    for technique, name, tag in e.ways:
        m = designs.add_method(db, trial, techniques()[technique], name, here)
        m.tag, m.batch_kg, m.pieces_per_batch, m.piece_kg, m.start_c = tag, 0.24, 8, 0.03, 20.0
        m.vessel, m.change = "griddle" if technique == "griddle" else "basket", ""
    db.flush()
    if e.layout:
        layouts.lay_out(db, trial, dict(e.layout), techniques(), here)
    if e.kind is TrialKind.CHAMPION:
        trial.layout = {"champion": str(trial.methods[0].id)}
    if e.change:
        trial.methods[-1].change = e.change
    for d in differences(designs.method_facts(trial, appliances_of(db, trial)), trial.varied):
        if not d.varied:
            reason = "what the question is about, and what follows from it"
            trial.accepted.append(
                AcceptedDifference(
                    field=d.field, signature=d.signature, reason=reason, accepted_at=trial.created_at
                )
            )
    db.flush()
    return trial


def _cook(db: Session, trial: Trial, lead: Account, serve: datetime, day: int, seed: int) -> Shift:
    used = appliances_of(db, trial)
    shift = Shift(
        trial_id=trial.id,
        name="First evening" if day == 0 else "Second evening",
        serve_from=serve,
        serve_until=serve + timedelta(minutes=10),
        people=2,
        created_at=serve - timedelta(hours=6),
    )
    db.add(shift)
    db.flush()
    for position, method in enumerate(trial.methods):
        shift.batches.append(batch_of(trial, method, shift, position, day + 1, used))
    db.flush()
    plan = replan(db, shift.id, (serve - timedelta(hours=6)).timestamp()).planned()
    until = (serve + timedelta(hours=3)).timestamp()
    log = Log(shift, lead, seed)
    for n, batch in enumerate(shift.batches):
        story = Story(effort={"wash_items": 1, "wash_s": 180}, read_every_s=600)
        cook_batch(db, log, batch, plan, story, until, seed + n)
    log.write(db, until)
    shift.ended_at = serve + timedelta(hours=1)
    return shift


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
) -> None:
    at = shift.serve_from + timedelta(minutes=5)
    tasting = panels.make_tasting(
        db,
        trial,
        name=shift.name,
        rounds=_rounds(e, trial, shift.batches),
        tasters=people,
        served_with=[{"what": "water", "allergens": [], "checked": True}],
        chance=chance,
    )
    tasting.created_at, tasting.served_at = at - timedelta(minutes=30), at
    db.flush()
    db.refresh(tasting)
    position = {m.id: n for n, m in enumerate(trial.methods)}
    bent = {b.id: chance.gauss(0, BATCH_SD) for b in shift.batches}
    for seat in tasting.seats:
        seat.told_allergens_at, seat.finished_at = at, at + timedelta(minutes=12)
        level = chance.gauss(0, PERSON_SD)
        for row in tasting.rounds:
            _answer(db, e, trial, row, seat, (level, bent, position), chance, at)
    panels.open_codes(db, tasting, by=lead.person_id)
    tasting.opened_at = at + timedelta(minutes=20)
    db.flush()


def _answer(
    db: Session,
    e: Evening,
    trial: Trial,
    row: TasteRound,
    seat: Seat,
    who: tuple[float, Mapping[Any, float], Mapping[Any, int]],
    chance: Random,
    at: datetime,
) -> None:
    """What one person says in one round."""
    level, bent, position = who
    if row.test == TestKey.GUESS_ONE.value:
        by_way = sorted(row.samples, key=lambda s: position[s.batch.method_id] if s.batch else -1)
        picked = SaidChoice(chance.choice([s.code for s in by_way]))
        db.add(AnswerRow(seat_id=seat.id, round_id=row.id, said=picked, given_at=at + timedelta(minutes=10)))
        return
    if row.test == TestKey.MATCH_LABELS.value:
        ways = [str(m.id) for m in trial.methods]
        chance.shuffle(ways)
        codes = [
            s.code for s in sorted(row.samples, key=lambda s: position[s.batch.method_id] if s.batch else -1)
        ]
        named = SaidLabels(dict(zip(codes, ways, strict=True)))
        db.add(AnswerRow(seat_id=seat.id, round_id=row.id, said=named, given_at=at + timedelta(minutes=10)))
        return
    adds = e.turned.get(row.condition, [0.0] * len(position))
    samples: list[Sample] = sorted(row.samples, key=lambda s: position[s.batch.method_id] if s.batch else -1)
    for s in samples:
        n = position[s.batch.method_id] if s.batch else 0
        for asked, attribute in zip(e.asks, trial.attributes, strict=True):
            if row.attributes and str(attribute.id) not in row.attributes:
                continue
            raw = asked.truth[n] + adds[n] + level + bent[s.batch_id] + chance.gauss(0, ANSWER_SD)
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
