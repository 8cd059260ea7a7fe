"""Filled yeast buns by five appliances: cooked, tasted, published."""

import uuid
from datetime import datetime, timedelta
from decimal import Decimal
from random import Random
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.entries import EntryKind as K
from yeasty.core.kernel.scales import Scale
from yeasty.core.publish.pictures import Chosen, PageSpot
from yeasty.core.publish.troubles import SHIPPED, Trouble
from yeasty.core.taste.said import SaidValue
from yeasty.demo.asked import ask, asks
from yeasty.demo.cooking import Log, Story, cook_batch, draw_bun, planned_at
from yeasty.operations.ask import designs, lots
from yeasty.operations.cook.shifts import batch_of
from yeasty.operations.decide.analysis import analyse
from yeasty.operations.decide.decisions import outcome_of
from yeasty.operations.publish import troubles
from yeasty.operations.publish.pages import draft_of, publish
from yeasty.operations.publish.photos import choose
from yeasty.operations.publish.reading import look_at, take_try
from yeasty.operations.setup.fairness import open_differences
from yeasty.operations.taste import panels
from yeasty.operations.taste.panels import RoundPlan, Served
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import AcceptedDifference, Method, Trial
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.people_tables import Account
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.publish.tables import Publication, ReaderTry
from yeasty.store.taste.tables import AnswerRow, Comment

SEED = 60_000
# tag, name, technique, appliance, {phase or text: changes}, core target [°C]
CORE_C = 93.0
INGREDIENTS: tuple[tuple[str, float, str, tuple[str, ...], str], ...] = (
    ("strong wheat flour", 0.168, "1.30", ("gluten",), "mill lot 12"),
    ("whole milk", 0.098, "1.15", ("milk",), ""),
    ("chestnut mushrooms, chopped and dried off", 0.054, "6.20", (), "punnets of one day"),
    ("leek, sweated", 0.036, "2.80", (), ""),
    ("butter", 0.018, "8.40", ("milk",), ""),
    ("egg", 0.012, "4.60", ("egg",), ""),
    ("fresh yeast", 0.005, "9.00", (), ""),
    ("salt", 0.0032, "0.60", (), ""),
)
# attribute -> tag -> six tasters, in the order of the seats
SCORES: dict[str, dict[str, tuple[float, ...]]] = {
    "Crust": {
        "OV": (5.5, 5.0, 5.5, 5.5, 5.0, 5.0), "AF": (8.5, 8.0, 8.5, 8.0, 9.0, 8.5), "DF": (7.0, 7.5, 7.5, 6.5, 8.0, 7.5),  # noqa: E501
        "PS": (2.5, 1.5, 2.0, 3.0, 2.0, 2.5), "MW": (1.5, 2.0, 1.0, 2.5, 2.0, 1.5),
    },
    "Crumb": {
        "OV": (5.5, 5.5, 5.5, 6.0, 5.5, 5.0), "AF": (7.5, 7.0, 8.0, 7.0, 7.5, 7.5), "DF": (3.5, 4.0, 3.0, 4.0, 3.5, 3.0),  # noqa: E501
        "PS": (8.5, 8.0, 8.0, 9.0, 8.0, 8.5), "MW": (5.0, 4.5, 5.5, 4.0, 5.0, 4.5),
    },
    "Liking": {
        "OV": (5, 5, 5, 6, 5, 5), "AF": (8, 7, 8, 8, 8, 7), "DF": (5, 5, 4, 4, 5, 4), "PS": (5, 5, 6, 6, 5, 5),  # noqa: E501
        "MW": (3, 4, 3, 4, 4, 3),
    },
}  # fmt: skip
COMMENTS = {
    ("AF", 0): "Snaps, then soft. I would take a second.",
    ("OV", 1): "Good, a little dry at the rim.",
    ("DF", 3): "Lovely outside, heavy after two bites.",
    ("PS", 3): "Like a cloud, but the skin sticks to the teeth.",
    ("MW", 2): "Tough where it had cooled.",
}
TASTERS = ("Taster one", "Taster two", "Taster three", "Taster four", "Taster five", "Taster six")


def _trial(db: Session, appliances: dict[str, Appliance]) -> Trial:
    trial = designs.new_trial(
        db,
        title="Filled yeast buns",
        dish="filled yeast buns",
        question="Which appliance gives a thin crust and a moist crumb within the hour?",
        kind=TrialKind.SIDE_BY_SIDE,
    )
    trial.aliases = "stuffed buns, mushroom and leek buns, steamed buns, baked buns"
    trial.answer_rule = (
        "Best weighted score for crust, crumb and liking, among those on the table within 60 min for 12."
    )
    trial.hunch = "The oven, by a little; the fryer for the crust."
    trial.matters, trial.pieces, trial.food_class = 0.3, 12, "plant"
    ask(
        db,
        trial,
        asks("Crust", 3.0, "thick or leathery", "thin and crisp"),
        asks("Crumb", 2.0, "dry", "moist"),
        asks("Liking", 2.0, scale=Scale.LIKING),
    )
    for name, tag, technique, appliance in (
        ("Oven", "OV", "oven", "Oven"),
        ("Air fryer", "AF", "air_fryer", "Air fryer"),
        ("Deep fryer", "DF", "deep_fryer", "Deep fryer"),
        ("Pressure steam", "PS", "pressure_cooker", "Pressure cooker, 6 l"),
        ("Microwave steam", "MW", "microwave", "Microwave"),
    ):
        method = designs.add_method(db, trial, techniques()[technique], name, [appliances[appliance]])
        method.tag, method.piece_kg, method.batch_kg, method.start_c = tag, 0.060, 0.360, 24.0
        method.piece_shape, method.piece_thickness_m, method.piece_food = "sphere", 0.05, "enriched_dough"
        method.hazards = [*method.hazards, "raw_dough", "stuffed_food"]
        _tune(method)
    db.flush()
    rows = [
        lots.Lot(
            n,
            lot,
            price_per_kg=Decimal(price),
            allergens=al,
            amounts={m.id: kg for m in trial.methods},
        )
        for n, kg, price, al, lot in INGREDIENTS
    ]
    lots.set_ingredients(db, trial, rows)
    lots.set_controls(
        trial,
        [
            ("dough", "one batch, scaled 6 × 60 g a method"),
            ("filling", "15 g a bun"),
            ("proof", "45 min at 26 °C, all together"),
            ("core at the end", "93 °C, read in the filling"),
        ],
    )
    return trial


def _tune(method: Method) -> None:
    changes: dict[str, dict[str, tuple[str | None, float, float | None]]] = {
        "OV": {
            "come_up": (None, 840, 200),
            "cook": ("Bake", 960, 200),
            "turn": (None, 45, None),
            "wait": (None, 600, None),
        },
        "AF": {"come_up": (None, 240, 175), "cook": ("Air-fry", 930, 175), "wait": (None, 420, None)},
        "DF": {
            "come_up": ("Heat the oil to 170 °C", 900, 170),
            "cook": ("Fry", 840, 170),
            "wait": (None, 360, None),
        },
        "PS": {
            "come_up": (None, 540, None),
            "cook": ("Steam at dial 2, 70 kPa gauge", 780, 115),
            "wait": (None, 600, None),
        },
        "MW": {"cook": ("Steam in the microwave", 210, None), "wait": (None, 180, None)},
    }
    for step in method.steps:
        change = changes[method.tag].get(step.phase)
        if change:
            what, seconds, set_c = change
            step.what, step.duration_s, step.set_point_c = what or step.what, seconds, set_c
            if step.phase == "turn":
                step.during_offset_s = 480
        if step.phase == "turn" and method.tag == "AF":
            step.during_offset_s = 465
        if step.phase == "turn" and method.tag == "DF":
            step.what, step.during_offset_s = "Turn the buns", 420
        if step.phase == "cook":
            step.end_rule, step.end_core_c = "core", CORE_C
        if step.phase == "load" and method.tag == "DF":
            step.what = "Lower in 6 buns, dry them first"


def _weights(
    cooked_kg: float, kwh: float, at: float, extra: list[tuple[float, K, dict[str, Any]]]
) -> list[tuple[float, K, dict[str, Any]]]:
    return [
        (-90.0, K.WEIGHT, {"kg": 0.360, "of": "raw"}),
        (at + 150, K.WEIGHT, {"kg": cooked_kg, "of": "cooked"}),
        (at + 170, K.ENERGY, {"joule": kwh * 3.6e6}),
        *extra,
    ]


def _stories(photos: dict[str, uuid.UUID]) -> dict[str, Story]:
    def photo(tag: str, at: float) -> tuple[float, K, dict[str, Any]]:
        return (at + 200, K.PHOTO, {"photo_id": str(photos[tag]), "face": "cut"})

    told = {
        "OV": Story(
            _weights(
                0.328, 1.10, 960, [(900, K.CUE, {"text": "pale underneath, brown on top"}), photo("OV", 960)]
            ),
            chamber_c=188,
            radius_m=0.0188,
            effort={"wash_items": 2, "wash_s": 300},
        ),
        "AF": Story(
            _weights(
                0.324,
                0.45,
                930,
                [
                    (905, K.CUE, {"text": "even colour, crackles"}),
                    (1000, K.NOTE, {"text": "holds 6: two rounds for 12"}),
                    photo("AF", 930),
                ],
            ),
            chamber_c=181,
            radius_m=0.0185,
            h=450,
            effort={"wash_items": 2, "wash_s": 240},
        ),
        "DF": Story(
            _weights(
                0.338,
                0.75,
                840,
                [
                    (860, K.WEIGHT, {"kg": 0.036, "of": "fat taken up"}),
                    (800, K.CUE, {"text": "deep brown, seams hold"}),
                    (900, K.NOTE, {"text": "oil taken up 6 g a bun"}),
                    photo("DF", 840),
                ],
            ),
            h=700,
            radius_m=0.0172,
            effort={"wash_items": 4, "wash_s": 840, "nuisance": ["smell", "spatter", "watching"]},
        ),
        "PS": Story(
            _weights(
                0.364,
                0.20,
                780,
                [
                    (860, K.CUE, {"text": "wet skin"}),
                    (880, K.NOTE, {"text": "wet skin; finish in a hot pan?"}),
                    photo("PS", 780),
                ],
            ),
            around_c=114.0,
            h=900,
            radius_m=0.0215,
            effort={"wash_items": 3, "wash_s": 360},
        ),
        "MW": Story(
            _weights(
                0.349,
                0.06,
                210,
                [(640, K.NOTE, {"text": "tough within 10 min of plating"}), photo("MW", 210)],
            ),
            volumetric_k_s=1.35,
            read_every_s=70,
            effort={"wash_items": 1, "wash_s": 180},
        ),
    }
    no_fat = {"question": "applies", "answer": "no", "measure": "fat taken up weight"}
    for tag, story in told.items():
        if tag != "DF":
            story.facts = [*story.facts, (1260.0, K.STATED, no_fat)]
    return told


def lay_out(db: Session, appliances: dict[str, Appliance], lead: Account, moment: datetime) -> None:
    """The trial, its shift three days ago, the tasting, the verdict and the published page."""
    trial = _trial(db, appliances)
    used = appliances_of(db, trial)
    serve = (moment - timedelta(days=3)).replace(hour=17, minute=46, second=0, microsecond=0)
    shift = Shift(
        trial_id=trial.id,
        name="First cooking",
        serve_from=serve,
        serve_until=serve + timedelta(minutes=5),
        people=1,
        created_at=serve - timedelta(hours=3),
    )
    db.add(shift)
    db.flush()
    by_tag = {m.tag: m for m in trial.methods}
    for position, (tag, replicate) in enumerate(
        [("OV", 1), ("AF", 1), ("DF", 1), ("PS", 1), ("MW", 1), ("MW", 2)]
    ):
        method = by_tag[tag]
        shift.batches.append(batch_of(trial, method, shift, position, replicate, used))
    db.flush()
    plan = planned_at(db, shift, serve - timedelta(hours=3))
    tints = {
        "OV": ("#b9742f", "#f0dfb4"),
        "AF": ("#c07f33", "#f2e3bb"),
        "DF": ("#8a4a1c", "#ecd6a4"),
        "PS": ("#efe3c6", "#f7eed4"),
        "MW": ("#e6d3a6", "#efdfb8"),
    }
    photos = {
        tag: draw_bun(db, trial.id, *tint, seed=SEED + n) for n, (tag, tint) in enumerate(tints.items())
    }
    stories = _stories(photos)
    log = Log(shift, lead, SEED)
    spoiled = Story(
        [
            (150, K.HANDLING_ERROR, {"why": "cover slipped off and dried the skin"}),
            (-60, K.WEIGHT, {"kg": 0.360, "of": "raw"}),
        ],
        volumetric_k_s=1.3,
        read_every_s=70,
    )
    until = moment.timestamp()
    for n, batch in enumerate(shift.batches):
        cook_batch(
            db,
            log,
            batch,
            plan,
            stories[batch.method.tag] if batch.replicate == 1 else spoiled,
            until,
            SEED + n,
        )
    log.write(db, until)
    shift.ended_at = serve + timedelta(hours=1)
    for d in open_differences(db, trial):
        reason = "what is steamed or baked needs its own rest"
        trial.accepted.append(
            AcceptedDifference(
                field=d.field,
                signature=d.signature,
                reason=reason,
                accepted_at=serve - timedelta(hours=2),
            )
        )
    _taste(db, trial, shift, lead, serve + timedelta(minutes=8))
    db.flush()
    analyse(db, trial.id)
    draft = draft_of(db, trial)
    draft.texts = {
        "title": "Filled yeast buns, air-fried",
        "intro": "Soft dough around mushroom and leek, six at a time. Prove them on squares of paper and "
        "lift them in on it.",
        "normal": "The first minutes look as if nothing happens; colour comes in the last five.",
        "serving": "Within ten minutes, while the crust still crackles.",
        "keeping": "Cool within 90 minutes and chill; re-crisp from chilled in the hot basket, core read "
        "again.",
        "signs": "even colour, crackles\nbrown on top, pale where they touch",
        "disclosure": "Appliances were bought by the kitchen. Everything in this demo is made up; its photos "
        "are drawings.",
    }
    draft.pictures = choose(db, trial, outcome_of(db, trial.id), _pictures(trial, photos))
    _known(db, trial)
    version = publish(db, trial, draft, correction="", by=lead.person_id)
    _cooked_by_readers(db, trial, version, lead)


# What is to be seen of each, for who does not see it.
SEEN = {
    "OV": "Drawing of a cut bun, even brown on top, pale crumb around a dark filling",
    "AF": "Drawing of a cut bun, even brown, pale crumb around a dark filling with green in it",
    "DF": "Drawing of a cut bun, dark brown skin, cream crumb around a dark filling",
    "PS": "Drawing of a cut bun, white all over, around a dark filling",
    "MW": "Drawing of a cut bun, pale and without a crust, around a dark filling",
}


def _known(db: Session, trial: Trial) -> None:
    """What this trial saw go wrong, and what of the program's own the lead took up."""
    tough = Trouble(
        "Tough soon after it is plated",
        "The skin goes leathery within ten minutes.",
        "No crust formed, and what is soft dries as it stands.",
        "Serve it at once, under a cloth.",
        normal=False,
        stands_on="a note at the bench on the microwave’s batch",
    )
    troubles.keep(db, None, tough, of=["microwave"], trial_id=trial.id, taken_up=True)
    wet = SHIPPED["wet_surface"]
    troubles.keep(db, None, wet.trouble, of=wet.techniques, trial_id=None, taken_up=True, shipped=wet.key)


def _cooked_by_readers(db: Session, trial: Trial, version: Publication, lead: Account) -> None:
    """Two that were read and counted, and one that waits."""

    def said(came: str, took: str, note: str) -> ReaderTry:
        return take_try(db, version, way="AF", came=came, kitchen="a small air fryer", took=took, note=note)

    well = said("well", "14 min", "Six fit only in two rounds of mine.")
    fairly = said("fairly", "16 min", "")
    said("well", "", "Left the rest out on the counter overnight, still good.")
    look_at(db, trial, well.id, counted=True, note_shown=True, by=lead.person_id)
    look_at(db, trial, fairly.id, counted=True, note_shown=False, by=lead.person_id)


def _pictures(trial: Trial, photos: dict[str, uuid.UUID]) -> list[Chosen]:
    """One at the head, one for each way, all cut alike."""
    way = {m.tag: str(m.id) for m in trial.methods}
    head = Chosen(str(photos["AF"]), PageSpot.FIRST, alt=SEEN["AF"])
    each = [
        Chosen(str(photos[tag]), PageSpot.WAY, way[tag], alt=words, y=0.55, zoom=1.25)
        for tag, words in SEEN.items()
    ]
    return [head, *each]


def _taste(db: Session, trial: Trial, shift: Shift, lead: Account, at: datetime) -> None:
    judged = [b for b in shift.batches if b.replicate == 1]
    tasting = panels.make_tasting(
        db,
        trial,
        name="Plain, at the table",
        rounds=[
            RoundPlan(
                [Served(b.id) for b in judged],
                part="whole bun, halved",
                age_words="8 to 12 min after plating",
            )
        ],
        tasters=TASTERS,
        chance=Random(SEED),
    )
    tasting.created_at, tasting.served_at = at - timedelta(minutes=20), at
    db.flush()
    db.refresh(tasting)
    attributes = {a.name: a.id for a in trial.attributes}
    tag_of = {s.id: s.batch.method.tag for s in tasting.samples if s.batch}
    for n, seat in enumerate(tasting.seats):
        seat.told_allergens_at, seat.finished_at = at, at + timedelta(minutes=14)
        for sample in tasting.samples:
            tag = tag_of[sample.id]
            for name, rows in SCORES.items():
                db.add(
                    AnswerRow(
                        seat_id=seat.id,
                        sample_id=sample.id,
                        round_id=sample.round_id,
                        attribute_id=attributes[name],
                        said=SaidValue(float(rows[tag][n])),
                        given_at=at + timedelta(minutes=4),
                    )
                )
            if (tag, n) in COMMENTS:
                db.add(
                    Comment(
                        seat_id=seat.id,
                        round_id=sample.round_id,
                        sample_id=sample.id,
                        text=COMMENTS[tag, n],
                        given_at=at + timedelta(minutes=6),
                    )
                )
    panels.open_codes(db, tasting, by=lead.person_id)
    tasting.opened_at = at + timedelta(minutes=26)
    db.flush()
